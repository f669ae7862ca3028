"""The bench turned: motors against propellers, on one supply or all of them; its marks."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from spindle_core.compare.bench_table import ON_BENCH, BenchRow, Load, foreseen
from spindle_core.compare.factor_table import FactorTable
from spindle_core.compare.of_models import OfModel
from spindle_core.figures.measured import Absent, Measured
from spindle_server.compare.models import Pick
from spindle_server.motors.models import Sample
from spindle_server.rig.models import Supply
from spindle_server.runs.as_core import SUPPLY_WORDS
from spindle_server.runs.stated import figure_json

EVERY = "every"
"""The supply that stands for all of them, side by side."""


def supply_key(row: BenchRow) -> str:
    """Supply and voltage of a row, as an address carries them."""
    return f"{row.load.supply}|{row.load.voltage_v:g}"


def load_key(load: Load) -> str:
    """A load, as an address carries it."""
    return f"{load.propeller}|{load.supply}|{load.voltage_v:g}"


def row_key(row: BenchRow) -> str:
    """A row, as an address carries it."""
    return f"{row.motor}|{row.load.propeller}|{supply_key(row)}"


def supply_words(key: str) -> str:
    """A supply's key as one would say it."""
    supply, volts = key.rsplit("|", 1)
    said = f"{volts} V" if volts != "0" else "unknown voltage"
    return f"{said} {supply}".strip()


def marks_of(rows: Sequence[BenchRow]) -> dict[str, list[str]]:
    """What is marked of each row, by its key: the strongest and the thriftiest of its supply, the
    same among its motor's propellers, and what somebody picked."""
    found: dict[str, list[str]] = {}
    for supply in dict.fromkeys(supply_key(row) for row in rows):
        own = [row for row in rows if supply_key(row) == supply]
        _mark(found, own, "strongest", "thriftiest")
        for motor in dict.fromkeys(row.motor for row in own):
            those = [row for row in own if row.motor == motor]
            _mark(found, those, "its strongest propeller", "its thriftiest propeller")
    for pick in picks():
        found.setdefault(pick_key(pick), []).append("picked")
    return found


def _mark(found: dict[str, list[str]], rows: Sequence[BenchRow], *words: str) -> None:
    for name, word in zip(("thrust_gf", "efficiency_g_per_w"), words, strict=True):
        known = [
            (figure.value, row) for row in rows if isinstance(figure := row.figure(name), Measured)
        ]
        if len(known) > 1:
            found.setdefault(row_key(max(known, key=lambda one: one[0])[1]), []).append(word)


def picks() -> list[Pick]:
    """What reviewers picked."""
    return list(Pick.objects.select_related("picked_by", "propeller__maker"))


def picks_revision() -> tuple[tuple[int, int], ...]:
    """Which there are, in which version."""
    return tuple(Pick.objects.values_list("pk", "version"))


def pick_key(pick: Pick) -> str:
    """The row that was picked."""
    return f"{pick.motor_id}|{pick.propeller.full_name}|{pick.supply}|{pick.voltage_v:g}"


def pivot_of(
    rows: Sequence[BenchRow],
    condition: str,
    figure: str,
    names: Mapping[str, str],
    propellers: Mapping[str, int],
) -> dict[str, Any]:
    """Motors against propellers for one figure; empty cells estimated where runs link them.

    :param rows: on one supply, or on several: each then has columns of its own. :param figure: the
        first of the condition where it has none of that name.
    """
    listed = ON_BENCH[condition]
    name = figure if figure in listed else listed[0]
    across = sorted({row.load for row in rows}, key=lambda load: (load.propeller, load.voltage_v))
    down = sorted({row.motor for row in rows}, key=lambda pk: names[pk])
    supplies = list(dict.fromkeys((load.supply, load.voltage_v) for load in across))
    tables = {
        supply: foreseen(
            [row for row in rows if (row.load.supply, row.load.voltage_v) == supply], name
        )
        for supply in supplies
    }
    one = next(iter(tables.values()), Absent("no_rows", "has no rows"))
    if len(supplies) > 1:
        one = Absent("supplies", "is told of one supply at a time")
    picked = {pick_key(pick): pick for pick in picks()}
    marks = marks_of(rows)
    by_place = {(row.motor, row.load): row for row in rows}
    return {
        "name": name,
        "motors": _motors(down, names, one),
        "propellers": _propellers(across, propellers, one),
        # What was never run and cannot be estimated is most of a large bench: it is left out.
        "cells": [
            _cell(motor, load, row, name, tables, marks, picked)
            for motor in down
            for load in across
            if (row := by_place.get((motor, load))) is not None
            or _guess(tables, motor, load) is not None
        ],
        "interaction_pct": one.interaction_pct if isinstance(one, FactorTable) else None,
        "no_effects": one.note if isinstance(one, Absent) else "",
    }


