"""Stands, their geometry, instruments, calibrations and checks."""

from __future__ import annotations

from typing import Any

from django.shortcuts import get_object_or_404
from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import generics
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_server.accounts.permissions import actor_of
from spindle_server.api.inputs import typed, typed_from
from spindle_server.rig import stands
from spindle_server.rig.models import Calibration, MassCheck, Stand
from spindle_server.rig.stand_serializers import (
    CalibrationFitSerializer,
    CalibrationSerializer,
    ChangedStandSerializer,
    InstrumentSerializer,
    MassCheckSerializer,
    NewStandSerializer,
    StandSerializer,
    StandSheetSerializer,
    StandStateSerializer,
    StruckOutSerializer,
    TriedCalibrationSerializer,
)

WHOLE = Stand.objects.prefetch_related("states__weights", "instruments", "calibrations", "checks")


def _stand(pk: int) -> Stand:
    return get_object_or_404(WHOLE.all(), pk=pk)


class StandList(generics.ListAPIView):
    """Stands."""

    queryset = WHOLE
    serializer_class = StandSerializer

    @extend_schema(request=NewStandSerializer, responses={201: StandSerializer})
    def post(self, request: Request) -> Response:
        """Add a stand."""
        values = typed(request, NewStandSerializer)
        stand = stands.add_stand(actor=actor_of(request), **values)
        return Response(StandSerializer(stand).data, 201)


class StandDetail(APIView):
    """One stand with everything of it."""

    @extend_schema(responses=StandSheetSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """Geometry, instruments, calibrations and checks, the oldest first."""
        return Response(StandSheetSerializer(_stand(pk)).data)

    @extend_schema(request=ChangedStandSerializer, responses=StandSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Change what is declared, from a version that was read; retire it or put it back."""
        stand = _stand(pk)
        values, base = typed_from(request, ChangedStandSerializer, stand)
        row = stands.change_stand(actor=actor_of(request), stand=stand, base=base, **values)
        return Response(StandSerializer(row).data)


class _OfStand(APIView):
    """Records of one stand."""

    serializer: Any
    keep: Any

    def write(self, request: Request, pk: int, **more: Any) -> Response:
        """Keep what was sent, and answer with it as it stands."""
        values = typed(request, self.serializer)
        base = values.pop("version", None)
        versioned = {"base": base, **more} if "version" in self.serializer().fields else more
        row = self.keep(actor=actor_of(request), stand=_stand(pk), **versioned, **values)
        row.refresh_from_db()
        return Response(self.serializer(row).data, 201)


class StandStates(_OfStand):
    """The geometry of a stand from a day on."""

    serializer, keep = StandStateSerializer, staticmethod(stands.put_state)

    @extend_schema(request=StandStateSerializer, responses={201: StandStateSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """Begin a state, or change that of the same day."""
        return self.write(request, pk)


class StandInstruments(_OfStand):
    """What reads the channels of a stand."""

    serializer, keep = InstrumentSerializer, staticmethod(stands.put_instrument)

    @extend_schema(request=InstrumentSerializer, responses={201: InstrumentSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """Say what reads a channel; one a channel."""
        return self.write(request, pk)


class StandCalibrations(APIView):
    """Calibrations of a stand."""

    @extend_schema(request=CalibrationSerializer, responses={201: CalibrationSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """Keep a calibration; it counts from its day on."""
        values = typed(request, CalibrationSerializer)
        row = stands.add_calibration(actor=actor_of(request), stand=_stand(pk), **values)
        return Response(CalibrationSerializer(row).data, 201)


class CalibrationTrial(APIView):
    """Loads looked at before they are kept."""

    @extend_schema(request=TriedCalibrationSerializer, responses=CalibrationFitSerializer)
    def post(self, request: Request, pk: int) -> Response:
        """The line through them; nothing is stored."""
        values = typed(request, TriedCalibrationSerializer)
        day = values.pop("valid_from", None) or timezone.localdate()
        return Response(CalibrationFitSerializer(stands.fitted(_stand(pk), day, **values)).data)


class StandChecks(APIView):
    """Check masses of a stand."""

    @extend_schema(request=MassCheckSerializer, responses={201: MassCheckSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """Note a check mass."""
        values = typed(request, MassCheckSerializer)
        row = stands.add_mass_check(actor=actor_of(request), stand=_stand(pk), **values)
        return Response(MassCheckSerializer(row).data, 201)


class _Strike(APIView):
    model: Any
    serializer: Any

    def strike(self, request: Request, pk: int) -> Response:
        """Strike it out as a mistake, or let it stand again."""
        record = get_object_or_404(self.model, pk=pk)
        values, base = typed_from(request, StruckOutSerializer)
        row = stands.strike(
            actor=actor_of(request), record=record, reason=values["struck_reason"], base=base
        )
        return Response(self.serializer(row).data)


class CalibrationDetail(_Strike):
    """One calibration."""

    model, serializer = Calibration, CalibrationSerializer

    @extend_schema(request=StruckOutSerializer, responses=CalibrationSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Strike it out as a mistake, or let it stand again."""
        return self.strike(request, pk)


class MassCheckDetail(_Strike):
    """One check mass."""

    model, serializer = MassCheck, MassCheckSerializer

    @extend_schema(request=StruckOutSerializer, responses=MassCheckSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Strike it out as a mistake, or let it stand again."""
        return self.strike(request, pk)
