"""The bench as JSON."""

from __future__ import annotations

import math
from typing import Any

from rest_framework import serializers

from spindle_bench.limits import KINDS
from spindle_bench.live import SHAPES
from spindle_bench.plan import (
    CHOSEN_CHECKLIST,
    KIND_CHECKLIST,
    LONGEST_PAGE_GRACE_S,
    PAGE_GRACE_S,
    checklist_of,
)
from spindle_bench.profiles import PLAYS
from spindle_bench.profiles.values import MOST_LISTED
from spindle_bench.states import State
from spindle_core.planning.repeats import USUAL, Advice
from spindle_core.reduction.kinds import KINDS as KINDS_OF_RUN
from spindle_core.reduction.kinds import Parameter
from spindle_core.run.by_hand import Phase
from spindle_server.bench.models import SavedProfile, SavedSequence
from spindle_server.bench.repeats import MOST_REPEATS
from spindle_server.motors.models import Sample
from spindle_server.rig.models import COMMAND_SOURCES, Esc, Propeller, Stand, Supply
from spindle_server.runs.limit_states import LimitStateSerializer
from spindle_server.runs.stated import StatedFigureSerializer

HANDS = [key for key, _ in COMMAND_SOURCES if key not in ("stand", "script", "unknown")]
CAN_BE_OFF = [name for name, kind in KINDS.items() if kind.can_be_off]
CHECKLIST_ITEMS = [
    *checklist_of(CAN_BE_OFF, LONGEST_PAGE_GRACE_S),
    *CHOSEN_CHECKLIST,
    *(item for own in KIND_CHECKLIST.values() for item in own),
]


class Strict(serializers.Serializer):
    """Refuses a field it does not know, rather than dropping in silence what was meant."""

    def to_internal_value(self, data: Any) -> Any:
        """Read; name what is not known."""
        if isinstance(data, dict):
            unknown = sorted(set(data) - set(self.fields))
            if unknown:
                raise serializers.ValidationError(
                    {name: ["This is not known here."] for name in unknown}
                )
        return super().to_internal_value(data)


class NumberField(serializers.FloatField):
    """A finite number; text is none, and neither is true."""

    def to_internal_value(self, data: Any) -> float:
        """The number."""
        if isinstance(data, bool | str) or not isinstance(data, int | float):
            self.fail("invalid")
        if not math.isfinite(data):
            self.fail("invalid")
        return float(data)


def _field(parameter: Parameter) -> serializers.Field:
    if parameter.many:
        return serializers.ListField(
            child=NumberField(), required=False, min_length=1, max_length=MOST_LISTED
        )
    return NumberField(required=False, allow_null=parameter.optional)


class ProfileSerializer(Strict):
    """A profile: its kind of run and the parameters that this kind knows, by the registry's names.
    What is left out is the kind's default; what does not belong to it is refused."""

    kind = serializers.ChoiceField(list(PLAYS), default="steps")

    def get_fields(self) -> dict[str, serializers.Field]:
        """The parameters of all kinds that the bench plays."""
        played = {p.name: _field(p) for kind in PLAYS for p in KINDS_OF_RUN[kind].parameters}
        return {**super().get_fields(), **played}

    def to_representation(self, instance: Any) -> dict[str, Any]:
        """What the kind knows, and nothing of the others."""
        shown = super().to_representation(instance)
        return {name: value for name, value in shown.items() if name in instance}


class NewSavedProfileSerializer(Strict):
    """A profile to keep by name."""

    name = serializers.CharField(max_length=80)
    purpose = serializers.CharField(required=False, default="", allow_blank=True, max_length=200)
    profile = ProfileSerializer()


class SavedProfileSerializer(serializers.ModelSerializer):
    """A profile that is kept by name, with what it is for."""

    profile = ProfileSerializer()
    made_by_name = serializers.SerializerMethodField()

    class Meta:
        model = SavedProfile
        fields = ["id", "version", "name", "purpose", "profile", "made_by_name", "made_at"]

    def get_made_by_name(self, saved: SavedProfile) -> str:
        """Who made it."""
        return saved.made_by.shown_name if saved.made_by else ""


