"""Propellers and what the bench declares as JSON."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from spindle_server.rig.models import Declaration, Propeller


class PropellerSerializer(serializers.ModelSerializer):
    """A propeller; its maker by name."""

    maker = serializers.CharField(source="maker.name", max_length=60)
    full_name = serializers.CharField(read_only=True)
    size = serializers.CharField(read_only=True)
    name = serializers.CharField(max_length=60, required=False, allow_blank=True)
    blades = serializers.IntegerField(
        min_value=1, max_value=12, required=False, allow_null=True, default=None
    )
    diameter_in = serializers.FloatField(min_value=0.5, max_value=59)
    pitch_in = serializers.FloatField(
        min_value=0.1, max_value=59, required=False, allow_null=True, default=None
    )

    class Meta:
        model = Propeller
        fields = [
            "id",
            "maker",
            "name",
            "size",
            "diameter_in",
            "pitch_in",
            "blades",
            "full_name",
            "bore_mm",
            "hub_thickness_mm",
            "hole_circle_mm",
            "hole_mm",
            "mass_g",
            "material",
            "condition",
            "turns",
            "at_hand",
            "retired",
            "version",
        ]
        read_only_fields = [
            "id",
            "bore_mm",
            "hub_thickness_mm",
            "hole_circle_mm",
            "hole_mm",
            "retired",
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


class ChangedPropellerSerializer(serializers.ModelSerializer):
    """What is known of a propeller: geometry, hub as measured [mm], condition."""

    name = serializers.CharField(max_length=60, required=False, allow_blank=True)
    blades = serializers.IntegerField(min_value=1, max_value=12, required=False, allow_null=True)
    diameter_in = serializers.FloatField(min_value=0.5, max_value=59, required=False)
    pitch_in = serializers.FloatField(min_value=0.1, max_value=59, required=False, allow_null=True)
    bore_mm = serializers.FloatField(min_value=0.5, max_value=30, allow_null=True, required=False)
    hub_thickness_mm = serializers.FloatField(
        min_value=0.5, max_value=40, allow_null=True, required=False
    )
    hole_circle_mm = serializers.FloatField(
        min_value=2, max_value=60, allow_null=True, required=False
    )
    hole_mm = serializers.FloatField(min_value=0.5, max_value=8, allow_null=True, required=False)
    mass_g = serializers.FloatField(min_value=0.1, max_value=2000, allow_null=True, required=False)
    version = serializers.IntegerField(required=False)

    class Meta:
        model = Propeller
        fields = [
            "name",
            "diameter_in",
            "pitch_in",
            "blades",
            "bore_mm",
            "hub_thickness_mm",
            "hole_circle_mm",
            "hole_mm",
            "mass_g",
            "material",
            "condition",
            "turns",
            "at_hand",
            "retired",
            "version",
        ]


class PropellerReadingSerializer(serializers.Serializer):
    """One propeller that a way of writing can mean."""

    diameter_in = serializers.FloatField()
    pitch_in = serializers.FloatField(allow_null=True)
    blades = serializers.IntegerField(allow_null=True)
    certain = serializers.BooleanField()
    how = serializers.CharField()
    fits = serializers.BooleanField(allow_null=True)
    there = serializers.CharField(allow_blank=True)


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
