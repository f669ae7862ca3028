"""The motors of a bench scored from what its runs measured."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from spindle_core.compare.equal_conditions import EqualConditions
from spindle_core.compare.measured_run import CURVE_KINDS, MeasuredRun, points_of
from spindle_core.compare.tops import to_the_top
from spindle_core.figures.measured import Absent, Measured, last_digit, mean_of_figures, propagate
from spindle_core.rank.dominance import Dominance, dominated
from spindle_core.rank.rank_confidence import RankConfidence, Swap, rank_confidence, weight_swaps
from spindle_core.rank.scoring import Criterion, Entry, Snapshot, score_cohort

FROM_SUMMARY = ("max_thrust_gf", "peak_torque_nm", "rise_k")


@dataclass(frozen=True, slots=True)
class MotorFacts:
    """What a log does not say of a motor: mass at the bench's lead length [g] and price."""

    mass_g: float | None = None
    price: float | None = None
    price_note: str = ""
    rated_kv_rpm_per_v: float | None = None

    @property
    def mass(self) -> Measured | None:
        """The mass with what its last written digit hides."""
        if self.mass_g is None:
            return None
        return Measured(self.mass_g, {"resolution": last_digit([self.mass_g]) / math.sqrt(12.0)})


@dataclass(frozen=True, slots=True)
class Ranking:
    """Scores, how sure the places are, and which motor is beaten in everything."""

    snapshot: Snapshot
    confidence: RankConfidence | None
    swaps: tuple[Swap, ...]
    dominance: tuple[Dominance, ...]


def entries(
    runs: Sequence[MeasuredRun],
    compared: Sequence[EqualConditions],
    motors: Mapping[str, MotorFacts],
) -> list[Entry]:
    """Each motor's figures for scoring, averaged over its runs.

    Maximum thrust and efficiency come from the comparison with most motors, so that all were run
    with one propeller at one voltage; torque, response and rise from their own kinds of run.
    """
    widest = max(compared, key=lambda item: len(item.motors), default=None)
    names = sorted({run.motor for run in runs})
    # Half the stick is no largest thrust beside the whole of it.
    curves = [run for run in runs if run.trace.kind in CURVE_KINDS]
    whole = {run.name for run in to_the_top(curves, points_of)}
    found = []
    for name in names:
        own = [run for run in runs if run.motor == name]
        figures: dict[str, Measured] = {}
        for key in FROM_SUMMARY:
            chosen = own
            if key == "max_thrust_gf" and widest is not None:
                chosen = [
                    run
                    for run in own
                    if (run.trace.facts.propeller, run.voltage)
                    == (widest.propeller, widest.voltage)
                ]
            if key == "max_thrust_gf":
                chosen = [run for run in chosen if run.name in whole]
            _put(figures, key, [run.reduction.summary.get(key) for run in chosen])
        _put(figures, "response_rpm_per_s", [_response(run) for run in own])
        if widest is not None and (middle := _middle(widest, name)) is not None:
            figures["efficiency_g_per_w"] = middle
        facts = motors.get(name, MotorFacts())
        if facts.mass is not None:
            figures["mass_g"] = facts.mass
        found.append(Entry(name, figures, facts.mass_g, facts.price, facts.price_note))
    return found


def rank(
    listed: Sequence[Entry], criteria: Sequence[Criterion], *, seed: int = 1
) -> Ranking | Absent:
    """Scores of the cohort; absent where no motor has any of the criteria."""
    if not any(criterion.name in entry.figures for entry in listed for criterion in criteria):
        return Absent("nothing_to_score", "no run measured any of the criteria")
    snapshot = score_cohort(listed, criteria)
    ranked = [item for item in snapshot.scored if item.place is not None]
    confidence = rank_confidence(listed, criteria, seed=seed) if len(ranked) > 1 else None
    swaps = weight_swaps(snapshot)
    choices = {
        entry.name: {
            **entry.figures,
            **({} if entry.price is None else {"price": Measured(entry.price)}),
        }
        for entry in listed
    }
    return Ranking(
        snapshot,
        confidence,
        () if isinstance(swaps, Absent) else tuple(swaps),
        tuple(dominated(choices)),
    )


def _put(figures: dict[str, Measured], key: str, values: Sequence[object]) -> None:
    present = [value for value in values if isinstance(value, Measured)]
    if present:
        figures[key] = mean_of_figures(present)


def _response(run: MeasuredRun) -> Measured | None:
    """Mean of the rates up and down [rpm/s]."""
    rates = [run.reduction.summary.get(key) for key in ("accel_rpm_per_s", "decel_rpm_per_s")]
    up, down = rates
    if not (isinstance(up, Measured) and isinstance(down, Measured)):
        return None
    return propagate(
        lambda one, other: 0.5 * (abs(one) + abs(other)), (up, down), partials=(0.5, 0.5)
    )


def _middle(compared: EqualConditions, motor: str) -> Measured | None:
    """gf/W at the highest thrust of the table that every motor reached."""
    rows = [row for row in compared.rows if row.name == "efficiency_g_per_w"]
    for row in reversed(rows):
        if all(isinstance(cell.figure, Measured) for cell in row.cells.values()):
            cell = row.cells.get(motor)
            return cell.figure if cell and isinstance(cell.figure, Measured) else None
    return None
