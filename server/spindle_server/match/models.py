"""Craft that motors are matched with."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from spindle_core.match.craft import Layout
from spindle_server.motors.models import MotorModel
from spindle_server.rank.models import USES
from spindle_server.records.choices import WordField
from spindle_server.records.history import History
from spindle_server.records.versions import Versioned
from spindle_server.rig.models import Propeller

LAYOUTS = [
    (str(Layout.MULTIROTOR), "Multirotor"),
    (str(Layout.COAXIAL), "Coaxial pairs"),
    (str(Layout.PLANE), "Plane"),
]
MASS_BASES = [("weighed", "weighed"), ("claimed", "claimed"), ("omitted", "guessed")]


class Craft(Versioned):
    """What is to fly, without its motors. ``items``: name, mass_g, count, basis, half_width_g.

    ``usable_pct``: share of the capacity that is flown. ``carries_*``: what it flies now;
    ``lower_*``: what the lower half of coaxial pairs is, where it differs. What nobody said is
    null, and no limit.
    """

    name = models.CharField(max_length=80, unique=True)
    layout = WordField(max_length=12, choices=LAYOUTS, default="multirotor")
    motors = models.PositiveSmallIntegerField(default=4)
    cells = models.PositiveSmallIntegerField()
    use = WordField(max_length=12, choices=USES, default="equal")
    items = models.JSONField(default=list)
    capacity_mah = models.FloatField()
    rated_c = models.FloatField(null=True, blank=True)
    usable_pct = models.FloatField(default=80.0)
    propeller_room_in = models.FloatField(null=True, blank=True)
    esc_rated_a = models.FloatField(null=True, blank=True)
    least_thrust_to_weight = models.FloatField(null=True, blank=True)
    arm_mm = models.FloatField(null=True, blank=True)
    lift_to_drag = models.FloatField(null=True, blank=True)
    cruise_throttle_pct = models.FloatField(null=True, blank=True)
    flight_speed_m_per_s = models.FloatField(null=True, blank=True)
    less_current_from_pct = models.FloatField(null=True, blank=True)
    less_current_to_pct = models.FloatField(null=True, blank=True)
    carries_motor = models.ForeignKey(
        MotorModel, on_delete=models.PROTECT, null=True, blank=True, related_name="carried_by"
    )
    carries_propeller = models.ForeignKey(
        Propeller, on_delete=models.PROTECT, null=True, blank=True, related_name="carried_by"
    )
    lower_motor = models.ForeignKey(
        MotorModel, on_delete=models.PROTECT, null=True, blank=True, related_name="below_in"
    )
    lower_propeller = models.ForeignKey(
        Propeller, on_delete=models.PROTECT, null=True, blank=True, related_name="below_in"
    )
    note = models.TextField(blank=True)
    retired = models.BooleanField(default=False)
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    made_at = models.DateTimeField(auto_now_add=True)
    history = History()

    class Meta:
        ordering = ["retired", "name", "pk"]
        verbose_name_plural = "craft"
        constraints = [
            models.CheckConstraint(
                condition=models.Q(motors__gte=1, motors__lte=16, cells__gte=1, cells__lte=16),
                name="craft_is_possible",
            ),
            models.CheckConstraint(
                condition=models.Q(capacity_mah__gt=0, usable_pct__gt=0, usable_pct__lte=100),
                name="craft_pack_is_possible",
            ),
        ]

    def __str__(self) -> str:
        return self.name
