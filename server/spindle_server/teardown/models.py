"""What was seen and measured inside a motor."""

from __future__ import annotations

from django.conf import settings
from django.db import models
from simple_history.models import HistoricalRecords

from spindle_core.teardown import ATTRIBUTES, Status
from spindle_server.intake.models import Sample

STATUS_CHOICES = [(str(status), str(status).replace("_", " ").capitalize()) for status in Status]
ANSWERED = [str(Status.MEASURED), str(Status.OBSERVED)]


class Observation(models.Model):
    """One answer about one sample. Which answers are allowed is the core's vocabulary."""

    sample = models.ForeignKey(Sample, on_delete=models.PROTECT, related_name="observations")
    attribute = models.CharField(
        max_length=32, choices=[(key, item.label) for key, item in ATTRIBUTES.items()]
    )
    vocabulary_version = models.PositiveSmallIntegerField()
    status = models.CharField(max_length=16, choices=STATUS_CHOICES)
    choice = models.CharField(max_length=24, blank=True)
    value = models.FloatField(null=True, blank=True)
    u = models.FloatField(null=True, blank=True)
    instrument = models.CharField(max_length=60, blank=True)
    note = models.TextField(blank=True)
    observed_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    observed_at = models.DateTimeField(auto_now=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["pk"]
        constraints = [
            models.UniqueConstraint(
                fields=["sample", "attribute"], name="one_observation_per_attribute"
            ),
            models.CheckConstraint(
                condition=(
                    models.Q(status__in=ANSWERED, choice="", value__isnull=False)
                    | models.Q(status="observed", value__isnull=True) & ~models.Q(choice="")
                    | ~models.Q(status__in=ANSWERED) & models.Q(choice="", value__isnull=True)
                ),
                name="observation_answer_fits_its_status",
            ),
            models.CheckConstraint(
                condition=models.Q(u__isnull=True) | models.Q(u__gte=0),
                name="observation_u_is_not_negative",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.sample}: {self.attribute}"
