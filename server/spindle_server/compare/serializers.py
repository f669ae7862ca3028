"""A comparison as JSON."""

from rest_framework import serializers

from spindle_server.runs.serializers import RunSerializer


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
