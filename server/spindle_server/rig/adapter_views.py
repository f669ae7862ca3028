"""Adapters for propellers."""

from __future__ import annotations

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework import generics
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_server.accounts.permissions import actor_of
from spindle_server.api.inputs import typed, typed_from
from spindle_server.rig import adapters
from spindle_server.rig.adapter_serializers import AdapterSerializer
from spindle_server.rig.models import Adapter


class AdapterList(generics.ListAPIView):
    """Rings, collets, bolt-on studs and clamp plates of the bench."""

    queryset = Adapter.objects.all()
    serializer_class = AdapterSerializer

    @extend_schema(request=AdapterSerializer, responses={201: AdapterSerializer})
    def post(self, request: Request) -> Response:
        """Add an adapter."""
        values = typed(request, AdapterSerializer)
        values.pop("version", None)
        adapter = adapters.add_adapter(actor=actor_of(request), **values)
        return Response(AdapterSerializer(adapter).data, 201)


class AdapterDetail(APIView):
    """One adapter."""

    @extend_schema(request=AdapterSerializer, responses=AdapterSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Change what is known of it, from a version that was read; retire it or put it back."""
        adapter = get_object_or_404(Adapter, pk=pk)
        values, base = typed_from(request, AdapterSerializer, adapter)
        row = adapters.change_adapter(actor=actor_of(request), adapter=adapter, base=base, **values)
        return Response(AdapterSerializer(row).data)
