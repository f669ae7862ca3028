"""What is held against the truth of a drawn bench day: figures stated and what really happened."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

import numpy as np

from spindle_bench.coverage.case import Case
from spindle_bench.coverage.day import Day
from spindle_bench.coverage.judged import judged
from spindle_bench.stand import script
from spindle_bench.stand.physics import TrueMotor
from spindle_core.compare.table import ComparedRun, read_at
from spindle_core.figures.arrays import Floats
from spindle_core.figures.autocorrelation import standard_error_of_mean
from spindle_core.figures.constants import COPPER_TEMPERATURE_COEFFICIENT_PER_K
from spindle_core.figures.measured import Absent, Figure, Measured, difference
from spindle_core.identification import identify
from spindle_core.reduction import Reduction, reduce_trace
from spindle_core.reduction.bursts import largest_mean, window_samples
from spindle_core.reduction.flywheel import PEAK_SHARE
from spindle_core.reduction.result import Point
from spindle_core.reduction.spin_up import BIN_RPM
from spindle_core.run.trace import Trace

REPEAT = 0.004
"""Relative s of one run against the next on the drawn stands, and what they declare."""


LEVELS = (30.0, 50.0, 75.0, 100.0)
UNLIKE = ((20.0, 40.0, 60.0, 80.0, 100.0), (30.0, 60.0, 100.0))
"""Plateaus of two runs that do not stand where each other's do."""

DENSE = (15.0, 22.0, 30.0, 40.0, 50.0, 60.0, 70.0, 80.0, 90.0, 100.0)


def cases_of_day(seed: int) -> list[Case]:
    """All figures of one drawn bench day."""
    day = Day(seed)
    free = day.run(0, "no_load", script.plateaus((100.0,), dwell_s=4.0), 10.0)
    low = day.run(1, "steps", script.plateaus(LEVELS), 16.5, propeller="light")
    high = day.run(2, "steps", script.plateaus(LEVELS), 16.5, propeller="heavy")
    swept = day.run(3, "ramp", script.sweep(up_s=12.0, down=True), 30.0, propeller="heavy")
    found: list[Case] = []
    for (recording, trace), kind in ((high, "plateau"), (swept, "sweep")):
        found += _points(day, recording, reduce_trace(trace), kind)
    found += _constants(day, [free[1], low[1], high[1]])
    found += _flywheel(day)
    found += _best(day, *high)
    found += _with_glitch(day, *low)
    found += _resting_sweep(day)
    found += _bursts(day)
    found += _soak(day)
    found += _differences(day)
    found += _correlated(day)
    # Last: what is drawn for it changes nothing that is drawn before.
    found += judged(day, [free[1], low[1], high[1]])
    return found


def _flywheel(day: Day) -> Iterable[Case]:
    recording, trace = day.run(
        4,
        "flywheel",
        script.plateaus((45.0,), dwell_s=5.0),
        12.0,
        rate_hz=500.0,
        inertia_kg_mm2=150.0,
    )
    spun = reduce_trace(trace)
    peak = spun.summary["peak_torque_nm"]
    if isinstance(peak, Measured):
        with_drag = any(item.code == "drag_added" for item in spun.warnings)
        truth = _peak_torque(day, recording, with_drag=with_drag)
        yield Case("peak torque, flywheel", peak.value, peak.u, truth)


def _case(name: str, figure: Figure, truth: float) -> Iterable[Case]:
    if isinstance(figure, Measured):
        yield Case(name, figure.value, figure.u, truth)


def _used(recording: script.Recording, point: Point) -> np.ndarray:
    """Which samples a plateau's point was averaged from."""
    inside: np.ndarray = (recording.time_s >= point.used_from_s) & (recording.time_s < point.end_s)
    return inside


def _best(day: Day, recording: script.Recording, trace: Trace) -> Iterable[Case]:
    """The best g/W of a run of plateaus, against the truth of the same plateau."""
    result = reduce_trace(trace)
    best = result.summary["best_efficiency_g_per_w"]
    if not isinstance(best, Measured):
        return
    point = next(p for p in result.points if p.value("efficiency_g_per_w") == best.value)
    inside = _used(recording, point)
    true = {name: recording.truth[name][inside] for name in recording.truth}
    watts = float((true["voltage_v"] * true["current_a"]).mean())
    yield from _case("best g/W", best, day.gravity * float(true["thrust_gf"].mean()) / watts)


def _with_glitch(day: Day, recording: script.Recording, trace: Trace) -> Iterable[Case]:
    """Thrust after one sample of 900 gf in the rest before the run."""
    thrust = trace.channels["thrust_gf"].copy()
    thrust[int(day.rng.integers(20, 500))] += 900.0
    spoilt = replace(trace, channels={**trace.channels, "thrust_gf": thrust})
    point = reduce_trace(spoilt).points[day.seed % len(LEVELS)]
    truth = day.gravity * float(recording.truth["thrust_gf"][_used(recording, point)].mean())
    yield from _case("thrust, glitch in the rest", point.figures["thrust_gf"], truth)


