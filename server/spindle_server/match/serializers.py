"""Craft and what suits them, as JSON."""

from __future__ import annotations

from rest_framework import serializers

from spindle_server.match.models import LAYOUTS, MASS_BASES, Craft
from spindle_server.motors.models import MotorModel
from spindle_server.rank.models import USES
from spindle_server.rig.models import Propeller
from spindle_server.runs.stated import StatedFigureSerializer

CRAFT_FIELDS = (
    "name",
    "layout",
    "motors",
    "cells",
    "use",
    "items",
    "capacity_mah",
    "rated_c",
    "usable_pct",
    "propeller_room_in",
    "esc_rated_a",
    "least_thrust_to_weight",
    "arm_mm",
    "lift_to_drag",
    "cruise_throttle_pct",
    "flight_speed_m_per_s",
    "less_current_from_pct",
    "less_current_to_pct",
    "carries_motor",
    "carries_propeller",
    "lower_motor",
    "lower_propeller",
    "note",
)


class CraftItemSerializer(serializers.Serializer):
    """One thing that flies; ``half_width_g``: what a guess may be off by."""

    name = serializers.CharField(max_length=60)
    mass_g = serializers.FloatField(min_value=0.0, max_value=50_000.0)
    count = serializers.IntegerField(min_value=1, max_value=64, required=False, default=1)
    basis = serializers.ChoiceField(MASS_BASES, required=False, default="weighed")
    half_width_g = serializers.FloatField(
        min_value=0.0, max_value=50_000.0, required=False, allow_null=True, default=None
    )


def _number(low: float, high: float) -> serializers.FloatField:
    return serializers.FloatField(min_value=low, max_value=high, required=False, allow_null=True)


class CraftWriteSerializer(serializers.Serializer):
    """A craft as it is written; what nobody says is null, and no limit."""

    name = serializers.CharField(max_length=80)
    layout = serializers.ChoiceField(LAYOUTS, required=False, default="multirotor")
    motors = serializers.IntegerField(min_value=1, max_value=16, required=False, default=4)
    cells = serializers.IntegerField(min_value=1, max_value=16)
    use = serializers.ChoiceField(USES, required=False, default="equal")
    items = CraftItemSerializer(many=True)
    capacity_mah = serializers.FloatField(min_value=20.0, max_value=200_000.0)
    rated_c = _number(0.5, 500.0)
    usable_pct = serializers.FloatField(
        min_value=1.0, max_value=100.0, required=False, default=80.0
    )
    propeller_room_in = _number(0.5, 60.0)
    esc_rated_a = _number(0.5, 500.0)
    least_thrust_to_weight = _number(0.1, 12.0)
    arm_mm = _number(5.0, 2000.0)
    lift_to_drag = _number(0.5, 60.0)
    cruise_throttle_pct = _number(1.0, 100.0)
    flight_speed_m_per_s = _number(0.5, 120.0)
    less_current_from_pct = _number(0.0, 95.0)
    less_current_to_pct = _number(0.0, 95.0)
    carries_motor = serializers.PrimaryKeyRelatedField(
        queryset=MotorModel.objects.all(), required=False, allow_null=True
    )
    carries_propeller = serializers.PrimaryKeyRelatedField(
        queryset=Propeller.objects.all(), required=False, allow_null=True
    )
    lower_motor = serializers.PrimaryKeyRelatedField(
        queryset=MotorModel.objects.all(), required=False, allow_null=True
    )
    lower_propeller = serializers.PrimaryKeyRelatedField(
        queryset=Propeller.objects.all(), required=False, allow_null=True
    )
    note = serializers.CharField(required=False, default="", allow_blank=True, max_length=4000)


class CraftChangeSerializer(CraftWriteSerializer):
    """What of a craft is changed."""

    retired = serializers.BooleanField(required=False)
    version = serializers.IntegerField(required=False)


class CraftSerializer(serializers.ModelSerializer):
    """A craft."""

    items = CraftItemSerializer(many=True)
    made_by_name = serializers.SerializerMethodField()

    class Meta:
        model = Craft
        fields = ["id", "version", *CRAFT_FIELDS, "retired", "made_by_name", "made_at"]

    def get_made_by_name(self, craft: Craft) -> str:
        """Who keeps it."""
        return craft.made_by.shown_name if craft.made_by else ""


class SchoolEscSerializer(serializers.Serializer):
    """The ESC of one school; null with a note above every size."""

    margin = serializers.FloatField(allow_null=True)
    needed_a = serializers.FloatField(allow_null=True)
    size_a = serializers.IntegerField(allow_null=True)
    note = serializers.CharField(allow_blank=True)


class PackNeedSerializer(serializers.Serializer):
    """What a pack has to bear."""

    c_rate = StatedFigureSerializer()
    least_capacity_mah = StatedFigureSerializer()


class ApartSerializer(serializers.Serializer):
    """u without what all that were run carry alike, such as the craft's guessed mass."""

    thrust_to_weight = serializers.FloatField(allow_null=True)
    minutes = serializers.FloatField(allow_null=True)


