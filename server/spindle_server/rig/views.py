"""Propellers, supplies and stands."""

from __future__ import annotations

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework import generics
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_server.accounts.permissions import actor_of
from spindle_server.api.inputs import typed, typed_from
from spindle_server.rig import first, services
from spindle_server.rig.filters import PropellerFilter
from spindle_server.rig.models import Propeller, Stand, Supply
from spindle_server.rig.selectors import declaration
from spindle_server.rig.serializers import (
    CommonSizeSerializer,
    DeclarationSerializer,
    HubSerializer,
    NewStandSerializer,
    NewSupplySerializer,
    PropellerSerializer,
    StandSerializer,
    SupplySerializer,
    TakeSizesSerializer,
)


class PropellerList(generics.ListAPIView):
    """The propeller library."""

    queryset = Propeller.objects.select_related("maker")
    serializer_class = PropellerSerializer
    filterset_class = PropellerFilter

    @extend_schema(request=PropellerSerializer, responses={201: PropellerSerializer})
    def post(self, request: Request) -> Response:
        """Add a propeller."""
        values = typed(request, PropellerSerializer)
        values["maker"] = values["maker"]["name"]
        propeller = services.add_propeller(actor=actor_of(request), **values)
        return Response(PropellerSerializer(propeller).data, 201)


class CommonSizes(APIView):
    """Common sizes of propellers, to begin a library with."""

    @extend_schema(responses=CommonSizeSerializer(many=True))
    def get(self, request: Request) -> Response:
        """All of them, and which are in the library."""
        return Response(CommonSizeSerializer(first.common_sizes(), many=True).data)

    @extend_schema(request=TakeSizesSerializer, responses={201: PropellerSerializer(many=True)})
    def post(self, request: Request) -> Response:
        """Take some into the library; those that are there stay."""
        taken = first.take_common_sizes(
            actor=actor_of(request), **typed(request, TakeSizesSerializer)
        )
        return Response(PropellerSerializer(taken, many=True).data, 201)


class PropellerDetail(APIView):
    """One propeller."""

    @extend_schema(request=HubSerializer, responses=PropellerSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Note what its hub measures, from a version that was read."""
        propeller = get_object_or_404(Propeller.objects.select_related("maker"), pk=pk)
        values, base = typed_from(request, HubSerializer)
        row = services.measure_hub(
            actor=actor_of(request), propeller=propeller, base=base, **values
        )
        return Response(PropellerSerializer(row).data)


class BenchDeclaration(APIView):
    """What the bench declares once for all."""

    @extend_schema(responses=DeclarationSerializer)
    def get(self, request: Request) -> Response:
        """Lead length, usual arm, room round the propeller."""
        return Response(DeclarationSerializer(declaration()).data)

    @extend_schema(request=DeclarationSerializer, responses=DeclarationSerializer)
    def patch(self, request: Request) -> Response:
        """Declare anew; every mass is brought to the new length."""
        values, base = typed_from(request, DeclarationSerializer)
        row = services.declare(actor=actor_of(request), base=base, **values)
        return Response(DeclarationSerializer(row).data)


class SupplyList(generics.ListAPIView):
    """Bench supplies and packs."""

    queryset = Supply.objects.all()
    serializer_class = SupplySerializer

    @extend_schema(request=NewSupplySerializer, responses={201: SupplySerializer})
    def post(self, request: Request) -> Response:
        """Add a supply or a pack."""
        values = typed(request, NewSupplySerializer)
        supply = services.add_supply(actor=actor_of(request), **values)
        return Response(SupplySerializer(supply).data, 201)


class StandList(generics.ListAPIView):
    """Stands."""

    queryset = Stand.objects.all()
    serializer_class = StandSerializer

    @extend_schema(request=NewStandSerializer, responses={201: StandSerializer})
    def post(self, request: Request) -> Response:
        """Add a stand."""
        values = typed(request, NewStandSerializer)
        stand = services.add_stand(actor=actor_of(request), **values)
        return Response(StandSerializer(stand).data, 201)
