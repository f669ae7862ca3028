"""A trace made fit for averaging: what every kind of reduction does first.

The throttle is brought to percent, a run that its supply ended is cut there, impossible samples,
lost-speed bursts and outliers are masked and counted, thrust and torque are tared. Nothing is
dropped without a remark.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass, field, replace

import numpy as np

from spindle_core.figures.arrays import Bools, Floats
from spindle_core.figures.measured import Measured
from spindle_core.figures.numerics import running_median
from spindle_core.figures.outliers import Outlier, outlier_mask
from spindle_core.figures.quantities import CHANNELS
from spindle_core.figures.remark import Remark
from spindle_core.reduction.plateau import REST_BELOW_PCT, filled_forward
from spindle_core.reduction.plausible import check_units, in_microseconds
from spindle_core.run.tare import Tare, find_tare
from spindle_core.run.trace import WARM_START_K, Trace

LOST_SPEED_LOW, LOST_SPEED_HIGH = 0.6, 1.7
"""A speed outside these multiples of its surroundings is no speed but a lost signal."""

LOST_SPEED_STEP = 0.03
"""A signal that is lost, and looked for above a tenth of the highest speed, falls from one sample
to the next by at least this share of it."""

ASSUMED_DRIFT, ASSUMED_TARE = 0.002, 0.01
"""Shares of the largest reading that a zero may have moved unseen, or be off where none was read
(half-widths)."""

_COMMANDS = ("throttle_pct", "duty")


@dataclass
class Cleaning:
    """A trace while it is being cleaned; collects what has to be said about it.

    ``channels`` are the trace's own arrays until something is masked in them.
    """

    trace: Trace
    channels: dict[str, Floats]
    tares: dict[str, Tare] = field(default_factory=dict)
    warnings: list[Remark] = field(default_factory=list)
    outliers: list[Outlier] = field(default_factory=list)

    @property
    def run(self) -> str:
        """Which run this is: the source of what scatters in it."""
        return self.trace.run

    def source(self, name: str, at: str = "") -> str:
        """Whose component it is: run/channel, or run/channel/place of one reading."""
        return f"{self.run}/{name}/{at}" if at else f"{self.run}/{name}"

    def warn(self, code: str, message: str) -> None:
        """Add a remark; ``code`` is stable."""
        self.warnings.append(Remark(code, message))

    def get(self, name: str) -> Floats | None:
        """A cleaned channel, shape (n,) [unit by name]; None when it was not logged."""
        return self.channels.get(name)

    def mask(self, name: str, where: Bools, start: int = 0) -> None:
        """Leave samples of a channel out; ``where`` begins at sample ``start``."""
        samples = self.channels[name]
        if samples is self.trace.channels.get(name):
            samples = self.channels[name] = samples.copy()
        samples[start : start + where.size][where] = np.nan

    @property
    def tared(self) -> bool:
        """Whether a zero of thrust was there to subtract."""
        return "thrust_gf" in self.tares and self.tares["thrust_gf"].present


def begin(trace: Trace) -> Cleaning:
    """Start cleaning: throttle in percent, impossible samples masked, cut where the supply went.

    :raises ReductionError: units that look wrong.
    """
    warnings: list[Remark] = []
    check_units(trace)
    trace = _in_standard_gravity(_throttle_in_percent(trace.named(), warnings))
    trace = _cut_at_trip(trace, warnings)
    work = Cleaning(trace, dict(trace.channels), warnings=warnings)
    _mask_impossible(work)
    return work


def at_rest_by_command(trace: Trace) -> Bools | None:
    """Where the commanded throttle is 0, shape (n,); None without a logged throttle."""
    if not trace.has("throttle_pct"):
        return None
    return filled_forward(trace.get("throttle_pct")) < REST_BELOW_PCT


def _in_standard_gravity(trace: Trace) -> Trace:
    """A cell calibrated with weights reads grams; a gram-force is one at standard gravity."""
    factor, thrust = trace.stand.gravity_factor, trace.channels.get("thrust_gf")
    if thrust is None or factor == 1.0:
        return trace
    return replace(trace, channels={**trace.channels, "thrust_gf": factor * thrust})


def _throttle_in_percent(trace: Trace, warnings: list[Remark]) -> Trace:
    """1000–2000 µs of ESC signal are 0–100 %; a column that holds them says so by its size."""
    throttle = trace.channels.get("throttle_pct")
    if throttle is None or not trace.has("throttle_pct"):
        return trace
    # A missing sample makes the largest NaN, and the comparison false.
    if throttle.max() <= 102.0 or not in_microseconds(throttle):
        return trace
    finite = throttle[np.isfinite(throttle)]
    warnings.append(
        Remark(
            "throttle_us",
            f"Throttle runs to {finite.max():.0f}: read as µs of ESC signal, 1000–2000 µs as "
            "0–100 %.",
        )
    )
    percent = np.clip((throttle - 1000.0) / 10.0, 0.0, 100.0)
    return replace(trace, channels={**trace.channels, "throttle_pct": percent})


def _cut_at_trip(trace: Trace, warnings: list[Remark]) -> Trace:
    """A supply that switched off under throttle ends the run there; what came before counts."""
    voltage = trace.channels.get("voltage_v")
    throttle = trace.channels.get("throttle_pct")
    if voltage is None or throttle is None or not trace.has("voltage_v"):
        return trace
    if voltage.min() > 0.4 * voltage.max():
        return trace
    # Neither single wild samples nor a long stretch without voltage move this.
    usual = float(np.nanpercentile(voltage[:: max(1, int(voltage.size) // 2000)], 80))
    low = voltage < 0.4 * usual
    if not low.any():
        return trace
    low &= throttle >= REST_BELOW_PCT
    current = trace.get("current_a")
    low &= ~(current > 0.2 * np.nanmax(current)) if trace.has("current_a") else low
    starts = np.flatnonzero(low & ~np.concatenate(([False], low[:-1])))
    for start in (int(index) for index in starts):
        stop = start + int(np.argmin(np.concatenate((low[start:], [False]))))
        if trace.time_s[min(stop, trace.size - 1)] - trace.time_s[start] >= 0.1 and start > 0:
            # The terminal falls faster than the log; a few samples before it are on their way.
            margin = int(np.searchsorted(trace.time_s, trace.time_s[start] - 0.05))
            warnings.append(
                Remark(
                    "supply_tripped",
                    f"The supply fell to {voltage[start]:.1f} V under throttle at "
                    f"{trace.time_s[start]:.2f} s; the run counts up to there.",
                )
            )
            return trace.until(max(1, margin))
    return trace


def _mask_impossible(work: Cleaning) -> None:
    """Values no sensor of such a bench can mean are masked and counted."""
    counts: dict[str, int] = {}
    for name, samples in list(work.channels.items()):
        channel = CHANNELS[name]
        if name == "throttle_pct" or samples.size == 0:
            continue
        # Speed has its own lower bound: 0 or less under throttle is a lost signal.
        low = -np.inf if name == "speed_rpm" else channel.low
        # Missing samples make both NaN, and the comparison false.
        if samples.min() >= low and samples.max() <= channel.high:
            continue
        wrong = (samples < low) | (samples > channel.high)
        if wrong.any():
            counts[name] = int(wrong.sum())
            work.mask(name, wrong)
    if counts:
        listed = ", ".join(f"{name} {count}" for name, count in counts.items())
        work.warn("impossible_samples", f"Physically impossible samples left out: {listed}.")


def mask_lost_speed(
    work: Cleaning,
    spans: Iterable[tuple[int, int]],
    *,
    level: bool,
    heads: Iterable[tuple[int, int]] = (),
) -> None:
    """A speed of 0, or far from its surroundings, is a lost signal, not a stopped propeller.

    :param level: whether the speed is nearly constant within each span, so that the span's own
        median is its surroundings; else a running median over half a second.
    :param heads: stretches in which the speed still rises: there only a 0 counts, and only within
        half a second of turning.
    """
    speed = work.channels.get("speed_rpm")
    if speed is None:
        return
    total, first = 0, 0.0
    turning_rpm = 0.05 * float(np.fmax.reduce(speed))
    for start, stop in heads:
        since = int(np.searchsorted(work.trace.time_s, work.trace.time_s[start] - 0.5))
        turned = np.maximum.accumulate(np.nan_to_num(speed[since:stop])) > turning_rpm
        lost = (speed[start:stop] <= 0.0) & turned[-(stop - start) :]
        if lost.any():
            first = first if total else float(work.trace.time_s[start + int(np.argmax(lost))])
            total += int(lost.sum())
            work.mask("speed_rpm", lost, start)
    for start, stop in spans:
        part = work.channels["speed_rpm"][start:stop]
        if part.size == 0:
            continue
        fastest = float(part.max())
        if not level:
            first_doubt, last_doubt = _worth_a_look(part, work.trace.step_s)
            start, part = start + first_doubt, part[first_doubt:last_doubt]
        turning = part[part > 0.0]
        if turning.size < max(2, 0.05 * part.size):
            continue
        surroundings: Floats | float
        if level:
            surroundings = float(np.median(turning))
        else:
            surroundings = _running_median(part, work.trace.step_s)
        with np.errstate(invalid="ignore"):
            lost = (part <= 0.0) | (part > LOST_SPEED_HIGH * surroundings)
            lost |= part < LOST_SPEED_LOW * surroundings
        if not level:
            lost &= surroundings > 0.1 * (fastest if fastest > 0 else float(turning.max()))
        if lost.any():
            first = first if total else float(work.trace.time_s[start + int(np.argmax(lost))])
            total += int(lost.sum())
            work.mask("speed_rpm", lost, start)
    if total:
        work.warn(
            "lost_rpm", f"Speed was lost for {total} samples from {first:.2f} s; they are left out."
        )


def _worth_a_look(part: Floats, step_s: float) -> tuple[int, int]:
    """The stretch outside of which no sample can lie far from the median of half a second around
    it: nothing jumps, or the extremes of that half second are too near each other.
    """
    steps = part[1:] - part[:-1]
    if max(float(steps.max()), -float(steps.min())) < LOST_SPEED_STEP * float(part.max()):
        return 0, 0
    width = max(8, round(0.4 / max(step_s, 1e-9)))
    starts = np.arange(0, part.size, width)
    if starts.size < 5:
        return 0, part.size
    low, high = np.minimum.reduceat(part, starts), np.maximum.reduceat(part, starts)
    # Half a second around a sample reaches into the neighbouring blocks.
    low[1:-1] = np.minimum(low[1:-1], np.minimum(low[:-2], low[2:]))
    high[1:-1] = np.maximum(high[1:-1], np.maximum(high[:-2], high[2:]))
    near = (low > 0.0) & (high < LOST_SPEED_HIGH * low) & (high * LOST_SPEED_LOW < low)
    doubtful = np.flatnonzero(~near)
    if doubtful.size == 0:
        return 0, 0
    return max(0, int(doubtful[0]) - 2) * width, min(part.size, (int(doubtful[-1]) + 3) * width)


def _running_median(part: Floats, step_s: float) -> Floats:
    """Median over about half a second, computed on every few samples and spread over all."""
    stride = max(1, round(0.01 / step_s)) if step_s > 0 else 1
    thin = part[::stride]
    known = np.isfinite(thin)
    thin = np.interp(np.arange(thin.size), np.flatnonzero(known), thin[known])
    width = max(5, round(0.6 / max(step_s * stride, 1e-9))) | 1
    smooth = running_median(thin, min(width, thin.size | 1))
    return np.repeat(smooth, stride)[: part.size]


def mask_outliers(
    work: Cleaning, spans: Iterable[tuple[int, int]], *, longest: int | None = None
) -> None:
    """Mask and list the samples of each span that do not belong to it.

    :param longest: more samples in a row are a transient, not outliers, and stay; None: all go.
    """
    spans = list(spans)
    room = np.empty(work.trace.size)
    for name in list(work.channels):
        if name in _COMMANDS:
            continue
        for start, stop in spans:
            part = work.channels[name][start:stop]
            mask = outlier_mask(part, room=room)
            if longest is not None:
                mask &= ~_in_long_runs(mask, longest)
            if not mask.any():
                continue
            work.outliers += [
                Outlier(name, float(work.trace.time_s[start + i]), float(part[i]))
                for i in np.flatnonzero(mask)
            ]
            work.mask(name, mask, start)


def _in_long_runs(mask: Bools, longest: int) -> Bools:
    """Which marked samples stand in a row of more than ``longest``, shape (n,)."""
    edges = np.flatnonzero(np.diff(np.concatenate(([0], mask.astype(np.int8), [0]))))
    long = np.zeros_like(mask)
    for start, stop in zip(edges[::2], edges[1::2], strict=True):
        long[start:stop] = stop - start > longest
    return long


def tare(work: Cleaning, at_rest: Bools) -> None:
    """Subtract the zeros before and after from thrust and torque, and say what was seen."""
    find_tares(work, at_rest)
    tare_found(work)


def tare_found(work: Cleaning) -> None:
    """Subtract the zeros that were found."""
    for name, zeros in work.tares.items():
        work.channels[name] = zeros.apply(work.trace.time_s, work.channels[name])


def find_tares(work: Cleaning, at_rest: Bools) -> None:
    """Find the zeros of thrust and torque and say what was seen; subtracting is left."""
    for name in ("thrust_gf", "torque_nm"):
        samples = work.channels.get(name)
        if samples is not None:
            found = find_tare(
                work.trace.time_s,
                samples,
                at_rest=at_rest,
                source=work.source(name),
                resolution=work.trace.stand.resolution.get(name),
            )
            work.tares[name] = with_assumed_zero(found, samples)
    say_tare(work)


def with_assumed_zero(zeros: Tare, samples: Floats) -> Tare:
    """The zeros with what is assumed for a missing one.

    :param samples: the channel, shape (n,), of which a share of the largest reading is taken.
    """
    if zeros.before is not None and zeros.after is not None:
        return zeros
    share = ASSUMED_DRIFT if zeros.present else ASSUMED_TARE
    largest = max(float(np.fmax.reduce(samples)), -float(np.fmin.reduce(samples)), 0.0)
    return replace(zeros, assumed_u=share * largest / math.sqrt(3.0) if largest > 0 else 0.0)


def say_tare(work: Cleaning) -> None:
    """What a reviewer should know of the zeros of thrust."""
    if "thrust_gf" not in work.tares:
        return
    zeros = work.tares["thrust_gf"]
    if not zeros.present:
        work.warn(
            "tare_missing",
            "No zero throttle in the log: thrust is as the stand gave it, and a zero of up to "
            f"±{100 * ASSUMED_TARE:g} % of the largest thrust is assumed in u.",
        )
        return
    if zeros.assumed_u:
        work.warn(
            "one_zero",
            f"Only one zero, {'before' if zeros.after is None else 'after'} the run: its drift was "
            f"not seen, up to ±{100 * ASSUMED_DRIFT:g} % of the largest thrust is assumed in u.",
        )
    drift = zeros.drift()
    if isinstance(drift, Measured):
        thrust = work.channels["thrust_gf"]
        high, low = float(thrust.max()), float(thrust.min())
        if not (math.isfinite(high) and math.isfinite(low)):
            high, low = float(np.fmax.reduce(thrust)), float(np.fmin.reduce(thrust))
        largest = max(high, -low)
        if abs(drift.value) > max(3.0 * drift.u, 0.005 * largest):
            work.warn(
                "tare_drift",
                f"The zero moved by {drift.value:+.1f} gf during the run; "
                "it was taken out as a straight line.",
            )


def say_outliers(work: Cleaning) -> None:
    """One remark for all samples left out as outliers."""
    if not work.outliers:
        return
    by_channel: dict[str, int] = {}
    for outlier in work.outliers:
        by_channel[outlier.channel] = by_channel.get(outlier.channel, 0) + 1
    labels = {name: CHANNELS[name].label.lower() for name in by_channel}
    listed = ", ".join(f"{by_channel[name]} of {labels[name]}" for name in sorted(by_channel))
    total = len(work.outliers)
    were = "1 sample was" if total == 1 else f"{total} samples were"
    work.warn("outliers", f"{were} left out as outliers: {listed}.")


def say_warm_start(work: Cleaning) -> None:
    """A motor that was warm at the start gives and draws slightly less than a cold one."""
    rise = work.trace.start_rise_k
    if rise is not None and rise > WARM_START_K:
        work.warn(
            "warm_start",
            f"The motor was {rise:.0f} K above the air at the start; a cold motor would draw and "
            "give slightly more.",
        )


def say_end(work: Cleaning, at_rest: Bools) -> None:
    """A log that stops under throttle has no second zero."""
    if not at_rest[-1]:
        work.warn("ended_under_throttle", "The log ends before the throttle was back at 0.")
