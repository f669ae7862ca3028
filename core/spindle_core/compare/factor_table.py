"""A table of motors × propellers taken apart: what the propeller does, what the motor does.

On logarithms the effects add: ln y = level + motor + propeller. The fit fills cells that were
never run, with the uncertainty that lack of a run deserves.

The u of the cells goes the way of their figures: a stand's gain into a foreseen cell as a whole and
out of an effect, where it moves all alike. What the fit leaves over beyond that is all that is
known of how a motor and a propeller get on with each other; it rests on as many cells as there are
more than effects, often on one, and is widened by Student's t, so that 1.96 of it hold 95 %.

Effects do not quite add: who pulls most gets least out of the heaviest propeller. That bend, λ in
ln y = level + motor + propeller + λ · motor · propeller (J. W. Tukey's one degree of freedom for
non-additivity, Biometrics 5, 1949), is told by the table itself as far as it can; what it cannot
tell is in the u of the cell in the corner.
"""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from spindle_core.compare.delta import K_95
from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Measured, Origin, propagate
from spindle_core.figures.repeats import coverage_factor

USUAL_BEND = 0.4
"""How far the effects of a motor and of a propeller usually take from each other, as a share of
their product (standard deviation): a supply that sags and a winding that warms do this to whoever
pulls hardest. Assumed, from simulated motors of five sizes; a table's own cells say more."""


@dataclass(frozen=True, slots=True)
class FactorTable:
    """Effects relative to the mean motor and the mean propeller [%], and predicted cells.

    ``interaction_pct``: what the two effects leave unexplained (standard deviation), with
    ``freedom`` degrees of freedom.
    """

    motor_effect_pct: Mapping[str, Measured]
    propeller_effect_pct: Mapping[str, Measured]
    predicted: Mapping[tuple[str, str], Measured]
    interaction_pct: float
    freedom: int


def factor_table(cells: Mapping[tuple[str, str], Measured]) -> FactorTable | Absent:
    """Effects of motors and propellers, and the empty cells predicted from them.

    :param cells: (motor, propeller) → a figure above 0.
    :returns: absent when runs do not connect the table, or leave nothing to judge the fit by.
    :raises QuantityError: a figure that is not above 0.
    """
    if any(figure.value <= 0 for figure in cells.values()):
        raise QuantityError("The figures of a factor table must be above 0.")
    motors = sorted({motor for motor, _ in cells})
    props = sorted({prop for _, prop in cells})
    count = len(motors) + len(props) - 1
    if len(cells) <= count or not _connected(cells, motors, props):
        return Absent("too_few_cells", f"needs more than {count} runs that link all rows")
    listed = list(cells.values())
    y = np.log([figure.value for figure in listed])
    additive = np.array([_row(motors, props, *key) for key in cells])
    values, *_ = np.linalg.lstsq(additive, y, rcond=None)
    bent = _bent(motors, props, values)
    design = np.column_stack([additive, [bent[key] for key in cells]])
    freedom = len(cells) - count
    rest = y - additive @ values
    variance = float(rest @ rest) / freedom
    own = np.array(_own_variances(listed))
    fit = _fitted(design, y, max(variance, float(own.mean())))
    # What each cell scatters by of itself is in what is left over as far as others judge it.
    judged = 1.0 - np.einsum("ij,jk,ik->i", design, fit.inverse, design)
    known = float(judged @ own) / freedom
    wide = variance * (coverage_factor(0.95, freedom) / K_95) ** 2
    interaction = max(0.0, wide - known)

    def figure(vector: np.ndarray, *, percent: bool) -> Measured:
        """Of an effect in per cent, or of a cell that was never run."""
        solved = fit.inverse @ vector
        weights = design @ solved
        times = math.exp(float(vector @ fit.values))
        scale = 100.0 * times if percent else times
        told = propagate(
            lambda *_: scale - 100.0 if percent else scale,
            listed,
            partials=[
                scale * float(weight) / one.value
                for weight, one in zip(weights, listed, strict=True)
            ],
            origin=Origin.DERIVED if percent else Origin.ESTIMATED,
        )
        moved = float(weights @ weights) + (0.0 if percent else 1.0)
        # What the bend may be beyond what the cells told of it.
        bend = float(solved[-1]) * fit.prior_weight**2 * USUAL_BEND
        return told.with_component("fit", scale * math.sqrt(moved * interaction + bend**2))

    rows = {
        key: np.append(_row(motors, props, *key), bent[key])
        for key in ((motor, prop) for motor in motors for prop in props)
    }
    mean = np.mean(list(rows.values()), axis=0)

    def effect(keys: list[tuple[str, str]]) -> Measured:
        return figure(np.mean([rows[key] for key in keys], axis=0) - mean, percent=True)

    return FactorTable(
        {motor: effect([(motor, prop) for prop in props]) for motor in motors},
        {prop: effect([(motor, prop) for motor in motors]) for prop in props},
        {key: figure(row, percent=False) for key, row in rows.items() if key not in cells},
        100.0 * math.sqrt(variance),
        freedom,
    )


@dataclass(frozen=True, slots=True)
class _Fit:
    """``values`` of the effects and, last, of the bend; ``inverse`` of the normal equations;
    ``prior_weight``: what the bend is held at 0 by, beside cells that weigh 1 each."""

    values: np.ndarray
    inverse: np.ndarray
    prior_weight: float


def _fitted(design: np.ndarray, y: np.ndarray, variance: float) -> _Fit:
    """Least squares with the bend held at 0 ± :data:`USUAL_BEND`, as firmly as what effects alone
    leave over allows; where they leave nothing it is still held, by a hair."""
    held = np.zeros((1, design.shape[1]))
    held[0, -1] = max(math.sqrt(variance) / USUAL_BEND, 1e-6)
    rows = np.vstack([design, held])
    inverse = np.linalg.inv(rows.T @ rows)
    return _Fit(inverse @ (design.T @ y), inverse, float(held[0, -1]))


def _bent(motors: list[str], props: list[str], values: np.ndarray) -> dict[tuple[str, str], float]:
    """Motor effect × propeller effect, by cell, relative to the mean of all [ln · ln]."""
    of_motor = values[: len(motors)] - np.mean(values[: len(motors)])
    of_prop = np.append(0.0, values[len(motors) :])
    of_prop = of_prop - np.mean(of_prop)
    return {
        (motor, prop): float(of_motor[i] * of_prop[j])
        for i, motor in enumerate(motors)
        for j, prop in enumerate(props)
    }


def _own_variances(figures: list[Measured]) -> list[float]:
    """Relative variance of what each figure has to itself, shared with none of the others."""
    seen = Counter(key for one in figures for key in one.components)
    return [
        math.fsum(u**2 for key, u in one.components.items() if seen[key] == 1) / one.value**2
        for one in figures
    ]


def _row(motors: list[str], props: list[str], motor: str, prop: str) -> np.ndarray:
    row = np.zeros(len(motors) + len(props) - 1)
    row[motors.index(motor)] = 1.0
    if props.index(prop):
        row[len(motors) + props.index(prop) - 1] = 1.0
    return row


def _connected(
    cells: Mapping[tuple[str, str], Measured], motors: list[str], props: list[str]
) -> bool:
    reached, grew = {motors[0]}, True
    while grew:
        grew = False
        for motor, prop in cells:
            ends = {motor, f"prop:{prop}"}
            if ends & reached and not ends <= reached:
                reached |= ends
                grew = True
    return len(reached) == len(motors) + len(props)
