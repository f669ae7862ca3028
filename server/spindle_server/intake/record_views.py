"""Parcels, parts, weighings, preparations and incidents."""

from __future__ import annotations

from typing import Any

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_server.api.permissions import actor_of
from spindle_server.intake import parcels, weighing
from spindle_server.intake.file_serializers import ParcelWithPartsSerializer
from spindle_server.intake.models import (
    Incident,
    MotorModel,
    Parcel,
    PartInBox,
    Preparation,
    Sample,
    Weighing,
)
from spindle_server.intake.record_serializers import (
    IncidentSerializer,
    PreparationSerializer,
    StrikeSerializer,
    WeighingSerializer,
)
from spindle_server.intake.serializers import ParcelFieldsSerializer, PartSerializer


class ParcelList(APIView):
    """Parcels of one motor."""

    @extend_schema(request=ParcelFieldsSerializer, responses={201: ParcelWithPartsSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """One more delivery."""
        motor = get_object_or_404(MotorModel, pk=pk)
        data = ParcelFieldsSerializer(data=request.data)
        data.is_valid(raise_exception=True)
        values = dict(data.validated_data)
        values.pop("version", None)
        parcel = parcels.add_parcel(actor=actor_of(request), motor=motor, **values)
        return Response(ParcelWithPartsSerializer(parcel).data, 201)


class ParcelDetail(APIView):
    """One parcel."""

    @extend_schema(request=ParcelFieldsSerializer, responses=ParcelWithPartsSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Change what is known of it, from a version that was read."""
        parcel = get_object_or_404(Parcel, pk=pk)
        data = ParcelFieldsSerializer(parcel, data=request.data, partial=True)
        data.is_valid(raise_exception=True)
        values = dict(data.validated_data)
        base = values.pop("version", None)
        changed = parcels.change_parcel(actor=actor_of(request), parcel=parcel, base=base, **values)
        return Response(ParcelWithPartsSerializer(changed).data)


class PartList(APIView):
    """Parts of a parcel."""

    @extend_schema(request=PartSerializer, responses={201: PartSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """Add equal parts."""
        parcel = get_object_or_404(Parcel, pk=pk)
        data = PartSerializer(data=request.data)
        data.is_valid(raise_exception=True)
        part = parcels.put_part(actor=actor_of(request), parcel=parcel, **data.validated_data)
        return Response(PartSerializer(part).data, 201)


class PartDetail(APIView):
    """Equal parts of a parcel."""

    @extend_schema(request=PartSerializer, responses=PartSerializer)
    def put(self, request: Request, pk: int) -> Response:
        """Correct them."""
        part = get_object_or_404(PartInBox.objects.select_related("parcel"), pk=pk)
        data = PartSerializer(data=request.data)
        data.is_valid(raise_exception=True)
        parcels.put_part(
            actor=actor_of(request), parcel=part.parcel, part=part, **data.validated_data
        )
        return Response(PartSerializer(part).data)

    @extend_schema(responses={204: None})
    def delete(self, request: Request, pk: int) -> Response:
        """Take them off the list; the history keeps them."""
        parcels.remove_part(actor=actor_of(request), part=get_object_or_404(PartInBox, pk=pk))
        return Response(status=204)


class _Records(APIView):
    """Records of one sample; the kind of record is the subclass's."""

    serializer: type[Any]
    add: Any

    def post(self, request: Request, pk: int) -> Response:
        """Note one."""
        sample = get_object_or_404(Sample, pk=pk)
        data = self.serializer(data=request.data)
        data.is_valid(raise_exception=True)
        record = self.add(actor=actor_of(request), sample=sample, **data.validated_data)
        return Response(self.serializer(record).data, 201)


class _Record(APIView):
    """One record, which is struck out and never deleted."""

    serializer: type[Any]
    model: type[Any]

    def patch(self, request: Request, pk: int) -> Response:
        """Strike it out with a reason, or let it stand again."""
        record = get_object_or_404(self.model.objects.select_related("noted_by"), pk=pk)
        data = StrikeSerializer(data=request.data)
        data.is_valid(raise_exception=True)
        weighing.strike(
            actor=actor_of(request), record=record, reason=data.validated_data["struck_reason"]
        )
        return Response(self.serializer(record).data)


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
