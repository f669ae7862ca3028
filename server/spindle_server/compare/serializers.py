"""A comparison as JSON."""

from __future__ import annotations

import math
from typing import Any

from rest_framework import serializers

from spindle_core.compare.bench_table import FIGURES, FULL
from spindle_core.compare.subjects import Grouping
from spindle_core.planning.at_one_kv import FIGURES as KV_FIGURES
from spindle_server.compare.bench import ORDERS, Group
from spindle_server.compare.choosing import WHATS
from spindle_server.compare.levels import CONDITIONS, HOVER
from spindle_server.compare.models import SavedComparison
from spindle_server.compare.selectors import AGAINST, AXES, DRAWN_OVER, MOST_LEVELS, USUAL_AXES
from spindle_server.runs.stated import NamedFigureSerializer, StatedFigureSerializer


class AxesSerializer(serializers.Serializer):
    """One figure over another."""

    x_name = serializers.CharField()
    y_name = serializers.CharField()


class DrawnCurveSerializer(AxesSerializer):
    """A subject's mean on the range that all of its runs measured, with the measured points:
    x, y and the scatter of y."""

    x = serializers.ListField(child=serializers.FloatField())
    y = serializers.ListField(child=serializers.FloatField(allow_null=True))
    u = serializers.ListField(child=serializers.FloatField(allow_null=True))
    points = serializers.ListField(
        child=serializers.ListField(child=serializers.FloatField(), min_length=3, max_length=3)
    )
    reason = serializers.CharField(allow_blank=True)


class ComparedSubjectSerializer(serializers.Serializer):
    """What is compared as one: a run, a mean of repeats, a sample or a model."""

    key = serializers.IntegerField(help_text="The first of its runs.")
    motor = serializers.IntegerField()
    motor_name = serializers.CharField()
    samples = serializers.ListField(child=serializers.CharField())
    propeller_name = serializers.CharField(allow_blank=True)
    on = serializers.CharField(allow_blank=True)
    setup = serializers.CharField(allow_blank=True)
    started_at = serializers.DateTimeField()
    runs = serializers.ListField(child=serializers.IntegerField())
    drawn = serializers.BooleanField()


class ComparedCellSerializer(serializers.Serializer):
    """One subject's figure at one level, and its difference."""

    value = serializers.FloatField(allow_null=True)
    u = serializers.FloatField(allow_null=True)
    samples = serializers.IntegerField(allow_null=True)
    runs = serializers.IntegerField(allow_null=True)
    spread = serializers.FloatField(allow_null=True)
    absent_reason = serializers.CharField(allow_blank=True)
    absent_note = serializers.CharField(allow_blank=True)
    delta = serializers.FloatField(allow_null=True)
    delta_pct = serializers.FloatField(allow_null=True)
    u_pct = serializers.FloatField(allow_null=True)
    outcome = serializers.ChoiceField(
        ["different", "equivalent", "unresolved", ""], allow_blank=True
    )


class ComparedRowSerializer(serializers.Serializer):
    """One figure at one level of the condition; null at full throttle."""

    at = serializers.FloatField(allow_null=True)
    name = serializers.CharField()
    cells = ComparedCellSerializer(many=True)


class CrossingSerializer(AxesSerializer):
    """Where two subjects cross, and the interval outside of which they differ."""

    a = serializers.IntegerField()
    b = serializers.IntegerField()
    at = serializers.FloatField()
    low = serializers.FloatField()
    high = serializers.FloatField()


class StretchSerializer(serializers.Serializer):
    """From one thrust to another the thriftiest of a motor's propellers, with those not told from
    it; subjects by their keys."""

    low = serializers.FloatField()
    high = serializers.FloatField()
    best = serializers.ListField(child=serializers.IntegerField())


class FeelSerializer(serializers.Serializer):
    """How a subject answers the stick, and the expo that makes it begin as the baseline."""

    low_slope_gf_per_pct = StatedFigureSerializer()
    low_ratio = StatedFigureSerializer()
    top_end_ratio = StatedFigureSerializer()
    last_tenth_thrust_pct = StatedFigureSerializer()
    last_tenth_current_pct = StatedFigureSerializer()
    expo = serializers.FloatField(allow_null=True)
    no_expo = serializers.CharField(allow_blank=True)
    words = serializers.CharField(allow_blank=True)
    stick_pct = serializers.ListField(child=serializers.FloatField())
    thrust_gf = serializers.ListField(child=serializers.FloatField(allow_null=True))