class MatchedSerializer(serializers.Serializer):
    """A motor on a propeller on the craft; per motor but for mass, ratio, minutes and pack."""

    name = serializers.CharField()
    motor = serializers.IntegerField()
    motor_name = serializers.CharField()
    short = serializers.CharField(help_text="Both without their makers.")
    propeller = serializers.IntegerField(allow_null=True)
    propeller_name = serializers.CharField()
    predicted = serializers.BooleanField()
    runs = serializers.IntegerField()
    samples = serializers.IntegerField()
    load = serializers.CharField()
    up_to_pct = serializers.FloatField(help_text="The throttle up to which it was run.")
    mass_g = StatedFigureSerializer()
    thrust_to_weight = StatedFigureSerializer()
    hover_thrust_gf = StatedFigureSerializer()
    throttle_pct = StatedFigureSerializer()
    current_a = StatedFigureSerializer()
    power_w = StatedFigureSerializer()
    efficiency_g_per_w = StatedFigureSerializer()
    minutes = StatedFigureSerializer()
    max_thrust_gf = StatedFigureSerializer()
    peak_current_a = StatedFigureSerializer()
    pack_current_a = StatedFigureSerializer()
    esc = SchoolEscSerializer(many=True)
    pack = PackNeedSerializer(allow_null=True)
    tip_mach = StatedFigureSerializer()
    pitch_speed_m_per_s = StatedFigureSerializer()
    tip_fast = serializers.BooleanField()
    arm_inertia_kg_mm2 = StatedFigureSerializer()
    margin_hover_k = StatedFigureSerializer()
    margin_full_k = StatedFigureSerializer()
    apart = ApartSerializer()
    on_frontier = serializers.BooleanField()
    picked = serializers.ListField(child=serializers.CharField())
    barred = serializers.CharField(allow_blank=True)
    cautions = serializers.ListField(child=serializers.CharField())
    window = serializers.CharField(allow_blank=True)


class LevelSerializer(serializers.Serializer):
    """Who is not told apart from a pick, the nearest first, and how many more there are."""

    names = serializers.ListField(child=serializers.CharField())
    more = serializers.IntegerField()


class AlikeSerializer(serializers.Serializer):
    """Who is not told apart from each pick in what it is picked for."""

    strongest = LevelSerializer()
    thriftiest = LevelSerializer()
    chosen = LevelSerializer()


class PicksSerializer(serializers.Serializer):
    """The strongest, the thriftiest and the chosen, with the trade in words."""

    strongest = serializers.CharField()
    thriftiest = serializers.CharField()
    chosen = serializers.CharField()
    trade = serializers.CharField()
    alike = AlikeSerializer()


class FellOutSerializer(serializers.Serializer):
    """A reason and who fell out by it."""

    reason = serializers.CharField()
    count = serializers.IntegerField()
    examples = serializers.ListField(child=serializers.CharField())


class CraftChangedSerializer(serializers.Serializer):
    """What a change to the craft does."""

    kind = serializers.CharField()
    name = serializers.CharField()
    mass_g = StatedFigureSerializer()
    thrust_to_weight = StatedFigureSerializer()
    thrust_to_weight_was = StatedFigureSerializer()
    thrust_pct = StatedFigureSerializer()
    peak_current_pct = StatedFigureSerializer()
    minutes = StatedFigureSerializer()
    hover_current_pct = StatedFigureSerializer()
    price = StatedFigureSerializer()
    currency = serializers.CharField(allow_blank=True)
    estimated = serializers.BooleanField()
    sentence = serializers.CharField()


class UpgradeSerializer(serializers.Serializer):
    """From what the craft carries."""

    now = serializers.CharField()
    why_not = serializers.CharField(allow_blank=True)
    changes = CraftChangedSerializer(many=True)


class CraftMatchSerializer(serializers.Serializer):
    """Every motor on every propeller on a craft."""

    supply = serializers.CharField()
    least_thrust_to_weight = serializers.FloatField()
    rows = MatchedSerializer(many=True)
    more = serializers.IntegerField()
    picks = PicksSerializer(allow_null=True)
    no_pick = serializers.CharField(allow_blank=True)
    fell_out = FellOutSerializer(many=True)
    upgrade = UpgradeSerializer(allow_null=True)
    remarks = serializers.ListField(child=serializers.CharField())


class AskedCloserSerializer(serializers.Serializer):
    """Which combination, and which other number of cells to think of."""

    motor = serializers.IntegerField(min_value=1)
    propeller = serializers.IntegerField(min_value=1)
    cells = serializers.IntegerField(min_value=1, max_value=16, required=False)


class SaidSerializer(serializers.Serializer):
    """A sentence under a topic."""

    topic = serializers.CharField()
    text = serializers.CharField()


class SuitsSerializer(serializers.Serializer):
    """The craft that a motor suits for a use."""

    use = serializers.CharField()
    least_thrust_to_weight = serializers.FloatField()
    lightest_g = StatedFigureSerializer()
    heaviest_g = StatedFigureSerializer()
    least_capacity_mah = StatedFigureSerializer()
    rated_c = serializers.FloatField()


class CloserLookSerializer(serializers.Serializer):
    """One combination, looked at closer."""

    name = serializers.CharField()
    other_cells = serializers.IntegerField()
    said = SaidSerializer(many=True)
    suits = SuitsSerializer(many=True)
