"""Which way a motor pulls at low throttle, and what is said where it does not."""

import numpy as np
import pytest

from spindle_core.errors import ReductionError
from spindle_core.figures.measured import Absent, Measured
from spindle_core.reduction import reduce_trace
from spindle_core.reduction.direction import Way, which_way
from spindle_core.run.facts import RunFacts
from spindle_core.run.trace import Trace


def check(thrust_gf: float, *, noise: float = 0.5, drop: tuple[str, ...] = (), seed: int = 1):
    """Three seconds of rest, one of ramp, two at 10 %, down, and rest; 50 Hz."""
    time_s = np.arange(0.0, 10.0, 0.02)
    throttle = np.interp(time_s, [0, 3, 4, 6, 7, 10], [0, 0, 10, 10, 0, 0])
    rng = np.random.default_rng(seed)
    channels = {
        "throttle_pct": throttle,
        "thrust_gf": 14.0 + thrust_gf * throttle / 10.0 + rng.normal(scale=noise, size=time_s.size),
        "current_a": 0.6 * throttle / 10.0 + rng.normal(scale=0.01, size=time_s.size),
        "voltage_v": np.full(time_s.size, 16.0),
        "speed_rpm": 420.0 * throttle,
    }
    kept = {name: values for name, values in channels.items() if name not in drop}
    return reduce_trace(Trace(time_s, kept, kind="direction", facts=RunFacts()))


def codes(found):
    return {one.code for one in found.warnings}


@pytest.mark.parametrize("seed", range(5))
def test_it_pulls_and_nothing_is_said(seed):
    found = check(45.0, seed=seed)
    assert found.kind == "direction"
    assert found.summary["thrust_gf"].value == pytest.approx(45.0, abs=2)
    assert codes(found).isdisjoint({"pulls_backwards", "direction_unclear"})


@pytest.mark.parametrize("thrust_gf", [-45.0, -8.0])
def test_it_pushes_and_that_is_said_with_the_propeller_off(thrust_gf):
    found = check(thrust_gf)
    assert "pulls_backwards" in codes(found)
    said = next(one.message for one in found.warnings if one.code == "pulls_backwards")
    assert "propeller off before" in said
    # A reverse at 10 % runs the other prop's figure: it is kept as it was measured.
    assert found.summary["thrust_gf"].value == pytest.approx(thrust_gf, abs=2)


@pytest.mark.parametrize(("thrust_gf", "noise"), [(0.0, 0.5), (1.5, 0.1), (-1.5, 0.1), (4.0, 40.0)])
def test_too_little_is_no_answer(thrust_gf, noise):
    assert "direction_unclear" in codes(check(thrust_gf, noise=noise))


def test_without_a_thrust_nobody_knows():
    found = check(45.0, drop=("thrust_gf",))
    assert "direction_unclear" in codes(found)
    assert isinstance(found.summary.get("thrust_gf", Absent("", "")), Absent)


def test_without_any_plateau_it_is_refused():
    time_s = np.arange(0.0, 4.0, 0.02)
    channels = {"throttle_pct": np.zeros(time_s.size), "thrust_gf": np.zeros(time_s.size)}
    with pytest.raises(ReductionError):
        reduce_trace(Trace(time_s, channels, kind="direction", facts=RunFacts()))


@pytest.mark.parametrize(
    ("value", "u", "way"),
    [
        (3.1, 0.1, Way.PULLS),
        (2.9, 0.1, Way.UNCLEAR),
        (20.0, 10.5, Way.UNCLEAR),
        (20.0, 9.9, Way.PULLS),
        (-3.1, 0.1, Way.PUSHES),
        (-20.0, 10.5, Way.UNCLEAR),
        (0.0, 0.0, Way.UNCLEAR),
    ],
)
def test_a_pull_counts_beyond_two_u_and_three_grams(value, u, way):
    assert which_way(Measured(value, {"noise": u})) is way
