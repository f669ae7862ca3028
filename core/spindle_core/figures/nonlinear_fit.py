"""Least squares of a model that is not linear in its parameters, with what u needs."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from spindle_core.figures.arrays import Floats
from spindle_core.figures.numerics import least_squares


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
    jacobian = np.asarray(found.jac, dtype=np.float64)
    inverse: Floats = np.linalg.pinv(jacobian.T @ jacobian).astype(np.float64)
    return NonlinearFit(
        np.asarray(found.x, dtype=np.float64), inverse, np.asarray(found.fun, dtype=np.float64)
    )
