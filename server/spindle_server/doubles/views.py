"""Doubles: what may be, what merging two would do, and merging them."""

from __future__ import annotations

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_server.accounts.models import Role
from spindle_server.accounts.permissions import actor_of
from spindle_server.api.inputs import typed
from spindle_server.doubles.finding import pairs
from spindle_server.doubles.merging import look, merge
from spindle_server.doubles.serializers import (
    DoublesLookedAtSerializer,
    DoublesSerializer,
    MergerSerializer,
    MergeSerializer,
)
from spindle_server.motors.models import Merged

MOST_MERGED = 50


class Doubles(APIView):
    """What is on the bench twice."""

    write_role = Role.EDITOR

    @extend_schema(responses=DoublesSerializer)
    def get(self, request: Request) -> Response:
        """Pairs that may be doubles, and what was merged last."""
        found, more = pairs()
        merged = Merged.objects.all()[:MOST_MERGED]
        return Response(DoublesSerializer({"pairs": found, "more": more, "merged": merged}).data)

    @extend_schema(request=MergeSerializer, responses=MergerSerializer)
    def post(self, request: Request) -> Response:
        """Make two one, from the versions that were looked at."""
        values = typed(request, MergeSerializer)
        return Response(MergerSerializer(merge(actor=actor_of(request), **values)).data)


class DoublesLook(APIView):
    """Before they are merged."""

    write_role = Role.EDITOR

    @extend_schema(request=DoublesLookedAtSerializer, responses=MergerSerializer)
    def post(self, request: Request) -> Response:
        """What merging two would move, rename and leave out; nothing is changed."""
        return Response(MergerSerializer(look(**typed(request, DoublesLookedAtSerializer))).data)
