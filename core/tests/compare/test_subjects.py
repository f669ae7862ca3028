"""Runs, repeats, samples and models as subjects; nothing told finer than it is."""

import math
from dataclasses import replace

import numpy as np
import pytest

from spindle_core.compare.bench_table import FULL, Load, RanRun
from spindle_core.compare.delta import Outcome, crossings
from spindle_core.compare.feel import feel_of
from spindle_core.compare.mean_curves import GRID, mean_curve, told_crossings
from spindle_core.compare.nominal import AtNominal, points_at_nominal
from spindle_core.compare.subjects import (
    Grouping,
    Reading,
    comparison_rows,
    read_subject,
    spread_between_samples,
    subjects,
)
from spindle_core.compare.table import ComparedRun
from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Measured, difference
from spindle_core.model.operating_point import Motor, Propeller, solve
from spindle_core.reduction.result import Point

LIGHT, HEAVY = Load("Light", "bench supply", 16.0), Load("Heavy", "bench supply", 16.0)
SHARES = (0.1, 0.2, 0.4, 0.6, 0.8, 0.9, 1.0)


def run(
    key,
    top_gf=1000.0,
    *,
    motor="a",
    sample="A",
    load=LIGHT,
    power=1.0,
    kind="steps",
    shares=SHARES,
    shape=2.0,
    gain="",
    r=0.01,
):
    points = []
    for share in shares:
        thrust = top_gf * share**shape
        watts = power * 300.0 * share ** (1.5 * shape)
        own = {f"calibration@{gain}/thrust": 0.02 * thrust} if gain else {}
        figures = {
            "throttle_pct": Measured(100.0 * share),
            "thrust_gf": Measured(thrust, {f"within_run@{key}/{share}": 0.002 * thrust, **own}),
            "power_w": Measured(watts),
            "current_a": Measured(watts / 16.0),
            "voltage_v": Measured(16.0 - 0.2 * share),
            "speed_rpm": Measured(20_000.0 * share),
        }
        points.append(Point(figures, share, share, share + 0.1, True))
    summary = {"low_throttle_ratio": Measured(0.2), "top_end_ratio": Measured(0.3, {"x": 0.05})}
    return RanRun(motor, sample, kind, load, ComparedRun(key, points, r), summary)


def test_what_counts_as_one():
    runs = [
        run("1"),
        run("2"),
        run("3", sample="B"),
        run("4", load=HEAVY),
        run("5", motor="b"),
        run("6", kind="ramp"),
    ]
    setups = {"2": "another ESC"}

    def keys(by):
        return [[one.core.key for one in found.runs] for found in subjects(runs, by, setups)]

    assert keys(Grouping.RUN) == [[k] for k in "123456"]
    # Another ESC, or another kind of run, repeats nothing.
    assert keys(Grouping.REPEATS) == [["1"], ["2"], ["3"], ["4"], ["5"], ["6"]]
    assert [s.setup for s in subjects(runs, Grouping.REPEATS, setups)][:2] == ["", "another ESC"]
    assert keys(Grouping.SAMPLE) == [["1", "2", "6"], ["3"], ["4"], ["5"]]
    assert keys(Grouping.MODEL) == [["1", "2", "3", "6"], ["4"], ["5"]]
    assert [one.sample for one in subjects(runs, Grouping.MODEL)] == ["", "", ""]
    assert keys(Grouping.MODEL)[0] == [r.core.key for r in subjects(runs, Grouping.MODEL)[0].runs]


def test_a_mean_of_repeats_with_what_they_spread_by():
    (one,) = subjects([run("1", 1000.0), run("2", 1030.0)], Grouping.REPEATS)
    found = read_subject(one, "thrust_gf", FULL)
    assert isinstance(found, Reading)
    assert found.figure.value == pytest.approx(1015.0)
    assert (found.samples, found.runs) == (1, 2)
    assert found.spread == pytest.approx(30.0 / math.sqrt(2))
    # The mean of two that scatter by 21 is not known better than 15.
    assert found.figure.u >= 15.0
    single = read_subject(subjects([run("1")], Grouping.RUN)[0], "thrust_gf", FULL)
    assert (single.runs, single.spread) == (1, None)


