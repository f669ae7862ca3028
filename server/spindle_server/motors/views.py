"""Samples, claims and expectations."""

from __future__ import annotations

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_core.intake.claim_quantities import CLAIMS, EXPECTED
from spindle_server.accounts.permissions import actor_of
from spindle_server.api.inputs import asked_version, typed, typed_from
from spindle_server.motors import claimed_loads, services
from spindle_server.motors.models import Claim, ClaimedLoad, MotorModel, Sample
from spindle_server.motors.serializers import (
    ClaimedLoadSerializer,
    ClaimQuantitySerializer,
    ClaimSerializer,
    ExpectationSerializer,
    SampleSerializer,
)


class SampleList(APIView):
    """Samples of one motor."""

    @extend_schema(request=SampleSerializer, responses={201: SampleSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """Add a sample."""
        motor = get_object_or_404(MotorModel, pk=pk)
        values, _ = typed_from(request, SampleSerializer)
        sample = services.add_sample(actor=actor_of(request), motor=motor, **values)
        return Response(SampleSerializer(sample).data, 201)


class SampleDetail(APIView):
    """One sample."""

    @extend_schema(request=SampleSerializer, responses=SampleSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Change its mark, direction, parcel or note, from a version that was read."""
        sample = get_object_or_404(Sample, pk=pk)
        values, base = typed_from(request, SampleSerializer, sample)
        changed = services.change_sample(
            actor=actor_of(request), sample=sample, base=base, **values
        )
        return Response(SampleSerializer(changed).data)


class ClaimList(APIView):
    """Claims about one motor."""

    @extend_schema(request=ClaimSerializer, responses={201: ClaimSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """Note a claim, or correct the one of the same quantity and source."""
        motor = get_object_or_404(MotorModel, pk=pk)
        values, base = typed_from(request, ClaimSerializer)
        claim = services.put_claim(actor=actor_of(request), motor=motor, base=base, **values)
        return Response(ClaimSerializer(claim).data, 201)


class ClaimDetail(APIView):
    """One claim."""

    @extend_schema(parameters=[OpenApiParameter("version", int)], responses={204: None})
    def delete(self, request: Request, pk: int, claim_pk: int) -> Response:
        """Take it off, as it was read at ``version``; the history keeps it."""
        claim = get_object_or_404(Claim, pk=claim_pk, motor_id=pk)
        services.remove_claim(actor=actor_of(request), claim=claim, base=asked_version(request))
        return Response(status=204)


class ClaimedLoadList(APIView):
    """What is stated of one motor by propeller and cell count."""

    @extend_schema(request=ClaimedLoadSerializer, responses={201: ClaimedLoadSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """Note a row of a source's table."""
        motor = get_object_or_404(MotorModel, pk=pk)
        values, _ = typed_from(request, ClaimedLoadSerializer)
        row = claimed_loads.add_claimed_load(actor=actor_of(request), motor=motor, **values)
        return Response(ClaimedLoadSerializer(row).data, 201)


class ClaimedLoadDetail(APIView):
    """One row of a source's table."""

    @extend_schema(request=ClaimedLoadSerializer, responses=ClaimedLoadSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Correct it, from a version that was read."""
        row = get_object_or_404(ClaimedLoad, pk=pk)
        values, base = typed_from(request, ClaimedLoadSerializer, row)
        changed = claimed_loads.change_claimed_load(
            actor=actor_of(request), load=row, base=base, **values
        )
        return Response(ClaimedLoadSerializer(changed).data)

    @extend_schema(parameters=[OpenApiParameter("version", int)], responses={204: None})
    def delete(self, request: Request, pk: int) -> Response:
        """Take it off, as it was read at ``version``; the history keeps it."""
        row = get_object_or_404(ClaimedLoad, pk=pk)
        claimed_loads.remove_claimed_load(
            actor=actor_of(request), load=row, base=asked_version(request)
        )
        return Response(status=204)


class ExpectationList(APIView):
    """What is expected of a motor."""

    @extend_schema(request=ExpectationSerializer, responses={201: ExpectationSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """Note it with today's date; it is never changed."""
        motor = get_object_or_404(MotorModel, pk=pk)
        values = typed(request, ExpectationSerializer)
        made = services.expect(actor=actor_of(request), motor=motor, **values)
        return Response(ExpectationSerializer(made).data, 201)


class ClaimQuantities(APIView):
    """What can be claimed."""

    @extend_schema(responses=ClaimQuantitySerializer(many=True))
    def get(self, request: Request) -> Response:
        """Quantities with unit and possible range."""
        rows = [
            {
                "key": key,
                "label": item.label,
                "unit": item.unit,
                "low": item.low,
                "high": item.high,
                "words": item.words,
                "expected": key in EXPECTED,
            }
            for key, item in CLAIMS.items()
        ]
        return Response(ClaimQuantitySerializer(rows, many=True).data)
