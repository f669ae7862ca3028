"""Motors, parcels, samples and claims as JSON."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from spindle_core.intake.claim_quantities import CLAIMS
from spindle_server.motors.models import (
    BASES,
    EXPECTED_OF,
    MOTOR_KINDS,
    OBTAINED,
    TURNING,
    Claim,
    ClaimedLoad,
    MotorModel,
    Parcel,
    PartInBox,
    Sample,
)

OF_THE_BOX = ("thread_mm", "length_mm", "inner_mm", "outer_mm", "height_mm")


class SampleSerializer(serializers.ModelSerializer):
    """A sample; the motor is given by the address. ``version`` is the one a change is made from."""

    version = serializers.IntegerField(required=False)

    class Meta:
        model = Sample
        fields = ["id", "motor", "parcel", "mark", "turning", "note", "version"]
        read_only_fields = ["id", "motor"]
        validators: list[Any] = []


class ClaimSerializer(serializers.ModelSerializer):
    """A claim with its unit and label; a number, or words where the quantity is words."""

    unit = serializers.SerializerMethodField()
    label = serializers.SerializerMethodField()
    version = serializers.IntegerField(required=False)

    class Meta:
        model = Claim
        fields = [
            "id",
            "quantity",
            "label",
            "value",
            "words",
            "unit",
            "source",
            "stated_on",
            "noted_at",
            "version",
        ]
        read_only_fields = ["id", "noted_at"]
        validators: list[Any] = []

    def get_unit(self, claim: Claim) -> str:
        """The unit of the quantity."""
        return CLAIMS[claim.quantity].unit

    def get_label(self, claim: Claim) -> str:
        """The quantity in words."""
        return CLAIMS[claim.quantity].label


class ClaimedLoadSerializer(serializers.ModelSerializer):
    """A row of a maker's table: what he states on one propeller and so many cells."""

    cells = serializers.IntegerField()
    thrust_gf = serializers.FloatField(required=False, allow_null=True)
    current_a = serializers.FloatField(required=False, allow_null=True)
    power_w = serializers.FloatField(required=False, allow_null=True)
    version = serializers.IntegerField(required=False)

    class Meta:
        model = ClaimedLoad
        fields = [
            "id",
            "source",
            "cells",
            "propeller",
            "thrust_gf",
            "current_a",
            "power_w",
            "stated_on",
            "version",
        ]
        read_only_fields = ["id"]
        validators: list[Any] = []


class MotorSerializer(serializers.ModelSerializer):
    """A motor in a list."""

    maker = serializers.CharField(source="maker.name", read_only=True)
    full_name = serializers.CharField(read_only=True)
    samples = SampleSerializer(many=True, read_only=True)
    run_count = serializers.IntegerField(read_only=True)
    observation_count = serializers.IntegerField(read_only=True)
    claim_count = serializers.IntegerField(read_only=True)

    class Meta:
        model = MotorModel
        fields = [
            "id",
            "maker",
            "name",
            "kind",
            "size_code",
            "size_basis",
            "kv_label_rpm_per_v",
            "note",
            "verdict",
            "version",
            "full_name",
            "samples",
            "run_count",
            "observation_count",
            "claim_count",
        ]


class ParcelFieldsSerializer(serializers.ModelSerializer):
    """How a motor was obtained and what it cost."""

    price_amount = serializers.FloatField(
        min_value=0, max_value=100_000, required=False, allow_null=True
    )
    shipping_amount = serializers.FloatField(
        min_value=0, max_value=10_000, required=False, allow_null=True
    )
    set_size = serializers.IntegerField(min_value=2, max_value=200, required=False, allow_null=True)
    price_currency = serializers.RegexField(
        r"^([A-Z]{3})?$",
        required=False,
        allow_blank=True,
        error_messages={"invalid": "A currency has three capital letters, EUR for instance."},
    )
    version = serializers.IntegerField(required=False)

    class Meta:
        model = Parcel
        fields = [
            "id",
            "obtained",
            "obtained_from",
            "arrived_on",
            "price_amount",
            "price_currency",
            "price_per",
            "set_size",
            "shipping",
            "shipping_amount",
            "price_status",
            "priced_on",
            "availability",
            "note",
            "version",
        ]
        read_only_fields = ["id"]
        validators: list[Any] = []


