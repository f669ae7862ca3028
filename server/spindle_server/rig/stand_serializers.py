"""Stands, their geometry, instruments, calibrations and checks as JSON."""

from __future__ import annotations

from typing import Any

from django.utils import timezone
from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from spindle_core.figures.instruments import assumed_accuracy
from spindle_core.run.calibration import Calibration as Fit
from spindle_server.rig import stands
from spindle_server.rig.models import (
    STAND_KINDS,
    Calibration,
    DeadWeight,
    Instrument,
    MassCheck,
    Stand,
    StandState,
)

MOST_G = 100_000


class MassCheckSerializer(serializers.ModelSerializer):
    """A check mass, and whether the stand has moved beyond its u. Forces in gf."""

    checked_at = serializers.DateTimeField(required=False)
    mass_g = serializers.FloatField(min_value=0.1, max_value=MOST_G)
    reading_g = serializers.FloatField(min_value=-MOST_G, max_value=MOST_G)
    step_g = serializers.FloatField(min_value=0.001, max_value=1000)
    thrust_gf = serializers.SerializerMethodField()
    difference_gf = serializers.SerializerMethodField()
    u_gf = serializers.SerializerMethodField()
    moved = serializers.SerializerMethodField()
    sentence = serializers.SerializerMethodField()

    class Meta:
        model = MassCheck
        fields = [
            "id",
            "checked_at",
            "mass_g",
            "reading_g",
            "step_g",
            "thrust_gf",
            "difference_gf",
            "u_gf",
            "moved",
            "sentence",
            "note",
            "struck_reason",
            "version",
        ]
        read_only_fields = ["id", "struck_reason", "version"]

    def get_thrust_gf(self, row: MassCheck) -> float:
        """What the reading means."""
        return stands.checked(row).thrust_gf

    def get_difference_gf(self, row: MassCheck) -> float:
        """Shown less true."""
        return stands.checked(row).difference_gf

    def get_u_gf(self, row: MassCheck) -> float:
        """Standard uncertainty of the difference."""
        return stands.checked(row).u_gf

    def get_moved(self, row: MassCheck) -> bool:
        """Whether it is more than the uncertainty explains."""
        return stands.checked(row).moved

    def get_sentence(self, row: MassCheck) -> str:
        """The same in words."""
        return stands.checked(row).sentence


class StandSerializer(serializers.ModelSerializer):
    """A stand with what is known of it today; ``thrust_u_rel`` null: nobody knows, and
    ``assumed_words`` says what is assumed."""

    thrust_u_rel = serializers.SerializerMethodField()
    assumed_words = serializers.SerializerMethodField()
    last_check = serializers.SerializerMethodField()
    calibrated_on = serializers.SerializerMethodField()
    remind_on = serializers.SerializerMethodField()

    class Meta:
        model = Stand
        fields = [
            "id",
            "name",
            "kind",
            "repeatability_rel",
            "calibration_rel",
            "thrust_u_rel",
            "assumed_words",
            "calibrated_on",
            "remind_on",
            "last_check",
            "live",
            "note",
            "retired",
            "version",
        ]

    def get_thrust_u_rel(self, stand: Stand) -> float | None:
        """Relative standard u of its thrust today."""
        return stands.thrust_u_on(stand, timezone.localdate())

    def get_assumed_words(self, stand: Stand) -> str:
        """What is assumed of its thrust where nobody declared it."""
        if stands.thrust_u_on(stand, timezone.localdate()) is not None:
            return ""
        kind = {i.channel: i.kind for i in stand.instruments.all()}.get("thrust_gf")
        assumed = assumed_accuracy("thrust_gf", kind)
        return assumed.words if assumed else ""

    @extend_schema_field(serializers.DateField(allow_null=True))
    def get_calibrated_on(self, stand: Stand) -> Any:
        """The day of the calibration that counts today."""
        row = stands.calibration_on(stand, timezone.localdate())
        return row.valid_from if row else None

    @extend_schema_field(serializers.DateField(allow_null=True))
    def get_remind_on(self, stand: Stand) -> Any:
        """When it should be calibrated anew."""
        row = stands.calibration_on(stand, timezone.localdate())
        return row.remind_on if row else None

    @extend_schema_field(MassCheckSerializer(allow_null=True))
    def get_last_check(self, stand: Stand) -> dict[str, Any] | None:
        """The last check mass that was not struck out."""
        rows = [row for row in stand.checks.all() if not row.struck_reason]
        return MassCheckSerializer(rows[-1]).data if rows else None


