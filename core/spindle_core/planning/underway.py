"""What a run in hand shows already, before it is reduced: for the picture beside it, never kept.

The figures of a run come from its reduction; these are what somebody needs who stands at the bench.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from spindle_core.model.thermal import DEFAULT_CASE_TIME_CONSTANT_S

LEAST_HEATING_S = 5.0
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
    """Torque on a wheel [mN·m] from the slope of its speed over a few samples, J·dω/dt."""
    if len(times_s) < 3 or times_s[-1] <= times_s[0]:
        return None
    slope = float(np.polyfit(np.asarray(times_s) - times_s[0], speeds_rpm, 1)[0])
    return 1e-3 * inertia_kg_mm2 * slope * 2.0 * math.pi / 60.0


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

    The time constant is the one of the candidates that fits best (least squares over amplitude and
    final temperature), the usual one while less than a third of it was seen. None before
    :data:`LEAST_HEATING_S`, or while the case does not warm.
    """
    t, c = np.asarray(times_s, float), np.asarray(cases_c, float)
    good = np.isfinite(t) & np.isfinite(c)
    t, c = t[good], c[good]
    if t.size < 4 or t[-1] - t[0] < LEAST_HEATING_S:
        return None
    t = t - t[0]
    candidates = np.geomspace(*TIME_CONSTANTS_S, 40)
    if t[-1] < DEFAULT_CASE_TIME_CONSTANT_S / 3.0:
        candidates = np.array([DEFAULT_CASE_TIME_CONSTANT_S])
    best: tuple[float, float, float, float] | None = None
    for tau in candidates:
        fade = np.exp(-t / tau)
        columns = np.column_stack([np.ones_like(t), fade])
        (final, amplitude), *_ = np.linalg.lstsq(columns, c, rcond=None)
        miss = float(np.sum((columns @ [final, amplitude] - c) ** 2))
        if best is None or miss < best[0]:
            best = (miss, float(tau), float(final), float(amplitude))
    assert best is not None
    _, tau, final, amplitude = best
    if amplitude >= 0:
        return None
    now = final + amplitude * math.exp(-float(t[-1]) / tau)
    reaches = None
    if ceiling_c is not None and now < ceiling_c < final:
        reaches = tau * math.log((final - now) / (final - ceiling_c))
    return Heating(final, tau, reaches)
