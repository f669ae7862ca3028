"""The matrix of a campaign from what is known today, and the run to make next."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.db.models import Count, QuerySet
from django.utils import timezone

from spindle_core.figures.arrays import Floats
from spindle_core.figures.measured import Absent
from spindle_core.planning.known import KnownMotor, KnownPropeller
from spindle_core.planning.matrix import Feed, Matrix, MotorRow, PropellerColumn, cells_of, matrix
from spindle_core.planning.next_run import Belief, Choice, Sensitivities, proposal, sensitivities
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
from spindle_server.motors.models import Claim, PartInBox
from spindle_server.plan.cells import Known, Predicted, cell_json, column_json, row_json
from spindle_server.plan.models import Campaign
from spindle_server.records.kept import kept
from spindle_server.records.revision import revision
from spindle_server.rig.bench_day import day_on, given_by
from spindle_server.rig.models import Adapter, Stand, Supply
from spindle_server.runs.models import Run
from spindle_server.runs.ran import evidence_revision

RUN_NOISE = (0.006, 0.008, 0.002)
"""What one run's thrust, current and speed scatter by, where the stand does not say (relative)."""

COUNTED = ("steps", "ramp", "peak", "readings")
"""Kinds that tell thrust and current of a cell."""

RATINGS = {"max_current_a": "most_current_a", "max_power_w": "most_power_w"}


def campaigns() -> QuerySet[Campaign]:
    """Campaigns with what they name."""
    return Campaign.objects.select_related("begun_by").prefetch_related(
        "samples", "propellers", "supplies"
    )


def predicted(campaign: Campaign, supply: Supply) -> Predicted:
    """Every cell of a campaign on one of its supplies, as it is known today; kept while nothing
    else is known."""
    return kept("predicted", rests_on(campaign, supply), lambda: _predict(campaign, supply))


def rests_on(campaign: Campaign, supply: Supply) -> tuple[Any, ...]:
    """What the predictions of a campaign depend on."""
    named = [
        sorted(row.pk for row in rows.all()) for rows in (campaign.samples, campaign.propellers)
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
            row_json(sample, row) for sample, row in zip(known.samples, known.rows, strict=True)
        ],
        "columns": [
            column_json(propeller, column)
            for propeller, column in zip(known.propellers, known.columns, strict=True)
        ],
        "cells": [],
        "next": None,
        "nothing_next": "",
    }
    if made.found is None:
        return {**shown, "nothing_next": made.why}
    choice, why = next_run(campaign, made)
    return {
        **shown,
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
    propellers = list(campaign.propellers.select_related("maker").order_by("diameter_in", "pk"))
    ratings: dict[int, dict[str, float]] = {}
    models = {sample.motor_id for sample in samples}
    for claim in Claim.objects.filter(motor__in=models, quantity__in=list(RATINGS)):
        if claim.value:
            ratings.setdefault(claim.motor_id, {})[RATINGS[claim.quantity]] = claim.value
    ceilings, seen = ceilings_of(models), samples_known(samples, learnt)
    rows = [
        MotorRow(
            sample.pk,
            f"{sample.motor.full_name} {sample.mark}",
            seen[sample.pk],
            most_winding_c=ceilings[sample.motor_id],
            **ratings.get(sample.motor_id, {}),
        )
        for sample in samples
    ]
    loads = propellers_known(propellers)
    columns = [PropellerColumn(p.pk, p.full_name, loads[p.pk]) for p in propellers]
    return Known(samples, rows, propellers, columns)


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


def next_run(campaign: Campaign, made: Predicted) -> tuple[dict[str, Any] | None, str]:
    """The run to make next, or why there is none."""
    if made.found is None or made.fed is None:
        return None, made.why
    known, may_run = made.known, made.may_run
    if not may_run.any():
        return None, "No cell can be mounted and run at full throttle within its limits."
    slopes = sensitivities(cells_of(known.rows, known.columns, made.fed, made.density))
    noise = np.square(RUN_NOISE)
    belief = Belief(np.zeros(slopes.size), _covariance(known))
    choice = proposal(
        belief,
        slopes,
        goal=campaign.goal_pct / 100.0,
        may_run=may_run,
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


def next_on_the_bench() -> dict[str, Any] | None:
    """The run to make next of the newest open campaign, on its first supply; None without one."""
    campaign = campaigns().filter(closed=False).first()
    supply = next(iter(campaign.supplies.all()), None) if campaign is not None else None
    if campaign is None or supply is None:
        return None
    choice, why = next_run(campaign, predicted(campaign, supply))
    return {
        "campaign": campaign.pk,
        "title": campaign.title,
        "supply": supply.pk,
        "supply_name": supply.name,
        "next": choice,
        "nothing_next": why,
    }


def _choice_json(
    known: Known, found: Matrix, choice: Choice, slopes: Sensitivities
) -> dict[str, Any]:
    i, j = choice.motor, choice.propeller
    motor, propeller = known.rows[i], known.columns[j]
    unsure = 100.0 * float(found.taught[i, j])
    return {
        "sample": known.samples[i].pk,
        "propeller": known.propellers[j].pk,
        "minutes": round(choice.minutes, 1),
        "takes_off_pct": round(100.0 * choice.takes_off, 1),
        "sentence": (
            f"{motor.name} on {propeller.name}: thrust and current there are known to about "
            f"{unsure:.0f} %, and in {choice.minutes:.0f} min it takes "
            f"{100.0 * choice.takes_off:.0f} % off what is uncertain in the whole campaign."
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
