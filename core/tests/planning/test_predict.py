"""Predictions against the closed solution, against runs that come after, and their honesty."""

import math

import numpy as np
import pytest
from known_things import exactly, motor, propeller, supply
from motor_runs import MOTOR, PROPS, WARM_PER_A2S, loaded_run, no_load_run

from spindle_core.figures.measured import Absent, Measured
from spindle_core.identification import identify
from spindle_core.model.operating_point import Motor, Propeller, solve
from spindle_core.planning.hindsight import Miss, Verdict, honesty, look_back
from spindle_core.planning.known import known_motor, known_propeller
from spindle_core.planning.predict import KnownSupply, predict, predict_run, warmed_by
from spindle_core.planning.prior import Experience, motor_prior
from spindle_core.reduction import reduce_trace
from spindle_core.run.stand import Stand

AIR = Measured(1.19, {"air": 0.004})
SUPPLY = KnownSupply(Measured(16.0, {"supply": 0.02}), Measured(1e-9))


def test_the_worked_operating_point():
    made = predict(motor(), propeller(), supply(22.2), exactly(1.225)).figures
    assert made["speed_rpm"].value == pytest.approx(28_575, abs=1)
    assert made["current_a"].value == pytest.approx(47.74, abs=0.01)
    assert made["thrust_gf"].value == pytest.approx(1675.4, abs=0.1)
    assert made["efficiency_g_per_w"].value == pytest.approx(1.581, abs=0.001)
    # Nothing but the model's own doubt is left when everything else is known exactly.
    assert set(made["thrust_gf"].components) == {"model", "case_temperature"}
    assert made["thrust_gf"].component("model") == pytest.approx(0.012 * 1675.4, rel=1e-3)
    assert made["thrust_gf"].origin == "estimated"


def test_u_of_the_inputs_is_carried_through():
    # A Monte Carlo of the same inputs is the judge.
    known = motor(u_kv=60.0, u_ohm=0.015, u_idle=0.2)
    prop = propeller(u_ct=0.012, u_cp=0.008)
    made = predict(known, prop, supply(22.2), exactly(1.225)).figures
    rng = np.random.default_rng(5)
    drawn = []
    for kv, ohm, idle, ct, cp in rng.normal(
        (1900, 0.15, 1.2, 0.21, 0.145), (60, 0.015, 0.2, 0.012, 0.008), (4000, 5)
    ):
        point = solve(Motor(kv, ohm, idle), Propeller(5.1, ct, cp), voltage_v=22.2)
        drawn.append((point.thrust_gf, point.current_a, point.efficiency_g_per_w))
    spread = np.std(np.array(drawn), axis=0, ddof=1)
    for name, s in zip(("thrust_gf", "current_a", "efficiency_g_per_w"), spread, strict=True):
        ours = ("model", "case_temperature")
        own = math.hypot(*(p for k, p in made[name].components.items() if k not in ours))
        assert own == pytest.approx(s, rel=0.08)


def test_a_motor_that_would_not_turn_has_no_figures():
    made = predict(motor(ohm=8.0, idle=6.0), propeller(), supply(10.0), exactly(1.2))
    assert made.figures["thrust_gf"].reason == "does_not_turn"


def test_coefficients_follow_the_speed_where_the_runs_showed_it():
    flat = predict(motor(), propeller(), supply(22.2), exactly(1.225)).figures["thrust_gf"]
    rising = propeller(ct_exponent=0.1, rpm_reference=20_000.0)
    made = predict(motor(), rising, supply(22.2), exactly(1.225)).figures["thrust_gf"]
    assert made.value / flat.value == pytest.approx((28_575 / 20_000) ** 0.1, rel=2e-3)


def test_below_full_throttle_the_duty_has_to_be_known():
    asked = ("steps", motor(), propeller(), supply(22.2), exactly(1.225))
    unknown = predict_run(*asked, highest_pct=50.0)
    assert {figure.reason for figure in unknown.values()} == {"duty_unknown"}
    linear = predict_run(*asked, highest_pct=50.0, esc_linear=True)
    assert linear["max_thrust_gf"].value == pytest.approx(551.0, abs=0.1)
    assert linear["max_current_a"].value == pytest.approx(8.252, abs=0.001)


