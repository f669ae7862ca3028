"""What is said of a model, from the runs of its samples.

A claim about a model rests on as many samples as were run, however many runs each had: what one
sample differs from the next by is part of its u. It is pooled over the bench's models of which
several samples were run; where too few were, it is assumed, and says so.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import (
    Measured,
    apart_from,
    component,
    mean_of_figures,
    sample_standard_deviation,
)
from spindle_core.figures.repeats import PooledSpread, pooled_spread

ASSUMED_SAMPLE_S: Mapping[str, float] = {
    "thrust_gf": 0.025,
    "max_thrust_gf": 0.025,
    "current_a": 0.035,
    "max_current_a": 0.035,
    "power_w": 0.035,
    "max_power_w": 0.035,
    "efficiency_g_per_w": 0.015,
    "mass_g": 0.01,
    "rise_k": 0.08,
    "rise_k_per_kj": 0.08,
    "continuous_power_w": 0.08,
    "vibration_g": 0.5,
}
"""Relative s from sample to sample where too few show it: a kV that differs by 1.5 % and a winding
by 5 % do this to thrust, power and heat; vibration is each sample's own."""

ASSUMED_OTHERWISE = 0.03

SAMPLE_KINDS = ("sample", "assumed_sample")
"""Kinds of the component that says what a model's samples differ by, seen and assumed."""


def assumed_words() -> str:
    """What is assumed, in words."""
    told = (
        ("thrust_gf", "thrust"),
        ("efficiency_g_per_w", "gf/W"),
        ("current_a", "current and power"),
        ("rise_k", "heat"),
        ("", "the rest"),
    )
    shares = ((100.0 * ASSUMED_SAMPLE_S.get(name, ASSUMED_OTHERWISE), word) for name, word in told)
    return ", ".join(f"{share:g} % of {word}" for share, word in shares)


LEAST_FREEDOM = 3
"""Student's t has a variance, ν ÷ (ν − 2), from three degrees of freedom on (JCGM 101, 6.4.9.4)."""


@dataclass(frozen=True, slots=True)
class OfModel:
    """A figure of a model with the numbers of samples and runs it rests on."""

    figure: Measured
    samples: int
    runs: int


def of_sample(figures: Sequence[Measured], *, source: str) -> Measured:
    """Mean over the runs of one sample; where they scatter by more than their u says, u grows.

    Each figure brings what one run scatters by, under a source of its own.

    :param source: of the scatter beyond that, ``motor/sample/figure``.
    :raises QuantityError: no figures.
    """
    if not figures:
        raise QuantityError("A mean needs at least one run.", code="too_few")
    mean = mean_of_figures(figures)
    count = len(figures)
    if count < 2:
        return mean
    own = apart_from(figures)
    seen = sample_standard_deviation([figure.value for figure in figures]) / math.sqrt(count)
    if seen <= own:
        return mean
    return mean.with_component(component("repeat", f"{source}/beyond"), math.sqrt(seen**2 - own**2))


def between_samples(models: Iterable[Sequence[Measured]]) -> PooledSpread | None:
    """Relative s from sample to sample, pooled over models; None where each has only one.

    What the runs themselves scatter by is in it too: it is rather too large than too small.

    :param models: per model the means of its samples.
    """
    return pooled_spread([[figure.value for figure in figures] for figures in models])


def between_samples_of(models: Iterable[Mapping[str, Sequence[Measured]]]) -> PooledSpread | None:
    """The same from the figures of each sample's runs; their u is not needed for it.

    :param models: per model the figures of its samples, by mark; a model one of whose samples
        means 0 is left out, since nothing is relative to that.
    """
    means = (
        [math.fsum(one.value for one in figures) / len(figures) for figures in samples.values()]
        for samples in models
    )
    return pooled_spread([row for row in means if all(row) and math.fsum(row) != 0])


def sample_share(name: str, pooled: PooledSpread | None) -> tuple[float, str]:
    """Relative s of one sample against the next, and the kind of its component.

    :param pooled: over the bench's models, None where no model has two samples.
    """
    if pooled is None or pooled.freedom < LEAST_FREEDOM:
        return ASSUMED_SAMPLE_S.get(name, ASSUMED_OTHERWISE), SAMPLE_KINDS[1]
    nu = pooled.freedom
    return pooled.relative_s * math.sqrt(nu / (nu - 2.0)), SAMPLE_KINDS[0]


def of_model(
    motor: str, name: str, by_sample: Mapping[str, Sequence[Measured]], pooled: PooledSpread | None
) -> OfModel:
    """A figure of a model: the mean of its samples' means, with what samples differ by.

    :param motor: whose figure it is; its sample component is shared with nobody else.
    :param by_sample: figures of each sample's runs, none empty.
    :param pooled: from :func:`between_samples`.
    :raises QuantityError: no samples.
    """
    if not by_sample:
        raise QuantityError("A model's figure needs at least one sample.", code="too_few")
    means = [
        of_sample(figures, source=f"{motor}/{sample}/{name}")
        for sample, figures in by_sample.items()
    ]
    mean = mean_of_figures(means)
    share, kind = sample_share(name, pooled)
    size = share * abs(mean.value) / math.sqrt(len(means))
    runs = sum(len(figures) for figures in by_sample.values())
    figure = replace(mean, n=runs).with_component(component(kind, f"{motor}/{name}"), size)
    return OfModel(figure, len(means), runs)
