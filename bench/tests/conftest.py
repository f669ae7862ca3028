"""Plans and benches for the tests."""

from typing import Any

import pytest

from spindle_bench.limits import Limits
from spindle_bench.plan import RunPlan
from spindle_bench.profiles import StepsProfile
from spindle_bench.rehearsal import VirtualBench
from spindle_bench.stand.device import SimulatedStand
from spindle_bench.states import State

FACTS: dict[str, Any] = {
    "motor": "Ostrel Drift 2206 1900",
    "sample": "A",
    "size_code": "2206",
    "kv_rpm_per_v": 1900,
    "propeller": "Wickett 5.1x4.2x3",
    "prop_diameter_in": 5.1,
    "prop_pitch_in": 4.2,
    "prop_blades": 3,
    "open_circuit_v": 16.0,
    "supply_resistance_ohm": 0.004,
    "trip_a": 55.0,
}


OPERATOR = 7


def make_plan(
    run_id="run-1",
    *,
    levels=(30.0, 60.0),
    limits=None,
    rate_hz=100.0,
    dwell_s=2.0,
    page_grace_s=2.0,
    **facts,
):
    limits = limits or Limits()
    return RunPlan(
        run_id,
        StepsProfile(tuple(levels), dwell_s=dwell_s, ramp_pct_per_s=60.0, rest_s=2.5),
        limits,
        {**FACTS, **facts},
        {"title": "a test", "operator": "Ilse", "operator_id": OPERATOR},
        rate_hz,
        dict.fromkeys(limits.off, "Ilse"),
        page_grace_s,
    )


def running(bench, plan=None, *, until_pct=30.0):
    """Arm, start, and let it come to a throttle."""
    bench.arm(plan or make_plan())
    bench.start()
    bench.run_for(12.0, until=lambda: bench.stand.throttle_pct >= until_pct)
    assert bench.engine.state is State.RUNNING


def cause(bench, kind, seconds=5.0):
    """Let the stand misbehave."""
    reply = bench.stand.handle(
        {"type": "fault", "seq": 1, "kind": kind, "seconds": seconds}, f"fault {kind}", bench.now
    )
    assert reply[0]["type"] == "ack", reply


def until_cut(bench, seconds=3.0, **options):
    """Let time pass until the stand's throttle is zero; how long that took [s]."""
    began = bench.now
    bench.run_for(seconds, until=lambda: bench.stand.throttle_pct == 0.0, **options)
    assert bench.stand.throttle_pct == 0.0
    return bench.now - began


def only_end(bench):
    """The one end record."""
    assert len(bench.recorder.ends) == 1
    return bench.recorder.ends[0]


@pytest.fixture
def bench():
    virtual = VirtualBench(SimulatedStand(seed=4))
    virtual.run_for(0.5)
    return virtual