class PartSerializer(serializers.ModelSerializer):
    """Equal parts of a box; sizes in mm."""

    count = serializers.IntegerField(min_value=1, max_value=200)
    thread_mm = serializers.FloatField(min_value=0.8, max_value=12, required=False, allow_null=True)
    length_mm = serializers.FloatField(min_value=1, max_value=60, required=False, allow_null=True)
    inner_mm = serializers.FloatField(min_value=0.5, max_value=40, required=False, allow_null=True)
    outer_mm = serializers.FloatField(min_value=1, max_value=60, required=False, allow_null=True)
    height_mm = serializers.FloatField(min_value=0.1, max_value=30, required=False, allow_null=True)
    version = serializers.IntegerField(required=False)

    class Meta:
        model = PartInBox
        fields = ["id", "kind", "count", *OF_THE_BOX, "note", "version"]
        read_only_fields = ["id"]


class ParcelWithPartsSerializer(ParcelFieldsSerializer):
    """A parcel and its parts."""

    parts = PartSerializer(many=True, read_only=True)

    class Meta(ParcelFieldsSerializer.Meta):
        fields = [*ParcelFieldsSerializer.Meta.fields, "parts"]


class NewMotorSerializer(ParcelFieldsSerializer):
    """A motor to take in, with its first parcel."""

    maker = serializers.CharField(max_length=60)
    name = serializers.CharField(max_length=60)
    kind = serializers.ChoiceField(MOTOR_KINDS, required=False, default="outrunner")
    size_code = serializers.CharField(max_length=12, required=False, default="", allow_blank=True)
    size_basis = serializers.ChoiceField(BASES, required=False, allow_null=True, default=None)
    kv_label_rpm_per_v = serializers.FloatField(
        min_value=10, max_value=99_999, required=False, allow_null=True, default=None
    )
    note = serializers.CharField(required=False, default="", allow_blank=True, max_length=4000)
    sample_marks = serializers.ListField(
        child=serializers.CharField(max_length=12), required=False, max_length=12
    )
    turning = serializers.ChoiceField(TURNING, required=False, default="unknown")
    obtained = serializers.ChoiceField(OBTAINED, required=False, default="unknown")

    class Meta(ParcelFieldsSerializer.Meta):
        fields = [
            *(
                name
                for name in ParcelFieldsSerializer.Meta.fields
                if name not in ("id", "version", "note")
            ),
            "maker",
            "name",
            "kind",
            "size_code",
            "size_basis",
            "kv_label_rpm_per_v",
            "note",
            "sample_marks",
            "turning",
        ]


class MotorChangeSerializer(serializers.Serializer):
    """What of a motor can be changed; ``version`` is the one the change is made from."""

    version = serializers.IntegerField()
    name = serializers.CharField(max_length=60, required=False)
    kind = serializers.ChoiceField(MOTOR_KINDS, required=False)
    size_code = serializers.CharField(max_length=12, required=False, allow_blank=True)
    size_basis = serializers.ChoiceField(BASES, required=False, allow_blank=True)
    kv_label_rpm_per_v = serializers.FloatField(
        min_value=10, max_value=99_999, required=False, allow_null=True
    )
    note = serializers.CharField(required=False, allow_blank=True, max_length=4000)
    verdict = serializers.CharField(required=False, allow_blank=True, max_length=240)


class TypedClaimSerializer(serializers.Serializer):
    """A claim as it is being typed."""

    quantity = serializers.ChoiceField([(key, item.label) for key, item in CLAIMS.items()])
    value = serializers.FloatField(required=False, allow_null=True, default=None)
    words = serializers.CharField(required=False, allow_blank=True, default="", max_length=80)
    source = serializers.CharField(required=False, allow_blank=True, default="", max_length=120)


class ClaimCheckSerializer(serializers.Serializer):
    """Claims to look at without storing them."""

    claims = TypedClaimSerializer(many=True)


class ExpectationSerializer(serializers.Serializer):
    """What is expected: a number of something, words, or both."""

    quantity = serializers.ChoiceField(EXPECTED_OF, required=False, allow_blank=True, default="")
    value = serializers.FloatField(
        min_value=1e-6, max_value=200_000, required=False, allow_null=True, default=None
    )
    text = serializers.CharField(required=False, allow_blank=True, default="", max_length=2000)


class ClaimQuantitySerializer(serializers.Serializer):
    """A quantity that can be claimed."""

    key = serializers.CharField()
    label = serializers.CharField()
    unit = serializers.CharField(allow_blank=True)
    low = serializers.FloatField()
    high = serializers.FloatField()
    words = serializers.BooleanField()
    expected = serializers.BooleanField()


class SizeReadingSerializer(serializers.Serializer):
    """A size code as understood; the volume is absent off the stator basis."""

    text = serializers.CharField()
    basis = serializers.CharField()
    diameter_mm = serializers.FloatField()
    height_mm = serializers.FloatField()
    aspect = serializers.FloatField()
    stator_volume_mm3 = serializers.FloatField(allow_null=True)
    absent_reason = serializers.CharField(allow_blank=True)
    doubt = serializers.CharField(allow_blank=True)
