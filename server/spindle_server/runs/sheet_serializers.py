"""Typed readings as JSON."""

from __future__ import annotations

from typing import Any

from django.utils import timezone
from rest_framework import serializers

from spindle_core.reduction.sheet import COLUMNS, MOST_ROWS
from spindle_server.motors.models import Sample
from spindle_server.rig.models import Propeller, Stand, Supply


class CellsField(serializers.DictField):
    """A row: column → number; an empty cell is not there."""

    child = serializers.FloatField(min_value=-1e6, max_value=1e6)

    def to_internal_value(self, data: Any) -> dict[str, float]:
        """Only columns of a sheet."""
        values: dict[str, float] = super().to_internal_value(data)
        strange = [name for name in values if name not in COLUMNS]
        if strange:
            raise serializers.ValidationError(f"{strange[0]} is no column of a sheet.")
        return values


class LookedAtSerializer(serializers.Serializer):
    """A sheet to look at while it is typed."""

    rows = serializers.ListField(child=CellsField(), max_length=MOST_ROWS)
    maxima = serializers.BooleanField(default=False)
    day = serializers.DateField(default=timezone.localdate)
    stand = serializers.PrimaryKeyRelatedField(
        queryset=Stand.objects.all(), required=False, allow_null=True, default=None
    )


class NewSheetSerializer(LookedAtSerializer):
    """A sheet to keep as a run."""

    sample = serializers.PrimaryKeyRelatedField(
        queryset=Sample.objects.select_related("motor__maker")
    )
    propeller = serializers.PrimaryKeyRelatedField(
        queryset=Propeller.objects.select_related("maker")
    )
    supply = serializers.PrimaryKeyRelatedField(
        queryset=Supply.objects.all(), required=False, allow_null=True, default=None
    )
    note = serializers.CharField(required=False, default="", allow_blank=True, max_length=4000)
    purpose = serializers.CharField(required=False, default="", allow_blank=True, max_length=120)


class CellFindingSerializer(serializers.Serializer):
    """What is wrong with a cell. ``impossible``: it cannot be true beside the others."""

    field = serializers.CharField()
    code = serializers.CharField()
    message = serializers.CharField()
    impossible = serializers.BooleanField()


class RowLookSerializer(serializers.Serializer):
    """What a row means; null where it cannot be told."""

    thrust_gf = serializers.FloatField(allow_null=True)
    power_w = serializers.FloatField(allow_null=True)
    efficiency_g_per_w = serializers.FloatField(allow_null=True)
    findings = CellFindingSerializer(many=True)