def test_a_model_carries_what_samples_differ_by_and_a_sample_does_not():
    runs = [run("1"), run("2", sample="B")]
    (model,) = subjects(runs, Grouping.MODEL)
    first, _ = subjects(runs, Grouping.SAMPLE)
    of_model, of_sample = (read_subject(one, "thrust_gf") for one in (model, first))
    assert of_model.samples == 2
    assert of_model.figure.assumed
    assert not of_sample.figure.assumed
    # 2 % assumed from one sample to the next, over √2.
    assert of_model.figure.u > 1000.0 * 0.02 / math.sqrt(2) * 0.99


def test_a_run_that_does_not_reach_it_does_not_count():
    (one,) = subjects([run("1", 1000.0), run("2", 700.0)], Grouping.REPEATS)
    found = read_subject(one, "power_w", "thrust_gf", 850.0)
    assert found.runs == 1
    nobody = read_subject(one, "power_w", "thrust_gf", 1500.0)
    assert isinstance(nobody, Absent)
    assert nobody.reason == "not_reached"


def test_against_a_fixed_one_and_against_the_one_before():
    compared = subjects(
        [run("1"), run("2", motor="b", power=1.2), run("3", motor="c", power=1.2)], Grouping.RUN
    )
    fixed = comparison_rows(compared, "1", [500.0])
    before = comparison_rows(compared, None, [500.0])

    def power(rows):
        row = next(row for row in rows if row.name == "power_w")
        return [None if cell.delta is None else cell.delta.delta_pct for cell in row.cells]

    assert power(fixed) == [None, pytest.approx(20.0), pytest.approx(20.0)]
    assert power(before) == [None, pytest.approx(20.0), pytest.approx(0.0, abs=1e-9)]
    outcomes = next(row for row in before if row.name == "power_w").cells
    assert outcomes[1].delta.outcome is Outcome.DIFFERENT
    assert outcomes[2].delta.outcome is not Outcome.DIFFERENT


def test_what_may_be_nothing_is_no_baseline():
    for r, said in ((0.05, True), (0.8, False)):
        compared = subjects([run("1", r=r), run("2", motor="b", power=1.2)], Grouping.RUN)
        row = next(r for r in comparison_rows(compared, "1", [500.0]) if r.name == "power_w")
        assert isinstance(row.cells[0].figure, Measured)
        assert (row.cells[1].delta is not None) is said


def test_full_throttle_needs_no_level_and_a_stranger_is_no_baseline():
    compared = subjects([run("1"), run("2", motor="b")], Grouping.RUN)
    rows = comparison_rows(compared, "2", [], condition=FULL)
    assert {row.at for row in rows} == {None}
    assert next(row for row in rows if row.name == "thrust_gf").cells[1].delta is None
    with pytest.raises(QuantityError, match="baseline"):
        comparison_rows(compared, "9", [500.0])
    with pytest.raises(QuantityError, match="level"):
        read_subject(compared[0], "power_w", "thrust_gf")


def test_a_mean_curve_lies_where_all_of_its_runs_measured():
    narrow = run("2", shares=(0.2, 0.4, 0.6, 0.8))
    (one,) = subjects([run("1"), narrow], Grouping.REPEATS)
    found = mean_curve(one, "throttle_pct", "thrust_gf")
    assert (found.x[0], found.x[-1]) == (20.0, 80.0)
    assert found.x.size == GRID
    assert found.y == pytest.approx(1000.0 * (found.x / 100.0) ** 2, rel=1e-3)
    assert (found.u > 0).all()
    # What only one of them measured is shown as a point all the same.
    assert max(point[0] for point in found.points) == 100.0
    apart = run("3", shares=(0.85, 0.9, 1.0))
    (none,) = subjects([narrow, apart], Grouping.REPEATS)
    assert mean_curve(none, "throttle_pct", "thrust_gf").reason == "no_common_range"
    assert isinstance(mean_curve(one, "throttle_pct", "torque_nm"), Absent)


