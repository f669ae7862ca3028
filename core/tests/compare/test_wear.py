"""A sample against itself after hours of use."""

import pytest

from spindle_core.compare.bench_table import Load, RanRun
from spindle_core.compare.delta import Outcome
from spindle_core.compare.table import ComparedRun
from spindle_core.compare.wear import Used, wear
from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Measured
from spindle_core.reduction.result import Point

LOAD = Load("Light", "bench supply", 16.0)


def curve(key, hours, thrust=1000.0, *, sample="A", load=LOAD, gain=0.02):
    points = [
        Point(
            {
                "throttle_pct": Measured(100.0),
                "thrust_gf": Measured(thrust, {"calibration@yard/thrust_gf": gain * thrust}),
                "current_a": Measured(20.0),
            },
            0.0,
            0.0,
            1.0,
            True,
        )
    ]
    return Used(RanRun("a", sample, "steps", load, ComparedRun(key, points, 0.005), {}), hours)


def unloaded(key, hours, amps):
    summary = {"no_load_current_a": Measured(amps, {f"repeat@{key}": 0.01})}
    load = Load("", "bench supply", 16.0)
    run = RanRun("a", "A", "no_load", load, ComparedRun(key, [], 0.005), summary)
    return Used(run, hours)


def test_what_the_stand_cannot_tell_cancels():
    found = wear([curve("1", 0.0), curve("2", 0.05), curve("3", 2.0, 960.0)], 1.0)
    thrust = next(one for one in found if one.name == "thrust_gf")
    assert thrust.delta.delta_pct == pytest.approx(-4.0)
    assert thrust.delta.outcome is Outcome.DIFFERENT
    # Repeatability alone, 0.5 % a run, two runs against one.
    assert thrust.delta.u_pct == pytest.approx(0.6, abs=0.1)
    assert (thrust.hours, thrust.runs) == (2.0, (2, 1))


def test_a_dry_bearing_shows_without_a_propeller():
    found = wear([unloaded("1", 0.1, 1.0), unloaded("2", 3.0, 1.4)], 1.0)
    assert [(one.name, one.delta.outcome) for one in found] == [
        ("no_load_current_a", Outcome.DIFFERENT)
    ]


def test_what_may_have_been_nothing_has_not_worn():
    # 0.019 ± 0.01 A may be nothing, 0.020 ± 0.01 A is something.
    for amps, told in ((0.019, 0), (0.020, 1)):
        assert len(wear([unloaded("1", 0.0, amps), unloaded("2", 5.0, 1.0)], 1.0)) == told


def test_runs_between_first_and_now_count_on_neither_side():
    found = wear([curve("1", 0.0), curve("2", 0.5, 10.0), curve("3", 1.5)], 1.0)
    assert found[0].delta.delta_pct == pytest.approx(0.0)
    assert found[0].runs == (1, 1)


@pytest.mark.parametrize(
    "runs",
    [
        [],
        [curve("1", 0.0)],
        [curve("1", 0.0), curve("2", 0.9)],
        [curve("1", 0.0), curve("2", 5.0, sample="B")],
        [curve("1", 0.0), curve("2", 5.0, load=Load("Heavy", "bench supply", 16.0))],
        [curve("1", 0.0), unloaded("2", 5.0, 1.0)],
        [curve("1", 0.0, 0.0), curve("2", 5.0, 0.0)],
    ],
)
def test_where_nothing_stands_against_itself_nothing_is_told(runs):
    assert [one for one in wear(runs, 1.0) if one.name == "thrust_gf"] == []


@pytest.mark.parametrize("hours", [0.0, -1.0, float("nan")])
def test_no_hours_are_no_wear(hours):
    with pytest.raises(QuantityError):
        wear([], hours)
