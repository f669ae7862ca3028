"""Other benches, their data packs, and the runs in them: quoted, never counted as one's own."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from spindle_server.motors.models import MotorModel, Sample
from spindle_server.records.history import History
from spindle_server.records.versions import Versioned
from spindle_server.rig.models import Propeller
from spindle_server.runs.models import REVIEW_CHOICES


class OtherBench(Versioned):
    """A bench that is not this one, by the name that it gives itself."""

    name = models.CharField(max_length=80)
    address = models.CharField(max_length=200, blank=True)
    note = models.TextField(blank=True, max_length=2000)
    history = History()

    class Meta:
        ordering = ["name"]
        constraints = [
            # Without regard to capitals, as the database collates.
            models.UniqueConstraint(fields=["name"], name="other_bench_once"),
            models.CheckConstraint(condition=~models.Q(name=""), name="other_bench_has_a_name"),
        ]

    def __str__(self) -> str:
        return self.name


class QuotedPack(Versioned):
    """A data pack as it came, byte for byte on disk, and what it says of itself.

    Only the newest edition of a publication counts, and none that was put aside.
    """

    bench = models.ForeignKey(OtherBench, on_delete=models.PROTECT, related_name="packs")
    kind = models.CharField(max_length=12)
    subject = models.CharField(max_length=240)
    slug = models.CharField(max_length=100)
    edition = models.PositiveIntegerField()
    issued_on = models.DateField()
    sentence = models.CharField(max_length=240, blank=True)
    licence = models.CharField(max_length=120, blank=True)
    grade_label = models.CharField(max_length=40)
    grade_line = models.TextField()
    disclosure = models.JSONField(default=list)
    corrections = models.JSONField(default=list)
    digest = models.CharField(max_length=64, unique=True)
    size_bytes = models.PositiveBigIntegerField()
    file_name = models.CharField(max_length=200)
    put_aside = models.CharField(max_length=240, blank=True)
    imported_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    imported_at = models.DateTimeField(auto_now_add=True)
    history = History(excluded_fields=["grade_line", "disclosure", "corrections"])

    class Meta:
        ordering = ["bench", "slug", "-edition"]
        constraints = [
            models.UniqueConstraint(fields=["bench", "slug", "edition"], name="quoted_edition_once")
        ]

    def __str__(self) -> str:
        return f"{self.subject}, edition {self.edition} of {self.bench}"


class QuotedMotor(models.Model):
    """A motor of a pack, and which of ours it is; None: none that is on file here."""

    pack = models.ForeignKey(QuotedPack, on_delete=models.CASCADE, related_name="motors")
    key = models.CharField(max_length=40)
    full_name = models.CharField(max_length=160)
    figures = models.JSONField(default=dict)
    ours = models.ForeignKey(
        MotorModel, on_delete=models.SET_NULL, null=True, blank=True, related_name="quoted"
    )

    class Meta:
        ordering = ["pk"]
        constraints = [models.UniqueConstraint(fields=["pack", "key"], name="quoted_motor_once")]

    def __str__(self) -> str:
        return self.full_name


class QuotedSample(models.Model):
    """A sample of a quoted motor. ``ours``: the very same motor that is here too, by its mark."""

    motor = models.ForeignKey(QuotedMotor, on_delete=models.CASCADE, related_name="samples")
    mark = models.CharField(max_length=40)
    figures = models.JSONField(default=dict)
    ours = models.ForeignKey(
        Sample, on_delete=models.SET_NULL, null=True, blank=True, related_name="quoted"
    )

    class Meta:
        ordering = ["pk"]
        constraints = [models.UniqueConstraint(fields=["motor", "mark"], name="quoted_sample_once")]

    def __str__(self) -> str:
        return f"{self.motor} {self.mark}"


class QuotedPropeller(models.Model):
    """A propeller of a pack, and which of ours it is by its name."""

    pack = models.ForeignKey(QuotedPack, on_delete=models.CASCADE, related_name="propellers")
    key = models.CharField(max_length=40)
    full_name = models.CharField(max_length=160)
    figures = models.JSONField(default=dict)
    ours = models.ForeignKey(
        Propeller, on_delete=models.SET_NULL, null=True, blank=True, related_name="quoted"
    )

    class Meta:
        ordering = ["pk"]
        constraints = [
            models.UniqueConstraint(fields=["pack", "key"], name="quoted_propeller_once")
        ]

    def __str__(self) -> str:
        return self.full_name


class QuotedRun(models.Model):
    """A run of another bench, reduced here from its log.

    ``number``: theirs. ``result``: None where the log cannot be reduced, for the reason in
    ``error``. ``remarks``: where that bench states another figure than its log gives.
    """

    pack = models.ForeignKey(QuotedPack, on_delete=models.CASCADE, related_name="runs")
    number = models.PositiveIntegerField()
    sample = models.ForeignKey(QuotedSample, on_delete=models.CASCADE, related_name="runs")
    propeller = models.ForeignKey(
        QuotedPropeller, on_delete=models.CASCADE, null=True, related_name="runs"
    )
    supply = models.CharField(max_length=4, blank=True)
    nominal_voltage_v = models.FloatField(null=True)
    stand_name = models.CharField(max_length=160, blank=True)
    kind = models.CharField(max_length=12)
    on = models.DateField()
    review = models.CharField(max_length=8, blank=True, choices=REVIEW_CHOICES)
    review_reason = models.CharField(max_length=200, blank=True)
    density_kg_per_m3 = models.FloatField(null=True)
    repeatability_rel = models.FloatField(null=True)
    result = models.JSONField(null=True)
    error = models.CharField(max_length=300, blank=True)
    remarks = models.JSONField(default=list)

    class Meta:
        ordering = ["pack", "number"]
        constraints = [
            models.UniqueConstraint(fields=["pack", "number"], name="quoted_run_once"),
            models.CheckConstraint(
                condition=models.Q(result__isnull=False) | ~models.Q(error=""),
                name="quoted_run_has_result_or_error",
            ),
        ]

    def __str__(self) -> str:
        return f"run {self.number} of {self.pack}"
