"""What is known of motors and propellers, what a run will do, and whether that was right."""

from __future__ import annotations

from django.shortcuts import get_object_or_404
from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_server.api.inputs import asked
from spindle_server.api.kept_answers import kept_answer
from spindle_server.identification import selectors
from spindle_server.identification.knowing import density_of, expected, reasons
from spindle_server.identification.serializers import (
    AskedRunSerializer,
    CoefficientsSerializer,
    HindsightSerializer,
    IdentifiedMotorSerializer,
    IdentifiedPropellerSerializer,
    RunExpectationSerializer,
    RunExpectedSerializer,
)
from spindle_server.motors.models import MotorModel
from spindle_server.rig.bench_day import day_on, given_by
from spindle_server.rig.models import Propeller
from spindle_server.runs.models import Run
from spindle_server.runs.ran import evidence_revision
from spindle_server.runs.stated import named


class IdentifiedMotor(APIView):
    """The constants of a motor."""

    @extend_schema(responses=IdentifiedMotorSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """Per sample, as a model, and as it was guessed."""
        motor = get_object_or_404(MotorModel.objects.select_related("maker"), pk=pk)
        return Response(IdentifiedMotorSerializer(selectors.identified_motor(motor)).data)


class IdentifiedPropeller(APIView):
    """The coefficients of a propeller."""

    @extend_schema(responses=IdentifiedPropellerSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """CT and CP from every accepted run, whatever turned it."""
        propeller = get_object_or_404(Propeller.objects.select_related("maker"), pk=pk)
        found = selectors.identified_propeller(propeller)
        return Response(IdentifiedPropellerSerializer(found).data)


class EveryPropeller(APIView):
    """The coefficients of all propellers."""

    @extend_schema(responses=CoefficientsSerializer(many=True))
    def get(self, request: Request) -> Response:
        """Those that their runs tell."""
        return Response(CoefficientsSerializer(selectors.every_propeller(), many=True).data)


class RunExpected(APIView):
    """What was expected of one run."""

    @extend_schema(responses=RunExpectedSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """Against what it gave."""
        rows = Run.objects.prefetch_related("predicted", "figures")
        run = get_object_or_404(rows, pk=pk)
        return Response(RunExpectedSerializer(selectors.run_misses(run)).data)


class Expectation(APIView):
    """A run that may be made."""

    @extend_schema(parameters=[AskedRunSerializer], responses=RunExpectationSerializer)
    def get(self, request: Request) -> Response:
        """What it will draw and give, in today's air and with today's ESC where none is named."""
        values = asked(request, AskedRunSerializer)
        day = given_by(day_on(timezone.localdate()))
        values["esc"] = values["esc"] or day.get("esc")
        figures, words = expected(**values, density_kg_per_m3=density_of(day))
        why = reasons(figures)
        found = {"figures": named(figures), "rests_on": "; ".join(why) if why else words}
        return Response(RunExpectationSerializer(found).data)


class Hindsight(APIView):
    """Predictions and what came of them."""

    @extend_schema(responses=HindsightSerializer)
    def get(self, request: Request) -> Response:
        """Per figure over all accepted runs: was the stated u right?"""
        return kept_answer(
            "hindsight", evidence_revision(), HindsightSerializer, selectors.hindsight
        )
