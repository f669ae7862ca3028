"""What somebody said of a pack: full, part used, charging or resting, and when."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from spindle_core.model.pack_now import WORDS, Charge
from spindle_server.records.choices import WordField
from spindle_server.records.history import History
from spindle_server.records.versions import Versioned
from spindle_server.rig.models.driving import Supply

CHARGES = [(str(one), WORDS[one].capitalize()) for one in Charge if one is not Charge.UNKNOWN]


class PackSaid(Versioned):
    """The last word on a single pack. What its runs took since then follows from the runs.

    ``used_mah``: what was used of it then; null where nobody said.
    """

    supply = models.OneToOneField(Supply, on_delete=models.CASCADE, related_name="said")
    state = WordField(max_length=12, choices=CHARGES)
    used_mah = models.FloatField(null=True, blank=True)
    said_at = models.DateTimeField()
    said_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    history = History()

    class Meta:
        constraints = [
            models.CheckConstraint(
                condition=models.Q(used_mah__isnull=True) | models.Q(used_mah__gte=0),
                name="pack_used_is_possible",
            )
        ]

    def __str__(self) -> str:
        return f"{self.supply}: {self.get_state_display()}"
