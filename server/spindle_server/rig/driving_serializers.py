"""Supplies, packs and ESCs as JSON."""

from __future__ import annotations

from rest_framework import serializers

from spindle_server.rig.joining import limited_by
from spindle_server.rig.models import CHEMISTRY_CHOICES, JOINS, SUPPLY_KINDS, Esc, Supply


class JoinedPackSerializer(serializers.ModelSerializer):
    """A pack of a joined supply."""

    class Meta:
        model = Supply
        fields = ["id", "name", "retired"]


class SupplySerializer(serializers.ModelSerializer):
    """A supply or pack; ``assumed_*`` where nobody measured its resistance.

    ``joined``: several packs as one; ``limited_by`` names the one that sets its limit.
    """

    packs = JoinedPackSerializer(many=True, read_only=True)
    limited_by = serializers.SerializerMethodField()

    floor_v = serializers.FloatField(read_only=True, allow_null=True)
    limit_a = serializers.FloatField(read_only=True, allow_null=True)
    assumed_ohm = serializers.SerializerMethodField()
    assumed_words = serializers.SerializerMethodField()

    class Meta:
        model = Supply
        fields = [
            "id",
            "name",
            "kind",
            "nominal_voltage_v",
            "open_circuit_v",
            "resistance_ohm",
            "assumed_ohm",
            "assumed_words",
            "trip_a",
            "folds_back",
            "limit_a",
            "chemistry",
            "cells",
            "capacity_mah",
            "rate_c",
            "cycles",
            "joined",
            "packs",
            "limited_by",
            "floor_v",
            "note",
            "retired",
            "version",
        ]

    def get_limited_by(self, supply: Supply) -> str:
        """The pack that sets the limit; empty where none or nobody knows."""
        return limited_by(supply) if supply.joined else ""

    def get_assumed_ohm(self, supply: Supply) -> float | None:
        """The assumed resistance [Ω]; null where it was measured or nothing can be assumed."""
        return supply.assumed.ohm if supply.assumed else None

    def get_assumed_words(self, supply: Supply) -> str:
        """What is assumed, in words."""
        return supply.assumed.words if supply.assumed else ""


class SupplyFactsSerializer(serializers.Serializer):
    """What is known of a supply or pack, whole or in part."""

    name = serializers.CharField(max_length=60)
    kind = serializers.ChoiceField(SUPPLY_KINDS)
    resistance_ohm = serializers.FloatField(
        min_value=0.0001, max_value=2, required=False, allow_null=True, default=None
    )
    nominal_voltage_v = serializers.FloatField(
        min_value=1, max_value=120, required=False, allow_null=True, default=None
    )
    trip_a = serializers.FloatField(
        min_value=0.5, max_value=1000, required=False, allow_null=True, default=None
    )
    folds_back = serializers.BooleanField(required=False, default=False)
    chemistry = serializers.ChoiceField(
        CHEMISTRY_CHOICES, required=False, default="", allow_blank=True
    )
    cells = serializers.IntegerField(
        min_value=1, max_value=16, required=False, allow_null=True, default=None
    )
    capacity_mah = serializers.FloatField(
        min_value=50, max_value=100_000, required=False, allow_null=True, default=None
    )
    rate_c = serializers.FloatField(
        min_value=0.5, max_value=500, required=False, allow_null=True, default=None
    )
    cycles = serializers.IntegerField(
        min_value=0, max_value=10_000, required=False, allow_null=True, default=None
    )
    note = serializers.CharField(required=False, default="", allow_blank=True, max_length=400)


class NewSupplySerializer(SupplyFactsSerializer):
    """A supply, a pack, or several packs joined into one."""

    joined = serializers.ChoiceField(JOINS, required=False, default="", allow_blank=True)
    packs = serializers.ListField(
        child=serializers.IntegerField(min_value=1), required=False, max_length=12
    )


class ChangedSupplySerializer(SupplyFactsSerializer):
    """What is changed of a supply; the packs that it is joined of stay."""

    retired = serializers.BooleanField(required=False)
    version = serializers.IntegerField(required=False)


class EscSerializer(serializers.ModelSerializer):
    """An ESC; null where nobody knows."""

    name = serializers.CharField(max_length=60)
    rated_a = serializers.FloatField(min_value=0.5, max_value=1000, required=False, allow_null=True)
    burst_a = serializers.FloatField(min_value=0.5, max_value=1500, required=False, allow_null=True)
    mass_g = serializers.FloatField(min_value=0.1, max_value=2000, required=False, allow_null=True)
    bec_v = serializers.FloatField(min_value=1, max_value=60, required=False, allow_null=True)
    bec_a = serializers.FloatField(min_value=0.05, max_value=60, required=False, allow_null=True)
    settings = serializers.DictField(
        child=serializers.CharField(max_length=60, allow_blank=True), required=False
    )
    version = serializers.IntegerField(required=False)

    class Meta:
        model = Esc
        fields = [
            "id",
            "name",
            "rated_a",
            "burst_a",
            "mass_g",
            "bec_v",
            "bec_a",
            "protocol",
            "linear",
            "settings",
            "note",
            "retired",
            "version",
        ]
        read_only_fields = ["id"]
