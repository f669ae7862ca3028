"""Motors, samples and claims as JSON."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from spindle_server.intake.claims import CLAIMS
from spindle_server.intake.models import OBTAINED, TURNING, Claim, MotorModel, Sample


class SampleSerializer(serializers.ModelSerializer):
    """A sample; the motor is given by the address."""

    class Meta:
        model = Sample
        fields = ["id", "motor", "mark", "turning", "obtained", "note"]
        read_only_fields = ["id", "motor"]
        validators: list[Any] = []


class ClaimSerializer(serializers.ModelSerializer):
    """A claim with its unit and label."""

    unit = serializers.SerializerMethodField()
    label = serializers.SerializerMethodField()

    class Meta:
        model = Claim
        fields = ["id", "quantity", "label", "value", "unit", "source", "noted_at"]
        read_only_fields = ["id", "noted_at"]
        validators: list[Any] = []

    def get_unit(self, claim: Claim) -> str:
        """The unit of the quantity."""
        return CLAIMS[claim.quantity].unit

    def get_label(self, claim: Claim) -> str:
        """The quantity in words."""
        return CLAIMS[claim.quantity].label


class MotorSerializer(serializers.ModelSerializer):
    """A motor in a list."""

    maker = serializers.CharField(source="maker.name")
    full_name = serializers.CharField(read_only=True)
    samples = SampleSerializer(many=True, read_only=True)
    run_count = serializers.IntegerField(read_only=True)
    observation_count = serializers.IntegerField(read_only=True)
    claim_count = serializers.IntegerField(read_only=True)

    class Meta:
        model = MotorModel
        fields = [
            "id", "maker", "name", "size_code", "size_basis", "kv_label_rpm_per_v", "note",
            "full_name", "samples", "run_count", "observation_count", "claim_count",
        ]  # fmt: skip


class NewMotorSerializer(serializers.Serializer):
    """A motor to take in."""

    maker = serializers.CharField(max_length=60)
    name = serializers.CharField(max_length=60)
    size_code = serializers.CharField(max_length=12)
    size_basis = serializers.ChoiceField(
        ["stator", "outer_can", "case"], required=False, allow_null=True, default=None
    )
    kv_label_rpm_per_v = serializers.FloatField(min_value=10, max_value=99_999)
    note = serializers.CharField(required=False, default="", allow_blank=True, max_length=4000)
    sample_marks = serializers.ListField(
        child=serializers.CharField(max_length=12), required=False, max_length=12
    )
    obtained = serializers.ChoiceField(OBTAINED, required=False, default="unknown")
    turning = serializers.ChoiceField(TURNING, required=False, default="unknown")


class ClaimQuantitySerializer(serializers.Serializer):
    """A quantity that can be claimed."""

    key = serializers.CharField()
    label = serializers.CharField()
    unit = serializers.CharField()
    low = serializers.FloatField()
    high = serializers.FloatField()


class SizeReadingSerializer(serializers.Serializer):
    """A size code as understood; the volume is absent off the stator basis."""

    text = serializers.CharField()
    basis = serializers.CharField()
    diameter_mm = serializers.FloatField()
    height_mm = serializers.FloatField()
    aspect = serializers.FloatField()
    stator_volume_mm3 = serializers.FloatField(allow_null=True)
    absent_reason = serializers.CharField(allow_blank=True)


class RemarkSerializer(serializers.Serializer):
    """Something the claims say about each other."""

    code = serializers.CharField()
    ok = serializers.BooleanField()
    message = serializers.CharField()


class ChangedFieldSerializer(serializers.Serializer):
    """One field of a change."""

    field = serializers.CharField()
    before = serializers.CharField()
    after = serializers.CharField()


class ChangeSerializer(serializers.Serializer):
    """One change to a fact."""

    what = serializers.CharField()
    at = serializers.DateTimeField()
    who = serializers.CharField()
    kind = serializers.CharField()
    changed = ChangedFieldSerializer(many=True)


class MotorFileSerializer(serializers.Serializer):
    """Everything on file about a motor but its runs and observations."""

    motor = MotorSerializer()
    size = SizeReadingSerializer()
    claims = ClaimSerializer(many=True)
    remarks = RemarkSerializer(many=True)
    open_points = serializers.ListField(child=serializers.CharField())
    changes = ChangeSerializer(many=True)
