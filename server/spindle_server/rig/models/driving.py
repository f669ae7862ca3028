"""What drives a motor: bench supplies, packs and ESCs."""

from __future__ import annotations

from django.db import models

from spindle_core.model.pack import CHEMISTRIES, AssumedResistance, PackFacts, assumed_resistance
from spindle_server.records.choices import WordField
from spindle_server.records.history import History
from spindle_server.records.versions import Versioned

SUPPLY_KINDS = [("psu", "Bench supply"), ("pack", "Pack")]
CHEMISTRY_CHOICES = [(key, item.label.capitalize()) for key, item in CHEMISTRIES.items()]
JOINS = [("series", "In series"), ("parallel", "In parallel")]
PSU_FLOOR_SHARE = 0.8
"""Share of a bench supply's voltage below which a run is cut."""


class Supply(Versioned):
    """A bench supply or a pack. Volts of a pack follow from its cells and chemistry.

    ``resistance_ohm`` null: nobody measured it. A pack without cells or capacity is a name; what
    needs them is absent. ``folds_back``: at its limit a bench supply lowers its voltage.
    ``joined``: several packs used as one; what is known of it follows from ``packs``, which stay
    as they were joined.
    """

    name = models.CharField(max_length=60, unique=True)
    kind = WordField(max_length=4, choices=SUPPLY_KINDS)
    nominal_voltage_v = models.FloatField(null=True, blank=True)
    open_circuit_v = models.FloatField(null=True, blank=True)
    resistance_ohm = models.FloatField(null=True, blank=True)
    trip_a = models.FloatField(null=True, blank=True)
    folds_back = models.BooleanField(default=False)
    chemistry = WordField(max_length=6, blank=True, choices=CHEMISTRY_CHOICES)
    cells = models.PositiveSmallIntegerField(null=True, blank=True)
    capacity_mah = models.FloatField(null=True, blank=True)
    rate_c = models.FloatField(null=True, blank=True)
    cycles = models.PositiveIntegerField(null=True, blank=True)
    joined = WordField(max_length=8, blank=True, choices=JOINS)
    packs = models.ManyToManyField(
        "self", symmetrical=False, related_name="joined_into", blank=True
    )
    note = models.TextField(blank=True)
    retired = models.BooleanField(default=False)
    history = History()

    class Meta:
        ordering = ["kind", "name"]
        verbose_name = "supply"
        constraints = [
            models.CheckConstraint(
                condition=(
                    models.Q(nominal_voltage_v__isnull=True)
                    | models.Q(nominal_voltage_v__gt=0, nominal_voltage_v__lte=120)
                )
                & (models.Q(resistance_ohm__isnull=True) | models.Q(resistance_ohm__gt=0)),
                name="supply_is_possible",
            ),
            models.CheckConstraint(
                condition=models.Q(
                    kind="psu",
                    cells__isnull=True,
                    capacity_mah__isnull=True,
                    rate_c__isnull=True,
                    nominal_voltage_v__isnull=False,
                )
                | models.Q(kind="pack", trip_a__isnull=True),
                name="supply_fits_its_kind",
            ),
        ]

    def __str__(self) -> str:
        return self.name

    @property
    def floor_v(self) -> float | None:
        """The voltage below which a run is cut [V], to the hundredth: of the pack's chemistry, or
        0.8 of a supply's nominal; None for a pack whose cells nobody knows."""
        if self.kind == "pack":
            cell = CHEMISTRIES.get(self.chemistry or "lipo")
            floor = cell.floor_v * self.cells if cell and self.cells else None
        else:
            floor = PSU_FLOOR_SHARE * self.nominal_voltage_v if self.nominal_voltage_v else None
        # What is shown, proposed and asked for is one number, with digits that can be typed.
        return None if floor is None else round(floor, 2)

    @property
    def limit_a(self) -> float | None:
        """What it gives at most [A]: a supply's limit, or a pack's rate times its capacity."""
        if self.kind == "psu":
            return self.trip_a
        if self.rate_c is None or self.capacity_mah is None:
            return None
        return self.rate_c * self.capacity_mah / 1000.0

    @property
    def facts(self) -> PackFacts | None:
        """The pack as the core takes it, its resistance assumed where nobody measured it; None
        where cells or capacity are not known."""
        if self.kind != "pack" or not self.cells or not self.capacity_mah:
            return None
        ohm = self.resistance_ohm or assumed_resistance(self.cells, self.capacity_mah).ohm
        chemistry = self.chemistry or "lipo"
        return PackFacts(self.name, chemistry, self.cells, self.capacity_mah, ohm, self.rate_c)

    @property
    def assumed(self) -> AssumedResistance | None:
        """What is assumed of a resistance that nobody measured; None where it was, or nothing can
        be assumed."""
        if self.resistance_ohm is not None or not self.cells or not self.capacity_mah:
            return None
        return assumed_resistance(self.cells, self.capacity_mah)


class Esc(Versioned):
    """An electronic speed controller. ``settings``: name → value, as its maker calls them.

    ``linear``: whether it turns throttle into duty linearly; null where nobody knows.
    """

    name = models.CharField(max_length=60, unique=True)
    rated_a = models.FloatField(null=True, blank=True)
    burst_a = models.FloatField(null=True, blank=True)
    mass_g = models.FloatField(null=True, blank=True)
    bec_v = models.FloatField(null=True, blank=True)
    """What its BEC gives to the receiver [V]; null where it has none or nobody knows."""
    bec_a = models.FloatField(null=True, blank=True)
    protocol = models.CharField(max_length=40, blank=True)
    linear = models.BooleanField(null=True, blank=True)
    settings = models.JSONField(default=dict, blank=True)
    note = models.TextField(blank=True)
    retired = models.BooleanField(default=False)
    history = History()

    class Meta:
        ordering = ["name"]
        verbose_name = "ESC"
        constraints = [
            models.CheckConstraint(
                condition=(models.Q(rated_a__isnull=True) | models.Q(rated_a__gt=0))
                & (models.Q(burst_a__isnull=True) | models.Q(burst_a__gt=0)),
                name="esc_is_possible",
            )
        ]

    def __str__(self) -> str:
        return self.name
