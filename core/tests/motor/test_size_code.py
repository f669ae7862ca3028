"""Size codes, their basis and what follows from them."""

import pytest

from spindle_core.errors import QuantityError, SizeCodeError
from spindle_core.figures.measured import Absent
from spindle_core.motor.size_code import (
    Basis,
    parse_size_code,
    propose_basis,
    stator_ring_mm3,
    stator_volume_mm3,
)


def test_decimal_height():
    code = parse_size_code("2105.5")
    assert (code.diameter_mm, code.height_mm, code.basis) == (21.0, 5.5, Basis.STATOR)
    assert code.aspect == pytest.approx(0.262, abs=5e-4)


def test_stator_volume_worked_example():
    assert stator_volume_mm3(parse_size_code("2105.5")) == pytest.approx(1905.0, abs=0.05)
    assert stator_ring_mm3(21, 5.5, hub_hole_mm=8) == pytest.approx(1628.5, abs=0.05)


@pytest.mark.parametrize(
    ("text", "basis"),
    [
        ("2207", Basis.STATOR),
        ("4238", Basis.OUTER_CAN),
        ("8x20", Basis.CASE),
        ("8 × 20", Basis.CASE),
    ],
)
def test_proposed_basis(text, basis):
    assert parse_size_code(text).basis is basis


def test_a_can_or_a_case_has_no_stator_volume():
    volume = stator_volume_mm3(parse_size_code("4238"))
    assert isinstance(volume, Absent)
    assert volume.reason == "basis_not_stator"


def test_mass_reveals_an_outer_can():
    heavy = parse_size_code("4220")
    assert propose_basis(heavy) is Basis.STATOR
    assert propose_basis(heavy, 150.0) is Basis.OUTER_CAN
    assert propose_basis(parse_size_code("2306"), 32.0) is Basis.STATOR


def test_basis_can_be_confirmed_against_the_proposal():
    assert parse_size_code("4238", "stator").basis is Basis.STATOR


@pytest.mark.parametrize(
    ("text", "diameter", "height"),
    [
        ("F2207", 22, 7),
        ("2306.5S", 23, 6.5),
        ("XM5010-TE", 50, 10),
        ("mx 2105.5 v", 21, 5.5),
        ("2207 KVX", 22, 7),
    ],
)
def test_letters_around_a_code(text, diameter, height):
    code = parse_size_code(text)
    assert (code.diameter_mm, code.height_mm, code.text) == (diameter, height, text)


@pytest.mark.parametrize(
    "text",
    [
        "",
        "2207 KV",
        "F",
        "ABCDE2207",
        "22-07",
        "F22",
        "2207kv",
        "220",
        "22077",
        "22.07",
        "x20",
        "0005",
        "twelve",
    ],
)
def test_unreadable_codes_are_refused(text):
    with pytest.raises(SizeCodeError) as caught:
        parse_size_code(text)
    assert caught.value.code == "size_code"


def test_impossible_hub():
    with pytest.raises(QuantityError):
        stator_ring_mm3(21, 5.5, hub_hole_mm=21)
