"""Do stated 95 % intervals hold the truth in 95 % of cases? ``spindle-coverage`` counts.

Each case is a bench day with a motor, two propellers and a stand drawn at random: the stand's
gains are off by as much as it declares of itself, the air is noted with a thermometer's and a
barometer's error, the winding warms while it runs. A no-load run, two runs of plateaus, a sweep
and a flywheel run are played by the simulated stand and reduced as anybody's logs are. What comes
out is held against what really happened.
"""

from __future__ import annotations

import argparse
import json
import math
import sys
from collections.abc import Iterable, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from os import cpu_count

import numpy as np

from spindle_bench.stand import script, world
from spindle_bench.stand.physics import Mounted, Physics, TrueMotor, TrueSupply
from spindle_bench.stand.sensors import RESOLUTION, Sensors
from spindle_core.air import air_density_kg_per_m3
from spindle_core.constants import COPPER_TEMPERATURE_COEFFICIENT_PER_K
from spindle_core.identification import identify
from spindle_core.measured import Measured
from spindle_core.operating_point import Motor, Propeller
from spindle_core.propeller import estimate_coefficients
from spindle_core.reduction import Reduction, reduce_trace
from spindle_core.reduction.flywheel import PEAK_SHARE
from spindle_core.reduction.spin_up import BIN_RPM
from spindle_core.run_facts import RunFacts
from spindle_core.stand import GRAVITY_RELATIVE_U, Stand
from spindle_core.trace import Trace

K_95 = 1.96
LOWEST_PCT, HIGHEST_PCT = 90.0, 99.0
"""Where the share of intervals that hold the truth must lie [%]."""

CALIBRATION = {
    "thrust_gf": 0.005, "torque_nm": 0.008, "voltage_v": 0.002, "current_a": 0.008,
    "speed_rpm": 0.0005,
}  # fmt: skip
"""What the drawn stands declare of their gains (relative standard uncertainty), and are."""

BENCHES: tuple[tuple[str, float, float, tuple[float, float, float]], ...] = (
    ("2206", 1900.0, 16.0, (5.1, 4.2, 3)),
    ("2105.5", 2650.0, 12.0, (5.0, 3.6, 3)),
    ("1505", 3600.0, 12.0, (4.0, 2.8, 3)),
    ("2807", 1250.0, 24.0, (7.0, 3.8, 3)),
    ("2306", 1800.0, 22.2, (5.1, 3.1, 2)),
)
"""Size code, kV, supply voltage [V] and propeller (diameter, pitch [in], blades)."""


@dataclass(frozen=True, slots=True)
class Case:
    """One figure of one bench day: what was stated and what is true, in the figure's unit."""

    figure: str
    value: float
    u: float
    truth: float

    @property
    def inside(self) -> bool:
        """Whether the stated 95 % interval holds the truth."""
        return abs(self.value - self.truth) <= K_95 * self.u


@dataclass(frozen=True, slots=True)
class Row:
    """A figure over all cases: share of intervals that hold the truth, mean u and bias [%]."""

    figure: str
    cases: int
    inside_pct: float
    mean_u_pct: float
    bias_pct: float

    @property
    def holds(self) -> bool:
        """Whether the share lies where it must."""
        return LOWEST_PCT <= self.inside_pct <= HIGHEST_PCT


class Day:
    """One bench day: what is drawn once for all its runs."""

    def __init__(self, seed: int) -> None:
        self.seed = seed
        rng = self.rng = np.random.default_rng(seed)
        size, kv, volts, (diameter, pitch, blades) = BENCHES[seed % len(BENCHES)]
        typical = world.typical_motor(size, kv)
        electrical = typical.electrical
        self.motor = TrueMotor(
            Motor(
                electrical.kv_rpm_per_v * rng.normal(1.0, 0.02),
                electrical.resistance_ohm * rng.normal(1.0, 0.04),
                electrical.no_load_current_a * rng.normal(1.0, 0.1),
                electrical.no_load_slope_a_per_rpm * rng.normal(1.0, 0.1),
            ),
            typical.inertia_kg_m2,
            typical.mass_g,
        )
        self.supply = TrueSupply(volts, 0.004)
        self.blades = blades
        self.propellers = {
            name: _propeller(diameter * share, pitch, int(blades), rng)
            for name, share in (("light", 0.86), ("heavy", 1.0))
        }
        self.ambient_c = float(rng.uniform(17.0, 26.0))
        pressure, humidity = float(rng.uniform(985.0, 1018.0)), float(rng.uniform(35.0, 65.0))
        self.density = air_density_kg_per_m3(
            self.ambient_c, pressure_hpa=pressure, humidity_pct=humidity
        )
        self.noted_air = {
            "air_temp_c": self.ambient_c + rng.normal(0.0, 0.5),
            "air_pressure_hpa": pressure + rng.normal(0.0, 1.0),
            "air_humidity_pct": humidity + rng.normal(0.0, 4.0),
        }
        self.gains = {name: float(rng.normal(1.0, u)) for name, u in CALIBRATION.items()}
        # A cell calibrated with weights reads forces in units of the local gravity.
        self.gravity = float(rng.normal(1.0, GRAVITY_RELATIVE_U))
        self.declared = Stand(calibration=CALIBRATION, resolution=RESOLUTION)

    def run(
        self, number: int, kind: str, throttle: script.Throttle, seconds: float, *,
        propeller: str = "", rate_hz: float = 200.0, inertia_kg_mm2: float | None = None,
    ) -> tuple[script.Recording, Trace]:  # fmt: skip
        """Play one run from the cold."""
        prop = self.propellers.get(propeller)
        load = world.BARE_SHAFT_KG_M2
        if prop is not None:
            load = world.propeller_inertia_kg_m2(prop.diameter_in, int(self.blades))
        elif inertia_kg_mm2 is not None:
            load = inertia_kg_mm2 * 1e-6 - self.motor.inertia_kg_m2
        mounted = Mounted(self.motor, prop, load, self.supply, self.ambient_c, self.density)
        sensors = Sensors(
            1000 * self.seed + number,
            thrust_gain=self.gains["thrust_gf"] * self.gravity,
            thrust_zero_gf=14.0,
            thrust_drift_gf_per_s=float(self.rng.normal(0.0, 0.1)),
            torque_zero_nm=0.002,
            gains={name: gain for name, gain in self.gains.items() if name != "thrust_gf"},
            glitch_share=0.0005,
        )
        recording = script.record(Physics(mounted), sensors, throttle, seconds, rate_hz=rate_hz)
        facts = RunFacts(
            motor="drawn", sample=str(self.seed), propeller=propeller,
            prop_diameter_in=None if prop is None else prop.diameter_in,
            inertia_kg_mm2=inertia_kg_mm2, **self.noted_air,  # type: ignore[arg-type]
        )  # fmt: skip
        channels = dict(recording.channels)
        if prop is None:
            channels = {name: v for name, v in channels.items() if name != "thrust_gf"}
        return recording, Trace(recording.time_s, channels, kind, facts=facts, stand=self.declared)


