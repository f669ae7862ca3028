"""Observations and the vocabulary as JSON."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from spindle_server.teardown.models import Observation


class ObservationSerializer(serializers.ModelSerializer):
    """An observation of one sample."""

    observed_by_name = serializers.SerializerMethodField()

    class Meta:
        model = Observation
        fields = [
            "id", "sample", "attribute", "status", "choice", "value", "u", "instrument", "note",
            "observed_at", "observed_by_name",
        ]  # fmt: skip
        read_only_fields = ["id", "sample", "observed_at"]
        validators: list[Any] = []

    def get_observed_by_name(self, observation: Observation) -> str:
        """Who looked."""
        who = observation.observed_by
        return who.shown_name if who else ""


class ChoiceSerializer(serializers.Serializer):
    """One answer and what it suggests."""

    key = serializers.CharField()
    label = serializers.CharField()
    suggests = serializers.CharField(allow_blank=True)
    helps = serializers.ListField(child=serializers.CharField())
    costs = serializers.ListField(child=serializers.CharField())


class AttributeSerializer(serializers.Serializer):
    """One thing to look at."""

    key = serializers.CharField()
    step = serializers.CharField()
    label = serializers.CharField()
    choices = ChoiceSerializer(many=True)
    unit = serializers.CharField(allow_null=True)
    integer = serializers.BooleanField()
    counterpoint = serializers.CharField(allow_blank=True)


class VocabularySerializer(serializers.Serializer):
    """The vocabulary in the order of looking."""

    version = serializers.IntegerField()
    steps = serializers.ListField(child=serializers.CharField())
    attributes = AttributeSerializer(many=True)


class FindingSerializer(serializers.Serializer):
    """A number derived from observations; null with its reason when one is missing."""

    name = serializers.CharField()
    label = serializers.CharField()
    value = serializers.FloatField(allow_null=True)
    u = serializers.FloatField(allow_null=True)
    unit = serializers.CharField()
    note = serializers.CharField(allow_blank=True)


class TeardownSheetSerializer(serializers.Serializer):
    """All observations of one sample, and what is derived from them."""

    observations = ObservationSerializer(many=True)
    findings = FindingSerializer(many=True)
