"""Rankings as JSON."""

from __future__ import annotations

import math
from typing import Any

from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from spindle_core.rank.criteria import MEASURES
from spindle_server.rank.judging import Asked
from spindle_server.rank.models import USES, KeptRanking, OwnWeights
from spindle_server.runs.stated import StatedFigureSerializer

MOST_WEIGHT = 10.0


@extend_schema_field(OpenApiTypes.STR)
class WeightsField(serializers.Field):
    """Weights as an address carries them: ``max_thrust_gf:2,mass_g:0.5``."""

    default_error_messages = {"bad": "{text!r} is no weight: name:number, such as mass_g:0.5."}

    def to_internal_value(self, data: Any) -> dict[str, float]:
        """Criterion → weight."""
        found: dict[str, float] = {}
        for part in str(data).split(","):
            if not part.strip():
                continue
            name, _, text = part.strip().partition(":")
            try:
                weight = float(text)
            except ValueError:
                self.fail("bad", text=part)
            if name not in MEASURES or not (math.isfinite(weight) and 0 <= weight <= MOST_WEIGHT):
                self.fail("bad", text=part)
            found[name] = weight
        return found

    def to_representation(self, value: dict[str, float]) -> str:
        """As an address carries them."""
        return ",".join(f"{name}:{weight:g}" for name, weight in value.items())


@extend_schema_field(OpenApiTypes.STR)
class NumbersField(serializers.Field):
    """Numbers of motors separated by commas."""

    default_error_messages = {"bad": "{text!r} is no list of motors: 3,7,12."}

    def to_internal_value(self, data: Any) -> tuple[int, ...]:
        """The numbers."""
        try:
            return tuple(int(part) for part in str(data).split(",") if part.strip())
        except ValueError:
            self.fail("bad", text=data)

    def to_representation(self, value: tuple[int, ...]) -> str:
        """As an address carries them."""
        return ",".join(str(one) for one in value)


class AskedRankingSerializer(serializers.Serializer):
    """What a ranking is asked for."""

    use = serializers.ChoiceField(USES, required=False, default="equal")
    weights = WeightsField(required=False, default=dict)
    load = serializers.CharField(required=False, default="", allow_blank=True, max_length=200)
    thrust_gf = serializers.FloatField(required=False, min_value=1.0, max_value=50_000.0)
    shaft_power_w = serializers.FloatField(required=False, min_value=1.0, max_value=50_000.0)
    fill = serializers.BooleanField(required=False, default=False)
    sizes = serializers.CharField(required=False, default="", allow_blank=True, max_length=400)
    without = NumbersField(required=False, default=tuple)
    cells = serializers.IntegerField(required=False, min_value=1, max_value=16)
    most_mass_g = serializers.FloatField(required=False, min_value=0.1, max_value=5000.0)
    most_price = serializers.FloatField(required=False, min_value=0.01, max_value=100_000.0)

    def validate_weights(self, weights: dict[str, float]) -> dict[str, float]:
        """Weights that weigh nothing rank nobody."""
        if weights and sum(weights.values()) <= 0:
            raise serializers.ValidationError("Give at least one criterion a weight above 0.")
        return weights


def asked_from(values: dict[str, Any]) -> Asked:
    """What is asked, from checked values."""
    given = {name: value for name, value in values.items() if name != "sizes"}
    sizes = tuple(part.strip() for part in values["sizes"].split(",") if part.strip())
    return Asked(sizes=sizes, **given)


class RankLoadSerializer(serializers.Serializer):
    """A propeller on a supply, with how many motors were run so."""

    key = serializers.CharField()
    words = serializers.CharField()
    motors = serializers.IntegerField()


class RankMeasureSerializer(serializers.Serializer):
    """A criterion: how it is read, what it weighs, how many motors have it."""

    name = serializers.CharField()
    label = serializers.CharField()
    unit = serializers.CharField(allow_blank=True)
    lower_is_better = serializers.BooleanField()
    weight = serializers.FloatField()
    load = serializers.CharField(allow_blank=True)
    level = serializers.FloatField(allow_null=True)
    at = serializers.CharField(allow_blank=True)
    by = serializers.CharField()
    motors = serializers.IntegerField()


class RankedFigureSerializer(serializers.Serializer):
    """A figure of a motor with its score, and the samples and runs it rests on."""

    name = serializers.CharField()
    score = serializers.FloatField(allow_null=True)
    score_u = serializers.FloatField(allow_null=True)
    figure = StatedFigureSerializer()
    samples = serializers.IntegerField(allow_null=True)
    runs = serializers.IntegerField(allow_null=True)
    filled = serializers.BooleanField(help_text="Estimated from other propellers.")