def _propeller(
    diameter_in: float, pitch_in: float, blades: int, rng: np.random.Generator
) -> Propeller:
    estimate = estimate_coefficients(diameter_in, pitch_in, blades=blades)
    return Propeller(
        diameter_in, estimate.ct * rng.normal(1.0, 0.05), estimate.cp * rng.normal(1.0, 0.05)
    )


def cases_of_day(seed: int) -> list[Case]:
    """All figures of one drawn bench day."""
    day = Day(seed)
    levels = (30.0, 50.0, 75.0, 100.0)
    free = day.run(0, "no_load", script.plateaus((100.0,), dwell_s=4.0), 10.0)
    low = day.run(1, "steps", script.plateaus(levels), 16.5, propeller="light")
    high = day.run(2, "steps", script.plateaus(levels), 16.5, propeller="heavy")
    swept = day.run(3, "ramp", script.sweep(up_s=12.0, down=True), 30.0, propeller="heavy")
    wheel = day.run(
        4, "flywheel", script.plateaus((45.0,), dwell_s=5.0), 12.0, rate_hz=500.0,
        inertia_kg_mm2=150.0,
    )  # fmt: skip
    found: list[Case] = []
    for (recording, trace), kind in ((high, "plateau"), (swept, "sweep")):
        found += _points(day, recording, reduce_trace(trace), kind)
    found += _constants(day, [free[1], low[1], high[1]])
    spun = reduce_trace(wheel[1])
    peak = spun.summary["peak_torque_nm"]
    if isinstance(peak, Measured):
        with_drag = any(item.code == "drag_added" for item in spun.warnings)
        truth = _peak_torque(day, wheel[0], with_drag=with_drag)
        found.append(Case("peak torque, flywheel", peak.value, peak.u, truth))
    return found


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
    for name, label, scale in (
        ("thrust_gf", "thrust", day.gravity), ("current_a", "current", 1.0),
    ):  # fmt: skip
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


def study(days: int, *, seed: int = 1, workers: int | None = None) -> list[Row]:
    """The table over ``days`` drawn bench days."""
    seeds = range(seed, seed + days)
    with ProcessPoolExecutor(workers or cpu_count() or 1) as pool:
        found = [case for cases in pool.map(cases_of_day, seeds, chunksize=4) for case in cases]
    return rows(found)


def rows(cases: Sequence[Case]) -> list[Row]:
    """The cases gathered by figure, in the order they came."""
    names = list(dict.fromkeys(case.figure for case in cases))
    table = []
    for name in names:
        own = [case for case in cases if case.figure == name]
        table.append(
            Row(
                name,
                len(own),
                100.0 * sum(case.inside for case in own) / len(own),
                100.0 * math.fsum(case.u / abs(case.truth) for case in own) / len(own),
                100.0 * math.fsum(case.value / case.truth - 1.0 for case in own) / len(own),
            )
        )
    return table


def main(arguments: Sequence[str] | None = None) -> int:
    """Print the table; exit status 1 when a share lies outside 90 to 99 %."""
    parser = argparse.ArgumentParser(
        prog="spindle-coverage",
        description="Counts how often stated 95 %% intervals hold the truth, over seeded simulated "
        "bench days of five runs each.",
    )
    parser.add_argument("--days", type=int, default=200, help="default 200")
    parser.add_argument("--seed", type=int, default=1, help="default 1")
    parser.add_argument("--workers", type=int, help="processes, default one a core")
    parser.add_argument("--json", action="store_true")
    options = parser.parse_args(arguments)
    table = study(options.days, seed=options.seed, workers=options.workers)
    if options.json:
        json.dump([{n: getattr(row, n) for n in Row.__slots__} for row in table], sys.stdout)
        sys.stdout.write("\n")
    else:
        sys.stdout.write(f"{'figure':24}{'cases':>6}{'inside':>9}{'mean u':>9}{'bias':>9}\n")
        for row in table:
            sys.stdout.write(
                f"{row.figure:24}{row.cases:6}{row.inside_pct:7.1f} %{row.mean_u_pct:7.2f} %"
                f"{row.bias_pct:+7.2f} %  {'' if row.holds else 'OUTSIDE 90 to 99 %'}\n"
            )
    return 0 if all(row.holds for row in table) else 1


if __name__ == "__main__":
    raise SystemExit(main())
