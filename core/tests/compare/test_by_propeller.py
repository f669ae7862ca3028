"""A motor on each of its propellers, at a glance."""

from dataclasses import replace

import pytest

from spindle_core.compare.by_propeller import common_thrust_gf, on_propellers
from spindle_core.compare.table import ComparedRun
from spindle_core.figures.measured import Absent, Measured, component
from spindle_core.reduction.result import Point


def point(thrust, power):
    return Point({"thrust_gf": thrust, "power_w": power}, 0, 1, 2, True)


def run(key, thrusts, g_per_w, repeatability=0.004):
    points = [
        point(
            Measured(t, {component("within_run", f"{key}/{t}"): 0.2}),
            Measured(t / g_per_w, {component("within_run", f"{key}/{t}w"): 0.05}),
        )
        for t in thrusts
    ]
    return ComparedRun(key, points, repeatability)


LIGHT = [run("run 1", (100.0, 300.0, 500.0, 700.0), 5.0), run("run 2", (100, 300, 500, 720), 5.1)]
HEAVY = [run("run 3", (200.0, 500.0, 900.0, 1200.0), 4.0)]


def test_all_are_read_at_one_thrust_within_every_curve():
    at = common_thrust_gf([LIGHT, HEAVY])
    assert at == 400.0
    light, heavy = on_propellers([LIGHT, HEAVY])
    assert light.efficiency_g_per_w.value == pytest.approx(5.05, rel=1e-3)
    assert heavy.efficiency_g_per_w.value == pytest.approx(4.0, rel=1e-3)
    assert (light.runs, heavy.runs) == (2, 1)
    assert light.largest_thrust_gf.value == pytest.approx(710.0)


def test_one_run_carries_what_a_run_scatters_and_two_carry_their_spread():
    light, heavy = on_propellers([LIGHT, HEAVY])
    assert heavy.largest_thrust_gf.u >= 0.004 * 1200.0
    # 700 and 720: s / sqrt 2 = 10, more than the stand declares.
    assert light.largest_thrust_gf.u == pytest.approx(10.0, rel=0.02)


def test_the_curve_is_that_of_the_run_with_the_most_points():
    rough = run("run 4", (300.0, 600.0), 6.0)
    (found,) = on_propellers([[rough, LIGHT[0]]])
    assert found.curve.y_name == "efficiency_g_per_w"
    assert found.curve.points_y == pytest.approx([5.0] * 4)


def test_what_cannot_be_read_says_why():
    nothing = ComparedRun("run 5", [point(Absent("not_logged", "no load cell"), Measured(9.0))], 0)
    (alone,) = on_propellers([[nothing]])
    assert isinstance(alone.largest_thrust_gf, Absent)
    assert isinstance(alone.efficiency_g_per_w, Absent)
    assert alone.curve is None
    # Its neighbour is read all the same, at a thrust of its own.
    _, heavy = on_propellers([[nothing], HEAVY])
    assert heavy.efficiency_g_per_w.value == pytest.approx(4.0, rel=1e-3)


def test_a_run_that_ended_early_narrows_the_common_thrust():
    cut = run("run 6", (50.0, 100.0, 160.0), 5.0)
    assert common_thrust_gf([LIGHT, HEAVY, [cut]]) == pytest.approx(80.0)
    assert common_thrust_gf([[*LIGHT, cut], HEAVY]) == pytest.approx(80.0)


def test_a_gap_in_a_curve_is_not_read_across():
    gappy = run("run 7", (20.0, 1000.0), 5.0)
    (found,) = on_propellers([[gappy]])
    assert isinstance(found.efficiency_g_per_w, Absent)
    assert found.largest_thrust_gf.value == 1000.0


@pytest.mark.parametrize("groups", [[], [[replace(HEAVY[0], points=[])]]])
def test_nothing_to_read_is_no_thrust(groups):
    assert common_thrust_gf(groups) is None
    assert all(isinstance(one.efficiency_g_per_w, Absent) for one in on_propellers(groups))
