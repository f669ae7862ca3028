"""How packs stand."""

from __future__ import annotations

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_server.accounts.permissions import actor_of
from spindle_server.api.inputs import typed
from spindle_server.rig.models import Supply
from spindle_server.rig.packs_said import say_pack
from spindle_server.runs.pack_serializers import PackNowSerializer, SaidOfPackSerializer
from spindle_server.runs.packs_now import packs_now, standing_json


class PacksNow(APIView):
    """Packs of the bench."""

    @extend_schema(responses=PackNowSerializer(many=True))
    def get(self, request: Request) -> Response:
        """How each stands that is in use."""
        rows = [standing_json(one) for one in packs_now()]
        return Response(PackNowSerializer(rows, many=True).data)


class PackNowDetail(APIView):
    """One pack."""

    @extend_schema(request=SaidOfPackSerializer, responses=PackNowSerializer)
    def put(self, request: Request, pk: int) -> Response:
        """Say how it stands; runs after this change it by themselves."""
        supply = get_object_or_404(Supply, pk=pk)
        say_pack(actor=actor_of(request), supply=supply, **typed(request, SaidOfPackSerializer))
        return Response(PackNowSerializer(standing_json(packs_now([pk])[0])).data)
