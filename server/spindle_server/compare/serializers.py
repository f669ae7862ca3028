"""A comparison as JSON."""

from rest_framework import serializers

from spindle_core.compare.bench_table import FIGURES, FULL
from spindle_server.compare.bench import ORDERS
from spindle_server.runs.serializers import RunSerializer
from spindle_server.runs.stated import StatedFigureSerializer


class DrawnCurveSerializer(serializers.Serializer):
    """A curve on its measured range, with the measured points."""

    x_name = serializers.CharField()
    y_name = serializers.CharField()
    x = serializers.ListField(child=serializers.FloatField())
    y = serializers.ListField(child=serializers.FloatField(allow_null=True))
    points_x = serializers.ListField(child=serializers.FloatField())
    points_y = serializers.ListField(child=serializers.FloatField())
    points_u = serializers.ListField(child=serializers.FloatField())


class ComparedCellSerializer(serializers.Serializer):
    """One run's figure at one thrust, and its difference to the baseline."""

    value = serializers.FloatField(allow_null=True)
    u = serializers.FloatField(allow_null=True)
    absent_reason = serializers.CharField(allow_blank=True)
    absent_note = serializers.CharField(allow_blank=True)
    delta = serializers.FloatField(allow_null=True)
    delta_pct = serializers.FloatField(allow_null=True)
    u_pct = serializers.FloatField(allow_null=True)
    outcome = serializers.ChoiceField(
        ["different", "equivalent", "unresolved", ""], allow_blank=True
    )


class ComparedRowSerializer(serializers.Serializer):
    """One figure at one thrust."""

    thrust_gf = serializers.FloatField()
    name = serializers.CharField()
    cells = ComparedCellSerializer(many=True)


class CrossingSerializer(serializers.Serializer):
    """Where the power of two runs crosses, and the interval outside of which they differ."""

    run_a = serializers.IntegerField()
    run_b = serializers.IntegerField()
    thrust_gf = serializers.FloatField()
    from_gf = serializers.FloatField()
    to_gf = serializers.FloatField()


class FactorSerializer(serializers.Serializer):
    """A factor of the comparison."""

    name = serializers.CharField()
    values = serializers.ListField(child=serializers.CharField())
    state = serializers.ChoiceField(["same", "differs", "unknown"])


class ComparisonSerializer(serializers.Serializer):
    """Runs against each other."""

    runs = RunSerializer(many=True)
    baseline = serializers.IntegerField()
    thrusts_gf = serializers.ListField(child=serializers.FloatField())
    margin_pct = serializers.FloatField()
    curves = serializers.ListField(child=DrawnCurveSerializer(many=True))
    rows = ComparedRowSerializer(many=True)
    crossings = CrossingSerializer(many=True)
    factors = FactorSerializer(many=True)
    confounded = serializers.ListField(child=serializers.CharField())
    remarks = serializers.ListField(child=serializers.CharField())


EVERY_FIGURE = sorted({name for names in FIGURES.values() for name in names})


class AskedTableSerializer(serializers.Serializer):
    """What a table of the bench is asked for."""

    condition = serializers.ChoiceField(list(FIGURES), required=False, default=FULL)
    level = serializers.FloatField(required=False, min_value=0.01, max_value=1_000_000.0)
    supply = serializers.CharField(required=False, default="", allow_blank=True, max_length=80)
    figure = serializers.ChoiceField(EVERY_FIGURE, required=False, default="thrust_gf")
    order = serializers.ChoiceField(ORDERS, required=False, default="propeller")
    baseline = serializers.CharField(required=False, default="", allow_blank=True, max_length=200)
    motors = serializers.CharField(required=False, default="", allow_blank=True, max_length=400)

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


class BenchTableSerializer(serializers.Serializer):
    """The whole bench under one condition."""

    conditions = serializers.ListField(child=serializers.CharField())
    condition = serializers.CharField()
    level = serializers.FloatField(allow_null=True)
    supplies = TableSupplySerializer(many=True)
    supply = serializers.CharField(allow_blank=True)
    figures = serializers.ListField(child=serializers.CharField())
    rows = BenchTableRowSerializer(many=True)
    pivot = PivotSerializer()
    motors = ListedMotorSerializer(many=True)
    more = serializers.IntegerField()
    unreviewed = serializers.IntegerField()
