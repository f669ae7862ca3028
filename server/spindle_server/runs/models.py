"""Runs: how each was made, what was recorded, how it ended and what it reduces to."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models

from spindle_bench.states import Outcome
from spindle_core.figures.quantities import CHANNELS
from spindle_core.reduction.kinds import KINDS, WITHOUT_PROPELLER
from spindle_server.motors.models import Sample
from spindle_server.records.blobs import Bytes
from spindle_server.records.choices import WordField
from spindle_server.records.history import History
from spindle_server.records.versions import Versioned
from spindle_server.rig.models import COMMAND_SOURCES, Esc, Propeller, Stand, Supply

KIND_CHOICES = [(kind.key, kind.label) for kind in KINDS.values()]
REVIEW_CHOICES = [("accepted", "Accepted"), ("rejected", "Rejected")]
OUTCOME_CHOICES = [(str(item), str(item).replace("_", " ").capitalize()) for item in Outcome]


class Run(Versioned):
    """One run. Raw data hangs on it and is never changed; the review may be."""

    uid = models.UUIDField(unique=True, default=uuid.uuid4, editable=False)
    kind = WordField(max_length=12, choices=KIND_CHOICES, default="steps")
    origin = WordField(
        max_length=8,
        choices=[
            ("bench", "Live on the bench"),
            ("import", "Imported log"),
            ("typed", "Typed from instruments"),
            ("demo", "Demo"),
        ],
    )
    sample = models.ForeignKey(Sample, on_delete=models.PROTECT, related_name="runs")
    propeller = models.ForeignKey(
        Propeller, on_delete=models.PROTECT, related_name="runs", null=True, blank=True
    )
    supply = models.ForeignKey(
        Supply, on_delete=models.PROTECT, related_name="runs", null=True, blank=True
    )
    stand = models.ForeignKey(
        Stand, on_delete=models.PROTECT, related_name="runs", null=True, blank=True
    )
    esc = models.ForeignKey(
        Esc, on_delete=models.PROTECT, related_name="runs", null=True, blank=True
    )
    command_source = WordField(max_length=20, choices=COMMAND_SOURCES, blank=True)
    nominal_voltage_v = models.FloatField(null=True, blank=True)
    air_temp_c = models.FloatField(null=True, blank=True)
    air_pressure_hpa = models.FloatField(null=True, blank=True)
    air_humidity_pct = models.FloatField(null=True, blank=True)
    inherited = models.JSONField(default=list)
    """Names of what was taken from the bench day, and changes with it."""
    rate_hz = models.FloatField(null=True, blank=True)
    channels = models.JSONField(default=list)
    profile = models.JSONField(null=True, blank=True)
    limits = models.JSONField(null=True, blank=True)
    limits_off = models.JSONField(default=dict)
    page_grace_s = models.FloatField(null=True, blank=True)
    by_hand = models.BooleanField(default=False)
    """The throttle was in somebody's hand; nothing here could cut it."""
    guard_off_by = models.CharField(max_length=80, blank=True)
    """Who chose that nothing was foreseen between its steps."""
    arming = models.CharField(max_length=40, blank=True, editable=False)
    header = models.JSONField(default=dict)
    purpose = models.CharField(max_length=120, blank=True)
    note = models.TextField(blank=True)
    noticed = models.JSONField(default=dict)
    """What was noticed that is no figure, by the core's keys."""
    overrun_reason = models.CharField(max_length=200, blank=True)
    operator = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    started_at = models.DateTimeField()
    review = WordField(max_length=8, blank=True, choices=REVIEW_CHOICES)
    review_reason = models.CharField(max_length=200, blank=True)
    history = History(
        excluded_fields=[
            "channels",
            "profile",
            "limits",
            "limits_off",
            "header",
            "inherited",
            "noticed",
        ]
    )

    class Meta:
        ordering = ["-started_at", "-pk"]
        indexes = [
            # Read backwards, the newest first; an index the other way round would end in the
            # lowest number first.
            models.Index(fields=["started_at"], name="run_started_at"),
            models.Index(fields=["kind", "started_at"], name="run_of_kind"),
            models.Index(fields=["review", "started_at"], name="run_by_review"),
            # What the bench ran last, of which there may be none.
            models.Index(fields=["origin", "started_at"], name="run_by_origin"),
            # Runs of a kind are counted by what they are of.
            models.Index(fields=["kind", "propeller"], name="run_kind_propeller"),
            models.Index(fields=["kind", "sample"], name="run_kind_sample"),
            # The Board counts repeats without looking at a run.
            models.Index(fields=["sample", "propeller", "supply", "review"], name="run_repeats"),
        ]
        constraints = [
            models.CheckConstraint(
                condition=models.Q(propeller__isnull=False)
                | models.Q(kind__in=list(WITHOUT_PROPELLER)),
                name="run_has_the_propeller_its_kind_needs",
            ),
            models.CheckConstraint(
                condition=~models.Q(review="rejected") | ~models.Q(review_reason=""),
                name="rejected_run_has_a_reason",
            ),
            models.CheckConstraint(
                condition=models.Q(air_pressure_hpa__isnull=True)
                | models.Q(air_pressure_hpa__gte=500, air_pressure_hpa__lte=1100),
                name="run_air_pressure_is_possible",
            ),
        ]

    def __str__(self) -> str:
        return f"Run {self.pk}"

    @property
    def propeller_name(self) -> str:
        """The propeller, or that there was none."""
        return self.propeller.full_name if self.propeller else "no propeller"


