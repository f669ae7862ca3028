"""Stands: their geometry as dated states, their instruments, calibrations and checks."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from spindle_core.figures.instruments import INSTRUMENTS
from spindle_core.figures.quantities import CHANNELS
from spindle_server.records.choices import WordField
from spindle_server.records.history import History
from spindle_server.records.versions import Versioned

STAND_KINDS = [
    ("direct", "Direct load cell"),
    ("lever", "Lever arm on a scale"),
    ("inverted", "Scale pressed down or lifted"),
    ("pull", "Pull scale"),
]
INSTRUMENT_KINDS = [(key, item.label.capitalize()) for key, item in INSTRUMENTS.items()]
CHANNEL_CHOICES = [(key, item.label) for key, item in CHANNELS.items()]
KEEPS = [("live", "Shows it as it is"), ("maxima", "Keeps the largest")]
SIGNALS = [
    ("own", "Its own sensor"),
    ("esc", "Telemetry of the ESC"),
    ("footage", "Read from footage"),
]


class Stand(Versioned):
    """A thrust stand with what is declared of it.

    ``repeatability_rel``: relative standard deviation of one run; ``calibration_rel``: relative
    standard uncertainty of its thrust, shared by all its runs, until a calibration says better.
    Null: nobody knows, and what is usual for such instruments is assumed.
    """

    name = models.CharField(max_length=60, unique=True)
    kind = WordField(max_length=8, choices=STAND_KINDS)
    repeatability_rel = models.FloatField(null=True, blank=True)
    calibration_rel = models.FloatField(null=True, blank=True)
    live = models.BooleanField(default=False)
    note = models.TextField(blank=True)
    retired = models.BooleanField(default=False)
    history = History()

    class Meta:
        ordering = ["name"]
        constraints = [
            models.CheckConstraint(
                condition=(
                    models.Q(repeatability_rel__isnull=True)
                    | models.Q(repeatability_rel__gt=0, repeatability_rel__lt=0.5)
                )
                & (
                    models.Q(calibration_rel__isnull=True)
                    | models.Q(calibration_rel__gte=0, calibration_rel__lt=0.5)
                ),
                name="stand_uncertainty_is_possible",
            )
        ]

    def __str__(self) -> str:
        return self.name


class StandState(Versioned):
    """The geometry of a stand from a day on: arms [mm], which way thrust pulls, dead weights.

    What was read before that day keeps the state of its time.
    """

    stand = models.ForeignKey(Stand, on_delete=models.CASCADE, related_name="states")
    valid_from = models.DateField()
    motor_arm_mm = models.FloatField(null=True, blank=True)
    scale_arm_mm = models.FloatField(null=True, blank=True)
    arm_u_mm = models.FloatField(null=True, blank=True)
    lifts = models.BooleanField(default=False)
    rest_g = models.FloatField(default=0.0)
    step_g = models.FloatField(default=1.0)
    note = models.CharField(max_length=200, blank=True)
    history = History()

    class Meta:
        ordering = ["valid_from"]
        constraints = [
            models.UniqueConstraint(
                fields=["stand", "valid_from"], name="one_state_of_a_stand_per_day"
            ),
            models.CheckConstraint(
                condition=models.Q(motor_arm_mm__isnull=True, scale_arm_mm__isnull=True)
                | models.Q(motor_arm_mm__gt=0, scale_arm_mm__gt=0),
                name="lever_has_both_arms",
            ),
            models.CheckConstraint(condition=models.Q(step_g__gt=0), name="scale_has_a_step"),
        ]

    def __str__(self) -> str:
        return f"{self.stand} from {self.valid_from}"


class DeadWeight(models.Model):
    """A weight of a stand's state whose grams are missing from what the scale shows."""

    state = models.ForeignKey(StandState, on_delete=models.CASCADE, related_name="weights")
    name = models.CharField(max_length=40)
    mass_g = models.FloatField()
    u_g = models.FloatField(null=True, blank=True)

    class Meta:
        ordering = ["pk"]
        constraints = [
            models.CheckConstraint(
                condition=models.Q(mass_g__gte=0, mass_g__lte=100_000),
                name="dead_weight_is_possible",
            ),
            models.UniqueConstraint(fields=["state", "name"], name="dead_weights_have_own_names"),
        ]

    def __str__(self) -> str:
        return f"{self.name}: {self.mass_g:g} g"


class Instrument(Versioned):
    """What reads one channel of a stand: how fine, how far, how well, and from where.

    ``relative_u``: declared standard uncertainty of its gain; null: assumed by kind.
    """

    stand = models.ForeignKey(Stand, on_delete=models.CASCADE, related_name="instruments")
    channel = WordField(max_length=20, choices=CHANNEL_CHOICES)
    kind = WordField(max_length=24, choices=INSTRUMENT_KINDS)
    step = models.FloatField(null=True, blank=True)
    range_to = models.FloatField(null=True, blank=True)
    relative_u = models.FloatField(null=True, blank=True)
    keeps = WordField(max_length=6, choices=KEEPS, default="live")
    signal = WordField(max_length=8, choices=SIGNALS, default="own")
    note = models.CharField(max_length=120, blank=True)
    history = History()

    class Meta:
        ordering = ["pk"]
        constraints = [
            models.UniqueConstraint(fields=["stand", "channel"], name="one_instrument_a_channel"),
            models.CheckConstraint(
                condition=(models.Q(step__isnull=True) | models.Q(step__gt=0))
                & (models.Q(range_to__isnull=True) | models.Q(range_to__gt=0))
                & (
                    models.Q(relative_u__isnull=True)
                    | models.Q(relative_u__gte=0, relative_u__lt=0.5)
                ),
                name="instrument_is_possible",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.stand}: {self.channel}"


class Calibration(Versioned):
    """A stand held against known masses. ``loads``: [{mass_g, reading_g, going}] as they were.

    ``relative_u`` is what the core made of them on that day; it is the u of the stand's thrust
    from ``valid_from`` on, until the next one or until it is struck out.
    """

    stand = models.ForeignKey(Stand, on_delete=models.CASCADE, related_name="calibrations")
    valid_from = models.DateField()
    remind_on = models.DateField(null=True, blank=True)
    loads = models.JSONField()
    step_g = models.FloatField()
    masses_relative_u = models.FloatField(null=True, blank=True)
    relative_u = models.FloatField()
    note = models.CharField(max_length=200, blank=True)
    struck_reason = models.CharField(max_length=200, blank=True)
    noted_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    history = History(excluded_fields=["loads"])

    class Meta:
        ordering = ["valid_from", "pk"]

    def __str__(self) -> str:
        return f"{self.stand} on {self.valid_from}"


class MassCheck(Versioned):
    """A known mass on the stand: what it weighs and what the scale showed, at a time."""

    stand = models.ForeignKey(Stand, on_delete=models.CASCADE, related_name="checks")
    checked_at = models.DateTimeField()
    mass_g = models.FloatField()
    reading_g = models.FloatField()
    step_g = models.FloatField()
    note = models.CharField(max_length=120, blank=True)
    struck_reason = models.CharField(max_length=200, blank=True)
    noted_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    history = History()

    class Meta:
        ordering = ["checked_at", "pk"]
        constraints = [
            models.CheckConstraint(
                condition=models.Q(mass_g__gt=0, step_g__gt=0), name="mass_check_is_possible"
            )
        ]

    def __str__(self) -> str:
        return f"{self.stand}: {self.mass_g:g} g"
