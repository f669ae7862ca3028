"""Motors and what is on file of each; does it fit, and who are its peers."""

from __future__ import annotations

from typing import Any

from django.db.models import QuerySet
from django.http import Http404
from django.shortcuts import get_object_or_404
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import generics
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_core.intake.claim_checks import Claimed, check_claims
from spindle_server.accounts.permissions import actor_of
from spindle_server.api.inputs import asked, typed, typed_from
from spindle_server.errors import MergedError, ServiceError
from spindle_server.motor_file import selectors
from spindle_server.motor_file.fit import Asked, fit
from spindle_server.motor_file.foreseen_loads import foreseen_loads
from spindle_server.motor_file.neighbours import nearest, size_traits
from spindle_server.motor_file.performance import performance
from spindle_server.motor_file.serializers import (
    AskedFitSerializer,
    AskedPeersSerializer,
    FitSerializer,
    ForeseenLoadSerializer,
    MotorFileSerializer,
    PeerSerializer,
    PerformanceSerializer,
    RemarkSerializer,
)
from spindle_server.motors import services
from spindle_server.motors.filters import MotorFilter
from spindle_server.motors.models import Merged, MotorModel, Sample
from spindle_server.motors.serializers import (
    ClaimCheckSerializer,
    MotorChangeSerializer,
    MotorSerializer,
    NewMotorSerializer,
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
        values = typed(request, NewMotorSerializer)
        motor = services.take_in_motor(actor=actor_of(request), **values)
        return Response(_one(motor.pk), 201)


def _one(pk: int) -> Any:
    """One motor as the list shows it."""
    return MotorSerializer(selectors.counted([selectors.motors().get(pk=pk)])[0]).data


def _say_what_it_is_now(pk: int) -> None:
    """Of a motor that was on the bench twice: which one it is.

    :raises MergedError: it was.
    """
    merged = Merged.objects.filter(thing="motor", gone=pk).first()
    motor = merged and MotorModel.objects.select_related("maker").filter(pk=merged.stays).first()
    if merged and motor:
        raise MergedError(
            f"{merged.gone_name} was on the bench twice; it is {motor.full_name} now.",
            current={"stays": motor.pk},
        )


class MotorFile(APIView):
    """One motor's file."""

    @extend_schema(responses=MotorFileSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """Everything on file but runs, observations and photos."""
        motor = selectors.motor_for_file(pk).first()
        if motor is None:
            _say_what_it_is_now(pk)
            raise Http404
        return Response(MotorFileSerializer(selectors.motor_file(motor)).data)

    @extend_schema(request=MotorChangeSerializer, responses=MotorSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Change what it is called or said to be, from a version that was read."""
        motor = get_object_or_404(MotorModel, pk=pk)
        values, base = typed_from(request, MotorChangeSerializer)
        services.change_motor(actor=actor_of(request), motor=motor, base=base, **values)
        return Response(_one(pk))


class MotorPerformance(APIView):
    """What it does on each propeller."""

    @extend_schema(responses=PerformanceSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """Largest thrust and g/W at one thrust per propeller, and heat."""
        motor = get_object_or_404(MotorModel, pk=pk)
        return Response(PerformanceSerializer(performance(motor)).data)


class ClaimCheck(APIView):
    """Claims while they are typed."""

    @extend_schema(request=ClaimCheckSerializer, responses=RemarkSerializer(many=True))
    def post(self, request: Request, pk: int) -> Response:
        """What they say of each other; stores nothing."""
        motor = get_object_or_404(MotorModel, pk=pk)
        values = typed(request, ClaimCheckSerializer)
        claims = [Claimed(**claim) for claim in values["claims"]]
        found = check_claims(claims, size=motor.size)
        return Response(RemarkSerializer(found, many=True).data)


class MotorFit(APIView):
    """Does it fit?"""

    @extend_schema(parameters=[AskedFitSerializer], responses=FitSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """Screws, leads and every propeller of the library."""
        motor = get_object_or_404(MotorModel, pk=pk)
        values = asked(request, AskedFitSerializer)
        sample_pk = values.pop("sample")
        sample = get_object_or_404(Sample, pk=sample_pk, motor=motor) if sample_pk else None
        return Response(FitSerializer(fit(motor, sample, Asked(**values))).data)


class ForeseenLoads(APIView):
    """A maker's table beside what the model foresees."""

    @extend_schema(responses=ForeseenLoadSerializer(many=True))
    def get(self, request: Request, pk: int) -> Response:
        """Every row of it."""
        motor = get_object_or_404(MotorModel, pk=pk)
        return Response(ForeseenLoadSerializer(foreseen_loads(motor), many=True).data)


class Peers(APIView):
    """Peers of a motor that has no file yet."""

    @extend_schema(parameters=[AskedPeersSerializer], responses=PeerSerializer(many=True))
    def get(self, request: Request) -> Response:
        """The nearest on the bench by what is typed."""
        values = asked(request, AskedPeersSerializer)
        traits = dict(size_traits(values["size_code"], values["size_basis"]))
        for name in ("kv_rpm_per_v", "mass_g", "price"):
            if values[name] is not None:
                traits[name] = values[name]
        found = nearest(traits, currency=values["currency"])
        return Response(PeerSerializer(found, many=True).data)


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
        if size is None:
            message = "Type a size code, or leave it out."
            raise ServiceError(message, code="size_code", fields={"size_code": [message]})
        return Response(SizeReadingSerializer(selectors.size_json(size, kind=kind)).data)
