"""What the bench declares once."""

from __future__ import annotations

from django.db import models

from spindle_server.records.history import History
from spindle_server.records.versions import Versioned


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
