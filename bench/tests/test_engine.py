"""The engine in virtual time: the state table, every cut, and safe confirmed by read-back."""

import dataclasses

import numpy as np
import pytest

from spindle_bench.errors import RefusedError
from spindle_bench.limits import Limits
from spindle_bench.rehearsal import rehearse
from spindle_bench.stand.device import SimulatedStand
from spindle_bench.states import Outcome, State
from spindle_core.model.operating_point import solve
from spindle_core.reduction import reduce_trace
from spindle_core.run.trace import Trace

from .conftest import cause, make_plan, only_end, running, until_cut


def settled(bench, seconds=6.0):
    bench.to_rest(seconds)


def test_a_whole_run_ends_safe_and_completed():
    bench = rehearse(make_plan(), SimulatedStand(seed=4))
    assert bench.engine.state is State.SAFE
    assert only_end(bench).outcome is Outcome.COMPLETED
    assert (bench.stand.armed, bench.stand.throttle_pct) == (False, 0.0)
    duration = bench.recorder.times_s[-1] - bench.recorder.times_s[0]
    assert duration == pytest.approx(bench.engine.progress()["total_s"], abs=0.3)


def test_every_sample_is_recorded_once():
    bench = rehearse(make_plan(), SimulatedStand(seed=4))
    assert np.allclose(np.diff(bench.recorder.times_s), 0.01)


def test_a_recorded_run_gives_back_the_truth():
    """Reduced figures agree with the closed solution of the true constants."""
    stand = SimulatedStand(seed=11)
    bench = rehearse(make_plan(levels=(40.0, 70.0), rate_hz=200.0), stand)
    rows = np.array(bench.recorder.rows, dtype=float)
    channels = {name: rows[:, i] for i, name in enumerate(bench.recorder.channels)}
    result = reduce_trace(Trace(np.array(bench.recorder.times_s), channels))
    mounted = stand.physics.mounted
    for point, duty in zip(result.points, (0.4, 0.7), strict=True):
        truth = solve(
            mounted.motor.electrical,
            mounted.propeller,
            voltage_v=16.0,
            duty=duty,
            density_kg_per_m3=1.2,
            pack_resistance_ohm=0.004,
        )
        # The winding is a few kelvin warmer than the 20 °C of the closed solution.
        assert point.value("thrust_gf") == pytest.approx(truth.thrust_gf, rel=0.012)
        assert point.value("current_a") == pytest.approx(truth.current_a, rel=0.015)
        assert point.value("speed_rpm") == pytest.approx(truth.speed_rpm, rel=0.006)


def test_the_stop_key_cuts_in_the_same_step_and_keeps_the_data(bench):
    running(bench)
    bench.engine.stop(bench.now, by="Tomas")
    assert bench.stand.throttle_pct == 0.0
    settled(bench)
    assert bench.engine.state is State.SAFE
    end = only_end(bench)
    assert (end.outcome, end.reason, end.by) == (Outcome.STOPPED, "Stopped by Tomas.", "Tomas")
    assert len(bench.recorder.rows) > 200


def test_the_stop_key_disarms(bench):
    bench.arm(make_plan())
    bench.engine.stop(bench.now)
    settled(bench)
    assert bench.engine.state is State.SAFE
    assert not bench.stand.armed
    assert bench.recorder.begun == 0


@pytest.mark.parametrize(
    ("limits", "code"),
    [
        (Limits(current_a=2.0), "limit_current_a"),
        (Limits(motor_temp_c=21.3), "limit_motor_temp_c"),
        (Limits(thrust_gf=200.0), "limit_thrust_gf"),
        (Limits(voltage_floor_v=15.97), "limit_voltage_v"),
    ],
)
def test_each_limit_cuts_within_one_sample(bench, limits, code):
    running(bench, make_plan(levels=(60.0,), limits=limits), until_pct=5.0)
    bench.run_for(8.0, until=lambda: bench.engine.state is State.ABORTING)
    assert bench.stand.throttle_pct == 0.0
    channel = code.removeprefix("limit_")
    column = bench.recorder.channels.index(channel)
    values = [row[column] for row in bench.recorder.rows]
    limit = limits.voltage_floor_v if channel == "voltage_v" else getattr(limits, channel)
    beyond = [v < limit if channel == "voltage_v" else v > limit for v in values]
    assert beyond.index(True) == len(values) - 1
    settled(bench)
    end = only_end(bench)
    assert (end.outcome, end.code) == (Outcome.LIMIT, code)


def test_after_a_limit_the_zero_is_still_recorded(bench):
    running(bench, make_plan(levels=(60.0,), limits=Limits(current_a=4.0)), until_pct=5.0)
    settled(bench, 12.0)
    rest = [row[0] for row in bench.recorder.rows[-250:]]
    assert rest == [0.0] * 250


