"""The matrix of a campaign from what is known today, and the run to make next."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
from django.db.models import Count, QuerySet
from django.utils import timezone

from spindle_core.compare.bounds import Standing
from spindle_core.figures.arrays import Floats
from spindle_core.figures.measured import Absent
from spindle_core.planning.known import KnownMotor, KnownPropeller
from spindle_core.planning.matrix import (
    Feed,
    Matrix,
    PlannedMotor,
    PropellerColumn,
    cells_of,
    matrix,
)
from spindle_core.planning.nearest import nearest_motor, nearest_propeller
from spindle_core.planning.next_run import (
    Belief,
    RunChoice,
    Sensitivities,
    minutes_of,
    proposal,
    sensitivities,
)
from spindle_server.identification.knowing import (
    air_known,
    ceilings_of,
    density_of,
    experience,
    propellers_known,
    samples_known,
    supply_known,
)
from spindle_server.identification.models import identified_state
from spindle_server.motor_file.mountings import mountings
from spindle_server.motors.models import Claim, PartInBox, Sample
from spindle_server.plan.brackets import brackets_of
from spindle_server.plan.cells import Known, Predicted, cell_json, column_json, row_json
from spindle_server.plan.models import Campaign
from spindle_server.plan.overrides import passed_over
from spindle_server.records.kept import kept
from spindle_server.records.revision import revision
from spindle_server.rig.bench_day import day_on, given_by
from spindle_server.rig.models import Adapter, Stand, Supply
from spindle_server.runs.models import Run
from spindle_server.runs.packs_now import packs_now
from spindle_server.runs.ran import evidence_revision

RUN_NOISE = (0.006, 0.008, 0.002)
"""What one run's thrust, current and speed scatter by, where the stand does not say (relative)."""

COUNTED = ("steps", "ramp", "peak", "readings")
"""Kinds that tell thrust and current of a cell."""

RATINGS = {"max_current_a": "most_current_a", "max_power_w": "most_power_w"}


def campaigns() -> QuerySet[Campaign]:
    """Campaigns with what they name."""
    return Campaign.objects.select_related("begun_by").prefetch_related(
        "samples", "motors", "propellers", "supplies"
    )


def predicted(campaign: Campaign, supply: Supply) -> Predicted:
    """Every cell of a campaign on one of its supplies, as it is known today; kept while nothing
    else is known."""
    return kept("predicted", rests_on(campaign, supply), lambda: _predict(campaign, supply))


def rests_on(campaign: Campaign, supply: Supply) -> tuple[Any, ...]:
    """What the predictions of a campaign depend on."""
    named = [
        sorted(row.pk for row in rows.all())
        for rows in (campaign.samples, campaign.motors, campaign.propellers)
    ]
    own = (campaign.pk, campaign.version, named, supply.pk)
    sits = revision((Adapter, PartInBox))
    return (*own, evidence_revision(), sits, identified_state(), timezone.localdate())


def _predict(campaign: Campaign, supply: Supply) -> Predicted:
    known, fed = known_of(campaign), supply_known(supply)
    if isinstance(fed, Absent):
        return Predicted(known, why=f"{fed.note}.")
    if not known.rows or not known.columns:
        return Predicted(known, fed, why="Name motors and propellers first.")
    air = given_by(day_on(timezone.localdate()))
    density = air_known(density_of(air))
    found = matrix(
        known.rows,
        known.columns,
        Feed(fed, _limits(supply, air)),
        density,
        air_c=air.get("air_temp_c") or 20.0,
        common_thrust_gf=campaign.common_thrust_gf,
    )
    sits = mountings(known.samples, known.propellers)
    return Predicted(known, fed, found, density.value, _runs(known, supply), mounted=sits)


