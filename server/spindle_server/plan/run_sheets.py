"""The run sheet of a campaign: what is still to run on one supply, in the order of a day."""

from __future__ import annotations

import math
from collections.abc import Sequence
from html import escape
from typing import Any

import numpy as np

from spindle_core.compare.bounds import Standing
from spindle_core.errors import QuantityError
from spindle_core.figures.said import figure
from spindle_core.model.pack_now import USED_SHARE
from spindle_core.planning.day import Day, Drift, Job, Step, order_of_day
from spindle_core.planning.known import Foundation
from spindle_core.planning.matrix import Matrix
from spindle_server.errors import ServiceError
from spindle_server.papers import page_pdf, table_csv
from spindle_server.plan.cells import Predicted
from spindle_server.plan.models import Campaign
from spindle_server.plan.selectors import mounted, predicted
from spindle_server.rig.models import Supply

FULL_SHARE = 0.45
"""Mean current of a run of plateaus against that at full throttle: assumed."""

TURNING_S = 30.0
WORDS = {
    "mount": "Mount {motor} with {propeller}",
    "swap": "Swap to {propeller}",
    "cool": "Let {motor} cool",
    "run": "Run {number} of {of}",
}


def sheet_of(campaign: Campaign, supply: Supply, drift: str) -> dict[str, Any]:
    """The steps of a day, what to lay out and to charge, and what was left out and why.

    :raises ServiceError: more runs than a day is planned for.
    """
    made = predicted(campaign, supply)
    shown: dict[str, Any] = {
        "campaign": campaign.title,
        "supply": supply.pk,
        "supply_name": supply.name,
        "drift": drift,
        "steps": [],
        "minutes": 0.0,
        "runs": 0,
        "motor_swaps": 0,
        "propeller_swaps": 0,
        "cooling_minutes": 0.0,
        "propellers": [],
        "packs": None,
        "left_out": [made.why] if made.why else [],
        "reference": "",
    }
    if made.found is None:
        return shown
    jobs, left_out = _jobs(campaign, made)
    at = _reference(made)
    try:
        day = order_of_day(jobs, drift=Drift(drift), reference=at, mounted=mounted(made.known))
    except QuantityError as error:
        raise ServiceError(error.message, code="too_many_runs") from error
    reference = at if drift == Drift.REFERENCE and day.runs else None
    return {
        **shown,
        "steps": [_step_json(made, step) for step in day.steps],
        "minutes": round(day.minutes, 1),
        "runs": day.runs,
        "motor_swaps": day.motor_swaps,
        "propeller_swaps": day.propeller_swaps,
        "cooling_minutes": round(day.cooling_minutes, 1),
        "propellers": [made.known.propellers[j].full_name for j in day.propellers],
        "packs": _packs(supply, made, day),
        "left_out": left_out,
        "reference": _cell_name(made, *reference) if reference else "",
    }


def _jobs(campaign: Campaign, made: Predicted) -> tuple[list[Job], list[str]]:
    """Runs that are still wanted and may be made; and sentences about the rest."""
    assert made.found is not None
    jobs, beyond, unknown, barred = [], [], [], []
    may_run = made.may_run
    for i, j in np.ndindex(may_run.shape):
        missing = campaign.runs_wanted - made.runs_of(i, j)
        if missing < 1:
            continue
        if not math.isfinite(float(made.found.figures["thrust_gf"][i, j])):
            unknown.append(_cell_name(made, i, j))
        elif away := made.known.not_at_hand(int(i), int(j)):
            barred.append(f"{_cell_name(made, i, j)}: {away}")
        elif made.cannot_sit(i, j):
            barred.append(f"{_cell_name(made, i, j)}: {made.mounting(i, j).words}")
        elif not may_run[i, j]:
            told = Standing.BROKEN in made.found.held(i, j).values()
            beyond.append((_cell_name(made, i, j), "would pass" if told else "likely passes"))
        else:
            power = float(made.found.figures["power_w"][i, j])
            jobs.append(Job(i, j, missing, power, float(made.found.winding_rise_k[i, j])))
    left_out = [f"{name}: full throttle {passes} a limit." for name, passes in beyond]
    left_out += [f"{name}: nothing can be predicted of it." for name in unknown]
    left_out += barred
    return jobs, left_out


def _reference(made: Predicted) -> tuple[int, int] | None:
    """The cell that was run most often, of a motor known from its own runs; it may be run again."""
    # Asked once: it looks at every cell itself.
    may_run = made.may_run
    counted = [
        (made.runs_of(i, j), -i, -j)
        for i, j in np.ndindex(may_run.shape)
        if may_run[i, j]
        and getattr(made.known.rows[i].known, "basis", None) is Foundation.IDENTIFIED
        and made.runs_of(i, j) > 0
    ]
    if not counted:
        return None
    _, i, j = max(counted)
    return -i, -j


