"""Which runs, and in what order."""

from __future__ import annotations

import math
from typing import Any

import django_filters
from django.db.models import Exists, F, OuterRef, Q, QuerySet
from rest_framework.exceptions import ValidationError

from spindle_core.reduction.kinds import KINDS
from spindle_server.motors.models import MotorModel, Sample
from spindle_server.rig.models import Propeller, Supply
from spindle_server.runs.models import (
    KIND_CHOICES,
    OUTCOME_CHOICES,
    REVIEW_CHOICES,
    LaterCell,
    Run,
    SummaryFigure,
)
from spindle_server.runs.selectors import IN_LISTS

COLUMNS = {
    "number": ("pk",),
    "started_at": ("started_at",),
    "kind": ("kind",),
    "motor": ("sample__motor__maker__name", "sample__motor__name", "sample__mark"),
    "propeller": ("propeller__diameter_in", "propeller__pitch_in", "propeller__maker__name"),
    "supply": ("supply__name",),
}
MOST_WORDS = 8
STATES = [
    ("waiting", "Not reviewed"),
    ("accepted", "Accepted"),
    ("rejected", "Rejected"),
    ("recording", "Recording"),
    *OUTCOME_CHOICES,
]


class RunFilter(django_filters.FilterSet):
    """Runs of a motor, propeller, supply, stand, kind, state or day; words; and their order.

    ``order`` takes a column or a headline figure, with ``-`` for the largest first. A run without
    the figure stands last either way.
    """

    motor = django_filters.NumberFilter(field_name="sample__motor")
    kind = django_filters.ChoiceFilter(choices=KIND_CHOICES)
    state = django_filters.ChoiceFilter(choices=STATES, method="in_state")
    day = django_filters.DateFilter(
        field_name="started_at", lookup_expr="date", input_formats=["%Y-%m-%d"]
    )
    search = django_filters.CharFilter(method="with_words")
    order = django_filters.ChoiceFilter(
        choices=[(sign + name, name) for name in (*COLUMNS, *IN_LISTS) for sign in ("", "-")],
        method="in_order",
    )

    class Meta:
        model = Run
        fields = ["sample", "propeller", "supply", "stand", "review", "uid"]

    def in_state(self, rows: QuerySet[Run], name: str, value: str) -> QuerySet[Run]:
        """Runs that are recording, wait for a verdict, have one, or ended in some way."""
        if value == "waiting":
            return rows.filter(review="", end__isnull=False)
        if value == "recording":
            return rows.filter(end__isnull=True)
        if value in ("accepted", "rejected"):
            return rows.filter(review=value)
        return rows.filter(end__outcome=value)

    def with_words(self, rows: QuerySet[Run], name: str, value: str) -> QuerySet[Run]:
        """Every word is in the motor, sample, propeller, supply, kind, state, or is a number of
        one. The words are looked up where there are few rows, not in every run."""
        words = list(dict.fromkeys(value.lower().split()))
        if len(words) > MOST_WORDS:
            message = f"Search for at most {MOST_WORDS} words; these are {len(words)}."
            raise ValidationError({"search": [message]})
        for word in words:
            found = _matching(word)
            if not found:
                return rows.none()
            rows = rows.filter(found)
        return rows

    def in_order(self, rows: QuerySet[Run], name: str, value: str) -> QuerySet[Run]:
        """By a column, or by a figure of the summary."""
        column, down = value.removeprefix("-"), value.startswith("-")
        names = COLUMNS.get(column)
        if names is None:
            return rows  # by a figure: see ByFigure, which the view pages through
        order: list[Any] = [
            F(field).desc(nulls_last=True) if down else F(field).asc(nulls_last=True)
            for field in names
        ]
        return rows.order_by(*order, "-pk")


class ByFigure:
    """Numbers of runs ordered by a figure, in slices, as a paginator asks for them.

    Runs that have the figure come first, by its value; an index of the figures finds a slice
    without looking at every run. Those without it follow, newest first, either way.
    """

    def __init__(self, rows: QuerySet[Run], order: str) -> None:
        self.rows = rows
        self.name, down = order.removeprefix("-"), order.startswith("-")
        having = SummaryFigure.objects.filter(name=self.name, value__isnull=False)
        if rows.query.where:
            having = having.filter(run__in=rows.order_by().values("pk"))
        by = ("-value", "-pk") if down else ("value", "pk")
        self.having = having.order_by(*by).values_list("run", flat=True)

    def count(self) -> int:
        """How many runs there are, with the figure or without."""
        return self.rows.order_by().count()

    def __getitem__(self, part: slice) -> list[int]:
        numbers = list(self.having[part])
        lacking = part.stop - part.start - len(numbers)
        if lacking > 0:
            first = max(0, part.start - self.having.count())
            figure = SummaryFigure.objects.filter(
                run=OuterRef("pk"), name=self.name, value__isnull=False
            )
            without = self.rows.filter(~Exists(figure)).order_by("-pk")
            numbers += without.values_list("pk", flat=True)[first : first + lacking]
        return numbers


def _matching(word: str) -> Q:
    """What a run may be for one word; empty where no run can be."""
    found = Q()
    motors = Q(maker__name__icontains=word) | Q(name__icontains=word)
    motors |= Q(size_code__icontains=word)
    number = _number(word)
    if number is not None:
        motors |= Q(kv_label_rpm_per_v=number)
        if number == int(number):
            found |= Q(pk=int(number))
    samples = Q(motor__in=list(MotorModel.objects.filter(motors).values_list("pk", flat=True)))
    propellers = Q(maker__name__icontains=word)
    if number is not None:
        propellers |= Q(diameter_in=number)
    few: tuple[tuple[str, QuerySet[Any]], ...] = (
        ("sample", Sample.objects.filter(samples | Q(mark__iexact=word))),
        ("propeller", Propeller.objects.filter(propellers)),
        ("supply", Supply.objects.filter(name__icontains=word)),
    )
    for field, rows in few:
        keys = list(rows.order_by().values_list("pk", flat=True))
        if keys:
            found |= Q(**{f"{field}__in": keys})
    said = word.lower()
    kinds = [kind.key for kind in KINDS.values() if said in kind.label.lower()]
    outcomes = [key for key, label in OUTCOME_CHOICES if said in label.lower()]
    reviews = [key for key, label in REVIEW_CHOICES if label.lower().startswith(said)]
    for field, words in (("kind", kinds), ("end__outcome", outcomes), ("review", reviews)):
        if words:
            found |= Q(**{f"{field}__in": words})
    return found


def _number(word: str) -> float | None:
    """A number may be the run's own, the kV of the label, or a propeller's diameter."""
    try:
        value = float(word.replace(",", "."))
    except ValueError:
        return None
    return value if math.isfinite(value) else None


class LaterCellFilter(django_filters.FilterSet):
    """What is owed from footage: of a motor, or of a run."""

    motor = django_filters.NumberFilter(field_name="run__sample__motor")

    class Meta:
        model = LaterCell
        fields = ["run"]
