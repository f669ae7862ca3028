"""The board."""

from __future__ import annotations

from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_server.api.inputs import whole
from spindle_server.board import selectors
from spindle_server.runs.serializers import RunSerializer
from spindle_server.runs.sheet_serializers import LaterCellSerializer


class BoardMotorSerializer(serializers.Serializer):
    """A motor with its evidence, gaps and next act."""

    id = serializers.IntegerField()
    full_name = serializers.CharField()
    samples = serializers.IntegerField()
    claims = serializers.IntegerField()
    observations = serializers.IntegerField()
    runs = serializers.IntegerField()
    most_repeats = serializers.IntegerField()
    gaps = serializers.ListField(child=serializers.CharField())
    next_station = serializers.ChoiceField(["intake", "teardown", "bench", "compare"])
    next_act = serializers.CharField()
    urgency = serializers.IntegerField()


class BenchDaySerializer(serializers.Serializer):
    """The last day on which something ran."""

    day = serializers.DateField()
    today = serializers.BooleanField()
    runs = serializers.IntegerField()
    not_completed = serializers.IntegerField()
    rejected = serializers.IntegerField()
    first_at = serializers.DateTimeField()
    last_at = serializers.DateTimeField()


class BoardSerializer(serializers.Serializer):
    """What to do next."""

    motors = BoardMotorSerializer(many=True)
    motor_count = serializers.IntegerField()
    in_hand = BoardMotorSerializer(allow_null=True)
    unreviewed = RunSerializer(many=True)
    unreviewed_count = serializers.IntegerField()
    later = LaterCellSerializer(many=True)
    later_count = serializers.IntegerField()
    attribute_count = serializers.IntegerField()
    bench_day = BenchDaySerializer(allow_null=True)


class Board(APIView):
    """What to do next."""

    @extend_schema(
        parameters=[OpenApiParameter("search", str), OpenApiParameter("in_hand", int)],
        responses=BoardSerializer,
    )
    def get(self, request: Request) -> Response:
        """Gaps and next acts of the most urgent motors, and the row of the one in hand."""
        held = request.query_params.get("in_hand", "")
        found = selectors.board(search=request.query_params.get("search", ""), in_hand=whole(held))
        return Response(BoardSerializer(found).data)
