"""Claims held against each other, and what applies to which kind of motor."""

import pytest

from spindle_core.errors import QuantityError
from spindle_core.intake.claim_checks import Claimed, check_claims
from spindle_core.intake.claim_quantities import CLAIMS, EXPECTED, check_claim
from spindle_core.intake.motor_kind import basis_conflict, not_applicable
from spindle_core.motor.size_code import parse_size_code

FULL = {"max_current_a": 26, "max_power_w": 420, "cells_max": 4, "mass_g": 24.8}


def remarks(values, *, words=(), size=None):
    claims = [Claimed(key, value, "", "box label") for key, value in values.items()]
    claims += [Claimed(key, None, text, "box label") for key, text in words]
    return {item.code: item for item in check_claims(claims, size=size)}


def test_implied_voltage_and_the_rating_that_binds():
    found = remarks(FULL)
    assert found["implied_voltage"].state == "fits"
    assert "16.15 V" in found["implied_voltage"].message
    assert "26 A bind, at 385 W" in found["binding"].message
    odd = remarks({**FULL, "cells_max": 6, "cells_min": 6})["implied_voltage"]
    assert odd.state == "odd"
    assert "19.8 to 25.2 V" in odd.message


def test_without_a_cell_count_nothing_is_judged():
    alone = remarks({"max_current_a": 26, "max_power_w": 420})
    assert alone["implied_voltage"].state == "fits"
    assert "no cell count" in alone["implied_voltage"].message


def test_ranges_the_wrong_way_round():
    assert remarks({"cells_min": 6, "cells_max": 4})["cells_min_reversed"].state == "odd"
    turned = remarks({"prop_min_in": 5.1, "prop_max_in": 4.0})["prop_min_in_reversed"]
    assert "5.1 in" in turned.message


def test_a_rating_the_copper_alone_would_burn():
    # 40² × 200 mΩ = 320 W of 420 W.
    hot = remarks({"max_current_a": 40, "max_power_w": 420, "resistance_mohm": 200})
    assert hot["copper_loss"].state == "odd"
    assert "320 W" in hot["copper_loss"].message
    assert remarks({**FULL, "resistance_mohm": 71})["copper_loss"].state == "fits"


def test_a_large_no_load_current():
    assert remarks({"no_load_current_a": 9, "max_current_a": 30})["no_load"].state == "odd"
    assert "no_load" not in remarks({"no_load_current_a": 1, "max_current_a": 30})


def test_two_sources_that_contradict_each_other():
    claims = [
        Claimed("max_current_a", 26, "", "box label"),
        Claimed("max_current_a", 34, "", "web page"),
        Claimed("mass_g", 24.8, "", "box label"),
        Claimed("mass_g", 24.9, "", "web page"),
        Claimed("magnet_grade", None, "N52H", "box label"),
        Claimed("magnet_grade", None, "n52h ", "web page"),
    ]
    differing = [item for item in check_claims(claims) if item.code == "sources_differ"]
    assert [item.message for item in differing] == [
        "Rated current: 26 A by box label, 34 A by web page."
    ]


def test_words_are_read_where_they_can_be():
    found = remarks({}, words=[("magnet_grade", "N52SH"), ("enamel_class", "F")])
    assert "150 °C" in found["magnet_grade"].message
    assert "155 °C" in found["enamel_class"].message
    odd = remarks({}, words=[("magnet_grade", "strong"), ("enamel_class", "X")])
    assert {odd["magnet_grade"].state, odd["enamel_class"].state} == {"odd"}


def test_a_stator_that_outweighs_its_motor():
    light = remarks({"mass_g": 20.0}, size=parse_size_code("2820", "stator"))
    assert light["basis_by_mass"].state == "odd"
    assert "basis_by_mass" not in remarks({"mass_g": 24.8}, size=parse_size_code("2105.5"))


def test_what_was_never_written_down():
    missing = remarks({"mass_g": 24.8})["missing"]
    assert missing.state == "missing"
    assert "rated current, rated power, most cells" in missing.message
    assert "missing" not in remarks(FULL)
    assert set(EXPECTED) <= set(CLAIMS)


@pytest.mark.parametrize(
    ("quantity", "value", "words", "says"),
    [
        ("mass_g", 28_000, "", "check the unit"),
        ("mass_g", None, "", "number in g"),
        ("magnet_grade", 52, "", "write the words"),
        ("magnet_grade", None, " ", "write the words"),
        ("colour", 1, "", "nothing that is claimed"),
        ("mass_g", 28, "heavy", "number in g"),
    ],
)
def test_a_claim_of_the_wrong_form_or_unit(quantity, value, words, says):
    with pytest.raises(QuantityError, match=says):
        check_claim(quantity, value, words)


def test_what_does_not_apply_to_a_brushed_can_is_absent_with_its_reason():
    assert not_applicable("outrunner", "slot_count") is None
    assert not_applicable("brushed", "slot_count").reason == "brushed_can"
    assert not_applicable("brushed", "twist_play") is not None
    assert not_applicable("brushed", "shaft_diameter") is None
    assert not_applicable("brushed", "total_height") is None


@pytest.mark.parametrize(
    ("kind", "basis", "odd"),
    [
        ("outrunner", "stator", False),
        ("outrunner", "case", True),
        ("brushed", "stator", True),
        ("brushed", "case", False),
        ("outrunner", "outer_can", False),
    ],
)
def test_kind_and_basis(kind, basis, odd):
    assert bool(basis_conflict(kind, basis)) is odd
