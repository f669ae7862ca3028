"""The box against a builder's needs, and masses brought to one lead length."""

import pytest

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Measured, Origin
from spindle_core.intake.parcel import Needs, Part, PartKind, check_parts, price_each
from spindle_core.motor.mass import LeadEvidence, OnTheScale, declared_mass, spread_of

SCALE = {"scale": 0.01}
RULER = {"ruler": 1.0}
SCREW = PartKind.MOUNTING_SCREW


def grams(value):
    return Measured(value, SCALE)


def millimetres(value):
    return Measured(value, RULER)


def states(parts, **needs):
    asked = Needs(**{"motors": 1, "arm_thickness_mm": 4.0, **needs})
    return {item.code: (item.state, item.message) for item in check_parts(parts, asked)}


def test_a_set_of_screws_without_a_spare_is_a_caution():
    four = states([Part(SCREW, 4)], mounting_holes=4)
    assert four["mounting_screws"][0] == "caution"
    assert "no spare" in four["mounting_screws"][1]
    assert states([Part(SCREW, 5)], mounting_holes=4)["mounting_screws"][0] == "good"
    assert states([Part(SCREW, 8)], mounting_holes=4, motors=4)["mounting_screws"][0] == "missing"


def test_an_unknown_pattern_says_what_it_assumed():
    assert "taking 4 holes" in states([])["mounting_screws"][1]


def test_which_screws_reach_through_the_arm():
    # 8 mm screw, 4 mm arm, 2.5 mm thread, 1.2 mm clearance: 4.0 > 3.7 hits the winding.
    inside = {"thread_depth_mm": 2.5, "clearance_mm": 1.2}
    state, _ = states([Part(SCREW, 4, length_mm=8.0)], **inside)["screw_length"]
    assert state == "missing"
    both = [
        item
        for item in check_parts(
            [Part(SCREW, 4, length_mm=8.0), Part(SCREW, 4, length_mm=6.5)], Needs(1, 4.0, **inside)
        )
        if item.code == "screw_length"
    ]
    assert [item.state for item in both] == ["missing", "good"]
    assert "winding" in both[0].message
    assert "6.5 mm hold" in both[1].message
    # 0.3 mm before the winding is nothing that a caliper can promise.
    close = [
        item
        for item in check_parts([Part(SCREW, 4, length_mm=7.4)], Needs(1, 4.0, **inside))
        if item.code == "screw_length"
    ]
    assert [item.state for item in close] == ["caution", "missing"]
    assert "may touch" in close[0].message


def test_reach_is_unknown_without_a_measured_thread():
    assert states([Part(SCREW, 4, length_mm=8.0)])["screw_length"][0] == "unknown"
    assert states([Part(SCREW, 4)])["screw_length"] == (
        "unknown",
        "No screw's length was measured.",
    )


def test_a_wrong_thread_is_named():
    found = states([Part(SCREW, 4, thread_mm=2.0, length_mm=6.0)], mount_thread_mm=3.0)
    assert found["screw_thread"] == ("missing", "Screws M2 do not go into a thread M3.")


def test_nuts_prop_screws_and_the_spare_of_the_bell():
    held = states([Part(PartKind.NUT, 2)], prop_hold="nut", motors=2, retention="circlip")
    assert held["nuts"][0] == "caution"
    assert held["bell_spare"][0] == "caution"
    screwed = states([Part(PartKind.CIRCLIP, 1)], prop_hold="two_screws", retention="circlip")
    assert screwed["prop_screws"][0] == "missing"
    assert screwed["bell_spare"] == ("good", "1 spare circlip for the bell.")


def test_impossible_boxes_are_refused():
    for parts, needs in (
        ([Part(SCREW, -1)], Needs(1, 4.0)),
        ([], Needs(0, 4.0)),
        ([], Needs(1, 0.0)),
    ):
        with pytest.raises(QuantityError):
            check_parts(parts, needs)


def test_price_of_one_motor():
    assert price_each(79.6, motors_for_it=4).value == pytest.approx(19.9)
    with_shipping = price_each(20.0, motors_for_it=2, shipping=5.0)
    assert with_shipping.value == pytest.approx(12.5)
    assert price_each(20.0, motors_for_it=1, guessed=True).origin is Origin.ESTIMATED
    assert isinstance(price_each(None, motors_for_it=1), Absent)
    with pytest.raises(QuantityError):
        price_each(20.0, motors_for_it=0)


def test_two_weighings_give_the_lead_and_the_mass_at_60_mm():
    mass = declared_mass(
        [OnTheScale(grams(28.60), millimetres(140)), OnTheScale(grams(26.35), millimetres(40))]
    )
    assert mass.lead_g_per_m.value == pytest.approx(7.5)
    assert mass.lead_from == "two weighings"
    assert mass.used == 1
    assert mass.mass_g.value == pytest.approx(26.80)
    # 3 leads × 7.5 g/m × 1 mm = 0.0225 g from the ruler; the scale's 0.01 g beside it.
    assert 0.02 < mass.mass_g.u < 0.04


def test_the_nut_is_taken_off_only_when_its_mass_is_known():
    weighed = [OnTheScale(grams(28.0), millimetres(60), nut_on=True)]
    unknown = declared_mass(weighed)
    assert isinstance(unknown.mass_g, Absent)
    assert "weigh the nut alone" in unknown.remarks[0]
    known = declared_mass(weighed, LeadEvidence(nut_g=grams(1.1)))
    assert known.mass_g.value == pytest.approx(26.9)
    assert known.mass_g.u == pytest.approx(0.01 * 2**0.5, rel=1e-3)


def test_offcut_then_gauge():
    one = [OnTheScale(grams(28.6), millimetres(140))]
    cut = declared_mass(
        one, LeadEvidence(offcut_mass_g=grams(0.6), offcut_length_mm=millimetres(80), gauge=20)
    )
    assert (cut.lead_from, cut.lead_g_per_m.value) == ("off-cut", pytest.approx(7.5))
    by_gauge = declared_mass(one, LeadEvidence(gauge=20))
    assert by_gauge.lead_from == "gauge"
    assert by_gauge.mass_g.origin is Origin.ESTIMATED
    assert by_gauge.mass_g.u > cut.mass_g.u


def test_without_evidence_only_a_weighing_at_the_length_itself_counts():
    assert isinstance(declared_mass([OnTheScale(grams(28), millimetres(140))]).mass_g, Absent)
    assert declared_mass([OnTheScale(grams(27), millimetres(60))]).mass_g.value == 27
    nothing = declared_mass([OnTheScale(grams(27), None)])
    assert nothing.mass_g.reason == "not_weighed"
    assert "how long the leads were" in nothing.remarks[0]


def test_weighings_that_contradict_each_other_are_remarked_and_not_used():
    mass = declared_mass(
        [OnTheScale(grams(26.0), millimetres(140)), OnTheScale(grams(26.4), millimetres(40))],
        LeadEvidence(gauge=20),
    )
    assert mass.lead_from == "gauge"
    assert any("longer leads weigh less" in remark for remark in mass.remarks)


def test_spread_of_samples():
    spread = spread_of([grams(26.8), grams(27.0), grams(26.6)])
    assert (spread.n, spread.s, spread.widest) == (3, pytest.approx(0.2), pytest.approx(0.4))
    assert spread.resolved
    assert not spread_of([grams(26.80), grams(26.81)]).resolved
    assert spread_of([grams(26.8)]).reason == "one_sample"
