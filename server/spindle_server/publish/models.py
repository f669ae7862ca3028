"""Frozen copies of what was published."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from spindle_server.records.history import History


class Snapshot(models.Model):
    """A comparison as it stood when an editor froze it. Never changed, only superseded."""

    title = models.CharField(max_length=120)
    content = models.JSONField()
    frozen_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+"
    )
    frozen_at = models.DateTimeField(auto_now_add=True)
    history = History(excluded_fields=["content"])

    class Meta:
        ordering = ["-frozen_at"]
        constraints = [
            models.CheckConstraint(condition=~models.Q(title=""), name="snapshot_has_a_title")
        ]

    def __str__(self) -> str:
        return self.title
