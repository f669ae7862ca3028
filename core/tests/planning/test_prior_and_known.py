"""Guesses that move with the bench, and what partly known motors are known by."""

import math

import pytest
from motor_runs import loaded_run, no_load_run

from spindle_core.figures.measured import Absent, Measured
from spindle_core.identification.evidence import evidence_of, numbered
from spindle_core.identification.motor import identify_motor
from spindle_core.model.operating_point import Motor
from spindle_core.motor.size_code import parse_size_code
from spindle_core.planning.known import Foundation, known_motor, known_propeller, model_figures
from spindle_core.planning.prior import (
    LABEL_U,
    BenchMotor,
    Experience,
    label_offset,
    learn,
    motor_prior,
    propeller_prior,
    usual_winding_k_per_w,
)
from spindle_core.run.stand import Stand

DRIFT = parse_size_code("2206")


def guess(**changes):
    asked = {"maker": "Ostrel", "kv_label_rpm_per_v": 1900.0, "size": DRIFT}
    return motor_prior(**{**asked, "experience": Experience(), **changes})


def fit_of(*traces, name="Sable A"):
    runs = [evidence_of(trace) for trace in traces]
    return identify_motor(name, numbered(runs), []), numbered(runs)


def test_a_label_counts_for_what_labels_are_worth():
    made = guess()
    assert made.kv_rpm_per_v.value == 1900.0
    assert made.kv_rpm_per_v.relative_u == pytest.approx(0.058)
    assert made.kv_rpm_per_v.origin == "estimated"
    # Kt²/R of a stator of 22 x 6 mm: (5.026 mN·m/A)² ÷ (1.05e-7 · 2904).
    assert made.resistance_ohm.value == pytest.approx(0.0828, rel=2e-3)
    assert made.resistance_ohm.relative_u == pytest.approx(0.35)


def test_what_is_not_written_is_not_guessed():
    nothing = guess(kv_label_rpm_per_v=None)
    assert nothing.kv_rpm_per_v.reason == "no_kv"
    assert nothing.resistance_ohm.reason == "no_kv"
    can = guess(size=None)
    assert isinstance(can.resistance_ohm, Absent)
    assert isinstance(can.no_load_current_a, Absent)
    claimed = guess(size=None, claimed_resistance_ohm=0.071)
    assert claimed.resistance_ohm.value == pytest.approx(0.089)
    assert claimed.resistance_ohm.u == pytest.approx(math.hypot(0.0142, 0.010))


def test_a_maker_whose_labels_are_off_moves_the_next_one():
    # Three of Ostrel's labels promise 6 % too much, two of another maker are right.
    off = [("Ostrel", math.log(0.94))] * 3 + [("Hollin", 0.0)] * 2
    ostrel, u_ostrel = label_offset("Ostrel", off)
    other, u_other = label_offset("Hollin", off)
    unknown, u_unknown = label_offset("Nobody", off)
    assert math.exp(ostrel) == pytest.approx(0.947, abs=0.004)
    assert abs(other) < 0.02
    assert ostrel < unknown < other
    assert u_ostrel < u_unknown
    assert u_other < u_unknown
    moved = guess(experience=Experience(labels=tuple(off)))
    assert moved.kv_rpm_per_v.value == pytest.approx(1900 * math.exp(ostrel))
    assert "moved by -5" in moved.words


def test_two_lucky_labels_do_not_make_the_third_certain():
    _, u = label_offset("Ostrel", [("Ostrel", 0.0001), ("Ostrel", -0.0001)])
    assert u > 0.7 * LABEL_U
    _, many = label_offset("Ostrel", [("Ostrel", 0.002 * (-1) ** i) for i in range(30)])
    assert many < 0.3 * LABEL_U