class FactorSerializer(serializers.Serializer):
    """A factor of the comparison, a value per subject."""

    name = serializers.CharField()
    values = serializers.ListField(child=serializers.CharField())
    state = serializers.ChoiceField(["same", "differs", "unknown"])


class ChangedFigureSerializer(serializers.Serializer):
    """What a correction did to a figure of the strongest point."""

    name = serializers.CharField()
    pct = serializers.FloatField()


class CorrectionSerializer(serializers.Serializer):
    """What the correction to nominal voltage and reference air did to a run; why not otherwise."""

    run = serializers.IntegerField()
    way = serializers.CharField(allow_blank=True, help_text="model, powers or nothing")
    changed = ChangedFigureSerializer(many=True)
    left_out = serializers.IntegerField()
    reason = serializers.CharField(allow_blank=True)


class ComparisonSerializer(serializers.Serializer):
    """Subjects against each other."""

    by = serializers.ChoiceField([str(one) for one in Grouping])
    subjects = ComparedSubjectSerializer(many=True)
    runs = serializers.ListField(child=serializers.IntegerField())
    baseline = serializers.IntegerField()
    against = serializers.ChoiceField(AGAINST)
    condition = serializers.CharField()
    levels = serializers.ListField(child=serializers.FloatField())
    figures = serializers.ListField(child=serializers.CharField())
    margin_pct = serializers.FloatField()
    axes = AxesSerializer(many=True)
    curves = serializers.ListField(child=DrawnCurveSerializer(many=True))
    band = serializers.CharField()
    rows = ComparedRowSerializer(many=True)
    crossings = CrossingSerializer(many=True)
    envelope = StretchSerializer(many=True)
    feel = FeelSerializer(many=True)
    factors = FactorSerializer(many=True)
    confounded = serializers.ListField(child=serializers.CharField())
    correction = CorrectionSerializer(many=True)
    remarks = serializers.ListField(child=serializers.CharField())


def _numbers(text: str, kind: type[Any], name: str) -> tuple[Any, ...]:
    try:
        found = tuple(kind(part) for part in text.split(",") if part.strip())
    except ValueError as error:
        message = f"{name} must be numbers separated by commas, got {text!r}."
        raise serializers.ValidationError(message) from error
    if not all(math.isfinite(value) for value in found):
        raise serializers.ValidationError(f"{name} must be finite numbers.")
    return found


class AskedComparisonSerializer(serializers.Serializer):
    """What a comparison is asked for."""

    runs = serializers.CharField(
        max_length=2000, allow_blank=True, help_text="Run numbers, comma-separated."
    )
    by = serializers.ChoiceField(
        [str(one) for one in Grouping], required=False, default="repeats", help_text="What is one."
    )
    baseline = serializers.IntegerField(
        required=False, allow_null=True, default=None, help_text="A run; the first if absent."
    )
    against = serializers.ChoiceField(AGAINST, required=False, default="baseline")
    condition = serializers.ChoiceField(list(FIGURES), required=False, default="thrust_gf")
    levels = serializers.CharField(
        required=False, default="", allow_blank=True, max_length=300, help_text="In its unit."
    )
    axes = serializers.CharField(
        required=False, default="", allow_blank=True, max_length=300,
        help_text="y:x pairs, comma-separated, such as thrust_gf:throttle_pct.",
    )  # fmt: skip
    correct = serializers.BooleanField(
        required=False, default=False, help_text="To nominal voltage and reference air."
    )

    def validate_runs(self, text: str) -> tuple[int, ...]:
        """Run numbers."""
        return _numbers(text, int, "runs")

    def validate_levels(self, text: str) -> tuple[float, ...]:
        """Levels of the condition."""
        found = _numbers(text, float, "levels")
        if len(found) > MOST_LEVELS:
            raise serializers.ValidationError(f"{MOST_LEVELS} levels at most.")
        return tuple(sorted(set(found)))

    def validate_axes(self, text: str) -> tuple[tuple[str, str], ...]:
        """Pairs of figures that can be drawn."""
        pairs = []
        for part in text.split(","):
            if not part.strip():
                continue
            y_name, _, x_name = part.strip().partition(":")
            if x_name not in AXES or y_name not in DRAWN_OVER or x_name == y_name:
                message = (
                    f"{part!r} cannot be drawn. Over {', '.join(AXES)}: {', '.join(DRAWN_OVER)}."
                )
                raise serializers.ValidationError(message)
            pairs.append((x_name, y_name))
        if len(pairs) > 4:
            raise serializers.ValidationError("Four charts at most.")
        return tuple(pairs) or USUAL_AXES