class NewSavedSequenceSerializer(Strict):
    """Profiles to keep by name in their order."""

    name = serializers.CharField(max_length=80)
    purpose = serializers.CharField(required=False, default="", allow_blank=True, max_length=200)
    parts = ProfileSerializer(many=True)


class SavedSequenceSerializer(serializers.ModelSerializer):
    """A sequence that is kept by name, with what it is for."""

    parts = ProfileSerializer(many=True)
    made_by_name = serializers.CharField(source="made_by.shown_name", default="")

    class Meta:
        model = SavedSequence
        fields = ["id", "version", "name", "purpose", "parts", "made_by_name", "made_at"]


class SegmentSerializer(serializers.Serializer):
    """A stretch of throttle."""

    start_pct = serializers.FloatField()
    end_pct = serializers.FloatField()
    seconds = serializers.FloatField()
    label = serializers.CharField()


class CourseSerializer(serializers.Serializer):
    """What a profile commands at its longest; ``depends``: a part of it depends on what is
    measured."""

    duration_s = serializers.FloatField()
    highest_pct = serializers.FloatField()
    depends = serializers.BooleanField()
    segments = SegmentSerializer(many=True)


class LimitsSerializer(Strict):
    """Kill limits, each of them named; null only together with its name in ``limits_off``."""

    current_a = NumberField()
    power_w = NumberField(allow_null=True)
    motor_temp_c = NumberField(allow_null=True)
    thrust_gf = NumberField(allow_null=True)
    speed_rpm = NumberField(allow_null=True)
    vibration_g = NumberField(allow_null=True)
    voltage_floor_v = NumberField(allow_null=True)
    lost_rpm_s = NumberField(allow_null=True)


class ArmSerializer(Strict):
    """What to run, the limits that are off by choice, and the confirmed checklist."""

    sample = serializers.PrimaryKeyRelatedField(
        queryset=Sample.objects.select_related("motor__maker")
    )
    propeller = serializers.PrimaryKeyRelatedField(
        queryset=Propeller.objects.select_related("maker"),
        required=False,
        allow_null=True,
        default=None,
    )
    supply = serializers.PrimaryKeyRelatedField(queryset=Supply.objects.all())
    stand = serializers.PrimaryKeyRelatedField(queryset=Stand.objects.filter(live=True))
    profile = ProfileSerializer()
    limits = LimitsSerializer()
    limits_off = serializers.ListField(child=serializers.ChoiceField(CAN_BE_OFF))
    page_grace_s = NumberField(
        required=False, default=PAGE_GRACE_S, min_value=0.5, max_value=LONGEST_PAGE_GRACE_S
    )
    rate_hz = NumberField(required=False, default=200.0, min_value=10, max_value=1000)
    guarded = serializers.BooleanField(
        default=True, help_text="False: nothing is foreseen between the steps, by choice."
    )
    by_hand = serializers.BooleanField(
        default=False, help_text="The throttle is in somebody's hand; nothing here cuts it."
    )
    hand = serializers.ChoiceField(
        HANDS, required=False, default="", allow_blank=True, help_text="What it is moved with."
    )
    air_temp_c = NumberField(
        required=False, allow_null=True, default=None, min_value=-40, max_value=60
    )
    air_pressure_hpa = NumberField(
        required=False, allow_null=True, default=None, min_value=500, max_value=1100
    )
    air_humidity_pct = NumberField(
        required=False, allow_null=True, default=None, min_value=0, max_value=100
    )
    purpose = serializers.CharField(required=False, default="", allow_blank=True, max_length=120)
    checklist = serializers.ListField(child=serializers.ChoiceField(CHECKLIST_ITEMS))


MOUNTED = ("sample", "load", "supply", "stand", "kind")


class AskedChecklistSerializer(serializers.Serializer):
    """A run that may be armed."""

    sample = serializers.IntegerField(required=False, default=None)
    load = serializers.IntegerField(required=False, default=None, help_text="The propeller.")
    supply = serializers.IntegerField(required=False, default=None)
    stand = serializers.IntegerField(required=False, default=None)
    kind = serializers.ChoiceField(list(PLAYS), default="steps")
    off = serializers.MultipleChoiceField(choices=CAN_BE_OFF, required=False, default=set)
    page_grace_s = serializers.FloatField(default=PAGE_GRACE_S)
    guarded = serializers.BooleanField(default=True)
    by_hand = serializers.BooleanField(default=False)


