"""A folder of runs as one bench: means over runs, nominal figures, groups, candidates, ranking."""

import dataclasses

import numpy as np
import pytest
from motor_runs import MOTOR, PROPS, loaded_run, no_load_run

from spindle_core.compare.delta import Outcome
from spindle_core.compare.equal_conditions import ASSUMED_REPEATABILITY, compare_motors
from spindle_core.compare.measured_run import MeasuredRun, like_runs, strongest_point
from spindle_core.compare.nominal import at_nominal
from spindle_core.compare.repeats_table import repeats_table, scatter_of_one_run
from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Measured, mean_of_figures
from spindle_core.figures.remark import Remark
from spindle_core.formats.plain import plain
from spindle_core.identification import identify
from spindle_core.match.candidates import candidates
from spindle_core.model.operating_point import solve
from spindle_core.publish.report import report
from spindle_core.rank.ranking import MotorFacts, entries, rank
from spindle_core.rank.scoring import Criterion
from spindle_core.run.stand import Stand

LEVELS = (20, 40, 60, 80, 100)


def run(name, propeller="heavy", *, motor="Sable", repeatability=0.0, **options):
    trace = loaded_run(
        propeller, levels=LEVELS, motor=motor, nominal_voltage_v=16.0, esc_linear=True, **options
    )
    trace = dataclasses.replace(trace, stand=Stand(repeatability=repeatability))
    return MeasuredRun.reduced(name, trace)


def test_like_runs_repeat_kind_motor_propeller_and_voltage():
    runs = [run("a"), run("b", seed=2), run("c", "light"), run("d", motor="Other")]
    assert [[r.name for r in group] for group in like_runs(runs).values()] == [
        ["a", "b"],
        ["c"],
        ["d"],
    ]
    rows = repeats_table(runs)
    assert {row.runs for row in rows} == {("a", "b")}
    assert "tare_drift_gf" not in {row.figure for row in rows}
    assert scatter_of_one_run(runs).freedom == 1
    assert scatter_of_one_run(runs[2:]) is None


def test_a_mean_over_runs_shrinks_what_is_theirs_and_keeps_what_is_shared():
    figures = [
        Measured(100.0 + i, {f"repeat@{i}": 2.0, "calibration@cell": 1.0, "read": 0.5})
        for i in range(4)
    ]
    mean = mean_of_figures(figures)
    assert mean.value == pytest.approx(101.5)
    assert mean.n == 4
    assert mean.component("repeat") == pytest.approx(1.0)
    assert mean.component("calibration") == pytest.approx(1.0)
    # What has no source is nobody else's.
    assert mean.component("read") == pytest.approx(0.25)


def test_nominal_figures_by_the_model_are_those_of_the_nominal_bench():
    runs = [no_load_run(), loaded_run("heavy", levels=LEVELS), loaded_run("light", levels=LEVELS)]
    models = identify(runs)
    low = run("low", volts=15.2)
    found = at_nominal(low, models)
    truth = solve(MOTOR, PROPS["heavy"], voltage_v=16.0, density_kg_per_m3=1.225)
    assert found["max_thrust_gf"].value == pytest.approx(truth.thrust_gf, rel=5e-3)
    assert found["max_current_a"].value == pytest.approx(truth.current_a, rel=5e-3)
    plain_powers = at_nominal(low)["max_thrust_gf"]
    assert plain_powers.value == pytest.approx(truth.thrust_gf, rel=0.02)
    # Powers of voltage and density know less than a model does.
    assert plain_powers.u > found["max_thrust_gf"].u
    # Below full throttle of an ESC nobody calls linear the duty is not known: no model.
    part = loaded_run("heavy", levels=(30, 50, 80), volts=15.2, nominal_voltage_v=16.0)
    partly = MeasuredRun.reduced("part", part)
    assert at_nominal(partly, models)["max_thrust_gf"].component("voltage_exponent") > 0
    airless = run("airless", air_temp_c=None)
    assert isinstance(at_nominal(airless)["max_thrust_gf"], Absent)
    far = run("far", volts=13.0)
    assert at_nominal(far)["max_thrust_gf"].reason == "too_far_from_nominal"


def test_the_same_motor_in_two_boxes_is_never_called_different():
    runs = [run(f"s{i}", seed=i) for i in range(3)]
    runs += [run(f"o{i}", seed=10 + i, motor="Other") for i in range(3)]
    (table,) = compare_motors(runs)
    outcomes = {
        cell.delta.outcome for row in table.rows for cell in row.cells.values() if cell.delta
    }
    assert Outcome.DIFFERENT not in outcomes
    assert table.groups.groups == (("Other", "Sable"),)
    assert table.confounded == ()
    assert [f.name for f in table.factors if f.state == "differs"] == ["motor"]


