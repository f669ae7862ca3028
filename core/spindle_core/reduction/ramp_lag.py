"""How far each sensor lags behind the throttle of a sweep."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from spindle_core.figures.arrays import Floats
from spindle_core.figures.measured import Absent, Figure, Measured
from spindle_core.reduction.cleaning import Cleaning
from spindle_core.reduction.ramp_bins import BIN_PCT
from spindle_core.reduction.ramp_sweep import Sweep, edge_pct
from spindle_core.reduction.ramp_ways import Ways

SHORTEST_DECAY_S = 0.4
"""A log that ends sooner after the cut shows no decay to read a lag from."""

LONGEST_LAG_S = 2.0

MOST_OF_A_DECAY = 1000

UNKNOWN_LAG_S = 0.1
"""What an uncorrected lag of rotor, ESC and sensor may be (rectangular from 0)."""

SENSOR_SHARES = ((0.335, 0.46), (0.05, 0.2))
"""What is left of a sensor's reading after once and twice its lag; 0.37 and 0.14 for a
first-order one, 0.41 and 0.09 for two in a row."""


BUILDING_UP = 0.4
"""Largest share of a steady lag by which a sensor of first order is off a plain delay while its
lag builds up: 1/e."""


@dataclass(frozen=True, slots=True)
class Lags:
    """Lags by channel [s]. ``found``: those to report; ``shifts``: those to correct by.

    After a sweep up and down nothing is shifted but at the ends: the mean of both ways has no
    lag left. ``ends``: what is corrected there. ``unsure``: channel → u of what is left of its
    lag (k = 1) [s], with two ways at the ends alone.
    """

    found: Mapping[str, Figure]
    shifts: Mapping[str, float]
    unsure: Mapping[str, float]
    ends: Mapping[str, float]

    def bend_pct2(self, name: str, sweep: Sweep) -> float:
        """What a curve's second derivative counts in the mean of both ways [%²].

        Both ways read f(θ ∓ r·L) on average; their mean has no first order of the lag left, but
        f″·(r·L)² of a sensor of first order, and half of it of a plain delay.
        """
        if sweep.down is None:
            return 0.0
        rate = 0.5 * (sweep.rate_pct_per_s + sweep.down_rate_pct_per_s)
        return (self.ends.get(name, UNKNOWN_LAG_S) * rate) ** 2

    def u_pct(self, name: str, sweep: Sweep, levels_pct: Floats) -> Floats:
        """How far off a channel's throttle may be at each level (k = 1) [%]."""
        rate = sweep.rate_pct_per_s
        u = np.full(levels_pct.size, self.unsure.get(name, 0.0) * rate)
        if sweep.down is None:
            lag_s = self.shifts.get(name, UNKNOWN_LAG_S)
            for level in sweep.stood_at_pct:
                # Just after a stand the lag is still building up.
                begun = (levels_pct > level - BIN_PCT) & (
                    levels_pct < level + edge_pct(lag_s, sweep)
                )
                u[begun] = np.hypot(u[begun], BUILDING_UP * lag_s * rate)
            return u
        inner = edge_pct(self.ends.get(name, 0.0), sweep)
        at_ends = (levels_pct > sweep.high_pct - inner) | (levels_pct < sweep.low_pct + inner)
        return np.where(at_ends, u, 0.0)


def find_lags(work: Cleaning, ways: Ways, names: Sequence[str]) -> Lags:
    """Lags as declared, from hysteresis, or from the decay after the cut; else a warning."""
    logged = [name for name in names if work.trace.has(name)]
    declared = {name: lag for name, lag in work.trace.lags_s.items() if name in logged}
    found: dict[str, Figure] = {name: Measured(lag) for name, lag in declared.items()}
    if ways.sweep.down is not None:
        for name in logged:
            if name not in found:
                found[name] = _from_hysteresis(work, name, ways)
        ends = {n: max(0.0, f.value) for n, f in found.items() if isinstance(f, Measured)}
        doubt = {
            name: figure.u
            if isinstance(figure := found[name], Measured)
            else UNKNOWN_LAG_S / math.sqrt(3.0)
            for name in logged
        }
        return Lags(found, {}, doubt, ends)
    shifts = dict(declared)
    unsure: dict[str, float] = {}
    uncorrected = []
    for name in logged:
        if name in declared or name in ("voltage_v", "power_w", "vibration_g"):
            continue
        lag = _from_decay(work, name, ways.sweep)
        found[name] = lag
        if isinstance(lag, Measured):
            shifts[name], unsure[name] = lag.value, lag.u
        else:
            unsure[name] = UNKNOWN_LAG_S / math.sqrt(3.0)
            uncorrected.append(name)
    if uncorrected:
        work.warn(
            "lag_unknown",
            f"No lag was declared and no decay after a cut shows it: {', '.join(uncorrected)} "
            f"uncorrected, and a lag of up to {UNKNOWN_LAG_S:g} s is in their uncertainty; a "
            "sweep up and down shows its own lag.",
        )
    return Lags(found, shifts, unsure, {})


