"""Comparisons."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_server.accounts.permissions import actor_of
from spindle_server.api.inputs import VERSION, asked_version, typed, typed_from
from spindle_server.api.inputs import asked as asked_values
from spindle_server.api.kept_answers import kept_answer
from spindle_server.compare import services
from spindle_server.compare.asking import AskedComparison
from spindle_server.compare.bench import AskedTable, bench_of, rests_on, table_rows
from spindle_server.compare.choosing import chosen
from spindle_server.compare.kinds import AskedKind, kinds_of, kinds_rows
from spindle_server.compare.kinds_serializers import (
    AskedKindSerializer,
    AskedKvSerializer,
    KindTableSerializer,
    OneKvSerializer,
)
from spindle_server.compare.models import Pick, SavedComparison
from spindle_server.compare.one_kv import AskedKv, at_one
from spindle_server.compare.pivot import pick_json
from spindle_server.compare.saved_serializers import (
    ChangedComparisonSerializer,
    NewSavedComparisonSerializer,
    SavedComparisonSerializer,
)
from spindle_server.compare.selectors import compared, comparison_rows_of
from spindle_server.compare.serializers import (
    AskedChoiceSerializer,
    AskedComparisonSerializer,
    ComparisonSerializer,
    RunChoiceSerializer,
)
from spindle_server.compare.table_serializers import (
    AskedTableSerializer,
    BenchTableSerializer,
    NewPickSerializer,
    PickSerializer,
)
from spindle_server.compare.torque import AskedTorque, torque_of
from spindle_server.compare.torque_serializers import AskedTorqueSerializer, TorqueChartSerializer
from spindle_server.identification.models import identified_state
from spindle_server.motors.models import MotorModel
from spindle_server.papers import table_csv, table_xlsx
from spindle_server.runs.ran import evidence_revision


def _compared(request: Request) -> dict[str, Any]:
    return compared(AskedComparison(**asked_values(request, AskedComparisonSerializer)))


class Comparison(APIView):
    """Subjects against each other."""

    @extend_schema(parameters=[AskedComparisonSerializer], responses=ComparisonSerializer)
    def get(self, request: Request) -> Response:
        """Curves, the table under a condition, and whether like is compared with like."""
        return Response(ComparisonSerializer(_compared(request)).data)


class ComparisonFile(APIView):
    """The table of a comparison as CSV."""

    @extend_schema(
        parameters=[AskedComparisonSerializer], responses={(200, "text/csv"): OpenApiTypes.BINARY}
    )
    def get(self, request: Request) -> HttpResponse:
        """A row per level, figure and subject."""
        text = table_csv(comparison_rows_of(_compared(request)))
        response = HttpResponse(text, content_type="text/csv; charset=utf-8")
        response["Content-Disposition"] = 'attachment; filename="comparison.csv"'
        return response


class Choices(APIView):
    """Runs that differ in one thing."""

    @extend_schema(parameters=[AskedChoiceSerializer], responses=RunChoiceSerializer)
    def get(self, request: Request) -> Response:
        """For a question about a motor: which runs to compare, and what counts as one."""
        wanted = asked_values(request, AskedChoiceSerializer)
        motor = get_object_or_404(MotorModel, pk=wanted["motor"])
        found = chosen(wanted["what"], motor, wanted["propeller"])
        return Response(RunChoiceSerializer(found).data)


class Torque(APIView):
    """Torque over speed."""

    @extend_schema(parameters=[AskedTorqueSerializer], responses=TorqueChartSerializer)
    def get(self, request: Request) -> Response:
        """A motor's line at each voltage, its propellers' loads, and where they meet."""
        asked = AskedTorque(**asked_values(request, AskedTorqueSerializer))
        rests = (evidence_revision(), identified_state(), asked)
        return kept_answer("torque", rests, TorqueChartSerializer, lambda: torque_of(asked))


class SavedComparisons(APIView):
    """Comparisons kept by name."""

    @extend_schema(responses=SavedComparisonSerializer(many=True))
    def get(self, request: Request) -> Response:
        """By name."""
        rows = SavedComparison.objects.select_related("saved_by")
        return Response(SavedComparisonSerializer(rows, many=True).data)

    @extend_schema(request=NewSavedComparisonSerializer, responses={201: SavedComparisonSerializer})
    def post(self, request: Request) -> Response:
        """Keep one."""
        values = typed(request, NewSavedComparisonSerializer)
        row = services.save_comparison(actor=actor_of(request), **values)
        return Response(SavedComparisonSerializer(row).data, 201)


class SavedComparisonDetail(APIView):
    """One comparison kept by name."""

    @extend_schema(request=ChangedComparisonSerializer, responses=SavedComparisonSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Change what it asks, its name, its note or its marks."""
        saved = get_object_or_404(SavedComparison, pk=pk)
        values, base = typed_from(request, ChangedComparisonSerializer, saved)
        row = services.change_comparison(
            actor=actor_of(request), saved=saved, values=values, base=base
        )
        return Response(SavedComparisonSerializer(row).data)

    @extend_schema(parameters=[VERSION], responses={204: None})
    def delete(self, request: Request, pk: int) -> Response:
        """Forget it, read at a version."""
        saved = get_object_or_404(SavedComparison, pk=pk)
        services.drop_comparison(actor=actor_of(request), saved=saved, base=asked_version(request))
        return Response(status=204)


