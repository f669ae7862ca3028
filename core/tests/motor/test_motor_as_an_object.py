"""The motor as an object: worked numbers of size, winding, leads, screws, fit and ceiling."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Measured, Origin
from spindle_core.intake.mounting_screw import ScrewOutcome, screw_reach
from spindle_core.intake.propeller_fit import Hub, Ring, Shaft, fits, propeller_fit, tip_clearance
from spindle_core.model.inertia import angular_acceleration_rad_per_s2, disc_kg_mm2, ring_kg_mm2
from spindle_core.model.operating_point import Motor
from spindle_core.motor.lead_wire import (
    Weighing,
    awg_diameter_mm,
    lead_resistance_ohm_per_m,
    mass_at_length,
    mass_per_length_from_gauge,
    mass_per_length_from_offcut,
    mass_per_length_from_weighings,
)
from spindle_core.motor.stator_trend import (
    TrendMotor,
    copper_room_index,
    motor_constant_nm_per_sqrt_w,
    stator_trend,
)
from spindle_core.motor.temperature_ceiling import enamel_limit, magnet_limit_c, temperature_ceiling
from spindle_core.motor.winding import slots_and_poles, winding_factor


@pytest.mark.parametrize(
    ("slots", "poles", "factor", "steps"),
    [(12, 14, 0.933, 84), (9, 12, 0.866, 36), (9, 8, 0.945, 72), (24, 28, 0.933, 168)],
)
def test_winding_factor_and_cogging(slots, poles, factor, steps):
    found = slots_and_poles(slots, poles)
    assert found.winding_factor == pytest.approx(factor, abs=5e-4)
    assert found.cogging_steps == steps


@pytest.mark.parametrize(
    ("slots", "poles"), [(12, 12), (12, 13), (10, 14), (9, 9), (12, 0), (9, 18)]
)
def test_impossible_slots_and_poles(slots, poles):
    with pytest.raises(QuantityError):
        slots_and_poles(slots, poles)


def test_winding_factor_is_that_of_its_complement():
    # N slots link P and 2N − P poles equally well.
    assert winding_factor(12, 10) == pytest.approx(winding_factor(12, 14))
    assert winding_factor(9, 10) == pytest.approx(winding_factor(9, 8))


def test_inertia_of_disc_and_ring():
    assert disc_kg_mm2(100.0, 20.0) == pytest.approx(20.0)
    assert ring_kg_mm2(100.0, 0.0, 20.0) == pytest.approx(20.0)
    assert ring_kg_mm2(12.0, 12.0, 14.0) == pytest.approx(0.5 * 0.012 * (144 + 196))
    assert angular_acceleration_rad_per_s2(0.05, 62.0) == pytest.approx(806.45, abs=0.01)
    with pytest.raises(QuantityError):
        ring_kg_mm2(12.0, 14.0, 12.0)


def weighed(mass, length, u_mass=0.01, u_length=0.5):
    return Weighing(
        Measured(mass, {"resolution": u_mass}), Measured(length, {"resolution": u_length})
    )


def test_lead_mass_of_the_worked_example():
    per_m = mass_per_length_from_weighings(weighed(28.60, 140.0), weighed(26.35, 40.0))
    assert per_m.value == pytest.approx(7.5)
    at_60 = mass_at_length(weighed(26.35, 40.0), per_m, lead_length_mm=60.0)
    assert at_60.value == pytest.approx(26.80)
    rng = np.random.default_rng(1)
    m1, m2 = rng.normal(28.60, 0.01, 100_000), rng.normal(26.35, 0.01, 100_000)
    l1, l2 = rng.normal(140, 0.5, 100_000), rng.normal(40, 0.5, 100_000)
    assert per_m.u == pytest.approx(np.std(1000 * (m1 - m2) / (3 * (l1 - l2))), rel=0.02)


def test_lead_wire_from_gauge_and_offcut():
    assert awg_diameter_mm(36) == pytest.approx(0.127)
    assert awg_diameter_mm(20) == pytest.approx(0.8118, abs=1e-4)
    assert lead_resistance_ohm_per_m(20) == pytest.approx(0.0333, abs=5e-5)
    estimated = mass_per_length_from_gauge(20)
    assert estimated.origin is Origin.ESTIMATED
    assert estimated.value == pytest.approx(0.5176 * 8.96 + 2.2, abs=0.01)
    cut = mass_per_length_from_offcut(Measured(0.60, {"r": 0.003}), Measured(80.0, {"r": 0.3}))
    assert cut.value == pytest.approx(7.5)


def test_wrong_weighings_are_refused():
    with pytest.raises(QuantityError) as caught:
        mass_per_length_from_weighings(weighed(26.0, 140.0), weighed(26.35, 40.0))
    assert caught.value.code == "mass_falls"
    with pytest.raises(QuantityError) as caught:
        mass_per_length_from_weighings(weighed(26.0, 40.2), weighed(26.35, 40.0))
    assert caught.value.code == "same_length"
    with pytest.raises(QuantityError):
        mass_per_length_from_gauge(21)


def test_screw_of_the_worked_example_hits_the_winding():
    found = screw_reach(8.0, arm_thickness_mm=4.0, thread_depth_mm=2.5, clearance_mm=1.2)
    assert found.outcome is ScrewOutcome.HITS_WINDING
    assert found.reach_mm == 4.0
    assert found.room_mm == pytest.approx(-0.3)


@pytest.mark.parametrize(
    ("length", "outcome"),
    [
        (5.0, ScrewOutcome.TOO_SHORT),
        (6.4, ScrewOutcome.GOOD),
        (7.0, ScrewOutcome.PAST_THREAD),
        (7.15, ScrewOutcome.PAST_THREAD),
        # 0.4 mm to spare is less than what five dimensions by hand may be off.
        (7.3, ScrewOutcome.MAY_TOUCH),
        (7.65, ScrewOutcome.MAY_TOUCH),
        (7.8, ScrewOutcome.HITS_WINDING),
    ],
)
def test_screw_outcomes(length, outcome):
    found = screw_reach(length, arm_thickness_mm=4.0, thread_depth_mm=2.5, clearance_mm=1.2)
    assert found.outcome is outcome


def test_a_short_thread_right_before_the_winding_is_a_hazard_first():
    """Too little thread, and no room either: what can break the motor is said."""
    found = screw_reach(5.6, arm_thickness_mm=4.0, thread_depth_mm=1.8, clearance_mm=0.1)
    assert found.engagement_mm == pytest.approx(1.6)
    assert found.outcome is ScrewOutcome.MAY_TOUCH
    assert "may touch" in found.message


@given(st.floats(3, 20), st.floats(0, 10), st.floats(0.5, 6), st.floats(0, 4))
def test_a_longer_screw_never_leaves_more_room(length, arm, thread, clearance):
    sizes = {"arm_thickness_mm": arm, "thread_depth_mm": thread, "clearance_mm": clearance}
    assert screw_reach(length + 1, **sizes).room_mm < screw_reach(length, **sizes).room_mm


SHAFT = Shaft(5.0, 13.0, nut_mm=5.0, washer_mm=0.5)


def states(findings):
    return {finding.code: finding.state for finding in findings}


def test_a_propeller_that_fits():
    found = propeller_fit(Hub(5.04, 6.5), SHAFT)
    assert states(found) == {"bore": "good", "nut_engagement": "good"}
    assert fits(found)


def test_bore_and_rings():
    assert states(propeller_fit(Hub(4.9, 6.5), SHAFT))["too_tight"] == "impossible"
    assert not fits(propeller_fit(Hub(6.0, 6.5), SHAFT))
    ring = Ring(5.02, 5.98, 4.0)
    assert fits(propeller_fit(Hub(6.0, 6.5), SHAFT, [ring]))
    tall = propeller_fit(Hub(6.0, 6.5), SHAFT, [Ring(5.02, 5.98, 7.0)])
    assert states(tall)["ring_above_hub"] == "impossible"


def test_nut_needs_shaft_to_hold_on():
    assert states(propeller_fit(Hub(5.04, 9.0), SHAFT))["nut_engagement"] == "impossible"
    assert states(propeller_fit(Hub(5.04, 8.0), SHAFT))["nut_engagement"] == "caution"


def test_two_hole_pattern():
    shaft = Shaft(1.5, 3.0, hole_circle_mm=5.0, screw_mm=2.0)
    good = propeller_fit(Hub(1.52, 3.0, 5.0, 2.2), shaft)
    assert states(good)["hole_pattern"] == "good"
    off = propeller_fit(Hub(1.52, 3.0, 6.0, 2.2), shaft)
    assert states(off)["hole_pattern"] == "impossible"
    assert states(propeller_fit(Hub(1.52, 3.0), shaft))["no_holes"] == "impossible"


def test_tip_clearance():
    assert tip_clearance(5.1, nearest_mm=90.0).state == "good"
    assert tip_clearance(7.0, nearest_mm=90.0).state == "caution"
    assert tip_clearance(7.5, nearest_mm=90.0).state == "impossible"


def test_temperature_ceiling_is_the_lowest_of_what_is_known():
    found = temperature_ceiling(enamel="H", magnet_grade="N52SH", own_limit_c=170.0)
    assert (found.winding_c, found.set_by, found.case_c) == (150.0, "magnets N52SH", 120.0)
    assert temperature_ceiling(enamel="F").case_c == 125.0
    assert temperature_ceiling().reason == "no_limit_known"
    assert [magnet_limit_c(g) for g in ("N52", "N48M", "N45H", "N42UH", "N38EH")] == [
        80.0,
        100.0,
        120.0,
        180.0,
        200.0,
    ]
    for wrong in ({"enamel": "Q"}, {"magnet_grade": "SmCo"}):
        with pytest.raises(QuantityError):
            temperature_ceiling(**wrong)


def test_stator_trend_finds_c_k_and_the_odd_one_out():
    sizes = [(21, 5.5), (22, 6), (23, 6), (28, 7), (14, 4), (15, 5), (20, 10)]
    motors = [
        TrendMotor(f"m{i}", d, h, math.sqrt(2e-9 * d**2 * h**2 / (h + 0.4 * d)))
        for i, (d, h) in enumerate(sizes)
    ]
    clean = stator_trend(motors)
    assert clean.k == pytest.approx(0.4, abs=0.01)
    assert clean.c == pytest.approx(2e-9, rel=0.01)
    better = TrendMotor("m1", 22, 6, 1.2 * motors[1].km_nm_per_sqrt_w)
    odd = stator_trend([motors[0], better, *motors[2:]])
    assert max(odd.residual_pct, key=odd.residual_pct.get) == "m1"
    assert isinstance(stator_trend(motors[:3]), Absent)
    assert motor_constant_nm_per_sqrt_w(Motor(1900.0, 0.09, 1.0)) == pytest.approx(
        0.016753, abs=1e-6
    )


def test_copper_room_grows_with_tooth_and_height():
    base = {"slots": 12, "tooth_length_mm": 5.0, "hub_diameter_mm": 9.0, "height_mm": 6.0}
    room = copper_room_index(**base)
    assert room == pytest.approx(0.5 * math.pi * (9.5**2 - 4.5**2) * 6.0)
    assert copper_room_index(**{**base, "tooth_length_mm": 6.0}) > room


@pytest.mark.parametrize(
    ("text", "degrees"),
    [
        ("H", 180),
        ("class h", 180),
        ("200", 200),
        ("220 °C", 220),
        ("180C", 180),
        ("class 200", 200),
    ],
)
def test_an_enamel_is_a_class_or_its_temperature(text, degrees):
    assert enamel_limit(text)[1] == degrees
    assert temperature_ceiling(enamel=text).winding_c == degrees


@pytest.mark.parametrize("text", ["", "Q", "20", "999", "very hot", "H200", "class"])
def test_an_enamel_that_is_neither(text):
    with pytest.raises(QuantityError, match="no class"):
        enamel_limit(text)
