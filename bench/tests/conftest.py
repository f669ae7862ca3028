"""Plans and benches for the tests."""

from typing import Any

import pytest

from spindle_bench.limits import Limits
from spindle_bench.plan import RunPlan
from spindle_bench.profiles import StepsProfile
from spindle_bench.rehearsal import VirtualBench
from spindle_bench.stand.device import SimulatedStand

FACTS: dict[str, Any] = {
    "motor": "Ostrel Drift 2206 1900", "sample": "A", "size_code": "2206", "kv_rpm_per_v": 1900,
    "propeller": "Wickett 5.1x4.2x3", "prop_diameter_in": 5.1, "prop_pitch_in": 4.2,
    "prop_blades": 3, "open_circuit_v": 16.0, "supply_resistance_ohm": 0.004, "trip_a": 55.0,
}  # fmt: skip


def make_plan(run_id="run-1", *, levels=(30.0, 60.0), limits=None, rate_hz=100.0, **facts):
    return RunPlan(
        run_id,
        StepsProfile(tuple(levels), dwell_s=2.0, ramp_pct_per_s=60.0, rest_s=2.5),
        limits or Limits(),
        {**FACTS, **facts},
        {"title": "a test"},
        rate_hz,
    )


@pytest.fixture
def bench():
    virtual = VirtualBench(SimulatedStand(seed=4))
    virtual.run_for(0.5)
    return virtual
