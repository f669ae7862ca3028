"""Every motor on every propeller under one condition; differences no finer than they are."""

import math
from dataclasses import replace

import pytest

from spindle_core.compare.bench_table import (
    BURST,
    FIGURES,
    FULL,
    SUSTAINED,
    Load,
    RanRun,
    bench_table,
    deltas,
    foreseen,
    tally,
    usual_level,
)
from spindle_core.compare.of_models import between_samples, between_samples_of, of_sample
from spindle_core.compare.table import ComparedRun
from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Measured, Origin
from spindle_core.reduction.result import Point

LIGHT, HEAVY = Load("Light", "bench supply", 16.0), Load("Heavy", "bench supply", 16.0)


def run(motor, top_gf, load=LIGHT, *, sample="A", key="1", g_per_w=3.0, kind="steps", u=0.0):
    points = []
    for share in (0.15, 0.3, 0.5, 0.75, 1.0):
        thrust = top_gf * share
        watts = thrust / g_per_w * math.sqrt(share)
        figures = {
            "throttle_pct": Measured(100.0 * share),
            "thrust_gf": Measured(thrust, {f"scatter@{motor}{key}": u * thrust}),
            "power_w": Measured(watts),
            "current_a": Measured(watts / 16.0),
            "voltage_v": Measured(16.0),
            "speed_rpm": Measured(20_000.0 * math.sqrt(share)),
            "efficiency_g_per_w": Measured(thrust / watts),
        }
        points.append(Point(figures, 0.0, 0.2, 1.0, True))
    core = ComparedRun(f"{motor}/{sample}/{load.propeller}/{key}", points, 0.004)
    return RanRun(motor, sample, kind, load, core, {})


def test_full_throttle_is_a_condition_of_its_own():
    rows = bench_table([run("a", 1000.0), run("a", 1010.0, key="2"), run("b", 900.0)])
    assert [(row.motor, row.load) for row in rows] == [("a", LIGHT), ("b", LIGHT)]
    found = rows[0].figures["thrust_gf"]
    assert found.figure.value == pytest.approx(1005.0)
    assert (found.samples, found.runs) == (1, 2)
    assert rows[0].figure("voltage_v").value == 16.0
    # What was not logged is absent with its reason, not 0.
    assert rows[0].figure("torque_nm").reason == "not_logged"
    assert set(rows[0].figures) == set(FIGURES[FULL])


@pytest.mark.parametrize(
    ("condition", "level", "name", "value"),
    [
        ("thrust_gf", 500.0, "power_w", 500.0 / 3.0 * math.sqrt(0.5)),
        ("throttle_pct", 50.0, "thrust_gf", 500.0),
        ("current_a", 1000.0 * 0.5**1.5 / 3 / 16.0, "thrust_gf", 500.0),
        ("speed_rpm", 20_000.0 * math.sqrt(0.5), "thrust_gf", 500.0),
        ("power_w", 500.0 / 3.0 * math.sqrt(0.5), "thrust_gf", 500.0),
    ],
)
def test_every_condition_reads_the_same_curve(condition, level, name, value):
    (row,) = bench_table([run("a", 1000.0)], condition, level)
    assert row.figure(name).value == pytest.approx(value, rel=0.01)


def test_a_level_that_somebody_does_not_reach_is_absent_there_only():
    rows = bench_table([run("a", 1000.0), run("b", 400.0)], "thrust_gf", 600.0)
    assert isinstance(rows[0].figure("power_w"), Measured)
    assert rows[1].figure("power_w").reason == "not_reached"


def test_the_usual_level_is_one_that_all_reach():
    runs = [run("a", 1000.0), run("b", 400.0)]
    level = usual_level(runs, "thrust_gf")
    assert 0 < level <= 0.6 * 400.0
    assert all(
        isinstance(row.figure("power_w"), Measured) for row in bench_table(runs, "thrust_gf")
    )
    assert usual_level(runs, FULL) is None
    assert usual_level([], "thrust_gf") is None
    assert bench_table([], "thrust_gf") == []
    assert bench_table(runs, "shaft_power_w") == []


def test_bursts_and_runs_without_a_propeller_are_no_curves():
    bare = Load("", "bench supply", 16.0)
    assert bench_table([run("a", 1000.0, kind="peak"), run("a", 1000.0, bare)]) == []