class NewStandSerializer(serializers.Serializer):
    """A stand; both uncertainties are relative standard uncertainties, null: unknown."""

    name = serializers.CharField(max_length=60)
    kind = serializers.ChoiceField(STAND_KINDS)
    repeatability_rel = serializers.FloatField(
        min_value=0.0001, max_value=0.49, required=False, allow_null=True, default=None
    )
    calibration_rel = serializers.FloatField(
        min_value=0, max_value=0.49, required=False, allow_null=True, default=None
    )
    live = serializers.BooleanField(required=False, default=False)
    note = serializers.CharField(required=False, default="", allow_blank=True, max_length=400)


class ChangedStandSerializer(NewStandSerializer):
    """What is changed of a stand."""

    retired = serializers.BooleanField(required=False)
    version = serializers.IntegerField(required=False)


class DeadWeightSerializer(serializers.ModelSerializer):
    """A dead weight [g]."""

    name = serializers.CharField(max_length=40)
    mass_g = serializers.FloatField(min_value=0, max_value=MOST_G)
    u_g = serializers.FloatField(min_value=0, max_value=1000, required=False, allow_null=True)

    class Meta:
        model = DeadWeight
        fields = ["name", "mass_g", "u_g"]


class StandStateSerializer(serializers.ModelSerializer):
    """The geometry from a day on: arms [mm], step of the scale [g], dead weights."""

    weights = DeadWeightSerializer(many=True)
    motor_arm_mm = serializers.FloatField(
        min_value=1, max_value=5000, required=False, allow_null=True, default=None
    )
    scale_arm_mm = serializers.FloatField(
        min_value=1, max_value=5000, required=False, allow_null=True, default=None
    )
    arm_u_mm = serializers.FloatField(
        min_value=0, max_value=100, required=False, allow_null=True, default=None
    )
    step_g = serializers.FloatField(min_value=0.001, max_value=1000, default=1.0)
    rest_g = serializers.FloatField(min_value=0, max_value=MOST_G, default=0.0)
    ratio = serializers.SerializerMethodField()
    added_g = serializers.SerializerMethodField()
    version = serializers.IntegerField(required=False)

    class Meta:
        model = StandState
        fields = [
            "id",
            "valid_from",
            "motor_arm_mm",
            "scale_arm_mm",
            "arm_u_mm",
            "lifts",
            "rest_g",
            "step_g",
            "weights",
            "ratio",
            "added_g",
            "note",
            "version",
        ]
        read_only_fields = ["id"]
        validators: list[Any] = []

    def get_ratio(self, state: StandState) -> float:
        """Thrust for each gram on the scale [gf/g]."""
        lever = stands.geometry_of(state.stand, state.valid_from).lever
        return 1.0 if lever is None else lever.ratio

    def get_added_g(self, state: StandState) -> float:
        """Sum of the dead weights [g]."""
        return stands.geometry_of(state.stand, state.valid_from).added_g


class InstrumentSerializer(serializers.ModelSerializer):
    """What reads a channel; step and range in the channel's unit."""

    step = serializers.FloatField(min_value=1e-6, max_value=1e6, required=False, allow_null=True)
    range_to = serializers.FloatField(
        min_value=1e-6, max_value=1e7, required=False, allow_null=True
    )
    relative_u = serializers.FloatField(
        min_value=0, max_value=0.49, required=False, allow_null=True
    )
    assumed_words = serializers.SerializerMethodField()
    version = serializers.IntegerField(required=False)

    class Meta:
        model = Instrument
        fields = [
            "id",
            "channel",
            "kind",
            "step",
            "range_to",
            "relative_u",
            "assumed_words",
            "keeps",
            "signal",
            "note",
            "version",
        ]
        read_only_fields = ["id"]
        validators: list[Any] = []

    def get_assumed_words(self, row: Instrument) -> str:
        """What is assumed of it where nobody declared it."""
        if row.relative_u is not None:
            return ""
        assumed = assumed_accuracy(row.channel, row.kind)
        return assumed.words if assumed else ""


