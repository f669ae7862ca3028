"""Weights that somebody keeps, and rankings as they stood on a day."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from spindle_core.rank.scoring import PRESETS
from spindle_server.records.history import History
from spindle_server.records.versions import Versioned

USES = [(use, "any" if use == "equal" else use) for use in PRESETS]
"""What a motor or a craft is for."""


class OwnWeights(Versioned):
    """A reviewer's weights under a name: criterion → weight."""

    name = models.CharField(max_length=60, unique=True)
    weights = models.JSONField()
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    made_at = models.DateTimeField(auto_now_add=True)
    history = History()

    class Meta:
        ordering = ["name", "pk"]

    def __str__(self) -> str:
        return self.name


class KeptRanking(models.Model):
    """A ranking as it stood: what was asked, and every motor's figures. Written once."""

    title = models.CharField(max_length=120)
    asked = models.JSONField()
    content = models.JSONField()
    kept_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    kept_at = models.DateTimeField(auto_now_add=True)
    history = History(excluded_fields=["content"])

    class Meta:
        ordering = ["-kept_at", "-pk"]
        constraints = [
            models.CheckConstraint(condition=~models.Q(title=""), name="kept_ranking_has_a_title")
        ]

    def __str__(self) -> str:
        return self.title
