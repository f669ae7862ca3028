"""Parcels, parts, weighings, preparations and incidents."""

from __future__ import annotations

from typing import Any

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_server.accounts.permissions import actor_of
from spindle_server.api.inputs import VERSION, asked_version, typed, typed_from
from spindle_server.motors import parcels, weighing
from spindle_server.motors.models import (
    Incident,
    MotorModel,
    Parcel,
    PartInBox,
    Preparation,
    Sample,
    Weighing,
)
from spindle_server.motors.record_serializers import (
    IncidentSerializer,
    PreparationSerializer,
    StrikeSerializer,
    WeighingSerializer,
)
from spindle_server.motors.serializers import (
    ParcelFieldsSerializer,
    ParcelWithPartsSerializer,
    PartSerializer,
)


class ParcelList(APIView):
    """Parcels of one motor."""

    @extend_schema(request=ParcelFieldsSerializer, responses={201: ParcelWithPartsSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """One more delivery."""
        motor = get_object_or_404(MotorModel, pk=pk)
        values, _ = typed_from(request, ParcelFieldsSerializer)
        parcel = parcels.add_parcel(actor=actor_of(request), motor=motor, **values)
        return Response(ParcelWithPartsSerializer(parcel).data, 201)


class ParcelDetail(APIView):
    """One parcel."""

    @extend_schema(request=ParcelFieldsSerializer, responses=ParcelWithPartsSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Change what is known of it, from a version that was read."""
        parcel = get_object_or_404(Parcel, pk=pk)
        values, base = typed_from(request, ParcelFieldsSerializer, parcel)
        changed = parcels.change_parcel(actor=actor_of(request), parcel=parcel, base=base, **values)
        return Response(ParcelWithPartsSerializer(changed).data)


class PartList(APIView):
    """Parts of a parcel."""

    @extend_schema(request=PartSerializer, responses={201: PartSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """Add equal parts."""
        parcel = get_object_or_404(Parcel, pk=pk)
        values, _ = typed_from(request, PartSerializer)
        part = parcels.put_part(actor=actor_of(request), parcel=parcel, **values)
        return Response(PartSerializer(part).data, 201)


class PartDetail(APIView):
    """Equal parts of a parcel."""

    @extend_schema(request=PartSerializer, responses=PartSerializer)
    def put(self, request: Request, pk: int) -> Response:
        """Correct them, from a version that was read."""
        part = get_object_or_404(PartInBox.objects.select_related("parcel"), pk=pk)
        values, base = typed_from(request, PartSerializer)
        row = parcels.put_part(
            actor=actor_of(request), parcel=part.parcel, part=part, base=base, **values
        )
        return Response(PartSerializer(row).data)

    @extend_schema(parameters=[VERSION], responses={204: None})
    def delete(self, request: Request, pk: int) -> Response:
        """Take them off the list, as they were read at ``version``; the history keeps them."""
        part = get_object_or_404(PartInBox, pk=pk)
        parcels.remove_part(actor=actor_of(request), part=part, base=asked_version(request))
        return Response(status=204)


class _Records(APIView):
    """Records of one sample; the kind of record is the subclass's."""

    serializer: type[Any]
    add: Any

    def post(self, request: Request, pk: int) -> Response:
        """Note one."""
        sample = get_object_or_404(Sample, pk=pk)
        values = typed(request, self.serializer)
        record = self.add(actor=actor_of(request), sample=sample, **values)
        return Response(self.serializer(record).data, 201)


class _Record(APIView):
    """One record, which is struck out and never deleted."""

    serializer: type[Any]
    model: type[Any]

    def patch(self, request: Request, pk: int) -> Response:
        """Strike it out with a reason, or let it stand again."""
        record = get_object_or_404(self.model.objects.select_related("noted_by"), pk=pk)
        values, base = typed_from(request, StrikeSerializer)
        struck = weighing.strike(
            actor=actor_of(request), record=record, reason=values["struck_reason"], base=base
        )
        return Response(self.serializer(struck).data)


@extend_schema(request=WeighingSerializer, responses={201: WeighingSerializer})
class WeighingList(_Records):
    """Weighings of one sample."""

    serializer, add = WeighingSerializer, staticmethod(weighing.add_weighing)


@extend_schema(request=StrikeSerializer, responses=WeighingSerializer)
class WeighingDetail(_Record):
    """One weighing."""

    serializer, model = WeighingSerializer, Weighing


@extend_schema(request=PreparationSerializer, responses={201: PreparationSerializer})
class PreparationList(_Records):
    """What was done to one sample."""

    serializer, add = PreparationSerializer, staticmethod(weighing.add_preparation)


@extend_schema(request=StrikeSerializer, responses=PreparationSerializer)
class PreparationDetail(_Record):
    """One preparation."""

    serializer, model = PreparationSerializer, Preparation


@extend_schema(request=IncidentSerializer, responses={201: IncidentSerializer})
class IncidentList(_Records):
    """What went wrong with one sample."""

    serializer, add = IncidentSerializer, staticmethod(weighing.add_incident)


@extend_schema(request=StrikeSerializer, responses=IncidentSerializer)
class IncidentDetail(_Record):
    """One incident."""

    serializer, model = IncidentSerializer, Incident
