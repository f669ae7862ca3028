"""Campaigns and their matrix as JSON."""

from __future__ import annotations

from rest_framework import serializers

from spindle_core.planning.day import Drift
from spindle_server.motor_file.fit import FIT_OUTCOMES
from spindle_server.motors.models import MotorModel, Sample
from spindle_server.plan.models import QUESTIONS, STEP_KINDS, Campaign, Override
from spindle_server.rig.models import Propeller, Supply


class CampaignSerializer(serializers.ModelSerializer):
    """A campaign; what it names by number."""

    begun_by_name = serializers.SerializerMethodField()

    class Meta:
        model = Campaign
        fields = [
            "id",
            "version",
            "title",
            "question",
            "samples",
            "motors",
            "propellers",
            "supplies",
            "common_thrust_gf",
            "goal_pct",
            "runs_wanted",
            "note",
            "closed",
            "begun_by_name",
            "begun_at",
        ]

    def get_begun_by_name(self, campaign: Campaign) -> str:
        """Who began it."""
        return campaign.begun_by.shown_name if campaign.begun_by else ""


class NewCampaignSerializer(serializers.Serializer):
    """A campaign to begin."""

    title = serializers.CharField(max_length=120)
    question = serializers.ChoiceField(QUESTIONS, default="comparison")
    samples = serializers.PrimaryKeyRelatedField(
        queryset=Sample.objects.all(), many=True, allow_empty=False
    )
    motors = serializers.PrimaryKeyRelatedField(
        queryset=MotorModel.objects.all(), many=True, required=False, help_text="Not at hand."
    )
    propellers = serializers.PrimaryKeyRelatedField(
        queryset=Propeller.objects.all(), many=True, allow_empty=False
    )
    supplies = serializers.PrimaryKeyRelatedField(
        queryset=Supply.objects.all(), many=True, allow_empty=False
    )
    common_thrust_gf = serializers.FloatField(default=500.0, min_value=1.0, max_value=50_000.0)
    goal_pct = serializers.FloatField(default=2.0, min_value=0.1, max_value=50.0)
    runs_wanted = serializers.IntegerField(default=1, min_value=0, max_value=20)
    note = serializers.CharField(required=False, default="", allow_blank=True, max_length=4000)


class ChangedCampaignSerializer(NewCampaignSerializer):
    """What of a campaign is changed."""

    closed = serializers.BooleanField(required=False)
    version = serializers.IntegerField(required=False)


class MatrixRowSerializer(serializers.Serializer):
    """A sample; ``words`` say what is known of it. ``away``: it is not at hand, and what is
    nearest; then there is no sample."""

    sample = serializers.IntegerField(allow_null=True)
    away = serializers.CharField(allow_blank=True)
    motor = serializers.IntegerField()
    name = serializers.CharField()
    mark = serializers.CharField()
    basis = serializers.CharField(allow_blank=True)
    words = serializers.CharField()


class MatrixColumnSerializer(serializers.Serializer):
    """A propeller; ``words`` say what is known of it, ``away`` that it is not at hand."""

    away = serializers.CharField(allow_blank=True)

    propeller = serializers.IntegerField()
    name = serializers.CharField()
    basis = serializers.CharField(allow_blank=True)
    words = serializers.CharField()


class UsedLimitSerializer(serializers.Serializer):
    """How much of a limit full throttle uses, 1 at the limit."""

    name = serializers.CharField()
    used = serializers.FloatField()
    u = serializers.FloatField(help_text="Of the share, k = 1.")
    may_pass = serializers.BooleanField(help_text="Whether it keeps the limit is not told.")


class MatrixCellSerializer(serializers.Serializer):
    """A motor on a propeller at full throttle, as it is predicted; null where it cannot be."""

    thrust_gf = serializers.FloatField(allow_null=True)
    thrust_u_gf = serializers.FloatField(allow_null=True)
    current_a = serializers.FloatField(allow_null=True)
    current_u_a = serializers.FloatField(allow_null=True)
    power_w = serializers.FloatField(allow_null=True)
    power_u_w = serializers.FloatField(allow_null=True)
    speed_rpm = serializers.FloatField(allow_null=True)
    speed_u_rpm = serializers.FloatField(allow_null=True)
    efficiency_g_per_w = serializers.FloatField(allow_null=True)
    efficiency_u_g_per_w = serializers.FloatField(allow_null=True)
    common_g_per_w = serializers.FloatField(allow_null=True)
    common_u_g_per_w = serializers.FloatField(allow_null=True)
    common_duty_pct = serializers.FloatField(allow_null=True)
    winding_rise_k = serializers.FloatField(allow_null=True)
    winding_rise_u_k = serializers.FloatField(allow_null=True)
    tip_mach = serializers.FloatField(allow_null=True)
    tip_u_mach = serializers.FloatField(allow_null=True)
    limits = UsedLimitSerializer(many=True)
    tightest = serializers.CharField(allow_blank=True)
    used = serializers.FloatField(allow_null=True)
    most_duty_pct = serializers.FloatField(allow_null=True)
    unknown_pct = serializers.FloatField(allow_null=True)
    worth = serializers.BooleanField()
    runs = serializers.IntegerField()
    why_not = serializers.CharField(allow_blank=True)
    sits = serializers.ChoiceField(FIT_OUTCOMES)
    sits_words = serializers.CharField(allow_blank=True)
    barred = serializers.BooleanField(help_text="It cannot be mounted, and never ran.")
    away = serializers.CharField(allow_blank=True, help_text="What of it is not at hand.")


