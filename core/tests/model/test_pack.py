"""Packs by chemistry, assumed resistance, several as one."""

from __future__ import annotations

import math

import pytest

from spindle_core.errors import QuantityError
from spindle_core.model.pack import (
    CHEMISTRIES,
    PackFacts,
    assumed_resistance,
    compose,
    rest_voltage_v,
)


def pack(name="a", cells=4, mah=1500.0, ohm=0.020, rate=50.0, chemistry="lipo"):
    return PackFacts(name, chemistry, cells, mah, ohm, rate)


def test_an_assumed_resistance_is_wide_and_says_so():
    found = assumed_resistance(4, 1500.0)
    assert found.ohm == pytest.approx(4 * 6.0 / 1500.0 + 0.002)
    assert found.u_ohm == pytest.approx(0.5 * found.ohm / math.sqrt(3.0))
    assert found.words == "18 mΩ ± 50 % (assumed from 4 cells of 1500 mAh)"


@pytest.mark.parametrize(("cells", "mah"), [(0, 1500.0), (4, 0.0), (4, math.nan), (-1, 100.0)])
def test_no_pack_no_resistance(cells, mah):
    with pytest.raises(QuantityError):
        assumed_resistance(cells, mah)


def test_floors_lie_below_nominal_and_full():
    for one in CHEMISTRIES.values():
        assert one.floor_v < one.nominal_v < one.full_v


def test_series_adds_volts_and_ohms_and_the_weaker_one_limits():
    found = compose([pack("a"), pack("b", cells=2, mah=1000.0, ohm=0.030, rate=30.0)], "series")
    assert (found.cells, found.capacity_mah) == (6, 1000.0)
    assert found.resistance_ohm == pytest.approx(0.050)
    assert (found.limit_a, found.limited_by) == (30.0, "b")


def test_parallel_shares_the_current_by_resistance():
    # a carries 0.04 of 0.06, b the rest: a reaches its 75 A at 112.5 A of the whole.
    found = compose([pack("a", ohm=0.020), pack("b", ohm=0.040)], "parallel")
    assert found.resistance_ohm == pytest.approx(0.020 * 0.040 / 0.060)
    assert (found.cells, found.capacity_mah) == (4, 3000.0)
    assert (found.limit_a, found.limited_by) == (pytest.approx(112.5), "a")


def test_a_limit_that_one_of_them_does_not_say_is_not_known():
    found = compose([pack("a"), pack("b", rate=None)], "parallel")
    assert (found.limit_a, found.limited_by) == (None, "")


@pytest.mark.parametrize(
    ("packs", "way", "said"),
    [
        ([pack()], "series", "two packs"),
        ([], "parallel", "two packs"),
        ([pack(), pack("b", chemistry="life")], "series", "chemistry"),
        ([pack(), pack("b", cells=3)], "parallel", "different cells"),
        ([pack(), pack("b", ohm=0.0)], "parallel", "above 0"),
    ],
)
def test_what_must_not_be_joined(packs, way, said):
    with pytest.raises(QuantityError, match=said):
        compose(packs, way)


@pytest.mark.parametrize(
    ("typed", "cells", "volts"),
    [(16.4, 4, 16.4), (4.1, 4, 16.4), (4.1, 1, 4.1), (24.9, 6, 24.9), (3.85, 6, 23.1)],
)
def test_a_resting_pack_is_told_whole_or_by_cell(typed, cells, volts):
    assert rest_voltage_v(typed, cells=cells) == pytest.approx(volts)


@pytest.mark.parametrize(("typed", "cells"), [(12.0, 6), (1.0, 4), (30.0, 4), (8.0, 4), (4.5, 1)])
def test_volts_that_are_neither(typed, cells):
    with pytest.raises(QuantityError, match="neither"):
        rest_voltage_v(typed, cells=cells)


def test_another_chemistry_has_other_volts():
    assert rest_voltage_v(13.2, cells=4, chemistry="life") == 13.2
    with pytest.raises(QuantityError):
        rest_voltage_v(16.8, cells=4, chemistry="life")
