"""Bench days as JSON."""

from __future__ import annotations

from rest_framework import serializers

from spindle_core.model.air import WEATHER_U_HPA
from spindle_server.rig.models import BenchDay, Esc, Stand
from spindle_server.runs import bench_days


class BenchDaySheetSerializer(serializers.ModelSerializer):
    """A day: people, air, stand, ESC, command; ``pressure_hpa`` as read or from the height."""

    air_temp_c = serializers.FloatField(
        min_value=-40, max_value=60, required=False, allow_null=True
    )
    air_pressure_hpa = serializers.FloatField(
        min_value=500, max_value=1100, required=False, allow_null=True
    )
    height_m = serializers.FloatField(
        min_value=-450, max_value=5500, required=False, allow_null=True
    )
    air_humidity_pct = serializers.FloatField(
        min_value=0, max_value=100, required=False, allow_null=True
    )
    stand = serializers.PrimaryKeyRelatedField(
        queryset=Stand.objects.all(), required=False, allow_null=True
    )
    esc = serializers.PrimaryKeyRelatedField(
        queryset=Esc.objects.all(), required=False, allow_null=True
    )
    stand_name = serializers.CharField(source="stand.name", read_only=True, default="")
    esc_name = serializers.CharField(source="esc.name", read_only=True, default="")
    pressure_hpa = serializers.FloatField(read_only=True, allow_null=True)
    pressure_u_hpa = serializers.SerializerMethodField()
    touches = serializers.SerializerMethodField()
    with_runs = serializers.BooleanField(
        required=False, allow_null=True, default=None, write_only=True
    )
    version = serializers.IntegerField(required=False)

    class Meta:
        model = BenchDay
        fields = [
            "day",
            "people",
            "air_temp_c",
            "air_pressure_hpa",
            "height_m",
            "pressure_hpa",
            "pressure_u_hpa",
            "air_humidity_pct",
            "stand",
            "stand_name",
            "esc",
            "esc_name",
            "command_source",
            "note",
            "touches",
            "with_runs",
            "version",
        ]
        read_only_fields = ["day"]

    def get_pressure_u_hpa(self, row: BenchDay) -> float | None:
        """u of a pressure that comes from the height alone; null for one that was read."""
        from_height = row.air_pressure_hpa is None and row.height_m is not None
        return WEATHER_U_HPA if from_height else None

    def get_touches(self, row: BenchDay) -> list[int]:
        """Runs of the day that took something from it."""
        return bench_days.touched_by(row)
