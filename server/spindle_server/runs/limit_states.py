"""A limit and its state as JSON: beside a live figure, and with a run on record."""

from __future__ import annotations

from rest_framework import serializers


class LimitStateSerializer(serializers.Serializer):
    """One limit beside its live figure: the run's, the stand's own, and what became of it."""

    name = serializers.CharField()
    channel = serializers.CharField(allow_blank=True)
    label = serializers.CharField()
    unit = serializers.CharField()
    limit = serializers.FloatField(allow_null=True)
    stand_limit = serializers.FloatField(allow_null=True)
    state = serializers.ChoiceField(["on", "off", "cannot_judge"])
    off_by = serializers.CharField(allow_blank=True)
