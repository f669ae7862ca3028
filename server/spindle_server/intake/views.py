"""Motors, samples, claims and expectations."""

from __future__ import annotations

from typing import Any

from django.db.models import QuerySet
from django.shortcuts import get_object_or_404
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import generics
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_core.intake.claim_checks import Claimed, check_claims
from spindle_core.intake.claim_quantities import CLAIMS, EXPECTED
from spindle_core.motor.size_code import parse_size_code
from spindle_server.api.permissions import actor_of
from spindle_server.intake import selectors, services
from spindle_server.intake.file_serializers import (
    AskedFitSerializer,
    AskedPeersSerializer,
    FitSerializer,
    MotorFileSerializer,
    PeerSerializer,
    RemarkSerializer,
)
from spindle_server.intake.filters import MotorFilter
from spindle_server.intake.fit import Asked, fit
from spindle_server.intake.models import Claim, MotorModel, Sample
from spindle_server.intake.neighbours import nearest, size_traits
from spindle_server.intake.serializers import (
    ClaimCheckSerializer,
    ClaimQuantitySerializer,
    ClaimSerializer,
    ExpectationSerializer,
    MotorChangeSerializer,
    MotorSerializer,
    NewMotorSerializer,
    SampleSerializer,
    SizeReadingSerializer,
)


class MotorList(generics.ListAPIView):
    """Motors on the bench."""

    serializer_class = MotorSerializer
    filterset_class = MotorFilter

    def get_queryset(self) -> QuerySet[MotorModel]:
        """With maker and samples."""
        return selectors.motors()

    def paginate_queryset(self, queryset: Any) -> Any:
        """One page, with its counts."""
        return selectors.counted(super().paginate_queryset(queryset) or [])

    @extend_schema(request=NewMotorSerializer, responses={201: MotorSerializer})
    def post(self, request: Request) -> Response:
        """Take a motor in."""
        data = NewMotorSerializer(data=request.data)
        data.is_valid(raise_exception=True)
        motor = services.take_in_motor(actor=actor_of(request), **data.validated_data)
        return Response(_one(motor.pk), 201)


def _one(pk: int) -> Any:
    """One motor as the list shows it."""
    return MotorSerializer(selectors.counted([selectors.motors().get(pk=pk)])[0]).data