def test_kinds_say_what_can_be_said():
    peak = predict_run("peak", motor(), propeller(), supply(22.2), exactly(1.225))
    assert set(peak) == {"sustained_thrust_gf", "sustained_current_a", "burst_thrust_gf"}
    assert peak["burst_thrust_gf"].value > peak["sustained_thrust_gf"].value
    assert predict_run("soak", motor(), propeller(), supply(22.2), exactly(1.225)) == {}
    assert predict_run("steps", motor(), None, supply(22.2), exactly(1.225)) == {}
    bare = predict_run("no_load", motor(), None, supply(16.0), exactly(1.225))
    # 1,900·(1 − 1.2·0.15/16) rpm/V.
    assert bare["kv_raw_rpm_per_v"].value == pytest.approx(1878.6, abs=0.1)
    assert bare["no_load_current_a"].value == 1.2
    stuck = predict_run("no_load", motor(idle=200.0), None, supply(16.0), exactly(1.225))
    assert isinstance(stuck["kv_raw_rpm_per_v"], Absent)


def test_a_winding_warms_with_the_copper_loss_it_had():
    # A plateau of one time constant, then of five.
    assert warmed_by([(100, 100, 4.0)], 4.0) == pytest.approx(1 - math.exp(-1), abs=0.01)
    assert warmed_by([(100, 100, 20.0)], 4.0) == pytest.approx(1.0, abs=0.01)
    # Half throttle before it is a sixteenth of the heat, and a rest after it cools.
    short = warmed_by([(100, 100, 2.0)], 4.0)
    assert short < warmed_by([(50, 50, 60.0), (100, 100, 2.0)], 4.0) < short + 0.05
    assert warmed_by([(100, 100, 2.0), (0, 0, 40.0)], 4.0) < 0.001
    assert warmed_by([], 4.0) == 0.0
    assert warmed_by([(0, 0, 9.0)], 4.0) == 0.0


def test_a_hot_winding_draws_less_and_a_burst_meets_it_cold():
    # 0.02 Ω at 30 A in the long run.
    known = motor(ohm=0.085, idle=1.0, warming=0.02 / 900)
    course = [(0, 100, 2.0), (100, 100, 20.0)]
    asked = (known, propeller(), supply(16.0), exactly(1.19))
    cold = predict_run("steps", *asked, course=[(100, 100, 0.01)])["max_current_a"].value
    hot = predict_run("steps", *asked, course=course)["max_current_a"].value
    assert hot < 0.97 * cold
    # The final point is one of a motor whose R is what its own current has made it.
    warm_ohm = 0.085 + 0.02 / 900 * hot**2
    again = solve(
        Motor(1900.0, warm_ohm, 1.0),
        Propeller(5.1, 0.21, 0.145),
        voltage_v=16.0,
        density_kg_per_m3=1.19,
    )
    assert hot == pytest.approx(again.current_a, rel=2e-3)


def test_a_motor_that_was_identified_cool_is_predicted_warm():
    """Without the warming a prediction of a long full-throttle plateau is several u too high."""
    options = {"warming": WARM_PER_A2S, "esc_linear": True}
    before = [
        no_load_run(**options),
        loaded_run("light", **options),
        loaded_run("heavy", **options),
    ]
    after = reduce_trace(loaded_run("heavy", seed=7, levels=(40, 70, 100), dwell_s=8.0, **options))
    found = identify(before)
    known = known_motor(
        name="A", fit=found.motors[0], blocks=[], siblings={}, prior=guessed_from(1900.0)
    )
    assert known.warming_ohm_per_a2.value == pytest.approx(3.0 * WARM_PER_A2S, rel=0.15)
    fit = next(p for p in found.propellers if p.propeller == "heavy")
    nothing = Absent("none", "")
    prop = known_propeller(fit, diameter_in=5.1, prior=(nothing, nothing))
    course = [(40, 40, 8.0), (70, 70, 8.0), (100, 100, 5.0)]
    made = predict_run("steps", known, prop, SUPPLY, AIR, course=course)
    for miss in look_back(made, after.summary):
        assert abs(miss.off_pct) < 1.0, miss
    cold = predict_run("steps", known, prop, SUPPLY, AIR, course=[(100, 100, 0.01)])
    assert look_back(cold, after.summary)[0].off_pct < -2.0


def test_a_warming_that_runs_did_not_show_may_be_anything_up_to_the_usual():
    loads = [loaded_run(name, esc_linear=True) for name in ("light", "heavy")]
    fit = identify([no_load_run(esc_linear=True), *loads]).motors[0]
    assert isinstance(fit.heat_ohm_per_a2s, Absent)
    known = known_motor(name="A", fit=fit, blocks=[], siblings={}, prior=guessed_from(1900.0))
    # Half of 0.8·0.8·0.00393/K·(0.085 Ω)²·1.2 K/W.
    assert known.warming_ohm_per_a2.value == pytest.approx(1.09e-5, rel=0.03)
    assert known.warming_ohm_per_a2.relative_u > 1.0


