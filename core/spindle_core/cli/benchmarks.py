"""Speed of the core, measured against what the same machine does anyway.

Ratios are taken side by side in one process, turn about, so that a busy machine slows both. The
budgets: reduction of a 60 s, 1 kHz, 8-channel ramp within 3 × one NumPy pass over its columns
(mean, minimum, maximum, standard deviation); a CSV log within 2 × ``pyarrow.csv`` on the same
file; identification from 30 runs within 1 s; rank probabilities of 40 motors × 5 criteria × 2,000
draws within 0.5 s.
"""

from __future__ import annotations

import io
import time
from collections.abc import Callable, Sequence
from dataclasses import asdict, dataclass

import numpy as np
import pyarrow.csv

from spindle_core.figures.arrays import Floats
from spindle_core.figures.measured import Measured
from spindle_core.formats.bench_log import read_bench_log, write_bench_log
from spindle_core.identification import identify
from spindle_core.model.operating_point import Motor, Propeller, solve
from spindle_core.rank.rank_confidence import rank_confidence
from spindle_core.rank.scoring import Criterion, Entry
from spindle_core.reduction import reduce_trace
from spindle_core.run.facts import RunFacts
from spindle_core.run.trace import Trace

RAMP_RATIO, CSV_RATIO, IDENTIFY_S, RANK_S = 3.0, 2.0, 1.0, 0.5


@dataclass(frozen=True, slots=True)
class BudgetRow:
    """One budget: the best and median time [s], the baseline's, and what is held to the budget.

    ``ratio`` is the median of the ratios of runs made side by side; None for a budget in seconds.
    """

    what: str
    best_s: float
    median_s: float
    baseline: str
    baseline_best_s: float | None
    ratio: float | None
    budget: float

    @property
    def held(self) -> bool:
        """Whether the budget is held."""
        return (self.median_s if self.ratio is None else self.ratio) <= self.budget

    def as_dict(self) -> dict[str, object]:
        """The row with its verdict."""
        return {**asdict(self), "held": self.held}


def measure(*, csv_rows: int = 1_000_000, repeat: int = 7) -> list[BudgetRow]:
    """All budgets, in the order of the work.

    :param csv_rows: rows of the CSV log. :param repeat: times each is measured, at least 3.
    """
    repeat = max(3, repeat)
    trace = ramp_trace()
    columns = [np.ascontiguousarray(values) for values in trace.channels.values()]
    data = csv_log(csv_rows)
    runs = identification_runs()
    listed, criteria = cohort()
    return [
        _against(
            "reduce a 60 s, 1 kHz, 8-channel ramp",
            lambda: reduce_trace(trace),
            "one NumPy pass",
            lambda: [_pass(column) for column in columns],
            RAMP_RATIO,
            3 * repeat,
        ),
        _against(
            f"read a CSV log of {csv_rows:,} rows ({len(data) / 1e6:.0f} MB)",
            lambda: read_bench_log(data),
            "pyarrow.csv",
            lambda: _arrow(data),
            CSV_RATIO,
            repeat,
        ),
        _alone("identify from 30 runs", lambda: identify(runs), IDENTIFY_S, repeat),
        _alone(
            "rank probabilities, 40 × 5 × 2,000",
            lambda: rank_confidence(listed, criteria, seed=1),
            RANK_S,
            repeat,
        ),
    ]


def table(rows: Sequence[BudgetRow]) -> str:
    """The rows as text for a terminal."""
    lines = [f"{'':44}{'best':>10}{'median':>10}{'against':>18}{'ratio':>8}{'budget':>10}"]
    for row in rows:
        against = "" if row.baseline_best_s is None else f"{1e3 * row.baseline_best_s:.2f} ms"
        ratio = "" if row.ratio is None else f"{row.ratio:.2f}"
        budget = f"{row.budget:g} s" if row.ratio is None else f"≤ {row.budget:g} ×"
        lines.append(
            f"{row.what:44}{1e3 * row.best_s:7.2f} ms{1e3 * row.median_s:7.2f} ms{against:>18}"
            f"{ratio:>8}{budget:>10}  {'held' if row.held else 'NOT HELD'}"
        )
    return "\n".join(lines) + "\n"


def _against(
    what: str,
    work: Callable[[], object],
    name: str,
    baseline: Callable[[], object],
    budget: float,
    repeat: int,
) -> BudgetRow:
    work(), baseline()
    pairs = [(_timed(work), _timed(baseline)) for _ in range(repeat)]
    ratio = float(np.median([a / b for a, b in pairs]))
    own = [a for a, _ in pairs]
    return BudgetRow(
        what, min(own), float(np.median(own)), name, min(b for _, b in pairs), ratio, budget
    )


def _alone(what: str, work: Callable[[], object], budget: float, repeat: int) -> BudgetRow:
    work()
    times = [_timed(work) for _ in range(repeat)]
    return BudgetRow(what, min(times), float(np.median(times)), "", None, None, budget)


