"""Flights against their prediction, letters of readers and makers, follow-ups with a trigger."""

from __future__ import annotations

import datetime

from django.conf import settings
from django.db import models

from spindle_server.match.models import Craft
from spindle_server.motors.models import INCIDENTS, MotorModel, Sample, Struck
from spindle_server.plan.models import Campaign
from spindle_server.records.choices import WordField
from spindle_server.records.history import History
from spindle_server.records.versions import Versioned
from spindle_server.rig.models import Propeller, Supply

WINDS = [("calm", "calm"), ("breeze", "a breeze"), ("windy", "windy")]
LETTERS = [
    ("request", "request"),
    ("question", "question"),
    ("report", "report from the field"),
    ("wish", "wish to the maker"),
]
LETTER_STATES = [
    ("open", "open"),
    ("answered", "answered"),
    ("declined", "declined"),
    ("stale", "stale"),
]
STALE_AFTER_DAYS = 365
"""A request without a day by which it is wanted is stale after so long."""

TRIGGERS = [
    ("date", "on a day"),
    ("hours", "after hours of use"),
    ("first_flight", "after its first flight"),
]


class Flight(Struck):
    """One flight. Craft, pack and minutes suffice; what nobody noted is null.

    ``hover_power``: what the craft's motors take on the stand for the weight it flew at, as Match
    foresaw it when the flight was noted; never changed. ``{"absent", "note"}`` where it could not.
    """

    craft = models.ForeignKey(Craft, on_delete=models.PROTECT, related_name="flights")
    flown_on = models.DateField()
    minutes = models.FloatField()
    capacity_mah = models.FloatField()
    cells = models.PositiveSmallIntegerField()
    usable_pct = models.FloatField()
    motor = models.ForeignKey(
        MotorModel, on_delete=models.PROTECT, null=True, blank=True, related_name="flights"
    )
    propeller = models.ForeignKey(
        Propeller, on_delete=models.PROTECT, null=True, blank=True, related_name="flights"
    )
    samples = models.ManyToManyField(Sample, blank=True, related_name="flights")
    put_back_mah = models.FloatField(null=True, blank=True)
    mass_g = models.FloatField(null=True, blank=True)
    distance_m = models.FloatField(null=True, blank=True)
    wind = WordField(max_length=8, choices=WINDS, blank=True)
    hover_share_pct = models.FloatField(null=True, blank=True)
    motor_temp_c = models.FloatField(null=True, blank=True)
    air_temp_c = models.FloatField(null=True, blank=True)
    impressions = models.TextField(blank=True, max_length=2000)
    flown_by = models.CharField(max_length=80, blank=True)
    hover_power = models.JSONField(default=dict)
    rests_on = models.CharField(max_length=300, blank=True)
    noted_at = models.DateTimeField(auto_now_add=True)
    history = History(excluded_fields=["hover_power"])

    class Meta:
        ordering = ["-flown_on", "-pk"]
        indexes = [models.Index(fields=["motor", "flown_on"], name="flight_of_motor")]
        constraints = [
            models.CheckConstraint(
                condition=models.Q(minutes__gt=0, minutes__lte=600), name="flight_minutes_possible"
            ),
            models.CheckConstraint(
                condition=models.Q(capacity_mah__gt=0, cells__gte=1, cells__lte=16),
                name="flight_pack_possible",
            ),
            models.CheckConstraint(
                condition=models.Q(hover_share_pct__isnull=True)
                | models.Q(hover_share_pct__gte=0, hover_share_pct__lte=100),
                name="flight_hover_share_possible",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.craft}, {self.flown_on}, {self.minutes:g} min"


class Letter(Versioned):
    """What somebody outside wrote, or what was written to a maker. Quoted; no measurement.

    ``person`` may be erased; the letter stays. ``failure``: of a report, by the words of incidents.
    ``readers``: so many asked the same. ``wanted_by``: the day after which an answer helps nobody.
    ``declined``: it was answered that it will not be done, ``answer`` says why.
    """

    kind = WordField(max_length=8, choices=LETTERS)
    text = models.TextField(max_length=4000)
    person = models.CharField(max_length=80, blank=True)
    received_on = models.DateField()
    motor = models.ForeignKey(
        MotorModel, on_delete=models.PROTECT, null=True, blank=True, related_name="letters"
    )
    craft_words = models.CharField(max_length=120, blank=True)
    propeller_words = models.CharField(max_length=80, blank=True)
    propeller = models.ForeignKey(
        Propeller, on_delete=models.SET_NULL, null=True, blank=True, related_name="letters"
    )
    supply = models.ForeignKey(
        Supply, on_delete=models.SET_NULL, null=True, blank=True, related_name="letters"
    )
    readers = models.PositiveSmallIntegerField(default=1)
    wanted_by = models.DateField(null=True, blank=True)
    declined = models.BooleanField(default=False)
    temp_c = models.FloatField(null=True, blank=True)
    failure = WordField(max_length=16, choices=INCIDENTS, blank=True)
    campaign = models.ForeignKey(
        Campaign, on_delete=models.SET_NULL, null=True, blank=True, related_name="letters"
    )
    answer = models.TextField(blank=True, max_length=4000)
    answered_on = models.DateField(null=True, blank=True)
    noted_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    history = History()

    class Meta:
        ordering = ["-received_on", "-pk"]
        constraints = [
            models.CheckConstraint(condition=~models.Q(text=""), name="letter_says_something"),
            models.CheckConstraint(
                condition=models.Q(answer="", answered_on__isnull=True)
                | ~models.Q(answer="") & models.Q(answered_on__isnull=False),
                name="answer_has_a_day",
            ),
            models.CheckConstraint(
                condition=models.Q(declined=False) | ~models.Q(answer=""),
                name="who_declines_says_why",
            ),
            models.CheckConstraint(
                condition=models.Q(readers__gte=1, readers__lte=10_000), name="readers_are_possible"
            ),
            models.CheckConstraint(
                condition=models.Q(failure="") | models.Q(kind="report"),
                name="only_reports_tell_failures",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.get_kind_display()}: {self.text[:40]}"

    def state(self, today: datetime.date) -> str:
        """How it stands: open, answered, declined, or stale."""
        if self.answer:
            return "declined" if self.declined else "answered"
        late = self.wanted_by is not None and self.wanted_by < today
        old = (today - self.received_on).days > STALE_AFTER_DAYS
        return (
            "stale" if self.kind == "request" and (late or (old and not self.wanted_by)) else "open"
        )


class FollowUp(Versioned):
    """An open point that waits for its trigger, and then returns to the Board.

    ``hours_then``: hours of use that the motor's samples had when it was noted.
    """

    motor = models.ForeignKey(MotorModel, on_delete=models.PROTECT, related_name="follow_ups")
    text = models.CharField(max_length=240)
    trigger = WordField(max_length=12, choices=TRIGGERS)
    due_on = models.DateField(null=True, blank=True)
    after_hours = models.FloatField(null=True, blank=True)
    hours_then = models.FloatField(default=0.0)
    done_on = models.DateField(null=True, blank=True)
    done_note = models.CharField(max_length=240, blank=True)
    noted_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    noted_at = models.DateTimeField(auto_now_add=True)
    history = History()

    class Meta:
        ordering = ["done_on", "noted_at", "pk"]
        constraints = [
            models.CheckConstraint(condition=~models.Q(text=""), name="follow_up_says_something"),
            models.CheckConstraint(
                condition=models.Q(trigger="date", due_on__isnull=False, after_hours__isnull=True)
                | models.Q(trigger="hours", due_on__isnull=True, after_hours__gt=0)
                | models.Q(trigger="first_flight", due_on__isnull=True, after_hours__isnull=True),
                name="follow_up_has_what_its_trigger_needs",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.motor}: {self.text}"
