"""Photos of a sample, of one observation where they belong to one."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from spindle_core.teardown import ATTRIBUTES
from spindle_server.motors.models import Incident, Sample
from spindle_server.records.choices import WordField
from spindle_server.records.history import History
from spindle_server.records.versions import Versioned


class Photo(Versioned):
    """A picture that was re-encoded here: no location, no camera data. The files lie outside
    everything that is served, under ``name``."""

    sample = models.ForeignKey(Sample, on_delete=models.PROTECT, related_name="photos")
    attribute = WordField(
        max_length=32, blank=True, choices=[(key, item.label) for key, item in ATTRIBUTES.items()]
    )
    incident = models.ForeignKey(
        Incident, on_delete=models.SET_NULL, null=True, blank=True, related_name="photos"
    )
    caption = models.CharField(max_length=200, blank=True)
    name = models.CharField(max_length=40, unique=True, editable=False)
    digest = models.CharField(max_length=64, editable=False)
    width_px = models.PositiveIntegerField()
    height_px = models.PositiveIntegerField()
    size_bytes = models.PositiveIntegerField()
    taken_off = models.BooleanField(default=False)
    uploaded_at = models.DateTimeField(auto_now_add=True)
    uploaded_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    history = History()

    class Meta:
        ordering = ["pk"]
        constraints = [
            models.UniqueConstraint(fields=["sample", "digest"], name="photo_once_per_sample")
        ]

    def __str__(self) -> str:
        return f"{self.sample}: {self.caption or self.attribute or 'photo'}"
