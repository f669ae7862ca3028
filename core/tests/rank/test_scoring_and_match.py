"""Scores, how sure the places are, and what fits a craft."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from spindle_core.compare.curve import curve
from spindle_core.compare.delta import is_told, relative_pct
from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Measured, Origin, component
from spindle_core.match.craft import (
    Craft,
    Layout,
    MassItem,
    all_up_mass,
    arm_inertia_kg_mm2,
    needed_thrust_gf,
    thrust_to_weight,
)
from spindle_core.match.electrics import (
    diameter_for_equal_power_in,
    endurance_min,
    esc_size,
    esc_sizes,
    kv_at_other_voltage,
    pack_need,
    seconds_of_flight,
)
from spindle_core.match.picks import Candidate, match, pick
from spindle_core.rank.rank_confidence import lead_figure, lead_words, rank_confidence, weight_swaps
from spindle_core.rank.scoring import PRESETS, Criterion, Entry, moves, score_cohort

THRUST = Criterion("max_thrust_gf", 1.0)
MASS = Criterion("mass_g", 1.0, lower_is_better=True)


def entry(name, thrust, u=5.0, **more):
    return Entry(name, {"max_thrust_gf": Measured(thrust, {"repeat": u})}, **more)


def test_scores_are_relative_to_the_cohorts_mean():
    snapshot = score_cohort([entry("a", 1100.0), entry("b", 900.0)], [THRUST])
    assert [(s.name, s.total, s.place) for s in snapshot.scored] == [
        ("a", pytest.approx(110.0), 1),
        ("b", pytest.approx(90.0), 2),
    ]


def test_lower_is_better_uses_the_harmonic_mean():
    entries = [Entry("a", {"mass_g": Measured(20.0)}), Entry("b", {"mass_g": Measured(30.0)})]
    scores = {s.name: s.total for s in score_cohort(entries, [MASS]).scored}
    assert scores == {"a": pytest.approx(120.0), "b": pytest.approx(80.0)}


@given(st.lists(st.floats(1, 1e4), min_size=2, max_size=8))
def test_mean_score_is_one_hundred_either_way(values):
    for criterion in (Criterion("x", 2.0), Criterion("x", 2.0, lower_is_better=True)):
        entries = [Entry(f"m{i}", {"x": Measured(v)}) for i, v in enumerate(values)]
        totals = [s.total for s in score_cohort(entries, [criterion]).scored]
        assert np.mean(totals) == pytest.approx(100.0)


def test_missing_criteria_renormalise_or_unrank():
    full = Entry("a", {"x": Measured(10.0), "y": Measured(10.0), "z": Measured(10.0)})
    half = Entry("b", {"x": Measured(20.0), "y": Measured(10.0)})
    thin = Entry("c", {"z": Measured(99.0)})
    criteria = [Criterion("x", 1.0), Criterion("y", 1.0), Criterion("z", 1.0)]
    scored = {s.name: s for s in score_cohort([full, half, thin], criteria).scored}
    assert scored["b"].total == pytest.approx((100 * 20 / 15 + 100.0) / 2)
    assert scored["b"].missing == ("z",)
    assert scored["c"].total.reason == "too_much_missing"
    assert scored["c"].place is None


def test_per_mass_per_price_and_losses_stand_beside():
    entries = [
        entry("a", 1000.0, mass_g=30.0, price=20.0, losses=(2, 3)),
        entry("b", 1000.0, mass_g=20.0),
    ]
    scored = {s.name: s for s in score_cohort(entries, [THRUST]).scored}
    assert scored["a"].per_mass == pytest.approx(100 * 25 / 30)
    assert scored["b"].per_price.reason == "no_price"
    assert scored["a"].losses == (2, 3)
    assert scored["a"].total == scored["b"].total


def test_a_new_motor_makes_a_new_snapshot_that_says_who_moved():
    before = score_cohort([entry("a", 1000.0), entry("b", 1100.0)], [THRUST])
    after = score_cohort([entry("a", 1150.0), entry("b", 1100.0), entry("c", 1200.0)], [THRUST])
    told = {move.name: move for move in moves(before, after)}
    assert (told["c"].before, told["c"].after) == (None, 1)
    assert told["b"].before == 1
    assert told["b"].after == 3
    assert "joined: c" in told["b"].reasons
    assert not [r for move in told.values() for r in move.reasons if r.startswith("left")]
    assert "a" not in told
    assert before.scored[0].name == "b"  # the old snapshot is as it was


def test_bad_cohorts_are_refused():
    with pytest.raises(QuantityError):
        score_cohort([], [THRUST])
    with pytest.raises(QuantityError):
        score_cohort([entry("a", 1.0), entry("a", 2.0)], [THRUST])
    with pytest.raises(QuantityError):
        score_cohort([entry("a", -1.0)], [THRUST])
    assert all(sum(c.weight for c in preset) > 0 for preset in PRESETS.values())


def test_rank_probability_of_two_motors_is_the_normal_one():
    found = rank_confidence([entry("a", 1010.0, 10.0), entry("b", 1000.0, 10.0)], [THRUST], seed=1)
    # P(a > b) = Φ(10 / (10·√2)) = 0.7602.
    assert found.of("a", 1) == pytest.approx(0.760, abs=0.03)
    assert found.probability.sum(axis=0) == pytest.approx([1.0, 1.0])
    assert found.interval == ((1, 2), (1, 2))


def test_a_shared_gain_does_not_change_places():
    def shared(name, thrust):
        return Entry(name, {"max_thrust_gf": Measured(thrust, {"calibration@cell": 0.03 * thrust})})

    found = rank_confidence([shared("a", 1010.0), shared("b", 1000.0)], [THRUST], seed=1)
    assert found.of("a", 1) == 1.0


def test_rank_confidence_is_repeatable_and_leaves_the_unranked_out():
    cohort = [entry("a", 1010.0), entry("b", 1000.0), Entry("c", {})]
    one, two = (rank_confidence(cohort, [THRUST], seed=7) for _ in range(2))
    assert np.array_equal(one.probability, two.probability)
    assert one.names == ("a", "b")


def test_weight_that_would_swap_the_first_two():
    a = Entry("a", {"x": Measured(12.0), "y": Measured(10.0)})
    b = Entry("b", {"x": Measured(10.0), "y": Measured(11.0)})
    criteria = [Criterion("x", 1.0), Criterion("y", 1.0)]
    swaps = weight_swaps(score_cohort([a, b], criteria))
    assert swaps[0].criterion == "x"
    for swap in swaps:
        weights = [
            Criterion(
                c.name,
                swap.needed * 1.001
                if c.name == swap.criterion == "y"
                else swap.needed * 0.999
                if c.name == swap.criterion
                else 1.0,
            )
            for c in criteria
        ]
        assert score_cohort([a, b], weights).scored[0].name == "b"


CRAFT = Craft(
    Layout.MULTIROTOR,
    4,
    6,
    (
        MassItem("frame", 200.0),
        MassItem("pack", 200.0, basis="claimed"),
        MassItem("camera", 66.0, basis="omitted"),
    ),
)


def test_thrust_to_weight_of_the_worked_example():
    ratio = thrust_to_weight(Measured(1180.0, {"r": 10.0}), Measured(590.0), motors=4)
    assert ratio.value == pytest.approx(8.00)
    assert ratio.u == pytest.approx(4 * 10 / 590)


def test_all_up_mass_counts_the_motors_and_what_was_guessed():
    mass = all_up_mass(CRAFT, Measured(31.0, {"scale": 0.05}))
    assert mass.value == pytest.approx(590.0)
    assert mass.origin is Origin.CLAIMED
    assert mass.components[component("mass", "camera")] == pytest.approx(33.0 / np.sqrt(3))
    # Weighed to the gram: a rounding of half a gram is known of it, and no more.
    assert mass.components[component("mass", "frame")] == pytest.approx(0.5 / np.sqrt(3))
    assert mass.component("scale") == pytest.approx(4 * 0.05)
    hover = needed_thrust_gf(CRAFT, mass)
    assert (hover.value, hover.u) == (pytest.approx(147.5), pytest.approx(mass.u / 4))
    coaxial = Craft(Layout.COAXIAL, 8, 6, CRAFT.items)
    pair = needed_thrust_gf(coaxial, Measured(680.0))
    assert pair.value == pytest.approx(680 / 8 / 0.85)
    # 0.80 to 0.90 is an estimate, and says so.
    assert pair.u == pytest.approx(pair.value * 0.05 / 0.85 / np.sqrt(3))
    assert pair.assumed
    plane = Craft(Layout.PLANE, 1, 4, CRAFT.items, lift_to_drag=8.0)
    cruise = needed_thrust_gf(plane, Measured(800.0))
    assert (cruise.value, cruise.assumed) == (pytest.approx(100.0), True)
    wrong = (
        {"layout": Layout.COAXIAL, "motors": 3},
        {"layout": Layout.PLANE, "motors": 1, "lift_to_drag": 0.0},
        {"layout": Layout.PLANE, "motors": 1, "cruise_throttle_pct": 101.0},
        {"layout": Layout.MULTIROTOR, "motors": 0},
    )
    for parts in wrong:
        with pytest.raises(QuantityError):
            Craft(cells=4, items=(), **parts)
    # A plane of which nobody knows that has no cruise, and is told its static figures.
    bare = needed_thrust_gf(Craft(Layout.PLANE, 1, 4, CRAFT.items), Measured(800.0))
    assert bare.reason == "no_lift_to_drag"


def test_esc_pack_and_voltage_rules():
    assert esc_size(38.6).needed_a == pytest.approx(46.3, abs=0.05)
    assert [size.size_a for size in esc_sizes(38.6)] == [40, 50]
    assert esc_size(400.0).reason == "no_such_esc"
    need = pack_need(Measured(150.0, {"repeat": 3.0}), capacity_mah=1500.0, rated_c=75.0)
    assert (need.c_rate.value, need.least_capacity_mah.value) == (100.0, 2000.0)
    assert (need.c_rate.u, need.least_capacity_mah.u) == (2.0, 40.0)
    assert kv_at_other_voltage(1900.0, from_v=22.2, to_v=14.8) == pytest.approx(2850.0)
    assert diameter_for_equal_power_in(5.1, from_v=22.2, to_v=14.8) == pytest.approx(5.1 * 1.5**0.6)
    inertia = arm_inertia_kg_mm2([Measured(31.0, {"a": 0.3}), Measured(6.0)], [110.0, 110.0])
    assert inertia.value == pytest.approx(0.037 * 110**2)
    # The arm was written to the whole millimetre, and is the same for both.
    arm_u = 2 * 0.037 * 110 / 12**0.5
    assert inertia.u == pytest.approx(math.hypot(0.0003 * 110**2, arm_u))


def test_endurance_and_seconds_of_flight():
    pack = {"capacity_mah": 1500.0, "cells": 6}
    assert endurance_min(200.0, **pack) == pytest.approx(1.5 * 22.2 * 0.8 * 60 / 200)
    one, other = Measured(200.0, {"mass@craft": 4.0}), Measured(210.0, {"mass@craft": 4.2})
    longer = seconds_of_flight(one, other, **pack)
    assert longer.value == pytest.approx(
        60 * (endurance_min(200.0, **pack) - endurance_min(210.0, **pack))
    )
    # What the craft weighs more, it weighs with both.
    assert longer.u == pytest.approx(0.02 * longer.value)


def candidate(name, thrust, amps, hover_power, **more):
    line = {
        figure: curve(
            range(100, 1001, 100),
            [share * at_1000 / 10 for share in range(1, 11)],
            x_name="thrust_gf",
            y_name=figure,
        )
        for figure, at_1000 in (
            ("power_w", hover_power),
            ("current_a", 10.0),
            ("throttle_pct", 60.0),
        )
    }
    return Candidate(
        name, Measured(31.0), Measured(thrust, {"r": 5.0}), Measured(amps), line, **more
    )


def test_picks_and_their_trade_in_words():
    candidates = [
        candidate("strong", 1500.0, 50.0, 280.0),
        candidate("middle", 1395.0, 39.5, 240.0),
        candidate("thrifty", 900.0, 30.0, 220.0),
        candidate("burnt", 2000.0, 30.0, 200.0, barred="burnt"),
    ]
    matched = match(CRAFT, candidates, capacity_mah=1300.0)
    assert matched[0].throttle_pct.value == pytest.approx(8.85)
    # The mass is not known better than 20 g: hover thrust, power and minutes carry that.
    assert matched[0].power_w.relative_u == pytest.approx(matched[0].mass_g.relative_u, rel=1e-2)
    assert matched[0].minutes.relative_u == pytest.approx(matched[0].mass_g.relative_u, rel=1e-2)
    assert matched[0].minutes.value == pytest.approx(1.3 * 22.2 * 0.8 * 60 / (4 * 280 * 0.1475))
    picks = pick(matched)
    assert (picks.strongest, picks.thriftiest, picks.chosen) == ("strong", "thrifty", "middle")
    # 5 gf each on 1,400; the currents are given as exact; the craft's mass cancels but for where
    # the two curves lie.
    trade = picks.trade.replace("\N{THIN SPACE}", " ")
    assert trade == "−7.0 ± 0.5 % thrust for −21 % current, +1.40 ± 0.05 min"


def test_a_hover_that_was_not_measured_is_absent_not_extrapolated():
    heavy = Craft(Layout.MULTIROTOR, 4, 6, (MassItem("anvil", 5000.0),))
    matched = match(heavy, [candidate("a", 1500.0, 50.0, 280.0)], capacity_mah=1300.0)
    assert matched[0].power_w.reason == "not_reached"
    assert isinstance(pick(matched), Absent)


@pytest.mark.parametrize(
    ("probability", "said"),
    [
        (1.0, "A leads."),
        (0.95, "A leads."),
        (0.949, "A probably leads."),
        (0.75, "A probably leads."),
        (0.74, "Nobody can be said to lead; A is first by less than the runs can tell."),
        (math.nan, "Nobody can be said to lead; A is first by less than the runs can tell."),
    ],
)
def test_a_lead_is_said_as_surely_as_it_is_known(probability, said):
    assert lead_words("A", probability) == said


@pytest.mark.parametrize(
    ("first", "second", "ahead", "told"),
    [
        (103.0, 100.0, 0.999, True),
        (103.0, 100.0, 0.8, False),
        (100.0, 100.0, 0.5, False),
        # No draw of two thousand says otherwise, which is not certainty.
        (103.0, 100.0, 1.0, True),
        (99.0, 100.0, 0.3, False),
    ],
)
def test_a_lead_is_as_sure_as_its_draws(first, second, ahead, told):
    lead = lead_figure(first, second, ahead)
    assert lead.value == first
    assert lead.u > 0
    assert is_told(relative_pct(lead, Measured(second))) is told
