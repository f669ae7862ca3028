"""Runs that were never at full throttle: what they are not taken for."""

import math
from dataclasses import replace

import pytest

from spindle_core.compare.bench_table import FULL, Load, RanRun, bench_table
from spindle_core.compare.by_propeller import on_propellers
from spindle_core.compare.subjects import Grouping, comparison_rows, subjects
from spindle_core.compare.table import ComparedRun
from spindle_core.compare.tops import full_throttle_point, highest_throttle_pct, to_the_top
from spindle_core.figures.measured import Absent, Measured
from spindle_core.match.craft import Craft, Layout, MassItem
from spindle_core.match.seats import measured_seats
from spindle_core.rank.cohort import cohort_of
from spindle_core.reduction.result import Point

LOAD = Load("Light", "bench supply", 16.0)


def point(share, top_gf, throttle=True):
    thrust = top_gf * share
    figures = {
        "thrust_gf": Measured(thrust),
        "power_w": Measured(0.3 * thrust * math.sqrt(share)),
        "current_a": Measured(0.02 * thrust * math.sqrt(share)),
        "speed_rpm": Measured(20_000.0 * math.sqrt(share)),
        "efficiency_g_per_w": Measured(3.3 / math.sqrt(share)),
    }
    if throttle:
        figures["throttle_pct"] = Measured(100.0 * share)
    return Point(figures, 0.0, 0.2, 1.0, True)


def run(top_gf=1000.0, to=1.0, *, key="1", motor="a", kind="steps", throttle=True):
    shares = [share for share in (0.15, 0.3, 0.5, 0.75, 0.8, 0.985, 1.0) if share <= to]
    points = [point(share, top_gf, throttle) for share in shares]
    core = ComparedRun(f"{motor}/{key}", points, 0.004)
    strongest = points[-1].figures
    summary = {
        "max_thrust_gf": strongest["thrust_gf"],
        "max_current_a": strongest["current_a"],
        "max_power_w": strongest["power_w"],
        "efficiency_at_max_g_per_w": strongest["efficiency_g_per_w"],
    }
    return RanRun(motor, "A", kind, LOAD, core, summary)


def held_back(one):
    """Its points beyond a rating were left out."""
    return replace(one, core=replace(one.core, held_back=True))


def test_the_highest_throttle_of_a_run():
    assert highest_throttle_pct(run(to=0.8).core.points) == pytest.approx(80.0)
    # Nobody noted one: it was run as it is run.
    assert highest_throttle_pct(run(throttle=False).core.points) is None
    assert highest_throttle_pct([]) is None


def test_full_throttle_is_read_of_a_run_that_had_it():
    whole = full_throttle_point(run().core.points)
    assert whole.value("thrust_gf") == pytest.approx(1000.0)
    part = full_throttle_point(run(to=0.8).core.points)
    assert part == Absent("no_full_throttle", "it was run to 80 % of throttle")
    unknown = full_throttle_point(run(to=0.8, throttle=False).core.points)
    assert unknown.value("thrust_gf") == pytest.approx(800.0)
    assert full_throttle_point([]).reason == "not_logged"


def test_a_strongest_point_whose_own_throttle_was_lost_is_judged_by_the_others():
    points = run().core.points
    del points[-1].figures["throttle_pct"]
    assert full_throttle_point(points).reason == "no_full_throttle"


def test_a_run_to_part_throttle_does_not_dilute_full_throttle():
    runs = [run(1000.0), run(1010.0, key="2"), run(1005.0, 0.8, key="3")]
    (row,) = bench_table(runs, FULL)
    assert row.figure("thrust_gf").value == pytest.approx(1005.0)
    assert row.figures["thrust_gf"].runs == 2
    (alone,) = bench_table(runs[2:], FULL)
    assert alone.figure("thrust_gf").note == "it was run to 80 % of throttle"
    # At a thrust that it reached it counts.
    (at,) = bench_table(runs, "thrust_gf", 500.0)
    assert at.figures["power_w"].runs == 3


