"""Comparisons."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_server.api.inputs import asked as asked_values
from spindle_server.compare import selectors
from spindle_server.compare.bench import AskedTable, bench_of, table_rows
from spindle_server.compare.serializers import (
    AskedTableSerializer,
    BenchTableSerializer,
    ComparisonSerializer,
)
from spindle_server.errors import ServiceError
from spindle_server.papers import table_csv, table_xlsx

PARAMETERS = [
    OpenApiParameter("runs", str, required=True, description="Run numbers, comma-separated."),
    OpenApiParameter("baseline", int, description="The run to compare with; the first if absent."),
    OpenApiParameter("thrusts", str, description="Thrusts in gf, comma-separated."),
]


def _numbers(text: str, kind: type[Any], name: str) -> list[Any]:
    try:
        return [kind(part) for part in text.split(",") if part.strip()]
    except ValueError as error:
        raise ServiceError(
            f"{name} must be numbers separated by commas, got {text!r}.", code="not_a_number"
        ) from error


def _comparison(request: Request) -> dict[str, Any]:
    asked = request.query_params
    baseline = _numbers(asked.get("baseline", ""), int, "baseline")
    return selectors.compared(
        _numbers(asked.get("runs", ""), int, "runs"),
        baseline[0] if baseline else None,
        _numbers(asked.get("thrusts", ""), float, "thrusts"),
    )


class Comparison(APIView):
    """Runs against each other."""

    @extend_schema(parameters=PARAMETERS, responses=ComparisonSerializer)
    def get(self, request: Request) -> Response:
        """Curves, the table at chosen thrusts, and whether like is compared with like."""
        return Response(ComparisonSerializer(_comparison(request)).data)


class ComparisonFile(APIView):
    """The table of a comparison."""

    @extend_schema(parameters=PARAMETERS, responses={(200, "text/csv"): OpenApiTypes.BINARY})
    def get(self, request: Request) -> HttpResponse:
        """As CSV."""
        text = selectors.comparison_csv(_comparison(request))
        response = HttpResponse(text, content_type="text/csv; charset=utf-8")
        response["Content-Disposition"] = 'attachment; filename="comparison.csv"'
        return response


XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


def _bench(request: Request) -> dict[str, Any]:
    return bench_of(AskedTable(**asked_values(request, AskedTableSerializer)))


class BenchTable(APIView):
    """The whole bench under one condition."""

    @extend_schema(parameters=[AskedTableSerializer], responses=BenchTableSerializer)
    def get(self, request: Request) -> Response:
        """Every motor on every propeller, differences, and the pivot of one figure."""
        return Response(BenchTableSerializer(_bench(request)).data)


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
