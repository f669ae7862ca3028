"""A model as its identified samples show it, with what samples of a model differ by."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Measured, component, mean_of_figures
from spindle_core.planning.known import SAMPLE_SPREAD, SPREAD_WEIGHT, Foundation, KnownMotor

SHOWN_BY = 3
"""So many samples show what they differ by; before that the usual is assumed."""


def model_motor(name: str, samples: Sequence[KnownMotor]) -> KnownMotor:
    """The mean of a model's samples: what is compared where one model is held against another.

    To the samples' own u comes what one of them stands off its model, s/√n, with s as usual and as
    they show it together. It is of this model alone, each constant for itself.

    :raises QuantityError: no samples, or a constant that is not above 0.
    """
    if not samples:
        raise QuantityError("A model is known by at least one sample.", code="too_few")
    first = samples[0]
    count = len(samples)
    words = first.words if count == 1 else f"mean of {count} samples"
    return KnownMotor(
        _mean("kv", name, [one.kv_rpm_per_v for one in samples]),
        _mean("resistance", name, [one.resistance_ohm for one in samples]),
        _mean("no_load", name, [one.no_load_a for one in samples]),
        math.fsum(one.no_load_slope_a_per_rpm for one in samples) / count,
        replace(mean_of_figures([one.warming_ohm_per_a2 for one in samples]), n=count),
        math.fsum(one.winding_time_s for one in samples) / count,
        max((one.basis for one in samples), key=list(Foundation).index),
        words,
    )


def _mean(kind: str, name: str, figures: Sequence[Measured]) -> Measured:
    if any(not figure.value > 0 for figure in figures):
        raise QuantityError(f"A model's {kind} is above 0.", code=kind)
    count = len(figures)
    mean = replace(mean_of_figures(figures), n=count)
    logs = [math.log(figure.value) for figure in figures]
    middle = math.fsum(logs) / count
    about = math.fsum((value - middle) ** 2 for value in logs)
    usual = SAMPLE_SPREAD[kind]
    spread = math.sqrt((about + SPREAD_WEIGHT * usual**2) / (count - 1 + SPREAD_WEIGHT))
    part = "sample" if count >= SHOWN_BY else "assumed_sample"
    return mean.with_component(
        component(part, f"{name}/{kind}"), mean.value * spread / math.sqrt(count)
    )
