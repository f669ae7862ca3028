"""A table of motors × propellers taken apart: what the propeller does, what the motor does.

On logarithms the effects add: ln y = level + motor + propeller. The fit fills cells that were
never run, with the uncertainty that lack of a run deserves.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Measured, Origin


@dataclass(frozen=True, slots=True)
class FactorTable:
    """Effects relative to the mean motor and the mean propeller [%], and predicted cells.

    ``interaction_pct``: what the two effects leave unexplained (standard deviation).
    """

    motor_effect_pct: Mapping[str, Measured]
    propeller_effect_pct: Mapping[str, Measured]
    predicted: Mapping[tuple[str, str], Measured]
    interaction_pct: float


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
    design = np.array([_row(motors, props, motor, prop) for motor, prop in cells])
    y = np.log([figure.value for figure in cells.values()])
    inverse = np.linalg.inv(design.T @ design)
    values = inverse @ (design.T @ y)
    rest = y - design @ values
    variance = float(rest @ rest) / (len(cells) - count)
    covariance = inverse * variance

    def figure(vector: np.ndarray, *, percent: bool) -> Measured:
        level = float(vector @ values)
        u = math.sqrt(max(0.0, float(vector @ covariance @ vector)))
        if percent:
            return Measured(100.0 * math.expm1(level), {"fit": 100.0 * math.exp(level) * u})
        return Measured(
            math.exp(level),
            {"fit": math.exp(level) * math.hypot(u, math.sqrt(variance))},
            origin=Origin.ESTIMATED,
        )

    rows = {key: _row(motors, props, *key) for key in ((m, p) for m in motors for p in props)}
    mean = np.mean(list(rows.values()), axis=0)

    def effect(keys: list[tuple[str, str]]) -> Measured:
        return figure(np.mean([rows[key] for key in keys], axis=0) - mean, percent=True)

    return FactorTable(
        {motor: effect([(motor, prop) for prop in props]) for motor in motors},
        {prop: effect([(motor, prop) for motor in motors]) for prop in props},
        {key: figure(row, percent=False) for key, row in rows.items() if key not in cells},
        100.0 * math.sqrt(variance),
    )


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
