"""Mass and money over the bench: what each motor weighs and costs, and what that buys."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping
from typing import Any

from django.core.cache import cache

from spindle_core.compare.bench_table import Load
from spindle_core.compare.delta import Delta, compare, is_told
from spindle_core.errors import CoreError
from spindle_core.figures.measured import Absent, Figure, Measured, Origin
from spindle_core.figures.said import figure as in_words
from spindle_core.motor.size_code import SizeCode, parse_size_code, stator_volume_mm3
from spindle_core.motor.stator_trend import TrendMotor, motor_constant_nm_per_sqrt_w, stator_trend
from spindle_core.rank.cohort import cohort_of
from spindle_core.rank.mass_and_money import Choosing, SizeTrend, choosing, per, size_trend
from spindle_core.teardown.vocabulary import ATTRIBUTES
from spindle_server.identification.knowing import fits_of_all
from spindle_server.identification.models import Identified
from spindle_server.motors.models import MotorModel
from spindle_server.rank.facts import Facts, facts_of
from spindle_server.rank.judging import currency_of, key_of, load_from
from spindle_server.rig.selectors import declaration
from spindle_server.runs.ran import (
    counted_runs,
    curve_loads,
    evidence_of,
    evidence_revision,
    motors_with_runs,
    ratings_of,
)
from spindle_server.runs.stated import figure_json
from spindle_server.teardown.models import ANSWERED, Observation

KEPT_S = 24 * 3600
NOT_KNOWN = (Origin.ESTIMATED, Origin.CLAIMED)
PARTS = ("mass_g", "max_thrust_gf", "thrust_per_gram", "thrust_per_price", "price")


def mass_and_money(load: str, baseline: int | None) -> dict[str, Any]:
    """The table, kept as long as nothing that it rests on is written."""
    rests_on = repr((evidence_revision(), Identified.objects.count(), load, baseline))
    key = f"mass-money:{hashlib.sha256(rests_on.encode()).hexdigest()}"
    kept: dict[str, Any] | None = cache.get(key)
    if kept is None:
        kept = _look(load, baseline)
        cache.set(key, kept, KEPT_S)
    return kept


def _look(asked: str, baseline: int | None) -> dict[str, Any]:
    motors, more = motors_with_runs()
    newest = MotorModel.objects.exclude(pk__in=motors).order_by("-pk")
    motors = [*motors, *newest.values_list("pk", flat=True)[: max(0, 60 - len(motors))]]
    facts = facts_of(motors)
    currency = currency_of(facts)
    loads = curve_loads(motors)
    known = [one for one, _ in loads]
    load = load_from(asked)
    load = load if load in known else next(iter(known), None)
    thrusts = _thrusts(motors, facts, load)
    masses = {pk: one.mass_g for pk, one in facts.items()}
    prices: dict[int, Figure] = {
        pk: one.price
        if one.currency == currency or isinstance(one.price, Absent)
        else Absent("other_currency", f"its price is in {one.currency}")
        for pk, one in facts.items()
    }
    sizes = {pk: _size(one.motor) for pk, one in facts.items()}
    volumes = {str(pk): volume for pk, (_, volume) in sizes.items() if volume is not None}
    trend = size_trend(volumes, {str(pk): figure for pk, figure in thrusts.items()})
    heavy = size_trend(volumes, {str(pk): figure for pk, figure in masses.items()})
    rows = []
    columns: dict[int, dict[str, Figure]] = {}
    for pk in facts:
        thrust = thrusts.get(pk, Absent("not_run", "not run under this load"))
        columns[pk] = {
            "mass_g": masses[pk],
            "max_thrust_gf": thrust,
            "thrust_per_gram": per(thrust, masses[pk]),
            "thrust_per_price": per(thrust, prices[pk]),
            "price": prices[pk],
        }
    held = columns.get(baseline) if baseline is not None else None
    copper = _copper_room(list(facts))
    for pk, one in facts.items():
        size, volume = sizes[pk]
        rows.append(
            {
                "motor": pk,
                "motor_name": one.motor.full_name,
                "size_code": one.motor.size_code,
                "volume_mm3": volume,
                "aspect": size.aspect if size is not None and volume is not None else None,
                "copper_room": copper.get(pk, ""),
                "price_words": one.price_words,
                "losses": f"{one.losses[0]} of {one.losses[1]} destroyed" if one.losses[0] else "",
                "cells": [
                    {
                        "name": name,
                        "figure": figure_json(columns[pk][name]),
                        "delta": _delta(columns[pk][name], held[name] if held else None),
                    }
                    for name in PARTS
                ],
                "thrust_over_trend_pct": figure_json(_residual(trend, pk)),
                "mass_over_trend_pct": figure_json(_residual(heavy, pk)),
                "baseline": pk == baseline,
            }
        )

    def heaviest_last(row: dict[str, Any]) -> tuple[float, str]:
        mass = masses[row["motor"]]
        return (mass.value if isinstance(mass, Measured) else float("inf"), row["motor_name"])

    rows.sort(key=heaviest_last)
    return {
        "lead_length_mm": declaration().lead_length_mm,
        "currency": currency,
        "load": key_of(load) if load is not None else "",
        "load_words": load.words if load is not None else "",
        "loads": [{"key": key_of(one), "words": one.words, "motors": n} for one, n in loads],
        "rows": rows,
        "trend_words": _trend_words(trend),
        "copper_words": _copper_trend(list(facts)),
        "choosing": _choosing(_chosen(thrusts, masses, prices), facts, currency),
        "more": more,
    }


def _thrusts(motors: list[int], facts: Mapping[int, Facts], load: Load | None) -> dict[int, Figure]:
    if load is None:
        return {}
    evidence = evidence_of(counted_runs(motors, load), ratings_of(facts))
    cohort = cohort_of(evidence.runs, load=load)
    return {
        int(motor): figures["max_thrust_gf"].figure
        for motor, figures in cohort.figures.items()
        if "max_thrust_gf" in figures
    }


def _size(motor: MotorModel) -> tuple[SizeCode | None, float | None]:
    if not motor.size_code:
        return None, None
    try:
        size = parse_size_code(motor.size_code, motor.size_basis or None)
    except CoreError:
        return None, None
    volume = stator_volume_mm3(size)
    return size, None if isinstance(volume, Absent) else volume


def _residual(trend: SizeTrend | Absent, pk: int) -> Figure:
    if isinstance(trend, Absent):
        return trend
    return trend.residual_pct.get(str(pk), Absent("not_known", "its size or figure is not known"))


def _delta(figure: Figure, held: Figure | None) -> dict[str, Any] | None:
    if isinstance(figure, Absent) or held is None or isinstance(held, Absent):
        return None
    if figure is held or not is_told(held):
        return None
    if any(one.u == 0 and one.origin in NOT_KNOWN for one in (figure, held)):
        # A guessed price without any u is not told to differ from another.
        return None
    found: Delta = compare(figure, held)
    return {
        "delta": found.delta.value,
        "delta_pct": found.delta_pct,
        "u_pct": found.u_pct,
        "outcome": str(found.outcome),
    }


def _copper_room(motors: list[int]) -> dict[int, str]:
    """Motor → what its teardown says of the room for copper, of the first sample that was seen."""
    rows = (
        Observation.objects.filter(
            sample__motor__in=motors, attribute="copper_room", status__in=ANSWERED
        )
        .order_by("sample__mark", "pk")
        .values_list("sample__motor", "choice")
    )
    labels = {one.key: one.label for one in ATTRIBUTES["copper_room"].choices}
    found: dict[int, str] = {}
    for motor, choice in rows:
        found.setdefault(motor, labels.get(choice, choice))
    return found


def _trend_words(trend: SizeTrend | Absent) -> str:
    if isinstance(trend, Absent):
        return f"No trend over the stator's volume: {trend.note}."
    return (
        f"Over the stators of {trend.motors} motors thrust goes with the volume to the power of "
        f"{trend.exponent:.2f}; they scatter about it by {trend.scatter_pct:.0f} %."
    )


def _copper_trend(motors: list[int]) -> str:
    """Km of identified motors against what their stators let one expect, in a sentence."""
    rows = MotorModel.objects.filter(pk__in=motors, samples__identified__fit__isnull=False)
    told, known = [], fits_of_all(motors)
    for motor in rows.select_related("maker").distinct():
        size, volume = _size(motor)
        fits = [fit for fit in known.get(motor.pk, {}).values() if fit.usable]
        model = fits[0].model() if fits else None
        if size is None or volume is None or model is None or isinstance(model, Absent):
            continue
        told.append(
            TrendMotor(
                motor.full_name,
                size.diameter_mm,
                size.height_mm,
                motor_constant_nm_per_sqrt_w(model),
            )
        )
    found = stator_trend(told)
    if isinstance(found, Absent):
        return f"Nothing is said of torque per copper heat: {found.note}."
    order = sorted(found.residual_pct, key=lambda name: -found.residual_pct[name])
    best, worst = order[0], order[-1]
    return (
        f"Torque per root of copper heat (Km), against what the stators let one expect: {best} "
        f"{found.residual_pct[best]:+.0f} %, {worst} {found.residual_pct[worst]:+.0f} %; all "
        f"scatter by {found.scatter_pct:.0f} %.".replace("-", "−")
    )


def _chosen(
    thrusts: Mapping[int, Figure], masses: Mapping[int, Figure], prices: Mapping[int, Figure]
) -> Choosing:
    def known(figures: Mapping[int, Figure]) -> dict[str, Measured]:
        return {
            str(pk): one
            for pk, one in figures.items()
            if isinstance(one, Measured) and one.value > 0
        }

    return choosing(known(thrusts), known(masses), known(prices))


def _choosing(found: Choosing, facts: Mapping[int, Facts], currency: str) -> list[str]:
    """In sentences: who is left, who is beaten by whom, what a step up costs."""
    names = {str(pk): one.motor.full_name for pk, one in facts.items()}
    said = []
    if found.left:
        listed = ", ".join(names[name] for name in found.left)
        said.append(f"Choose among {listed}: of these, none is beaten in thrust, mass and price.")
    for one in found.beaten:
        sure = f"{100 * one.confidence:.0f} % sure"
        said.append(
            f"{names[one.worse]} never: {names[one.better]} equals or beats it in all that is "
            f"known of both ({sure})."
        )
    for step in found.steps:
        parts = []
        for won, what in (
            (step.per_percent_gained, "per 1 % of thrust"),
            (step.per_gram_saved, "per gram saved"),
        ):
            if isinstance(won, Measured):
                parts.append(f"{in_words(won.value, won.u, currency)} {what}")
        if parts:
            said.append(
                f"{names[step.dearer]} costs {step.extra:.2f} {currency} more than "
                f"{names[step.cheaper]}: {', '.join(parts)}."
            )
    return said


def mass_rows(found: dict[str, Any]) -> list[list[Any]]:
    """The table as rows for a file."""
    heads: list[Any] = [
        "Motor",
        "Size code",
        "Stator volume, mm³",
        "Aspect",
        "Room for copper",
        f"Mass at {found['lead_length_mm']:g} mm leads, g",
        "u, g",
        f"Largest thrust, gf ({found['load_words']})",
        "u, gf",
        "gf per g",
        "u",
        f"gf per {found['currency'] or 'price'}",
        "u",
        f"Price, {found['currency']}",
        "u",
        "Price is",
        "Thrust over trend, %",
    ]
    rows = [heads]
    for row in found["rows"]:
        cells: list[Any] = [
            row["motor_name"],
            row["size_code"],
            row["volume_mm3"],
            row["aspect"],
            row["copper_room"],
        ]
        for cell in row["cells"]:
            cells += [cell["figure"]["value"], cell["figure"]["u"]]
        rows.append([*cells, row["price_words"], row["thrust_over_trend_pct"]["value"]])
    return rows
