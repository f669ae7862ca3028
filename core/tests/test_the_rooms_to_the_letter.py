"""Tables of the core's rooms written down a second time, and bounds that a change got past: what
a study of small changes found unwatched."""

from __future__ import annotations

import pytest

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Measured
from spindle_core.identification.motor import COPPER_SHARE, HEAT_MODEL_SHARE
from spindle_core.intake.claim_checks import MOST_COPPER_SHARE
from spindle_core.intake.claim_quantities import CLAIMS
from spindle_core.match.electrics import (
    ESC_MARGINS,
    STANDARD_ESC_A,
    diameter_for_equal_power_in,
    kv_at_other_voltage,
)
from spindle_core.model.correction import EXPONENTS
from spindle_core.model.propeller import FAMILY_FACTORS
from spindle_core.model.thermal import kv_at_rpm_per_v
from spindle_core.motor.lead_wire import SILICONE_G_PER_M
from spindle_core.rank.dominance import Priced, marginal_price
from spindle_core.reduction.soak_losses import COPPER_SHARE as COPPER_SHARE_OF_A_SOAK


def test_the_tables():
    assert SILICONE_G_PER_M == {
        12: 9.6,
        14: 6.9,
        16: 5.1,
        18: 3.3,
        20: 2.2,
        22: 1.8,
        24: 1.5,
        26: 1.1,
        28: 0.8,
        30: 0.6,
    }
    assert (
        *(5, 6, 8, 10, 12, 15, 20, 25, 30, 35, 40, 45),
        *(50, 55, 60, 65, 70, 80, 90, 100, 120, 150),
    ) == STANDARD_ESC_A
    assert ESC_MARGINS == (1.0, 1.2)
    assert EXPONENTS == {
        "thrust_gf": (1.7, 0.65),
        "power_w": (2.5, 0.60),
        "current_a": (1.5, 0.60),
        "speed_rpm": (0.85, -0.175),
    }
    assert FAMILY_FACTORS == {
        "slow-fly": (1.10, 1.12),
        "sport": (1.00, 1.00),
        "racing": (0.98, 1.00),
        "bullnose": (1.06, 1.10),
    }


def test_shares():
    # Of the effective resistance the same part is copper, wherever it is asked.
    assert COPPER_SHARE == COPPER_SHARE_OF_A_SOAK == 0.8
    assert HEAT_MODEL_SHARE == 0.10
    assert MOST_COPPER_SHARE == 0.4


@pytest.mark.parametrize(
    ("key", "low", "high"),
    [
        ("resistance_mohm", 1, 5000),
        ("prop_min_in", 0.5, 40),
        ("prop_max_in", 0.5, 40),
        ("no_load_current_a", 0.01, 20),
        ("max_thrust_gf", 1, 50_000),
    ],
)
def test_what_can_be_claimed(key, low, high):
    assert (CLAIMS[key].low, CLAIMS[key].high) == (low, high)


@pytest.mark.parametrize("bad", [0.0, -1.0])
def test_nothing_follows_from_a_voltage_of_nothing(bad):
    for arguments in ((bad, 1.0, 1.0), (1.0, bad, 1.0), (1.0, 1.0, bad)):
        first, from_v, to_v = arguments
        with pytest.raises(QuantityError):
            diameter_for_equal_power_in(first, from_v=from_v, to_v=to_v)
        with pytest.raises(QuantityError):
            kv_at_other_voltage(first, from_v=from_v, to_v=to_v)
    # Half an inch and half a volt are small, and nothing is wrong with them.
    assert diameter_for_equal_power_in(0.5, from_v=0.5, to_v=0.5) == pytest.approx(0.5)
    assert kv_at_other_voltage(0.5, from_v=0.5, to_v=0.5) == pytest.approx(0.5)


@pytest.mark.parametrize("kv", [0.0, -10.0])
def test_a_motor_turns_for_its_volts(kv):
    with pytest.raises(QuantityError, match="kV must be above 0"):
        kv_at_rpm_per_v(kv, 20.0)
    assert kv_at_rpm_per_v(10.0, 20.0) == 10.0


def test_a_marginal_price_takes_small_things_and_no_nothing():
    def priced(name, price, mass_g, figure):
        return Priced(name, price, Measured(mass_g), Measured(figure))

    dear, cheap = ("a", 0.9, 0.5, 0.8), ("b", 0.6, 0.9, 0.5)
    found = marginal_price(priced(*dear), priced(*cheap))
    assert found.extra == pytest.approx(0.3)
    for spoilt in (1, 2, 3):
        for which in (0, 1):
            pair = [list(dear), list(cheap)]
            pair[which][spoilt] = 0.0
            if which == 0 and spoilt == 1:
                continue  # then the other is the dearer one
            with pytest.raises(QuantityError, match="above 0"):
                marginal_price(priced(*pair[0]), priced(*pair[1]))
