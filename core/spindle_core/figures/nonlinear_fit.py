"""Least squares of a model that is not linear in its parameters, with what u needs."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from spindle_core.figures.arrays import Floats
from spindle_core.figures.numerics import least_squares

STEP = 1e-5
"""Of a parameter for its slope, relative above 1: about the cube root of a float's last digit."""

NOTHING = 1e-100
"""Instead of 0, where a parameter does nothing at all: what the data do not tell has a u beyond all
use, and not none."""


@dataclass(frozen=True, slots=True)
class NonlinearFit:
    """``values`` (p,), the inverse of JᵀJ (p, p) and the residuals (n,) at the minimum.

    The covariance of the parameters is ``inverse`` × the variance of one residual.
    """

    values: Floats
    inverse: Floats
    residuals: Floats


def fit(
    residuals: Callable[[Floats], Floats],
    first: Floats,
    *,
    low: Floats,
    high: Floats,
    scale: Sequence[float] | float = 1.0,
) -> NonlinearFit:
    """Minimise the sum of squares within bounds (SciPy's trust-region reflective method).

    :param first, low, high: shape (p,); a first guess on a bound is moved just inside.
    :param scale: usual size of each parameter.
    """
    margin = 1e-6 * (high - low)
    found = least_squares(
        residuals, np.clip(first, low + margin, high - margin), bounds=(low, high), x_scale=scale
    )
    values = np.asarray(found.x, dtype=np.float64)
    _, sizes, ways = np.linalg.svd(_slopes(residuals, values, low, high), full_matrices=False)
    told = np.maximum(sizes, NOTHING)
    inverse: Floats = (ways.T / told**2) @ ways
    return NonlinearFit(values, inverse, np.asarray(found.fun, dtype=np.float64))


def _slopes(
    residuals: Callable[[Floats], Floats], values: Floats, low: Floats, high: Floats
) -> Floats:
    """∂residual/∂parameter at the minimum, (n, p), from a step to either side of it.

    The search's own, from one side, hold eight digits: their noise looks like something that the
    data tell where they tell nothing, and u comes out several times too small.
    """
    columns = []
    for number, value in enumerate(values):
        step = STEP * max(1.0, abs(value))
        ahead, behind = values.copy(), values.copy()
        ahead[number] = min(value + step, high[number])
        behind[number] = max(value - step, low[number])
        columns.append((residuals(ahead) - residuals(behind)) / (ahead[number] - behind[number]))
    return np.column_stack(columns)
