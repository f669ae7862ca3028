"""Reduction of spin-ups of a known inertia to torque over speed.

A flywheel needs no torque sensor: τ = J·dω/dt. What friction and air took of the wheel during the
spin-up is seen when it coasts, and is added where the coast was logged.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from spindle_core.errors import ReductionError
from spindle_core.figures.arrays import Floats
from spindle_core.figures.measured import Absent, Figure, Measured, component, ratio
from spindle_core.reduction import cleaning
from spindle_core.reduction.cleaning import Cleaning
from spindle_core.reduction.peak import mean_over
from spindle_core.reduction.plateau import REST_BELOW_PCT, filled_forward
from spindle_core.reduction.result import Point, Reduction
from spindle_core.reduction.spin_up import BIN_RPM, SpinUp, coast_drag, spin_up
from spindle_core.run.duty import known_duty
from spindle_core.run.facts import RunFacts
from spindle_core.run.trace import Trace

ASSUMED_INERTIA = 0.01
"""What an inertia without its u may be off (half-width, relative)."""

WINDOW_RPM = (4_000.0, 18_000.0)
"""The spin-up time is taken over this window where the log asks for no other."""

PEAK_SHARE = 0.98
ENERGY_TOLERANCE = 0.005
SCALED_BY_SPEED = (
    "peak_torque_nm",
    "speed_at_peak_torque_rpm",
    "zero_torque_speed_rpm",
    "kv_rpm_per_v",
)
"""Figures that a tachometer's gain scales."""

DRAG_RELATIVE_U = 0.3
"""Drag read from the slope of a coast-down, and below the coast's own speeds (k = 1)."""

BRAKED_SHARE = 0.3
"""A coast that slows with more than this share of peak torque is braked by the ESC."""

Span = tuple[int, int]


def _window(facts: RunFacts) -> tuple[float, float]:
    """The asked window [1/min]; half of one is completed by the usual."""
    low, high = WINDOW_RPM
    low = low if facts.spin_up_from_rpm is None else facts.spin_up_from_rpm
    high = high if facts.spin_up_to_rpm is None else facts.spin_up_to_rpm
    if low >= high:
        raise ReductionError(
            f"The window of the spin-up time runs from {low:g} to {high:g} rpm; its end must lie "
            "above its beginning (spin_up_from_rpm, spin_up_to_rpm).",
            code="empty_window",
        )
    return low, high


def reduce(trace: Trace) -> Reduction:
    """Torque over speed, peak torque and spin-up time of a ``flywheel`` run.

    The window of the spin-up time is the log's ``spin_up_from_rpm`` to ``spin_up_to_rpm``.

    :raises ReductionError: no inertia, no speed, or no acceleration in the log.
    """
    inertia = trace.facts.inertia_kg_mm2
    if inertia is None:
        raise ReductionError("A flywheel run needs inertia_kg_mm2.", code="no_inertia")
    if not trace.has("speed_rpm"):
        raise ReductionError("A flywheel run needs speed_rpm.", code="no_speed")
    work = cleaning.begin(trace)
    spans = _accelerations(work)
    if not spans:
        raise ReductionError("The wheel was never spun up.", code="no_spin_up")
    cleaning.mask_lost_speed(work, [(0, work.trace.size)], level=False)
    cleaning.mask_outliers(work, spans)
    inertia_kg_m2 = inertia * 1e-6
    curves, spun = [], []
    for start, stop in spans:
        curve = spin_up(
            work.trace.time_s[start:stop],
            work.channels["speed_rpm"][start:stop],
            inertia_kg_m2=inertia_kg_m2,
        )
        if curve is not None:
            curves.append(_with_drag(work, curve, stop, inertia_kg_m2))
            spun.append((start, stop))
    if not curves:
        raise ReductionError(
            "The spin-up is too short: fewer than three bins of 250 rpm.", code="no_spin_up"
        )
    points = _points(work, curves, spun)
    summary = _summary(work, curves, spun, *_window(trace.facts))
    cleaning.say_outliers(work)
    return Reduction("flywheel", points, summary, tuple(work.warnings), tuple(work.outliers))


