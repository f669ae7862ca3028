"""Repeats of a run: their mean, whether they agree, and what the bench's like runs say of them."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from scipy.special import chdtrc, stdtrit

from spindle_core.errors import QuantityError
from spindle_core.measured import Measured, sample_standard_deviation

SPREAD_ALPHA = 0.05


@dataclass(frozen=True, slots=True)
class Spread:
    """Repeats of one figure: mean with u = s/√n, s, and whether s exceeds the stand's.

    ``exceeds``: None where the stand declares no repeatability to test against.
    """

    mean: Measured
    s: float
    exceeds: bool | None
    p_value: float | None


def spread_of_repeats(
    values: Sequence[float], *, repeatability: float = 0.0, component: str = "repeat"
) -> Spread:
    """Mean and spread of repeated runs; a χ² test at 5 % against the stand's repeatability.

    (n − 1)·s²/σ² follows χ² with n − 1 degrees of freedom when the repeats scatter as the stand
    declares.

    :param repeatability: relative standard deviation of one run, 0 where none is declared.
    :raises QuantityError: fewer than two values.
    """
    s = sample_standard_deviation(values)
    count = len(values)
    mean = math.fsum(values) / count
    figure = Measured(mean, {component: s / math.sqrt(count)}, n=count)
    sigma = repeatability * abs(mean)
    if sigma <= 0:
        return Spread(figure, s, None, None)
    p = float(chdtrc(count - 1, (count - 1) * s**2 / sigma**2))
    return Spread(figure, s, p < SPREAD_ALPHA, p)


@dataclass(frozen=True, slots=True)
class PooledSpread:
    """Relative standard deviation of one run and its degrees of freedom."""

    relative_s: float
    freedom: int


def pooled_spread(groups: Sequence[Sequence[float]]) -> PooledSpread | None:
    """s pooled over the bench's groups of like runs, each relative to its own mean.

    :param groups: values of repeated runs; groups of one tell nothing and are left out.
    :returns: None when no group holds two runs.
    """
    squares, freedom = 0.0, 0
    for values in groups:
        if len(values) < 2:
            continue
        mean = math.fsum(values) / len(values)
        if mean == 0:
            raise QuantityError("A relative spread needs a mean other than 0.")
        squares += math.fsum(((value - mean) / mean) ** 2 for value in values)
        freedom += len(values) - 1
    if freedom == 0:
        return None
    return PooledSpread(math.sqrt(squares / freedom), freedom)


def effective_freedom(figure: Measured, freedom: Mapping[str, float]) -> float:
    """Welch–Satterthwaite degrees of freedom, u⁴/Σ(u_i⁴/ν_i) (GUM G.4); infinite when no
    component is short of them.

    :param freedom: component name, or its part before ``@`` → degrees of freedom; a component
        that is not named counts as known for certain.
    """
    total = figure.u**4
    divided = math.fsum(
        part**4 / nu
        for name, part in figure.components.items()
        if (nu := freedom.get(name, freedom.get(name.split("@")[0], math.inf))) < math.inf
    )
    return math.inf if divided == 0 else total / divided


def coverage_factor(probability: float, freedom: float = math.inf) -> float:
    """k of a two-sided interval: Student's t, or the normal distribution's for infinite ν.

    :raises QuantityError: a probability outside 0 to 1, or ν below 1.
    """
    if not 0 < probability < 1:
        raise QuantityError("A probability lies between 0 and 1.")
    if freedom < 1:
        raise QuantityError(f"Degrees of freedom are at least 1, got {freedom:g}.")
    upper = 0.5 * (1.0 + probability)
    return float(stdtrit(min(freedom, 1e9), upper))
