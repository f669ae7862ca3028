"""A reading between plateaus is as far from the truth as its u says, wherever they stand."""

import math
from functools import lru_cache

import numpy as np
import pytest

from spindle_core.compare.curve import curve
from spindle_core.figures.measured import Measured
from spindle_core.model.operating_point import Motor, Propeller, solve

FEW, USUAL, MANY = (30, 60, 100), (20, 40, 60, 80, 100), tuple(range(10, 101, 10))
UNEVEN = (15, 25, 70, 85, 100)
VOLTS = {3: 12.0, 5: 16.0, 7: 24.0}


class Made:
    """A motor on a propeller that warms as it runs; what it does at a duty in per cent."""

    def __init__(self, rng):
        inches = int(rng.choice([3, 5, 5, 7]))
        self.volts = VOLTS[inches]
        self.kv = {3: 3500, 5: 2300, 7: 1300}[inches] * rng.uniform(0.8, 1.25)
        self.ohm = rng.uniform(0.03, 0.12) * 2300 / self.kv
        self.no_load = rng.uniform(0.4, 1.8), rng.uniform(0.0, 3e-5)
        self.propeller = Propeller(inches, rng.uniform(0.09, 0.16), rng.uniform(0.04, 0.08))
        self.pack_ohm = float(rng.choice([0.0, 0.004, 0.02]))
        self.k_per_w = float(rng.choice([0.0, 0.05, 0.15]))

    def at(self, duty_pct):
        ohm = self.ohm
        for _ in range(6):
            found = solve(
                Motor(self.kv, ohm, *self.no_load),
                self.propeller,
                voltage_v=self.volts,
                duty=duty_pct / 100.0,
                pack_resistance_ohm=self.pack_ohm,
            )
            rise = self.k_per_w * found.motor_current_a**2 * ohm
            ohm = self.ohm * (1.0 + 0.0039 * rise)
        figures = {name: getattr(found, name) for name in ("thrust_gf", "power_w", "current_a")}
        return figures | {"throttle_pct": float(duty_pct)}


@lru_cache
def runs(plateaus):
    """Noiseless plateaus of made-up motors, and what each does at four duties between them."""
    rng = np.random.default_rng(7)
    motors = [Made(rng) for _ in range(90)]
    between = [rng.uniform(plateaus[0], 100.0, 4) for _ in motors]
    return [
        ([motor.at(level) for level in plateaus], [motor.at(level) for level in levels])
        for motor, levels in zip(motors, between, strict=True)
    ]


def readings(plateaus, x_name, y_name):
    """Error and stated u of readings between plateaus, both relative; shape (n, 2)."""
    found = []
    for points, truths in runs(plateaus):
        read = curve(
            [point[x_name] for point in points],
            [point[y_name] for point in points],
            x_name=x_name,
            y_name=y_name,
        )
        for truth in truths:
            figure = read.read(truth[x_name])
            if isinstance(figure, Measured):
                found.append((figure.value / truth[y_name] - 1.0, figure.u / figure.value))
    return np.array(found)


PAIRS = [
    ("throttle_pct", "thrust_gf"),
    ("throttle_pct", "current_a"),
    ("throttle_pct", "power_w"),
    ("thrust_gf", "power_w"),
    ("thrust_gf", "current_a"),
    ("thrust_gf", "throttle_pct"),
]


@pytest.mark.parametrize("plateaus", [(55, 100), FEW, USUAL, UNEVEN, MANY])
@pytest.mark.parametrize(("x_name", "y_name"), PAIRS)
def test_two_u_hold_the_truth(plateaus, x_name, y_name):
    off, u = readings(plateaus, x_name, y_name).T
    assert len(off) > 80
    assert np.mean(np.abs(off) > 2.0 * u + 1e-12) <= 0.08


@pytest.mark.parametrize(("x_name", "y_name"), PAIRS)
def test_more_plateaus_are_told_as_knowing_more(x_name, y_name):
    few, usual, many = (
        np.median(readings(plateaus, x_name, y_name)[:, 1]) for plateaus in (FEW, USUAL, MANY)
    )
    assert few > 4.0 * usual > 12.0 * many
    assert usual < 0.002


def test_at_a_plateau_nothing_is_assumed():
    motor = Made(np.random.default_rng(3))
    points = [motor.at(level) for level in FEW]
    read = curve(FEW, [p["current_a"] for p in points], x_name="throttle_pct", y_name="current_a")
    for level, point in zip(FEW, points, strict=True):
        figure = read.read(level)
        assert figure.u < 1e-9
        assert figure.value == pytest.approx(point["current_a"])


def test_what_a_parabola_cannot_have_is_in_u_where_it_happens_to_be_straight():
    """Three points on one power of x show no bend; that there is none between them is not shown."""
    xs = np.array([30.0, 60.0, 100.0])
    over_throttle, over_thrust = (
        curve(xs, xs**1.7, x_name=name, y_name="current_a").read(85.0)
        for name in ("throttle_pct", "thrust_gf")
    )
    room = math.prod(math.log(85.0 / x) for x in xs) / 6.0
    for figure, half_width in ((over_throttle, 1.3), (over_thrust, 0.15)):
        assert figure.u / figure.value == pytest.approx(half_width * abs(room) / math.sqrt(3.0))