def test_the_bench_learns_a_trend_with_size_from_four_motors():
    made = []
    for name, kv in (("2206", 1900.0), ("2306", 1800.0), ("2807", 1250.0), ("1505", 3600.0)):
        size = parse_size_code(name)
        kt = 60 / (2 * math.pi * kv)
        ohm = kt**2 / (0.8e-7 * size.diameter_mm**2 * size.height_mm)
        made.append(BenchMotor(name, "Ostrel", Motor(kv, ohm, 1.0), kv, size))
    few = learn(made[:3])
    assert few.trend.reason == "too_few_motors"
    learnt = learn(made)
    own = guess(experience=learnt)
    kt = 60 / (2 * math.pi * 1900)
    assert own.resistance_ohm.value == pytest.approx(kt**2 / (0.8e-7 * 22**2 * 6), rel=0.05)
    assert own.resistance_ohm.relative_u < 0.35
    assert own.resistance_ohm.relative_u >= 0.10


def test_the_bench_learns_how_far_windings_stand_above_the_case():
    sizes = [parse_size_code(name) for name in ("2206", "2306", "2807")]
    made = [
        BenchMotor(
            size.text,
            "Ostrel",
            Motor(1900.0, 0.08, 1.0),
            None,
            size,
            winding_k_per_w=0.7 * usual_winding_k_per_w(size),
        )
        for size in sizes
    ]
    assert learn(made[:2]).winding_scale is None
    assert learn(made).winding_scale == pytest.approx(0.7)
    own = guess(experience=learn(made)).winding_k_per_w
    usual = guess().winding_k_per_w
    assert own.value == pytest.approx(0.7 * usual.value)
    assert (own.relative_u, usual.relative_u) == (pytest.approx(0.2), pytest.approx(0.5))
    # A stator half as large passes half the heat: it stands twice as far above its case.
    assert usual_winding_k_per_w(parse_size_code("2303")) == pytest.approx(2.4)
    assert usual_winding_k_per_w(None) == 1.2


def test_identified_motors_keep_what_kv_and_r_share():
    fit, blocks = fit_of(no_load_run(), loaded_run("light"), loaded_run("heavy"))
    known = known_motor(name="Sable A", fit=fit, blocks=blocks, siblings={}, prior=guess())
    assert known.basis is Foundation.IDENTIFIED
    assert known.words == "identified from 3 runs"
    assert known.kv_rpm_per_v.u == pytest.approx(fit.kv_rpm_per_v.u)
    assert known.resistance_ohm.u == pytest.approx(fit.resistance_ohm.u)
    shared = "fit@Sable A"
    product = known.kv_rpm_per_v.components[shared] * known.resistance_ohm.components[shared]
    assert product == pytest.approx(fit.kv_resistance_covariance)


def test_a_bare_shaft_tells_kv_and_leaves_r_a_guess():
    fit, blocks = fit_of(no_load_run())
    assert not fit.usable
    prior = guess(kv_label_rpm_per_v=2000.0)
    known = known_motor(name="Sable A", fit=fit, blocks=blocks, siblings={}, prior=prior)
    assert known.basis is Foundation.PARTLY
    # The label was 5 % off: the run pulls kV to the truth, and says so in u.
    assert abs(known.kv_rpm_per_v.value - 1900) < 3 * known.kv_rpm_per_v.u
    assert known.kv_rpm_per_v.relative_u < 0.01
    assert known.resistance_ohm.relative_u > 0.3
    assert known.no_load_a.value == pytest.approx(fit.no_load.offset_a.value)


def test_one_loaded_run_ties_kv_to_r_without_telling_them_apart():
    fit, blocks = fit_of(loaded_run("heavy", levels=(100,)))
    prior = guess(kv_label_rpm_per_v=1950.0)
    known = known_motor(name="Sable A", fit=fit, blocks=blocks, siblings={}, prior=prior)
    shared = "fit@Sable A"
    kv, ohm = known.kv_rpm_per_v, known.resistance_ohm
    correlation = kv.components[shared] * ohm.components[shared] / (kv.u * ohm.u)
    assert correlation > 0.7  # a higher kV would go with a higher R
    assert kv.relative_u > 0.02
    assert kv.relative_u < prior.kv_rpm_per_v.relative_u
    assert abs(kv.value - 1900) < 2.5 * kv.u


