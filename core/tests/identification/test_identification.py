"""Constants recovered from runs whose truth is known, and u that covers what was put in."""

import dataclasses

import numpy as np
import pytest
from motor_runs import MOTOR, PROPS, WARM_PER_A2S, loaded_run, no_load_run

from spindle_core.errors import IdentificationError
from spindle_core.figures.measured import Absent
from spindle_core.identification import identify
from spindle_core.model.operating_point import solve
from spindle_core.run.stand import Stand


def runs(**options):
    return [no_load_run(**options), loaded_run("light", **options), loaded_run("heavy", **options)]


def codes(found):
    return {warning.code for warning in found.warnings}


def test_kv_and_resistance_of_a_cool_motor():
    fit = identify(runs()).motors[0]
    assert fit.kv_rpm_per_v.value == pytest.approx(1900.0, rel=5e-4)
    assert fit.resistance_ohm.value == pytest.approx(0.085, rel=5e-3)
    assert abs(fit.kv_rpm_per_v.value - 1900.0) < 3 * fit.kv_rpm_per_v.u
    assert isinstance(fit.heat_ohm_per_a2s, Absent)
    assert fit.kv_resistance_covariance > 0  # a higher kV goes with a higher R


def test_a_warming_winding_is_not_taken_for_a_lower_kv():
    made = runs(warming=WARM_PER_A2S)
    fit = identify(made).motors[0]
    assert fit.heat_ohm_per_a2s.value == pytest.approx(WARM_PER_A2S, rel=0.1)
    assert fit.winding_time_s == 3.2  # of those tried, the nearest to 3 s
    assert fit.resistance_ohm.value == pytest.approx(0.085, rel=0.01)
    assert fit.kv_rpm_per_v.value == pytest.approx(1900.0, rel=1e-3)


def test_stated_intervals_hold_the_truth():
    inside = np.zeros(2)
    for seed in range(30):
        made = [
            no_load_run(seed=seed),
            loaded_run("light", seed=100 + seed),
            loaded_run("heavy", seed=200 + seed),
        ]
        fit = identify(made).motors[0]
        inside += [
            abs(fit.kv_rpm_per_v.value - 1900.0) <= 1.96 * fit.kv_rpm_per_v.u,
            abs(fit.resistance_ohm.value - 0.085) <= 1.96 * fit.resistance_ohm.u,
        ]
    assert (inside >= 26).all()


def test_idle_current_and_its_growth_with_speed():
    one = identify(runs()).motors[0].no_load
    expected = solve_free(16.0)
    assert one.current_a.value == pytest.approx(expected, abs=0.01)
    assert one.slope_a_per_rpm.reason == "one_voltage"
    two = identify([*runs(), no_load_run(8.0)]).motors[0].no_load
    assert two.slope_a_per_rpm.value == pytest.approx(2.4e-5, rel=0.03)
    assert two.offset_a.value == pytest.approx(0.5, abs=0.02)


def solve_free(volts):
    return solve(
        MOTOR, dataclasses.replace(PROPS["light"], ct=1e-9, cp=1e-9), voltage_v=volts
    ).current_a


def test_torque_gives_kt_and_idle_current_without_a_no_load_run():
    made = [loaded_run("light", torque=True), loaded_run("heavy", torque=True)]
    found = identify(made)
    fit = found.motors[0]
    assert fit.no_load.current_a.value == pytest.approx(0.5 + 2.4e-5 * 22_000, abs=0.2)
    assert fit.kt_nm_per_a.value == pytest.approx(60 / (2 * np.pi * 1900), rel=0.02)
    assert "kt_kv_mismatch" not in codes(found)


def test_a_wrong_torque_arm_is_caught_against_kv():
    made = [
        no_load_run(torque=True),
        loaded_run("light", torque=True),
        loaded_run("heavy", torque=True),
    ]
    wrong = [
        dataclasses.replace(t, channels={**t.channels, "torque_nm": 1.2 * t.channels["torque_nm"]})
        for t in made
    ]
    assert "kt_kv_mismatch" in codes(identify(wrong))


def test_propeller_coefficients_belong_to_the_propeller():
    found = identify(runs())
    fits = {fit.propeller: fit for fit in found.propellers}
    for name, prop in PROPS.items():
        assert fits[name].ct.value == pytest.approx(prop.ct, rel=0.003)
        assert abs(fits[name].ct.value - prop.ct) < 2.5 * fits[name].ct.u
        assert fits[name].cp.value == pytest.approx(prop.cp, rel=0.01)
        assert isinstance(fits[name].ct_exponent, Absent)


def test_a_coefficient_that_grows_with_speed_is_shown():
    run = loaded_run("heavy", levels=(20, 35, 50, 70, 85, 100))
    speed = run.channels["speed_rpm"]
    bent = run.channels["thrust_gf"] * np.where(speed > 0, np.maximum(speed, 1) / 20_000, 1) ** 0.12
    run = dataclasses.replace(run, channels={**run.channels, "thrust_gf": bent})
    fit = identify([run]).propellers[0]
    assert fit.ct_exponent.value == pytest.approx(0.12, abs=0.02)
    level = fit.ct.value * (20_000 / fit.rpm_reference) ** fit.ct_exponent.value
    assert level == pytest.approx(0.21, rel=0.005)


