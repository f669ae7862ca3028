"""Propellers on collets, bolt-on studs and clamp plates, and on a shaft below the mount."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from spindle_core.errors import QuantityError
from spindle_core.intake.prop_adapters import (
    BoltOn,
    ClampPlate,
    Collet,
    ScrewHoles,
    Stud,
    below_the_mount,
    best_mounting,
)
from spindle_core.intake.propeller_fit import Hub, Ring, Shaft, fits, propeller_fit

FIVE = Hub(bore_mm=5.0, thickness_mm=6.0)
PIN = Shaft(diameter_mm=3.0, free_length_mm=9.0)
STUD = Stud(5.0, 14.0, nut_mm=5.0, washer_mm=0.5)
COLLET = Collet("Collet", 2.9, 3.2, STUD, grip_mm=8.0)


def codes(mounting, state):
    return {one.code for one in mounting.findings if one.state == state}


def test_a_bare_pin_of_3_mm_carries_a_bore_of_5_mm_by_a_collet_only():
    bare = best_mounting(FIVE, PIN)
    assert not fits(bare.findings)
    with_it = best_mounting(FIVE, PIN, adapters=[COLLET])
    assert fits(with_it.findings)
    assert (with_it.adapter, with_it.on) == ("Collet", STUD.shaft())
    assert "The collet holds on 8.0 of its 8 mm." in {one.message for one in with_it.findings}


@pytest.mark.parametrize(
    ("diameter", "taken"), [(2.89, False), (2.9, True), (3.2, True), (3.21, False)]
)
def test_a_collet_takes_its_range_and_its_ends_belong_to_it(diameter, taken):
    shaft, found = COLLET.carry(Shaft(diameter, 9.0))
    assert (shaft is not None) is taken
    assert fits(found) is taken


def test_a_collet_that_grips_a_stub_slips():
    assert COLLET.carry(Shaft(3.0, 6.3))[0] is None  # 79 % of 8 mm
    shaft, found = COLLET.carry(Shaft(3.0, 6.5))
    assert shaft is not None
    assert found[0].state == "caution"
    assert found[0].message == "The collet holds on 6.5 of its 8 mm."
    unknown = Collet("Collet", 2.9, 3.2, STUD)
    assert unknown.carry(Shaft(3.0, 1.0))[1][0].message.startswith("How deep")


def test_the_propeller_is_judged_on_the_collets_stud_not_on_the_motors_shaft():
    short = Collet("Short", 2.9, 3.2, Stud(5.0, 7.0, nut_mm=5.0), grip_mm=8.0)
    on, _ = short.carry(PIN)
    found = propeller_fit(FIVE, on)
    assert not fits(found)
    assert not fits(best_mounting(FIVE, PIN, adapters=[short]).findings)
    assert "1.0 mm of shaft for a nut of 5 mm" in " ".join(one.message for one in found)


def test_what_needs_no_adapter_gets_none():
    shaft = Shaft(5.0, 14.0, nut_mm=5.0)
    plain = best_mounting(FIVE, shaft, adapters=[Collet("C", 4.0, 6.0, STUD, 5.0)])
    assert (plain.adapter, plain.rings) == ("", ())


def test_a_ring_and_a_collet_are_weighed_against_each_other_by_what_is_wrong():
    ring = Ring(3.0, 5.0, 5.0)
    shaft = Shaft(3.0, 14.0, nut_mm=4.0)
    assert best_mounting(FIVE, shaft, rings=[ring], adapters=[COLLET]).adapter == ""
    # A ring above the hub lets the nut clamp the ring: now the collet is better.
    tall = Ring(3.0, 5.0, 7.0)
    assert best_mounting(FIVE, shaft, rings=[tall], adapters=[COLLET]).adapter == "Collet"


BELL = ScrewHoles(hole_circle_mm=5.0, screw_mm=2.0)
BOLT_ON = BoltOn("Bolt-on", 5.0, 2.2, STUD, bore_mm=1.6)


def test_a_bolt_on_stud_needs_holes_on_its_circle_and_room_for_the_shaft():
    pin = Shaft(1.5, 3.0, hole_circle_mm=5.0, screw_mm=2.0)
    on = best_mounting(FIVE, pin, adapters=[BOLT_ON])
    assert on.adapter == "Bolt-on"
    assert fits(on.findings)
    assert (
        BOLT_ON.carry(None, ScrewHoles())[1][0].message
        == "The bell has no screw holes for the adapter."
    )
    wrong = BoltOn("Wide", 6.0, 2.2, STUD, bore_mm=2.0)
    assert not fits(wrong.carry(None, BELL)[1])
    thick = wrong.carry(Shaft(2.5, 4.0), BELL)[1]
    assert {one.code for one in thick if one.state == "impossible"} == {"bolt_on", "bolt_on_bore"}
    unknown = BoltOn("Blind", 5.0, 2.2, STUD).carry(pin, BELL)[1]
    assert [one.code for one in unknown if one.state == "caution"] == ["bolt_on_bore"]
    # No shaft sticks out: nothing has to go into the bore.
    assert [one.code for one in BoltOn("Blind", 5.0, 2.2, STUD).carry(None, BELL)[1]] == ["bolt_on"]


def test_a_bell_without_a_shaft_takes_a_bolt_on_by_its_seat():
    none = best_mounting(FIVE, None)
    assert none.on is None
    assert codes(none, "impossible") == {"no_shaft"}
    on = best_mounting(FIVE, None, seat=BELL, adapters=[COLLET, BOLT_ON])
    assert on.adapter == "Bolt-on"
    assert fits(on.findings)


PLATE = ClampPlate("Plate", hole_mm=3.2, hole_circle_mm=12.0, screw_hole_mm=2.2)


def test_a_plate_holds_a_hub_without_holes_and_says_that_an_eye_must_look():
    shaft = Shaft(5.0, 9.0, hole_circle_mm=12.0, screw_mm=2.0)
    plate = ClampPlate("Plate", 5.2, 12.0, 2.2)
    bare = best_mounting(FIVE, shaft)
    assert codes(bare, "impossible") == {"no_holes"}
    pressed = best_mounting(FIVE, shaft, adapters=[plate])
    assert pressed.adapter == "Plate"
    assert fits(pressed.findings)
    assert codes(pressed, "caution") == {"plate_hub"}
    assert "no_holes" not in {one.code for one in pressed.findings}


def test_a_plate_does_not_make_holes_meet_that_do_not():
    shaft = Shaft(5.0, 9.0, hole_circle_mm=12.0, screw_mm=2.0)
    hub = Hub(5.0, 6.0, hole_circle_mm=9.0, hole_mm=2.2)
    found = best_mounting(hub, shaft, adapters=[ClampPlate("Plate", 5.2, 12.0, 2.2)])
    assert not fits(found.findings)


def test_a_plate_needs_a_shaft_a_hole_wide_enough_and_screws():
    shaft = Shaft(5.0, 9.0)
    assert not fits(PLATE.press(FIVE, shaft, ScrewHoles()))
    tight = PLATE.press(FIVE, shaft, ScrewHoles(12.0, 2.0))
    assert tight[0].message == "The plate's hole (3.2 mm) does not go over the shaft (5 mm)."
    loose = ClampPlate("P", 6.0, 12.0, 2.2).press(FIVE, shaft, ScrewHoles(12.0, 2.0))
    assert loose[0].state == "caution"
    assert best_mounting(FIVE, None, adapters=[PLATE]).on is None


def test_a_shaft_below_the_mount_loses_the_arm():
    left, found = below_the_mount(
        Shaft(5.0, 14.0, nut_mm=5.0, hole_circle_mm=12.0), arm_thickness_mm=4.0
    )
    assert left is not None
    assert left.free_length_mm == 10.0
    assert left.nut_mm == 5.0
    # Screws into the bell are on the other side.
    assert left.hole_circle_mm is None
    assert "10.0 mm are left behind an arm of 4 mm" in found[0].message
    # 10 mm less a hub of 6 mm hold a nut on 4 of 5 mm.
    assert codes(best_mounting(FIVE, left), "caution") == {"nut_engagement"}


@pytest.mark.parametrize("arm", [14.0, 20.0])
def test_a_shaft_that_ends_in_the_arm_carries_nothing(arm):
    left, found = below_the_mount(Shaft(5.0, 14.0), arm_thickness_mm=arm)
    assert left is None
    assert not fits(found)


def test_nonsense_is_refused():
    with pytest.raises(QuantityError, match="comes first"):
        Collet("Turned", 3.2, 2.9, STUD).carry(PIN)
    with pytest.raises(QuantityError, match="not thinner"):
        below_the_mount(PIN, arm_thickness_mm=-1.0)


@given(
    bore=st.floats(1.0, 12.0),
    diameter=st.floats(0.8, 12.0),
    low=st.floats(0.5, 6.0),
    wide=st.floats(0.0, 2.0),
    stud=st.floats(1.0, 10.0),
)
def test_an_adapter_more_never_makes_it_worse(bore, diameter, low, wide, stud):
    hub, shaft = Hub(bore, 5.0), Shaft(diameter, 10.0)
    collet = Collet("C", low, low + wide, Stud(stud, 12.0, nut_mm=4.0), grip_mm=6.0)
    without, with_it = best_mounting(hub, shaft), best_mounting(hub, shaft, adapters=[collet])
    assert fits(with_it.findings) >= fits(without.findings)
    if with_it.adapter:
        assert low <= diameter <= low + wide