def _resting_sweep(day: Day) -> Iterable[Case]:
    """The largest thrust of a sweep that stands at the top, up alone or up and down."""
    rest_s = float(day.rng.uniform(1.0, 2.5))
    shape = script.sweep(up_s=10.0, top_s=rest_s, down=day.seed % 2 == 0)
    recording, trace = day.run(5, "ramp", shape, 30.0, propeller="heavy")
    result = reduce_trace(trace)
    top = max(result.points, key=lambda p: p.value("throttle_pct") or 0.0)
    truth = day.gravity * float(recording.truth["thrust_gf"][_used(recording, top)].mean())
    yield from _case("thrust, sweep that rests", top.figures["thrust_gf"], truth)


def _bursts(day: Day) -> Iterable[Case]:
    """Thrust and current of one of three bursts, against the strongest 50 ms that really were.

    The mean of bursts carries their spread, which is more: each begins warmer than the last.
    """
    rate_hz = (50.0, 100.0, 200.0)[day.seed % 3]
    shape = script.pulses(0.0, 100.0, cycles=3, low_s=2.5, high_s=2.0, rest_s=2.0)
    recording, trace = day.run(6, "peak", shape, 18.0, propeller="heavy", rate_hz=rate_hz)
    points = reduce_trace(trace).points
    window = window_samples(1.0 / rate_hz)
    full = recording.channels["throttle_pct"] >= 99.0
    edges = np.flatnonzero(np.diff(np.concatenate(([0], full.astype(np.int8), [0]))))
    for name, label, scale in (
        ("thrust_gf", "thrust, burst", day.gravity),
        ("current_a", "current, burst", 1.0),
    ):
        true = recording.truth[name]
        tops = [
            found[0]
            for first, last in zip(edges[::2], edges[1::2], strict=True)
            if not isinstance(found := largest_mean(true[first:last], window), Absent)
        ]
        which = day.seed // 3 % len(tops)
        yield from _case(label, points[which].figures[f"burst_{name}"], scale * tops[which])


def _soak(day: Day) -> Iterable[Case]:
    """The winding and K/W of a soak, every other day with a torque sensor."""
    level = float(day.rng.choice((40.0, 55.0, 70.0)))
    load_s = float(day.rng.uniform(45.0, 120.0))
    recording, trace = day.run(
        7,
        "soak",
        script.plateaus((level,), dwell_s=load_s, rest_s=4.0),
        load_s + 204.0,
        propeller="heavy",
        rate_hz=10.0,
    )
    own = day.motor.electrical
    idle = own.no_load_current_a + own.no_load_slope_a_per_rpm * 20_000.0
    facts = replace(
        trace.facts,
        resistance_ohm=own.resistance_ohm * float(day.rng.uniform(0.92, 1.08)),
        no_load_current_a=idle * float(day.rng.uniform(0.85, 1.15)),
        esc_linear=True,
    )
    channels = dict(trace.channels)
    kind = "with torque" if day.seed % 2 else "without torque"
    if day.seed % 2 == 0:
        del channels["torque_nm"]
    summary = reduce_trace(replace(trace, facts=facts, channels=channels)).summary
    stop = round((4.0 + load_s) * 10.0) - 2
    yield from _case(
        f"winding °C, {kind}",
        summary["winding_at_stop_c"],
        float(recording.truth["winding_c"][stop]),
    )
    omega = float(recording.truth["speed_rpm"][stop]) * np.pi / 30.0
    away = (0.0030 + 0.000012 * omega) * day.motor.mass_g
    yield from _case("case K/W", summary["case_k_per_w"], 1.0 / away)


def _differences(day: Day) -> Iterable[Case]:
    """Power at equal thrust: a motor against itself at unlike plateaus, and against another."""
    other = replace(
        day.motor,
        electrical=replace(
            day.motor.electrical,
            kv_rpm_per_v=day.motor.electrical.kv_rpm_per_v * float(day.rng.normal(1.0, 0.03)),
            resistance_ohm=day.motor.electrical.resistance_ohm * float(day.rng.normal(1.1, 0.05)),
        ),
    )
    played = [
        day.run(
            8 + number,
            "steps",
            script.plateaus(levels),
            3.0 + 2.5 * len(levels) + 3.5,
            propeller="heavy",
            motor=motor,
            repeat=REPEAT,
        )
        for number, (levels, motor) in enumerate(
            ((UNLIKE[0], day.motor), (UNLIKE[1], day.motor), (UNLIKE[1], other))
        )
    ]
    runs = [
        ComparedRun(f"{number}", reduce_trace(trace).points, REPEAT)
        for number, (_, trace) in enumerate(played)
    ]
    top = min(max(point.value("thrust_gf") or 0.0 for point in run.points) for run in runs)
    at = float(day.rng.uniform(0.25, 0.98)) * top
    power = [read_at(run, at)["power_w"] for run in runs]
    first, again, another = power
    if not all(isinstance(figure, Measured) for figure in power):
        return
    assert isinstance(first, Measured)
    assert isinstance(again, Measured)
    assert isinstance(another, Measured)
    yield Case("same motor, unlike plateaus", again.value, difference(again, first).u, first.value)
    true = [_true_power(day, motor, number, at) for number, motor in ((20, day.motor), (21, other))]
    apart = difference(another, first)
    # Relative to the first, so that the row's percentages are the difference's.
    truth = true[1] - true[0] + first.value
    yield Case("difference of two motors", apart.value + first.value, apart.u, truth)


