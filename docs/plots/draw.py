"""Draws the plots of docs/computation.md from the code they explain: ``./spindle plots``.

Every curve comes out of the core and the simulated stand; nothing is drawn by hand. The same code
gives the same files, byte for byte.
"""

from __future__ import annotations

import sys
from collections.abc import Callable
from pathlib import Path

import matplotlib as mpl
import numpy as np
from matplotlib.axes import Axes
from matplotlib.figure import Figure

from spindle_bench.stand import script
from spindle_bench.stand.physics import Mounted, Physics, TrueMotor, TrueSupply
from spindle_bench.stand.sensors import Sensors
from spindle_core.compare.delta import compare
from spindle_core.figures.autocorrelation import standard_error_of_mean
from spindle_core.figures.measured import Measured
from spindle_core.identification.blocks import blocks_of
from spindle_core.identification.motor import identify_motor
from spindle_core.model.operating_point import Motor, Propeller
from spindle_core.rank.rank_confidence import rank_confidence
from spindle_core.rank.scoring import Criterion, Entry
from spindle_core.reduction import reduce_trace
from spindle_core.reduction.ramp_sweep import find_sweep
from spindle_core.reduction.ramp_ways import Ways
from spindle_core.run.facts import RunFacts
from spindle_core.run.tare import find_tare
from spindle_core.run.trace import Trace

FOLDER = Path(__file__).parent
INK, SOFT, ACCENT, SECOND = "#22303c", "#9aa7b1", "#b4532a", "#2d6f73"
MOTOR = TrueMotor(Motor(1900.0, 0.085, 0.5, 2.0e-5), 2e-6, 31.0)
PROP = Propeller(5.1, 0.19, 0.12)
SUPPLY = TrueSupply(16.0, 0.004)


def _run(
    kind: str,
    throttle: script.Throttle,
    seconds: float,
    *,
    rate_hz: float = 200.0,
    seed: int = 4,
    propeller: Propeller | None = PROP,
    load: float = 5e-6,
    motor: TrueMotor = MOTOR,
    drift: float = 0.0,
    **facts: float,
) -> tuple[script.Recording, Trace]:
    physics = Physics(Mounted(motor, propeller, load, SUPPLY))
    sensors = Sensors(seed, thrust_zero_gf=14.0, thrust_drift_gf_per_s=drift)
    recording = script.record(physics, sensors, throttle, seconds, rate_hz=rate_hz)
    known = RunFacts(motor="drawn", propeller="P" if propeller else "", **facts)  # type: ignore[arg-type]
    return recording, Trace(recording.time_s, recording.channels, kind, facts=known)


def plateaus(axes: Axes) -> None:
    """A run of plateaus: what is averaged, and the zeros that are taken off."""
    _, trace = _run("steps", script.plateaus((30, 60, 90), dwell_s=3.0), 16.0, drift=1.2)
    result = reduce_trace(trace)
    thrust = trace.channels["thrust_gf"]
    axes.plot(trace.time_s[::4], thrust[::4], color=SOFT, lw=0.8, label="as logged")
    zeros = find_tare(trace.time_s, thrust, at_rest=trace.channels["throttle_pct"] < 0.5)
    mids = [zero.mid_s for zero in (zeros.before, zeros.after) if zero is not None]
    levels = [zero.value for zero in (zeros.before, zeros.after) if zero is not None]
    axes.plot(mids, levels, color=SECOND, marker="o", ms=4, lw=1.2, label="zero, before to after")
    for i, point in enumerate(result.points):
        axes.axvspan(
            point.used_from_s,
            point.end_s,
            color=ACCENT,
            alpha=0.18,
            label="averaged" if i == 0 else None,
        )
    axes.set(xlabel="time (s)", ylabel="thrust (gf)")
    axes.legend(loc="upper left")


def correlation(axes: Axes) -> None:
    """How often ±1.96·u of a mean holds the truth, with and without autocorrelation."""
    rng = np.random.default_rng(8)
    memories = np.array([0.0, 0.3, 0.6, 0.8, 0.9, 0.95])
    naive, honest = [], []
    for memory in memories:
        inside = np.zeros(2)
        for _ in range(300):
            kicks = rng.normal(size=400) * np.sqrt(1 - memory**2)
            noise = np.empty(400)
            now = rng.normal()
            for i, kick in enumerate(kicks):
                now = memory * now + kick
                noise[i] = now
            u = (noise.std(ddof=1) / 20.0, standard_error_of_mean(noise))
            inside += [abs(noise.mean()) <= 1.96 * part for part in u]
        naive.append(inside[0] / 3.0)
        honest.append(inside[1] / 3.0)
    axes.axhline(95.0, color=SOFT, lw=0.8, ls=":")
    axes.plot(memories, naive, color=SOFT, marker="s", ms=4, label="s/√n")
    axes.plot(memories, honest, color=ACCENT, marker="o", ms=4, label="s·√(τ/n), as used here")
    axes.set(
        xlabel="correlation from one sample to the next",
        ylabel="intervals that hold (%)",
        ylim=(0, 100),
    )
    axes.legend(loc="lower left")