class RunEnd(models.Model):
    """The one end record of a run, with its reason."""

    run = models.OneToOneField(Run, on_delete=models.CASCADE, related_name="end")
    outcome = WordField(max_length=12, choices=OUTCOME_CHOICES)
    code = models.CharField(max_length=40)
    reason = models.CharField(max_length=300)
    by = models.CharField(max_length=80, blank=True)
    at = models.DateTimeField(auto_now_add=True)


class TraceSegment(models.Model):
    """About a second of a run as Parquet. Written once."""

    run = models.ForeignKey(Run, on_delete=models.CASCADE, related_name="segments")
    index = models.PositiveIntegerField()
    first_row = models.PositiveIntegerField()
    row_count = models.PositiveIntegerField()
    begin_s = models.FloatField()
    end_s = models.FloatField()
    digest = models.CharField(max_length=64)
    parquet = Bytes()

    class Meta:
        ordering = ["index"]
        constraints = [
            models.UniqueConstraint(fields=["run", "index"], name="segment_is_unique"),
            models.CheckConstraint(
                condition=models.Q(row_count__gte=1, row_count__lte=65_536), name="segment_has_rows"
            ),
            models.CheckConstraint(
                condition=models.Q(end_s__gte=models.F("begin_s")), name="segment_time_runs_forward"
            ),
        ]


class TraceOutline(models.Model):
    """The lowest and highest of each few rows of a long run, for drawing. Derived: made when the
    run is first drawn."""

    run = models.ForeignKey(Run, on_delete=models.CASCADE, related_name="outlines")
    level = models.PositiveSmallIntegerField()
    """0 for all of it from far, 1 for looking nearer."""
    parquet = Bytes()

    class Meta:
        ordering = ["level"]
        constraints = [models.UniqueConstraint(fields=["run", "level"], name="outline_is_unique")]


class LaterCell(Versioned):
    """A cell of a sheet that is read later, from footage: open until somebody fills it in.

    The recording stays as it is; a value that came later is laid over it with who and when.
    """

    run = models.ForeignKey(Run, on_delete=models.CASCADE, related_name="later_cells")
    row = models.PositiveIntegerField()
    channel = models.CharField(max_length=40)
    clip = models.CharField(max_length=120, blank=True)
    time_code = models.CharField(max_length=12, blank=True)
    value = models.FloatField(null=True, blank=True)
    """In the unit of its channel; None: still owed."""
    read_by = models.CharField(max_length=80, blank=True)
    read_at = models.DateTimeField(null=True, blank=True)
    dropped_reason = models.CharField(max_length=200, blank=True)
    history = History()

    class Meta:
        ordering = ["run", "row", "pk"]
        constraints = [
            models.UniqueConstraint(fields=["run", "row", "channel"], name="later_cell_once"),
            models.CheckConstraint(condition=models.Q(row__gte=1), name="later_cell_has_a_row"),
        ]

    @property
    def head(self) -> str:
        """What is owed, in words with its unit."""
        return CHANNELS[self.channel].head

    def __str__(self) -> str:
        return f"{self.channel}, row {self.row} of run {self.run_id}"


class StoredFile(models.Model):
    """The bytes of a large file, in parts."""

    size = models.PositiveBigIntegerField()
    """As it was announced; all of it is here when the parts add up to it."""


