"""Repeats of a run: their mean, whether they agree, and what the bench's like runs say of them."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import (
    MISSED_ALIKE,
    WHOLE,
    Measured,
    apart_from,
    component,
    kind_of,
    last_digit,
    mean_of_figures,
    mean_of_repeats,
    sample_standard_deviation,
    source_of,
)
from spindle_core.figures.numerics import chi_square_above, gamma_quantile, t_quantile

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


def chi_squared_at(share: float, free: int) -> float:
    """The value of χ² that a share of draws with so many degrees of freedom stays below."""
    return 2.0 * gamma_quantile(0.5 * free, share)


def spread_of_repeats(
    values: Sequence[float],
    *,
    repeatability: float = 0.0,
    resolution: float | None = None,
    component: str = "repeat",
) -> Spread:
    """Mean and spread of repeated runs; a χ² test at 5 % against the stand's repeatability.

    (n − 1)·s²/σ² follows χ² with n − 1 degrees of freedom when the repeats scatter as the stand
    declares. u rests on s, but on no less than what rounding hides.

    :param repeatability: relative standard deviation of one run, 0 where none is declared.
    :param resolution: smallest step of a value; the last written digit by default.
    :raises QuantityError: fewer than two values.
    """
    s = sample_standard_deviation(values)
    count = len(values)
    mean = math.fsum(values) / count
    figure = mean_of_repeats(values, resolution=resolution, component=component)
    sigma = repeatability * abs(mean)
    if sigma <= 0:
        return Spread(figure, s, None, None)
    p = chi_square_above(count - 1, (count - 1) * s**2 / sigma**2)
    return Spread(figure, s, p < SPREAD_ALPHA, p)


@dataclass(frozen=True, slots=True)
class PooledSpread:
    """Relative standard deviation of one run and its degrees of freedom."""

    relative_s: float
    freedom: int


def pooled_spread(
    groups: Sequence[Sequence[float]], *, resolution: float | None = None
) -> PooledSpread | None:
    """s pooled over the bench's groups of like runs, each relative to its own mean.

    Runs that agree to their last digit do not repeat to 0: s is at least what rounding hides.

    :param groups: values of repeated runs; groups of one tell nothing and are left out.
    :param resolution: smallest step of a value; the last written digit by default.
    :returns: None when no group holds two runs.
    """
    squares, freedom, hidden = 0.0, 0, 0.0
    for values in groups:
        if len(values) < 2:
            continue
        mean = math.fsum(values) / len(values)
        if mean == 0:
            raise QuantityError("A relative spread needs a mean other than 0.")
        squares += math.fsum(((value - mean) / mean) ** 2 for value in values)
        freedom += len(values) - 1
        step = last_digit(values) if resolution is None else resolution
        hidden += (len(values) - 1) * (step / mean) ** 2 / 12.0
    if freedom == 0:
        return None
    return PooledSpread(math.sqrt(max(squares, hidden) / freedom), freedom)


def effective_freedom(figure: Measured, freedom: Mapping[str, float]) -> float:
    """Welch–Satterthwaite degrees of freedom, u⁴/Σ(u_i⁴/ν_i) (GUM G.4); infinite when no
    component is short of them.

    All components of a kind rest on one estimate, one s pooled over the bench: they are one term
    u_i of the sum. Counted one by one, each would bring its own ν, and few degrees of freedom
    would pass for many.

    :param freedom: kind of component → degrees of freedom; a kind that is not named counts as
        known for certain.
    """
    squares: dict[str, float] = {}
    for key, part in figure.components.items():
        kind = kind_of(key)
        squares[kind] = squares.get(kind, 0.0) + part**2
    divided = math.fsum(
        squares[kind] ** 2 / nu
        for kind, nu in freedom.items()
        if kind in squares and math.isfinite(nu)
    )
    return math.inf if divided == 0 else figure.u**4 / divided


def coverage_factor(probability: float, freedom: float = math.inf) -> float:
    """k of a two-sided interval: Student's t, or the normal distribution's for infinite ν.

    :raises QuantityError: a probability outside 0 to 1, or ν below 1.
    """
    if not 0 < probability < 1:
        raise QuantityError("A probability lies between 0 and 1.")
    if freedom < 1:
        raise QuantityError(f"Degrees of freedom are at least 1, got {freedom:g}.")
    upper = 0.5 * (1.0 + probability)
    return t_quantile(min(freedom, 1e9), upper)


def mean_of_like(figures: Sequence[Measured], kind: str) -> Measured:
    """Mean of figures of one thing: their scatter is s/√n, or their own where that is larger.

    Gains and offsets stay whole: each kind counts as one source's, the largest of them; what all of
    them miss alike stays too.

    :param kind: of the component that the spread becomes, ``repeat`` or ``samples``.
    """
    if len(figures) == 1:
        return figures[0]
    mean = mean_of_figures(figures)
    count = len(figures)
    spread = sample_standard_deviation([figure.value for figure in figures]) / math.sqrt(count)
    parts = {component(kind, ""): max(spread, apart_from(figures))}
    for key, part in mean.components.items():
        if kind_of(key) in MISSED_ALIKE and kind_of(key) not in WHOLE:
            parts[key] = part
    for figure in figures:
        for key, size in _whole(figure).items():
            parts[key] = max(parts.get(key, 0.0), size)
    return replace(mean, components=parts)


def _whole(figure: Measured) -> dict[str, float]:
    """Gains and offsets of a figure by kind and channel, whichever stand's they are."""
    found: dict[str, float] = {}
    for key, part in figure.components.items():
        if kind_of(key) in WHOLE:
            channel = source_of(key).rpartition("/")[2]
            name = component(kind_of(key), f"/{channel}")
            found[name] = math.hypot(found.get(name, 0.0), part)
    return found
