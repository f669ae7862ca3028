"""Weighings, preparations and incidents as JSON: records that are struck out, never deleted."""

from __future__ import annotations

from typing import Any

from django.utils import timezone
from rest_framework import serializers

from spindle_server.motors.models import Incident, Preparation, Struck, Weighing


def _today() -> Any:
    return timezone.localdate()


class StruckSerializer(serializers.ModelSerializer):
    """What such records share: who noted it, and why it was struck out."""

    noted_by_name = serializers.SerializerMethodField()

    def get_noted_by_name(self, record: Struck) -> str:
        """Who noted it."""
        return record.noted_by.shown_name if record.noted_by else ""


class WeighingSerializer(StruckSerializer):
    """One reading of a scale."""

    mass_g = serializers.FloatField()
    resolution_g = serializers.FloatField(min_value=0.001, max_value=10)
    lead_length_mm = serializers.FloatField(
        min_value=0, max_value=600, required=False, allow_null=True
    )
    weighed_on = serializers.DateField(default=_today)

    class Meta:
        model = Weighing
        fields = [
            "id",
            "sample",
            "mass_g",
            "resolution_g",
            "lead_length_mm",
            "nut_on",
            "connectors_on",
            "instrument",
            "typed",
            "weighed_on",
            "note",
            "struck_reason",
            "noted_by_name",
            "version",
        ]
        read_only_fields = ["id", "sample", "struck_reason", "version"]


class PreparationSerializer(StruckSerializer):
    """Something irreversible that was done to a sample."""

    lead_length_mm = serializers.FloatField(
        min_value=0, max_value=600, required=False, allow_null=True
    )
    done_on = serializers.DateField(default=_today)
    label = serializers.CharField(source="get_kind_display", read_only=True)

    class Meta:
        model = Preparation
        fields = [
            "id",
            "sample",
            "kind",
            "label",
            "done_on",
            "lead_length_mm",
            "note",
            "struck_reason",
            "noted_by_name",
            "version",
        ]
        read_only_fields = ["id", "sample", "struck_reason", "version"]


class IncidentSerializer(StruckSerializer):
    """Something that went wrong with a sample."""

    happened_on = serializers.DateField(default=_today)
    label = serializers.CharField(source="get_kind_display", read_only=True)
    mark = serializers.CharField(source="sample.mark", read_only=True)

    class Meta:
        model = Incident
        fields = [
            "id",
            "sample",
            "mark",
            "kind",
            "label",
            "happened_on",
            "destroyed",
            "note",
            "struck_reason",
            "noted_by_name",
            "version",
        ]
        read_only_fields = ["id", "sample", "struck_reason", "version"]


class StrikeSerializer(serializers.Serializer):
    """Why a record is a mistake; empty lets it stand again."""

    struck_reason = serializers.CharField(max_length=200, allow_blank=True)
    version = serializers.IntegerField(required=False)
