"""The made-up world: its truth is possible, repeatable and has the flaws of the scenario."""

import math

import pytest

from spindle_bench.errors import PlanError
from spindle_bench.stand import world
from spindle_bench.stand.physics import Physics
from spindle_core.model.operating_point import solve

from .conftest import FACTS


@pytest.mark.parametrize("name", sorted(world.MOTORS))
def test_every_motor_is_possible(name):
    *_, size, kv = name.split(" ")
    motor = world.true_motor(name, "A", size, float(kv))
    assert 0.02 < motor.electrical.resistance_ohm < 0.3
    assert motor.electrical.kv_rpm_per_v == pytest.approx(float(kv), rel=0.08)
    assert 5 < motor.mass_g < 80


def test_one_label_is_six_percent_optimistic():
    motor = world.true_motor("Ostrel Drift Lite 2205 2420", "A", "2205", 2420)
    assert motor.electrical.kv_rpm_per_v / 2420 == pytest.approx(0.943, abs=0.007)


def test_two_motors_perform_the_same_in_two_boxes():
    prop = world.true_propeller("Wickett 5.1x4.2x3", 5.1, 4.2, 3)
    points = [
        solve(world.true_motor(name, "A", size, kv).electrical, prop, voltage_v=16.0)
        for name, size, kv in (
            ("Ostrel Drift 2206 1900", "2206", 1900),
            ("Brackwater No. 4 2306 1800", "2306", 1800),
        )
    ]
    assert points[0].thrust_gf == pytest.approx(points[1].thrust_gf, rel=0.003)
    assert points[0].power_w == pytest.approx(points[1].power_w, rel=0.003)


def test_samples_of_one_model_differ_a_little_and_always_the_same_way():
    name = "Quillmoor Sable 2105.5 1950"
    first, second = (world.true_motor(name, mark, "2105.5", 1950) for mark in "AB")
    assert first == world.true_motor(name, "A", "2105.5", 1950)
    spread = first.electrical.kv_rpm_per_v / second.electrical.kv_rpm_per_v - 1
    assert 0 < abs(spread) < 0.013


def test_the_dry_bearing_costs_current_and_shakes():
    name = "Ostrel Drift Lite 2205 2420"
    good, dry = (world.true_motor(name, mark, "2205", 2420).electrical for mark in "AB")
    assert dry.no_load_current_a > 1.8 * good.no_load_current_a
    assert world.imbalance(name, "B") > 2 * world.imbalance(name, "A")


def test_a_motor_nobody_knows_gets_typical_constants():
    mounted = world.mounted_from(
        {**FACTS, "motor": "Tarnwick Plover 2207 1855", "size_code": "2207", "kv_rpm_per_v": 1855}
    )
    assert mounted.motor.electrical.kv_rpm_per_v == 1855
    physics = Physics(mounted)
    physics.advance(1.5, 100.0)
    assert 700 < physics.thrust_gf < 1600


@pytest.mark.parametrize("unknown", [{"supply_resistance_ohm": None}, {}])
def test_a_supply_whose_resistance_nobody_measured_has_a_usual_one(unknown):
    known = {name: value for name, value in FACTS.items() if name != "supply_resistance_ohm"}
    sags = [world.mounted_from({**known, **facts}).supply for facts in (unknown, FACTS)]
    assert 0.001 < sags[0].resistance_ohm < 0.02
    assert sags[1].resistance_ohm == FACTS["supply_resistance_ohm"]
    for wrong in (0, -0.004, "0,004", math.nan):
        with pytest.raises(PlanError, match="supply_resistance_ohm"):
            world.mounted_from({**known, "supply_resistance_ohm": wrong})


def test_what_nobody_noted_is_said_with_where_to_note_it():
    with pytest.raises(PlanError, match=r"without load; note it.* on the Rig page\.$"):
        world.mounted_from({**FACTS, "open_circuit_v": None})


@pytest.mark.parametrize(
    "wrong",
    [
        {"size_code": "4238"},
        {"kv_rpm_per_v": 0},
        {"kv_rpm_per_v": True},
        {"open_circuit_v": None},
        {"prop_blades": "three"},
    ],
)
def test_what_cannot_be_mounted(wrong):
    with pytest.raises(PlanError):
        world.mounted_from({**FACTS, **wrong})
