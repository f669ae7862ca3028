"""What was seen and measured inside a motor."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from spindle_core.teardown import ATTRIBUTES, REFERRING, Ordinal, Status
from spindle_server.motors.models import Sample
from spindle_server.records.choices import WordField
from spindle_server.records.history import History
from spindle_server.records.versions import Versioned

STATUS_CHOICES = [(str(status), str(status).replace("_", " ").capitalize()) for status in Status]
ATTRIBUTE_CHOICES = [(key, item.label) for key, item in ATTRIBUTES.items()]
ANSWERED = [str(Status.MEASURED), str(Status.OBSERVED)]
TAKEN_OVER = [str(Status.SAME_AS), str(Status.INFERRED)]
EMPTY = [str(Status.COULD_NOT_TELL), str(Status.NOT_LOOKED)]
REFERS = [str(status) for status in REFERRING]
ORDINAL_CHOICES = [(str(word), str(word).capitalize()) for word in Ordinal]


class Observation(Versioned):
    """One answer about one sample. Which answers are allowed is the core's vocabulary.

    ``reference`` is the sample that "same as", "inferred from" and "less than" speak of; what was
    taken over from it is copied, so that it stands as it was when somebody looked.
    """

    sample = models.ForeignKey(Sample, on_delete=models.PROTECT, related_name="observations")
    attribute = WordField(max_length=32, choices=ATTRIBUTE_CHOICES)
    vocabulary_version = models.PositiveSmallIntegerField()
    status = WordField(max_length=16, choices=STATUS_CHOICES)
    choice = models.CharField(max_length=24, blank=True)
    value = models.FloatField(null=True, blank=True)
    u = models.FloatField(null=True, blank=True)
    ordinal = WordField(max_length=4, blank=True, choices=ORDINAL_CHOICES)
    reference = models.ForeignKey(
        Sample, on_delete=models.PROTECT, null=True, blank=True, related_name="+"
    )
    instrument = models.CharField(max_length=60, blank=True)
    typed = models.CharField(max_length=40, blank=True)
    """The number as it was typed, where it was in another unit."""
    note = models.TextField(blank=True)
    observed_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    observed_at = models.DateTimeField(auto_now=True)
    history = History()

    class Meta:
        ordering = ["pk"]
        indexes = [models.Index(fields=["attribute", "choice"], name="observation_answer")]
        constraints = [
            models.UniqueConstraint(
                fields=["sample", "attribute"], name="one_observation_per_attribute"
            ),
            models.CheckConstraint(
                condition=(
                    models.Q(status__in=ANSWERED, choice="", value__isnull=False)
                    | models.Q(status="observed", value__isnull=True) & ~models.Q(choice="")
                    | models.Q(status__in=TAKEN_OVER, choice="", value__isnull=False)
                    | models.Q(status__in=TAKEN_OVER, value__isnull=True) & ~models.Q(choice="")
                    | models.Q(status="ordinal", choice="", value__isnull=True)
                    & ~models.Q(ordinal="")
                    | models.Q(status__in=EMPTY, choice="", value__isnull=True)
                ),
                name="observation_answer_fits_its_status",
            ),
            models.CheckConstraint(
                condition=models.Q(status__in=REFERS, reference__isnull=False)
                | models.Q(reference__isnull=True) & ~models.Q(status__in=REFERS),
                name="observation_names_its_reference",
            ),
            models.CheckConstraint(
                condition=models.Q(ordinal="") | models.Q(status="ordinal"),
                name="only_ordinal_answers_are_ordinal",
            ),
            models.CheckConstraint(
                condition=models.Q(u__isnull=True) | models.Q(u__gte=0),
                name="observation_u_is_not_negative",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.sample}: {self.attribute}"
