"""Comparisons that somebody keeps under a name."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from spindle_server.records.history import History
from spindle_server.records.versions import Versioned


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
