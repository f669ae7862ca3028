"""Campaigns."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from spindle_server.motors.models import Sample
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


class Campaign(Versioned):
    """A question and the samples, propellers and supplies whose runs answer it.

    ``goal_pct``: relative u that thrust and current of every cell are to reach [%].
    ``common_thrust_gf``: where g/W is read.
    """

    title = models.CharField(max_length=120)
    question = WordField(max_length=12, choices=QUESTIONS, default="comparison")
    samples = models.ManyToManyField(Sample, related_name="campaigns")
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