@pytest.mark.parametrize(
    ("fault", "code"),
    [
        ("lost_rpm", "lost_rpm"),
        ("lost_temperature", "lost_motor_temp_c"),
        ("thrust_spike", "limit_thrust_gf"),
        ("hot", "limit_motor_temp_c"),
    ],
)
def test_sensor_faults_cut(bench, fault, code):
    running(bench, make_plan(levels=(60.0,), limits=Limits(thrust_gf=2000)))
    cause(bench, fault)
    bench.run_for(1.0, until=lambda: bench.engine.state is State.ABORTING)
    assert bench.stand.throttle_pct == 0.0
    settled(bench, 8.0)
    assert only_end(bench).code == code


def test_samples_that_stop_coming_cut(bench):
    running(bench)
    cause(bench, "freeze")
    assert until_cut(bench) <= 0.33
    settled(bench)
    assert only_end(bench).code == "no_samples"
    assert bench.engine.state is State.SAFE


def test_a_dead_link_ends_in_fault_while_the_stand_cuts_itself(bench):
    running(bench)
    bench.link_up = False
    began = bench.now
    bench.run_for(3.0, until=lambda: bench.stand.throttle_pct == 0.0)
    assert bench.now - began <= 0.42
    bench.run_for(3.0)
    assert bench.engine.state is State.FAULTED
    assert only_end(bench).outcome is Outcome.FAULT
    assert "by hand" in bench.engine.message


def test_a_fault_is_left_only_by_reset_and_read_back(bench):
    test_a_dead_link_ends_in_fault_while_the_stand_cuts_itself(bench)
    with pytest.raises(RefusedError):
        bench.arm(make_plan("run-2"))
    bench.link_up = True
    bench.engine.reset(bench.now)
    bench.run_for(0.5)
    assert bench.engine.state is State.IDLE
    bench.arm(make_plan("run-2"))
    assert bench.engine.state is State.ARMED


def test_safe_is_not_claimed_without_read_back(bench):
    """A stand that keeps its throttle despite every stop is a fault, not safe."""
    running(bench)
    honest = SimulatedStand.handle

    def deaf(self, message, client, now):
        return [] if message["type"] == "stop" else honest(self, message, client, now)

    object.__setattr__(bench, "stand", _Wrapped(bench.stand, deaf))
    bench.engine.stop(bench.now)
    bench.run_for(2.0)
    assert bench.engine.state is State.FAULTED
    assert len(bench.recorder.ends) == 1


class _Wrapped:
    def __init__(self, stand, handle):
        self._stand, self._handle = stand, handle

    def handle(self, message, client, now):
        return self._handle(self._stand, message, client, now)

    def __getattr__(self, name):
        return getattr(self._stand, name)


def test_a_disconnect_is_a_fault(bench):
    running(bench)
    bench.engine.disconnected(bench.now)
    assert bench.engine.state is State.FAULTED
    assert only_end(bench).code == "link_lost"


def test_the_stand_cutting_by_itself_ends_the_run(bench):
    running(bench)
    bench.stand.handle({"type": "stop", "seq": 1}, 9, bench.now)
    settled(bench)
    assert only_end(bench).outcome is Outcome.STOPPED
    assert bench.engine.state is State.SAFE


def test_arming_is_refused_when_it_does_not_fit(bench):
    bench.arm(make_plan())
    with pytest.raises(RefusedError) as caught:
        bench.arm(make_plan("run-2"))
    assert caught.value.code == "state"


def test_a_refused_mount_leaves_the_bench_idle_and_the_stand_disarmed(bench):
    with pytest.raises(RefusedError) as caught:
        bench.arm(make_plan(size_code="8x20"))
    assert caught.value.code == "stand_refused"
    assert bench.engine.state is State.IDLE
    assert not bench.stand.armed


def test_start_needs_arming(bench):
    with pytest.raises(RefusedError):
        bench.engine.start(bench.now, run_id="run-1")


def test_an_armed_bench_does_not_stay_armed_for_ever(bench):
    bench.arm(make_plan())
    bench.run_for(60.0)
    assert bench.engine.state is State.ARMED
    bench.run_for(35.0)
    assert bench.engine.state is State.SAFE
    assert not bench.stand.armed


def test_throttle_is_never_sent_after_a_cut(bench):
    running(bench)
    bench.engine.stop(bench.now)
    cut = len(bench.sent)
    bench.run_for(3.0)
    assert not [m for _, m in bench.sent[cut:] if m["type"] == "throttle"]


def test_a_supply_that_trips_is_a_lost_speed(bench):
    plan = make_plan(levels=(100.0,), trip_a=10.0)
    running(bench, plan, until_pct=60.0)
    settled(bench, 12.0)
    assert only_end(bench).code == "lost_rpm"


def test_runs_can_follow_each_other(bench):
    for name in ("run-1", "run-2"):
        bench.arm(dataclasses.replace(make_plan(), run_id=name))
        bench.start()
        settled(bench, 20.0)
    assert [end.outcome for end in bench.recorder.ends] == [Outcome.COMPLETED] * 2