def guessed_from(kv):
    return motor_prior(maker="x", kv_label_rpm_per_v=kv, size=None, experience=Experience())


def _season(seed):
    """Identify a motor from a bare shaft and a light propeller; its heavy run comes after."""
    rng = np.random.default_rng(seed)
    gains = {"voltage_v": rng.normal(0, 0.004), "current_a": rng.normal(0, 0.005)}
    gains |= {"thrust_gf": rng.normal(0, 0.008), "speed_rpm": 0.0}
    stand = Stand(
        calibration={"voltage_v": 0.004, "current_a": 0.005, "thrust_gf": 0.008, "speed_rpm": 1e-9},
        name="yard",
        gravity_m_per_s2=9.80665,
    )
    options = {"stand": stand, "gains": gains, "esc_linear": True, "warming": WARM_PER_A2S}
    before = [
        no_load_run(seed=seed, **options),
        loaded_run("light", seed=seed + 1, **options),
        loaded_run("heavy", seed=seed + 2, volts=12.0, **options),
    ]
    return before, loaded_run("heavy", seed=seed + 3, **options)


def test_stated_u_holds_over_many_benches():
    misses = {"max_thrust_gf": [], "max_current_a": []}
    course = [(40, 40, 2.5), (70, 70, 2.5), (100, 100, 1.5)]
    for seed in range(0, 160, 4):
        before, after = _season(seed)
        found = identify(before)
        known = known_motor(
            name="A", fit=found.motors[0], blocks=[], siblings={}, prior=guessed_from(1900.0)
        )
        fit = next(p for p in found.propellers if p.propeller == "heavy")
        nothing = Absent("none", "")
        prop = known_propeller(fit, diameter_in=5.1, prior=(nothing, nothing))
        made = predict_run("steps", known, prop, SUPPLY, AIR, course=course)
        for miss in look_back(made, reduce_trace(after).summary):
            if miss.name in misses:
                misses[miss.name].append(miss)
    for found in misses.values():
        judged = honesty(found)
        assert judged.count == 40
        assert judged.verdict is not Verdict.TOO_SMALL
        # CP rests on an I0 known at one speed: that is in its u.
        assert abs(judged.bias_pct) < 2.0
    truth = solve(MOTOR, PROPS["heavy"], voltage_v=16.0, density_kg_per_m3=1.19)  # cold
    assert misses["max_thrust_gf"][0].predicted.value == pytest.approx(truth.thrust_gf, rel=0.05)


def test_what_both_share_cancels():
    shared = Measured(1000.0, {"calibration@yard/thrust_gf": 20.0, "model": 5.0})
    after = Measured(1008.0, {"calibration@yard/thrust_gf": 20.2, "within_run": 1.0})
    miss = look_back({"max_thrust_gf": shared}, {"max_thrust_gf": after})[0]
    assert miss.off_pct == pytest.approx(0.8)
    assert miss.z == pytest.approx(8.0 / math.hypot(0.2, 5.0, 1.0))


def test_only_what_was_predicted_and_measured_is_looked_back_at():
    absent = Absent("duty_unknown", "")
    figure = Measured(1.0, {"model": 0.1})
    assert look_back({"a": absent, "b": figure}, {"a": figure, "b": absent, "c": figure}) == []
    exact = look_back({"a": Measured(2.0)}, {"a": Measured(2.0)})
    assert exact[0].z is None


def misses_of(zs):
    one = Measured(100.0, {"model": 1.0})
    return [Miss("x", one, one, 0.1 * z, z) for z in zs]


def test_the_verdict_on_u():
    rng = np.random.default_rng(1)
    assert honesty(misses_of(rng.normal(0, 1, 60))).verdict is Verdict.RIGHT
    assert honesty(misses_of(rng.normal(0, 2, 60))).verdict is Verdict.TOO_SMALL
    assert honesty(misses_of(rng.normal(0, 0.3, 60))).verdict is Verdict.TOO_LARGE
    few = honesty(misses_of([9.0, -8.0, 7.0, 9.0]))
    assert few.verdict is Verdict.TOO_FEW
    assert few.scale == pytest.approx(math.sqrt((81 + 64 + 49 + 81) / 4))
    assert honesty([]).scale is None
    biased = honesty(misses_of([3.0] * 20))
    assert biased.verdict is Verdict.TOO_SMALL
    assert biased.bias_pct == pytest.approx(0.3)
    assert (biased.within_1u, biased.within_2u) == (0.0, 0.0)