def _packs(supply: Supply, made: Predicted, day: Day) -> int | None:
    """Charged packs that the day needs; None for a supply that is none, or one whose capacity is
    not known."""
    if supply.kind != "pack" or not supply.capacity_mah or made.found is None:
        return None
    current = made.found.figures["current_a"]
    used_mah = sum(
        FULL_SHARE * float(current[step.motor, step.propeller]) * TURNING_S / 3.6
        for step in day.steps
        if step.kind == "run"
    )
    return math.ceil(used_mah / (USED_SHARE * supply.capacity_mah))


def _cell_name(made: Predicted, i: int, j: int) -> str:
    return f"{made.known.rows[i].name} on {made.known.columns[j].name}"


def _step_json(made: Predicted, step: Step) -> dict[str, Any]:
    assert made.found is not None
    row, column = made.known.rows[step.motor], made.known.columns[step.propeller]
    words = WORDS[step.kind].format(
        motor=row.name, propeller=column.name, number=step.number, of=step.of
    )
    runs = step.kind == "run"
    at = (step.motor, step.propeller)
    return {
        "kind": step.kind,
        "sample": made.known.samples[step.motor].pk,
        "propeller": made.known.propellers[step.propeller].pk,
        "motor_name": row.name,
        "propeller_name": column.name,
        "words": "Reference run" if step.reference else words,
        "reference": step.reference,
        "starts_min": round(step.starts_min, 1),
        "minutes": round(step.minutes, 1),
        **(_at_full(made.found, at) if runs else dict.fromkeys(AT_FULL)),
    }


AT_FULL = ("thrust_gf", "thrust_u_gf", "current_a", "current_u_a")


def _at_full(found: Matrix, at: tuple[int, int]) -> dict[str, float]:
    """What a run is expected to give, to hold against what it gives."""
    thrust, current = (float(found.figures[name][at]) for name in ("thrust_gf", "current_a"))
    us = thrust * float(found.u["thrust_gf"][at]), current * float(found.u["current_a"][at])
    rounded = (round(thrust, 1), round(us[0], 1), round(current, 2), round(us[1], 2))
    return dict(zip(AT_FULL, rounded, strict=True))


HEADS = (
    "step",
    "starts (min)",
    "takes (min)",
    "what",
    "motor",
    "propeller",
    "expected thrust at full (gf)",
    "u (gf)",
    "expected current at full (A)",
    "u (A)",
    "done",
)


def sheet_csv(sheet: dict[str, Any]) -> str:
    """The steps as CSV; the last column is to be ticked."""
    rows: list[Sequence[Any]] = [HEADS]
    for number, step in enumerate(sheet["steps"], start=1):
        cells = [
            number,
            step["starts_min"],
            step["minutes"],
            step["words"],
            step["motor_name"],
            step["propeller_name"],
            *(step.get(name) for name in AT_FULL),
            "",
        ]
        rows.append(cells)
    return table_csv(rows)


CAUTION = (
    "A propeller cuts, a pack burns, a winding stays hot: glasses on, nobody in the plane of the "
    "propeller; the maker's instructions and local rules come first."
)


def sheet_pdf(sheet: dict[str, Any]) -> bytes:
    """The steps as a page to tick with a pen."""
    return page_pdf(sheet_page(sheet))


def sheet_page(sheet: dict[str, Any]) -> str:
    """The page as HTML; expected figures are in italics."""
    rows = []
    for number, step in enumerate(sheet["steps"], start=1):
        what = escape(step["words"])
        if step["kind"] == "run":
            what += f"<br>{escape(step['motor_name'])} on {escape(step['propeller_name'])}"
        rows.append(
            f"<tr><td>☐</td><td class=num>{number}</td>"
            f"<td class=num>{step['starts_min']:.0f}</td><td class=num>{step['minutes']:.1f}</td>"
            f"<td>{what}</td><td class='num est'>{_expected(step, 'thrust', 'gf')}</td>"
            f"<td class='num est'>{_expected(step, 'current', 'a')}</td><td></td></tr>"
        )
    heads = "<th></th><th class=num>Step</th><th class=num>From (min)</th>"
    heads += "<th class=num>Takes (min)</th><th>What</th><th class=num>Thrust at full</th>"
    heads += "<th class=num>Current at full</th><th>Noticed</th>"
    lay_out = escape(", ".join(sheet["propellers"])) or "nothing"
    packs = "" if sheet["packs"] is None else f" Packs to charge: {sheet['packs']}."
    left = "".join(f"<li>{escape(one)}</li>" for one in sheet["left_out"])
    return (
        f"<h1>{escape(sheet['campaign'])}</h1>"
        f"<p>{escape(sheet['supply_name'])}: {sheet['runs']} runs, about "
        f"{sheet['minutes']:.0f} min. Lay out: {lay_out}.{packs}</p>"
        f"<table><tr>{heads}</tr>{''.join(rows)}</table>"
        + (f"<h2>Left out</h2><ul>{left}</ul>" if left else "")
        + f"<p class=soft>{CAUTION}</p>"
    )


def _expected(step: dict[str, Any], name: str, unit: str) -> str:
    value, u = step[f"{name}_{unit}"], step.get(f"{name}_u_{unit}")
    return "" if value is None else f"~{figure(value, u, {'a': 'A'}.get(unit, unit))}"