def sweep_lag(axes: Axes) -> None:
    """A sweep up and down: both ways lag, their mean does not."""
    _, trace = _run("ramp", script.sweep(up_s=4.0, down=True), 15.0)
    guide = trace.channels["throttle_pct"]
    ways = Ways(trace.time_s, guide, find_sweep(trace.time_s, guide))
    tare = find_tare(trace.time_s, trace.channels["current_a"], at_rest=guide < 0.5)
    up, down = ways.each({"current_a": ways.blocks(trace.channels["current_a"], tare)})["current_a"]
    result = reduce_trace(trace)
    axes.plot(up.levels, up.values, color=SECOND, lw=1, label="on the way up")
    axes.plot(down.levels, down.values, color=SOFT, lw=1, label="on the way down")
    axes.plot(
        [p.value("throttle_pct") for p in result.points],
        [p.value("current_a") for p in result.points],
        color=ACCENT,
        marker=".",
        ms=4,
        lw=0,
        label="points",
    )
    axes.set(xlabel="throttle (%)", ylabel="current (A)", xlim=(55, 95), ylim=(7, 30))
    axes.legend(loc="upper left")


def warm_winding(axes: Axes) -> None:
    """Residuals of the motor's equation: a winding that warms looks like a wrong kV and R."""
    levels = script.plateaus((100,), dwell_s=5.0)
    runs = [_run("no_load", levels, 11.0, propeller=None, load=1e-8, seed=1)[1]]
    for number, diameter in enumerate((4.4, 5.1)):
        prop = Propeller(diameter, 0.19, 0.12)
        runs.append(_run("steps", levels, 11.0, propeller=prop, seed=10 + number)[1])
    blocks = [b for number, run in enumerate(runs) for b in blocks_of(run, number)]
    fit = identify_motor("drawn", blocks, [])
    assert isinstance(fit.kv_rpm_per_v, Measured)
    assert isinstance(fit.resistance_ohm, Measured)
    amps = np.array([b.current_a for b in blocks])
    rest = [b.voltage_v - b.speed_rpm / fit.kv_rpm_per_v.value for b in blocks]
    axes.scatter(
        amps,
        1000 * (np.array(rest) - fit.resistance_ohm.value * amps),
        color=ACCENT,
        s=14,
        label="half-second blocks",
    )
    axes.axhline(0.0, color=SECOND, lw=1, label="kV and R of a winding at case temperature")
    axes.set(xlabel="motor current (A)", ylabel="V − rpm/kV − R·I (mV)")
    axes.legend(loc="upper left")


def torque(axes: Axes) -> None:
    """A flywheel's spin-up: torque over speed, the peak and where the line meets zero."""
    _, trace = _run(
        "flywheel",
        script.plateaus((45,), dwell_s=6.0),
        14.0,
        rate_hz=500.0,
        propeller=None,
        load=150e-6,
        inertia_kg_mm2=152.0,
    )
    result = reduce_trace(trace)
    speeds = np.array([p.value("speed_rpm") for p in result.points], float)
    values = np.array([p.value("torque_nm") for p in result.points], float)
    peak, zero = (result.summary[k] for k in ("peak_torque_nm", "zero_torque_speed_rpm"))
    at = result.summary["speed_at_peak_torque_rpm"]
    assert isinstance(peak, Measured)
    assert isinstance(zero, Measured)
    assert isinstance(at, Measured)
    axes.plot(speeds, 1000 * values, color=SECOND, marker=".", ms=4, lw=0, label="bins of 250 rpm")
    axes.errorbar(
        at.value,
        1000 * peak.value,
        yerr=1960 * peak.u,
        color=ACCENT,
        marker="o",
        ms=5,
        capsize=3,
        lw=1,
        label="peak, 95 % interval",
    )
    from_rpm = 0.4 * zero.value
    line = [1000 * np.interp(from_rpm, speeds, values), 0.0]
    axes.plot(
        [from_rpm, zero.value],
        line,
        color=INK,
        lw=0.8,
        ls="--",
        label="falling part to zero torque",
    )
    axes.set(xlabel="speed (rpm)", ylabel="torque (mN·m)", ylim=(0, None))
    axes.legend(loc="upper right")


