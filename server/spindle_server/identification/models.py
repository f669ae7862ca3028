"""What the accepted runs of a sample or a propeller tell, kept with what it rests on."""

from __future__ import annotations

from typing import Any

from django.db import models

from spindle_server.motors.models import Sample
from spindle_server.rig.models import Propeller
from spindle_server.runs.models import Run


class KeptEvidence(models.Model):
    """What one run has to say, so that a fit need not read its samples again. Derived."""

    run = models.OneToOneField(Run, on_delete=models.CASCADE, related_name="evidence")
    core_version = models.CharField(max_length=20)
    blocks = models.JSONField()


class Identified(models.Model):
    """The fit of one sample or one propeller. Derived: may be rebuilt at any time.

    ``stale``: a run was accepted, rejected or reduced since. ``fit`` null: ``why_not`` says why.
    ``runs``: what it rests on. The figures that lists and guesses need stand beside the fit.
    """

    sample = models.OneToOneField(
        Sample, on_delete=models.CASCADE, related_name="identified", null=True
    )
    propeller = models.OneToOneField(
        Propeller, on_delete=models.CASCADE, related_name="identified", null=True
    )
    stale = models.BooleanField(default=True, db_index=True)
    core_version = models.CharField(max_length=20, blank=True)
    runs = models.JSONField(default=list)
    fit = models.JSONField(null=True)
    why_not = models.CharField(max_length=300, blank=True)
    remarks = models.JSONField(default=list)
    kv_rpm_per_v = models.FloatField(null=True)
    resistance_ohm = models.FloatField(null=True)
    resistance_u_ohm = models.FloatField(null=True)
    no_load_current_a = models.FloatField(null=True)
    winding_k_per_w = models.FloatField(null=True)
    made_at = models.DateTimeField(auto_now=True)

    class Meta:
        constraints = [
            models.CheckConstraint(
                condition=models.Q(sample__isnull=False, propeller__isnull=True)
                | models.Q(sample__isnull=True, propeller__isnull=False),
                name="identified_is_of_one_thing",
            )
        ]

    def __str__(self) -> str:
        return f"fit of {self.sample or self.propeller}"


def identified_state() -> tuple[Any, ...]:
    """What stands for everything that was learnt of motors and propellers; one query."""
    found = Identified.objects.aggregate(models.Count("pk"), models.Max("made_at"))
    return tuple(found.values())