class LoadSerializer(serializers.Serializer):
    """A known mass and what the stand showed [g]."""

    mass_g = serializers.FloatField(min_value=0, max_value=MOST_G)
    reading_g = serializers.FloatField(min_value=-MOST_G, max_value=MOST_G)
    going = serializers.ChoiceField(["up", "down"], default="up")


class CalibrationFitSerializer(serializers.Serializer):
    """What a calibration's loads say. Forces in gf."""

    gain = serializers.FloatField()
    u_gain = serializers.FloatField()
    offset_gf = serializers.FloatField()
    u_offset_gf = serializers.FloatField()
    linearity_gf = serializers.FloatField()
    hysteresis_gf = serializers.FloatField(allow_null=True)
    repeatability_gf = serializers.FloatField(allow_null=True)
    largest_g = serializers.FloatField()
    relative_u = serializers.FloatField()
    residuals_gf = serializers.ListField(child=serializers.FloatField())
    remarks = serializers.SerializerMethodField()

    @extend_schema_field(serializers.ListField(child=serializers.CharField()))
    def get_remarks(self, fit: Fit) -> list[str]:
        """What should be known before it is used."""
        return [remark.message for remark in fit.remarks]


class CalibrationSerializer(serializers.ModelSerializer):
    """A calibration as it was read, and what the core makes of it."""

    loads = serializers.ListField(child=LoadSerializer(), min_length=2, max_length=200)
    step_g = serializers.FloatField(min_value=0.001, max_value=1000)
    masses_relative_u = serializers.FloatField(
        min_value=0, max_value=0.49, required=False, allow_null=True
    )
    fit = serializers.SerializerMethodField()

    class Meta:
        model = Calibration
        fields = [
            "id",
            "valid_from",
            "remind_on",
            "loads",
            "step_g",
            "masses_relative_u",
            "relative_u",
            "fit",
            "note",
            "struck_reason",
            "version",
        ]
        read_only_fields = ["id", "relative_u", "struck_reason", "version"]

    @extend_schema_field(CalibrationFitSerializer)
    def get_fit(self, row: Calibration) -> dict[str, Any]:
        """The line through its loads."""
        fit = stands.fitted(
            row.stand,
            row.valid_from,
            row.loads,
            step_g=row.step_g,
            masses_relative_u=row.masses_relative_u,
        )
        return dict(CalibrationFitSerializer(fit).data)


class TriedCalibrationSerializer(serializers.Serializer):
    """Loads to look at before they are kept."""

    valid_from = serializers.DateField(required=False)
    loads = serializers.ListField(child=LoadSerializer(), max_length=200)
    step_g = serializers.FloatField(min_value=0.001, max_value=1000)
    masses_relative_u = serializers.FloatField(
        min_value=0, max_value=0.49, required=False, allow_null=True, default=None
    )


class StruckOutSerializer(serializers.Serializer):
    """Why a record is a mistake; empty lets it stand again."""

    struck_reason = serializers.CharField(max_length=200, allow_blank=True)
    version = serializers.IntegerField(required=False)


class StandSheetSerializer(StandSerializer):
    """Everything of one stand."""

    states = StandStateSerializer(many=True)
    instruments = InstrumentSerializer(many=True)
    calibrations = CalibrationSerializer(many=True)
    checks = MassCheckSerializer(many=True)

    class Meta(StandSerializer.Meta):
        fields = [*StandSerializer.Meta.fields, "states", "instruments", "calibrations", "checks"]
