"""The simulated stand's runs of every kind, reduced by the core and held against the truth."""

import dataclasses

import numpy as np
import pytest

from spindle_bench.errors import PlanError
from spindle_bench.stand import script, world
from spindle_bench.stand.physics import Mounted, Physics, TrueMotor, TrueSupply
from spindle_bench.stand.sensors import Sensors
from spindle_core.model.operating_point import Motor, Propeller
from spindle_core.reduction import reduce_trace
from spindle_core.run.facts import RunFacts
from spindle_core.run.trace import Trace

from .conftest import FACTS

MOTOR = TrueMotor(Motor(1900.0, 0.085, 0.5, 2.0e-5), 2e-6, 31.0)
PROP = Propeller(5.1, 0.19, 0.12)
STIFF = TrueSupply(16.0, 0.004)


def played(mounted, throttle, seconds, kind, *, sensors=None, rate_hz=200.0, facts=None, **esc):
    physics = Physics(mounted, **esc)
    recording = script.record(physics, sensors or Sensors(3), throttle, seconds, rate_hz=rate_hz)
    trace = Trace(recording.time_s, recording.channels, kind, facts=facts or RunFacts())
    return recording, reduce_trace(trace)


def codes(result):
    return {warning.code for warning in result.warnings}


def test_no_load_run_gives_kv_and_the_current_of_the_motor_alone():
    mounted = Mounted(MOTOR, None, world.BARE_SHAFT_KG_M2, STIFF)
    recording, result = played(
        mounted,
        script.plateaus((100.0,), dwell_s=5.0),
        12.0,
        "no_load",
        facts=RunFacts(resistance_ohm=0.085),
    )
    assert result.summary["kv_rpm_per_v"].value == pytest.approx(1900.0, rel=2e-3)
    turning = recording.truth["speed_rpm"][1200]
    assert result.summary["no_load_current_a"].value == pytest.approx(
        0.5 + 2.0e-5 * turning, rel=0.02
    )
    assert np.abs(recording.truth["thrust_gf"]).max() == 0.0


def test_flywheel_run_gives_the_motors_torque():
    inertia = 62.0
    mounted = Mounted(MOTOR, None, inertia * 1e-6 - MOTOR.inertia_kg_m2, TrueSupply(16.0, 0.004))
    recording, result = played(
        mounted,
        script.plateaus((100.0,), dwell_s=4.0, rest_s=2.0),
        9.0,
        "flywheel",
        rate_hz=500.0,
        facts=RunFacts(inertia_kg_mm2=inertia),
    )
    reached = recording.truth["torque_nm"].max()
    assert result.summary["peak_torque_nm"].value == pytest.approx(reached, rel=0.02)
    assert result.summary["spin_up_time_s"].value > 0.05


def test_response_run_shows_the_escs_dead_time_and_both_ways():
    mounted = Mounted(MOTOR, PROP, 5e-6, STIFF)
    throttle = script.pulses(10.0, 50.0, cycles=6, low_s=1.0, high_s=1.0, rest_s=2.0)
    _, result = played(mounted, throttle, 16.0, "response", rate_hz=1000.0, esc_delay_s=0.012)
    assert result.summary["cycles"].value == pytest.approx(6, abs=1)
    assert result.summary["dead_time_s"].value == pytest.approx(0.014, abs=0.006)
    up, down = result.summary["accel_rpm_per_s"].value, result.summary["decel_rpm_per_s"].value
    # A motor without active braking gains speed faster than the air takes it away.
    assert abs(up) > abs(down) > 1000


def test_soak_run_goes_on_warming_after_the_stop():
    hot = dataclasses.replace(MOTOR, mass_g=20.0)
    mounted = Mounted(hot, PROP, 5e-6, STIFF)
    recording, result = played(
        mounted, script.plateaus((75.0,), dwell_s=60.0), 420.0, "soak", rate_hz=20.0
    )
    stop = int(63.0 * 20)
    hottest = recording.truth["case_c"].max()
    assert hottest > recording.truth["case_c"][stop] + 1.0
    assert result.summary["peak_after_stop_c"].value == pytest.approx(hottest, abs=0.3)
    assert result.summary["peak_after_stop_s"].value > 2.0


