"""Which craft a motor suits, what another battery asks for, and what a change does."""

import math

import pytest
from known_things import motor

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Measured
from spindle_core.match.craft import Craft, Layout, MassItem
from spindle_core.match.picks import Candidate, match
from spindle_core.match.suits import at_other_voltage, change, mass_range, window


def test_a_motor_suits_a_range_of_craft_and_asks_for_a_pack():
    thrust, amps = Measured(1180.0, {"repeat": 11.8}), Measured(38.6, {"repeat": 0.4})
    found = mass_range(thrust, amps, motors=4, rated_c=75.0, least_thrust_to_weight=8.0)
    # 4 × 1,180 gf on 590 g is a ratio of 8.00, never 2.00.
    assert found.heaviest_g.value == pytest.approx(590.0)
    assert found.lightest_g.value < found.heaviest_g.value
    assert found.least_capacity_mah.value == pytest.approx(1000 * 4 * 38.6 / 75.0)
    # None of them is known better than what it follows from.
    assert found.heaviest_g.relative_u == pytest.approx(0.01)
    assert found.least_capacity_mah.relative_u == pytest.approx(0.4 / 38.6)
    share = Measured(0.85, {"assumed_coaxial_share": 0.03})
    pairs = mass_range(thrust, amps, motors=8, rated_c=75.0, thrust_share=share)
    assert pairs.heaviest_g.value == pytest.approx(8 * 1180 * 0.85 / 3.0)
    assert pairs.heaviest_g.relative_u == pytest.approx(math.hypot(0.01, 0.03 / 0.85))
    assert pairs.heaviest_g.assumed


FIGURES = ("max_thrust_gf", "peak_current_a", "thrust_share")


@pytest.mark.parametrize(
    "wrong",
    [
        {"max_thrust_gf": 0.0},
        {"peak_current_a": -1.0},
        {"motors": 0},
        {"rated_c": 0.0},
        {"least_thrust_to_weight": 13.0},
        {"thrust_share": 0.0},
    ],
)
def test_impossible_craft_are_refused(wrong):
    usual = {"max_thrust_gf": 1000.0, "peak_current_a": 30.0, "motors": 4, "rated_c": 75.0}
    values = {
        name: Measured(value) if name in FIGURES else value
        for name, value in {**usual, **wrong}.items()
    }
    with pytest.raises(QuantityError):
        mass_range(values.pop("max_thrust_gf"), values.pop("peak_current_a"), **values)


def test_more_cells_want_less_kv_a_smaller_propeller_and_a_heavier_load():
    known = motor(ohm=0.052, idle=1.1, u_kv=19.0, u_ohm=0.004)
    found = at_other_voltage(known, diameter_in=5.1, from_v=14.8, to_v=22.2)
    assert found.kv_rpm_per_v.value == pytest.approx(1266.7, abs=0.1)
    assert found.kv_rpm_per_v.relative_u == pytest.approx(0.01)
    assert found.diameter_in == pytest.approx(4.0, abs=0.01)
    assert found.best_now.current_a.value == pytest.approx(17.69, abs=0.01)
    assert found.best_now.efficiency_pct.value == pytest.approx(88.0, abs=0.1)
    # I* rises with √V, and is known as well as √R.
    assert found.best_then.current_a.value == pytest.approx(17.69 * 1.5**0.5, abs=0.02)
    assert found.best_then.current_a.relative_u == pytest.approx(0.5 * 0.004 / 0.052)
    idle = at_other_voltage(motor(idle=0.0), diameter_in=5.0, from_v=15, to_v=22)
    assert isinstance(idle.best_now, Absent)


def test_a_window_needs_three_and_names_both_sides():
    assert isinstance(window([150e3, 160e3]), Absent)
    assert isinstance(window([150e3, float("nan"), -1.0, 160e3]), Absent)
    found = window([150e3, 190e3, 170e3])
    assert (found.low, found.high, found.n) == (150e3, 190e3, 3)
    assert [found.says(value) for value in (149e3, 150e3, 191e3)] == ["light", "within", "heavy"]


def seat(name, thrust, amps, hover_a, hover_w, mass=30.0):
    hover = {
        "current_a": Measured(hover_a),
        "power_w": Measured(hover_w),
        "throttle_pct": Measured(30.0),
    }
    return Candidate(name, Measured(mass), Measured(thrust), Measured(amps), {}, at_hover=hover)


def test_a_change_is_told_for_the_craft_and_its_price_for_all_motors():
    craft = Craft(Layout.MULTIROTOR, 4, 4, (MassItem("frame", 480.0),))
    now, then = match(
        craft,
        [seat("now", 1180.0, 38.6, 5.0, 80.0), seat("then", 1097.4, 30.5, 4.6, 72.0, 28.0)],
        capacity_mah=1500.0,
    )
    found = change(now, then, motors=4, price_each=Measured(21.9))
    assert found.mass_g.value == pytest.approx(-8.0)
    assert found.thrust_pct.value == pytest.approx(-7.0, abs=0.01)
    assert found.peak_current_pct.value == pytest.approx(-21.0, abs=0.05)
    assert found.minutes.value == pytest.approx(then.minutes.value - now.minutes.value)
    assert found.hover_current_pct.value == pytest.approx(-8.0)
    assert found.price.value == pytest.approx(87.6)
    unknown = change(now, then, motors=4, price_each=Absent("no_price", "no price on record"))
    assert isinstance(unknown.price, Absent)


def test_a_change_from_what_does_not_hover_has_no_minutes():
    craft = Craft(Layout.MULTIROTOR, 4, 4, (MassItem("frame", 480.0),))
    now = Candidate("now", Measured(30.0), Measured(100.0), Measured(5.0), {}, at_hover={})
    both = match(craft, [now, seat("then", 1000.0, 30.0, 5.0, 80.0)], capacity_mah=1500.0)
    found = change(both[0], both[1], motors=4, price_each=Measured(1.0))
    assert isinstance(found.minutes, Absent)
    assert isinstance(found.hover_current_pct, Absent)


def test_twelve_per_cent_more_mass_at_equal_figures_is_that_much_less_per_gram():
    from spindle_core.rank.scoring import Criterion, Entry, score_cohort

    thrust = {"max_thrust_gf": Measured(1000.0)}
    found = score_cohort(
        [Entry("light", thrust, mass_g=25.0), Entry("heavy", thrust, mass_g=28.0)],
        [Criterion("max_thrust_gf", 1.0)],
    )
    light, heavy = sorted(found.scored, key=lambda one: -one.per_mass)
    assert 100 * (heavy.per_mass / light.per_mass - 1) == pytest.approx(-10.7, abs=0.02)