@pytest.mark.parametrize(("condition", "level"), [("charm", 1.0), ("thrust_gf", 0.0)])
def test_what_is_no_condition_is_refused(condition, level):
    with pytest.raises(QuantityError):
        bench_table([run("a", 1000.0)], condition, level)


class TestDeltas:
    def rows(self):
        return bench_table([run("a", 1000.0), run("b", 800.0), run("c", 795.0)])

    def test_to_the_previous_row_and_to_a_fixed_one(self):
        rows = self.rows()
        previous = deltas(rows, "thrust_gf")
        assert previous[0] is None
        assert previous[1].delta_pct == pytest.approx(-20.0)
        assert previous[2].delta_pct == pytest.approx(-0.625)
        fixed = deltas(rows, "thrust_gf", rows[1])
        assert fixed[1] is None
        assert fixed[0].delta_pct == pytest.approx(25.0)
        assert str(fixed[0].outcome) == "different"
        # Half a per cent between single samples, of which each may be off by 2 %: not resolved.
        assert str(fixed[2].outcome) == "unresolved"

    def test_what_is_absent_has_no_difference(self):
        rows = self.rows()
        assert deltas(rows, "torque_nm") == [None, None, None]
        assert deltas([], "thrust_gf") == []

    @pytest.mark.parametrize(
        ("held", "u", "said"),
        [
            (1e-15, 0.004, False),  # what arithmetic leaves of 0
            (0.0, 0.004, False),
            (0.0, 0.0, False),
            (-0.002, 0.004, False),
            (0.0078, 0.004, False),
            (0.0079, 0.004, True),
            (-0.0079, 0.004, True),
            (1e-15, 0.0, True),
        ],
    )
    def test_nothing_is_said_in_per_cent_of_what_may_be_nothing(self, held, u, said):
        first, second, _ = self.rows()
        figures = [
            replace(row.figures["thrust_gf"], figure=Measured(value, {"repeat": u} if u else {}))
            for row, value in ((first, held), (second, 0.030))
        ]
        rows = [
            replace(row, figures={"dead_time_s": figure})
            for row, figure in zip((first, second), figures, strict=True)
        ]
        found = deltas(rows, "dead_time_s")[1]
        assert (found is not None) is said

    def test_counts_say_better_and_worse_by_what_is_wanted(self):
        rows = self.rows()
        names = ("thrust_gf", "power_w", "voltage_v", "torque_nm")
        found = tally([(name, deltas(rows, name, rows[1])[0]) for name in names])
        # More thrust is better, more watts are worse; volts are neither.
        assert (found.better, found.worse, found.unresolved) == (1, 1, 0)


def test_empty_cells_are_foreseen_in_italics_only_where_runs_link_them():
    runs = [
        run("a", 1000.0),
        run("a", 1300.0, HEAVY),
        run("b", 900.0),
        run("b", 1180.0, HEAVY),
        run("c", 1400.0, HEAVY),
    ]
    table = foreseen(bench_table(runs), "thrust_gf")
    assert table.predicted["c", "Light"].origin is Origin.ESTIMATED
    assert table.predicted["c", "Light"].value == pytest.approx(1073.0, rel=0.01)
    assert isinstance(foreseen(bench_table(runs[:1]), "thrust_gf"), Absent)
    assert isinstance(foreseen([], "thrust_gf"), Absent)


def test_one_sample_on_every_propeller_differs_from_its_model_on_all_of_them():
    """That a foreseen cell rests on the samples of its motor is said once, not once a cell."""
    listed = [run("a", 1000.0), run("a", 1300.0, HEAVY), run("b", 900.0), run("b", 1170.0, HEAVY)]
    one = [*listed, run("c", 1400.0, HEAVY)]
    figure = foreseen(bench_table(one), "thrust_gf").predicted["c", "Light"]
    sample = figure.components["assumed_sample@c/thrust_gf"]
    assert sample == pytest.approx(0.025 * figure.value, rel=1e-3)
    assert figure.assumed
    assert figure.relative_u < 0.031
    # Another sample on the other propeller: nobody knows what they have in common.
    other = [*one[:-2], run("b", 1170.0, HEAVY, sample="B"), one[-1]]
    apart = foreseen(bench_table(other), "thrust_gf").predicted["c", "Light"]
    assert apart.u > 1.05 * figure.u
    assert apart.assumed


