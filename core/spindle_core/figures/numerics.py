"""What of SciPy takes long to import, fetched when it is first used.

A process that lists runs, or reads a log, starts a third sooner without it. One that must not stop
for it in mid-run, or while somebody waits, calls :func:`load` before it begins.
"""

from __future__ import annotations

from collections.abc import Callable
from importlib import import_module
from typing import Any

from spindle_core.figures.arrays import Floats


def load() -> None:
    """Import all of it now: a third of a second on a calm machine."""
    for name in ("linalg", "ndimage", "optimize", "special"):
        import_module(f"scipy.{name}")


def root(function: Callable[[float], float], low: float, high: float, *, within: float) -> float:
    """Where a function is 0 between two places at which its signs differ (Brent's method).

    :param within: to which the place is found, in units of its argument.
    :raises ValueError: both ends have the same sign.
    """
    from scipy.optimize import brentq

    return float(brentq(function, low, high, xtol=within))


def running_median(data: Floats, width: int) -> Floats:
    """Median of the ``width`` samples around each; the ends see their last sample repeated.

    :param data: shape (n,). :returns: shape (n,).
    """
    from scipy.ndimage import median_filter

    smooth: Floats = median_filter(data, size=width, mode="nearest")
    return smooth


def least_of(function: Callable[[float], float], low: float, high: float) -> float:
    """Where a function of one variable is least between two bounds (Brent's method)."""
    from scipy.optimize import minimize_scalar

    return float(minimize_scalar(function, bounds=(low, high), method="bounded").x)


def least_squares(residuals: Callable[[Floats], Floats], first: Floats, **how: Any) -> Any:
    """SciPy's trust-region reflective least squares, as ``scipy.optimize`` has it."""
    from scipy.optimize import least_squares as found

    return found(residuals, first, **how)


def t_quantile(freedom: float, share: float) -> float:
    """Below which a share of Student's t of so many degrees of freedom lies."""
    from scipy.special import stdtrit

    return float(stdtrit(freedom, share))


def t_below(freedom: float, t: float) -> float:
    """Share of Student's t of so many degrees of freedom that lies below t."""
    from scipy.special import stdtr

    return float(stdtr(freedom, t))


def chi_square_above(freedom: float, value: float) -> float:
    """Share of χ² of so many degrees of freedom that lies above a value."""
    from scipy.special import chdtrc

    return float(chdtrc(freedom, value))


def gamma_quantile(shape: float, share: float) -> float:
    """Below which a share of the gamma distribution of unit scale lies."""
    from scipy.special import gammaincinv

    return float(gammaincinv(shape, share))


def forward_substituted(band: Floats, known: Floats) -> Floats:
    """x of L·x = ``known``, where L has ones on its diagonal and nothing above it.

    :param band: the diagonals of L from the main one (which is not read) down, shape (k, n):
        ``band[i, j]`` stands in row j + i and column j. :param known: shape (n,).
    :returns: shape (n,). What is no number stays none, in its row and in all that follow from it.
    """
    from scipy.linalg.lapack import dtbtrs

    found, _ = dtbtrs(band, known[:, None], uplo="L", diag="U")
    solved: Floats = found[:, 0]
    return solved