class Picks(APIView):
    """What reviewers would take at a voltage."""

    @extend_schema(request=NewPickSerializer, responses={201: PickSerializer})
    def post(self, request: Request) -> Response:
        """Pick a motor on a propeller."""
        row = services.pick(actor=actor_of(request), **typed(request, NewPickSerializer))
        return Response(PickSerializer(pick_json(row)).data, 201)


class PickDetail(APIView):
    """One pick."""

    @extend_schema(parameters=[VERSION], responses={204: None})
    def delete(self, request: Request, pk: int) -> Response:
        """Pick it no more, read at a version."""
        row = get_object_or_404(Pick, pk=pk)
        services.drop_pick(actor=actor_of(request), picked=row, base=asked_version(request))
        return Response(status=204)


XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


def _bench(request: Request) -> dict[str, Any]:
    return bench_of(_asked_table(request))


def _asked_table(request: Request) -> AskedTable:
    return AskedTable(**asked_values(request, AskedTableSerializer))


class BenchTable(APIView):
    """The whole bench under one condition."""

    @extend_schema(parameters=[AskedTableSerializer], responses=BenchTableSerializer)
    def get(self, request: Request) -> Response:
        """Every motor on every propeller, differences, and the pivot of one figure."""
        asked = _asked_table(request)
        return kept_answer("bench", rests_on(asked), BenchTableSerializer, lambda: bench_of(asked))


class BenchTableFile(APIView):
    """The whole bench as CSV."""

    @extend_schema(
        parameters=[AskedTableSerializer], responses={(200, "text/csv"): OpenApiTypes.BINARY}
    )
    def get(self, request: Request) -> HttpResponse:
        """A row per motor and propeller."""
        text = table_csv(table_rows(_bench(request)))
        response = HttpResponse(text, content_type="text/csv; charset=utf-8")
        response["Content-Disposition"] = 'attachment; filename="bench.csv"'
        return response


class BenchWorkbook(APIView):
    """The whole bench as a workbook."""

    @extend_schema(parameters=[AskedTableSerializer], responses={(200, XLSX): OpenApiTypes.BINARY})
    def get(self, request: Request) -> HttpResponse:
        """A row per motor and propeller."""
        response = HttpResponse(table_xlsx("bench", table_rows(_bench(request))), content_type=XLSX)
        response["Content-Disposition"] = 'attachment; filename="bench.xlsx"'
        return response


class KindTable(APIView):
    """Runs of one kind over the whole bench."""

    @extend_schema(parameters=[AskedKindSerializer], responses=KindTableSerializer)
    def get(self, request: Request) -> Response:
        """kV, torque, response, heat or bursts of every motor, with what is claimed."""
        found = kinds_of(AskedKind(**asked_values(request, AskedKindSerializer)))
        return Response(KindTableSerializer(found).data)


class KindTableFile(APIView):
    """The same as CSV."""

    @extend_schema(
        parameters=[AskedKindSerializer], responses={(200, "text/csv"): OpenApiTypes.BINARY}
    )
    def get(self, request: Request) -> HttpResponse:
        """A row per motor and load."""
        found = kinds_of(AskedKind(**asked_values(request, AskedKindSerializer)))
        response = HttpResponse(
            table_csv(kinds_rows(found)), content_type="text/csv; charset=utf-8"
        )
        response["Content-Disposition"] = f'attachment; filename="{found["kind"] or "tests"}.csv"'
        return response


class OneKv(APIView):
    """Identified motors at one kV."""

    @extend_schema(parameters=[AskedKvSerializer], responses=OneKvSerializer)
    def get(self, request: Request) -> Response:
        """Each as it is and rewound; what is winding in a difference, and what is design."""
        asked = AskedKv(**asked_values(request, AskedKvSerializer))
        rests = (evidence_revision(), identified_state(), asked)
        return kept_answer("one-kv", rests, OneKvSerializer, lambda: at_one(asked))
