"""The whole bench as JSON."""

from __future__ import annotations

import math

from rest_framework import serializers

from spindle_core.compare.bench_table import FULL, ON_BENCH
from spindle_server.compare.bench import ORDERS, Group
from spindle_server.compare.levels import CONDITIONS, HOVER
from spindle_server.motors.models import MotorModel
from spindle_server.rig.models import Propeller
from spindle_server.runs.stated import StatedFigureSerializer

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


EVERY_FIGURE = sorted({name for names in ON_BENCH.values() for name in names})


class AskedTableSerializer(serializers.Serializer):
    """What a table of the bench is asked for."""

    condition = serializers.ChoiceField(list(CONDITIONS), required=False, default=FULL)
    level = serializers.FloatField(required=False, min_value=0.01, max_value=1_000_000.0)
    craft = serializers.IntegerField(required=False, allow_null=True, default=None)
    also = serializers.CharField(
        required=False,
        default="",
        allow_blank=True,
        max_length=200,
        help_text="More groups of columns: full;thrust_gf@600;hover@3 (a craft);rating",
    )
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
    on = serializers.CharField(help_text="Supply and voltage.")
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


class PickSerializer(serializers.Serializer):
    """What a reviewer would take, and why."""

    id = serializers.IntegerField()
    version = serializers.IntegerField()
    why = serializers.CharField(allow_blank=True)
    by = serializers.CharField(allow_blank=True)


class NewPickSerializer(serializers.Serializer):
    """A motor on a propeller at a voltage, to be marked."""

    motor = serializers.PrimaryKeyRelatedField(queryset=MotorModel.objects.all())
    propeller = serializers.PrimaryKeyRelatedField(queryset=Propeller.objects.all())
    supply = serializers.CharField(allow_blank=True, max_length=40)
    voltage_v = serializers.FloatField(min_value=0.0, max_value=1000.0)
    why = serializers.CharField(allow_blank=True, max_length=300, default="")


class PivotMotorSerializer(serializers.Serializer):
    """A motor of the pivot with its effect over propellers, and what of it can be mounted."""

    motor = serializers.IntegerField()
    name = serializers.CharField()
    sample = serializers.IntegerField(allow_null=True)
    effect_pct = StatedFigureSerializer(allow_null=True)


class PivotPropellerSerializer(serializers.Serializer):
    """A propeller on a supply, with its effect over motors; ``mounted_on``: such a supply of the
    rig."""

    propeller = serializers.IntegerField(allow_null=True)
    name = serializers.CharField()
    supply = serializers.CharField()
    on = serializers.CharField()
    mounted_on = serializers.IntegerField(allow_null=True)
    effect_pct = StatedFigureSerializer(allow_null=True)


class PivotCellSerializer(serializers.Serializer):
    """A cell of the pivot that was run, or that is ``estimated`` from the others."""

    motor = serializers.IntegerField()
    propeller_name = serializers.CharField()
    supply = serializers.CharField()
    made = serializers.ListField(child=serializers.IntegerField(), help_text="Its runs.")
    marks = serializers.ListField(child=serializers.CharField())
    pick = PickSerializer(allow_null=True)
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
