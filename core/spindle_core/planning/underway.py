"""What a run in hand shows already, before it is reduced: for the picture beside it, never kept.

The figures of a run come from its reduction; these are what somebody needs who stands at the bench.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from spindle_core.figures.measured import Absent
from spindle_core.model.thermal import DEFAULT_CASE_TIME_CONSTANT_S, cooling_time_s

LEAST_HEATING_S = 5.0
READING_K = 0.3
"""What a reading of the case scatters by, with what a first-order law leaves out [K]."""

USUAL_SPREAD = 0.7
"""How far time constants of cases lie from the usual one (standard deviation of the logarithm)."""

TIME_CONSTANTS_S = (20.0, 600.0)


@dataclass(frozen=True, slots=True)
class SpreadSoFar:
    """Mean and standard deviation of what is there; ``s`` None for one value."""

    mean: float
    s: float | None
    n: int


def spread_so_far(values: Sequence[float]) -> SpreadSoFar | None:
    """Mean and spread of the finite values; None without one."""
    kept = [value for value in values if math.isfinite(value)]
    if not kept:
        return None
    s = float(np.std(kept, ddof=1)) if len(kept) > 1 else None
    return SpreadSoFar(math.fsum(kept) / len(kept), s, len(kept))


def kv_so_far(speed_rpm: float | None, voltage_v: float | None) -> float | None:
    """Speed over voltage on a bare shaft [rpm/V], without the correction for I·R."""
    if speed_rpm is None or voltage_v is None or voltage_v <= 1.0 or speed_rpm <= 0:
        return None
    return speed_rpm / voltage_v


def torque_so_far(
    inertia_kg_mm2: float, times_s: Sequence[float], speeds_rpm: Sequence[float]
) -> float | None:
    """Torque on a wheel [N·m] from the slope of its speed over a few samples, J·dω/dt."""
    if len(times_s) < 3 or times_s[-1] <= times_s[0]:
        return None
    slope = float(np.polyfit(np.asarray(times_s) - times_s[0], speeds_rpm, 1)[0])
    return 1e-6 * inertia_kg_mm2 * slope * 2.0 * math.pi / 60.0


@dataclass(frozen=True, slots=True)
class Heating:
    """Where a case under constant load is going.

    ``final_c``: where it would settle; ``reaches_in_s``: when it is at the ceiling, None where it
    stays below it or already is above.
    """

    final_c: float
    time_constant_s: float
    reaches_in_s: float | None


def heating_so_far(
    times_s: Sequence[float], cases_c: Sequence[float], *, ceiling_c: float | None = None
) -> Heating | None:
    """First-order heating through what was read under constant load.

    Amplitude and final temperature by least squares for each candidate of the time constant; among
    those the one that is likeliest, given what cases usually have and what was read. None before
    :data:`LEAST_HEATING_S`, or while the case does not warm.
    """
    t, c = np.asarray(times_s, float), np.asarray(cases_c, float)
    good = np.isfinite(t) & np.isfinite(c)
    t, c = t[good], c[good]
    if t.size < 4 or t[-1] - t[0] < LEAST_HEATING_S:
        return None
    t = t - t[0]
    candidates = np.geomspace(*TIME_CONSTANTS_S, 40)
    # All candidates at once, a row each: this is asked in the loop that owns the stand.
    fades = np.exp(-t / candidates[:, None])
    middles = fades.mean(axis=1)
    spread = fades - middles[:, None]
    amplitudes = spread @ c / np.sum(spread**2, axis=1)
    misses = np.sum((amplitudes[:, None] * spread - (c - c.mean())) ** 2, axis=1)
    usual = np.log(candidates / DEFAULT_CASE_TIME_CONSTANT_S) / USUAL_SPREAD
    likeliest = int(np.argmin(misses / READING_K**2 + usual**2))
    tau, amplitude = float(candidates[likeliest]), float(amplitudes[likeliest])
    final = float(c.mean()) - amplitude * float(middles[likeliest])
    if amplitude >= 0:
        return None
    now = final + amplitude * math.exp(-float(t[-1]) / tau)
    reaches = None
    if ceiling_c is not None and now < ceiling_c < final:
        reaches = tau * math.log((final - now) / (final - ceiling_c))
    return Heating(final, tau, reaches)


PASSED_K = 0.4
"""A case this far below its highest has passed its peak."""

SETTLED_S = 8.0
"""A case that has not warmed for this long after the stop will not."""

SEEN_COOLING_S = 20.0


@dataclass(frozen=True, slots=True)
class AfterStop:
    """A motor after its stop: its case first goes on warming, since the winding is hotter.

    ``phase``: ``warming`` until the peak has passed, ``cooling``, or ``ready``. ``ready_in_s``:
    until the case is near the air; while it warms the least that it can take.
    """

    phase: str
    highest_c: float
    ready_in_s: float


def after_stop(
    times_s: Sequence[float], cases_c: Sequence[float], *, air_c: float, rise_k: float = 5.0
) -> AfterStop | None:
    """Where the case is on its way back to the air, from its readings since the stop.

    The time constant is the usual one until the case itself has shown another for
    :data:`SEEN_COOLING_S`. None without a reading.

    :param rise_k: above the air by this much counts as ready [K].
    """
    t, c = np.asarray(times_s, float), np.asarray(cases_c, float)
    good = np.isfinite(t) & np.isfinite(c)
    t, c = t[good], c[good]
    if t.size == 0 or not math.isfinite(air_c):
        return None
    smooth = np.convolve(c, np.ones(5) / 5.0, mode="valid") if c.size >= 5 else c
    at = t[t.size - smooth.size :]
    top = int(np.argmax(smooth))
    highest, now = float(smooth[top]), float(smooth[-1])
    shown = max(highest, float(c[-1]))
    near = now <= air_c + rise_k
    passed = now < highest - PASSED_K or (
        t[-1] - t[0] >= SETTLED_S and now - float(smooth[0]) < PASSED_K
    )
    if near and passed:
        return AfterStop("ready", shown, 0.0)
    tau = DEFAULT_CASE_TIME_CONSTANT_S
    falling = (at >= at[top]) & (smooth > air_c + 1.0)
    if now < highest - PASSED_K and at[-1] - at[top] >= SEEN_COOLING_S and falling.sum() > 4:
        slope = float(np.polyfit(at[falling] - at[top], np.log(smooth[falling] - air_c), 1)[0])
        if slope < 0:
            tau = min(TIME_CONSTANTS_S[1], max(TIME_CONSTANTS_S[0], -1.0 / slope))
    left = cooling_time_s(now, air_c + rise_k, ambient_c=air_c, time_constant_s=tau)
    seconds = 0.0 if isinstance(left, Absent) else left
    return AfterStop("cooling" if passed else "warming", shown, seconds)
