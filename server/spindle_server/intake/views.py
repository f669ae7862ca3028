"""Motors, samples and claims."""

from __future__ import annotations

from django.db.models import QuerySet
from django.shortcuts import get_object_or_404
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import generics
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_server.api.permissions import actor_of
from spindle_server.intake import selectors, services
from spindle_server.intake.claims import CLAIMS
from spindle_server.intake.models import Claim, MotorModel
from spindle_server.intake.serializers import (
    ClaimQuantitySerializer,
    ClaimSerializer,
    MotorFileSerializer,
    MotorSerializer,
    NewMotorSerializer,
    SampleSerializer,
    SizeReadingSerializer,
)


class MotorList(generics.ListAPIView):
    """Motors on the bench."""

    serializer_class = MotorSerializer
    filterset_fields = {"maker__name": ["exact"], "size_code": ["exact"]}

    def get_queryset(self) -> QuerySet[MotorModel]:
        """With counts."""
        return selectors.motors()

    @extend_schema(request=NewMotorSerializer, responses={201: MotorSerializer})
    def post(self, request: Request) -> Response:
        """Take a motor in."""
        data = NewMotorSerializer(data=request.data)
        data.is_valid(raise_exception=True)
        motor = services.take_in_motor(actor=actor_of(request), **data.validated_data)
        return Response(MotorSerializer(selectors.motors().get(pk=motor.pk)).data, 201)


class MotorFile(APIView):
    """One motor's file."""

    @extend_schema(responses=MotorFileSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """Everything on file but runs and observations."""
        motor = get_object_or_404(selectors.motors().prefetch_related("claims"), pk=pk)
        return Response(MotorFileSerializer(selectors.motor_file(motor)).data)


class SampleList(APIView):
    """Samples of one motor."""

    @extend_schema(request=SampleSerializer, responses={201: SampleSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """Add a sample."""
        motor = get_object_or_404(MotorModel, pk=pk)
        data = SampleSerializer(data=request.data)
        data.is_valid(raise_exception=True)
        sample = services.add_sample(actor=actor_of(request), motor=motor, **data.validated_data)
        return Response(SampleSerializer(sample).data, 201)


class ClaimList(APIView):
    """Claims about one motor."""

    @extend_schema(request=ClaimSerializer, responses={201: ClaimSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """Note a claim, or correct the one of the same quantity and source."""
        motor = get_object_or_404(MotorModel, pk=pk)
        data = ClaimSerializer(data=request.data)
        data.is_valid(raise_exception=True)
        claim = services.put_claim(actor=actor_of(request), motor=motor, **data.validated_data)
        return Response(ClaimSerializer(claim).data, 201)


class ClaimDetail(APIView):
    """One claim."""

    @extend_schema(responses={204: None})
    def delete(self, request: Request, pk: int, claim_pk: int) -> Response:
        """Take it off; the history keeps it."""
        claim = get_object_or_404(Claim, pk=claim_pk, motor_id=pk)
        services.remove_claim(actor=actor_of(request), claim=claim)
        return Response(status=204)


class ClaimQuantities(APIView):
    """What can be claimed."""

    @extend_schema(responses=ClaimQuantitySerializer(many=True))
    def get(self, request: Request) -> Response:
        """Quantities with unit and possible range."""
        rows = [
            {"key": key, "label": item.label, "unit": item.unit, "low": item.low,
             "high": item.high}
            for key, item in CLAIMS.items()
        ]  # fmt: skip
        return Response(ClaimQuantitySerializer(rows, many=True).data)


class SizeReading(APIView):
    """What a size code says."""

    @extend_schema(
        parameters=[
            OpenApiParameter("text", str, required=True),
            OpenApiParameter("basis", str, enum=["stator", "outer_can", "case"]),
        ],
        responses=SizeReadingSerializer,
    )
    def get(self, request: Request) -> Response:
        """Read a size code while it is typed."""
        basis = request.query_params.get("basis") or None
        reading = selectors.read_size(request.query_params.get("text", ""), basis)
        return Response(SizeReadingSerializer(reading).data)
