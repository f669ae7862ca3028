"""What was confirmed once of other people's files: how their columns are read, and who their
names stand for."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from spindle_server.motors.models import Sample
from spindle_server.records.choices import WordField
from spindle_server.records.history import History
from spindle_server.records.versions import Versioned
from spindle_server.rig.models import Propeller, Supply
from spindle_server.runs.models import Run, StoredFile
from spindle_server.work.models import LongWork

NAMED_THINGS = [("sample", "Sample"), ("propeller", "Propeller"), ("supply", "Supply")]


class KnownMapping(Versioned):
    """A confirmed mapping, by which the next file of its kind is recognised."""

    name = models.CharField(max_length=80, unique=True)
    fingerprint = models.CharField(max_length=64, db_index=True)
    """Of the names of the columns, in any order."""
    mapping = models.JSONField()
    history = History()

    class Meta:
        ordering = ["name"]

    def __str__(self) -> str:
        return self.name


class KnownName(models.Model):
    """What a name in somebody's file stands for on this bench."""

    thing = WordField(max_length=10, choices=NAMED_THINGS)
    words = models.CharField(max_length=160)
    """In small letters, single blanks."""
    sample = models.ForeignKey(Sample, on_delete=models.CASCADE, null=True, related_name="+")
    propeller = models.ForeignKey(Propeller, on_delete=models.CASCADE, null=True, related_name="+")
    supply = models.ForeignKey(Supply, on_delete=models.CASCADE, null=True, related_name="+")
    history = History()

    class Meta:
        ordering = ["thing", "words"]
        constraints = [models.UniqueConstraint(fields=["thing", "words"], name="known_name_once")]

    def __str__(self) -> str:
        return f"{self.thing}: {self.words}"


LARGE_STATES = [
    ("arriving", "Arriving"),
    ("storing", "Being stored"),
    ("stored", "Stored"),
    ("refused", "Refused"),
]


class LargeFile(models.Model):
    """A log that is too large for one request: it comes in parts, or lies in the inbox, and is read
    block by block as long work."""

    name = models.CharField(max_length=200)
    sameness = models.CharField(max_length=80)
    """By which the same file is known again: its size and when it was written."""
    stored = models.OneToOneField(StoredFile, on_delete=models.PROTECT, related_name="large")
    asked = models.JSONField()
    """How it is to be read and whose run it is, as it was asked for."""
    inbox = models.ForeignKey(
        "InboxFile", on_delete=models.SET_NULL, null=True, blank=True, related_name="+"
    )
    state = WordField(max_length=10, choices=LARGE_STATES, default="arriving")
    problem = models.CharField(max_length=300, blank=True)
    work = models.OneToOneField(
        LongWork, on_delete=models.SET_NULL, null=True, blank=True, related_name="+"
    )
    run = models.OneToOneField(
        Run, on_delete=models.SET_NULL, null=True, blank=True, related_name="+"
    )
    """The run that it becomes; whole only when the file is stored."""
    asked_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    begun_at = models.DateTimeField(auto_now_add=True)
    history = History(excluded_fields=["asked"])

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return self.name


class InboxFile(models.Model):
    """A file that was dropped into the inbox and waits; one row a content, whatever its name."""

    name = models.CharField(max_length=200)
    digest = models.CharField(max_length=64, unique=True)
    size = models.PositiveBigIntegerField()
    noticed_at = models.DateTimeField(auto_now_add=True)
    runs = models.PositiveSmallIntegerField(default=0)
    asks = models.PositiveSmallIntegerField(default=0)
    known_as = models.CharField(max_length=80, blank=True)
    problem = models.CharField(max_length=300, blank=True)
    put_aside = models.BooleanField(default=False)
    history = History()

    class Meta:
        ordering = ["-noticed_at", "-pk"]

    def __str__(self) -> str:
        return self.name