MOST_GROUPS = 4


def _group(text: str) -> Group:
    """``condition``, ``condition@level`` or ``hover@craft``."""
    condition, _, at = text.partition("@")
    wrong = serializers.ValidationError(f"{text!r} is no condition, such as thrust_gf@600.")
    if condition not in CONDITIONS:
        raise wrong
    if not at:
        return Group(condition)
    try:
        level = float(at)
    except ValueError as error:
        raise wrong from error
    if not (math.isfinite(level) and level > 0):
        raise wrong
    return Group(condition, craft=int(level)) if condition == HOVER else Group(condition, level)


EVERY_FIGURE = sorted({name for names in FIGURES.values() for name in names})


class AskedTableSerializer(serializers.Serializer):
    """What a table of the bench is asked for."""

    condition = serializers.ChoiceField(list(CONDITIONS), required=False, default=FULL)
    level = serializers.FloatField(required=False, min_value=0.01, max_value=1_000_000.0)
    craft = serializers.IntegerField(required=False, allow_null=True, default=None)
    also = serializers.CharField(
        required=False, default="", allow_blank=True, max_length=200,
        help_text="More groups of columns: full;thrust_gf@600;hover@3 (a craft);rating",
    )  # fmt: skip
    supply = serializers.CharField(required=False, default="", allow_blank=True, max_length=80)
    figure = serializers.ChoiceField(EVERY_FIGURE, required=False, default="thrust_gf")
    order = serializers.ChoiceField(ORDERS, required=False, default="propeller")
    baseline = serializers.CharField(required=False, default="", allow_blank=True, max_length=200)
    motors = serializers.CharField(required=False, default="", allow_blank=True, max_length=400)

    def validate_also(self, text: str) -> tuple[Group, ...]:
        """Conditions with a level or a craft, separated by semicolons."""
        parts = [part.strip() for part in text.split(";") if part.strip()]
        if len(parts) > MOST_GROUPS:
            raise serializers.ValidationError(f"{MOST_GROUPS} more groups at most.")
        return tuple(_group(part) for part in parts)

    def validate_motors(self, text: str) -> tuple[int, ...]:
        """Numbers separated by commas."""
        try:
            return tuple(int(part) for part in text.split(",") if part.strip())
        except ValueError as error:
            message = f"{text!r} is no list of motors: 3,7,12."
            raise serializers.ValidationError(message) from error


class TableDeltaSerializer(serializers.Serializer):
    """A difference with what may be said of it."""

    delta = serializers.FloatField()
    delta_pct = serializers.FloatField()
    u_pct = serializers.FloatField()
    outcome = serializers.CharField(help_text="different, equivalent or unresolved")


class TableCellSerializer(serializers.Serializer):
    """A figure of a row; its difference to the baseline or to the row before."""

    name = serializers.CharField()
    figure = StatedFigureSerializer()
    samples = serializers.IntegerField(allow_null=True)
    runs = serializers.IntegerField(allow_null=True)
    delta = TableDeltaSerializer(allow_null=True)
    group = serializers.IntegerField(help_text="Which group of columns it stands in.")


class BenchTableRowSerializer(serializers.Serializer):
    """A motor on a propeller; counts of figures against what it is held against."""

    key = serializers.CharField()
    motor = serializers.IntegerField()
    motor_name = serializers.CharField()
    propeller = serializers.IntegerField(allow_null=True)
    propeller_name = serializers.CharField()
    runs = serializers.ListField(child=serializers.IntegerField())
    baseline = serializers.BooleanField()
    marks = serializers.ListField(child=serializers.CharField())
    cells = TableCellSerializer(many=True)
    levels = serializers.ListField(child=serializers.FloatField(allow_null=True))
    better = serializers.IntegerField()
    equal = serializers.IntegerField()
    worse = serializers.IntegerField()
    unresolved = serializers.IntegerField()