class MissingCriterionSerializer(serializers.Serializer):
    """A criterion that is weighed and of which a motor has no figure."""

    name = serializers.CharField()
    why = serializers.CharField()


class RankedMotorSerializer(serializers.Serializer):
    """A motor of the cohort; ``place`` null: not ranked, with the reason."""

    motor = serializers.IntegerField()
    full_name = serializers.CharField()
    size_code = serializers.CharField(allow_blank=True)
    version = serializers.IntegerField()
    verdict = serializers.CharField(allow_blank=True)
    place = serializers.IntegerField(allow_null=True)
    total = serializers.FloatField(allow_null=True)
    total_u = serializers.FloatField(allow_null=True)
    why_unranked = serializers.CharField(allow_blank=True)
    per_mass = serializers.FloatField(allow_null=True)
    per_mass_u = serializers.FloatField(allow_null=True)
    per_price = serializers.FloatField(allow_null=True)
    per_price_u = serializers.FloatField(allow_null=True)
    places = serializers.ListField(child=serializers.FloatField())
    place_from = serializers.IntegerField(allow_null=True)
    place_to = serializers.IntegerField(allow_null=True)
    figures = RankedFigureSerializer(many=True)
    missing = MissingCriterionSerializer(many=True)
    mass_g = StatedFigureSerializer()
    price = StatedFigureSerializer()
    price_currency = serializers.CharField(allow_blank=True)
    price_words = serializers.CharField(allow_blank=True)
    warnings = serializers.ListField(child=serializers.CharField())


class FallenOutSerializer(serializers.Serializer):
    """A motor that a bound leaves out, with the reason."""

    motor = serializers.IntegerField()
    full_name = serializers.CharField()
    why = serializers.CharField()


class LeaderSerializer(serializers.Serializer):
    """Who leads, and how surely."""

    motor = serializers.IntegerField()
    full_name = serializers.CharField()
    probability = serializers.FloatField()


class WeightSwapSerializer(serializers.Serializer):
    """The change of a weight that swaps the first two."""

    name = serializers.CharField()
    weight = serializers.FloatField()
    needed = serializers.FloatField()
    sentence = serializers.CharField()


class SettlingSerializer(serializers.Serializer):
    """The run that tells most about who leads; probabilities before and after it."""

    motor = serializers.IntegerField()
    kind = serializers.CharField()
    another_sample = serializers.BooleanField()
    sample = serializers.IntegerField(allow_null=True)
    propeller = serializers.IntegerField(allow_null=True)
    supply = serializers.IntegerField(allow_null=True)
    now = serializers.FloatField()
    after = serializers.FloatField()
    sentence = serializers.CharField()


class BeatenSerializer(serializers.Serializer):
    """A motor that another beats or equals in everything."""

    better = serializers.IntegerField()
    worse = serializers.IntegerField()
    confidence = serializers.FloatField()
    sentence = serializers.CharField()


class SameMotorSerializer(serializers.Serializer):
    """Models that perform the same."""

    motors = serializers.ListField(child=serializers.IntegerField())
    sentence = serializers.CharField()


class RankingSerializer(serializers.Serializer):
    """A cohort scored."""

    loads = RankLoadSerializer(many=True)
    load = serializers.CharField(allow_blank=True)
    currency = serializers.CharField(allow_blank=True)
    sizes = serializers.ListField(child=serializers.CharField())
    measures = RankMeasureSerializer(many=True)
    rows = RankedMotorSerializer(many=True)
    fallen_out = FallenOutSerializer(many=True)
    ties = serializers.ListField(child=serializers.CharField())
    leader = LeaderSerializer(allow_null=True)
    swap = WeightSwapSerializer(allow_null=True)
    settle = SettlingSerializer(allow_null=True)
    left_open = serializers.CharField(allow_blank=True)
    beaten = BeatenSerializer(many=True)
    families = SameMotorSerializer(many=True)
    price_of_lead = serializers.CharField(allow_blank=True)
    remarks = serializers.ListField(child=serializers.CharField())


class OwnWeightsSerializer(serializers.ModelSerializer):
    """Weights kept by name."""

    weights = serializers.DictField(child=serializers.FloatField())
    made_by_name = serializers.SerializerMethodField()

    class Meta:
        model = OwnWeights
        fields = ["id", "version", "name", "weights", "made_by_name", "made_at"]

    def get_made_by_name(self, kept: OwnWeights) -> str:
        """Who keeps them."""
        return kept.made_by.shown_name if kept.made_by else ""


