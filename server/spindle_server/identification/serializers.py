"""Fits and predictions as JSON."""

from __future__ import annotations

from rest_framework import serializers

from spindle_core.planning.hindsight import Verdict
from spindle_core.reduction.kinds import KINDS
from spindle_server.motors.models import Sample
from spindle_server.rig.models import Esc, Propeller, Supply
from spindle_server.runs.stated import NamedFigureSerializer, StatedFigureSerializer


class FitRemarkSerializer(serializers.Serializer):
    """Something a fit noticed."""

    code = serializers.CharField()
    message = serializers.CharField()


class IdentifiedSampleSerializer(serializers.Serializer):
    """One sample's constants; without figures ``why_not`` says why."""

    sample = serializers.IntegerField()
    mark = serializers.CharField()
    figures = NamedFigureSerializer(many=True)
    resistance_at_c = serializers.FloatField(allow_null=True)
    no_load_speed_rpm = serializers.FloatField(allow_null=True)
    heat = NamedFigureSerializer(many=True)
    soaks = serializers.ListField(child=serializers.IntegerField())
    runs = serializers.ListField(child=serializers.IntegerField())
    why_not = serializers.CharField(allow_blank=True)
    stale = serializers.BooleanField()
    remarks = FitRemarkSerializer(many=True)


class GuessSerializer(serializers.Serializer):
    """What was to be expected before any run."""

    words = serializers.CharField()
    figures = NamedFigureSerializer(many=True)


class TorqueCurveSerializer(serializers.Serializer):
    """Torque over speed of one flywheel run."""

    run = serializers.IntegerField()
    mark = serializers.CharField()
    speed_rpm = serializers.ListField(child=serializers.FloatField())
    torque_nm = serializers.ListField(child=serializers.FloatField())
    u_nm = serializers.ListField(child=serializers.FloatField())


class IdentifiedMotorSerializer(serializers.Serializer):
    """The motor as its accepted runs tell it: per sample, as a model, and as it was guessed."""

    samples = IdentifiedSampleSerializer(many=True)
    model = NamedFigureSerializer(many=True)
    prior = GuessSerializer()
    mix_up = serializers.ListField(child=serializers.CharField())
    torque_curve = TorqueCurveSerializer(allow_null=True)


class IdentifiedPropellerSerializer(serializers.Serializer):
    """A propeller's coefficients; without figures ``why_not`` says why."""

    figures = NamedFigureSerializer(many=True)
    prior = NamedFigureSerializer(many=True)
    rpm_reference = serializers.FloatField(allow_null=True)
    runs = serializers.ListField(child=serializers.IntegerField())
    why_not = serializers.CharField(allow_blank=True)
    stale = serializers.BooleanField()
    remarks = FitRemarkSerializer(many=True)


class CoefficientsSerializer(serializers.Serializer):
    """A propeller's coefficients in a list."""

    propeller = serializers.IntegerField()
    ct = StatedFigureSerializer()
    cp = StatedFigureSerializer()
    merit = StatedFigureSerializer(help_text="Ideal power ÷ shaft power at a stand.")
    load_1e6_m5 = StatedFigureSerializer(help_text="CP·D⁵ in millionths of m⁵.")
    runs = serializers.IntegerField()


class ExpectedFigureSerializer(serializers.Serializer):
    """One figure before and after its run; ``z``: the miss in units of its u."""

    name = serializers.CharField()
    predicted = StatedFigureSerializer()
    measured = StatedFigureSerializer()
    off_pct = serializers.FloatField(allow_null=True)
    z = serializers.FloatField(allow_null=True)


class RunExpectedSerializer(serializers.Serializer):
    """What was expected of a run against what it gave; empty where nothing was expected."""

    rests_on = serializers.CharField(allow_blank=True)
    figures = ExpectedFigureSerializer(many=True)


class AskedRunSerializer(serializers.Serializer):
    """A run that may be made."""

    kind = serializers.ChoiceField(sorted(KINDS), default="steps")
    sample = serializers.PrimaryKeyRelatedField(
        queryset=Sample.objects.select_related("motor__maker")
    )
    propeller = serializers.PrimaryKeyRelatedField(
        queryset=Propeller.objects.select_related("maker"), required=False, default=None
    )
    supply = serializers.PrimaryKeyRelatedField(queryset=Supply.objects.all())
    esc = serializers.PrimaryKeyRelatedField(
        queryset=Esc.objects.all(), required=False, default=None
    )
    highest_pct = serializers.FloatField(default=100.0, min_value=0.1, max_value=100.0)


class RunExpectationSerializer(serializers.Serializer):
    """What a run will draw and give."""

    figures = NamedFigureSerializer(many=True)
    rests_on = serializers.CharField(allow_blank=True)


class MissSerializer(serializers.Serializer):
    """One prediction and what came of it."""

    run = serializers.IntegerField()
    motor = serializers.CharField()
    propeller = serializers.CharField()
    predicted = serializers.FloatField()
    u = serializers.FloatField()
    measured = serializers.FloatField()
    off_pct = serializers.FloatField()
    z = serializers.FloatField(allow_null=True)


class HonestySerializer(serializers.Serializer):
    """How well the stated u of one figure held."""

    name = serializers.CharField()
    count = serializers.IntegerField()
    scale = serializers.FloatField(allow_null=True)
    low = serializers.FloatField(allow_null=True)
    high = serializers.FloatField(allow_null=True)
    within_1u = serializers.FloatField(allow_null=True)
    within_2u = serializers.FloatField(allow_null=True)
    bias_pct = serializers.FloatField(allow_null=True)
    verdict = serializers.ChoiceField([str(item) for item in Verdict])
    misses = MissSerializer(many=True)


class HindsightSerializer(serializers.Serializer):
    """Were the predictions right?"""

    figures = HonestySerializer(many=True)
