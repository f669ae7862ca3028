"""What may be on the bench twice, and what became of it."""

from __future__ import annotations

from rest_framework import serializers

from spindle_server.doubles.finding import Pair
from spindle_server.doubles.merging import THINGS
from spindle_server.motors.models import Merged

THING_CHOICES = [(thing, thing.capitalize()) for thing in THINGS]


class DoubleSerializer(serializers.Serializer):
    """Two that may be one."""

    thing = serializers.ChoiceField(THING_CHOICES)
    stays = serializers.IntegerField(source="one.pk")
    stays_name = serializers.SerializerMethodField()
    gone = serializers.IntegerField(source="other.pk")
    gone_name = serializers.SerializerMethodField()
    why = serializers.CharField()

    def get_stays_name(self, pair: Pair) -> str:
        """What the older one is called."""
        return pair.names[0]

    def get_gone_name(self, pair: Pair) -> str:
        """What the newer one is called."""
        return pair.names[1]


class MergedSerializer(serializers.ModelSerializer):
    """What was merged already."""

    class Meta:
        model = Merged
        fields = ["id", "thing", "gone", "gone_name", "stays", "merged_at"]


class DoublesSerializer(serializers.Serializer):
    """Pairs that may be doubles, how many more there are, and what was merged last."""

    pairs = DoubleSerializer(many=True)
    more = serializers.IntegerField()
    merged = MergedSerializer(many=True)


class DoublesLookedAtSerializer(serializers.Serializer):
    """Which two are looked at."""

    thing = serializers.ChoiceField(THING_CHOICES)
    stays = serializers.IntegerField(min_value=1)
    gone = serializers.IntegerField(min_value=1)


class MergeSerializer(DoublesLookedAtSerializer):
    """Which become one, from which versions; null for makers, which have none."""

    stays_version = serializers.IntegerField(allow_null=True)
    gone_version = serializers.IntegerField(allow_null=True)


class MovesAlongSerializer(serializers.Serializer):
    """So many of a kind of thing."""

    what = serializers.CharField()
    count = serializers.IntegerField()


class RenamedSerializer(serializers.Serializer):
    """The mark of a sample."""

    before = serializers.CharField()
    after = serializers.CharField()


class DiffersSerializer(serializers.Serializer):
    """What the two say otherwise; what the one that stays says stands."""

    what = serializers.CharField()
    stays = serializers.CharField()
    gone = serializers.CharField()


class MergerSerializer(serializers.Serializer):
    """What becomes of two that are one; the versions are those that were looked at."""

    stays = serializers.IntegerField(source="stays.pk")
    stays_name = serializers.CharField()
    stays_version = serializers.IntegerField(allow_null=True)
    gone_name = serializers.CharField()
    gone_version = serializers.IntegerField(allow_null=True)
    moved = MovesAlongSerializer(many=True)
    renamed = RenamedSerializer(many=True)
    dropped = serializers.ListField(child=serializers.CharField())
    set_apart = serializers.ListField(child=serializers.CharField())
    filled = serializers.ListField(child=serializers.CharField())
    differs = DiffersSerializer(many=True)