def test_torque_channel_is_the_propellers_torque_once_settled():
    mounted = Mounted(MOTOR, PROP, 5e-6, STIFF)
    recording, result = played(mounted, script.plateaus((60.0,), dwell_s=3.0), 10.0, "steps")
    shaft = result.points[0].figures["torque_nm"]
    omega = recording.truth["speed_rpm"][1100] * np.pi / 30
    power = PROP.cp * 1.2 * (omega / (2 * np.pi)) ** 3 * PROP.diameter_m**5
    assert shaft.value * omega == pytest.approx(power, rel=0.01)


def test_pack_falls_along_its_curve_and_recovers_at_rest():
    pack = TrueSupply(16.8, 0.015, capacity_as=900.0)
    recording, result = played(
        Mounted(MOTOR, PROP, 5e-6, pack), script.plateaus((80.0, 80.0), dwell_s=6.0), 20.0, "steps"
    )
    volts = recording.truth["voltage_v"]
    assert volts[400] > volts[1000] > volts[2900]
    assert volts[-1] > volts[2900] + 0.2
    assert len(result.points) == 1


def test_supply_that_trips_in_mid_run_ends_it_there():
    _, result = played(
        Mounted(MOTOR, PROP, 5e-6, dataclasses.replace(STIFF, trip_a=20.0)),
        script.plateaus((40.0, 70.0, 100.0)),
        15.0,
        "steps",
    )
    assert "supply_tripped" in codes(result)
    assert result.summary["max_current_a"].value < 20.0


def test_esc_holds_the_motors_current():
    recording, _ = played(
        Mounted(MOTOR, PROP, 5e-6, STIFF),
        script.plateaus((100.0,)),
        9.0,
        "steps",
        esc_current_limit_a=18.0,
    )
    assert recording.truth["current_a"].max() <= 18.0 + 1e-9


def test_drift_glitches_and_gains_are_seen_counted_and_survived():
    sensors = Sensors(
        5,
        thrust_drift_gf_per_s=0.8,
        torque_zero_nm=0.004,
        glitch_share=0.003,
        gains={"current_a": 1.05},
    )
    recording, result = played(
        Mounted(MOTOR, PROP, 5e-6, STIFF),
        script.plateaus((30.0, 60.0, 90.0)),
        14.0,
        "steps",
        sensors=sensors,
    )
    assert {"tare_drift", "outliers"} <= codes(result)
    top = result.points[-1]
    at = (recording.time_s >= top.used_from_s) & (recording.time_s < top.end_s)
    assert top.value("thrust_gf") == pytest.approx(
        recording.truth["thrust_gf"][at].mean(), rel=5e-3
    )
    assert top.value("current_a") == pytest.approx(
        1.05 * recording.truth["current_a"][at].mean(), rel=5e-3
    )
    assert top.value("torque_nm") == pytest.approx(
        recording.truth["torque_nm"][at].mean(), abs=6e-4
    )


def test_jittered_times_stay_in_order():
    recording = script.record(
        Physics(Mounted(MOTOR, PROP, 5e-6, STIFF)),
        Sensors(2),
        script.sweep(up_s=4.0),
        9.0,
        jitter_s=0.005,
    )
    steps = np.diff(recording.time_s)
    assert steps.min() >= 0
    assert steps.std() > 0.001


def test_a_sweep_down_again_ends_at_rest():
    throttle = script.sweep(up_s=4.0, rest_s=1.0, down=True)
    assert [throttle(at) for at in (0.5, 3.0, 5.0, 7.0, 9.5)] == [0, 50.0, 100.0, 50.0, 0]


@pytest.mark.parametrize("load", ["none", "flywheel"])
def test_what_else_a_shaft_may_carry(load):
    facts = {**FACTS, "load": load, "inertia_kg_mm2": 62.0}
    mounted = world.mounted_from(facts)
    assert mounted.propeller is None
    whole = mounted.load_inertia_kg_m2 + mounted.motor.inertia_kg_m2
    if load == "flywheel":
        assert whole == pytest.approx(62e-6)


@pytest.mark.parametrize("wrong", [{"load": "fan"}, {"load": "flywheel", "inertia_kg_mm2": 0}])
def test_a_load_that_cannot_be(wrong):
    with pytest.raises(PlanError):
        world.mounted_from({**FACTS, **wrong})