def matrix_of(campaign: Campaign, supply: Supply) -> dict[str, Any]:
    """Every cell of a campaign on one of its supplies, and the run to make next."""
    made = predicted(campaign, supply)
    known = made.known
    shown = {
        "supply": supply.pk,
        "supply_name": supply.name,
        "rows": [
            row_json(sample, row, known.away.get(i))
            for i, (sample, row) in enumerate(zip(known.samples, known.rows, strict=True))
        ],
        "columns": [
            column_json(propeller, column, known.far.get(j))
            for j, (propeller, column) in enumerate(
                zip(known.propellers, known.columns, strict=True)
            )
        ],
        "cells": [],
        "brackets": [],
        "next": None,
        "nothing_next": "",
    }
    if made.found is None:
        return {**shown, "nothing_next": made.why}
    choice, why = next_run(campaign, made, supply)
    return {
        **shown,
        "brackets": brackets_of(made, supply) if campaign.question == "limit" else [],
        "cells": [
            [cell_json(made, made.found, i, j, campaign) for j in range(len(known.columns))]
            for i in range(len(known.rows))
        ],
        "next": choice,
        "nothing_next": why,
    }


def known_of(campaign: Campaign) -> Known:
    """What a campaign names, as well as it is known."""
    learnt = experience()
    samples = list(campaign.samples.select_related("motor__maker").order_by("motor", "mark"))
    here = len(samples)
    # A motor of which no sample is at hand is one that nobody has seen: it has a number below 0.
    samples += [
        Sample(pk=-motor.pk, motor=motor, mark="")
        for motor in campaign.motors.select_related("maker").order_by("pk")
    ]
    propellers = list(campaign.propellers.select_related("maker").order_by("diameter_in", "pk"))
    ratings: dict[int, dict[str, float]] = {}
    models = {sample.motor_id for sample in samples}
    for claim in Claim.objects.filter(motor__in=models, quantity__in=list(RATINGS)):
        if claim.value:
            ratings.setdefault(claim.motor_id, {})[RATINGS[claim.quantity]] = claim.value
    ceilings, seen = ceilings_of(models), samples_known(samples, learnt)
    rows = [
        PlannedMotor(
            sample.pk,
            f"{sample.motor.full_name} {sample.mark}".strip(),
            seen[sample.pk],
            most_winding_c=ceilings[sample.motor_id],
            **ratings.get(sample.motor_id, {}),
        )
        for sample in samples
    ]
    loads = propellers_known(propellers)
    columns = [PropellerColumn(p.pk, p.full_name, loads[p.pk]) for p in propellers]
    found = Known(samples, rows, propellers, columns)
    _note_away(found, here)
    return found


def _note_away(known: Known, here: int) -> None:
    """Say what is not at hand, and what is nearest to it."""
    motors = [(row.name, row.known) for row in known.rows[:here]]
    for i in range(here, len(known.rows)):
        known.away[i] = _away(known.rows[i].name, nearest_motor(known.rows[i].known, motors))
    at_hand = [one.at_hand and not one.retired for one in known.propellers]
    loads = [(c.name, c.known) for c, on in zip(known.columns, at_hand, strict=True) if on]
    for j, on in enumerate(at_hand):
        if not on:
            column = known.columns[j]
            known.far[j] = _away(column.name, nearest_propeller(column.known, loads))


def _away(name: str, nearest: tuple[str, str]) -> str:
    other, words = nearest
    if not other:
        return f"{name} is not at hand."
    return f"{name} is not at hand; the nearest that is: {other} ({words})."


def _limits(supply: Supply, air: dict[str, Any]) -> list[tuple[str, float]]:
    found = []
    if supply.limit_a:
        found.append((supply.name, supply.limit_a))
    esc = air.get("esc")
    if esc is not None and esc.rated_a:
        found.append((f"ESC {esc.name}", esc.rated_a))
    stand = Stand.objects.filter(live=True, retired=False).prefetch_related("instruments").first()
    for row in stand.instruments.all() if stand is not None else []:
        if row.channel == "current_a" and row.range_to:
            found.append(("the current meter", row.range_to))
    return found