class NextRunSerializer(serializers.Serializer):
    """The run to make next, and why."""

    sample = serializers.IntegerField()
    propeller = serializers.IntegerField()
    minutes = serializers.FloatField()
    takes_off_pct = serializers.FloatField(allow_null=True, help_text="Null of a limit's step.")
    sentence = serializers.CharField()


class BracketEndSerializer(serializers.Serializer):
    """A propeller at the limit; ``used`` of the tightest limit, 1 at it, as foreseen."""

    propeller = serializers.IntegerField()
    name = serializers.CharField()
    used = serializers.FloatField(allow_null=True)
    used_u = serializers.FloatField(allow_null=True)
    tried = serializers.BooleanField(help_text="It ran to full throttle, or was cut by a limit.")


class BracketSerializer(serializers.Serializer):
    """How far a sample may be loaded: the heaviest below its limits, the lightest above."""

    sample = serializers.IntegerField()
    name = serializers.CharField()
    below = BracketEndSerializer(allow_null=True)
    above = BracketEndSerializer(allow_null=True)
    next = BracketEndSerializer(allow_null=True)
    tried = serializers.BooleanField()
    words = serializers.CharField()


class MatrixSerializer(serializers.Serializer):
    """A campaign on one of its supplies; ``cells`` by row and column."""

    supply = serializers.IntegerField()
    supply_name = serializers.CharField()
    rows = MatrixRowSerializer(many=True)
    columns = MatrixColumnSerializer(many=True)
    cells = serializers.ListField(child=MatrixCellSerializer(many=True))
    brackets = BracketSerializer(many=True, help_text="Of a campaign that asks for a limit.")
    next = NextRunSerializer(allow_null=True)
    nothing_next = serializers.CharField(allow_blank=True)


class AskedSheetSerializer(serializers.Serializer):
    """Which run sheet: one of the campaign's supplies, and how drift is caught."""

    supply = serializers.IntegerField(required=False, default=None, allow_null=True)
    drift = serializers.ChoiceField([str(one) for one in Drift], default=str(Drift.REFERENCE))


class SheetStepSerializer(serializers.Serializer):
    """A step of a day; expected figures only of runs, at full throttle."""

    kind = serializers.ChoiceField(STEP_KINDS)
    sample = serializers.IntegerField()
    propeller = serializers.IntegerField()
    motor_name = serializers.CharField()
    propeller_name = serializers.CharField()
    words = serializers.CharField()
    reference = serializers.BooleanField()
    starts_min = serializers.FloatField()
    minutes = serializers.FloatField()
    thrust_gf = serializers.FloatField(allow_null=True)
    thrust_u_gf = serializers.FloatField(
        allow_null=True, help_text="Null of a sheet that was taken before it was said."
    )
    current_a = serializers.FloatField(allow_null=True)
    current_u_a = serializers.FloatField(allow_null=True)


class RunSheetSerializer(serializers.Serializer):
    """What is still to run on one supply, in the order of a day."""

    campaign = serializers.CharField()
    supply = serializers.IntegerField()
    supply_name = serializers.CharField()
    drift = serializers.ChoiceField([str(one) for one in Drift])
    steps = SheetStepSerializer(many=True)
    minutes = serializers.FloatField()
    runs = serializers.IntegerField()
    motor_swaps = serializers.IntegerField()
    propeller_swaps = serializers.IntegerField()
    cooling_minutes = serializers.FloatField()
    propellers = serializers.ListField(child=serializers.CharField())
    packs = serializers.IntegerField(allow_null=True)
    left_out = serializers.ListField(child=serializers.CharField())
    reference = serializers.CharField(allow_blank=True)


