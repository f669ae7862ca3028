"""A piece of long work as a person sees it."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from spindle_server.records.choices import WordField

STATES = [
    ("waiting", "Waiting"),
    ("running", "Running"),
    ("done", "Done"),
    ("failed", "Failed"),
    ("cancelled", "Stopped"),
    ("lost", "Lost"),
]
ACTIVE = ("waiting", "running")


class LongWork(models.Model):
    """What was asked for, how far it is, and how it ended.

    ``total`` null: nobody knows yet how much there is. ``said``: its result, or why there is none.
    """

    title = models.CharField(max_length=120)
    asked_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    state = WordField(max_length=10, choices=STATES, default="waiting")
    done = models.PositiveIntegerField(default=0)
    total = models.PositiveIntegerField(null=True, blank=True)
    unit = models.CharField(max_length=12, blank=True)
    """What is counted: runs, pages, MB."""
    said = models.CharField(max_length=300, blank=True)
    stop_asked = models.BooleanField(default=False)
    asked_at = models.DateTimeField(auto_now_add=True)
    begun_at = models.DateTimeField(null=True, blank=True)
    ended_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["-pk"]
        constraints = [
            models.CheckConstraint(
                condition=models.Q(total__isnull=True) | models.Q(done__lte=models.F("total")),
                name="work_is_not_more_than_done",
            )
        ]

    def __str__(self) -> str:
        return f"{self.title}: {self.state}"
