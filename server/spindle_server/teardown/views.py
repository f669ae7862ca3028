"""Observations of a sample."""

from __future__ import annotations

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_server.accounts.permissions import actor_of
from spindle_server.api.inputs import typed_from, whole
from spindle_server.errors import ServiceError
from spindle_server.motors.models import Sample
from spindle_server.teardown import selectors, services
from spindle_server.teardown.serializers import (
    ObservationSerializer,
    TeardownComparisonSerializer,
    TeardownSheetSerializer,
    VocabularySerializer,
)


class Vocabulary(APIView):
    """What is looked at, in which order."""

    @extend_schema(responses=VocabularySerializer)
    def get(self, request: Request) -> Response:
        """The vocabulary."""
        return Response(VocabularySerializer(selectors.vocabulary()).data)


class TeardownSheet(APIView):
    """The teardown of one sample."""

    @extend_schema(responses=TeardownSheetSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """Observations and findings."""
        sample = get_object_or_404(Sample.objects.select_related("motor__maker"), pk=pk)
        return Response(TeardownSheetSerializer(selectors.sheet(sample)).data)

    @extend_schema(request=ObservationSerializer, responses=ObservationSerializer)
    def put(self, request: Request, pk: int) -> Response:
        """Record one answer made from ``version`` (none: there was no answer yet); repeating it
        changes nothing.
        """
        sample = get_object_or_404(Sample.objects.select_related("motor"), pk=pk)
        values, base = typed_from(request, ObservationSerializer)
        observation = services.record_observation(
            actor=actor_of(request), sample=sample, base=base, **values
        )
        return Response(ObservationSerializer(observation).data)


def _numbers(text: str) -> list[int]:
    parts = [part for part in text.split(",") if part.strip()]
    numbers = [number for part in parts if (number := whole(part.strip())) is not None]
    if len(numbers) < len(parts):
        message = "Give the samples by their numbers, separated by commas."
        raise ServiceError(message, code="samples", fields={"samples": [message]})
    return numbers


SAMPLES = OpenApiParameter("samples", str, required=True, description="Two to four, by comma")


class TeardownComparison(APIView):
    """How they differ inside."""

    @extend_schema(parameters=[SAMPLES], responses=TeardownComparisonSerializer)
    def get(self, request: Request) -> Response:
        """Two to four samples side by side."""
        table = selectors.compare(_numbers(request.query_params.get("samples", "")))
        return Response(TeardownComparisonSerializer(table).data)


class TeardownComparisonFile(APIView):
    """The comparison as a file."""

    @extend_schema(
        parameters=[SAMPLES, OpenApiParameter("differences", bool)],
        responses={(200, "text/csv"): OpenApiTypes.BINARY},
    )
    def get(self, request: Request) -> HttpResponse:
        """As CSV; ``differences=1`` leaves out what is the same or unknown."""
        text = selectors.compare_csv(
            _numbers(request.query_params.get("samples", "")),
            only_differences=request.query_params.get("differences") in ("1", "true"),
        )
        response = HttpResponse(text, content_type="text/csv; charset=utf-8")
        response["Content-Disposition"] = 'attachment; filename="teardown-comparison.csv"'
        return response
