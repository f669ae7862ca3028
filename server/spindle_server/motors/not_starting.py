"""A motor that does not start: what to look at, and what was found kept as an incident."""

from __future__ import annotations

from typing import Any

from django.shortcuts import get_object_or_404
from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_core.errors import QuantityError
from spindle_core.run.not_starting import BEFORE, LOOKS, kept_as
from spindle_server.accounts.permissions import actor_of
from spindle_server.api.inputs import typed
from spindle_server.errors import ServiceError
from spindle_server.motors.models import Sample
from spindle_server.motors.record_serializers import IncidentSerializer
from spindle_server.motors.weighing import add_incident


class LookFindingSerializer(serializers.Serializer):
    """What may be found; ``suggests`` empty where nothing is amiss."""

    key = serializers.CharField()
    words = serializers.CharField()
    suggests = serializers.CharField(allow_blank=True)


class LookSerializer(serializers.Serializer):
    """One thing to look at."""

    key = serializers.CharField()
    question = serializers.CharField()
    how = serializers.CharField()
    findings = LookFindingSerializer(many=True)


class NotStartingSerializer(serializers.Serializer):
    """What to do before anything, and what to look at in which order."""

    before = serializers.CharField()
    looks = LookSerializer(many=True)


class FoundSerializer(serializers.Serializer):
    """What was found: look → finding."""

    found = serializers.DictField(child=serializers.CharField(max_length=20))
    note = serializers.CharField(required=False, default="", allow_blank=True, max_length=400)


class NotStarting(APIView):
    """What to look at when a motor does not start."""

    @extend_schema(responses=NotStartingSerializer)
    def get(self, request: Request) -> Response:
        """Everything, in its order."""
        said = {"before": BEFORE, "looks": list(LOOKS.values())}
        return Response(NotStartingSerializer(said).data)


class DoesNotStart(APIView):
    """A sample that does not start."""

    @extend_schema(request=FoundSerializer, responses={201: IncidentSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """Keep what was found as an incident of today."""
        sample = get_object_or_404(Sample, pk=pk)
        values = typed(request, FoundSerializer)
        row = add_incident(actor=actor_of(request), sample=sample, **_incident(values))
        return Response(IncidentSerializer(row).data, 201)


def _incident(values: dict[str, Any]) -> dict[str, Any]:
    try:
        kind, words = kept_as(values["found"])
    except QuantityError as error:
        raise ServiceError(
            error.message, code="found", fields={"found": [error.message]}
        ) from error
    note = f"{words} {values['note'].strip()}".strip()
    return {"kind": kind, "note": note, "happened_on": timezone.localdate()}