@pytest.mark.parametrize(
    ("repeatability", "expected", "source"),
    [(0.006, 0.006, "stand"), (0.0, ASSUMED_REPEATABILITY, "assumed")],
)
def test_scatter_of_single_runs_is_declared_or_assumed_and_said_so(repeatability, expected, source):
    runs = [
        run("a", repeatability=repeatability),
        run("b", motor="Other", repeatability=repeatability),
    ]
    (table,) = compare_motors(runs, baseline="Sable")
    assert (table.repeatability, table.repeatability_from) == (expected, source)
    assert table.baseline == "Sable"
    with pytest.raises(QuantityError, match="Nobody"):
        compare_motors(runs, baseline="Nobody")
    assert compare_motors([run("a"), run("b", "light", motor="Other")]) == []


def test_entries_take_thrust_where_all_were_run_alike():
    runs = [run("a"), run("b", motor="Other", volts=15.6), run("c", "light")]
    compared = compare_motors(runs)
    found = {e.name: e for e in entries(runs, compared, {"Sable": MotorFacts(31.5, 24.0)})}
    heavy = strongest_point(runs[0].reduction.points).value("thrust_gf")
    assert found["Sable"].figures["max_thrust_gf"].value == pytest.approx(heavy)
    assert found["Sable"].mass_g == 31.5
    assert "mass_g" not in found["Other"].figures
    assert found["Sable"].figures["efficiency_g_per_w"].value > 0
    nothing = rank(list(found.values()), [Criterion("peak_torque_nm", 1.0)])
    assert isinstance(nothing, Absent)
    ranking = rank(list(found.values()), [Criterion("max_thrust_gf", 1.0)])
    assert ranking.snapshot.scored[0].name == "Sable"
    assert ranking.confidence.of("Sable", 1) == 1.0


def test_candidates_need_a_mass_a_thrust_and_the_crafts_voltage():
    runs = [run("a"), run("b", seed=2), run("c", motor="Other")]
    found, left_out = candidates(runs, {"Sable": MotorFacts(31.5)}, cells=4)
    assert [c.name for c in found] == ["Sable, heavy"]
    tops = [strongest_point(r.reduction.points).value("thrust_gf") for r in runs[:2]]
    # The stronger of two repeats would be the luckier one.
    assert found[0].max_thrust_gf.value == pytest.approx(sum(tops) / 2)
    assert found[0].max_thrust_gf.n == 2
    assert set(found[0].curves) == {"power_w", "current_a", "throttle_pct"}
    assert left_out == ["c (Other, heavy): its mass is not known"]
    none, reasons = candidates(runs[:1], {"Sable": MotorFacts(31.5)}, cells=6)
    assert none == []
    assert "not 6 cells" in reasons[0]


def test_a_report_without_anything_to_identify_says_so():
    only = run("a")
    kept = {k: only.trace.channels[k] for k in ("throttle_pct", "thrust_gf")}
    bare = dataclasses.replace(only.trace, channels=kept)
    found = report([MeasuredRun.reduced("a", bare)])
    assert isinstance(found.identified, Absent)
    assert found.compared == ()
    assert isinstance(found.factors, Absent)


def test_plain_keeps_reasons_and_refuses_what_has_no_form():
    data = plain(
        {
            "a": Measured(1.0, {"x": 0.5}),
            "b": Absent("why", "because"),
            "c": np.array([1.0, np.nan]),
            "d": (Outcome.DIFFERENT, True, None),
        }
    )
    assert data["a"]["u"] == 0.5
    assert data["b"] == {"absent": "why", "note": "because"}
    assert data["c"] == [1.0, None]
    assert data["d"] == ["different", True, None]
    with pytest.raises(TypeError):
        plain(object())


def test_equal_thrust_readings_scatter_as_monte_carlo_does():
    """u of power at 600 gf against 300 benches whose thrust and watts are off by 0.8 %."""
    base = run("a", repeatability=0.008)
    (table,) = compare_motors([base, run("b", motor="Other", repeatability=0.008)])
    row = next(r for r in table.rows if r.name == "power_w" and r.at == 600.0)
    stated = row.cells["Sable"].figure
    rng = np.random.default_rng(12)
    thrust = np.array([0.0, *(p.value("thrust_gf") for p in base.reduction.points)])
    watts = np.array([0.0, *(p.value("power_w") for p in base.reduction.points)])
    drawn = [
        np.interp(600.0, thrust * (1 + 0.008 * a), watts * (1 + 0.008 * b))
        for a, b in rng.standard_normal((300, 2))
    ]
    assert stated.component("repeat") == pytest.approx(np.std(drawn), rel=0.2)


