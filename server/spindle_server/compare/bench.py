"""The whole bench under one condition: motors on propellers, with what differs from what."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import partial
from typing import Any

from spindle_core.compare.bench_table import (
    BURST,
    FULL,
    LESS_IS_BETTER,
    MORE_IS_BETTER,
    ON_BENCH,
    SUSTAINED,
    BenchRow,
    RanRun,
    bench_table,
    deltas,
    kinds_at,
    tally,
    usual_level,
)
from spindle_core.compare.delta import Delta
from spindle_core.compare.groups import performs_the_same
from spindle_core.compare.of_models import OfModel
from spindle_core.errors import CoreError
from spindle_core.figures.measured import Measured
from spindle_core.figures.quantities import QUANTITIES
from spindle_server.compare.levels import CONDITIONS, READ_AS, craft_listed, own_levels, read_as
from spindle_server.compare.pivot import (
    EVERY,
    marks_of,
    picks_revision,
    pivot_of,
    row_key,
    supply_key,
    supply_words,
)
from spindle_server.errors import ServiceError
from spindle_server.motors.models import MotorModel
from spindle_server.records.kept import kept, kept_whole
from spindle_server.rig.models import Propeller
from spindle_server.runs.ran import counted_runs, evidence_of, evidence_revision, motors_with_runs
from spindle_server.runs.stated import figure_json

ORDERS = ("propeller", "motor", "figure")


@dataclass(frozen=True, slots=True)
class Group:
    """A group of columns: a condition with its level, or the craft of a hover."""

    condition: str = FULL
    level: float | None = None
    craft: int | None = None


@dataclass(frozen=True, slots=True)
class AskedTable:
    """What a table of the bench is asked for. ``supply`` empty: the one of most rows, or
    :data:`~spindle_server.compare.pivot.EVERY`; ``also``: more groups of columns beside the first.
    """

    condition: str = FULL
    level: float | None = None
    craft: int | None = None
    supply: str = ""
    figure: str = "thrust_gf"
    order: str = "propeller"
    baseline: str = ""
    motors: tuple[int, ...] = ()
    also: tuple[Group, ...] = ()


SIDE_BY_SIDE = ("thrust_gf", "power_w", "efficiency_g_per_w", "current_a", "throttle_pct")
"""Where several groups stand side by side each shows these, as far as it has them."""


@dataclass(frozen=True, slots=True)
class ReadGroup:
    """A group as it was read: its words, its figures, and its rows by their keys."""

    asked: Group
    level: float | None
    words: str
    figures: tuple[str, ...]
    rows: Mapping[str, BenchRow]


def bench_of(asked: AskedTable) -> dict[str, Any]:
    """The table, kept as long as no run and no name changes."""
    return kept("bench-table", rests_on(asked), lambda: _look(asked))


def rests_on(asked: AskedTable) -> tuple[Any, ...]:
    """What the table depends on."""
    return (evidence_revision(), craft_listed(), picks_revision(), asked)


def _look(asked: AskedTable) -> dict[str, Any]:
    motors, more = motors_with_runs()
    chosen = [pk for pk in motors if not asked.motors or pk in asked.motors]
    first = Group(asked.condition, asked.level, asked.craft)
    groups_asked = (first, *asked.also)
    kinds = sorted({kind for one in groups_asked for kind in kinds_at(read_as(one.condition))})
    # Another figure, order or baseline reads nothing anew.
    state = (evidence_revision(), craft_listed(), chosen, kinds)
    everything, unreviewed = kept_whole("bench-runs", state, lambda: _runs(chosen, kinds))
    supplies: dict[str, int] = {}
    for run in {(run.motor, run.load) for run in everything}:
        name = f"{run[1].supply}|{run[1].voltage_v:g}"
        supplies[name] = supplies.get(name, 0) + 1
    listed = sorted(supplies, key=lambda name: (-supplies[name], name))
    supply = asked.supply if asked.supply in (*supplies, EVERY) else next(iter(listed), "")
    runs = [
        run for run in everything if supply in (EVERY, f"{run.load.supply}|{run.load.voltage_v:g}")
    ]
    try:
        groups = [
            kept_whole(
                "bench-group",
                (*state, supply, group, not asked.also),
                partial(_read_group, group, runs, alone=not asked.also),
            )
            for group in groups_asked
        ]
    except CoreError as error:
        raise ServiceError(error.message, code=error.code, fields={"level": [error.message]}) from (
            error
        )
    names = {
        str(one.pk): one.full_name
        for one in MotorModel.objects.select_related("maker").filter(pk__in=motors)
    }
    propellers = {one.full_name: one.pk for one in Propeller.objects.select_related("maker")}
    rows = _ordered(list(groups[0].rows.values()), asked, names)
    return {
        "conditions": list(CONDITIONS),
        "condition": asked.condition,
        "level": groups[0].level,
        "craft": asked.craft,
        "craft_listed": [{"craft": pk, "name": name} for pk, name, _ in craft_listed()],
        "groups": [
            {
                "condition": one.asked.condition,
                "level": one.level,
                "craft": one.asked.craft,
                "words": one.words,
                "figures": list(one.figures),
            }
            for one in groups
        ],
        "supplies": [
            {"key": key, "words": supply_words(key), "rows": supplies[key]} for key in listed
        ],
        "supply": supply,
        "figures": list(groups[0].figures),
        "rows": _rows(rows, groups, asked, names, propellers),
        "pivot": pivot_of(rows, read_as(asked.condition), asked.figure, names, propellers),
        "same": _same(rows, groups[0].figures, names),
        "motors": [{"motor": int(pk), "name": name} for pk, name in names.items()],
        "more": more,
        "unreviewed": unreviewed,
    }


def _runs(motors: Sequence[int], kinds: Sequence[str]) -> tuple[list[RanRun], int]:
    """The runs that count and turned a propeller, and how many of them nobody has reviewed."""
    # Nothing is barred from being looked at: points beyond a rating stand in a comparison.
    evidence = evidence_of(counted_runs(motors).filter(kind__in=kinds), {})
    return [run for run in evidence.runs if run.load.propeller], evidence.unreviewed


def _read_group(group: Group, runs: Sequence[RanRun], *, alone: bool) -> ReadGroup:
    condition = read_as(group.condition)
    level: float | Mapping[str, float] | None
    if group.condition in READ_AS:
        words, own = own_levels(group.condition, group.craft, [int(run.motor) for run in runs])
        level, said = own, None
    else:
        level = group.level if group.level is not None else usual_level(runs, condition)
        said = level
        words = ""
    rows = bench_table(runs, condition, level) if runs else []
    figures = tuple(name for name in ON_BENCH[condition] if alone or name in SIDE_BY_SIDE)
    return ReadGroup(group, said, words, figures, {row_key(row): row for row in rows})


SAMENESS = 0.02


def _same(
    rows: Sequence[BenchRow], figures: Sequence[str], names: Mapping[str, str]
) -> list[dict[str, Any]]:
    """Motors that perform the same on one propeller: shown to, not only not told apart."""
    found = []
    for load in sorted({row.load for row in rows}):
        held = {
            row.motor: {
                name: figure
                for name in figures
                if name in MORE_IS_BETTER | LESS_IS_BETTER
                and isinstance(figure := row.figure(name), Measured)
                and figure.value != 0
            }
            for row in rows
            if row.load == load
        }
        told = {motor: own for motor, own in held.items() if own}
        if len(told) < 2:
            continue
        for group in performs_the_same(told, margin=SAMENESS).groups:
            found.append(
                {
                    "propeller_name": load.propeller,
                    "motors": [{"motor": int(pk), "name": names[pk]} for pk in group],
                }
            )
    return found


def _ordered(rows: list[BenchRow], asked: AskedTable, names: dict[str, str]) -> list[BenchRow]:
    def value(row: BenchRow) -> float:
        figure = row.figure(asked.figure)
        return -figure.value if isinstance(figure, Measured) else float("inf")

    if asked.order == "motor":
        return sorted(rows, key=lambda row: (names[row.motor], row.load))
    if asked.order == "figure":
        return sorted(rows, key=lambda row: (value(row), names[row.motor], row.load))
    return sorted(rows, key=lambda row: (row.load, names[row.motor]))


def delta_json(found: Delta | None) -> dict[str, Any] | None:
    if found is None:
        return None
    return {
        "delta": found.delta.value,
        "delta_pct": found.delta_pct,
        "u_pct": found.u_pct,
        "outcome": str(found.outcome),
    }


def _rows(
    rows: Sequence[BenchRow],
    groups: Sequence[ReadGroup],
    asked: AskedTable,
    names: dict[str, str],
    propellers: dict[str, int],
) -> list[dict[str, Any]]:
    keys = [row_key(row) for row in rows]
    baseline = next((k for k, key in enumerate(keys) if key == asked.baseline), None)
    against: list[dict[str, list[Delta | None]]] = []
    for group in groups:
        own = [group.rows.get(key) or _nothing(row) for key, row in zip(keys, rows, strict=True)]
        held = None if baseline is None else own[baseline]
        against.append({name: deltas(own, name, held) for name in group.figures})
    marks = marks_of(rows)
    found = []
    for k, row in enumerate(rows):
        counted = tally(
            (name, against[g][name][k]) for g, group in enumerate(groups) for name in group.figures
        )
        found.append(
            {
                "key": keys[k],
                "motor": int(row.motor),
                "motor_name": names[row.motor],
                "propeller": propellers.get(row.load.propeller),
                "propeller_name": row.load.propeller,
                "runs": [int(key.removeprefix("run ")) for key in row.runs],
                "baseline": k == baseline,
                "marks": marks.get(keys[k], []),
                "on": supply_words(supply_key(row)),
                "cells": [
                    {
                        **_cell(group.rows.get(keys[k]) or _nothing(row), name),
                        "delta": delta_json(against[g][name][k]),
                        "group": g,
                    }
                    for g, group in enumerate(groups)
                    for name in group.figures
                ],
                "levels": [
                    one.level if (one := group.rows.get(keys[k])) else None for group in groups
                ],
                "better": counted.better,
                "equal": counted.equal,
                "worse": counted.worse,
                "unresolved": counted.unresolved,
            }
        )
    return found


def _nothing(row: BenchRow) -> BenchRow:
    """The row where a group has none of it."""
    return BenchRow(row.motor, row.load, {}, ())


def _cell(row: BenchRow, name: str) -> dict[str, Any]:
    held = row.figures.get(name)
    return {
        "name": name,
        "figure": figure_json(row.figure(name)),
        "samples": held.samples if isinstance(held, OfModel) else None,
        "runs": held.runs if isinstance(held, OfModel) else None,
    }


def table_rows(found: dict[str, Any]) -> list[list[Any]]:
    """Heads and rows of the table, each figure with its u and its difference."""
    heads: list[Any] = ["Motor", "Propeller", "On"]
    many = len(found["groups"]) > 1
    for group in found["groups"]:
        at = f" ({_group_words(group)})" if many else ""
        for name in group["figures"]:
            label = f"{QUANTITIES[name].head}{at}"
            heads += [label, f"u, {label}", f"difference, %, {label}", f"outcome, {label}"]
    rows = [heads]
    for row in found["rows"]:
        cells: list[Any] = [row["motor_name"], row["propeller_name"], row["on"]]
        for cell in row["cells"]:
            delta = cell["delta"] or {"delta_pct": None, "outcome": ""}
            cells += [
                cell["figure"]["value"],
                cell["figure"]["u"],
                delta["delta_pct"],
                delta["outcome"],
            ]
        rows.append(cells)
    return rows


PLAIN_WORDS = {
    FULL: "full throttle",
    BURST: "burst, strongest 50 ms",
    SUSTAINED: "sustained, 0.5 to 1.5 s",
}


def _group_words(group: dict[str, Any]) -> str:
    if group["words"]:
        return str(group["words"])
    if group["condition"] in PLAIN_WORDS:
        return PLAIN_WORDS[group["condition"]]
    quantity = QUANTITIES[group["condition"]]
    return f"at {group['level']:g} {quantity.unit}" if group["level"] else quantity.label
