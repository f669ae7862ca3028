"""The watch after a stop, as frames come."""

import math

from spindle_bench.agent.aftermath import MOST, Aftermath
from spindle_bench.agent.frames import Delivered, FrameMaker
from spindle_bench.limits import Limits
from spindle_bench.states import State

from .test_kinds import played


def warm(seconds):
    return 22.0 + 50.0 * math.exp(-seconds / 140.0)


def test_nothing_is_watched_before_a_run():
    watch = Aftermath()
    watch.see(State.IDLE, 1.0, {"motor_temp_c": 60.0, "ambient_temp_c": 22.0})
    assert watch.as_json() is None


def test_it_begins_with_the_end_and_ends_with_the_next_begin():
    watch = Aftermath()
    watch.see(State.RUNNING, 1.0, {"motor_temp_c": 72.0, "ambient_temp_c": 22.0})
    assert watch.as_json() is None
    for i in range(100):
        values = {"motor_temp_c": warm(i), "ambient_temp_c": 22.0}
        watch.see(State.SAFE, 2.0 + i, values)
    found = watch.as_json()
    assert found["phase"] == "cooling"
    assert 150 < found["ready_in_s"] < 350
    watch.see(State.RUNNING, 200.0, {"motor_temp_c": 40.0})
    assert watch.as_json() is None


def test_a_long_watch_stays_bounded_and_keeps_its_peak():
    watch = Aftermath()
    watch.see(State.ABORTING, 0.0, {"ambient_temp_c": 22.0})
    for i in range(20 * MOST):
        watch.see(State.SAFE, 0.1 * i, {"motor_temp_c": warm(0.1 * i)})
    assert len(watch._times_s) <= MOST + 1
    assert watch.as_json()["phase"] == "ready"
    assert watch.as_json()["highest_c"] > 70


def test_a_clock_that_begins_anew_and_missing_readings():
    watch = Aftermath()
    watch.see(State.RUNNING, 100.0, {"ambient_temp_c": 22.0})
    watch.see(State.SAFE, 101.0, {"motor_temp_c": 70.0})
    watch.see(State.SAFE, None, {"motor_temp_c": 70.0})
    watch.see(State.SAFE, 103.0, {})
    watch.see(State.SAFE, 1.0, {"motor_temp_c": 60.0})
    assert watch._times_s == [1.0]
    # Without the air's temperature nothing is said.
    blind = Aftermath()
    blind.see(State.RUNNING, 1.0, {})
    blind.see(State.SAFE, 2.0, {"motor_temp_c": 70.0})
    assert blind.as_json() is None


def test_frames_carry_it_after_a_hot_run():
    bench = played("soak", Limits(motor_temp_c=110.0), level_pct=85, load_s=60, watch_s=20)
    frames = FrameMaker()
    frames._after.see(State.RUNNING, 0.0, {})
    for _ in range(40):
        bench.run_for(0.5)
        frame = frames.frame(bench.engine, Delivered())
    assert frame["after"]["phase"] in ("warming", "cooling")
    assert frame["ready_in_s"] == frame["after"]["ready_in_s"] > 0
