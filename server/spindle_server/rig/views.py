"""Propellers, and what the bench declares."""

from __future__ import annotations

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import generics
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_server.accounts.permissions import actor_of
from spindle_server.api.inputs import typed, typed_from, whole
from spindle_server.motors.models import MotorModel
from spindle_server.rig import first, services
from spindle_server.rig.filters import PropellerFilter
from spindle_server.rig.models import Propeller
from spindle_server.rig.readings import readings_of
from spindle_server.rig.selectors import declaration
from spindle_server.rig.serializers import (
    ChangedPropellerSerializer,
    CommonSizeSerializer,
    DeclarationSerializer,
    PropellerReadingSerializer,
    PropellerSerializer,
    TakeSizesSerializer,
)


class PropellerList(generics.ListAPIView):
    """The propeller library."""

    queryset = Propeller.objects.select_related("maker")
    serializer_class = PropellerSerializer
    filterset_class = PropellerFilter

    @extend_schema(request=PropellerSerializer, responses={201: PropellerSerializer})
    def post(self, request: Request) -> Response:
        """Add a propeller."""
        values = typed(request, PropellerSerializer)
        values["maker"] = values["maker"]["name"]
        propeller = services.add_propeller(actor=actor_of(request), **values)
        return Response(PropellerSerializer(propeller).data, 201)


class CommonSizes(APIView):
    """Common sizes of propellers, to begin a library with."""

    @extend_schema(responses=CommonSizeSerializer(many=True))
    def get(self, request: Request) -> Response:
        """All of them, and which are in the library."""
        return Response(CommonSizeSerializer(first.common_sizes(), many=True).data)

    @extend_schema(request=TakeSizesSerializer, responses={201: PropellerSerializer(many=True)})
    def post(self, request: Request) -> Response:
        """Take some into the library; those that are there stay."""
        taken = first.take_common_sizes(
            actor=actor_of(request), **typed(request, TakeSizesSerializer)
        )
        return Response(PropellerSerializer(taken, many=True).data, 201)


class PropellerReadings(APIView):
    """What a way of writing a propeller can mean."""

    @extend_schema(
        parameters=[OpenApiParameter("text", str), OpenApiParameter("motor", int)],
        responses=PropellerReadingSerializer(many=True),
    )
    def get(self, request: Request) -> Response:
        """Each reading, the likeliest first, and which fit the motor in hand."""
        named = request.query_params.get("motor", "")
        number = whole(named)
        motor = None if number is None else MotorModel.objects.filter(pk=number).first()
        found = readings_of(request.query_params.get("text", ""), motor)
        return Response(PropellerReadingSerializer(found, many=True).data)


class PropellerDetail(APIView):
    """One propeller."""

    @extend_schema(request=ChangedPropellerSerializer, responses=PropellerSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Change what is known of it, from a version that was read."""
        propeller = get_object_or_404(Propeller.objects.select_related("maker"), pk=pk)
        values, base = typed_from(request, ChangedPropellerSerializer, propeller)
        row = services.change_propeller(
            actor=actor_of(request), propeller=propeller, base=base, **values
        )
        return Response(PropellerSerializer(row).data)


class BenchDeclaration(APIView):
    """What the bench declares once for all."""

    @extend_schema(responses=DeclarationSerializer)
    def get(self, request: Request) -> Response:
        """Lead length, usual arm, room round the propeller."""
        return Response(DeclarationSerializer(declaration()).data)

    @extend_schema(request=DeclarationSerializer, responses=DeclarationSerializer)
    def patch(self, request: Request) -> Response:
        """Declare anew; every mass is brought to the new length."""
        values, base = typed_from(request, DeclarationSerializer)
        row = services.declare(actor=actor_of(request), base=base, **values)
        return Response(DeclarationSerializer(row).data)