class ChecklistSerializer(serializers.Serializer):
    """What has to be confirmed, by the vocabulary's keys, and why that much."""

    items = serializers.ListField(child=serializers.CharField())
    why = serializers.CharField()


class AskedRepeatsSerializer(serializers.Serializer):
    """A run, and how many of its like are to be made."""

    run = serializers.UUIDField()
    wanted = serializers.IntegerField(default=USUAL, min_value=1, max_value=MOST_REPEATS)


class RepeatRunSerializer(serializers.Serializer):
    """A run among its repeats."""

    id = serializers.IntegerField()
    started_at = serializers.DateTimeField()
    review = serializers.CharField(allow_blank=True)


class AgreementSerializer(serializers.Serializer):
    """A figure over the repeats, a value a run that has it; ``agrees`` null while one run tells
    nothing."""

    name = serializers.CharField()
    values = serializers.ListField(child=serializers.FloatField())
    mean = StatedFigureSerializer()
    s = serializers.FloatField(allow_null=True)
    p_value = serializers.FloatField(allow_null=True)
    agrees = serializers.BooleanField(allow_null=True)


class RepeatsSerializer(serializers.Serializer):
    """The repeats of a run so far, and what to do next."""

    n = serializers.IntegerField()
    wanted = serializers.IntegerField()
    runs = RepeatRunSerializer(many=True)
    rows = AgreementSerializer(many=True)
    advice = serializers.ChoiceField([str(one) for one in Advice])
    words = serializers.CharField()


class StartSerializer(Strict):
    """Which armed run to start."""

    run_id = serializers.UUIDField()


class RetrySerializer(Strict):
    """Which run that was set aside to try again."""

    run_id = serializers.CharField(max_length=64)


class DoorPassSerializer(serializers.Serializer):
    """How this page reaches the stop door; ``url`` is empty when the page's own host is meant."""

    token = serializers.CharField()
    port = serializers.IntegerField()
    url = serializers.CharField(allow_blank=True)


class SetAsideSerializer(serializers.Serializer):
    """A run on the bench's disk that could not be brought to the record."""

    run_id = serializers.CharField()
    title = serializers.CharField(allow_blank=True)
    reason = serializers.CharField()


class ForeseenFigureSerializer(serializers.Serializer):
    """A figure that is expected."""

    name = serializers.CharField()
    value = serializers.FloatField()
    u = serializers.FloatField()


class StepAheadSerializer(serializers.Serializer):
    """A throttle and the figures expected there."""

    throttle_pct = serializers.FloatField()
    figures = ForeseenFigureSerializer(many=True)


class InHandSerializer(serializers.Serializer):
    """The run in hand: what is expected along it, and whether the guard judges its steps."""

    run_id = serializers.CharField(allow_null=True)
    guarded = serializers.BooleanField()
    curve = StepAheadSerializer(many=True)


class PictureRowSerializer(serializers.Serializer):
    """A point, bar or cycle of a live picture."""

    x = serializers.FloatField()
    values = serializers.DictField(child=serializers.FloatField())
    series = serializers.CharField(allow_blank=True)


class PictureSerializer(serializers.Serializer):
    """The live picture of a run in hand; ``shape`` says how it is drawn."""

    shape = serializers.ChoiceField(list(SHAPES))
    rows = PictureRowSerializer(many=True)
    says = serializers.CharField(allow_blank=True)


class ProgressSerializer(serializers.Serializer):
    """Where the profile is; ``next``: what the guard foresees of the next rise."""

    elapsed_s = serializers.FloatField(allow_null=True)
    total_s = serializers.FloatField(allow_null=True)
    label = serializers.CharField(allow_blank=True)
    steps = serializers.ListField(child=serializers.CharField())
    step = serializers.IntegerField()
    next = StepAheadSerializer(allow_null=True)


class BenchEndSerializer(serializers.Serializer):
    """How the last run ended."""

    outcome = serializers.CharField()
    code = serializers.CharField()
    reason = serializers.CharField()
    by = serializers.CharField(allow_blank=True)