def _runs(known: Known, supply: Supply) -> dict[tuple[int, int], int]:
    """Runs of each sample on each propeller at this supply's voltage that nobody rejected."""
    rows = (
        Run.objects.filter(
            sample__in=known.samples,
            propeller__in=known.propellers,
            nominal_voltage_v=supply.nominal_voltage_v,
            kind__in=COUNTED,
        )
        .exclude(review="rejected")
        .order_by()
        .values("sample", "propeller")
        .annotate(total=Count("pk"))
    )
    return {(row["sample"], row["propeller"]): row["total"] for row in rows}


def next_run(
    campaign: Campaign, made: Predicted, supply: Supply
) -> tuple[dict[str, Any] | None, str]:
    """The run to make next, or why there is none; what was passed over is not proposed."""
    if made.found is None or made.fed is None:
        return None, made.why
    over = passed_over(campaign, supply)
    if campaign.question == "limit":
        return _next_of_limit(made, supply, over)
    known, may_run = made.known, made.may_run
    if not may_run.any():
        return None, "No cell can be mounted and run at full throttle within its limits."
    proposable = may_run.copy()
    for i, j in np.argwhere(may_run):
        if (known.samples[i].pk, known.propellers[j].pk) in over:
            proposable[i, j] = False
    if not proposable.any():
        return None, "Every run that could be proposed was passed over."
    slopes = sensitivities(cells_of(known.rows, known.columns, made.fed, made.density))
    noise = np.square(RUN_NOISE)
    belief = Belief(np.zeros(slopes.size), _covariance(known))
    choice = proposal(
        belief,
        slopes,
        goal=campaign.goal_pct / 100.0,
        may_run=proposable,
        wanted=may_run,
        noise=noise,
        mounted=mounted(known),
    )
    if choice is None:
        missing = [
            (i, j)
            for i, j in np.argwhere(may_run)
            if made.runs_of(int(i), int(j)) < campaign.runs_wanted
        ]
        words = f"Thrust and current of every cell are known within {campaign.goal_pct:g} %."
        if missing and campaign.runs_wanted:
            words += f" {len(missing)} cells still lack their {campaign.runs_wanted} measured runs."
        return None, words
    return _choice_json(known, made.found, choice, slopes), ""


def _next_of_limit(
    made: Predicted, supply: Supply, over: set[tuple[int, int]]
) -> tuple[dict[str, Any] | None, str]:
    """The smallest step toward a limit: of the motor on the stand first."""
    on_stand = mounted(made.known)
    rows = list(enumerate(brackets_of(made, supply)))
    rows.sort(key=lambda one: (on_stand is None or one[0] != on_stand[0], one[0]))
    for i, row in rows:
        step = row["next"]
        if step is None or (row["sample"], step["propeller"]) in over:
            continue
        j = [one.pk for one in made.known.propellers].index(step["propeller"])
        return {
            "sample": row["sample"],
            "propeller": step["propeller"],
            "minutes": round(minutes_of(i, j, on_stand), 1),
            "takes_off_pct": None,
            "sentence": f"{row['name']}: {row['words']}",
        }, ""
    return None, "No propeller of this campaign is left that would tell more of a limit."


def next_on_the_bench() -> dict[str, Any] | None:
    """The run to make next of the newest open campaign, on its first supply that need not wait;
    None without one."""
    campaign = campaigns().filter(closed=False).first()
    supplies = list(campaign.supplies.all()) if campaign is not None else []
    if campaign is None or not supplies:
        return None
    waiting = waits_of(supplies)
    supply = next((one for one in supplies if not waiting[one.pk]), supplies[0])
    choice, why = next_run(campaign, predicted(campaign, supply), supply)
    waits = [words for words in waiting.values() if words]
    if waiting[supply.pk]:
        choice, why = None, "Every supply of the campaign waits."
    return {
        "waits": waits,
        "campaign": campaign.pk,
        "title": campaign.title,
        "supply": supply.pk,
        "supply_name": supply.name,
        "next": choice,
        "nothing_next": why,
    }


