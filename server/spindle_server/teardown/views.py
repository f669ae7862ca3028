"""Observations of a sample."""

from __future__ import annotations

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_server.api.permissions import actor_of
from spindle_server.intake.models import Sample
from spindle_server.teardown import selectors, services
from spindle_server.teardown.serializers import (
    ObservationSerializer,
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
        sample = get_object_or_404(Sample, pk=pk)
        return Response(TeardownSheetSerializer(selectors.sheet(sample)).data)

    @extend_schema(request=ObservationSerializer, responses=ObservationSerializer)
    def put(self, request: Request, pk: int) -> Response:
        """Record one answer; repeating it changes nothing but its time."""
        sample = get_object_or_404(Sample, pk=pk)
        data = ObservationSerializer(data=request.data)
        data.is_valid(raise_exception=True)
        observation = services.record_observation(
            actor=actor_of(request), sample=sample, **data.validated_data
        )
        return Response(ObservationSerializer(observation).data)
