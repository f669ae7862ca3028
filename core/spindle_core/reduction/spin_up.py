"""Torque from the angular acceleration of a known inertia: local fits along one spin-up."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from spindle_core.figures.arrays import Floats
from spindle_core.figures.autocorrelation import integrated_autocorrelation_time

BIN_RPM = 250.0
SHORTEST_WINDOW_S, USUAL_WINDOW_S = 0.03, 0.15
SHARP_RELATIVE_U, ENOUGH_RELATIVE_U = 0.003, 0.01
"""A window shorter than the usual one will do where it already tells the slope this well."""

BENT_SIGMA = 3.0
LONGEST_WINDOW_SHARE = 0.25
"""No local fit spans more than this share of its spin-up."""


@dataclass(frozen=True, slots=True)
class SpinUp:
    """Torque over speed of one acceleration; shape (m,) each.

    ``speed_rpm``: bin centres; ``torque_nm`` with ``u_nm`` (within run, k = 1) and ``window_s``,
    the length of each local fit; ``bend_nm``: what a cubic's slope would add to a parabola's, a
    measure of what the window flattens; ``drag_nm``: what of the torque was added for drag;
    ``s_per_rpm``: 1 ÷ the slope there. ``energy_ratio``:
    ∫τ·ω dt ÷ ½J(ω₂² − ω₁²) over the bins.
    """

    speed_rpm: Floats
    torque_nm: Floats
    u_nm: Floats
    bend_nm: Floats
    drag_nm: Floats
    window_s: Floats
    s_per_rpm: Floats
    energy_ratio: float


def spin_up(time_s: Floats, speed_rpm: Floats, *, inertia_kg_m2: float) -> SpinUp | None:
    """τ = J·dω/dt in bins of 250 rpm by local quadratic least squares.

    At the instant each bin's centre is crossed, a parabola is fitted to the samples in a window
    that is widened until u of its slope is at most 0.3 %, from 0.15 s on until it is at most 1 %,
    or until the window spans a quarter of the spin-up: a wide window flattens a peak. u comes
    from the residuals, with their autocorrelation.

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
    level, slope, u, bend, window = np.array([fits[i] for i in kept]).T
    per_rpm = inertia_kg_m2 * 2.0 * math.pi / 60.0
    energy = _energy_ratio(level, slope, crossed[kept])
    return SpinUp(
        centres[kept],
        per_rpm * slope,
        per_rpm * u,
        per_rpm * bend,
        np.zeros(len(kept)),
        window,
        1.0 / slope,
        energy,
    )


def _local_fit(
    time: Floats, speed: Floats, at: float, longest_s: float
) -> tuple[float, float, float, float, float] | None:
    """Speed [rpm]; slope, its u and its bend [rpm/s] of a parabola around ``at``; window [s]."""
    window = SHORTEST_WINDOW_S
    best: tuple[float, float, float, float, float] | None = None
    while True:
        start = int(np.searchsorted(time, at - 0.5 * window))
        stop = int(np.searchsorted(time, at + 0.5 * window, side="right"))
        if stop - start >= 5:
            best = (*_parabola(time[start:stop] - at, speed[start:stop]), window)
            enough = ENOUGH_RELATIVE_U if window >= USUAL_WINDOW_S else SHARP_RELATIVE_U
            if best[2] <= enough * abs(best[1]):
                return best
        if window >= longest_s:
            return best
        window = min(1.5 * window, max(longest_s, SHORTEST_WINDOW_S))


def _parabola(x: Floats, y: Floats) -> tuple[float, float, float, float]:
    """Value, slope, u and bend of the slope at x = 0 of a local parabola.

    A parabola flattens a torque that bends within its window (by 0.4 % at the peak of a spin-up
    of half a second); where a cubic term stands out of the noise the cubic's slope is taken.
    """
    quadratic = _polynomial(x, y, 2)
    if y.size < 9:
        return (*quadratic[:3], 0.0)
    # At the edge of the spin-up the window lies to one side, where a cubic's slope runs wild.
    if min(-x[0], x[-1]) < 0.3 * (x[-1] - x[0]):
        return (*quadratic[:3], 0.0)
    cubic = _polynomial(x, y, 3)
    bend = cubic[1] - quadratic[1]
    return (*(cubic[:3] if cubic[3] > BENT_SIGMA else quadratic[:3]), bend)


def _polynomial(x: Floats, y: Floats, degree: int) -> tuple[float, float, float, float]:
    """Value, slope, u of the slope at x = 0, and how many σ the highest term stands out."""
    scale = float(np.max(np.abs(x))) or 1.0
    design = np.vander(x / scale, degree + 1, increasing=True)
    inverse = np.linalg.pinv(design.T @ design)
    values = inverse @ (design.T @ y)
    rest = y - design @ values
    tau = integrated_autocorrelation_time(rest)
    variance = float(rest @ rest) * tau / max(1, y.size - degree - 1)
    highest = math.sqrt(variance * inverse[degree, degree])
    shown = abs(float(values[degree])) / highest if highest else 0.0
    u = math.sqrt(variance * inverse[1, 1]) / scale
    return float(values[0]), float(values[1]) / scale, u, shown


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
