"""Propellers."""

from __future__ import annotations

from django.db import models

from spindle_server.motors.models import Maker
from spindle_server.records.choices import WordField
from spindle_server.records.history import History
from spindle_server.records.versions import Versioned

TURNS = [("cw", "Clockwise"), ("ccw", "Counter-clockwise")]
"""Seen from the side the air comes from."""


class Propeller(Versioned):
    """A propeller: diameter and pitch in inches, number of blades; its hub in mm where measured.

    Pitch and blades are null where nobody knows them; ``name`` is what is printed on it.
    ``at_hand`` false: it is not on this bench, and can be predicted but not run.
    """

    maker = models.ForeignKey(Maker, on_delete=models.PROTECT, related_name="propellers")
    name = models.CharField(max_length=60, blank=True)
    diameter_in = models.FloatField()
    pitch_in = models.FloatField(null=True, blank=True)
    blades = models.PositiveSmallIntegerField(null=True, blank=True)
    bore_mm = models.FloatField(null=True, blank=True)
    hub_thickness_mm = models.FloatField(null=True, blank=True)
    hole_circle_mm = models.FloatField(null=True, blank=True)
    hole_mm = models.FloatField(null=True, blank=True)
    mass_g = models.FloatField(null=True, blank=True)
    material = models.CharField(max_length=40, blank=True)
    condition = models.CharField(max_length=80, blank=True)
    turns = WordField(max_length=4, choices=TURNS, blank=True)
    at_hand = models.BooleanField(default=True)
    retired = models.BooleanField(default=False)
    history = History()

    class Meta:
        ordering = ["diameter_in", "pitch_in", "blades", "maker__name"]
        constraints = [
            models.UniqueConstraint(
                fields=["maker", "name", "diameter_in", "pitch_in", "blades"],
                name="propeller_is_unique",
            ),
            models.CheckConstraint(
                condition=models.Q(diameter_in__gt=0, diameter_in__lt=60)
                & (models.Q(pitch_in__isnull=True) | models.Q(pitch_in__gt=0))
                & (models.Q(blades__isnull=True) | models.Q(blades__gte=1, blades__lte=12)),
                name="propeller_is_possible",
            ),
        ]

    def __str__(self) -> str:
        return self.full_name

    @property
    def size(self) -> str:
        """Its geometry as far as it is known: 5.1x4.2x3, 5.1x4.2, 5.1 in."""
        if self.pitch_in is None:
            blades = "" if self.blades is None else f", {self.blades} blades"
            return f"{self.diameter_in:g} in{blades}"
        blades = "" if self.blades is None else f"x{self.blades}"
        return f"{self.diameter_in:g}x{self.pitch_in:g}{blades}"

    @property
    def full_name(self) -> str:
        """Maker, name where it has one, and geometry."""
        return " ".join(part for part in (self.maker.name, self.short_name) if part)

    @property
    def short_name(self) -> str:
        """Without its maker."""
        return " ".join(part for part in (self.name, self.size) if part)
