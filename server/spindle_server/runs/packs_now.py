"""How each pack stands now: what somebody said last, and what its runs have taken since."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import Any

from django.db.models import Prefetch, QuerySet

from spindle_core.errors import CoreError
from spindle_core.figures.measured import Absent, Figure
from spindle_core.formats.result_json import figure_to_json
from spindle_core.model.pack_now import Charge, PackNow, charge_taken, pack_now
from spindle_server.records.kept import kept
from spindle_server.rig.models import PackSaid, Supply
from spindle_server.runs.as_core import run_trace
from spindle_server.runs.models import Run

TYPED = ("readings",)
"""Kinds whose rows say nothing of the time between them."""


MOST_A_CHARGE = 40
"""No charge gives more runs: somebody has charged it since, and did not say so."""

TOO_MANY = "{} runs were made since; it was charged between them, and nobody said when"


@dataclass(slots=True)
class Standing:
    """A supply that is a pack, as it stands; ``packs``: those that it is joined of."""

    supply: Supply
    now: PackNow
    said: PackSaid | None = None
    runs: int = 0
    packs: list[Standing] = field(default_factory=list)

    @property
    def waits(self) -> str:
        """Why no run can be made on it now; empty where one can."""
        if self.packs:
            return "; ".join(one.waits for one in self.packs if one.waits)
        return "" if self.now.may_run else f"{self.supply.name} is {self.now.words}"


def packs_now(pks: Iterable[int] | None = None) -> list[Standing]:
    """Packs in use, or those named, and the supplies that are joined of packs."""
    rows = Supply.objects.filter(kind="pack").order_by("name")
    wanted = rows.filter(retired=False) if pks is None else rows.filter(pk__in=list(pks))
    asked = list(wanted.prefetch_related(Prefetch("packs", Supply.objects.order_by("name"))))
    singles = {one.pk: one for row in asked for one in (row.packs.all() if row.joined else [row])}
    said = {one.supply_id: one for one in PackSaid.objects.filter(supply__in=singles)}
    taken = _taken(said)
    standing = {
        pk: _standing(pack, said.get(pk), taken.get(pk, [])) for pk, pack in singles.items()
    }
    return [_joined(row, standing) if row.joined else standing[row.pk] for row in asked]


def _standing(pack: Supply, said: PackSaid | None, taken: list[Figure]) -> Standing:
    now = pack_now(
        Charge(said.state) if said else Charge.UNKNOWN,
        taken,
        capacity_mah=pack.capacity_mah or None,
        used_before_mah=said.used_mah if said else None,
    )
    return Standing(pack, now, said, len(taken))


def _joined(row: Supply, standing: dict[int, Standing]) -> Standing:
    """The whole stands as the worst of its packs."""
    packs = [standing[one.pk] for one in row.packs.all()]
    if not packs:
        return Standing(row, pack_now(Charge.UNKNOWN, [], capacity_mah=row.capacity_mah or None))
    worst = min(packs, key=_room)
    return Standing(row, worst.now, worst.said, worst.runs, packs)


def _room(one: Standing) -> tuple[bool, float]:
    left = one.now.left_mah
    return one.now.may_run, float("inf") if isinstance(left, Absent) else left.value


def _taken(said: dict[int, PackSaid]) -> dict[int, list[Figure]]:
    """What every run since it was said took from each pack."""
    if not said:
        return {}
    first = min(one.said_at for one in said.values())
    wholes = Supply.objects.filter(packs__in=said).exclude(joined="")
    members = {row.pk: _shares(row) for row in wholes.distinct().prefetch_related("packs")}
    since = (
        Run.objects.filter(
            supply__in=[*said, *members], started_at__gte=first, origin="bench", end__isnull=False
        )
        .order_by("started_at", "pk")
        .values_list("pk", "supply", "started_at")
    )
    shares: dict[int, list[tuple[int, float]]] = defaultdict(list)
    for run, supply, started_at in since:
        own = members.get(supply or 0) or {supply or 0: 1.0}
        for pk, share in own.items():
            if pk in said and started_at >= said[pk].said_at:
                shares[pk].append((run, share))
    # Nobody reads hundreds of traces of a pack that nobody has spoken of for a year.
    read = {run for own in shares.values() if len(own) <= MOST_A_CHARGE for run, _ in own}
    charges = {run.pk: _charge(run) for run in _runs(read)}
    return {
        pk: [_share_of(charges[run], share) for run, share in own]
        if len(own) <= MOST_A_CHARGE
        else [Absent("too_many", TOO_MANY.format(len(own)))] * len(own)
        for pk, own in shares.items()
    }


def _runs(pks: set[int]) -> QuerySet[Run]:
    related = ("stand", "supply", "propeller__maker", "sample__motor__maker", "esc")
    return Run.objects.filter(pk__in=pks).select_related(*related)


def _share_of(whole: Figure, share: float) -> Figure:
    return whole if isinstance(whole, Absent) else whole.scaled(share)


def _shares(whole: Supply) -> dict[int, float]:
    """Which share of the whole's charge each of its packs gives: in series all of it; in parallel
    by capacity, since packs side by side come to one voltage again when nothing is drawn."""
    packs = list(whole.packs.all())
    if whole.joined == "series":
        return dict.fromkeys((one.pk for one in packs), 1.0)
    total = sum(one.capacity_mah or 0.0 for one in packs)
    return {
        one.pk: (one.capacity_mah or 0.0) / total if total else 1.0 / len(packs) for one in packs
    }


def _charge(run: Run) -> Figure:
    """What a run took; read from its trace once and kept, since a trace never changes."""
    return kept("charge", (run.pk, str(run.uid)), lambda: _summed(run))


def _summed(run: Run) -> Figure:
    if run.kind in TYPED:
        return Absent("typed", "its readings were typed")
    try:
        trace = run_trace(run)
        if not trace.has("current_a"):
            return Absent("no_current", "no current was recorded")
        return charge_taken(trace.time_s, trace.channels["current_a"])
    except CoreError as error:
        return Absent("unreadable", error.message)


def standing_json(one: Standing) -> dict[str, Any]:
    """A pack as JSON."""
    return {
        "supply": one.supply.pk,
        "name": one.supply.name,
        "state": str(one.now.state),
        "words": one.now.words,
        "waits": one.waits,
        "used_mah": _figure(one.now.used_mah),
        "left_mah": _figure(one.now.left_mah),
        "capacity_mah": one.supply.capacity_mah,
        "runs": one.runs,
        "said_at": one.said.said_at if one.said else None,
        "joined": bool(one.supply.joined),
    }


def _figure(figure: Figure) -> dict[str, Any]:
    if isinstance(figure, Absent):
        return {"value": None, "u": None, "why": figure.note}
    whole = figure_to_json(figure) or {}
    return {"value": whole["value"], "u": whole["u"], "why": ""}