class NextOfCampaignSerializer(serializers.Serializer):
    """The next run of an open campaign, or why there is none."""

    campaign = serializers.IntegerField()
    title = serializers.CharField()
    supply = serializers.IntegerField()
    supply_name = serializers.CharField()
    next = NextRunSerializer(allow_null=True)
    nothing_next = serializers.CharField(allow_blank=True)
    waits = serializers.ListField(child=serializers.CharField())


class NextOnTheBenchSerializer(serializers.Serializer):
    """What to run next; ``found`` null where no campaign is open."""

    found = NextOfCampaignSerializer(allow_null=True)


class MeanwhileSerializer(serializers.Serializer):
    """Why a supply has to wait; and what can be run meanwhile on another of the campaign."""

    waits = serializers.CharField(allow_blank=True)
    supply = serializers.IntegerField(allow_null=True)
    supply_name = serializers.CharField(allow_blank=True)
    next = NextRunSerializer(allow_null=True)


class OverrideSerializer(serializers.ModelSerializer):
    """What was decided against a proposal."""

    decided_by_name = serializers.CharField(source="decided_by.shown_name", default="")
    sample_name = serializers.SerializerMethodField()
    propeller_name = serializers.CharField(source="propeller.full_name")
    supply_name = serializers.CharField(source="supply.name")
    chosen_name = serializers.SerializerMethodField()

    class Meta:
        model = Override
        fields = [
            "id",
            "version",
            "supply",
            "supply_name",
            "sample",
            "sample_name",
            "propeller",
            "propeller_name",
            "chosen_name",
            "reason",
            "active",
            "decided_by_name",
            "decided_at",
        ]

    def get_sample_name(self, row: Override) -> str:
        """Motor and mark."""
        return f"{row.sample.motor.full_name} {row.sample.mark}"

    def get_chosen_name(self, row: Override) -> str:
        """What was run in its place; empty where nothing was."""
        if row.chosen_sample is None or row.chosen_propeller is None:
            return ""
        motor = row.chosen_sample.motor.full_name
        return f"{motor} {row.chosen_sample.mark} on {row.chosen_propeller.full_name}"


class NewOverrideSerializer(serializers.Serializer):
    """A proposed run to pass over, and why; what is run in its place, where that is known."""

    supply = serializers.PrimaryKeyRelatedField(queryset=Supply.objects.all())
    sample = serializers.PrimaryKeyRelatedField(queryset=Sample.objects.all())
    propeller = serializers.PrimaryKeyRelatedField(queryset=Propeller.objects.all())
    chosen_sample = serializers.PrimaryKeyRelatedField(
        queryset=Sample.objects.all(), required=False, allow_null=True, default=None
    )
    chosen_propeller = serializers.PrimaryKeyRelatedField(
        queryset=Propeller.objects.all(), required=False, allow_null=True, default=None
    )
    reason = serializers.CharField(max_length=240)


class ChangedOverrideSerializer(serializers.Serializer):
    """Whether the run stays passed over."""

    active = serializers.BooleanField()
    version = serializers.IntegerField(required=False)


class TakeSheetSerializer(serializers.Serializer):
    """Which run sheet is taken to the bench."""

    supply = serializers.IntegerField(required=False, default=None, allow_null=True)
    drift = serializers.ChoiceField([str(one) for one in Drift], default=str(Drift.REFERENCE))


class DayStepSerializer(SheetStepSerializer):
    """A step of a sheet that was taken to the bench."""

    done = serializers.BooleanField()


class DaySheetSerializer(serializers.Serializer):
    """A run sheet at the bench; ``next``: the place of the first step that is not done."""

    id = serializers.IntegerField()
    version = serializers.IntegerField()
    campaign = serializers.IntegerField()
    title = serializers.CharField()
    supply = serializers.IntegerField()
    supply_name = serializers.CharField()
    taken_at = serializers.DateTimeField()
    taken_by = serializers.CharField(allow_blank=True)
    put_away = serializers.BooleanField()
    reference = serializers.CharField(allow_blank=True)
    steps = DayStepSerializer(many=True)
    next = serializers.IntegerField(allow_null=True)


class SheetAtBenchSerializer(serializers.Serializer):
    """The sheet in use; ``found`` null where none is."""

    found = DaySheetSerializer(allow_null=True)


class TickedStepSerializer(serializers.Serializer):
    """A step that is done, or is not after all."""

    step = serializers.IntegerField(min_value=0, max_value=5000)
    done = serializers.BooleanField()


class PutAwaySerializer(serializers.Serializer):
    """The sheet is done with."""

    version = serializers.IntegerField()
