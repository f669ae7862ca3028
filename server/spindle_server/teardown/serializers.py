"""Observations and the vocabulary as JSON."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from spindle_core.teardown import Attribute
from spindle_server.motors.serializers import ClaimSerializer
from spindle_server.teardown.models import Observation


class ObservationSerializer(serializers.ModelSerializer):
    """An observation of one sample."""

    observed_by_name = serializers.SerializerMethodField()
    reference_name = serializers.SerializerMethodField()
    reference_short = serializers.SerializerMethodField()
    reference_changed = serializers.SerializerMethodField()
    u = serializers.FloatField(min_value=0, required=False, allow_null=True)
    version = serializers.IntegerField(required=False)

    class Meta:
        model = Observation
        fields = [
            "id",
            "sample",
            "attribute",
            "status",
            "choice",
            "value",
            "u",
            "ordinal",
            "reference",
            "reference_name",
            "reference_short",
            "reference_changed",
            "instrument",
            "typed",
            "note",
            "observed_at",
            "observed_by_name",
            "version",
        ]
        read_only_fields = ["id", "sample", "observed_at"]
        validators: list[Any] = []

    def get_reference_name(self, observation: Observation) -> str:
        """The sample that "same as", "inferred from" and "less than" speak of."""
        return str(observation.reference) if observation.reference else ""

    def get_reference_short(self, observation: Observation) -> str:
        """The same without its maker."""
        seen = observation.reference
        return f"{seen.motor.short_name} {seen.mark}" if seen else ""

    def get_reference_changed(self, observation: Observation) -> bool:
        """Whether the reference's own answer has changed since it was taken over."""
        return bool(getattr(observation, "reference_changed", False))

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
    ordinal_words = serializers.ListField(child=serializers.CharField())
    low = serializers.FloatField()
    high = serializers.SerializerMethodField()

    def get_high(self, attribute: Attribute) -> float | None:
        """The largest possible number; null for answers that are choices."""
        return attribute.high if attribute.is_number else None


class VocabularySerializer(serializers.Serializer):
    """The vocabulary in the order of looking."""

    version = serializers.IntegerField()
    steps = serializers.ListField(child=serializers.CharField())
    outside_step = serializers.CharField()
    attributes = AttributeSerializer(many=True)


class FindingSerializer(serializers.Serializer):
    """A number derived from observations; null with its reason when one is missing."""

    name = serializers.CharField()
    label = serializers.CharField()
    value = serializers.FloatField(allow_null=True)
    u = serializers.FloatField(allow_null=True)
    unit = serializers.CharField(allow_blank=True)
    origin = serializers.CharField(allow_blank=True)
    note = serializers.CharField(allow_blank=True)


class NotApplicableSerializer(serializers.Serializer):
    """An attribute that this kind of motor does not have."""

    attribute = serializers.CharField()
    reason = serializers.CharField()


class TeardownSheetSerializer(serializers.Serializer):
    """All observations of one sample, and what is derived from them."""

    observations = ObservationSerializer(many=True)
    findings = FindingSerializer(many=True)
    not_applicable = NotApplicableSerializer(many=True)


class ComparedSampleSerializer(serializers.Serializer):
    """A sample in the comparison."""

    id = serializers.IntegerField()
    mark = serializers.CharField()
    motor = serializers.IntegerField(source="motor_id")
    motor_name = serializers.CharField(source="motor.full_name")
    motor_short = serializers.CharField(source="motor.short_name")
    size_code = serializers.CharField(source="motor.size_code")
    size_basis = serializers.CharField(source="motor.size_basis")


class InsideCellSerializer(serializers.Serializer):
    """One sample's answer in a row."""

    status = serializers.CharField()
    text = serializers.CharField(allow_blank=True)
    value = serializers.FloatField(allow_null=True)
    u = serializers.FloatField(allow_null=True)


class InsideRowSerializer(serializers.Serializer):
    """One attribute or derived figure across the samples."""

    key = serializers.CharField()
    label = serializers.CharField()
    step = serializers.CharField()
    unit = serializers.CharField(allow_null=True, allow_blank=True)
    outcome = serializers.ChoiceField(["same", "different", "unresolved", "unknown"])
    cells = InsideCellSerializer(many=True)


class ArgumentSerializer(serializers.Serializer):
    """What a differing answer suggests for one sample, by its place."""

    topic = serializers.CharField()
    column = serializers.IntegerField()
    speaks_for = serializers.BooleanField()
    label = serializers.CharField()
    answer = serializers.CharField()
    suggests = serializers.CharField(allow_blank=True)
    counterpoint = serializers.CharField(allow_blank=True)


class ComparedClaimSerializer(serializers.Serializer):
    """One claimed quantity across the samples; null where nothing is claimed."""

    quantity = serializers.CharField()
    label = serializers.CharField()
    cells = serializers.ListField(child=ClaimSerializer(allow_null=True))


class UnknownSerializer(serializers.Serializer):
    """What nobody looked at on a sample."""

    sample = serializers.IntegerField()
    labels = serializers.ListField(child=serializers.CharField())


class TeardownComparisonSerializer(serializers.Serializer):
    """Two to four samples side by side."""

    samples = ComparedSampleSerializer(many=True)
    observations = serializers.ListField(child=ObservationSerializer(many=True))
    rows = InsideRowSerializer(many=True)
    arguments = ArgumentSerializer(many=True)
    claims = ComparedClaimSerializer(many=True)
    unknown = UnknownSerializer(many=True)