class StoredPart(models.Model):
    """One part of a large file, compressed. Written once."""

    file = models.ForeignKey(StoredFile, on_delete=models.CASCADE, related_name="parts")
    index = models.PositiveIntegerField()
    size = models.PositiveIntegerField()
    digest = models.CharField(max_length=64)
    zstd = Bytes()

    class Meta:
        ordering = ["index"]
        constraints = [
            models.UniqueConstraint(fields=["file", "index"], name="part_is_unique"),
            models.CheckConstraint(
                condition=models.Q(size__gte=1, size__lte=8_000_000), name="part_has_a_size"
            ),
        ]


class SourceFile(models.Model):
    """The file an imported run came from, byte for byte (compressed): a small one as one piece of
    ``gzip``, a large one in the parts of ``stored``."""

    run = models.OneToOneField(Run, on_delete=models.CASCADE, related_name="source_file")
    name = models.CharField(max_length=200)
    digest = models.CharField(max_length=64, unique=True)
    gzip = Bytes()
    stored = models.OneToOneField(
        StoredFile, on_delete=models.PROTECT, null=True, blank=True, related_name="source"
    )


class Reduction(models.Model):
    """What the core made of a run. Derived: may be rebuilt at any time.

    ``error`` is set instead of ``result`` when the core could not reduce the trace.
    """

    run = models.OneToOneField(Run, on_delete=models.CASCADE, related_name="reduction")
    core_version = models.CharField(max_length=20)
    inputs_hash = models.CharField(max_length=64)
    result = models.JSONField(null=True)
    error = models.CharField(max_length=300, blank=True)
    warning_count = models.PositiveSmallIntegerField(default=0)
    made_at = models.DateTimeField(auto_now=True)
    history = History(excluded_fields=["result", "warning_count"])

    class Meta:
        constraints = [
            models.CheckConstraint(
                condition=models.Q(result__isnull=False, error="")
                | models.Q(result__isnull=True) & ~models.Q(error=""),
                name="reduction_has_result_or_error",
            )
        ]
        indexes = [
            # Which runs have figures is asked of all runs at once; a result is read only whole.
            models.Index(fields=["run", "error"], name="reduction_has_figures")
        ]


class PredictedFigure(models.Model):
    """What was expected of one figure before the run was made. Written with it and never changed.

    ``components`` as in :class:`SummaryFigure`; ``rests_on`` says in words what was known then.
    """

    run = models.ForeignKey(Run, on_delete=models.CASCADE, related_name="predicted")
    name = models.CharField(max_length=48)
    value = models.FloatField()
    u = models.FloatField()
    components = models.JSONField(default=dict)
    rests_on = models.CharField(max_length=300, blank=True)

    class Meta:
        ordering = ["pk"]
        indexes = [models.Index(fields=["name"], name="predicted_by_name")]
        constraints = [
            models.UniqueConstraint(fields=["run", "name"], name="predicted_once_per_run")
        ]

    def __str__(self) -> str:
        return f"{self.name} expected of run {self.run_id}"


class SummaryFigure(models.Model):
    """One figure of a run's summary as a row, so that lists sort, filter and page in SQL.

    Derived from :class:`Reduction` and written with it. An absent figure has no value but its
    reason. ``components``: the parts of u by kind and source, as the core names them.
    """

    run = models.ForeignKey(Run, on_delete=models.CASCADE, related_name="figures")
    name = models.CharField(max_length=48)
    value = models.FloatField(null=True)
    u = models.FloatField(null=True)
    n = models.PositiveIntegerField(null=True)
    origin = models.CharField(max_length=10, blank=True)
    assumed = models.BooleanField(default=False)
    samples = models.PositiveIntegerField(null=True)
    components = models.JSONField(default=dict)
    absent_reason = models.CharField(max_length=40, blank=True)
    absent_note = models.CharField(max_length=200, blank=True)

    class Meta:
        ordering = ["pk"]
        indexes = [
            # A page of runs by a figure is read off it, however far back.
            models.Index(fields=["name", "value", "run"], name="figure_by_name_value_run")
        ]
        constraints = [
            models.UniqueConstraint(fields=["run", "name"], name="figure_once_per_run"),
            models.CheckConstraint(
                condition=models.Q(value__isnull=False, absent_reason="")
                | models.Q(value__isnull=True) & ~models.Q(absent_reason=""),
                name="figure_is_there_or_says_why_not",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.name} of run {self.run_id}"
