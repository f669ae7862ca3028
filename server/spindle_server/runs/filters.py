"""Which runs, and in what order."""

from __future__ import annotations

from typing import Any

import django_filters
from django.db.models import F, OuterRef, Q, QuerySet, Subquery

from spindle_core.reduction.kinds import KINDS
from spindle_server.runs.models import KIND_CHOICES, OUTCOME_CHOICES, Run, SummaryFigure
from spindle_server.runs.selectors import IN_LISTS

COLUMNS = {
    "number": ("pk",),
    "started_at": ("started_at",),
    "kind": ("kind",),
    "motor": ("sample__motor__maker__name", "sample__motor__name", "sample__mark"),
    "propeller": ("propeller__diameter_in", "propeller__pitch_in", "propeller__maker__name"),
    "supply": ("supply__name",),
}
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
        """Every word is in the motor, sample, propeller, supply, kind or outcome."""
        for word in value.split():
            found = Q()
            for field in (
                "sample__motor__maker__name",
                "sample__motor__name",
                "sample__motor__size_code",
                "propeller__maker__name",
                "supply__name",
                "end__outcome",
            ):
                found |= Q(**{f"{field}__icontains": word})
            kinds = [kind.key for kind in KINDS.values() if word.lower() in kind.label.lower()]
            found |= Q(kind__in=kinds) | Q(sample__mark__iexact=word)
            found |= Q(review__istartswith=word) | _number(word)
            rows = rows.filter(found)
        return rows

    def in_order(self, rows: QuerySet[Run], name: str, value: str) -> QuerySet[Run]:
        """By a column, or by a figure of the summary."""
        column, down = value.removeprefix("-"), value.startswith("-")
        names = COLUMNS.get(column)
        if names is None:
            figure = SummaryFigure.objects.filter(run=OuterRef("pk"), name=column)
            rows = rows.annotate(ordered_by=Subquery(figure.values("value")[:1]))
            names = ("ordered_by",)
        order: list[Any] = [
            F(field).desc(nulls_last=True) if down else F(field).asc(nulls_last=True)
            for field in names
        ]
        return rows.order_by(*order, "-pk")


def _number(word: str) -> Q:
    """A number may be the run's own, the kV of the label, or a side of the propeller."""
    try:
        value = float(word.replace(",", "."))
    except ValueError:
        return Q()
    found = Q(sample__motor__kv_label_rpm_per_v=value) | Q(propeller__diameter_in=value)
    return found | Q(pk=int(value)) if value == int(value) else found