class MotorFile(APIView):
    """One motor's file."""

    @extend_schema(responses=MotorFileSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """Everything on file but runs, observations and photos."""
        motor = get_object_or_404(selectors.motor_for_file(pk))
        return Response(MotorFileSerializer(selectors.motor_file(motor)).data)

    @extend_schema(request=MotorChangeSerializer, responses=MotorSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Change what it is called or said to be, from a version that was read."""
        motor = get_object_or_404(MotorModel, pk=pk)
        data = MotorChangeSerializer(data=request.data)
        data.is_valid(raise_exception=True)
        values = dict(data.validated_data)
        base = values.pop("version")
        services.change_motor(actor=actor_of(request), motor=motor, base=base, **values)
        return Response(_one(pk))


class SampleList(APIView):
    """Samples of one motor."""

    @extend_schema(request=SampleSerializer, responses={201: SampleSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """Add a sample."""
        motor = get_object_or_404(MotorModel, pk=pk)
        data = SampleSerializer(data=request.data)
        data.is_valid(raise_exception=True)
        values = dict(data.validated_data)
        values.pop("version", None)
        sample = services.add_sample(actor=actor_of(request), motor=motor, **values)
        return Response(SampleSerializer(sample).data, 201)


class SampleDetail(APIView):
    """One sample."""

    @extend_schema(request=SampleSerializer, responses=SampleSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Change its mark, direction, parcel or note, from a version that was read."""
        sample = get_object_or_404(Sample, pk=pk)
        data = SampleSerializer(sample, data=request.data, partial=True)
        data.is_valid(raise_exception=True)
        values = dict(data.validated_data)
        base = values.pop("version", None)
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
        data = ClaimSerializer(data=request.data)
        data.is_valid(raise_exception=True)
        values = dict(data.validated_data)
        base = values.pop("version", None)
        claim = services.put_claim(actor=actor_of(request), motor=motor, base=base, **values)
        return Response(ClaimSerializer(claim).data, 201)


class ClaimDetail(APIView):
    """One claim."""

    @extend_schema(parameters=[OpenApiParameter("version", int)], responses={204: None})
    def delete(self, request: Request, pk: int, claim_pk: int) -> Response:
        """Take it off, as it was read at ``version``; the history keeps it."""
        claim = get_object_or_404(Claim, pk=claim_pk, motor_id=pk)
        text = request.query_params.get("version", "")
        base = int(text) if text.isdigit() else None
        services.remove_claim(actor=actor_of(request), claim=claim, base=base)
        return Response(status=204)


class ClaimCheck(APIView):
    """Claims while they are typed."""

    @extend_schema(request=ClaimCheckSerializer, responses=RemarkSerializer(many=True))
    def post(self, request: Request, pk: int) -> Response:
        """What they say of each other; stores nothing."""
        motor = get_object_or_404(MotorModel, pk=pk)
        data = ClaimCheckSerializer(data=request.data)
        data.is_valid(raise_exception=True)
        claims = [Claimed(**claim) for claim in data.validated_data["claims"]]
        size = parse_size_code(motor.size_code, motor.size_basis)
        return Response(RemarkSerializer(check_claims(claims, size=size), many=True).data)


class ExpectationList(APIView):
    """What is expected of a motor."""

    @extend_schema(request=ExpectationSerializer, responses={201: ExpectationSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """Note it with today's date; it is never changed."""
        motor = get_object_or_404(MotorModel, pk=pk)
        data = ExpectationSerializer(data=request.data)
        data.is_valid(raise_exception=True)
        made = services.expect(actor=actor_of(request), motor=motor, **data.validated_data)
        return Response(ExpectationSerializer(made).data, 201)


class MotorFit(APIView):
    """Does it fit?"""

    @extend_schema(parameters=[AskedFitSerializer], responses=FitSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """Screws, leads and every propeller of the library."""
        motor = get_object_or_404(MotorModel, pk=pk)
        data = AskedFitSerializer(data=request.query_params)
        data.is_valid(raise_exception=True)
        asked = dict(data.validated_data)
        sample_pk = asked.pop("sample")
        sample = get_object_or_404(Sample, pk=sample_pk, motor=motor) if sample_pk else None
        return Response(FitSerializer(fit(motor, sample, Asked(**asked))).data)


class Peers(APIView):
    """Peers of a motor that has no file yet."""

    @extend_schema(parameters=[AskedPeersSerializer], responses=PeerSerializer(many=True))
    def get(self, request: Request) -> Response:
        """The nearest on the bench by what is typed."""
        data = AskedPeersSerializer(data=request.query_params)
        data.is_valid(raise_exception=True)
        asked = data.validated_data
        traits = dict(size_traits(asked["size_code"], asked["size_basis"]))
        for name in ("kv_rpm_per_v", "mass_g", "price"):
            if asked[name] is not None:
                traits[name] = asked[name]
        found = nearest(traits, currency=asked["currency"])
        return Response(PeerSerializer(found, many=True).data)


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


class SizeReading(APIView):
    """What a size code says."""

    @extend_schema(
        parameters=[
            OpenApiParameter("text", str, required=True),
            OpenApiParameter("basis", str, enum=["stator", "outer_can", "case"]),
            OpenApiParameter("kind", str, enum=["outrunner", "brushed"]),
        ],
        responses=SizeReadingSerializer,
    )
    def get(self, request: Request) -> Response:
        """Read a size code while it is typed."""
        kind = request.query_params.get("kind") or "outrunner"
        basis = request.query_params.get("basis") or None
        size = services.read_size_code(request.query_params.get("text", ""), basis, kind)
        return Response(SizeReadingSerializer(selectors.size_json(size, kind=kind)).data)