class TableSupplySerializer(serializers.Serializer):
    """A supply at a voltage, with how many rows were run on it."""

    key = serializers.CharField()
    words = serializers.CharField()
    rows = serializers.IntegerField()


class PivotMotorSerializer(serializers.Serializer):
    """A motor of the pivot with its effect over propellers."""

    motor = serializers.IntegerField()
    name = serializers.CharField()
    effect_pct = StatedFigureSerializer(allow_null=True)


class PivotPropellerSerializer(serializers.Serializer):
    """A propeller of the pivot with its effect over motors."""

    propeller = serializers.IntegerField(allow_null=True)
    name = serializers.CharField()
    effect_pct = StatedFigureSerializer(allow_null=True)


class PivotCellSerializer(serializers.Serializer):
    """A cell of the pivot; ``estimated``: from the other cells, never run."""

    motor = serializers.IntegerField()
    propeller_name = serializers.CharField()
    figure = StatedFigureSerializer()
    estimated = serializers.BooleanField()
    samples = serializers.IntegerField(allow_null=True)
    runs = serializers.IntegerField(allow_null=True)


class PivotSerializer(serializers.Serializer):
    """Motors against propellers for one figure."""

    name = serializers.CharField()
    motors = PivotMotorSerializer(many=True)
    propellers = PivotPropellerSerializer(many=True)
    cells = PivotCellSerializer(many=True)
    interaction_pct = serializers.FloatField(allow_null=True)
    no_effects = serializers.CharField(allow_blank=True)


class ListedMotorSerializer(serializers.Serializer):
    """A motor that may be chosen."""

    motor = serializers.IntegerField()
    name = serializers.CharField()


class ListedCraftSerializer(serializers.Serializer):
    """A craft whose hover may be read."""

    craft = serializers.IntegerField()
    name = serializers.CharField()


class ColumnGroupSerializer(serializers.Serializer):
    """A group of columns: a condition at a level; in words where each motor has its own."""

    condition = serializers.CharField()
    level = serializers.FloatField(allow_null=True)
    craft = serializers.IntegerField(allow_null=True)
    words = serializers.CharField(allow_blank=True)
    figures = serializers.ListField(child=serializers.CharField())


class SameSerializer(serializers.Serializer):
    """Motors that were shown to perform the same on a propeller."""

    propeller_name = serializers.CharField()
    motors = ListedMotorSerializer(many=True)


class BenchTableSerializer(serializers.Serializer):
    """The whole bench under one condition, with more beside it."""

    conditions = serializers.ListField(child=serializers.CharField())
    condition = serializers.CharField()
    level = serializers.FloatField(allow_null=True)
    craft = serializers.IntegerField(allow_null=True)
    craft_listed = ListedCraftSerializer(many=True)
    groups = ColumnGroupSerializer(many=True)
    same = SameSerializer(many=True)
    supplies = TableSupplySerializer(many=True)
    supply = serializers.CharField(allow_blank=True)
    figures = serializers.ListField(child=serializers.CharField())
    rows = BenchTableRowSerializer(many=True)
    pivot = PivotSerializer()
    motors = ListedMotorSerializer(many=True)
    more = serializers.IntegerField()
    unreviewed = serializers.IntegerField()


class AskedChoiceSerializer(serializers.Serializer):
    """Which question about which motor."""

    what = serializers.ChoiceField(list(WHATS))
    motor = serializers.IntegerField()
    propeller = serializers.IntegerField(required=False, allow_null=True, default=None)


class RunChoiceSerializer(serializers.Serializer):
    """Runs that differ in one thing; how many different there are."""

    what = serializers.CharField()
    words = serializers.CharField()
    by = serializers.ChoiceField([str(one) for one in Grouping])
    runs = serializers.ListField(child=serializers.IntegerField())
    differ = serializers.IntegerField()
    why_none = serializers.CharField(allow_blank=True)


