"""What arrived: makers, motor models, samples and what the maker claims of them."""

from __future__ import annotations

from django.db import models
from simple_history.models import HistoricalRecords

from spindle_server.intake.claims import CLAIMS

TURNING = [("cw", "Clockwise"), ("ccw", "Counter-clockwise"), ("unknown", "Unknown")]
OBTAINED = [
    ("bought", "Bought"), ("loaned", "Loaned"), ("given", "Given"), ("sponsored", "Sponsored"),
    ("own_design", "Own design"), ("early", "Early access"), ("unknown", "Unknown"),
]  # fmt: skip


class Maker(models.Model):
    """Who makes motors or propellers."""

    name = models.CharField(max_length=60, unique=True)
    history = HistoricalRecords()

    def __str__(self) -> str:
        return self.name


class MotorModel(models.Model):
    """A motor as it is sold. ``kv_label_rpm_per_v`` is the label: a claim, never a measurement."""

    maker = models.ForeignKey(Maker, on_delete=models.PROTECT, related_name="motors")
    name = models.CharField(max_length=60)
    size_code = models.CharField(max_length=12)
    size_basis = models.CharField(
        max_length=10,
        choices=[("stator", "Stator"), ("outer_can", "Outer can"), ("case", "Case")],
    )
    kv_label_rpm_per_v = models.FloatField()
    note = models.TextField(blank=True)
    created_at = models.DateTimeField(auto_now_add=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["maker__name", "name", "size_code", "kv_label_rpm_per_v"]
        constraints = [
            models.UniqueConstraint(
                fields=["maker", "name", "size_code", "kv_label_rpm_per_v"],
                name="motor_model_is_unique",
            ),
            models.CheckConstraint(
                condition=models.Q(kv_label_rpm_per_v__gt=0, kv_label_rpm_per_v__lt=100_000),
                name="motor_kv_label_is_possible",
            ),
            models.CheckConstraint(
                condition=models.Q(size_basis__in=["stator", "outer_can", "case"]),
                name="motor_size_basis_is_known",
            ),
        ]

    def __str__(self) -> str:
        return self.full_name

    @property
    def full_name(self) -> str:
        """Maker, name, size and kV label, as one would say it."""
        return f"{self.maker.name} {self.name} {self.size_code} {self.kv_label_rpm_per_v:g}"


class Sample(models.Model):
    """One motor one can hold."""

    motor = models.ForeignKey(MotorModel, on_delete=models.PROTECT, related_name="samples")
    mark = models.CharField(max_length=12)
    turning = models.CharField(max_length=8, choices=TURNING, default="unknown")
    obtained = models.CharField(max_length=12, choices=OBTAINED, default="unknown")
    note = models.TextField(blank=True)
    created_at = models.DateTimeField(auto_now_add=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["mark"]
        constraints = [
            models.UniqueConstraint(fields=["motor", "mark"], name="sample_mark_is_unique"),
        ]

    def __str__(self) -> str:
        return f"{self.motor} {self.mark}"


class Claim(models.Model):
    """A number somebody states about a motor, with its source."""

    motor = models.ForeignKey(MotorModel, on_delete=models.CASCADE, related_name="claims")
    quantity = models.CharField(
        max_length=24, choices=[(key, claim.label) for key, claim in CLAIMS.items()]
    )
    value = models.FloatField()
    source = models.CharField(max_length=120)
    noted_at = models.DateTimeField(auto_now=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["quantity", "source"]
        constraints = [
            models.UniqueConstraint(
                fields=["motor", "quantity", "source"], name="claim_is_unique_per_source"
            ),
            models.CheckConstraint(condition=models.Q(value__gt=0), name="claim_is_above_zero"),
            models.CheckConstraint(condition=~models.Q(source=""), name="claim_has_a_source"),
        ]

    def __str__(self) -> str:
        return f"{self.quantity} {self.value:g} ({self.source})"