def _guess(
    tables: Mapping[tuple[str, float], FactorTable | Absent], motor: str, load: Load
) -> Measured | None:
    """What the other cells foresee of one that was never run."""
    table = tables[load.supply, load.voltage_v]
    return None if isinstance(table, Absent) else table.predicted.get((motor, load.propeller))


def _cell(
    motor: str,
    load: Load,
    row: BenchRow | None,
    name: str,
    tables: Mapping[tuple[str, float], FactorTable | Absent],
    marks: Mapping[str, list[str]],
    picked: Mapping[str, Pick],
) -> dict[str, Any]:
    held = row.figures.get(name) if row else None
    figure = row.figure(name) if row else Absent("not_run", "never run")
    guess = _guess(tables, motor, load) if isinstance(figure, Absent) else None
    figure = guess or figure
    key = f"{motor}|{load_key(load)}"
    pick = picked.get(key)
    return {
        "motor": int(motor),
        "propeller_name": load.propeller,
        "supply": f"{load.supply}|{load.voltage_v:g}",
        "figure": figure_json(figure),
        "estimated": guess is not None,
        "samples": held.samples if isinstance(held, OfModel) else None,
        "runs": held.runs if isinstance(held, OfModel) else None,
        "made": [int(one.removeprefix("run ")) for one in row.runs] if row else [],
        "marks": [word for word in marks.get(key, []) if word in ("strongest", "thriftiest")],
        "pick": pick_json(pick) if pick else None,
    }


def pick_json(pick: Pick) -> dict[str, Any]:
    """A pick as it is shown."""
    return {
        "id": pick.pk,
        "version": pick.version,
        "why": pick.why,
        "by": pick.picked_by.shown_name if pick.picked_by else "",
    }


def _motors(
    down: Sequence[str], names: Mapping[str, str], table: FactorTable | Absent
) -> list[dict[str, Any]]:
    at_hand = _samples(down)
    return [
        {
            "motor": int(pk),
            "name": names[pk],
            "sample": at_hand.get(int(pk)),
            "effect_pct": figure_json(table.motor_effect_pct[pk])
            if isinstance(table, FactorTable) and pk in table.motor_effect_pct
            else None,
        }
        for pk in down
    ]


def _propellers(
    across: Sequence[Load], propellers: Mapping[str, int], table: FactorTable | Absent
) -> list[dict[str, Any]]:
    on_rig: dict[tuple[str, float], int] = {}
    for supply in Supply.objects.order_by("-pk"):
        if supply.nominal_voltage_v is not None:
            on_rig[SUPPLY_WORDS[supply.kind], supply.nominal_voltage_v] = supply.pk
    return [
        {
            "propeller": propellers.get(load.propeller),
            "name": load.propeller,
            "supply": f"{load.supply}|{load.voltage_v:g}",
            "on": supply_words(f"{load.supply}|{load.voltage_v:g}"),
            "mounted_on": on_rig.get((load.supply, load.voltage_v)),
            "effect_pct": figure_json(table.propeller_effect_pct[load.propeller])
            if isinstance(table, FactorTable) and load.propeller in table.propeller_effect_pct
            else None,
        }
        for load in across
    ]


def _samples(motors: Sequence[str]) -> dict[int, int]:
    """Motor → its first sample that is still there."""
    rows = (
        Sample.objects.filter(motor__in=[int(pk) for pk in motors])
        .exclude(incidents__destroyed=True, incidents__struck_reason="")
        .order_by("-mark", "-pk")
        .values_list("motor", "pk")
    )
    return dict(rows)