class AskedTorqueSerializer(serializers.Serializer):
    """A motor, and propellers and voltages where others than it was run with are meant."""

    motor = serializers.IntegerField()
    propellers = serializers.CharField(
        required=False, default="", allow_blank=True, max_length=80, help_text="Numbers."
    )
    voltages = serializers.CharField(
        required=False, default="", allow_blank=True, max_length=80, help_text="In V."
    )

    def validate_propellers(self, text: str) -> tuple[int, ...]:
        """Propeller numbers."""
        return _numbers(text, int, "propellers")

    def validate_voltages(self, text: str) -> tuple[float, ...]:
        """Voltages."""
        found = _numbers(text, float, "voltages")
        if any(not 0 < volts <= 100 for volts in found):
            raise serializers.ValidationError("Voltages lie between 0 and 100 V.")
        return found


class TorqueLineSerializer(serializers.Serializer):
    """A line of the chart."""

    name = serializers.CharField()
    speed_rpm = serializers.ListField(child=serializers.FloatField())
    torque_nm = serializers.ListField(child=serializers.FloatField())


class MotorLineSerializer(TorqueLineSerializer):
    """What the motor gives at a voltage."""

    voltage_v = serializers.FloatField()


class LoadLineSerializer(TorqueLineSerializer):
    """What a propeller asks for; ``estimated``: from its geometry, never identified."""

    propeller = serializers.IntegerField()
    estimated = serializers.BooleanField()


class MeetingSerializer(serializers.Serializer):
    """Where a propeller's load meets the motor's line."""

    propeller = serializers.IntegerField()
    propeller_name = serializers.CharField()
    voltage_v = serializers.FloatField()
    figures = NamedFigureSerializer(many=True)


class MeasuredTorqueSerializer(serializers.Serializer):
    """Torque that a run logged: speed, torque, scatter of torque."""

    run = serializers.IntegerField()
    kind = serializers.CharField()
    sample = serializers.CharField()
    propeller_name = serializers.CharField(allow_blank=True)
    nominal_voltage_v = serializers.FloatField(allow_null=True)
    points = serializers.ListField(child=serializers.ListField(child=serializers.FloatField()))


class ChartPropellerSerializer(serializers.Serializer):
    """A propeller whose load is drawn."""

    propeller = serializers.IntegerField()
    name = serializers.CharField()


class TorqueChartSerializer(serializers.Serializer):
    """Torque over speed of one motor; ``reason`` says why no line is drawn."""

    motor = serializers.IntegerField()
    motor_name = serializers.CharField()
    voltages = serializers.ListField(child=serializers.FloatField())
    propellers = ChartPropellerSerializer(many=True)
    rests_on = serializers.CharField(allow_blank=True)
    estimated = serializers.BooleanField()
    motor_lines = MotorLineSerializer(many=True)
    load_lines = LoadLineSerializer(many=True)
    meetings = MeetingSerializer(many=True)
    measured = MeasuredTorqueSerializer(many=True)
    reason = serializers.CharField(allow_blank=True)


class ChartMarkSerializer(serializers.Serializer):
    """A place on a chart with a text; x in the unit of its axis."""

    x_name = serializers.ChoiceField(AXES)
    y_name = serializers.ChoiceField(DRAWN_OVER)
    x = serializers.FloatField(min_value=0.0, max_value=1e6)
    text = serializers.CharField(max_length=80)


MOST_MARKS = 20
ASKED_NAMES = (
    "runs", "by", "baseline", "against", "condition", "levels", "axes", "correct",
)  # fmt: skip


class NewSavedComparisonSerializer(serializers.Serializer):
    """A comparison to keep: its address's query, and marks on its charts."""

    name = serializers.CharField(max_length=120)
    asked = serializers.DictField(child=serializers.CharField(max_length=2000, allow_blank=True))
    marks = ChartMarkSerializer(many=True, required=False)
    note = serializers.CharField(max_length=2000, allow_blank=True, required=False)

    def validate_asked(self, asked: dict[str, str]) -> dict[str, str]:
        """A question that can be asked."""
        kept = {name: text for name, text in asked.items() if name in ASKED_NAMES and text}
        AskedComparisonSerializer(data=kept).is_valid(raise_exception=True)
        return kept

    def validate_marks(self, marks: list[dict[str, Any]]) -> list[dict[str, Any]]:
        """Not more than a chart can carry."""
        if len(marks) > MOST_MARKS:
            raise serializers.ValidationError(f"{MOST_MARKS} marks at most.")
        return [dict(mark) for mark in marks]


