"""Torque from the angular acceleration of a known inertia: local fits along one spin-up."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from spindle_core.autocorrelation import integrated_autocorrelation_time
from spindle_core.trace import Floats

BIN_RPM = 250.0
SHORTEST_WINDOW_S = 0.15
ENOUGH_RELATIVE_U = 0.01
LONGEST_WINDOW_SHARE = 0.25
"""No local fit spans more than this share of its spin-up."""


@dataclass(frozen=True, slots=True)
class SpinUp:
    """Torque over speed of one acceleration; shape (m,) each.

    ``speed_rpm``: bin centres; ``torque_nm`` with ``u_nm`` (within run, k = 1) and ``window_s``,
    the length of each local fit; ``s_per_rpm``: 1 ÷ the slope there. ``energy_ratio``:
    ∫τ·ω dt ÷ ½J(ω₂² − ω₁²) over the bins.
    """

    speed_rpm: Floats
    torque_nm: Floats
    u_nm: Floats
    window_s: Floats
    s_per_rpm: Floats
    energy_ratio: float


def spin_up(time_s: Floats, speed_rpm: Floats, *, inertia_kg_m2: float) -> SpinUp | None:
    """τ = J·dω/dt in bins of 250 rpm by local quadratic least squares.

    At the instant each bin's centre is crossed, a parabola is fitted to the samples within a
    window of at least 0.15 s, widened until u of its slope is at most 1 % or the window spans a
    quarter of the spin-up. u comes from the residuals, with their autocorrelation.

    :param time_s, speed_rpm: shape (n,) of one acceleration [s, 1/min]; NaN is missing.
    :param inertia_kg_m2: J of flywheel and rotor [kg·m²].
    :returns: None when fewer than 3 bins can be fitted.
    """
    valid = np.isfinite(speed_rpm)
    time, speed = time_s[valid], speed_rpm[valid]
    if time.size < 8:
        return None
    low, high = float(speed[:3].mean()), float(np.max(speed))
    bins = np.arange(math.ceil(low / BIN_RPM + 0.5), int(high / BIN_RPM - 0.5) + 1)
    centres = BIN_RPM * bins.astype(np.float64)
    if centres.size < 3:
        return None
    rising = np.maximum.accumulate(speed)
    crossed = np.interp(centres, rising, time)
    longest = LONGEST_WINDOW_SHARE * float(time[-1] - time[0])
    fits = [_local_fit(time, speed, float(at), longest) for at in crossed]
    kept = [i for i, fit in enumerate(fits) if fit is not None and fit[1] > 0.0]
    if len(kept) < 3:
        return None
    level, slope, u, window = np.array([fits[i] for i in kept]).T[[0, 1, 2, 3]]
    per_rpm = inertia_kg_m2 * 2.0 * math.pi / 60.0
    energy = _energy_ratio(level, slope, crossed[kept])
    return SpinUp(centres[kept], per_rpm * slope, per_rpm * u, window, 1.0 / slope, energy)


def _local_fit(
    time: Floats, speed: Floats, at: float, longest_s: float
) -> tuple[float, float, float, float] | None:
    """Speed [rpm], slope and u of the slope [rpm/s] of a parabola around ``at``, window [s]."""
    window = SHORTEST_WINDOW_S
    best: tuple[float, float, float, float] | None = None
    while True:
        start = int(np.searchsorted(time, at - 0.5 * window))
        stop = int(np.searchsorted(time, at + 0.5 * window, side="right"))
        if stop - start >= 5:
            best = (*_parabola(time[start:stop] - at, speed[start:stop]), window)
            if best[2] <= ENOUGH_RELATIVE_U * abs(best[1]):
                return best
        if window >= longest_s:
            return best
        window = min(1.3 * window, max(longest_s, SHORTEST_WINDOW_S))


def _parabola(x: Floats, y: Floats) -> tuple[float, float, float]:
    scale = float(np.max(np.abs(x))) or 1.0
    design = np.stack((np.ones_like(x), x / scale, (x / scale) ** 2), axis=1)
    inverse = np.linalg.pinv(design.T @ design)
    values = inverse @ (design.T @ y)
    rest = y - design @ values
    tau = integrated_autocorrelation_time(rest)
    variance = float(rest @ rest) * tau / max(1, y.size - 3)
    return float(values[0]), float(values[1]) / scale, math.sqrt(variance * inverse[1, 1]) / scale


def _energy_ratio(level: Floats, slope: Floats, at: Floats) -> float:
    """∫ω·(dω/dt) dt over the bins against the change of ½ω², both from the fits."""
    if float(np.max(np.diff(at), initial=0.0)) <= 0.0:
        return 1.0
    work = float(np.trapezoid(level * slope, at))
    change = 0.5 * float(level[-1] ** 2 - level[0] ** 2)
    return work / change if change else 1.0


def coast_drag(time_s: Floats, speed_rpm: Floats, *, inertia_kg_m2: float) -> Floats | None:
    """Drag torque τ = c0 + c1·n + c2·n² from a coast-down [N·m, n in rpm]; shape (3,).

    The speed of a coasting wheel is fitted by a cubic in time, and the drag read from its slope.

    :returns: None when the coast is too short or too shallow to tell.
    """
    valid = np.isfinite(speed_rpm)
    time, speed = time_s[valid], speed_rpm[valid]
    if time.size < 20 or time[-1] - time[0] < 1.0 or speed[0] - speed[-1] < 0.02 * speed[0]:
        return None
    at = time - time[0]
    coefficients = np.polynomial.Polynomial.fit(at, speed, 3)
    slope = -coefficients.deriv()(at) * inertia_kg_m2 * 2.0 * math.pi / 60.0
    fitted = np.polynomial.Polynomial.fit(coefficients(at), slope, 2).convert().coef
    return np.concatenate((fitted, np.zeros(3 - fitted.size)))
