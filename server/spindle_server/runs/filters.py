"""Which runs, and in what order."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any

import django_filters
from django.db.models import Case, Count, F, IntegerField, Model, Q, QuerySet, Value, When
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

COLUMNS = {"number": "pk", "started_at": "started_at"}
"""Columns that a run has itself."""

OWNERS: dict[str, tuple[str, type[Model] | None, tuple[str, ...]]] = {
    "kind": ("kind", None, ()),
    "motor": ("sample", Sample, ("motor__maker__name", "motor__name", "mark")),
    "propeller": ("propeller", Propeller, ("diameter_in", "pitch_in", "maker__name")),
    "supply": ("supply", Supply, ("name",)),
}
"""Columns of what a run is of: its field, whose rows these are, and what orders them."""

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
        choices=[
            (sign + name, name) for name in (*COLUMNS, *OWNERS, *IN_LISTS) for sign in ("", "-")
        ],
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
        """By a column of its own; by others see :func:`in_order_of`, which the view pages
        through."""
        name, down = value.removeprefix("-"), value.startswith("-")
        field = COLUMNS.get(name)
        if field is None:
            return rows
        return rows.order_by(f"-{field}" if down else field, "-pk")


def in_order_of(rows: QuerySet[Run], order: str) -> ByFigure | ByOwner | None:
    """Numbers of runs in an order that is not one of their own columns; None where it is."""
    name = order.removeprefix("-")
    if name in OWNERS:
        return ByOwner(rows, order)
    return ByFigure(rows, order) if name in IN_LISTS else None


class ByOwner:
    """Numbers of runs ordered by what they are of, in slices, as a paginator asks for them.

    Samples, propellers and supplies are few: they are put in order and their runs counted, so that
    only the runs of those on a page are looked at. Runs of none come last either way, those of one
    newest first.
    """

    def __init__(self, rows: QuerySet[Run], order: str) -> None:
        name, down = order.removeprefix("-"), order.startswith("-")
        self.field, whose, names = OWNERS[name]
        self.rows = rows.order_by()
        counted = self.rows.values_list(self.field).annotate(made=Count("pk"))
        self.counts: dict[Any, int] = dict(counted.values_list(self.field, "made"))
        self.owners: list[Any] = [*self._ordered(whose, names, down=down), None]

    def _ordered(self, whose: type[Model] | None, names: Sequence[str], *, down: bool) -> list[Any]:
        if whose is None:
            return sorted(self.counts, reverse=down)
        order: list[Any] = [
            F(one).desc(nulls_last=True) if down else F(one).asc(nulls_last=True) for one in names
        ]
        found = whose._default_manager.order_by(*order, "-pk" if down else "pk")
        return list(found.values_list("pk", flat=True))

    def count(self) -> int:
        """How many runs there are."""
        return sum(self.counts.values())

    def __getitem__(self, part: slice) -> list[int]:
        chosen: list[Any] = []
        first = skipped = 0
        for owner in self.owners:
            made = self.counts.get(owner, 0)
            if made and first < part.stop and first + made > part.start:
                if not chosen:
                    skipped = part.start - first
                chosen.append(owner)
            first += made
        if not chosen:
            return []
        known = [owner for owner in chosen if owner is not None]
        wanted = Q(**{f"{self.field}__in": known})
        if None in chosen:
            wanted |= Q(**{f"{self.field}__isnull": True})
        ordered = self.rows.filter(wanted).order_by("-pk")
        if known:
            places = (When(**{self.field: owner}, then=Value(k)) for k, owner in enumerate(known))
            after = Value(len(known))
            ordered = ordered.order_by(
                Case(*places, default=after, output_field=IntegerField()), "-pk"
            )
        numbers = ordered.values_list("pk", flat=True)
        return list(numbers[skipped : skipped + part.stop - part.start])


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
        by = ("-value", "-run") if down else ("value", "run")
        self.having = having.order_by(*by).values_list("run", flat=True)

    def count(self) -> int:
        """How many runs there are, with the figure or without."""
        return self.rows.order_by().count()

    def __getitem__(self, part: slice) -> list[int]:
        numbers = list(self.having[part])
        lacking = part.stop - part.start - len(numbers)
        if lacking > 0:
            first = max(0, part.start - self.having.count())
            # As a set and not run by run: there may be tens of thousands with the figure.
            figure = SummaryFigure.objects.filter(name=self.name, value__isnull=False)
            without = self.rows.exclude(pk__in=figure.values("run")).order_by("-pk")
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
        if field == "sample" and keys and len(keys) == Sample.objects.count():
            return Q(pk__gt=0)  # every run is of one of them
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
