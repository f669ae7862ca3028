"""Reduction of bursts to full throttle: the strongest 50 ms, and what is sustained.

Each channel's burst is its own maximum: the most current is drawn while the propeller is still
gaining speed, the most thrust a moment later. The instants are kept beside the values, so that
nobody multiplies the volts of one instant with the amps of another.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from spindle_core.errors import ReductionError
from spindle_core.figures.measured import (
    Absent,
    Figure,
    Measured,
    component,
    kind_of,
    mean_of_figures,
    sample_standard_deviation,
    source_of,
)
from spindle_core.reduction import cleaning
from spindle_core.reduction.bursts import (
    BURST_WINDOW_S,
    Span,
    Strongest,
    full_throttle_spans,
    half_throttle_spans,
    strongest,
    window_samples,
)
from spindle_core.reduction.cleaning import Cleaning
from spindle_core.reduction.figures import (
    hidden_by_rounding,
    mean_of,
    power_of,
    quotient,
    with_bench_parts,
    with_power_parts,
)
from spindle_core.reduction.result import Point, Reduction
from spindle_core.run.trace import Trace

SUSTAINED_FROM_S, SUSTAINED_TO_S = 0.5, 1.5
RISING_S = 0.4
"""After full throttle was commanded the rotor still gains speed."""

LONGEST_WILD = 2

PEAKED = ("thrust_gf", "current_a", "power_w", "speed_rpm", "torque_nm", "motor_temp_c")


def reduce(trace: Trace) -> Reduction:
    """Burst and sustained figures of each burst, and their means, of a ``peak`` run.

    :raises ReductionError: full throttle was never reached.
    """
    work = cleaning.begin(trace)
    spans, guide = full_throttle_spans(work.trace)
    if not spans:
        raise ReductionError(
            "Full throttle (99 %) was never held; there is no burst to read.", code="no_burst"
        )
    if guide != "throttle_pct":
        work.warn("plateaus_from_data", f"No throttle was logged; bursts were found in {guide}.")
    time = work.trace.time_s
    risen = [min(stop, int(np.searchsorted(time, time[start] + RISING_S))) for start, stop in spans]
    heads = [(start, first) for (start, _), first in zip(spans, risen, strict=True)]
    level = [(first, stop) for first, (_, stop) in zip(risen, spans, strict=True) if first < stop]
    cleaning.mask_lost_speed(work, level, level=True, heads=heads)
    # The rush of a burst's first tenths is what is looked for: only single wild samples go.
    # Half throttle is only read where somebody asked for it: a log may pause anywhere.
    halves = half_throttle_spans(work.trace) if trace.facts.half_bursts else []
    cleaning.mask_outliers(work, [*halves, *spans], longest=LONGEST_WILD)
    at_rest = cleaning.at_rest_by_command(work.trace)
    if at_rest is None:
        at_rest = work.trace.get(guide) < 0.05 * float(np.nanmax(work.trace.get(guide)))
    cleaning.tare(work, at_rest)
    step_s = work.trace.step_s
    if step_s > BURST_WINDOW_S:
        work.warn(
            "sampling_slow",
            f"One sample every {1000 * step_s:.0f} ms: the 50 ms burst is a single sample, and "
            "the true peak may lie between two.",
        )
    window = window_samples(step_s)
    points = tuple(_burst(work, span, window) for span in spans)
    cleaning.say_outliers(work)
    cleaning.say_end(work, at_rest)
    cleaning.say_warm_start(work)
    summary = _summary(points)
    if trace.facts.half_bursts:
        summary |= _at_half(work, halves)
    return Reduction("peak", points, summary, tuple(work.warnings), tuple(work.outliers))


HALVES = ("thrust_gf", "current_a", "power_w", "speed_rpm")


def _at_half(work: Cleaning, spans: Sequence[Span]) -> dict[str, Figure]:
    """Means over the bursts at half throttle, each from 0.5 to 1.5 s after it was reached."""
    points = []
    for span in spans:
        part = _sustained_part(work, span, "half throttle")
        figures: dict[str, Figure] = {}
        for name in HALVES:
            if isinstance(part, Absent):
                figures[f"half_{name}"] = part
            elif name == "power_w":
                figures[f"half_{name}"] = power_of(work, part)
            else:
                figures[f"half_{name}"] = mean_of(work, name, part)
        figures["half_efficiency_g_per_w"] = quotient(
            figures["half_thrust_gf"], figures["half_power_w"], 1.0
        )
        begin = float(work.trace.time_s[span[0]])
        points.append(Point(figures, begin, begin, float(work.trace.time_s[span[1] - 1]), True))
    if not points:
        missing = Absent("no_half", "half throttle was never held, or no throttle was logged")
        return dict.fromkeys([*(f"half_{n}" for n in HALVES), "half_efficiency_g_per_w"], missing)
    found = {name: mean_over(points, name) for name in points[0].figures}
    return {**found, "half_bursts": Measured(float(len(points)))}


def _burst(work: Cleaning, span: Span, window: int) -> Point:
    time = work.trace.time_s
    start, stop = span
    begin = float(time[start])
    figures: dict[str, Figure] = {}
    sustained = _sustained_part(work, span)
    voltage, current = work.get("voltage_v"), work.get("current_a")
    if voltage is not None and current is not None:
        work.channels["power_w"] = voltage * current
    for name in PEAKED:
        stem = name.rsplit("_", 1)[0]
        figures[f"burst_{name}"], figures[f"burst_{stem}_at_s"] = _strongest(
            work, name, span, window
        )
        figures[f"sustained_{name}"] = (
            sustained
            if isinstance(sustained, Absent)
            else (
                power_of(work, sustained) if name == "power_w" else mean_of(work, name, sustained)
            )
        )
    figures["lowest_voltage_v"] = _lowest(work, span, window)
    figures["sustained_efficiency_g_per_w"] = quotient(
        figures["sustained_thrust_gf"], figures["sustained_power_w"], 1.0
    )
    used_from = begin if isinstance(sustained, Absent) else float(time[sustained.start])
    return Point(figures, begin, used_from, float(time[stop - 1]), settled=True)


def _sustained_part(work: Cleaning, span: Span, what: str = "full throttle") -> slice | Absent:
    """Samples 0.5 to 1.5 s after ``what`` was reached; absent in a shorter burst."""
    time = work.trace.time_s
    start, stop = span
    held = float(time[stop - 1] - time[start]) + work.trace.step_s
    if held < SUSTAINED_TO_S - 1e-6:
        return Absent("burst_too_short", f"{what} was held for {held:.2f} s of 1.5 s")
    begin = float(time[start])
    first = int(np.searchsorted(time, begin + SUSTAINED_FROM_S - 1e-9))
    last = int(np.searchsorted(time, begin + SUSTAINED_TO_S + 1e-9, side="right"))
    return slice(first, min(last, stop))


def _strongest(work: Cleaning, name: str, span: Span, window: int) -> tuple[Figure, Figure]:
    samples = work.get(name)
    if samples is None:
        missing = Absent("not_logged", "the channel was not logged")
        return missing, missing
    step_s = work.trace.step_s
    found = strongest(samples[slice(*span)], window, step_s)
    if isinstance(found, Absent):
        return found, found
    figure = _figure(work, name, span, found, window)
    half = 0.5 * window * step_s
    at = Measured(
        float(work.trace.time_s[span[0] + found.at]),
        {component("window", figure_source(work, name, span)): half / math.sqrt(3.0)},
    )
    return figure, at


def figure_source(work: Cleaning, name: str, span: Span) -> str:
    """Whose scatter a burst's figure has: run/channel/time of the burst."""
    return work.source(name, f"burst {work.trace.time_s[span[0]]:.3f}s")


