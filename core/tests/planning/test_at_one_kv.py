"""Rewinding changes the turns and nothing else."""

import pytest

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Measured
from spindle_core.planning.at_one_kv import at_one_kv, copper_figure, rewound
from spindle_core.planning.known import Foundation, KnownMotor, KnownPropeller
from spindle_core.planning.predict import KnownSupply

AIR, SUPPLY = Measured(1.225), KnownSupply(Measured(16.0), Measured(0.0))
PROPELLER = KnownPropeller(5.1, Measured(0.19), Measured(0.12), Foundation.IDENTIFIED, "identified")


def motor(kv=1900.0, ohm=0.06, idle=1.0, u=0.01):
    return KnownMotor(
        Measured(kv, {f"fit@{kv}": u * kv}),
        Measured(ohm, {f"fit_r@{kv}": 3 * u * ohm}),
        Measured(idle, {f"idle@{kv}": 0.05}),
        1e-5,
        Measured(1e-6),
        8.0,
        Foundation.IDENTIFIED,
        "runs",
    )


def test_other_turns_keep_the_copper_and_the_idle_torque():
    own, wound = motor(), rewound(motor(), 950.0)
    # Twice the turns: four times the resistance, half the idle current.
    assert wound.resistance_ohm.value == pytest.approx(0.24)
    assert wound.no_load_a.value == pytest.approx(0.5)
    assert wound.no_load_slope_a_per_rpm == pytest.approx(0.5e-5)
    assert wound.warming_ohm_per_a2.value == pytest.approx(16e-6)
    assert copper_figure(wound).value == pytest.approx(copper_figure(own).value)
    # kV that was 1 % uncertain makes R 2 % uncertain, with R's own 3 %.
    assert wound.resistance_ohm.relative_u == pytest.approx((0.03**2 + 0.02**2) ** 0.5, rel=0.01)
    assert "rewound to 950 rpm/V" in wound.words


def test_two_winds_of_one_design_differ_by_their_winding_alone():
    high = rewound(motor(), 2650.0)
    found = at_one_kv({"low": motor(), "high": high}, "low", 1900.0, PROPELLER, SUPPLY, AIR)
    two = found["high"]
    assert two.total_pct.value > 20.0
    assert two.design_pct.value == pytest.approx(0.0, abs=1e-6)
    assert two.winding_pct.value == pytest.approx(two.total_pct.value)
    assert isinstance(found["low"].total_pct, Absent)
    assert two.rewound["thrust_gf"].value == pytest.approx(found["low"].as_it_is["thrust_gf"].value)


def test_a_better_design_of_one_kv_has_no_winding_in_its_difference():
    found = at_one_kv(
        {"a": motor(), "b": motor(ohm=0.04)},
        "a",
        1900.0,
        PROPELLER,
        SUPPLY,
        AIR,
        figure="efficiency_g_per_w",
    )
    assert abs(found["b"].winding_pct.value) < 1e-6
    assert found["b"].design_pct.value == pytest.approx(found["b"].total_pct.value)
    assert found["b"].design_pct.u > 0


def test_what_does_not_turn_has_no_difference():
    stuck = motor(idle=400.0)
    found = at_one_kv({"a": motor(), "b": stuck}, "a", 1900.0, PROPELLER, SUPPLY, AIR)
    assert isinstance(found["b"].design_pct, Absent)


@pytest.mark.parametrize(
    ("words", "match"),
    [
        ({"reference": "c"}, "one of the motors"),
        ({"kv_rpm_per_v": 0.0}, "above 0"),
        ({"kv_rpm_per_v": float("nan")}, "above 0"),
        ({"figure": "beauty"}, "not 'beauty'"),
    ],
)
def test_questions_without_an_answer(words, match):
    asked = {"reference": "a", "kv_rpm_per_v": 1900.0, **words}
    with pytest.raises(QuantityError, match=match):
        at_one_kv(
            {"a": motor()}, propeller=PROPELLER, supply=SUPPLY, density_kg_per_m3=AIR, **asked
        )
