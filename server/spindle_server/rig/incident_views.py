"""What went wrong with the gear."""

from __future__ import annotations

from django.shortcuts import get_object_or_404
from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import generics, serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_server.accounts.permissions import actor_of
from spindle_server.api.inputs import typed, typed_from
from spindle_server.motors.record_serializers import StrikeSerializer, StruckSerializer
from spindle_server.motors.weighing import strike
from spindle_server.rig.incidents import note_gear_incident
from spindle_server.rig.models import GEAR, GearIncident


class GearIncidentSerializer(StruckSerializer):
    """Something that went wrong with one thing of the rig."""

    happened_on = serializers.DateField(default=timezone.localdate)
    kind_words = serializers.CharField(source="get_kind_display", read_only=True)
    thing_name = serializers.CharField(read_only=True)

    class Meta:
        model = GearIncident
        fields = [
            "id",
            *GEAR,
            "thing_name",
            "kind",
            "kind_words",
            "happened_on",
            "destroyed",
            "note",
            "struck_reason",
            "noted_by_name",
            "version",
        ]
        read_only_fields = ["id", "struck_reason", "version"]


class GearIncidentList(generics.ListAPIView):
    """What went wrong with the gear, the newest first."""

    queryset = GearIncident.objects.select_related(*GEAR, "propeller__maker", "noted_by")
    serializer_class = GearIncidentSerializer

    @extend_schema(request=GearIncidentSerializer, responses={201: GearIncidentSerializer})
    def post(self, request: Request) -> Response:
        """Note one."""
        values = typed(request, GearIncidentSerializer)
        made = note_gear_incident(actor=actor_of(request), **values)
        return Response(GearIncidentSerializer(made).data, 201)


class GearIncidentDetail(APIView):
    """One incident."""

    @extend_schema(request=StrikeSerializer, responses=GearIncidentSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Strike it out as a mistake, or let it stand again."""
        row = get_object_or_404(GearIncident, pk=pk)
        values, base = typed_from(request, StrikeSerializer)
        struck = strike(
            actor=actor_of(request), record=row, reason=values["struck_reason"], base=base
        )
        return Response(GearIncidentSerializer(struck).data)
