"""A day at the bench: who, in what air, with what; what runs of the day have in common."""

from __future__ import annotations

from django.db import models

from spindle_core.model.air import standard_pressure_hpa
from spindle_server.records.choices import WordField
from spindle_server.records.history import History
from spindle_server.records.versions import Versioned
from spindle_server.rig.models.driving import Esc
from spindle_server.rig.models.stand import Stand

COMMAND_SOURCES = [
    ("stand", "The stand itself"),
    ("transmitter", "A transmitter"),
    ("servo_tester", "A servo tester"),
    ("flight_controller", "A flight controller's slider"),
    ("script", "A script"),
    ("unknown", "Nobody noted it"),
]


class BenchDay(Versioned):
    """What the runs and readings of a day inherit where they say nothing of their own.

    ``height_m``: above sea, where nobody read a barometer.
    """

    day = models.DateField(unique=True)
    people = models.CharField(max_length=120, blank=True)
    air_temp_c = models.FloatField(null=True, blank=True)
    air_pressure_hpa = models.FloatField(null=True, blank=True)
    height_m = models.FloatField(null=True, blank=True)
    air_humidity_pct = models.FloatField(null=True, blank=True)
    stand = models.ForeignKey(
        Stand, on_delete=models.PROTECT, null=True, blank=True, related_name="days"
    )
    esc = models.ForeignKey(
        Esc, on_delete=models.PROTECT, null=True, blank=True, related_name="days"
    )
    command_source = WordField(max_length=20, choices=COMMAND_SOURCES, default="unknown")
    note = models.TextField(blank=True)
    history = History()

    class Meta:
        ordering = ["-day"]
        constraints = [
            models.CheckConstraint(
                condition=(
                    models.Q(air_pressure_hpa__isnull=True)
                    | models.Q(air_pressure_hpa__gte=500, air_pressure_hpa__lte=1100)
                )
                & (
                    models.Q(air_temp_c__isnull=True)
                    | models.Q(air_temp_c__gte=-40, air_temp_c__lte=60)
                )
                & (
                    models.Q(air_humidity_pct__isnull=True)
                    | models.Q(air_humidity_pct__gte=0, air_humidity_pct__lte=100)
                )
                & (
                    models.Q(height_m__isnull=True)
                    | models.Q(height_m__gte=-450, height_m__lte=5500)
                ),
                name="air_of_the_day_is_possible",
            )
        ]

    def __str__(self) -> str:
        return f"{self.day}"

    @property
    def pressure_hpa(self) -> float | None:
        """Read from a barometer, else what is usual at the height; None where neither is known."""
        if self.air_pressure_hpa is not None or self.height_m is None:
            return self.air_pressure_hpa
        return standard_pressure_hpa(self.height_m)
