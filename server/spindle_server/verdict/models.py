"""Verdicts, and the figures that stand in them by reference."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from spindle_core.compare.bench_table import Load
from spindle_core.publish.disclosure import Gain, Links
from spindle_core.publish.quotes import LastSeen, Quote, QuoteKind
from spindle_server.compare.models import SavedComparison
from spindle_server.motors.models import MotorModel
from spindle_server.rank.models import KeptRanking
from spindle_server.records.choices import WordField
from spindle_server.records.history import History
from spindle_server.records.versions import Versioned

LINKS = [
    (str(Links.UNKNOWN), "Not said yet"),
    (str(Links.NONE), "No link pays"),
    (str(Links.SOME), "Some links pay"),
]
GAINS = [
    (str(Gain.UNKNOWN), "Not said yet"),
    (str(Gain.NOBODY), "Nobody gains"),
    (str(Gain.SOMEBODY), "Somebody may gain"),
]
VERDICT_KINDS = [("motor", "Motor"), ("comparison", "Comparison"), ("cohort", "Cohort")]
QUOTE_KINDS = [(str(kind), str(kind).replace("_", " ")) for kind in QuoteKind]


class Verdict(Versioned):
    """Of one motor, of one comparison that is kept by name, or of a cohort: what a kept ranking
    asked.

    ``sentence`` is not that of a motor: its own stands with the motor, where Rank shows it too.
    ``order_seen``: of a cohort, who stood where when somebody last stood by the prose: rows of
    ``[motor, name, place]``. ``sections``: key → prose of the core's schema. ``parts``: what was
    used, each ``{"what", "name", "link", "noted_on", "pays"}``; ``pays`` null where nobody said.
    """

    motor = models.OneToOneField(
        MotorModel, on_delete=models.PROTECT, null=True, blank=True, related_name="long_verdict"
    )
    comparison = models.OneToOneField(
        SavedComparison, on_delete=models.PROTECT, null=True, blank=True, related_name="verdict"
    )
    ranking = models.OneToOneField(
        KeptRanking, on_delete=models.PROTECT, null=True, blank=True, related_name="verdict"
    )
    order_seen = models.JSONField(default=list)
    sentence = models.CharField(max_length=240, blank=True)
    sections = models.JSONField(default=dict)
    links = WordField(max_length=8, choices=LINKS, default=str(Links.UNKNOWN))
    links_text = models.CharField(max_length=400, blank=True)
    gains = WordField(max_length=8, choices=GAINS, default=str(Gain.UNKNOWN))
    gains_text = models.CharField(max_length=400, blank=True)
    parts = models.JSONField(default=list)
    begun_at = models.DateTimeField(auto_now_add=True)
    changed_at = models.DateTimeField(auto_now=True)
    history = History()

    class Meta:
        ordering = ["-changed_at", "-pk"]
        constraints = [
            models.CheckConstraint(
                condition=models.Q(
                    motor__isnull=False, comparison__isnull=True, ranking__isnull=True, sentence=""
                )
                | models.Q(motor__isnull=True, comparison__isnull=False, ranking__isnull=True)
                | models.Q(motor__isnull=True, comparison__isnull=True, ranking__isnull=False),
                name="verdict_is_of_one_thing",
            )
        ]

    def __str__(self) -> str:
        return self.subject

    @property
    def subject(self) -> str:
        """What it is of, by name."""
        return self.motor.full_name if self.motor else str(self.comparison or self.ranking)

    @property
    def kind(self) -> str:
        """What it is of: "motor", "comparison" or "cohort"."""
        if self.motor_id is not None:
            return "motor"
        return "comparison" if self.comparison_id is not None else "cohort"


class QuotedFigure(models.Model):
    """A figure of a verdict by what it is, and what it was when somebody last stood by it.

    ``value`` null: there was none. ``word``: why it stands although it has moved.
    """

    verdict = models.ForeignKey(Verdict, on_delete=models.CASCADE, related_name="figures")
    kind = WordField(max_length=16, choices=QUOTE_KINDS)
    of = models.CharField(max_length=20, blank=True)
    name = models.CharField(max_length=40, blank=True)
    propeller = models.CharField(max_length=120, blank=True)
    supply = models.CharField(max_length=40, blank=True)
    voltage_v = models.FloatField(default=0.0)
    condition = models.CharField(max_length=20, blank=True)
    level = models.FloatField(default=0.0)
    against = models.CharField(max_length=20, blank=True)
    text = models.CharField(max_length=240, blank=True)
    value = models.FloatField(null=True)
    u = models.FloatField(null=True)
    n = models.PositiveIntegerField(default=0)
    word = models.CharField(max_length=240, blank=True)
    seen_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    seen_at = models.DateTimeField()
    history = History()

    class Meta:
        ordering = ["pk"]
        constraints = [
            models.CheckConstraint(
                condition=models.Q(value__isnull=False) | models.Q(u__isnull=True),
                name="quoted_u_has_a_value",
            )
        ]

    def __str__(self) -> str:
        return self.quote.words

    @property
    def quote(self) -> Quote:
        """What is quoted."""
        return Quote(
            QuoteKind(self.kind),
            self.of,
            self.name,
            Load(self.propeller, self.supply, self.voltage_v),
            self.condition,
            self.level,
            self.against,
            self.text,
        )

    @property
    def seen(self) -> LastSeen:
        """What it was."""
        return LastSeen(self.value, self.u, self.n)


def quote_fields(quote: Quote) -> dict[str, object]:
    """A quote as the fields of its row."""
    return {
        "kind": str(quote.kind),
        "of": quote.of,
        "name": quote.name,
        "propeller": quote.load.propeller,
        "supply": quote.load.supply,
        "voltage_v": quote.load.voltage_v,
        "condition": quote.condition,
        "level": quote.level,
        "against": quote.against,
        "text": quote.text,
    }