def _timed(work: Callable[[], object]) -> float:
    start = time.perf_counter()
    work()
    return time.perf_counter() - start


def _pass(column: Floats) -> tuple[float, float, float, float]:
    return (
        float(np.mean(column)),
        float(np.min(column)),
        float(np.max(column)),
        float(np.std(column)),
    )


def _arrow(data: bytes) -> object:
    """What pyarrow.csv makes of the same file, its preamble skipped."""
    lines = data[: data.index(b"time_s")].count(b"\n")
    return pyarrow.csv.read_csv(
        io.BytesIO(data), read_options=pyarrow.csv.ReadOptions(skip_rows=lines)
    )


def ramp_trace(*, seed: int = 1) -> Trace:
    """A sweep up to full throttle and a cut: 60 s at 1 kHz, eight channels."""
    rng = np.random.default_rng(seed)
    at = np.arange(60_000) / 1000.0
    throttle = np.interp(at, [0.0, 3.0, 56.0, 56.001, 60.0], [0.0, 0.0, 100.0, 0.0, 0.0])
    share = throttle / 100.0
    current = 30.0 * share**2
    voltage = 16.0 - 0.01 * current

    def noisy(values: Floats, sigma: float) -> Floats:
        return values + rng.normal(0.0, sigma, at.size)

    channels = {
        "throttle_pct": throttle,
        "thrust_gf": noisy(1200.0 * share**1.5 + 11.0, 1.0),
        "torque_nm": noisy(0.13 * share**1.5, 2e-4),
        "voltage_v": noisy(voltage, 0.005),
        "current_a": noisy(current, 0.02),
        "speed_rpm": noisy(22_000.0 * share**0.75, 8.0),
        "motor_temp_c": noisy(24.0 + 0.3 * np.cumsum(share**2) / 1000.0, 0.05),
        "ambient_temp_c": noisy(np.full(at.size, 23.0), 0.05),
    }
    return Trace(at, channels, "ramp")


def csv_log(rows: int) -> bytes:
    """A bench log of ``rows`` rows: the ramp, over and over, as a logger writes it."""
    trace = ramp_trace()
    times = -(-rows // trace.size)
    channels = {
        name: np.round(np.tile(values, times)[:rows], 4) for name, values in trace.channels.items()
    }
    return write_bench_log({"kind": "ramp"}, np.arange(rows) / 1000.0, channels)


def identification_runs(count: int = 30) -> list[Trace]:
    """Full-throttle runs of one motor without and with four propellers, 100 Hz, 8 s each."""
    motor = Motor(1900.0, 0.085, 0.6, 2e-5)
    props = [
        Propeller(1.0, 1e-9, 1e-9),
        *(Propeller(5.1, 0.15 + k, 0.08 + k) for k in (0.0, 0.02, 0.04, 0.06)),
    ]
    names = ["", "W1", "W2", "W3", "W4"]
    rng = np.random.default_rng(3)
    found = []
    for number in range(count):
        which = number % len(props)
        volts = (14.8, 16.0)[number // len(props) % 2]
        point = solve(motor, props[which], voltage_v=volts)
        at = np.arange(800) / 100.0
        on = (at >= 2.0) & (at < 5.0)
        channels = {
            "throttle_pct": np.where(on, 100.0, 0.0),
            "voltage_v": volts + rng.normal(0.0, 0.005, at.size),
            "current_a": np.where(on, point.current_a, 0.0) + rng.normal(0.0, 0.02, at.size),
            "speed_rpm": np.where(on, point.speed_rpm + rng.normal(0.0, 8.0, at.size), 0.0),
        }
        if which:
            channels["thrust_gf"] = np.where(on, point.thrust_gf, 0.0) + rng.normal(
                0.0, 1.0, at.size
            )
        facts = RunFacts(
            motor="bench",
            propeller=names[which],
            air_temp_c=15.0,
            air_pressure_hpa=1013.25,
            air_humidity_pct=0.0,
            prop_diameter_in=props[which].diameter_in if which else None,
        )
        kind = "steps" if which else "no_load"
        found.append(Trace(at, channels, kind, facts=facts))
    return found


def cohort(motors: int = 40, criteria: int = 5) -> tuple[list[Entry], list[Criterion]]:
    """Motors with figures that overlap, as a bench of forty has them."""
    rng = np.random.default_rng(5)
    names = [f"criterion_{number}" for number in range(criteria)]
    entries = [
        Entry(
            f"motor {number}",
            {
                name: Measured(
                    value := 100.0 + 5.0 * float(rng.standard_normal()),
                    {"within_run": 0.2, "repeat": 0.8, "calibration_thrust_gf": 0.01 * value},
                )
                for name in names
            },
        )
        for number in range(motors)
    ]
    return entries, [Criterion(name, 1.0) for name in names]