def test_the_band_leaves_a_shared_gain_out_only_where_it_is_asked_to():
    (one,) = subjects([run("1", gain="stand")], Grouping.RUN)
    whole = mean_curve(one, "throttle_pct", "thrust_gf")
    scatter = mean_curve(one, "throttle_pct", "thrust_gf", whole_u=False)
    assert (whole.u[10:] > scatter.u[10:] * 1.3).all()
    assert whole.y == pytest.approx(scatter.y)


def test_efficiency_is_drawn_where_thrust_is_more_than_noise():
    (one,) = subjects([run("1", shape=3.0)], Grouping.RUN)
    found = mean_curve(one, "throttle_pct", "efficiency_g_per_w")
    # 0.2³ and 0.1³ of full thrust lie under a twentieth.
    assert found.x[0] == pytest.approx(40.0)


def test_crossings_of_means_are_told_only_where_both_sides_are_resolved():
    fine = tuple(0.1 * i for i in range(2, 11))
    flat = [run(f"f{i}", motor="f", r=0.002, shares=fine) for i in range(3)]
    steep = [run(f"s{i}", motor="s", power=1.25, r=0.002, shares=fine) for i in range(3)]
    compared = subjects([*flat, *steep], Grouping.REPEATS)
    assert told_crossings(compared) == []
    # One that is thriftier at little thrust and hungrier at much crosses once.
    bent = []
    for one in steep:
        points = [
            Point(
                {
                    **p.figures,
                    "power_w": p.figures["power_w"].scaled(0.45 + 0.007 * p.value("throttle_pct")),
                },
                p.start_s,
                p.used_from_s,
                p.end_s,
                True,
            )
            for p in one.core.points
        ]
        core = ComparedRun(one.core.key, points, 0.002)
        bent.append(RanRun("s", "A", "steps", LIGHT, core, {}))
    ((a, b, crossing),) = told_crossings(subjects([*flat, *bent], Grouping.REPEATS))
    assert (a, b) == ("f0", "s0")
    assert crossing.low < crossing.at < crossing.high


def test_the_feel_of_the_stick():
    soft, sharp = subjects([run("1"), run("2", motor="b", shape=1.6)], Grouping.RUN)
    tame, wild = feel_of([soft, sharp], soft)
    assert tame.expo.reason == "reference"
    # T = 1000·d^1.6 shall be 1000·0.2² at a fifth of the stick: d = 0.04^(1/1.6).
    wanted = 0.04 ** (1 / 1.6)
    assert (1 - wild.expo) * 0.2 + wild.expo * 0.008 == pytest.approx(wanted, rel=0.02)
    # With it, it gives at a fifth what the reference gives there.
    assert np.interp(20.0, wild.stick_pct, wild.thrust_gf) == pytest.approx(40.0, rel=0.02)
    # From 0.81 to 1 of thrust, from 0.729 to 1 of current.
    assert tame.last_tenth_thrust_pct.value == pytest.approx(19.0, abs=0.1)
    assert tame.last_tenth_current_pct.value == pytest.approx(27.1, abs=0.1)
    # As well as it is known, and no better.
    assert "gives 19.00 ± 0.23\N{THIN SPACE}% of the thrust for 27.1" in tame.words
    assert tame.words.startswith("begins softly")
    assert "no torque is left" in tame.words
    # The softer one cannot be made sharper by expo.
    assert feel_of([soft, sharp], sharp)[0].expo.reason == "already_softer"
    # That would take 7 % of throttle, and 10 % is the least that was run.
    far = subjects([run("3", motor="c", shape=1.2)], Grouping.RUN)
    assert feel_of([soft, *far], soft)[1].expo.reason == "not_reached"
    short = subjects([run("1", shares=(0.1, 0.4, 0.8))], Grouping.RUN)
    assert feel_of(short, None)[0].last_tenth_thrust_pct.reason == "no_full_throttle"