def test_nor_in_a_comparison():
    runs = [run(1000.0), run(1005.0, 0.8, key="3")]
    (subject,) = subjects(runs, Grouping.REPEATS)
    rows = {row.name: row.cells[0] for row in comparison_rows([subject], None, [], condition=FULL)}
    assert rows["thrust_gf"].figure.value == pytest.approx(1000.0)


def test_those_of_the_highest_throttle_repeat_each_other():
    runs = [run(), run(to=0.8, key="2"), run(to=0.985, key="3"), run(throttle=False, key="4")]
    kept = [one.core.key for one in to_the_top(runs, lambda one: one.core.points)]
    assert kept == ["a/1", "a/4"]
    part = [run(to=0.8, key="2"), run(to=0.75, key="3"), run(to=0.8, key="5")]
    assert [one.core.key for one in to_the_top(part, lambda one: one.core.points)] == ["a/2", "a/5"]
    assert to_the_top([], lambda one: one.core.points) == []


@pytest.mark.parametrize("kind", ["steps", "ramp"])
def test_the_largest_thrust_of_a_ranking_is_not_that_of_a_run_to_part_throttle(kind):
    runs = [run(1000.0), run(1000.0, 0.5, key="2", kind=kind), run(900.0, motor="b")]
    found = cohort_of(runs).figures
    assert found["a"]["max_thrust_gf"].figure.value == pytest.approx(1000.0)
    assert found["a"]["efficiency_at_max_g_per_w"].figure.value == pytest.approx(3.3)
    # What is read at a thrust is read of both.
    assert found["a"]["efficiency_g_per_w"].runs == 2


def test_motors_that_all_went_as_high_are_ranked_there():
    runs = [run(1000.0, 0.8), run(900.0, 0.8, motor="b"), run(950.0, 0.5, motor="c")]
    found = cohort_of(runs).figures
    assert found["a"]["max_thrust_gf"].figure.value == pytest.approx(800.0)
    assert found["b"]["max_thrust_gf"].figure.value == pytest.approx(720.0)
    # Half its stick is no largest thrust beside theirs.
    assert "max_thrust_gf" not in found["c"]


def test_what_is_recommended_up_to_a_rating_is_ranked_beside_full_throttle():
    held = held_back(run(1000.0, 0.8))
    lower = held_back(run(1000.0, 0.5, key="2"))
    found = cohort_of([held, lower, run(900.0, motor="b")]).figures
    assert found["a"]["max_thrust_gf"].figure.value == pytest.approx(800.0)
    assert found["a"]["max_thrust_gf"].runs == 1
    assert found["b"]["max_thrust_gf"].figure.value == pytest.approx(900.0)
    alone = cohort_of([held, run(900.0, 0.75, motor="b")]).figures
    assert (alone["a"]["max_thrust_gf"].runs, alone["b"]["max_thrust_gf"].runs) == (1, 1)
    (row,) = bench_table([held], FULL)
    assert row.figure("thrust_gf").value == pytest.approx(800.0)


def test_a_craft_is_lifted_by_what_the_runs_to_the_top_gave():
    craft = Craft(Layout.MULTIROTOR, 4, 4, (MassItem("frame", 300.0),))
    runs = [run(1000.0), run(1000.0, 0.5, key="2")]
    seats, _ = measured_seats(craft, runs, {"a": "A"}, {"a": Measured(30.0)})
    assert seats[0].candidate.max_thrust_gf.value == pytest.approx(1000.0)
    assert seats[0].up_to_pct == pytest.approx(100.0)


def test_on_a_propeller_the_largest_thrust_is_that_of_the_runs_to_the_top():
    group = [run(1000.0).core, run(1010.0, key="2").core, run(1005.0, 0.8, key="3").core]
    (found,) = on_propellers([group])
    assert found.largest_thrust_gf.value == pytest.approx(1005.0)
    assert found.largest_thrust_gf.relative_u < 0.01
    assert found.runs == 3
