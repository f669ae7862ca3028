"""Campaigns, what was decided against a proposal, and run sheets taken to the bench."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from spindle_core.planning.day import Drift
from spindle_server.motors.models import MotorModel, Sample
from spindle_server.records.choices import WordField
from spindle_server.records.history import History
from spindle_server.records.versions import Versioned
from spindle_server.rig.models import Propeller, Supply

QUESTIONS = [
    ("review", "One motor's review"),
    ("comparison", "A comparison of several"),
    ("ladder", "A ladder of propellers"),
    ("limit", "How far it may be loaded"),
    ("request", "A reader's request"),
    ("runs", "Just these runs"),
]


STEP_KINDS = [(kind, kind) for kind in ("mount", "swap", "cool", "run")]


class Campaign(Versioned):
    """A question and the samples, propellers and supplies whose runs answer it.

    ``motors``: models of which no sample is at hand; they are predicted and never run.
    ``goal_pct``: relative u that thrust and current of every cell are to reach [%].
    ``common_thrust_gf``: where g/W is read.
    """

    title = models.CharField(max_length=120)
    question = WordField(max_length=12, choices=QUESTIONS, default="comparison")
    samples = models.ManyToManyField(Sample, related_name="campaigns")
    motors = models.ManyToManyField(MotorModel, related_name="campaigns", blank=True)
    propellers = models.ManyToManyField(Propeller, related_name="campaigns")
    supplies = models.ManyToManyField(Supply, related_name="campaigns")
    common_thrust_gf = models.FloatField(default=500.0)
    goal_pct = models.FloatField(default=2.0)
    runs_wanted = models.PositiveSmallIntegerField(default=1)
    note = models.TextField(blank=True)
    closed = models.BooleanField(default=False)
    begun_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    begun_at = models.DateTimeField(auto_now_add=True)
    history = History()

    class Meta:
        ordering = ["closed", "-begun_at", "-pk"]
        constraints = [
            models.CheckConstraint(
                condition=models.Q(common_thrust_gf__gt=0, common_thrust_gf__lte=50_000),
                name="campaign_thrust_is_possible",
            ),
            models.CheckConstraint(
                condition=models.Q(goal_pct__gte=0.1, goal_pct__lte=50),
                name="campaign_goal_is_possible",
            ),
        ]

    def __str__(self) -> str:
        return self.title


class Override(Versioned):
    """A run that was proposed and that the reviewer did not want next, and why.

    ``chosen_sample`` and ``chosen_propeller``: what was set up in its place; null where nothing
    was. While ``active``, the cell is not proposed on that supply.
    """

    campaign = models.ForeignKey(Campaign, on_delete=models.CASCADE, related_name="overrides")
    supply = models.ForeignKey(Supply, on_delete=models.PROTECT, related_name="+")
    sample = models.ForeignKey(Sample, on_delete=models.PROTECT, related_name="+")
    propeller = models.ForeignKey(Propeller, on_delete=models.PROTECT, related_name="+")
    chosen_sample = models.ForeignKey(
        Sample, on_delete=models.PROTECT, null=True, blank=True, related_name="+"
    )
    chosen_propeller = models.ForeignKey(
        Propeller, on_delete=models.PROTECT, null=True, blank=True, related_name="+"
    )
    reason = models.CharField(max_length=240)
    active = models.BooleanField(default=True)
    decided_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    decided_at = models.DateTimeField(auto_now_add=True)
    history = History()

    class Meta:
        ordering = ["-decided_at", "-pk"]
        constraints = [
            models.CheckConstraint(condition=~models.Q(reason=""), name="override_has_a_reason"),
            models.CheckConstraint(
                condition=models.Q(chosen_sample__isnull=True, chosen_propeller__isnull=True)
                | models.Q(chosen_sample__isnull=False, chosen_propeller__isnull=False),
                name="override_names_a_whole_cell",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.campaign}: {self.reason}"


class DaySheet(Versioned):
    """A run sheet as it was taken to the bench; its steps stay as they were then.

    What was run is seen from the runs; everything else is ticked.
    """

    campaign = models.ForeignKey(Campaign, on_delete=models.CASCADE, related_name="day_sheets")
    supply = models.ForeignKey(Supply, on_delete=models.PROTECT, related_name="+")
    drift = WordField(max_length=12, choices=[(str(one), str(one)) for one in Drift])
    steps = models.JSONField(default=list)
    reference = models.CharField(max_length=200, blank=True)
    put_away = models.BooleanField(default=False)
    taken_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    taken_at = models.DateTimeField(auto_now_add=True)
    history = History(excluded_fields=["steps"])

    class Meta:
        ordering = ["-taken_at", "-pk"]

    def __str__(self) -> str:
        return f"{self.campaign}, {self.taken_at:%Y-%m-%d %H:%M}"


class SheetTick(models.Model):
    """A step of a sheet that somebody ticked, by its place; 0 is the first."""

    sheet = models.ForeignKey(DaySheet, on_delete=models.CASCADE, related_name="ticks")
    step = models.PositiveSmallIntegerField()
    ticked_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    ticked_at = models.DateTimeField(auto_now_add=True)
    history = History()

    class Meta:
        ordering = ["step"]
        constraints = [
            models.UniqueConstraint(fields=["sheet", "step"], name="a_step_is_ticked_once")
        ]

    def __str__(self) -> str:
        return f"{self.sheet}, step {self.step + 1}"
