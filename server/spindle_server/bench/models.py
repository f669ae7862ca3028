"""Looks around the bench that were confirmed; profiles and sequences that are kept by name."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from spindle_server.records.history import History
from spindle_server.records.versions import Versioned


class LookAround(models.Model):
    """One confirmed checklist; written once, when its run was armed.

    ``mounted``: sample, load, supply, stand and kind of run by the record's numbers. ``items``:
    everything that counts as confirmed by then, today.
    """

    operator = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="looks_around"
    )
    at = models.DateTimeField(auto_now_add=True)
    mounted = models.JSONField()
    items = models.JSONField()
    run_id = models.CharField(max_length=64)

    class Meta:
        ordering = ["-at", "-pk"]
        indexes = [models.Index(fields=["operator", "-at"], name="look_around_newest")]

    def __str__(self) -> str:
        return f"look around of {self.operator}"


class SavedProfile(Versioned):
    """A profile under a name, with what it is for. ``profile`` as the bench writes it."""

    name = models.CharField(max_length=80, unique=True)
    purpose = models.CharField(max_length=200, blank=True)
    profile = models.JSONField()
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    made_at = models.DateTimeField(auto_now_add=True)
    history = History(excluded_fields=["profile"])

    class Meta:
        ordering = ["name", "pk"]

    def __str__(self) -> str:
        return self.name


class SavedSequence(Versioned):
    """Profiles to be run one after the other on one mounting, under a name, with what they are for.

    ``parts``: the profiles as the bench writes them, in their order. Each is armed by itself.
    """

    name = models.CharField(max_length=80, unique=True)
    purpose = models.CharField(max_length=200, blank=True)
    parts = models.JSONField()
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    made_at = models.DateTimeField(auto_now_add=True)
    history = History(excluded_fields=["parts"])

    class Meta:
        ordering = ["name", "pk"]

    def __str__(self) -> str:
        return self.name
