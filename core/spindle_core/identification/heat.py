"""How a motor warms, from its soaks: what they agree on, and how far they do."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Final

from spindle_core.figures.measured import (
    Absent,
    Figure,
    Measured,
    mean_of_figures,
    sample_standard_deviation,
)

HEAT: Final = (
    "rise_k_per_kj",
    "case_k_per_w",
    "winding_over_case_k_per_w",
    "case_time_constant_s",
    "continuous_power_w",
)
"""What a soak tells of its motor, by the names of its summary."""

USUAL_SCATTER: Final = 0.08
"""What soaks of one motor usually differ by, with load, mounting and air (relative)."""

SHOWN_BY: Final = 3
"""So many soaks show their own scatter; before that the usual one is assumed."""


def heat_figures(soaks: Sequence[Mapping[str, Figure]]) -> dict[str, Figure]:
    """Each figure of :data:`HEAT` as the mean over a motor's soaks; n is how many told it.

    u is that of the mean with what soaks scatter by, which is assumed until three have shown it,
    and never less than they do show.

    :param soaks: summaries of accepted soak runs, by figure name.
    """
    if not soaks:
        missing = Absent("no_soak", "no soak of it is accepted")
        return dict.fromkeys(HEAT, missing)
    return {name: _over(name, soaks) for name in HEAT}


def _over(name: str, soaks: Sequence[Mapping[str, Figure]]) -> Figure:
    figures = [soak[name] for soak in soaks if name in soak]
    told = [replace(one, n=1) for one in figures if isinstance(one, Measured) and one.value > 0]
    if not told:
        absent = (one for one in figures if isinstance(one, Absent))
        return next(absent, Absent("not_told", "its soaks do not tell it"))
    mean = mean_of_figures(told)
    count = len(told)
    shown = sample_standard_deviation([one.value for one in told]) if count > 1 else 0.0
    if count >= SHOWN_BY:
        return mean.with_component("soak_scatter", shown / math.sqrt(count))
    scatter = max(shown, USUAL_SCATTER * mean.value)
    return mean.with_component("assumed_soak_scatter", scatter / math.sqrt(count))
