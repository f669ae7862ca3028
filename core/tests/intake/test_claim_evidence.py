"""What is said of a motor against what was measured: rules with numbers worked by hand."""

import math

import pytest

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Measured
from spindle_core.figures.repeats import mean_of_like
from spindle_core.intake.claim_evidence import (
    RunFigure,
    against,
    evidence,
    mean_of_each,
    run_figures,
)
from spindle_core.motor.lead_wire import cut_off


def of_run(value, *, scatter=1.0, gain=0.0, stand="s", run="r", channel="voltage_v"):
    return Measured(
        value,
        {f"within_run@{run}/{channel}": scatter, f"calibration@{stand}/{channel}": gain * value},
    )


def test_the_highest_run_counts_for_a_limit_and_says_when_it_was_a_burst():
    runs = [RunFigure("A", of_run(24.0)), RunFigure("B", of_run(31.0), burst=True)]
    found = evidence("max_current_a", runs, "no run")
    assert (found.figure.value, found.rests_on) == (31.0, "highest of 2 runs, a burst")
    found = evidence("max_current_a", runs[:1], "no run")
    assert found.rests_on == "highest of 1 run"
    none = evidence("max_current_a", [], "no run measured current")
    assert none.figure == Absent("not_measured", "no run measured current")


def test_sweeps_plateaus_and_bursts_all_measure():
    burst = {"burst_current_a": of_run(38.0), "sustained_current_a": of_run(31.0)}
    sweep = {"max_current_a": of_run(29.0), "efficiency_at_max_g_per_w": of_run(2.0)}
    assert [r.figure.value for r in run_figures("A", burst, "max_current_a")] == [38.0]
    assert run_figures("A", burst, "max_current_a")[0].burst
    assert [r.figure.value for r in run_figures("A", sweep, "max_current_a")] == [29.0]
    assert run_figures("A", {"max_current_a": Absent("x")}, "max_current_a") == []


def test_two_samples_are_a_mean_of_samples():
    """1,900 and 1,910 rpm/V: s/√2 is 5, more than the 1/√2 of their own scatter."""
    runs = [RunFigure("A", of_run(1900.0, run="a")), RunFigure("B", of_run(1910.0, run="b"))]
    found = evidence("kv_rpm_per_v", runs, "")
    assert (found.figure.value, found.figure.n) == (1905.0, 2)
    assert found.figure.u == pytest.approx(5.0)
    assert found.rests_on == "2 samples, 2 runs"


def test_repeats_of_one_sample_are_brought_to_one_before_the_samples():
    """Three runs of A and one of B: B counts half, not a quarter."""
    runs = [RunFigure("A", of_run(1900.0)) for _ in range(3)] + [RunFigure("B", of_run(1910.0))]
    assert evidence("kv_rpm_per_v", runs, "").figure.value == pytest.approx(1905.0)


@pytest.mark.parametrize("order", [(0, 1, 2), (2, 1, 0), (1, 2, 0)])
def test_u_does_not_depend_on_the_order_of_the_runs(order):
    """A log with a declared meter and two without: whichever comes first, u is the same."""
    logs = [
        RunFigure("A", of_run(1900.0, scatter=0.5, gain=0.0, run="a")),
        RunFigure("A", of_run(1901.0, scatter=0.4, gain=0.01, stand="t", run="b")),
        RunFigure("A", of_run(1899.5, scatter=3.0, gain=0.002, run="c")),
    ]
    found = evidence("kv_rpm_per_v", [logs[i] for i in order], "").figure
    own = math.hypot(0.5, 0.4, 3.0) / 3
    spread = 0.7637626 / math.sqrt(3)
    assert found.u == pytest.approx(math.hypot(max(own, spread), 19.01), rel=1e-4)


def test_gains_do_not_average_out():
    """Four runs with 1 % on volts each: the mean is still 1 % unsure, on one stand or on four."""
    for stands in ("ssss", "abcd"):
        runs = [
            of_run(100.0, scatter=0.0, gain=0.01, stand=s, run=str(i)) for i, s in enumerate(stands)
        ]
        assert mean_of_like(runs, "repeat").u == pytest.approx(1.0)
    two = Measured(100.0, {"calibration@s/voltage_v": 0.6, "calibration@s/current_a": 0.8})
    assert mean_of_like([two, two], "repeat").component("calibration") == pytest.approx(1.0)


def test_samples_that_agree_keep_their_own_scatter():
    same = mean_of_each([Measured(25.0, {"u": 0.02})] * 2, "", "at 60 mm")
    assert same.figure.u == pytest.approx(0.02 / math.sqrt(2))
    assert same.rests_on == "2 samples, at 60 mm"
    apart = mean_of_each([Measured(v, {"u": 0.02}) for v in (24.5, 25.5)], "", "")
    assert apart.figure.u == pytest.approx(0.5)
    assert mean_of_each([Absent("x")], "none weighed", "").figure.note == "none weighed"


def test_a_prediction_is_held_against_its_measurement():
    """2,550 claimed, 2,455 ± 12 measured: −3.7 ± 0.47 %, beyond 1.96 u."""
    held = against(2550.0, Measured(2455.0, {"r": 12.0}), rating=False)
    assert held.deviation_pct.value == pytest.approx(-3.7255, abs=1e-4)
    assert held.deviation_pct.u == pytest.approx(0.47059, abs=1e-4)
    assert held.differs
    assert isinstance(held.reached_pct, Absent)


@pytest.mark.parametrize(("u", "differs"), [(48.0, True), (49.0, False)])
def test_the_boundary_of_a_difference_is_a_95_percent_interval(u, differs):
    assert against(1000.0, Measured(1095.0, {"r": u}), rating=False).differs is differs


def test_without_u_nothing_differs():
    assert not against(1000.0, Measured(1200.0), rating=False).differs


def test_a_rating_has_a_share_and_no_deviation():
    """36 A rated, 28.87 A run: 80 % of it was reached; that is no deviation of −20 %."""
    held = against(36.0, Measured(28.87, {"r": 0.36}), rating=True)
    assert held.reached_pct.value == pytest.approx(80.194, abs=1e-3)
    assert held.reached_pct.u == pytest.approx(1.0)
    assert held.deviation_pct.reason == "rating"
    assert not held.differs


def test_nothing_measured_and_nothing_claimed():
    held = against(36.0, Absent("not_measured", "no run"), rating=True)
    assert held.reached_pct.note == held.deviation_pct.note == "no run"
    nothing = against(0.0, Measured(1.0, {"r": 0.01}), rating=False)
    assert nothing.deviation_pct.reason == nothing.reached_pct.reason == "no_claim"
    assert not nothing.differs
    assert against(1.0, Measured(1.5, {"r": 0.01}), rating=False).differs


def test_what_a_cut_takes_off():
    """7.5 g/m, 140 → 60 mm: 3 × 0.6 g; 20 AWG 33.3 mΩ/m × 80 mm = 2.7 mΩ in each phase."""
    gone = cut_off(140.0, 60.0, lead_g_per_m=Measured(7.5, {"u": 0.1}), gauge=20)
    assert gone.mass_g.value == pytest.approx(1.8)
    assert gone.mass_g.u == pytest.approx(0.024)
    assert gone.resistance_mohm == pytest.approx(2.66, abs=0.01)
    bare = cut_off(140.0, 60.0, lead_g_per_m=Absent("unknown"), gauge=None)
    assert isinstance(bare.mass_g, Absent)
    assert isinstance(bare.resistance_mohm, Absent)
    with pytest.raises(QuantityError):
        cut_off(60.0, 60.0, lead_g_per_m=Absent("unknown"), gauge=None)
