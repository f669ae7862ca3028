"""Propellers, supplies and stands as JSON."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from spindle_server.rig.models import Propeller, Stand, Supply


class PropellerSerializer(serializers.ModelSerializer):
    """A propeller; its maker by name."""

    maker = serializers.CharField(source="maker.name", max_length=60)
    full_name = serializers.CharField(read_only=True)
    blades = serializers.IntegerField(min_value=1, max_value=12)
    diameter_in = serializers.FloatField(min_value=0.5, max_value=59)
    pitch_in = serializers.FloatField(min_value=0.1, max_value=59)

    class Meta:
        model = Propeller
        fields = ["id", "maker", "diameter_in", "pitch_in", "blades", "full_name"]
        validators: list[Any] = []


class SupplySerializer(serializers.ModelSerializer):
    """A supply or pack."""

    floor_v = serializers.FloatField(read_only=True)

    class Meta:
        model = Supply
        fields = [
            "id", "name", "kind", "nominal_voltage_v", "open_circuit_v", "resistance_ohm",
            "trip_a", "cells", "capacity_mah", "floor_v",
        ]  # fmt: skip


class StandSerializer(serializers.ModelSerializer):
    """A stand with what it declares of itself."""

    class Meta:
        model = Stand
        fields = [
            "id", "name", "kind", "repeatability_rel", "calibration_rel", "live", "note",
        ]  # fmt: skip
