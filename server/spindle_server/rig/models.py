"""What a motor is tested with: propellers, supplies and stands."""

from __future__ import annotations

from django.db import models

from spindle_server.motors.models import Maker
from spindle_server.records.choices import WordField
from spindle_server.records.history import History
from spindle_server.records.versions import Versioned

SUPPLY_KINDS = [("psu", "Bench supply"), ("pack", "Pack")]
STAND_KINDS = [("direct", "Direct load cell"), ("lever", "Lever arm on a scale")]


class Propeller(Versioned):
    """A propeller: diameter and pitch in inches, number of blades; its hub in mm where measured."""

    maker = models.ForeignKey(Maker, on_delete=models.PROTECT, related_name="propellers")
    diameter_in = models.FloatField()
    pitch_in = models.FloatField()
    blades = models.PositiveSmallIntegerField()
    bore_mm = models.FloatField(null=True, blank=True)
    hub_thickness_mm = models.FloatField(null=True, blank=True)
    hole_circle_mm = models.FloatField(null=True, blank=True)
    hole_mm = models.FloatField(null=True, blank=True)
    history = History()

    class Meta:
        ordering = ["diameter_in", "pitch_in", "blades", "maker__name"]
        constraints = [
            models.UniqueConstraint(
                fields=["maker", "diameter_in", "pitch_in", "blades"], name="propeller_is_unique"
            ),
            models.CheckConstraint(
                condition=models.Q(
                    diameter_in__gt=0,
                    diameter_in__lt=60,
                    pitch_in__gt=0,
                    blades__gte=1,
                    blades__lte=12,
                ),
                name="propeller_is_possible",
            ),
        ]

    def __str__(self) -> str:
        return self.full_name

    @property
    def full_name(self) -> str:
        """Maker and geometry, diameter × pitch × blades."""
        return f"{self.maker.name} {self.diameter_in:g}x{self.pitch_in:g}x{self.blades}"


class Supply(Versioned):
    """A bench supply or a pack. A pack's nominal voltage is 3.7 V a cell."""

    name = models.CharField(max_length=60, unique=True)
    kind = WordField(max_length=4, choices=SUPPLY_KINDS)
    nominal_voltage_v = models.FloatField()
    open_circuit_v = models.FloatField()
    resistance_ohm = models.FloatField()
    trip_a = models.FloatField(null=True, blank=True)
    cells = models.PositiveSmallIntegerField(null=True, blank=True)
    capacity_mah = models.FloatField(null=True, blank=True)
    history = History()

    class Meta:
        ordering = ["kind", "name"]
        constraints = [
            models.CheckConstraint(
                condition=models.Q(
                    nominal_voltage_v__gt=0, nominal_voltage_v__lte=120, resistance_ohm__gt=0
                ),
                name="supply_is_possible",
            ),
            models.CheckConstraint(
                condition=models.Q(kind="psu", cells__isnull=True, capacity_mah__isnull=True)
                | models.Q(kind="pack", cells__isnull=False, capacity_mah__isnull=False),
                name="supply_fits_its_kind",
            ),
        ]

    def __str__(self) -> str:
        return self.name

    @property
    def floor_v(self) -> float:
        """The voltage below which a run is cut: 3.3 V a cell, or 0.8 of a supply's nominal [V]."""
        return 3.3 * self.cells if self.cells else 0.8 * self.nominal_voltage_v


class Stand(Versioned):
    """A thrust stand with what is declared of it.

    ``repeatability_rel``: relative standard deviation of one run; ``calibration_rel``: relative
    standard uncertainty of its calibration, shared by all its runs.
    """

    name = models.CharField(max_length=60, unique=True)
    kind = WordField(max_length=8, choices=STAND_KINDS)
    repeatability_rel = models.FloatField()
    calibration_rel = models.FloatField()
    live = models.BooleanField(default=False)
    note = models.TextField(blank=True)
    history = History()

    class Meta:
        ordering = ["name"]
        constraints = [
            models.CheckConstraint(
                condition=models.Q(
                    repeatability_rel__gt=0,
                    repeatability_rel__lt=0.5,
                    calibration_rel__gte=0,
                    calibration_rel__lt=0.5,
                ),
                name="stand_uncertainty_is_possible",
            )
        ]

    def __str__(self) -> str:
        return self.name


class Declaration(Versioned):
    """What the bench declares once: the lead length masses are compared at, the usual arm, and
    the room round the propeller on the stand."""

    only = models.PositiveSmallIntegerField(default=1, unique=True, editable=False)
    lead_length_mm = models.FloatField(default=60.0)
    arm_thickness_mm = models.FloatField(default=4.0)
    nearest_part_mm = models.FloatField(null=True, blank=True)
    history = History()

    class Meta:
        constraints = [
            models.CheckConstraint(
                condition=models.Q(
                    lead_length_mm__gte=0,
                    lead_length_mm__lte=600,
                    arm_thickness_mm__gt=0,
                    arm_thickness_mm__lte=30,
                ),
                name="declaration_is_possible",
            ),
            models.CheckConstraint(condition=models.Q(only=1), name="one_declaration"),
        ]

    def __str__(self) -> str:
        return "What the bench declares"
