"""Adapters as JSON."""

from __future__ import annotations

from rest_framework import serializers

from spindle_server.rig.models import Adapter


def _size(most: float, *, least: float = 0.1) -> serializers.FloatField:
    return serializers.FloatField(
        min_value=least, max_value=most, required=False, allow_null=True, default=None
    )


class AdapterSerializer(serializers.ModelSerializer):
    """An adapter; sizes in mm, null where unknown or where its kind has none."""

    name = serializers.CharField(max_length=60)
    inner_mm = _size(40)
    outer_mm = _size(40)
    height_mm = _size(40)
    least_mm = _size(20)
    most_mm = _size(20)
    grip_mm = _size(60)
    hole_circle_mm = _size(60)
    hole_mm = _size(10)
    stud_mm = _size(20)
    free_length_mm = _size(80)
    nut_mm = _size(30)
    washer_mm = _size(10)
    note = serializers.CharField(required=False, default="", allow_blank=True, max_length=400)
    version = serializers.IntegerField(required=False)

    class Meta:
        model = Adapter
        fields = [
            "id",
            "name",
            "kind",
            "inner_mm",
            "outer_mm",
            "height_mm",
            "least_mm",
            "most_mm",
            "grip_mm",
            "hole_circle_mm",
            "hole_mm",
            "stud_mm",
            "free_length_mm",
            "nut_mm",
            "washer_mm",
            "note",
            "retired",
            "version",
        ]
        read_only_fields = ["id"]
