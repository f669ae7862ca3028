"""Propellers, supplies and stands as JSON."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from spindle_server.rig.models import (
    STAND_KINDS,
    SUPPLY_KINDS,
    Declaration,
    Propeller,
    Stand,
    Supply,
)


class PropellerSerializer(serializers.ModelSerializer):
    """A propeller; its maker by name."""

    maker = serializers.CharField(source="maker.name", max_length=60)
    full_name = serializers.CharField(read_only=True)
    blades = serializers.IntegerField(min_value=1, max_value=12)
    diameter_in = serializers.FloatField(min_value=0.5, max_value=59)
    pitch_in = serializers.FloatField(min_value=0.1, max_value=59)

    class Meta:
        model = Propeller
        fields = [
            "id",
            "maker",
            "diameter_in",
            "pitch_in",
            "blades",
            "full_name",
            "bore_mm",
            "hub_thickness_mm",
            "hole_circle_mm",
            "hole_mm",
            "version",
        ]
        read_only_fields = [
            "id",
            "bore_mm",
            "hub_thickness_mm",
            "hole_circle_mm",
            "hole_mm",
            "version",
        ]
        validators: list[Any] = []


class CommonSizeSerializer(serializers.Serializer):
    """A common size of propellers, and whether it is in the library."""

    text = serializers.CharField()
    diameter_in = serializers.FloatField()
    pitch_in = serializers.FloatField()
    blades = serializers.IntegerField()
    taken = serializers.BooleanField()


class TakeSizesSerializer(serializers.Serializer):
    """Which of them to take."""

    sizes = serializers.ListField(child=serializers.CharField(max_length=20), max_length=40)


class HubSerializer(serializers.ModelSerializer):
    """A propeller's hub as measured [mm]; null where it was not."""

    bore_mm = serializers.FloatField(min_value=0.5, max_value=30, allow_null=True, required=False)
    hub_thickness_mm = serializers.FloatField(
        min_value=0.5, max_value=40, allow_null=True, required=False
    )
    hole_circle_mm = serializers.FloatField(
        min_value=2, max_value=60, allow_null=True, required=False
    )
    hole_mm = serializers.FloatField(min_value=0.5, max_value=8, allow_null=True, required=False)
    version = serializers.IntegerField(required=False)

    class Meta:
        model = Propeller
        fields = ["bore_mm", "hub_thickness_mm", "hole_circle_mm", "hole_mm", "version"]


class DeclarationSerializer(serializers.ModelSerializer):
    """What the bench declares once [mm]."""

    lead_length_mm = serializers.FloatField(min_value=0, max_value=600, required=False)
    arm_thickness_mm = serializers.FloatField(min_value=0.5, max_value=30, required=False)
    nearest_part_mm = serializers.FloatField(
        min_value=10, max_value=2000, required=False, allow_null=True
    )
    version = serializers.IntegerField(required=False)

    class Meta:
        model = Declaration
        fields = ["lead_length_mm", "arm_thickness_mm", "nearest_part_mm", "version"]


class SupplySerializer(serializers.ModelSerializer):
    """A supply or pack."""

    floor_v = serializers.FloatField(read_only=True)

    class Meta:
        model = Supply
        fields = [
            "id",
            "name",
            "kind",
            "nominal_voltage_v",
            "open_circuit_v",
            "resistance_ohm",
            "trip_a",
            "cells",
            "capacity_mah",
            "floor_v",
        ]


class StandSerializer(serializers.ModelSerializer):
    """A stand with what it declares of itself."""

    class Meta:
        model = Stand
        fields = ["id", "name", "kind", "repeatability_rel", "calibration_rel", "live", "note"]


class NewSupplySerializer(serializers.Serializer):
    """A supply or pack to add."""

    name = serializers.CharField(max_length=60)
    kind = serializers.ChoiceField(SUPPLY_KINDS)
    resistance_ohm = serializers.FloatField(min_value=0.0001, max_value=2)
    nominal_voltage_v = serializers.FloatField(
        min_value=1, max_value=120, required=False, allow_null=True, default=None
    )
    trip_a = serializers.FloatField(
        min_value=0.5, max_value=1000, required=False, allow_null=True, default=None
    )
    cells = serializers.IntegerField(
        min_value=1, max_value=16, required=False, allow_null=True, default=None
    )
    capacity_mah = serializers.FloatField(
        min_value=50, max_value=100_000, required=False, allow_null=True, default=None
    )


class NewStandSerializer(serializers.Serializer):
    """A stand to add; both uncertainties are relative standard uncertainties."""

    name = serializers.CharField(max_length=60)
    kind = serializers.ChoiceField(STAND_KINDS)
    repeatability_rel = serializers.FloatField(min_value=0.0001, max_value=0.49)
    calibration_rel = serializers.FloatField(min_value=0, max_value=0.49)
    live = serializers.BooleanField(required=False, default=False)
    note = serializers.CharField(required=False, default="", allow_blank=True, max_length=400)