def test_declared_gains_of_the_meters_go_into_u_with_their_sign():
    stand = Stand(
        calibration={"voltage_v": 0.003, "current_a": 0.01, "thrust_gf": 0.005}, name="bench"
    )
    made = [dataclasses.replace(run, stand=stand) for run in runs()]
    found = identify(made)
    fit = found.motors[0]
    assert fit.kv_rpm_per_v.components["calibration@bench/voltage_v"] == pytest.approx(
        -0.003 * 1900, rel=0.01
    )
    assert fit.resistance_ohm.components["calibration@bench/current_a"] == pytest.approx(
        -0.01 * 0.085, rel=0.02
    )
    ct = found.propellers[0].ct
    assert ct.components["calibration@bench/thrust_gf"] == pytest.approx(0.005 * ct.value, rel=0.01)
    assert ct.component("gravity") == pytest.approx(0.0015 * ct.value, rel=0.01)
    # Shifted meters: the truth stays inside.
    shifted = [
        dataclasses.replace(run, stand=stand)
        for run in runs(gains={"voltage_v": 0.003, "current_a": -0.01})
    ]
    moved = identify(shifted).motors[0]
    assert abs(moved.kv_rpm_per_v.value - 1900.0) < 2 * moved.kv_rpm_per_v.u
    assert abs(moved.resistance_ohm.value - 0.085) < 2 * moved.resistance_ohm.u


def test_partial_duty_counts_only_where_it_is_known():
    part = loaded_run("heavy", levels=(40, 60, 80))
    with pytest.raises(IdentificationError):
        identify(
            [
                dataclasses.replace(
                    part, channels={k: v for k, v in part.channels.items() if k != "thrust_gf"}
                )
            ]
        )
    linear = dataclasses.replace(part, facts=dataclasses.replace(part.facts, esc_linear=True))
    fit = identify([linear]).motors[0]
    assert fit.kv_rpm_per_v.value == pytest.approx(1900.0, rel=5e-3)
    duty = {**part.channels, "duty": part.channels["throttle_pct"] / 100}
    logged = identify([dataclasses.replace(part, channels=duty)]).motors[0]
    assert logged.resistance_ohm.value == pytest.approx(0.085, rel=0.05)


def test_one_load_is_not_enough_and_says_so():
    fit = identify([loaded_run("heavy")]).motors[0]
    assert fit.kv_rpm_per_v.reason == "one_load"
    assert fit.model().reason == "one_load"


def test_warm_starts_and_several_motors_are_said():
    made = runs()
    warm = made[1]
    for i, case in enumerate((22.0, 40.0, 22.0)):
        temperature = np.full(made[i].size, case)
        made[i] = dataclasses.replace(
            made[i], channels={**made[i].channels, "motor_temp_c": temperature}
        )
    found = identify(
        [*made, dataclasses.replace(warm, facts=dataclasses.replace(warm.facts, sample="B"))]
    )
    assert {"start_temperatures_differ", "several_motors"} <= codes(found)
    assert [fit.motor for fit in found.motors] == ["Sable A", "Sable B"]


def test_air_that_was_not_logged_is_assumed_and_widens_ct():
    run = loaded_run("heavy")
    bare = dataclasses.replace(run, facts=dataclasses.replace(run.facts, air_temp_c=None))
    found = identify([bare])
    assert "air_assumed" in codes(found)
    assert found.propellers[0].ct.relative_u > 0.03


def test_nothing_to_identify_is_an_error():
    with pytest.raises(IdentificationError) as caught:
        identify([])
    assert caught.value.code == "no_runs"


def test_a_propeller_of_unknown_size_is_named():
    run = loaded_run("heavy")
    nameless = dataclasses.replace(run, facts=dataclasses.replace(run.facts, prop_diameter_in=None))
    found = identify([no_load_run(), nameless])
    assert found.propellers == ()
    assert "no_diameter" in {w.code for w in found.warnings}


def test_runs_that_leave_the_motor_out_are_the_only_motors():
    named = [loaded_run("light"), loaded_run("heavy")]
    silent = no_load_run(motor="", sample="")
    half = loaded_run("heavy", seed=4, sample="")
    found = identify([*named, silent, half])
    assert [fit.motor for fit in found.motors] == ["Sable A"]
    assert found.motors[0].runs == 4
    assert "motor_assumed" in {w.code for w in found.warnings}
    # With two samples nothing can be assumed.
    other = loaded_run("heavy", seed=5, sample="B")
    apart = identify([*named, other, no_load_run(sample="")])
    assert {fit.motor for fit in apart.motors} == {"Sable A", "Sable B", "Sable"}


@pytest.mark.parametrize("order", [(0, 1, 2), (2, 1, 0), (1, 0, 2)])
def test_u_does_not_depend_on_the_order_of_the_logs(order):
    """kV ± 2.68 or ± 0.026, by whichever log came first and declared its meters or not."""
    made = runs()[:3]
    stands = (
        Stand(calibration={"voltage_v": 0.003, "speed_rpm": 0.001}, name="yard"),
        Stand(name="yard"),
        Stand(),
    )
    logs = [dataclasses.replace(run, stand=stand) for run, stand in zip(made, stands, strict=True)]
    fit = identify([logs[i] for i in order]).motors[0]
    volts = np.hypot(0.003, np.hypot(0.01, 0.01) / np.sqrt(3)) / 3
    assert fit.kv_rpm_per_v.component("calibration") == pytest.approx(
        np.hypot(0.003, 0.001) / 3 * fit.kv_rpm_per_v.value, rel=1e-3
    )
    assert fit.kv_rpm_per_v.u > 0.9 * volts * fit.kv_rpm_per_v.value
    assert fit.kv_rpm_per_v.assumed