def test_motors_of_another_size_do_not_keep_the_rest_from_being_foreseen():
    small = Load("Tiny", "bench supply", 16.0)
    runs = [
        run("s1", 300.0, small),
        run("a", 1000.0),
        run("s2", 250.0, small),
        run("a", 1300.0, HEAVY),
        run("b", 900.0),
        run("b", 1180.0, HEAVY),
        run("c", 1400.0, HEAVY),
    ]
    table = foreseen(bench_table(runs), "thrust_gf")
    assert set(table.predicted) == {("c", "Light")}
    assert set(table.motor_effect_pct) == {"a", "b", "c"}
    # A run that links the two blocks makes one of them.
    linked = foreseen(bench_table([*runs, run("s1", 350.0)]), "thrust_gf")
    assert {motor for motor, _ in linked.predicted} >= {"s2", "a"}


def test_a_row_says_that_points_of_one_of_its_runs_were_left_out():
    whole, cut = run("a", 1000.0), run("a", 1000.0, key="2")
    cut = replace(cut, core=replace(cut.core, points=cut.core.points[:-1], held_back=True))
    assert [row.held_back for row in bench_table([whole, run("b", 900.0)])] == [False, False]
    rows = bench_table([whole, cut, run("b", 900.0)])
    assert [(row.motor, row.held_back) for row in rows] == [("a", True), ("b", False)]


def test_a_pack_at_the_same_voltage_is_another_row():
    pack = Load("Light", "pack", 16.0)
    rows = bench_table([run("a", 1000.0), run("a", 900.0, pack)])
    assert [row.load.supply for row in rows] == ["bench supply", "pack"]


def burst_run(motor, top_gf, load=LIGHT, key="9"):
    summary = {
        "burst_thrust_gf": Measured(1.05 * top_gf, {"within_run@x": 2.0}),
        "burst_current_a": Absent("not_logged", "the channel was not logged"),
        "sustained_thrust_gf": Measured(top_gf, {"within_run@x": 1.0}),
        "sustained_efficiency_g_per_w": Measured(2.5),
    }
    core = ComparedRun(f"{motor}/A/{load.propeller}/{key}", [], 0.004)
    return RanRun(motor, "A", "peak", load, core, summary)


def test_bursts_stand_as_conditions_of_their_own():
    runs = [run("a", 1000.0), burst_run("a", 980.0), burst_run("a", 990.0, key="8")]
    (row,) = bench_table(runs, BURST)
    assert row.level is None
    assert (row.figures["thrust_gf"].runs, len(row.runs)) == (2, 2)
    assert row.figure("thrust_gf").value == pytest.approx(1.05 * 985.0)
    # What one run scatters by is in it, as in any other mean.
    assert row.figure("thrust_gf").component("repeat") >= 0.004 * 1.05 * 985.0 / math.sqrt(2)
    assert row.figure("current_a").reason == "not_logged"
    assert row.figure("speed_rpm").reason == "not_logged"
    # Thrust and power of a burst are of two instants: they make no gf/W.
    assert "efficiency_g_per_w" not in row.figures
    (held,) = bench_table(runs, SUSTAINED)
    assert held.figure("efficiency_g_per_w").value == 2.5
    # Neither counts among the curves, nor the curves among them.
    assert bench_table(runs, FULL)[0].figures["thrust_gf"].runs == 1
    assert bench_table(runs[:1], BURST) == []
    assert usual_level(runs, BURST) is None


def test_what_samples_differ_by_needs_only_their_means():
    def figures(*values):
        return [Measured(value, {"u": 0.1}) for value in values]

    models = [
        {"A": figures(10.0, 12.0), "B": figures(9.0)},
        {"A": figures(5.0)},
        {"A": figures(0.0), "B": figures(3.0)},
        {"A": figures(-2.0), "B": figures(2.0)},
    ]
    found = between_samples_of(models)
    means = [[of_sample(f, source=s) for s, f in model.items()] for model in models[:2]]
    assert found == between_samples(means)
    assert found.freedom == 1
    assert between_samples_of([]) is None