def _accelerations(work: Cleaning) -> list[Span]:
    """Samples from the start of each throttle to the highest speed reached under it."""
    speed = filled_forward(work.channels["speed_rpm"])
    if work.trace.has("throttle_pct"):
        driven = filled_forward(work.trace.get("throttle_pct")) >= REST_BELOW_PCT
    else:
        driven = np.ones(speed.size, bool)
    edges = np.flatnonzero(np.diff(np.concatenate(([0], driven.astype(np.int8), [0]))))
    found = []
    for start, stop in zip(edges[::2], edges[1::2], strict=True):
        part = speed[start:stop]
        # A single wild reading must not end the spin-up.
        usual = np.percentile(part, 99.0)
        plausible = np.flatnonzero(part >= min(usual, part.max()))
        top = int(start) + int(plausible[0]) + 1
        if top - start >= 8 and part.size and usual - part[0] > 3 * BIN_RPM:
            top = min(int(stop), top + max(4, (top - int(start)) // 20))
            found.append((int(start), top))
    return found


def _with_drag(work: Cleaning, curve: SpinUp, top: int, inertia_kg_m2: float) -> SpinUp:
    """The curve with the coast-down's drag added, when a coast was logged."""
    time, speed = work.trace.time_s, work.channels["speed_rpm"]
    if not work.trace.has("throttle_pct"):
        return curve
    driven = filled_forward(work.trace.get("throttle_pct")) >= REST_BELOW_PCT
    later = np.flatnonzero(~driven[top:])
    if later.size == 0:
        return curve
    start = top + int(later[0])
    start += int(np.searchsorted(time[start:], time[start] + 0.1))
    again = np.flatnonzero(driven[start:])
    stop = start + int(again[0]) if again.size else speed.size
    stop -= int(np.sum(speed[start:stop] < 0.2 * np.nanmax(curve.speed_rpm)))
    drag = coast_drag(time[start:stop], speed[start:stop], inertia_kg_m2=inertia_kg_m2)
    if drag is None:
        return curve
    fastest = float(np.nanmax(speed[start:stop]))
    slowest = float(np.nanmin(speed[start:stop]))
    added = np.polynomial.polynomial.polyval(np.clip(curve.speed_rpm, slowest, fastest), drag)
    if float(np.max(added)) > BRAKED_SHARE * float(np.max(curve.torque_nm)):
        work.warn(
            "coast_braked",
            "The wheel slows too fast after the throttle for friction alone: the ESC brakes it, "
            "so no drag was added to the torque.",
        )
        return curve
    added = np.maximum(added, 0.0)
    work.warn(
        "drag_added",
        f"Drag of {1000 * float(added.min()):.2f} to {1000 * float(added.max()):.2f} mN·m from the "
        "coast-down was added.",
    )
    return replace(curve, torque_nm=curve.torque_nm + added, drag_nm=np.asarray(added))


def _points(work: Cleaning, curves: Sequence[SpinUp], spans: Sequence[Span]) -> tuple[Point, ...]:
    """One point per bin: the mean over the spin-ups that passed it."""
    time = work.trace.time_s
    start_s, end_s = float(time[spans[0][0]]), float(time[spans[-1][1] - 1])
    points = []
    for speed in sorted({float(n) for curve in curves for n in curve.speed_rpm}):
        rows = [
            (float(c.torque_nm[i]), float(c.u_nm[i]))
            for c in curves
            for i in np.flatnonzero(c.speed_rpm == speed)
        ]
        value = math.fsum(row[0] for row in rows) / len(rows)
        u = math.hypot(*(row[1] for row in rows)) / len(rows)
        source = work.source("torque_nm", f"{speed:.0f}rpm")
        figures: dict[str, Figure] = {
            "speed_rpm": Measured(speed),
            "torque_nm": (torque := Measured(value, {component("within_run", source): u})),
            "shaft_power_w": torque.scaled(speed * math.pi / 30.0),
        }
        points.append(Point(figures, start_s, start_s, end_s, settled=True))
    return tuple(points)


def _summary(
    work: Cleaning, curves: Sequence[SpinUp], spans: Sequence[Span], from_rpm: float, to_rpm: float
) -> dict[str, Figure]:
    each = []
    for curve, (start, stop) in zip(curves, spans, strict=True):
        place = f"{work.trace.time_s[start]:.3f}s"
        figures = peak_figures(curve, source=work.source("torque_nm", place))
        time = work.trace.time_s[start:stop]
        speed = work.channels["speed_rpm"][start:stop]
        figures["spin_up_time_s"] = spin_up_time(time, speed, from_rpm=from_rpm, to_rpm=to_rpm)
        figures["kv_rpm_per_v"] = _kv(work, figures["zero_torque_speed_rpm"], (start, stop))
        each.append(Point(figures, float(time[0]), float(time[0]), float(time[-1]), True))
        if abs(curve.energy_ratio - 1.0) > ENERGY_TOLERANCE:
            work.warn(
                "energy_mismatch",
                f"The work under the torque curve is {100 * (curve.energy_ratio - 1):+.2f} % off "
                "the wheel's energy; the local fits do not follow the spin-up.",
            )
    relative = _shared_gains(work)
    means = {name: mean_over(each, name) for name in each[0].figures}
    return {
        name: replace(
            figure,
            components={
                **figure.components,
                **{key: gain * figure.value for key, gain in relative.get(name, {}).items()},
            },
        )
        if isinstance(figure, Measured)
        else figure
        for name, figure in means.items()
    }


def _shared_gains(work: Cleaning) -> dict[str, dict[str, float]]:
    """Relative parts that all spin-ups share: the speed's gain, and the wheel's inertia."""
    speed = work.trace.stand.gains("speed_rpm", work.run)
    facts = work.trace.facts
    if facts.inertia_u_kg_mm2 is None:
        wheel = {component("assumed_inertia", work.run): ASSUMED_INERTIA / math.sqrt(3.0)}
    else:
        known = facts.inertia_u_kg_mm2 / (facts.inertia_kg_mm2 or 1.0)
        wheel = {component("inertia", work.run): known} if known else {}
    return {name: {**speed, **(wheel if name.endswith("_nm") else {})} for name in SCALED_BY_SPEED}


def peak_figures(curve: SpinUp, *, source: str = "") -> dict[str, Figure]:
    """Peak torque, its speed and the zero-torque speed of one curve.

    Peak: mean of the contiguous region at or above 98 % of the maximum; its speed is the
    region's midpoint.

    :param source: whose scatter it is, run/channel/spin-up.
    """
    torque, speed = curve.torque_nm, curve.speed_rpm
    top = int(np.argmax(torque))
    high = torque >= PEAK_SHARE * torque[top]
    first = last = top
    while first > 0 and high[first - 1]:
        first -= 1
    while last + 1 < torque.size and high[last + 1]:
        last += 1
    region = slice(first, last + 1)
    # Neighbouring bins share samples where their windows overlap.
    time_per_bin = BIN_RPM * float(np.mean(curve.s_per_rpm[region]))
    overlap = max(1.0, float(np.mean(curve.window_s[region])) / max(time_per_bin, 1e-9))
    independent = max(1.0, (last - first + 1) / overlap)
    u = float(np.mean(curve.u_nm[region])) / math.sqrt(independent)
    run = source.partition("/")[0]
    # What the windows flatten is at most what a cubic would change (rectangular).
    parts = {
        component("within_run", source): u,
        component("local_fit", run): float(np.mean(curve.bend_nm[region])) / math.sqrt(3.0),
        component("drag", run): DRAG_RELATIVE_U * float(np.mean(curve.drag_nm[region])),
    }
    half_width = 0.5 * float(speed[last] - speed[first])
    return {
        "peak_torque_nm": Measured(float(torque[region].mean()), parts),
        "speed_at_peak_torque_rpm": Measured(
            0.5 * float(speed[first] + speed[last]),
            {component("within_run", source): max(half_width, 0.5 * BIN_RPM) / math.sqrt(3.0)},
        ),
        "zero_torque_speed_rpm": zero_torque_speed(curve, source=source),
    }


def zero_torque_speed(curve: SpinUp, *, source: str = "") -> Figure:
    """Where the falling part of the curve, carried on as a straight line, meets zero torque.

    The falling part lies above the last bin of at least 95 % of the peak; its bins between 10
    and 90 % of the peak give the line, weighted by their u.
    """
    torque, speed, u = curve.torque_nm, curve.speed_rpm, curve.u_nm
    peak = float(torque.max())
    last_high = int(np.flatnonzero(torque >= 0.95 * peak)[-1])
    after = np.arange(torque.size) > last_high
    falling = after & (torque <= 0.9 * peak) & (torque >= 0.1 * peak)
    if falling.sum() < 3:
        return Absent("no_falling_part", "the spin-up ended before the torque fell off")
    x, y, w = speed[falling], torque[falling], 1.0 / np.maximum(u[falling], 1e-3 * peak)
    middle = float(np.average(x, weights=w * w))
    design = np.stack((np.ones_like(x), x - middle), axis=1) * w[:, None]
    inverse = np.linalg.inv(design.T @ design)
    a, b = inverse @ (design.T @ (y * w))
    if b >= 0:
        return Absent("no_falling_part", "the torque does not fall with speed")
    rest = y - a - b * (x - middle)
    scale = max(1.0, float(np.sum((rest * w) ** 2)) / max(1, x.size - 2))
    gradient = np.array([-1.0 / b, a / b**2])
    variance = scale * float(gradient @ inverse @ gradient)
    return Measured(middle - a / b, {component("within_run", source): math.sqrt(variance)})


def spin_up_time(time_s: Floats, speed_rpm: Floats, *, from_rpm: float, to_rpm: float) -> Figure:
    """Time between two speeds on the way up [s]; absent where either was not passed."""
    valid = np.isfinite(speed_rpm)
    time, speed = time_s[valid], speed_rpm[valid]
    if speed.size < 5 or speed.min() > from_rpm or speed.max() < to_rpm:
        return Absent("not_reached", f"the spin-up did not pass {from_rpm:g} to {to_rpm:g} rpm")
    passed = [_crossing(time, speed, level) for level in (from_rpm, to_rpm)]
    step_s = float(np.median(np.diff(time)))
    u = math.hypot(passed[0][1], passed[1][1]) or step_s / math.sqrt(6.0)
    return Measured(passed[1][0] - passed[0][0], {"within_run": u})


def _crossing(time: Floats, speed: Floats, level: float) -> tuple[float, float]:
    """When a level was passed, from a line through the samples around it, and u of it [s]."""
    first = int(np.argmax(np.maximum.accumulate(speed) >= level))
    start, stop = max(0, first - 6), min(time.size, first + 7)
    slope, offset = np.polyfit(time[start:stop] - time[first], speed[start:stop], 1)
    if slope <= 0:
        return float(time[first]), 0.0
    rest = speed[start:stop] - offset - slope * (time[start:stop] - time[first])
    noise = float(rest.std(ddof=2)) / math.sqrt(stop - start) if stop - start > 3 else 0.0
    return float(time[first]) + (level - float(offset)) / float(slope), noise / float(slope)


def _kv(work: Cleaning, zero_speed: Figure, span: Span) -> Figure:
    """kV = zero-torque speed ÷ (d·V), V over the last tenth of the spin-up."""
    if isinstance(zero_speed, Absent):
        return zero_speed
    start, stop = span
    late = slice(stop - max(3, (stop - start) // 10), stop)
    voltage = work.get("voltage_v")
    duty = _duty(work, late)
    if voltage is None or duty is None:
        return Absent("voltage_or_duty_unknown", "needs voltage and duty at the end of the spin-up")
    known = voltage[late][np.isfinite(voltage[late])]
    applied = duty * float(known.mean()) if known.size else 0.0
    if not applied > 0:
        return Absent("voltage_or_duty_unknown", "the voltage is not above 0 V")
    return ratio(
        zero_speed,
        Measured(applied, work.trace.stand.components("voltage_v", applied, run=work.run)),
    )


def _duty(work: Cleaning, part: slice) -> float | None:
    def middle(name: str) -> float | None:
        samples = work.get(name)
        if samples is None or not np.isfinite(samples[part]).any():
            return None
        return float(np.nanmedian(samples[part]))

    return known_duty(
        duty=middle("duty"),
        throttle_pct=middle("throttle_pct"),
        esc_linear=work.trace.facts.esc_linear,
    )
