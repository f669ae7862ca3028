"""What a maker claims, or somebody expected, held against what a bench measured.

A claim was made on another bench: nothing cancels, and what a stand declares (or what was assumed
of it) does not average out over its runs. A *rating* is a limit, not a prediction: what can be
said is how much of it was reached.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from spindle_core.compare.delta import K_95
from spindle_core.figures.measured import Absent, Figure, Measured
from spindle_core.figures.repeats import mean_of_like
from spindle_core.intake.claims import deviation_pct

MEASURED_AS: Mapping[str, tuple[str, ...]] = {
    "max_current_a": ("max_current_a", "burst_current_a"),
    "max_power_w": ("max_power_w", "burst_power_w"),
    "max_thrust_gf": ("max_thrust_gf", "burst_thrust_gf"),
    "no_load_current_a": ("no_load_current_a",),
    "kv_rpm_per_v": ("kv_rpm_per_v",),
}
"""Quantity → the summary figures of a run that measure it: plateaus, sweeps and bursts alike."""

HIGHEST = frozenset({"max_current_a", "max_power_w", "max_thrust_gf"})
"""Quantities of which the highest run counts; of the others the mean over samples does."""

RATINGS = frozenset({"max_current_a", "max_power_w"})
"""Claims that are limits."""


@dataclass(frozen=True, slots=True)
class RunFigure:
    """A summary figure of one run of one sample; ``burst``: the strongest moment of a burst."""

    sample: str
    figure: Measured
    burst: bool = False


@dataclass(frozen=True, slots=True)
class Evidence:
    """What was measured of a quantity, and what that rests on in words."""

    figure: Figure
    rests_on: str = ""


@dataclass(frozen=True, slots=True)
class Against:
    """A claim beside its measurement.

    ``deviation_pct``: (measured − said) ÷ said; absent for a rating. ``differs``: beyond its 95 %
    interval. ``reached_pct``: share of a rating that was reached; absent for what is no rating.
    """

    deviation_pct: Figure
    differs: bool
    reached_pct: Figure


NO_RATING = Absent("no_rating", "what is claimed is no limit")
A_RATING = Absent("rating", "a rating is a limit, not a prediction")


def run_figures(sample: str, summary: Mapping[str, Figure], quantity: str) -> list[RunFigure]:
    """The figures of one run that measure a quantity."""
    return [
        RunFigure(sample, figure, name.startswith("burst_"))
        for name in MEASURED_AS[quantity]
        if isinstance(figure := summary.get(name), Measured)
    ]


def evidence(quantity: str, runs: Sequence[RunFigure], missing: str) -> Evidence:
    """One figure from all runs: the highest, or the mean over samples.

    :param missing: in words, why there is none, where there is none.
    """
    if not runs:
        return Evidence(Absent("not_measured", missing))
    counted = _count(len(runs), "run")
    if quantity in HIGHEST:
        top = max(runs, key=lambda run: run.figure.value)
        moment = ", a burst" if top.burst else ""
        return Evidence(top.figure, f"highest of {counted}{moment}")
    samples: dict[str, list[Measured]] = {}
    for run in runs:
        samples.setdefault(run.sample, []).append(run.figure)
    each = [mean_of_like(figures, "repeat") for figures in samples.values()]
    return Evidence(mean_of_like(each, "samples"), f"{_count(len(each), 'sample')}, {counted}")


def mean_of_each(masses: Sequence[Figure], missing: str, words: str) -> Evidence:
    """The mean of one figure per sample, such as their masses."""
    known = [figure for figure in masses if isinstance(figure, Measured)]
    if not known:
        return Evidence(Absent("not_weighed", missing))
    mean = mean_of_like(known, "samples")
    return Evidence(mean, f"{_count(len(known), 'sample')}, {words}")


def against(said: float, measured: Figure, *, rating: bool) -> Against:
    """A claim or an expectation held against its measurement.

    :param rating: whether it is a limit; then only the share that was reached is told.
    """
    if isinstance(measured, Absent):
        return Against(measured, False, measured if rating else NO_RATING)
    if said == 0:
        nothing = Absent("no_claim", "a claim of 0 cannot be compared with")
        return Against(nothing, False, nothing)
    if rating:
        return Against(A_RATING, False, measured.scaled(100.0 / said))
    off = deviation_pct(said, measured)
    differs = isinstance(off, Measured) and off.u > 0 and abs(off.value) > K_95 * off.u
    return Against(off, differs, NO_RATING)


def _count(number: int, what: str) -> str:
    return f"{number} {what}{'' if number == 1 else 's'}"