@pytest.mark.parametrize(
    ("value", "u", "words"),
    [
        (0.30, 0.02, "begins softly"),
        (0.33, 0.02, ""),
        (0.50, 0.05, "begins evenly"),
        (0.50, 0.11, ""),
        (0.72, 0.02, ""),
        (0.80, 0.04, "begins sharply"),
    ],
)
def test_how_it_begins_is_said_where_it_is_told(value, u, words):
    one = run("1")
    slope = Measured(value, {"span@": u})
    told = replace(one, summary={**one.summary, "low_throttle_ratio": slope})
    (feel,) = feel_of(subjects([told], Grouping.RUN), None)
    assert feel.words.partition(";")[0].startswith(words or "the last tenth")


def test_points_at_nominal_undo_a_sagging_supply():
    motor, propeller = Motor(1900.0, 0.06, 1.0), Propeller(5.1, 0.19, 0.12)

    def at(volts, density, throttle=100.0):
        point = solve(motor, propeller, voltage_v=volts, density_kg_per_m3=density)
        names = ("thrust_gf", "power_w", "current_a", "speed_rpm", "voltage_v")
        figures = {name: Measured(point.value(name)) for name in names}
        return Point({**figures, "throttle_pct": Measured(throttle)}, 0.0, 0.1, 1.0, True)

    wanted = at(16.0, 1.225)
    found = points_at_nominal(
        [at(15.2, 1.15)],
        key="run 1",
        nominal_v=16.0,
        density_kg_per_m3=1.15,
        motor=motor,
        propeller=propeller,
    )
    assert isinstance(found, AtNominal)
    assert found.way == "model"
    (point,) = found.points
    for name in ("thrust_gf", "power_w", "current_a", "speed_rpm"):
        assert point.value(name) == pytest.approx(wanted.value(name), rel=1e-6)
    assert found.changed_pct["thrust_gf"] == pytest.approx(
        100 * (wanted.value("thrust_gf") / at(15.2, 1.15).value("thrust_gf") - 1)
    )
    by_powers = points_at_nominal(
        [at(15.2, 1.15)], key="run 1", nominal_v=16.0, density_kg_per_m3=1.15
    )
    assert by_powers.way == "powers"
    thrust = by_powers.points[0].figures["thrust_gf"]
    assert thrust.value == pytest.approx(wanted.value("thrust_gf"), rel=0.02)
    # What is not known of the exponents is the run's own: it cancels with nobody's.
    assert "voltage_exponent@run 1/thrust_gf" in thrust.components
    # Nor does it between thrust and power: gf/W is less certain than either.
    per_watt = by_powers.points[0].figures["efficiency_g_per_w"]
    assert per_watt.relative_u > thrust.relative_u
    far = points_at_nominal(
        [at(12.0, 1.2), at(15.8, 1.2)], key="r", nominal_v=16.0, density_kg_per_m3=1.2
    )
    assert (len(far.points), far.left_out) == (1, 1)


def test_at_nominal_a_figure_is_as_unsure_as_its_voltmeter_and_its_air():
    gain, air = "calibration@yard/voltage_v", "air@{}"

    def corrected(key, volts=15.5):
        figures = {
            "thrust_gf": Measured(1000.0),
            "power_w": Measured(400.0, {gain: 0.005 * 400.0}),
            "voltage_v": Measured(volts, {gain: 0.005 * volts}),
            "throttle_pct": Measured(100.0),
        }
        one = Point(figures, 0.0, 0.1, 1.0, True)
        made = points_at_nominal([one], key=key, nominal_v=16.0, density_kg_per_m3=1.19)
        return made.points[0].figures

    one, other = corrected("run 1"), corrected("run 2")
    thrust, power = one["thrust_gf"], one["power_w"]
    assert thrust.components[gain] / thrust.value == pytest.approx(-1.7 * 0.005)
    assert power.components[gain] / power.value == pytest.approx((1.0 - 2.5) * 0.005)
    assert thrust.components[air.format("run 1")] / thrust.value == pytest.approx(-0.65 * 0.004)
    # One meter shows two runs too much alike; their air is each one's own.
    apart = difference(thrust, other["thrust_gf"])
    assert apart.component("calibration") == pytest.approx(0.0)
    assert apart.component("air") == pytest.approx(np.hypot(*2 * [0.65 * 0.004 * thrust.value]))
    # Of one run's gf/W little is left of either.
    per_watt = one["efficiency_g_per_w"]
    assert per_watt.component("calibration") / per_watt.value == pytest.approx(0.2 * 0.005)
    assert per_watt.component("air") / per_watt.value == pytest.approx(0.05 * 0.004)


