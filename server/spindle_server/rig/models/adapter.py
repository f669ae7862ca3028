"""What carries a propeller that a motor's own shaft does not."""

from __future__ import annotations

from django.db import models

from spindle_server.records.choices import WordField
from spindle_server.records.history import History
from spindle_server.records.versions import Versioned

ADAPTER_KINDS = [
    ("ring", "Ring"),
    ("collet", "Collet"),
    ("bolt_on", "Bolt-on stud"),
    ("clamp_plate", "Clamp plate"),
]

ADAPTER_SIZES: dict[str, tuple[str, ...]] = {
    "ring": ("inner_mm", "outer_mm", "height_mm"),
    "collet": (
        "least_mm",
        "most_mm",
        "grip_mm",
        "stud_mm",
        "free_length_mm",
        "nut_mm",
        "washer_mm",
    ),
    "bolt_on": (
        "hole_circle_mm",
        "hole_mm",
        "inner_mm",
        "stud_mm",
        "free_length_mm",
        "nut_mm",
        "washer_mm",
    ),
    "clamp_plate": ("inner_mm", "hole_circle_mm", "hole_mm"),
}
"""What is measured of each kind [mm]."""

NEEDED_SIZES: dict[str, tuple[str, ...]] = {
    "ring": ("inner_mm", "outer_mm", "height_mm"),
    "collet": ("least_mm", "most_mm", "stud_mm", "free_length_mm"),
    "bolt_on": ("hole_circle_mm", "hole_mm", "stud_mm", "free_length_mm"),
    "clamp_plate": ("inner_mm", "hole_circle_mm", "hole_mm"),
}
"""Without these nothing can be said of a fit; the rest may be unknown."""


def _size() -> models.FloatField:
    return models.FloatField(null=True, blank=True)


class Adapter(Versioned):
    """A ring, a collet, a bolt-on stud or a clamp plate; sizes in mm, null where unknown.

    ``inner_mm``: what goes over the motor's shaft. ``least_mm`` to ``most_mm``: shafts a collet
    closes on, ``grip_mm`` deep. ``hole_circle_mm`` and ``hole_mm``: holes for screws into the
    bell. ``stud_mm`` with its free length, nut and washer: what the propeller sits on.
    """

    name = models.CharField(max_length=60, unique=True)
    kind = WordField(max_length=12, choices=ADAPTER_KINDS)
    inner_mm = _size()
    outer_mm = _size()
    height_mm = _size()
    least_mm = _size()
    most_mm = _size()
    grip_mm = _size()
    hole_circle_mm = _size()
    hole_mm = _size()
    stud_mm = _size()
    free_length_mm = _size()
    nut_mm = _size()
    washer_mm = _size()
    note = models.TextField(blank=True)
    retired = models.BooleanField(default=False)
    history = History()

    class Meta:
        ordering = ["kind", "name"]
        verbose_name = "adapter"

    def __str__(self) -> str:
        return self.name