def _true_power(day: Day, motor: TrueMotor, number: int, at_gf: float) -> float:
    """Power the motor really takes at a thrust the sensors would show as ``at_gf`` [W]."""
    recording, trace = day.run(
        number, "steps", script.plateaus(DENSE), 32.0, propeller="heavy", motor=motor
    )
    thrust, watts = [], []
    for point in reduce_trace(trace).points:
        inside = _used(recording, point)
        thrust.append(float(recording.truth["thrust_gf"][inside].mean()))
        watts.append(
            float((recording.truth["voltage_v"] * recording.truth["current_a"])[inside].mean())
        )
    # The stand's own gains are the same for both motors and cancel in their difference.
    shown = np.array(thrust) * day.gains["thrust_gf"] * day.gravity
    seen = np.array(watts) * day.gains["voltage_v"] * day.gains["current_a"]
    line = np.interp(np.log(at_gf), np.log(shown), np.log(seen))
    return float(np.exp(line))


def _correlated(day: Day) -> Iterable[Case]:
    """A mean of 200 samples whose noise remembers nine tenths of the last."""
    noise: Floats = np.empty(200)
    now = day.rng.standard_normal()
    for i, kick in enumerate(day.rng.standard_normal(200)):
        now = 0.9 * now + np.sqrt(1.0 - 0.81) * kick
        noise[i] = now
    samples = 100.0 + noise
    yield Case("mean, φ 0.9, n 200", float(samples.mean()), standard_error_of_mean(samples), 100.0)


def _points(
    day: Day, recording: script.Recording, reduction: Reduction, kind: str
) -> Iterable[Case]:
    """Thrust and current of one point, a different one from day to day."""
    points = [p for p in reduction.points if (p.value("throttle_pct") or 0.0) >= 30.0]
    point = points[day.seed % len(points)]
    if kind == "plateau":
        inside = (recording.time_s >= point.used_from_s) & (recording.time_s < point.end_s)
    else:
        # What a motor does at a throttle lies between its way up and its way down.
        wanted = point.value("throttle_pct") or 0.0
        inside = np.abs(recording.channels["throttle_pct"] - wanted) < 1.0
    for name, label, scale in (("thrust_gf", "thrust", day.gravity), ("current_a", "current", 1.0)):
        figure = point.figures[name]
        if isinstance(figure, Measured):
            if kind == "plateau":
                truth = float(recording.truth[name][inside].mean())
            else:
                line = np.polynomial.Polynomial.fit(
                    recording.channels["throttle_pct"][inside], recording.truth[name][inside], 1
                )
                truth = float(line(wanted))
            yield Case(f"{label}, {kind}", figure.value, figure.u, scale * truth)


def _constants(day: Day, traces: list[Trace]) -> Iterable[Case]:
    found = identify(traces)
    fit = found.motors[0]
    true = day.motor.electrical
    if isinstance(fit.kv_rpm_per_v, Measured):
        yield Case("kV", fit.kv_rpm_per_v.value, fit.kv_rpm_per_v.u, true.kv_rpm_per_v)
    if isinstance(fit.resistance_ohm, Measured) and fit.resistance_at_c is not None:
        warmer = COPPER_TEMPERATURE_COEFFICIENT_PER_K * (fit.resistance_at_c - 20.0)
        truth = true.resistance_ohm * (1.0 + day.motor.copper_share * warmer)
        yield Case("R", fit.resistance_ohm.value, fit.resistance_ohm.u, truth)
    for item in found.propellers:
        if item.propeller == "heavy" and isinstance(item.ct, Measured):
            yield Case("CT", item.ct.value, item.ct.u, day.propellers["heavy"].ct)


def _peak_torque(day: Day, recording: script.Recording, *, with_drag: bool) -> float:
    """Peak of the true torque curve, by the reduction's own definition of a peak.

    With the coast-down's drag added, the torque is what the motor gave before its own drag.
    """
    speed, torque = recording.truth["speed_rpm"], recording.truth["torque_nm"]
    if with_drag:
        own = day.motor.electrical
        drag_a = own.no_load_current_a + own.no_load_slope_a_per_rpm * speed
        torque = torque + own.torque_constant_nm_per_a * drag_a
    top = int(np.argmax(speed >= 0.995 * speed.max()))
    start = int(np.argmax(speed > 0.0))
    speed, torque = speed[start:top], torque[start:top]
    bins = np.round(speed / BIN_RPM).astype(int)
    means = np.array([torque[bins == number].mean() for number in np.unique(bins)])
    highest = int(np.argmax(means))
    first = last = highest
    while first > 0 and means[first - 1] >= PEAK_SHARE * means[highest]:
        first -= 1
    while last + 1 < means.size and means[last + 1] >= PEAK_SHARE * means[highest]:
        last += 1
    return float(means[first : last + 1].mean())
