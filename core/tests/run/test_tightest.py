"""Which limit of a run binds."""

from __future__ import annotations

import math

import pytest

from spindle_core.errors import QuantityError
from spindle_core.run.tightest import Bound, tightest


def test_the_binding_limit_comes_first_and_the_unknown_are_named():
    found = tightest(
        [
            Bound("current_a", "most", 36.0, "motor rating"),
            Bound("voltage_v", "least", 13.2, "pack floor"),
            Bound("current_a", "most", 30.0, "ESC"),
            Bound("current_a", "most", None, "pack"),
            Bound("voltage_v", "least", 14.0, "somebody"),
            Bound("thrust_gf", "most", None, "stand"),
        ]
    )
    current, volts, thrust = found
    assert [row.source for row in current.known] == ["ESC", "motor rating"]
    assert current.binding == Bound("current_a", "most", 30.0, "ESC")
    assert current.unknown == ("pack",)
    assert volts.binding == Bound("voltage_v", "least", 14.0, "somebody")
    assert (thrust.binding, thrust.unknown) == (None, ("stand",))


def test_of_two_alike_the_first_named_binds():
    [found] = tightest(
        [Bound("current_a", "most", 30.0, "A"), Bound("current_a", "most", 30.0, "B")]
    )
    assert found.binding.source == "A"


@pytest.mark.parametrize("value", [0.0, -1.0, math.nan, math.inf])
def test_a_limit_is_a_number_above_nothing(value):
    with pytest.raises(QuantityError, match="ESC"):
        Bound("current_a", "most", value, "ESC")


def test_nothing_limits_nothing():
    assert tightest([]) == ()