def waits_of(supplies: Sequence[Supply]) -> dict[int, str]:
    """Why each supply has to wait; empty of those that need not."""
    packs = {one.supply.pk: one.waits for one in packs_now([row.pk for row in supplies])}
    return {row.pk: packs.get(row.pk, "") for row in supplies}


def meanwhile(campaign: Campaign, supply: Supply) -> dict[str, Any]:
    """Why a supply has to wait, and what can be run meanwhile on another of the campaign."""
    supplies = list(campaign.supplies.all())
    waiting = waits_of(supplies)
    found: dict[str, Any] = {
        "waits": waiting[supply.pk],
        "supply": None,
        "supply_name": "",
        "next": None,
    }
    for other in supplies:
        if not waiting[supply.pk] or waiting[other.pk] or other.pk == supply.pk:
            continue
        choice, _ = next_run(campaign, predicted(campaign, other), other)
        if choice is not None:
            return {**found, "supply": other.pk, "supply_name": other.name, "next": choice}
    return found


def matrix_rests(campaign: Campaign, supply: Supply) -> tuple[Any, ...]:
    """What the matrix and its proposal depend on."""
    return (*rests_on(campaign, supply), sorted(passed_over(campaign, supply)))


def _choice_json(
    known: Known, found: Matrix, choice: RunChoice, slopes: Sensitivities
) -> dict[str, Any]:
    i, j = choice.motor, choice.propeller
    motor, propeller = known.rows[i], known.columns[j]
    unsure = 100.0 * float(found.taught[i, j])
    held = found.held(i, j)
    may_pass = ", ".join(name for name, stands in held.items() if stands is Standing.NOT_TOLD)
    return {
        "sample": known.samples[i].pk,
        "propeller": known.propellers[j].pk,
        "minutes": round(choice.minutes, 1),
        "takes_off_pct": round(100.0 * choice.takes_off, 1),
        "sentence": (
            f"{motor.name} on {propeller.name}: thrust and current there are known to about "
            f"{unsure:.0f} %, and in {choice.minutes:.0f} min it takes "
            f"{100.0 * choice.takes_off:.0f} % off what is uncertain in the whole campaign."
            + (f" Full throttle may pass a limit: {may_pass}." if may_pass else "")
        ),
    }


def _covariance(known: Known) -> Floats:
    """What is believed of each motor and propeller, as one joint normal over logarithms."""
    size = 3 * len(known.rows) + 2 * len(known.columns)
    found = np.zeros((size, size))
    for i, row in enumerate(known.rows):
        if isinstance(row.known, KnownMotor):
            found[3 * i : 3 * i + 3, 3 * i : 3 * i + 3] = _motor_covariance(row.known)
    for j, column in enumerate(known.columns):
        if isinstance(column.known, KnownPropeller):
            at = 3 * len(known.rows) + 2 * j
            found[at, at] = column.known.ct.relative_u**2
            found[at + 1, at + 1] = column.known.cp.relative_u**2
    return found


def _motor_covariance(known: KnownMotor) -> Floats:
    kv, ohm, idle = known.kv_rpm_per_v, known.resistance_ohm, known.no_load_a
    shared = sum(
        kv.components[key] * ohm.components[key]
        for key in kv.components
        if key in ohm.components and "@" in key
    )
    idle_u = idle.u / max(idle.value, 0.1)
    together = shared / (kv.value * ohm.value)
    return np.array(
        [
            [kv.relative_u**2, together, 0.0],
            [together, ohm.relative_u**2, 0.0],
            [0.0, 0.0, idle_u**2],
        ]
    )


def mounted(known: Known) -> tuple[int, int] | None:
    """What the last run of all left on the stand, where the campaign names it."""
    last = Run.objects.filter(origin="bench").order_by("-started_at", "-pk").first()
    if last is None or last.propeller_id is None:
        return None
    samples = [sample.pk for sample in known.samples]
    propellers = [propeller.pk for propeller in known.propellers]
    if last.sample_id not in samples or last.propeller_id not in propellers:
        return None
    return samples.index(last.sample_id), propellers.index(last.propeller_id)
