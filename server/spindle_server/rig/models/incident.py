"""What went wrong with a part of the gear."""

from __future__ import annotations

from django.db import models

from spindle_server.motors.models import Struck
from spindle_server.records.choices import WordField
from spindle_server.records.history import History
from spindle_server.rig.models.driving import Esc, Supply
from spindle_server.rig.models.propeller import Propeller
from spindle_server.rig.models.stand import Stand

GEAR_INCIDENTS = [
    ("burnt", "Burnt"),
    ("desync", "Lost step with the motor"),
    ("puffed", "Swollen pack"),
    ("deep", "Discharged too deep"),
    ("chipped", "Chipped or cracked"),
    ("thrown", "Thrown in a run"),
    ("dropped", "Fell down"),
    ("other", "Other"),
]
GEAR = ("esc", "supply", "propeller", "stand")


def _only(name: str) -> models.Q:
    others = {f"{other}__isnull": other != name for other in GEAR}
    return models.Q(**others)


class GearIncident(Struck):
    """Something that went wrong with an ESC, a supply or pack, a propeller or a stand: with one of
    them. Like every record of this kind it is struck out, never deleted."""

    esc = models.ForeignKey(Esc, models.PROTECT, null=True, related_name="incidents")
    supply = models.ForeignKey(Supply, models.PROTECT, null=True, related_name="incidents")
    propeller = models.ForeignKey(Propeller, models.PROTECT, null=True, related_name="incidents")
    stand = models.ForeignKey(Stand, models.PROTECT, null=True, related_name="incidents")
    kind = WordField(max_length=10, choices=GEAR_INCIDENTS)
    happened_on = models.DateField()
    destroyed = models.BooleanField(default=False)
    history = History()

    class Meta:
        ordering = ["-happened_on", "-pk"]
        constraints = [
            models.CheckConstraint(
                condition=_only("esc") | _only("supply") | _only("propeller") | _only("stand"),
                name="gear_incident_is_of_one_thing",
            )
        ]

    def __str__(self) -> str:
        return f"{self.thing_name}: {self.get_kind_display()}"

    @property
    def thing(self) -> Esc | Supply | Propeller | Stand:
        """What it happened to."""
        found = self.esc or self.supply or self.propeller or self.stand
        assert found is not None
        return found

    @property
    def thing_name(self) -> str:
        """What it happened to, by name."""
        thing = self.thing
        return thing.full_name if isinstance(thing, Propeller) else thing.name