def test_one_repeat_is_too_few_to_say_what_a_run_scatters_by():
    """Two like runs have one degree of freedom; until there are two the stand's word counts."""
    runs = [
        run("1", motor="Sable", repeatability=0.004, seed=1),
        run("2", motor="Sable", repeatability=0.004, seed=2),
        run("3", motor="Drift", repeatability=0.004, seed=3),
    ]
    found = compare_motors(runs)[0]
    assert (found.repeatability, found.repeatability_from) == (0.004, "stand")
    more = [*runs, run("4", motor="Sable", repeatability=0.004, seed=4)]
    assert compare_motors(more)[0].repeatability_from == "repeats"


def test_at_equal_throttle_the_levels_are_fifths():
    runs = [run("1", motor="Sable", seed=1), run("2", motor="Drift", seed=2)]
    found = compare_motors(runs, condition="throttle_pct")[0]
    assert sorted({row.at for row in found.rows}) == [20.0, 40.0, 60.0, 80.0, 100.0]


def test_a_baseline_need_not_be_in_every_comparison():
    runs = [
        run("1", "heavy", motor="Sable", seed=1),
        run("2", "heavy", motor="Drift", seed=2),
        run("3", "light", motor="Teal", seed=3),
        run("4", "light", motor="Pale", seed=4),
    ]
    found = compare_motors(runs, baseline="Drift")
    assert [item.baseline for item in found] == ["Drift", "Pale"]
    with pytest.raises(QuantityError, match="there are Drift, Pale, Sable, Teal"):
        compare_motors(runs, baseline="Midge")


def test_a_run_tells_whether_its_thrust_counts_from_a_zero_and_with_which_esc():
    made = run("1", seed=1)
    assert made.tared
    warned = dataclasses.replace(
        made.reduction,
        warnings=(Remark("unsettled", "x"), Remark("tare_missing", "x"), Remark("other", "x")),
    )
    assert not dataclasses.replace(made, reduction=warned).tared
    facts = dataclasses.replace(made.trace.facts, esc="Sallow 45", esc_settings="24 kHz")
    named = dataclasses.replace(made, trace=dataclasses.replace(made.trace, facts=facts))
    assert (named.conditions().esc, named.conditions().esc_settings) == ("Sallow 45", "24 kHz")
    assert made.conditions().esc is None


def test_only_a_known_motor_and_a_known_propeller_make_a_model():
    made = run("1", seed=1)
    models = identify([made.trace, run("2", "light", seed=2).trace, no_load_run()])
    nameless = dataclasses.replace(models, propellers=())
    by_powers = at_nominal(made)
    assert at_nominal(made, nameless)["max_thrust_gf"].value == by_powers["max_thrust_gf"].value


def part(name, motor="Sable", seed=9, repeatability=0.01):
    """A run that somebody ended at 60 % of throttle."""
    trace = loaded_run("heavy", levels=(20, 40, 60), motor=motor, nominal_voltage_v=16.0, seed=seed)
    return MeasuredRun.reduced(
        name, dataclasses.replace(trace, stand=Stand(repeatability=repeatability))
    )


def test_a_run_to_part_throttle_repeats_none_that_went_to_full():
    whole = [run("a"), run("b", seed=2)]
    runs = [*whole, part("p")]
    rows = {row.figure: row for row in repeats_table(runs)}
    assert rows["max_thrust_gf"].runs == ("a", "b")
    assert scatter_of_one_run(runs) == scatter_of_one_run(whole)
    # Two that were ended there repeat each other.
    alone = {row.figure: row.runs for row in repeats_table([part("p"), part("q", seed=10)])}
    assert alone["max_thrust_gf"] == ("p", "q")


def test_it_is_no_rival_in_thrust_either():
    runs = [run("a"), part("p"), run("o", motor="Other", seed=4)]
    compared = compare_motors(runs)
    listed = {entry.name: entry for entry in entries(runs, compared, {})}
    alone = {entry.name: entry for entry in entries([runs[0], runs[2]], compared, {})}
    assert listed["Sable"].figures["max_thrust_gf"] == alone["Sable"].figures["max_thrust_gf"]
    told = report(runs).factors
    assert told == report([runs[0], runs[2]]).factors


def test_two_that_perform_the_same_do_so_beside_a_run_to_part_throttle():
    runs = [run("a", repeatability=0.002), run("o", motor="Other", repeatability=0.002)]
    (alone,) = compare_motors(runs)
    (beside,) = compare_motors([*runs, part("p", repeatability=0.002)])
    assert [set(group) for group in alone.groups.groups] == [{"Other", "Sable"}]
    assert beside.groups.groups == alone.groups.groups
