"""Comparisons that somebody keeps under a name, and what somebody picked from them."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from spindle_server.motors.models import MotorModel
from spindle_server.records.history import History
from spindle_server.records.versions import Versioned
from spindle_server.rig.models import Propeller

LONGEST_WHY = 300


class Pick(Versioned):
    """A motor on a propeller that a reviewer would take at a voltage, and why.

    ``supply``: what kind, as tables say it; ``voltage_v``: nominal [V], 0 where nobody noted it.
    """

    motor = models.ForeignKey(MotorModel, on_delete=models.PROTECT, related_name="picks")
    propeller = models.ForeignKey(Propeller, on_delete=models.PROTECT, related_name="+")
    supply = models.CharField(max_length=40, blank=True)
    voltage_v = models.FloatField()
    why = models.CharField(max_length=LONGEST_WHY, blank=True)
    picked_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    picked_at = models.DateTimeField(auto_now_add=True)
    history = History()

    class Meta:
        ordering = ["pk"]
        constraints = [
            models.UniqueConstraint(
                fields=["motor", "propeller", "supply", "voltage_v"], name="picked_once"
            ),
            models.CheckConstraint(
                condition=models.Q(voltage_v__gte=0, voltage_v__lte=1000), name="pick_voltage"
            ),
        ]

    def __str__(self) -> str:
        return f"{self.motor} on {self.propeller}, {self.voltage_v:g} V"


class SavedComparison(Versioned):
    """What was asked, to be asked again, with the marks that were put on its charts.

    ``asked``: the address's query, name → text. ``marks``: places on charts with a text, each
    ``{"x_name", "y_name", "x", "text"}`` with x in its unit.
    """

    name = models.CharField(max_length=120, unique=True)
    asked = models.JSONField()
    marks = models.JSONField(default=list)
    note = models.TextField(blank=True, max_length=2000)
    saved_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    saved_at = models.DateTimeField(auto_now_add=True)
    history = History()

    class Meta:
        ordering = ["name", "pk"]
        constraints = [
            models.CheckConstraint(condition=~models.Q(name=""), name="saved_comparison_has_a_name")
        ]

    def __str__(self) -> str:
        return self.name