@pytest.mark.parametrize(
    ("words", "reason"),
    [
        ({"nominal_v": None, "density_kg_per_m3": 1.2}, "conditions_unknown"),
        ({"nominal_v": 16.0, "density_kg_per_m3": None}, "conditions_unknown"),
        ({"nominal_v": 30.0, "density_kg_per_m3": 1.2}, "too_far_from_nominal"),
    ],
)
def test_what_cannot_be_corrected_says_why(words, reason):
    assert points_at_nominal(run("1").core.points, key="1", **words).reason == reason


def test_a_run_without_voltage_is_not_corrected():
    points = [Point({"thrust_gf": Measured(5.0)}, 0, 1, 2, True)]
    found = points_at_nominal(points, key="1", nominal_v=16.0, density_kg_per_m3=1.2)
    assert found.reason == "not_logged"


def test_models_on_two_propellers_share_no_sample():
    runs = [run("1"), run("2", sample="B", load=HEAVY)]
    one, other = subjects(runs, Grouping.MODEL)
    rows = comparison_rows([one, other], "1", [], condition=FULL)
    thrust = next(row for row in rows if row.name == "thrust_gf")
    parts = [cell.figure.u for cell in thrust.cells]
    # Another propeller on another sample: what samples differ by is in both, and cancels nowhere.
    assert thrust.cells[1].delta.delta.u == pytest.approx(math.hypot(*parts), rel=1e-6)
    assert thrust.cells[1].delta.delta.u > 1000.0 * 0.02 * math.sqrt(2) * 0.99


def test_the_band_of_models_holds_what_their_samples_were_seen_to_differ_by():
    scales = {"A": 1.0, "B": 1.12, "C": 0.9, "D": 1.06, "E": 0.94}
    runs = [run(mark, power=scale, sample=mark, r=0.001) for mark, scale in scales.items()]
    compared = subjects(runs, Grouping.MODEL)
    pooled = spread_between_samples(compared, "thrust_gf", "power_w")
    assert pooled.relative_s == pytest.approx(0.089, abs=0.01)
    seen = mean_curve(compared[0], "thrust_gf", "power_w", pooled=pooled)
    assumed = mean_curve(compared[0], "thrust_gf", "power_w")
    # 3 % would be assumed; 9 % were seen.
    assert (seen.u[8:] > 1.3 * assumed.u[8:]).all()
    assert spread_between_samples(subjects(runs, Grouping.SAMPLE), "thrust_gf", "power_w") is None
    assert spread_between_samples(compared, "torque_nm", "power_w") is None


def test_no_torque_left_is_said_only_where_it_is_sure():
    one = run("1")
    doubtful = {"top_end_ratio": Measured(0.45, {"x": 0.05})}
    (feel,) = feel_of(
        subjects([RanRun("a", "A", "steps", LIGHT, one.core, doubtful)], Grouping.RUN), None
    )
    assert "no torque" not in feel.words
    assert "begins" not in feel.words
    assert feel.expo.reason == "no_reference"


@pytest.mark.parametrize("at", [250.0, 251.3, 40.0, 1000.0])
def test_a_crossing_that_falls_on_a_place_that_was_looked_at_is_not_lost(at):
    """From 40 to 1000 in steps of 15, 250 is one of them; the ends are no crossings."""
    found = crossings(lambda x: Measured(x - at, {"s": 3.0}), 40.0, 1000.0, steps=64)
    if at in (40.0, 1000.0):
        assert found == []
    else:
        (one,) = found
        assert one.at == pytest.approx(at)
        assert one.resolved
    assert crossings(lambda _: Measured(0.0), 40.0, 1000.0) == []
