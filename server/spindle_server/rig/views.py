"""Propellers, supplies and stands."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import generics
from rest_framework.request import Request
from rest_framework.response import Response

from spindle_server.api.permissions import actor_of
from spindle_server.rig import services
from spindle_server.rig.models import Propeller, Stand, Supply
from spindle_server.rig.serializers import (
    NewStandSerializer,
    NewSupplySerializer,
    PropellerSerializer,
    StandSerializer,
    SupplySerializer,
)


class PropellerList(generics.ListAPIView):
    """The propeller library."""

    queryset = Propeller.objects.select_related("maker")
    serializer_class = PropellerSerializer

    @extend_schema(request=PropellerSerializer, responses={201: PropellerSerializer})
    def post(self, request: Request) -> Response:
        """Add a propeller."""
        data = PropellerSerializer(data=request.data)
        data.is_valid(raise_exception=True)
        values: dict[str, Any] = dict(data.validated_data)
        values["maker"] = values["maker"]["name"]
        propeller = services.add_propeller(actor=actor_of(request), **values)
        return Response(PropellerSerializer(propeller).data, 201)


class SupplyList(generics.ListAPIView):
    """Bench supplies and packs."""

    queryset = Supply.objects.all()
    serializer_class = SupplySerializer

    @extend_schema(request=NewSupplySerializer, responses={201: SupplySerializer})
    def post(self, request: Request) -> Response:
        """Add a supply or a pack."""
        data = NewSupplySerializer(data=request.data)
        data.is_valid(raise_exception=True)
        supply = services.add_supply(actor=actor_of(request), **data.validated_data)
        return Response(SupplySerializer(supply).data, 201)


class StandList(generics.ListAPIView):
    """Stands."""

    queryset = Stand.objects.all()
    serializer_class = StandSerializer

    @extend_schema(request=NewStandSerializer, responses={201: StandSerializer})
    def post(self, request: Request) -> Response:
        """Add a stand."""
        data = NewStandSerializer(data=request.data)
        data.is_valid(raise_exception=True)
        stand = services.add_stand(actor=actor_of(request), **data.validated_data)
        return Response(StandSerializer(stand).data, 201)
