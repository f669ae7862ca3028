"""The bench's table of leads."""

from __future__ import annotations

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_server.accounts.permissions import actor_of
from spindle_server.api.inputs import asked_version, typed_from
from spindle_server.motor_file.lead_wires import lead_kinds
from spindle_server.motors import lead_wires
from spindle_server.motors.models import INSULATION_CHOICES, LeadWire
from spindle_server.runs.stated import StatedFigureSerializer


class LeadWireSerializer(serializers.ModelSerializer):
    """What a metre of one lead weighs [g/m]; ``u_g_per_m`` null where nobody said."""

    gauge = serializers.IntegerField(min_value=10, max_value=34)
    insulation = serializers.ChoiceField(INSULATION_CHOICES)
    g_per_m = serializers.FloatField(min_value=0.1, max_value=200)
    u_g_per_m = serializers.FloatField(
        min_value=0, max_value=100, required=False, allow_null=True, default=None
    )
    note = serializers.CharField(max_length=200, required=False, allow_blank=True, default="")
    version = serializers.IntegerField(required=False)

    class Meta:
        model = LeadWire
        fields = ["id", "gauge", "insulation", "g_per_m", "u_g_per_m", "note", "version"]
        read_only_fields = ["id"]
        validators: list[object] = []


class FromOffcutsSerializer(serializers.Serializer):
    """What one's own off-cuts say [g/m], and how many there are."""

    g_per_m = serializers.FloatField()
    u_g_per_m = serializers.FloatField()
    n = serializers.IntegerField()


class LeadKindSerializer(serializers.Serializer):
    """A kind of lead: the table's row or null, what is usual, what own off-cuts say."""

    gauge = serializers.IntegerField()
    insulation = serializers.ChoiceField(INSULATION_CHOICES)
    row = LeadWireSerializer(allow_null=True)
    usual = StatedFigureSerializer()
    offcuts = FromOffcutsSerializer(allow_null=True)


class LeadWireList(APIView):
    """Kinds of lead."""

    @extend_schema(responses=LeadKindSerializer(many=True))
    def get(self, request: Request) -> Response:
        """All that there is something to say of."""
        return Response(LeadKindSerializer(lead_kinds(), many=True).data)

    @extend_schema(request=LeadWireSerializer, responses={201: LeadWireSerializer})
    def post(self, request: Request) -> Response:
        """Note what a kind weighs."""
        values, _ = typed_from(request, LeadWireSerializer)
        row = lead_wires.add_lead_wire(actor=actor_of(request), **values)
        return Response(LeadWireSerializer(row).data, 201)


class LeadWireDetail(APIView):
    """A row of the table."""

    @extend_schema(request=LeadWireSerializer, responses=LeadWireSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Correct it, from a version that was read."""
        row = get_object_or_404(LeadWire, pk=pk)
        values, base = typed_from(request, LeadWireSerializer, row)
        changed = lead_wires.change_lead_wire(
            actor=actor_of(request), lead=row, base=base, **values
        )
        return Response(LeadWireSerializer(changed).data)

    @extend_schema(parameters=[OpenApiParameter("version", int)], responses={204: None})
    def delete(self, request: Request, pk: int) -> Response:
        """Take it off, as it was read at ``version``: what is usual is taken again."""
        row = get_object_or_404(LeadWire, pk=pk)
        base = asked_version(request)
        lead_wires.remove_lead_wire(actor=actor_of(request), lead=row, base=base)
        return Response(status=204)
