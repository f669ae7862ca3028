"""The bench as JSON."""

from __future__ import annotations

from rest_framework import serializers

from spindle_bench.plan import CHECKLIST
from spindle_server.intake.models import Sample
from spindle_server.rig.models import Propeller, Stand, Supply


class ProfileSerializer(serializers.Serializer):
    """A steps profile."""

    levels_pct = serializers.ListField(child=serializers.FloatField(), min_length=1, max_length=40)
    dwell_s = serializers.FloatField(required=False, default=3.0)
    ramp_pct_per_s = serializers.FloatField(required=False, default=40.0)
    rest_s = serializers.FloatField(required=False, default=3.0)


class LimitsSerializer(serializers.Serializer):
    """Kill limits; null switches one off."""

    current_a = serializers.FloatField()
    motor_temp_c = serializers.FloatField(allow_null=True, required=False, default=90.0)
    voltage_floor_v = serializers.FloatField(allow_null=True, required=False, default=None)
    thrust_gf = serializers.FloatField(allow_null=True, required=False, default=4000.0)
    vibration_g = serializers.FloatField(allow_null=True, required=False, default=None)


class ArmSerializer(serializers.Serializer):
    """What to run, and the confirmed checklist."""

    run_id = serializers.UUIDField(required=False)
    sample = serializers.PrimaryKeyRelatedField(
        queryset=Sample.objects.select_related("motor__maker")
    )
    propeller = serializers.PrimaryKeyRelatedField(
        queryset=Propeller.objects.select_related("maker")
    )
    supply = serializers.PrimaryKeyRelatedField(queryset=Supply.objects.all())
    stand = serializers.PrimaryKeyRelatedField(queryset=Stand.objects.filter(live=True))
    profile = ProfileSerializer()
    limits = LimitsSerializer()
    rate_hz = serializers.FloatField(required=False, default=200.0, min_value=10, max_value=1000)
    air_temp_c = serializers.FloatField(required=False, allow_null=True, default=None)
    air_pressure_hpa = serializers.FloatField(required=False, allow_null=True, default=None)
    air_humidity_pct = serializers.FloatField(required=False, allow_null=True, default=None)
    purpose = serializers.CharField(required=False, default="", allow_blank=True, max_length=120)
    checklist = serializers.ListField(child=serializers.ChoiceField(CHECKLIST))


class ProgressSerializer(serializers.Serializer):
    """Where the profile is."""

    elapsed_s = serializers.FloatField(allow_null=True)
    total_s = serializers.FloatField(allow_null=True)
    label = serializers.CharField(allow_blank=True)


class BenchEndSerializer(serializers.Serializer):
    """How the last run ended."""

    outcome = serializers.CharField()
    code = serializers.CharField()
    reason = serializers.CharField()


class FrameSerializer(serializers.Serializer):
    """The bench at one moment; the event stream sends the same."""

    number = serializers.IntegerField()
    state = serializers.ChoiceField(["idle", "armed", "running", "aborting", "safe", "faulted"])
    message = serializers.CharField(allow_blank=True)
    link = serializers.BooleanField()
    simulated = serializers.BooleanField()
    time_s = serializers.FloatField(allow_null=True)
    values = serializers.DictField(child=serializers.FloatField())
    progress = ProgressSerializer()
    run_id = serializers.CharField(allow_null=True)
    title = serializers.CharField(allow_blank=True)
    limits = serializers.DictField(child=serializers.FloatField(allow_null=True), allow_null=True)
    end = BenchEndSerializer(allow_null=True)
    ready_in_s = serializers.FloatField(allow_null=True)
    waiting_runs = serializers.IntegerField()
    delivery_problem = serializers.CharField(allow_blank=True)