class AfterStopSerializer(serializers.Serializer):
    """The case after the stop: it goes on warming, and then cools until it is ready."""

    phase = serializers.ChoiceField(["warming", "cooling", "ready"])
    highest_c = serializers.FloatField()
    ready_in_s = serializers.FloatField()


class NearLimitSerializer(serializers.Serializer):
    """A reading that comes near its limit."""

    name = serializers.CharField()
    label = serializers.CharField()
    how = serializers.ChoiceField(["near", "beyond"])


class ByHandSerializer(serializers.Serializer):
    """What is asked of the hand that has the throttle. ``guide``: the channel that tells where it
    is; ``alarm``: the limit that was passed, to be cut by hand."""

    phase = serializers.ChoiceField([str(phase) for phase in Phase])
    says = serializers.CharField()
    asked_pct = serializers.FloatField(allow_null=True)
    at = serializers.IntegerField()
    of = serializers.IntegerField()
    held_s = serializers.FloatField()
    hold_s = serializers.FloatField()
    guide = serializers.CharField(allow_blank=True)
    alarm = serializers.CharField(allow_blank=True)
    near = NearLimitSerializer(many=True)


class HandSerializer(Strict):
    """Where the simulated transmitter is moved to [%]."""

    pct = NumberField(min_value=0, max_value=100)


class DrivenSerializer(Strict):
    """Which of the known stands is to be driven, by its name."""

    stand = serializers.CharField(max_length=120)


class FrameSerializer(serializers.Serializer):
    """The bench at one moment; the event stream sends the same."""

    number = serializers.IntegerField()
    state = serializers.ChoiceField([str(state) for state in State])
    message = serializers.CharField(allow_blank=True)
    link = serializers.BooleanField()
    simulated = serializers.BooleanField()
    drives = serializers.BooleanField(help_text="False: the stand only reads.")
    has_hand = serializers.BooleanField(help_text="A simulated transmitter can be moved.")
    by_hand = ByHandSerializer(allow_null=True)
    stand = serializers.CharField(help_text="The stand that is driven.")
    stands = serializers.ListField(child=serializers.CharField())
    time_s = serializers.FloatField(allow_null=True)
    values = serializers.DictField(child=serializers.FloatField())
    progress = ProgressSerializer()
    kind = serializers.CharField(allow_blank=True)
    expected = ForeseenFigureSerializer(many=True)
    picture = PictureSerializer(allow_null=True)
    run_id = serializers.CharField(allow_null=True)
    title = serializers.CharField(allow_blank=True)
    operator = serializers.CharField(allow_blank=True)
    operator_id = serializers.IntegerField(allow_null=True)
    page_grace_s = serializers.FloatField(allow_null=True)
    limits = LimitStateSerializer(many=True)
    end = BenchEndSerializer(allow_null=True)
    after = AfterStopSerializer(allow_null=True)
    ready_in_s = serializers.FloatField(allow_null=True)
    waiting_runs = serializers.IntegerField()
    delivery_problem = serializers.CharField(allow_blank=True)
    set_aside = SetAsideSerializer(many=True)
    bad_lines = serializers.IntegerField()
    bad_line = serializers.CharField(allow_blank=True)
    dropped_samples = serializers.IntegerField()


class GearAskedSerializer(serializers.Serializer):
    """What a run would be made with, so far as it is chosen."""

    sample = serializers.PrimaryKeyRelatedField(
        queryset=Sample.objects.all(), required=False, default=None
    )
    supply = serializers.PrimaryKeyRelatedField(
        queryset=Supply.objects.all(), required=False, default=None
    )
    stand = serializers.PrimaryKeyRelatedField(
        queryset=Stand.objects.all(), required=False, default=None
    )
    esc = serializers.PrimaryKeyRelatedField(
        queryset=Esc.objects.all(), required=False, default=None
    )


class BoundSerializer(serializers.Serializer):
    """A limit of one part of the gear, in the channel's unit."""

    value = serializers.FloatField()
    source = serializers.CharField()


class BoundsSerializer(serializers.Serializer):
    """The limits of one channel, the binding one first."""

    channel = serializers.CharField()
    side = serializers.ChoiceField(["most", "least"])
    known = BoundSerializer(many=True)
    unknown = serializers.ListField(child=serializers.CharField())
