"""A comparison as JSON."""

from __future__ import annotations

import math
from typing import Any

from rest_framework import serializers

from spindle_core.compare.bench_table import FIGURES
from spindle_core.compare.subjects import Grouping
from spindle_server.compare.asking import USUAL_AXES
from spindle_server.compare.choosing import WHATS
from spindle_server.compare.selectors import AGAINST, AXES, DRAWN_OVER, MOST_LEVELS
from spindle_server.runs.stated import StatedFigureSerializer


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
    motor_short = serializers.CharField(help_text="Without its maker.")
    samples = serializers.ListField(child=serializers.CharField())
    propeller_name = serializers.CharField(allow_blank=True)
    propeller_short = serializers.CharField(allow_blank=True, help_text="Without its maker.")
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


class WarmedSerializer(serializers.Serializer):
    """How warm one run's motor got. ``span_s``: null where rows have no times."""

    run = serializers.IntegerField()
    before = StatedFigureSerializer()
    after = StatedFigureSerializer()
    rise = StatedFigureSerializer()
    air_c = serializers.FloatField(allow_null=True)
    span_s = serializers.FloatField(allow_null=True)
    readings = serializers.IntegerField()
    runs_before = serializers.IntegerField()


class WarmthSerializer(serializers.Serializer):
    """Runs whose motor had a thermometer. ``refused``: why they are not compared; ``unknown``:
    what nobody noted; ``against``: rise above that of the first; ``more``: left out for room."""

    runs = WarmedSerializer(many=True)
    more = serializers.IntegerField()
    refused = serializers.CharField(allow_blank=True)
    unknown = serializers.ListField(child=serializers.CharField())
    against = StatedFigureSerializer(many=True)


class StatedNumberSerializer(serializers.Serializer):
    """A figure that somebody states; it has no u."""

    name = serializers.CharField()
    value = serializers.FloatField()


class StatedLoadSerializer(serializers.Serializer):
    """What a source states of a drawn subject's motor on its propeller and as many cells."""

    subject = serializers.IntegerField(help_text="Which of the drawn ones.")
    source = serializers.CharField()
    stated_on = serializers.DateField(allow_null=True)
    cells = serializers.IntegerField()
    said = StatedNumberSerializer(many=True)


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
    warmth = WarmthSerializer(allow_null=True)
    correction = CorrectionSerializer(many=True)
    remarks = serializers.ListField(child=serializers.CharField())
    claims = StatedLoadSerializer(many=True)


def numbers_in(text: str, kind: type[Any], name: str) -> tuple[Any, ...]:
    """Numbers of a list separated by commas.

    :raises ValidationError: text that is none, or a number that is not finite.
    """
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
        required=False,
        default="",
        allow_blank=True,
        max_length=300,
        help_text="y:x pairs, comma-separated, such as thrust_gf:throttle_pct.",
    )
    correct = serializers.BooleanField(
        required=False, default=False, help_text="To nominal voltage and reference air."
    )

    def validate_runs(self, text: str) -> tuple[int, ...]:
        """Run numbers."""
        return numbers_in(text, int, "runs")

    def validate_levels(self, text: str) -> tuple[float, ...]:
        """Levels of the condition."""
        found = numbers_in(text, float, "levels")
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