def test_ten_runs_at_one_load_are_no_better_than_the_meters():
    stand = Stand(calibration={"voltage_v": 0.01}, name="yard")
    fit, blocks = fit_of(*(no_load_run(seed=seed, stand=stand) for seed in range(10)))
    known = known_motor(name="Sable A", fit=fit, blocks=blocks, siblings={}, prior=guess())
    assert known.kv_rpm_per_v.relative_u > 0.009


def test_runs_that_contradict_the_motor_do_not_move_the_guess():
    fit, blocks = fit_of(no_load_run(), loaded_run("light"), loaded_run("heavy"))
    upside = [
        type(block)(
            **{
                **{name: getattr(block, name) for name in block.__slots__},
                "current_a": 60.0 - block.current_a,
            }
        )
        for block in blocks
    ]
    bad = identify_motor("Sable A", upside, [])
    assert bad.kv_rpm_per_v.reason == "not_a_motor"
    known = known_motor(name="Sable A", fit=bad, blocks=upside, siblings={}, prior=guess())
    assert known.basis is Foundation.GUESSED
    assert known.kv_rpm_per_v.value == 1900.0
    assert fit.usable


def test_siblings_stand_in_with_what_samples_differ_by():
    fit, _ = fit_of(no_load_run(), loaded_run("light"), loaded_run("heavy"))
    prior = guess(kv_label_rpm_per_v=2300.0)
    known = known_motor(name="Sable B", fit=None, blocks=[], siblings={"A": fit}, prior=prior)
    assert known.basis is Foundation.SIBLINGS
    assert known.words == "as A of the same model"
    assert known.kv_rpm_per_v.value == pytest.approx(1900, rel=1e-3)
    assert known.kv_rpm_per_v.relative_u > 0.015
    assert known.kv_rpm_per_v.assumed
    # The sample itself is no sibling of its own.
    alone = known_motor(name="A", fit=None, blocks=[], siblings={"A": fit}, prior=prior)
    assert alone.basis is Foundation.GUESSED


def test_the_model_counts_samples_and_three_show_their_spread():
    fits = {}
    for n, kv in enumerate((1.0, 1.012, 0.988, 1.004)):
        fit, _ = fit_of(no_load_run(seed=n), loaded_run("light", seed=n), loaded_run("heavy"))
        moved = fit.kv_rpm_per_v.scaled(kv)
        fits[str(n)] = type(fit)(
            **{name: getattr(fit, name) for name in fit.__slots__} | {"kv_rpm_per_v": moved}
        )
    one = model_figures({"0": fits["0"]})["kv_rpm_per_v"]
    four = model_figures(fits)["kv_rpm_per_v"]
    assert (one.n, four.n) == (1, 4)
    assert one.component("assumed_sample_spread") > 0
    assert four.component("assumed_sample_spread") == 0
    assert four.component("sample_spread") > 0
    assert four.u < one.u
    none = model_figures({})
    assert none["kv_rpm_per_v"].reason == "no_sample_identified"


def test_a_propeller_is_known_from_geometry_until_it_was_run():
    guessed = known_propeller(None, diameter_in=5.1, prior=propeller_prior(5.1, 4.2, 3))
    assert guessed.basis is Foundation.GUESSED
    assert guessed.cp.value == pytest.approx(0.119, abs=5e-4)
    assert guessed.ct.value == pytest.approx(0.189, abs=5e-4)
    assert guessed.ct.relative_u == pytest.approx(0.30 / math.sqrt(3))
    unknown = known_propeller(None, diameter_in=5.1, prior=propeller_prior(5.1, None, 3))
    assert unknown.reason == "no_geometry"
    assert isinstance(guessed.ct, Measured)
