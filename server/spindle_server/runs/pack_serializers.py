"""Packs as they stand, as JSON."""

from __future__ import annotations

from rest_framework import serializers

from spindle_core.model.pack_now import Charge
from spindle_server.rig.models.pack_said import CHARGES


class ChargeFigureSerializer(serializers.Serializer):
    """A charge [mAh], estimated; null with the reason."""

    value = serializers.FloatField(allow_null=True)
    u = serializers.FloatField(allow_null=True)
    why = serializers.CharField(allow_blank=True)


class PackNowSerializer(serializers.Serializer):
    """A pack as it stands. ``waits``: why no run can be made on it; empty where one can."""

    supply = serializers.IntegerField()
    name = serializers.CharField()
    state = serializers.ChoiceField([str(one) for one in Charge])
    words = serializers.CharField()
    waits = serializers.CharField(allow_blank=True)
    used_mah = ChargeFigureSerializer()
    left_mah = ChargeFigureSerializer()
    capacity_mah = serializers.FloatField(allow_null=True)
    runs = serializers.IntegerField(help_text="Runs since it was said.")
    said_at = serializers.DateTimeField(allow_null=True)
    joined = serializers.BooleanField(help_text="Of others: it stands as the worst of them.")


class SaidOfPackSerializer(serializers.Serializer):
    """What is said of a pack now; ``used_mah``: what of it is used, where somebody knows."""

    state = serializers.ChoiceField(CHARGES)
    used_mah = serializers.FloatField(
        required=False, allow_null=True, default=None, min_value=0.0, max_value=1e6
    )