def _figure(
    work: Cleaning, name: str, span: Span, found: Strongest, window: int, sign: float = 1.0
) -> Measured:
    samples = work.channels[name][slice(*span)]
    u = found.u or hidden_by_rounding(
        samples[np.isfinite(samples)], work.trace.stand.resolution.get(name)
    )
    parts = {component("within_run", figure_source(work, name, span)): u}
    figure = Measured(sign * found.value, parts, samples=window)
    at_s = float(work.trace.time_s[span[0] + found.at])
    if name == "power_w":
        return with_power_parts(work, figure)
    return with_bench_parts(work, name, figure, (f"burst {at_s:.3f}s", at_s))


def _lowest(work: Cleaning, span: Span, window: int) -> Figure:
    samples = work.get("voltage_v")
    if samples is None:
        return Absent("not_logged", "the channel was not logged")
    found = strongest(-samples[slice(*span)], window, work.trace.step_s)
    if isinstance(found, Absent):
        return found
    return _figure(work, "voltage_v", span, found, window, sign=-1.0)


def _summary(points: Sequence[Point]) -> dict[str, Figure]:
    names = [name for name in points[0].figures if not name.endswith("_at_s")]
    summary: dict[str, Figure] = {name: mean_over(points, name) for name in names}
    summary["bursts"] = Measured(float(len(points)))
    return summary


def mean_over(points: Sequence[Point], name: str) -> Figure:
    """Mean of one figure over the bursts of one run: u = s/√bursts beside what they share.

    s is at least what the bursts' own scatter lets expect. n stays 1: bursts of a run are no runs.
    """
    found = [p.figures[name] for p in points]
    having = [figure for figure in found if isinstance(figure, Measured)]
    if not having:
        return found[0]
    mean = replace(mean_of_figures(having), n=1)
    if len(having) == 1:
        return mean
    own = {k for f in having for k in f.components if kind_of(k) == "within_run"}
    spread = sample_standard_deviation([f.value for f in having]) / math.sqrt(len(having))
    parts = {k: v for k, v in mean.components.items() if k not in own}
    key = component("within_run", source_of(min(own)).rpartition("/")[0] if own else name)
    parts[key] = max(spread, mean.component("within_run"))
    return replace(mean, components=parts)