def _from_hysteresis(work: Cleaning, name: str, ways: Ways) -> Figure:
    """Half the distance of both ways at equal throttle ÷ the rate of change on the way."""
    sweep = ways.sweep
    if sweep.down is None:
        return Absent("lag_unknown", "the sweep has one way")
    blocks = ways.blocks(work.channels[name], work.tares.get(name))
    up_bins, down_bins = ways.each({name: blocks})[name]
    shared, at_up, at_down = np.intersect1d(up_bins.levels, down_bins.levels, return_indices=True)
    # The ends of the sweep, where the rate changes its sign, are left out.
    inner = (shared > sweep.low_pct + 4.0) & (shared < sweep.high_pct - 4.0)
    for start, _ in sweep.stands:
        # Beside a rest the sensor had caught up with the throttle.
        inner &= np.abs(shared - ways.guide_pct[start]) > 4.0
    if inner.sum() < 3:
        return Absent("lag_unknown", "too little of the sweep was seen both ways")
    distance = (down_bins.values[at_down] - up_bins.values[at_up])[inner]
    slope = 0.5 * (up_bins.slopes[at_up] + down_bins.slopes[at_down])[inner]
    rate = 0.5 * (sweep.rate_pct_per_s + sweep.down_rate_pct_per_s)
    change = 2.0 * slope * rate
    weight = float(change @ change)
    if weight == 0.0:
        return Absent("lag_unknown", "the channel does not follow the throttle")
    lag = float(change @ distance) / weight
    rest = distance - lag * change
    u = float(np.sqrt(rest @ rest / max(1, rest.size - 1) / weight))
    return Measured(lag, {"within_run": u})


def _from_decay(work: Cleaning, name: str, sweep: Sweep) -> Figure:
    """Mean delay of the decay after the cut: its area ÷ its height (exact for a linear sensor).

    A rotor that coasts, or an ESC that takes its time to let go, decays in another shape than a
    sensor, and tells nothing of the way up.
    """
    cut = sweep.cut_at
    time, samples = work.trace.time_s, work.channels[name]
    if cut is None or time[-1] - time[cut] < SHORTEST_DECAY_S:
        return Absent("lag_unknown", "the log ends at the cut")
    first, last = np.searchsorted(time, (time[cut] - 0.05, time[cut] + 2.0 * LONGEST_LAG_S))
    before = samples[first : cut + 1]
    # A thousand samples tell the area of a decay.
    window = slice(cut, last, max(1, (last - cut) // MOST_OF_A_DECAY))
    after_time, after = time[window] - time[cut], samples[window]
    valid = np.isfinite(after)
    before = before[np.isfinite(before)]
    if before.size == 0 or valid.sum() < 4:
        return Absent("lag_unknown", "no samples around the cut")
    at, values = after_time[valid], after[valid]
    late = values[at >= 0.75 * at[-1]]
    end, height = float(late.mean()), float(before.mean()) - float(late.mean())
    noise = float(late.std(ddof=1)) if late.size > 1 else 0.0
    if abs(height) < 10.0 * noise or height == 0.0:
        return Absent("lag_unknown", "no decay stands out of the noise")
    share = np.concatenate(([1.0], (values - end) / height))
    when = np.concatenate(([0.0], at))
    lag = 0.5 * float((share[1:] + share[:-1]) @ (when[1:] - when[:-1]))
    step_s = max(float(at[-1]) / max(1, at.size - 1), 1e-6)
    u = abs(noise / height) * math.sqrt(float(at[-1]) * step_s)
    if not -0.05 <= lag <= LONGEST_LAG_S or not _like_a_sensor(when, share, lag, u):
        return Absent("lag_unknown", "the decay after the cut is not that of a sensor")
    return Measured(max(0.0, lag), {"within_run": u})


def _like_a_sensor(when: Floats, share: Floats, lag: float, u: float) -> bool:
    """Whether the decay has fallen to 1/e after its own area, as an exponential has.

    A coasting rotor's hyperbola has gone further by then, an ESC that ramps down less far.
    """
    if lag <= 3.0 * u or lag < 3.0 * float(when[1] - when[0]):
        return True
    left = [float(np.interp(k * lag, when, share)) for k in (1.0, 2.0)]
    return all(low <= part <= high for part, (low, high) in zip(left, SENSOR_SHARES, strict=True))