def after_rise(axes: Axes) -> None:
    """A soak: after the stop the winding goes on warming the case."""
    recording, trace = _run("soak", script.plateaus((70,), dwell_s=60.0), 360.0, rate_hz=10.0)
    result = reduce_trace(trace)
    axes.plot(
        trace.time_s[::10],
        recording.truth["winding_c"][::10],
        color=SOFT,
        lw=0.9,
        label="winding (simulated truth)",
    )
    axes.plot(
        trace.time_s[::10],
        trace.channels["motor_temp_c"][::10],
        color=SECOND,
        lw=1.1,
        label="case, as logged",
    )
    top, after = (result.summary[k] for k in ("peak_after_stop_c", "peak_after_stop_s"))
    assert isinstance(top, Measured)
    assert isinstance(after, Measured)
    axes.plot(
        63.0 + after.value,
        top.value,
        color=ACCENT,
        marker="o",
        ms=5,
        lw=0,
        label=f"hottest case, {after.value:.0f} s after the stop",
    )
    axes.axvline(63.0, color=INK, lw=0.7, ls=":")
    axes.set(xlabel="time (s)", ylabel="temperature (°C)")
    axes.legend(loc="upper right")


def outcomes(axes: Axes) -> None:
    """Four differences against a margin of ±2 %, and what each may be called."""
    base = Measured(150.0)
    cases = [(4.0, 1.0), (0.4, 0.6), (2.2, 1.6), (1.3, 0.3)]
    for row, (off, u) in enumerate(cases):
        delta = compare(Measured(150.0 * (1 + off / 100), {"a": 1.5 * u}), base)
        colour = {"different": ACCENT, "equivalent": SECOND, "unresolved": SOFT}[str(delta.outcome)]
        axes.errorbar(
            delta.delta_pct,
            -row,
            xerr=delta.half_width_pct,
            color=colour,
            marker="o",
            ms=5,
            capsize=3,
        )
        axes.annotate(str(delta.outcome), (7.4, -row), color=colour, va="center", ha="right")
    axes.axvspan(-2, 2, color=SECOND, alpha=0.1)
    axes.axvline(0, color=INK, lw=0.7)
    axes.set(
        xlabel="difference to the baseline (%), 95 % interval",
        yticks=[],
        xlim=(-4, 7.6),
        ylim=(-3.6, 0.6),
    )


def places(axes: Axes) -> None:
    """How sure the places of six motors are."""
    rng = np.random.default_rng(2)
    names = ["A", "B", "C", "D", "E", "F"]
    strengths = [108.0, 106.5, 103.0, 99.0, 98.4, 92.0]
    entries = [
        Entry(
            name,
            {
                key: Measured(value * rng.normal(1, 0.01), {"repeat": 1.6, "calibration": 2.0})
                for key in ("thrust", "efficiency", "torque")
            },
        )
        for name, value in zip(names, strengths, strict=True)
    ]
    found = rank_confidence(
        entries, [Criterion(key, 1.0) for key in ("thrust", "efficiency", "torque")], seed=1
    )
    image = 100 * found.probability
    axes.imshow(image, cmap="YlOrBr", vmin=0, vmax=130, aspect="auto")
    for i in range(6):
        for j in range(6):
            if image[i, j] >= 0.5:
                axes.annotate(f"{image[i, j]:.0f}", (j, i), ha="center", va="center", color=INK)
    axes.set(
        xticks=range(6),
        xticklabels=range(1, 7),
        yticks=range(6),
        yticklabels=found.names,
        xlabel="place",
        ylabel="motor",
    )


PLOTS: dict[str, Callable[[Axes], None]] = {
    "plateaus": plateaus,
    "correlation": correlation,
    "sweep-lag": sweep_lag,
    "warm-winding": warm_winding,
    "torque": torque,
    "after-rise": after_rise,
    "outcomes": outcomes,
    "places": places,
}


def main() -> int:
    """Write every plot as SVG beside this file."""
    mpl.use("svg")
    mpl.rcParams.update(
        {
            "svg.hashsalt": "spindle",
            "svg.fonttype": "path",
            "font.family": "DejaVu Sans",
            "font.size": 9,
            "axes.spines.top": False,
            "axes.spines.right": False,
            "axes.edgecolor": INK,
            "axes.labelcolor": INK,
            "legend.frameon": False,
            "legend.fontsize": 8,
            "xtick.color": INK,
            "ytick.color": INK,
        }
    )
    for name, draw in PLOTS.items():
        figure = Figure(figsize=(6.2, 2.9), layout="constrained")
        draw(figure.add_subplot())
        path = FOLDER / f"{name}.svg"
        figure.savefig(path, metadata={"Date": None, "Creator": None})
        sys.stdout.write(f"{path.name}: {path.stat().st_size / 1000:.0f} kB\n")
    return 0


if __name__ == "__main__":
    raise SystemExit(main())