class NewWeightsSerializer(serializers.Serializer):
    """Weights to keep."""

    name = serializers.CharField(max_length=60)
    weights = serializers.DictField(
        child=serializers.FloatField(min_value=0.0, max_value=MOST_WEIGHT), allow_empty=False
    )

    def validate_weights(self, weights: dict[str, float]) -> dict[str, float]:
        """Of criteria that there are."""
        strange = [name for name in weights if name not in MEASURES]
        if strange:
            raise serializers.ValidationError(f"{strange[0]!r} is no criterion.")
        if not all(math.isfinite(weight) for weight in weights.values()):
            raise serializers.ValidationError("A weight is a number from 0 to 10.")
        return weights


class PresetSerializer(serializers.Serializer):
    """Weights of a use."""

    use = serializers.CharField()
    weights = serializers.DictField(child=serializers.FloatField())


class WeightListSerializer(serializers.Serializer):
    """Weights to begin from."""

    presets = PresetSerializer(many=True)
    own = OwnWeightsSerializer(many=True)


class KeptRankingSerializer(serializers.ModelSerializer):
    """A ranking as it stood."""

    kept_by_name = serializers.SerializerMethodField()
    asked = serializers.DictField(child=serializers.CharField())
    motors = serializers.SerializerMethodField()

    class Meta:
        model = KeptRanking
        fields = ["id", "title", "asked", "kept_by_name", "kept_at", "motors"]

    def get_kept_by_name(self, kept: KeptRanking) -> str:
        """Who kept it."""
        return kept.kept_by.shown_name if kept.kept_by else ""

    def get_motors(self, kept: KeptRanking) -> int:
        """How many motors it ranks."""
        return len(kept.content["motors"])


class NewKeptRankingSerializer(serializers.Serializer):
    """A ranking to keep: a title, and what was asked."""

    title = serializers.CharField(max_length=120)
    asked = AskedRankingSerializer()


class MovedSerializer(serializers.Serializer):
    """A motor whose place changed, and why."""

    name = serializers.CharField()
    before = serializers.IntegerField(allow_null=True)
    after = serializers.IntegerField(allow_null=True)
    reasons = serializers.ListField(child=serializers.CharField())


class MovesSerializer(serializers.Serializer):
    """Who moved since a kept ranking."""

    title = serializers.CharField()
    kept_at = serializers.DateTimeField()
    moved = MovedSerializer(many=True)
    stayed = serializers.IntegerField()


class AskedMassSerializer(serializers.Serializer):
    """Under which load thrust is taken, and against which motor."""

    load = serializers.CharField(required=False, default="", allow_blank=True, max_length=200)
    baseline = serializers.IntegerField(required=False, allow_null=True, default=None)


class MassDeltaSerializer(serializers.Serializer):
    """A difference to the baseline with what may be said of it."""

    delta = serializers.FloatField()
    delta_pct = serializers.FloatField()
    u_pct = serializers.FloatField()
    outcome = serializers.CharField()


class MassCellSerializer(serializers.Serializer):
    """A figure of a motor."""

    name = serializers.CharField()
    figure = StatedFigureSerializer()
    delta = MassDeltaSerializer(allow_null=True)


class MassRowSerializer(serializers.Serializer):
    """A motor's mass and money."""

    motor = serializers.IntegerField()
    motor_name = serializers.CharField()
    size_code = serializers.CharField(allow_blank=True)
    volume_mm3 = serializers.FloatField(allow_null=True)
    aspect = serializers.FloatField(allow_null=True)
    copper_room = serializers.CharField(allow_blank=True)
    price_words = serializers.CharField(allow_blank=True)
    losses = serializers.CharField(allow_blank=True)
    cells = MassCellSerializer(many=True)
    thrust_over_trend_pct = StatedFigureSerializer()
    mass_over_trend_pct = StatedFigureSerializer()
    baseline = serializers.BooleanField()


class MassLoadSerializer(serializers.Serializer):
    """A load under which thrust may be taken."""

    key = serializers.CharField()
    words = serializers.CharField()
    motors = serializers.IntegerField()


class MassAndMoneySerializer(serializers.Serializer):
    """Mass and money over the bench."""

    lead_length_mm = serializers.FloatField()
    currency = serializers.CharField(allow_blank=True)
    load = serializers.CharField(allow_blank=True)
    load_words = serializers.CharField(allow_blank=True)
    loads = MassLoadSerializer(many=True)
    rows = MassRowSerializer(many=True)
    trend_words = serializers.CharField()
    copper_words = serializers.CharField()
    choosing = serializers.ListField(child=serializers.CharField())
    more = serializers.IntegerField()
