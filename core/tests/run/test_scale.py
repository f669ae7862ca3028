"""Scales that do not show the thrust: levers and dead weights."""

import math

import pytest

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Measured, component, difference
from spindle_core.run.scale import DeadWeight, Geometry, Lever, total_disagrees

WEIGHTS = (DeadWeight("plate", 131.0), DeadWeight("clamp", 92.0))
READ = {component("within_run", "r/thrust_gf/1"): 0.3}


def test_dead_weights_are_added_and_a_wrong_sum_is_flagged():
    stand = Geometry("pull", weights=WEIGHTS)
    assert stand.added_g == 223.0
    assert stand.thrust_gf(Measured(742.0, READ)).value == 965.0
    assert total_disagrees(stand, 742.0, 965.0) == ""
    said = total_disagrees(stand, 742.0, 956.0)
    assert said == "956 g was typed; 742 + 131 (plate) + 92 (clamp) make 965 gf."
    # Read to 5 g, a total may be off by half of that.
    assert total_disagrees(stand, 742.0, 967.0, step_g=5.0) == ""
    assert total_disagrees(stand, 742.0, 968.0, step_g=5.0)


def test_a_lever_turns_grams_by_its_arms():
    stand = Geometry("arm", lever=Lever(168.0, 112.0, u_mm=0.5))
    figure = stand.thrust_gf(Measured(900.0, READ))
    assert figure.value == pytest.approx(600.0)
    expected = math.hypot(0.3 * 112 / 168, 600 * 0.5 / 168, 600 * 0.5 / 112)
    assert figure.u == pytest.approx(expected)
    assert not figure.assumed


def test_lever_and_weights_together_are_on_the_scales_side():
    stand = Geometry("arm", lever=Lever(200.0, 100.0), weights=WEIGHTS)
    assert stand.thrust_gf(Measured(177.0)).value == pytest.approx(200.0)
    assert "times 0.5 for the lever" in total_disagrees(stand, 177.0, 400.0)


def test_what_nobody_measured_is_assumed_and_marked():
    figure = Geometry("arm", lever=Lever(168.0, 112.0), weights=WEIGHTS[:1]).thrust_gf(
        Measured(900.0)
    )
    assert figure.assumed
    assert figure.component("assumed_lever") == pytest.approx(
        figure.value * math.hypot(1 / 168, 1 / 112)
    )
    assert figure.component("assumed_dead_weight") == pytest.approx(0.5 * 112 / 168)


def test_thrust_that_lifts_makes_a_scale_show_less():
    stand = Geometry("floor", lifts=True, rest_g=1500.0)
    assert stand.thrust_gf(Measured(1500.0)).value == 0.0
    figure = stand.thrust_gf(Measured(420.0, READ))
    assert (figure.value, figure.u) == (1080.0, pytest.approx(0.3))


def test_two_motors_on_one_stand_share_its_geometry():
    """1 % of both: what is shared goes with the difference, not with the figures."""
    stand = Geometry("arm", lever=Lever(100.0, 100.0, u_mm=1.0))
    one, other = (stand.thrust_gf(Measured(value)) for value in (1000.0, 990.0))
    assert one.u == pytest.approx(10.0 * math.sqrt(2))
    assert difference(one, other).u == pytest.approx(0.1 * math.sqrt(2))
    elsewhere = Geometry("another", lever=Lever(100.0, 100.0, u_mm=1.0)).thrust_gf(Measured(990.0))
    assert difference(one, elsewhere).u == pytest.approx(math.hypot(10, 9.9) * math.sqrt(2))


@pytest.mark.parametrize(
    "arms", [(0.0, 100.0), (100.0, -1.0), (math.nan, 100.0), (100.0, math.inf)]
)
def test_an_arm_is_a_length(arms):
    with pytest.raises(QuantityError) as caught:
        Lever(*arms)
    assert caught.value.code == "arm"


@pytest.mark.parametrize("mass", [-1.0, math.nan, math.inf])
def test_a_dead_weight_is_a_mass(mass):
    with pytest.raises(QuantityError) as caught:
        Geometry("pull", weights=[DeadWeight("plate", mass)])
    assert "'plate'" in str(caught.value)