class ChangedComparisonSerializer(NewSavedComparisonSerializer):
    """Changes to a kept comparison, made from a version."""

    version = serializers.IntegerField(required=False)


class SavedComparisonSerializer(serializers.ModelSerializer):
    """A comparison kept by name."""

    asked = serializers.DictField(child=serializers.CharField())
    marks = ChartMarkSerializer(many=True)
    saved_by_name = serializers.CharField(source="saved_by.shown_name", default="")

    class Meta:
        model = SavedComparison
        fields = ["id", "name", "asked", "marks", "note", "saved_by_name", "saved_at", "version"]


class AskedKindSerializer(serializers.Serializer):
    """Which kind of run, held against which row."""

    kind = serializers.CharField(required=False, default="", allow_blank=True, max_length=20)
    baseline = serializers.CharField(required=False, default="", allow_blank=True, max_length=200)


class ClaimedSerializer(serializers.Serializer):
    """What somebody says; quoted beside the measurement, never in it."""

    value = serializers.FloatField()
    source = serializers.CharField()


class KindCellSerializer(serializers.Serializer):
    """A figure of a row, its difference and what is claimed."""

    name = serializers.CharField()
    figure = StatedFigureSerializer()
    samples = serializers.IntegerField(allow_null=True)
    runs = serializers.IntegerField(allow_null=True)
    delta = TableDeltaSerializer(allow_null=True)
    claimed = ClaimedSerializer(many=True)


class KindRowSerializer(serializers.Serializer):
    """A motor under a load."""

    key = serializers.CharField()
    motor = serializers.IntegerField()
    motor_name = serializers.CharField()
    load = serializers.CharField()
    runs = serializers.ListField(child=serializers.IntegerField())
    baseline = serializers.BooleanField()
    off_label_pct = StatedFigureSerializer(allow_null=True)
    cells = KindCellSerializer(many=True)


class ListedKindSerializer(serializers.Serializer):
    """A kind of run of which there are some."""

    kind = serializers.CharField()
    label = serializers.CharField()


class KindTableSerializer(serializers.Serializer):
    """Runs of one kind over the whole bench."""

    kinds = ListedKindSerializer(many=True)
    kind = serializers.CharField(allow_blank=True)
    figures = serializers.ListField(child=serializers.CharField())
    rows = KindRowSerializer(many=True)


class AskedKvSerializer(serializers.Serializer):
    """At which kV, on which propeller and voltage, against whom."""

    kv_rpm_per_v = serializers.FloatField(
        required=False, allow_null=True, default=None, min_value=10.0, max_value=30_000.0
    )
    propeller = serializers.IntegerField(required=False, allow_null=True, default=None)
    voltage_v = serializers.FloatField(
        required=False, allow_null=True, default=None, min_value=1.0, max_value=100.0
    )
    reference = serializers.IntegerField(required=False, allow_null=True, default=None)
    figure = serializers.ChoiceField(list(KV_FIGURES), required=False, default="thrust_gf")


class OneKvRowSerializer(serializers.Serializer):
    """A motor as it is and rewound, and what its difference is made of."""

    motor = serializers.IntegerField()
    motor_name = serializers.CharField()
    rests_on = serializers.CharField()
    kv_rpm_per_v = StatedFigureSerializer()
    resistance_ohm = StatedFigureSerializer()
    km_nm_per_sqrt_w = StatedFigureSerializer()
    as_it_is = NamedFigureSerializer(many=True)
    rewound = NamedFigureSerializer(many=True)
    total_pct = StatedFigureSerializer()
    design_pct = StatedFigureSerializer()
    winding_pct = StatedFigureSerializer()
    said = serializers.CharField(allow_blank=True)


class OneKvSerializer(serializers.Serializer):
    """Identified motors at one kV; ``reason`` where there is nothing to say."""

    kv_rpm_per_v = serializers.FloatField(allow_null=True)
    propeller = serializers.IntegerField(allow_null=True)
    propeller_name = serializers.CharField(allow_blank=True)
    voltage_v = serializers.FloatField(allow_null=True)
    figure = serializers.CharField()
    figures = serializers.ListField(child=serializers.CharField())
    reference = serializers.IntegerField(allow_null=True)
    rows = OneKvRowSerializer(many=True)
    reason = serializers.CharField(allow_blank=True)
