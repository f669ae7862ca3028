"""Supplies, packs and ESCs."""

from __future__ import annotations

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework import generics
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_server.accounts.permissions import actor_of
from spindle_server.api.inputs import typed, typed_from
from spindle_server.rig import driving
from spindle_server.rig.driving_serializers import (
    ChangedSupplySerializer,
    EscSerializer,
    NewSupplySerializer,
    SupplySerializer,
)
from spindle_server.rig.models import Esc, Supply


class SupplyList(generics.ListAPIView):
    """Bench supplies and packs."""

    queryset = Supply.objects.prefetch_related("packs")
    serializer_class = SupplySerializer

    @extend_schema(request=NewSupplySerializer, responses={201: SupplySerializer})
    def post(self, request: Request) -> Response:
        """Add a supply or a pack."""
        values = typed(request, NewSupplySerializer)
        supply = driving.add_supply(actor=actor_of(request), **values)
        return Response(SupplySerializer(supply).data, 201)


class SupplyDetail(APIView):
    """One supply or pack."""

    @extend_schema(request=ChangedSupplySerializer, responses=SupplySerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Change what is known of it, from a version that was read; retire it or put it back."""
        supply = get_object_or_404(Supply, pk=pk)
        values, base = typed_from(request, ChangedSupplySerializer, supply)
        row = driving.change_supply(actor=actor_of(request), supply=supply, base=base, **values)
        return Response(SupplySerializer(row).data)


class EscList(generics.ListAPIView):
    """Electronic speed controllers."""

    queryset = Esc.objects.all()
    serializer_class = EscSerializer

    @extend_schema(request=EscSerializer, responses={201: EscSerializer})
    def post(self, request: Request) -> Response:
        """Add an ESC."""
        values = typed(request, EscSerializer)
        values.pop("version", None)
        return Response(EscSerializer(driving.add_esc(actor=actor_of(request), **values)).data, 201)


class EscDetail(APIView):
    """One ESC."""

    @extend_schema(request=EscSerializer, responses=EscSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Change what is known of it, from a version that was read; retire it or put it back."""
        esc = get_object_or_404(Esc, pk=pk)
        values, base = typed_from(request, EscSerializer, esc)
        row = driving.change_esc(actor=actor_of(request), esc=esc, base=base, **values)
        return Response(EscSerializer(row).data)
