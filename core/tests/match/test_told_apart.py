"""A match is no finer than what its figures tell apart: picks, trades, the frontier and bounds."""

from __future__ import annotations

import math

import numpy as np
import pytest

from spindle_core.compare.bounds import Standing, at_least, at_most
from spindle_core.compare.delta import apart, is_told, relative_pct
from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Measured, Origin
from spindle_core.match.craft import Craft, Layout, MassItem
from spindle_core.match.picks import Candidate, frontier, match, pick, trade
from spindle_core.match.suits import change
from spindle_core.match.trades import Differs, apart_u

QUAD = Craft(Layout.MULTIROTOR, 4, 4, (MassItem("frame", 480.0),))
GAIN = "calibration@stand/thrust_gf"


def own(name, value, relative, gain=0.0):
    """A figure with its own scatter, and a share of the stand's gain."""
    parts = {f"repeat@{name}": relative * value, GAIN: gain * value}
    return Measured(value, {key: part for key, part in parts.items() if part})


def seat(name, thrust=1000.0, amps=30.0, watts=80.0, relative=0.01, *, mass=30.0, **more):
    hover = {
        "current_a": own(f"{name}/a", 5.0, relative),
        "power_w": own(f"{name}/w", watts, relative),
        "throttle_pct": Measured(30.0),
    }
    return Candidate(
        name,
        Measured(mass),
        own(f"{name}/thrust", thrust, relative, more.pop("gain", 0.0)),
        own(f"{name}/amps", amps, relative),
        {},
        at_hover=hover,
        **more,
    )


def matched(*seats):
    return match(QUAD, list(seats), capacity_mah=1500.0)


def spaced(words):
    return words.replace("\N{THIN SPACE}", " ")


class TestPicks:
    def test_who_is_level_is_named_nearest_first(self):
        found = pick(
            matched(
                seat("a", 1000.0),
                seat("b", 990.0),
                seat("c", 978.0),
                seat("far", 800.0, watts=120.0),
            )
        )
        assert found.strongest == "a"
        assert found.alike["strongest"] == ("b", "c")
        # 1 % each on thrust: 2.8 % apart is the least that is told.
        assert pick(matched(seat("a"), seat("b", 970.0))).alike["strongest"] == ()
        assert pick(matched(seat("a"), seat("b", 973.0))).alike["strongest"] == ("b",)

    def test_a_gain_that_both_share_tells_them_no_less_apart(self):
        wide = [
            seat(name, thrust, relative=0.001, gain=0.05)
            for name, thrust in (("a", 1000.0), ("b", 980.0))
        ]
        assert pick(matched(*wide)).alike["strongest"] == ()
        apart_gains = [
            Candidate(
                one.name,
                one.motor_mass_g,
                Measured(one.max_thrust_gf.value, {f"calibration@{one.name}": 50.0}),
                one.peak_current_a,
                {},
                at_hover=one.at_hover,
            )
            for one in wide
        ]
        assert pick(matched(*apart_gains)).alike["strongest"] == ("b",)

    def test_the_luckiest_of_many_vague_predictions_is_not_picked(self):
        lucky = np.random.default_rng(5).normal(1000.0, 60.0, 200)
        predictions = [
            seat(f"p{i}", float(thrust), relative=0.06, predicted=True)
            for i, thrust in enumerate(lucky)
        ]
        found = pick(matched(seat("run", 1010.0), *predictions))
        assert max(lucky) > 1100.0
        assert (found.strongest, found.thriftiest, found.chosen) == ("run",) * 3
        assert len(found.alike["strongest"]) > 100

    def test_a_prediction_that_is_told_better_is(self):
        found = pick(matched(seat("run"), seat("new", 1300.0, relative=0.03, predicted=True)))
        assert (found.strongest, found.chosen) == ("new", "new")
        assert found.alike["strongest"] == ()

    def test_of_several_that_were_run_the_best_stands_for_a_level_prediction(self):
        found = pick(
            matched(
                seat("weak", 970.0),
                seat("good", 1000.0),
                seat("vague", 1030.0, relative=0.05, predicted=True),
            )
        )
        assert found.strongest == "good"
        # Only told-apart relations of the pick itself count: weak is behind good.
        assert found.alike["strongest"] == ("vague",)

    def test_thrift_is_the_least_power_and_what_is_level_with_it(self):
        found = pick(matched(seat("a", watts=80.0), seat("b", watts=81.0), seat("c", watts=90.0)))
        assert found.thriftiest == "a"
        assert found.alike["thriftiest"] == ("b",)

    def test_who_is_chosen_counts_the_u_of_all_three_figures(self):
        def two(relative):
            # 4 % of worth apart, of which half is power.
            return pick(
                matched(
                    seat("a", 1020.0, 30.0, 80.0, relative), seat("b", 1000.0, 30.0, 83.3, relative)
                )
            )

        assert two(0.005).alike["chosen"] == ()
        assert two(0.02).alike["chosen"] == ("b",)

    def test_what_moves_thrust_and_power_together_hardly_moves_the_choice(self):
        one = seat("a", 1020.0, relative=0.0)
        windy = Candidate(
            "a",
            one.motor_mass_g,
            Measured(1020.0, {"air@day": 0.05 * 1020.0}),
            one.peak_current_a,
            {},
            at_hover={**one.at_hover, "power_w": Measured(80.0, {"air@day": 0.10 * 80.0})},
        )
        assert pick(matched(windy, seat("b", relative=0.0))).alike["chosen"] == ()
        assert pick(matched(windy, seat("b", relative=0.0))).alike["strongest"] == ("b",)

    @pytest.mark.parametrize(("predictions", "picked"), [(1, "p0"), (100, "run")])
    def test_one_of_many_needs_more_to_be_told_than_one_alone(self, predictions, picked):
        # 2.5 of the difference's u ahead: told of one, not of the best of a hundred.
        some = [seat(f"p{i}", 900.0, relative=0.01, predicted=True) for i in range(predictions)]
        some[0] = seat("p0", 1036.0, relative=0.01, predicted=True)
        assert pick(matched(seat("run", 1000.0), *some)).strongest == picked

    def test_one_alone_is_level_with_nobody(self):
        found = pick(matched(seat("only")))
        assert found.alike == {"strongest": (), "thriftiest": (), "chosen": ()}

    def test_exact_twins_are_level(self):
        found = pick(matched(seat("b", relative=0.0), seat("a", relative=0.0)))
        assert found.chosen == "a"
        assert found.alike["chosen"] == ("b",)


class TestTrade:
    def test_each_difference_carries_its_u(self):
        strong, mild = matched(seat("strong", 1500.0, 50.0), seat("mild", 1395.0, 39.5, 70.0))
        words = spaced(trade(mild, strong))
        assert words == "−7.0 ± 1.3 % thrust for −21.0 ± 1.1 % current, +0.48 ± 0.05 min"

    def test_what_is_not_told_is_no_gain(self):
        a, b = matched(seat("a", 1000.0, 30.0), seat("b", 990.0, 25.0, 80.5))
        words = spaced(trade(b, a))
        assert words.startswith("thrust not told apart (−1.0 ± 1.4 %) for −16.7 ± 1.2 % current")
        assert "minutes not told apart (−0.02 ± 0.05 min)" in words

    def test_the_mass_of_the_craft_cancels(self):
        guessed = Craft(Layout.MULTIROTOR, 4, 4, (MassItem("frame", 480.0, basis="omitted"),))
        strong, mild = match(
            guessed, [seat("strong", watts=80.0), seat("mild", watts=72.0)], capacity_mah=1500.0
        )
        longer = apart(mild.minutes, strong.minutes)
        assert longer.value > 0
        assert is_told(longer)

    @pytest.mark.parametrize(
        ("change_pct", "words"),
        [
            (Measured(0.0), "the same thrust"),
            (Measured(-0.4), "the same thrust"),
            (Measured(-7.2), "−7 % thrust"),
            (Measured(0.0, {"repeat": 1.0}), "thrust not told apart (0.0 ± 1.0 %)"),
            (Measured(2.1, {"repeat": 1.0}), "+2.1 ± 1.0 % thrust"),
            (Measured(1.9, {"repeat": 1.0}), "thrust not told apart (+1.9 ± 1.0 %)"),
        ],
    )
    def test_in_words(self, change_pct, words):
        said = spaced(Differs("thrust", change_pct, "%").words())
        assert said.replace("(+0.0", "(0.0") == words

    def test_nothing_is_relative_to_nothing(self):
        with pytest.raises(QuantityError):
            relative_pct(Measured(1.0), Measured(0.0))
        assert isinstance(apart(Measured(1.0), Absent("no_hover")), Absent)

    def test_a_change_says_what_is_told_first(self):
        now, then = matched(seat("now", 1000.0, 30.0), seat("then", 1005.0, 24.0, mass=28.0))
        found = change(now, then, motors=4, price_each=Measured(20.0))
        said = spaced(found.words())
        assert said.startswith("−20.0 ± 1.1 % peak current, −8.0 g, thrust not told apart")
        # The frame's mass is both crafts': 4 × 2 g is known as well as the motors are.
        assert found.mass_g.u == pytest.approx(0.0, abs=1e-12)

    def test_a_change_of_a_propeller_alone_says_nothing_of_mass(self):
        now, then = matched(seat("now"), seat("then", 1100.0))
        assert " g" not in change(now, then, motors=4, price_each=Measured(0.0)).words()


class TestApart:
    def test_what_all_carry_is_left_out_and_nothing_else(self):
        figures = [
            Measured(8.0, {"mass@frame": 0.3, "repeat@a": 0.1, "interpolation": 0.05}),
            Measured(7.0, {"mass@frame": 0.26, "repeat@b": 0.2, "interpolation": 0.05}),
        ]
        assert apart_u(figures) == pytest.approx([math.hypot(0.1, 0.05), math.hypot(0.2, 0.05)])
        # A third that lacks it: then it tells them apart.
        assert apart_u([*figures, Measured(9.0)])[0] == pytest.approx(figures[0].u)

    def test_one_alone_keeps_its_u(self):
        assert apart_u([Measured(8.0, {"mass@frame": 0.3})]) == [0.3]
        assert apart_u([]) == []


class TestFrontier:
    def test_who_is_behind_but_not_told_to_be_stays(self):
        level = matched(seat("a", 1000.0, watts=80.0), seat("b", 995.0, watts=80.5))
        assert frontier(level) == ["a", "b"]

    def test_one_told_difference_is_enough(self):
        found = matched(seat("a", 1000.0, watts=80.0), seat("b", 900.0, watts=80.5))
        assert frontier(found) == ["a"]
        found = matched(seat("a", 1000.0, watts=80.0), seat("b", 995.0, watts=90.0))
        assert frontier(found) == ["a"]

    def test_who_flies_longer_stays_however_weak(self):
        found = matched(seat("a", 1000.0, watts=80.0), seat("b", 500.0, watts=79.9))
        assert frontier(found) == ["a", "b"]

    def test_a_middle_one_that_is_beaten_still_beats(self):
        # Of three in a row each is just not told from the next: the last is told from the first.
        found = matched(
            seat("a", 1000.0, watts=80.0),
            seat("b", 980.0, watts=81.0),
            seat("c", 960.0, watts=83.0),
        )
        assert frontier(found) == ["a", "b"]

    def test_nothing_and_what_is_barred(self):
        assert frontier([]) == []
        assert frontier(matched(seat("a", barred="burnt"))) == []

    def test_it_is_what_comparing_every_pair_gives(self):
        rng = np.random.default_rng(11)
        found = matched(
            *(
                seat(f"{i:02d}", float(t), watts=float(w), relative=float(r), gain=0.01)
                for i, (t, w, r) in enumerate(
                    zip(
                        rng.uniform(900, 1100, 60),
                        rng.uniform(75, 90, 60),
                        rng.uniform(0.001, 0.03, 60),
                        strict=True,
                    )
                )
            )
        )

        def beats(a, b):
            pairs = [(a.thrust_to_weight, b.thrust_to_weight), (a.minutes, b.minutes)]
            return all(x.value >= y.value for x, y in pairs) and any(
                is_told(apart(x, y)) for x, y in pairs
            )

        wanted = {b.name for b in found if not any(beats(a, b) for a in found if a is not b)}
        assert set(frontier(found)) == wanted
        assert 1 < len(wanted) < 60


class TestBounds:
    @pytest.mark.parametrize(
        ("value", "u", "held"),
        [
            (30.0, 0.0, Standing.KEPT),  # the rating itself is allowed
            (30.0001, 0.0, Standing.BROKEN),
            (29.5, 0.4, Standing.NOT_TOLD),
            (30.5, 0.4, Standing.NOT_TOLD),
            (29.0, 0.4, Standing.KEPT),
            (31.0, 0.4, Standing.BROKEN),
        ],
    )
    def test_at_most(self, value, u, held):
        assert at_most(Measured(value, {"repeat": u} if u else {}), 30.0) is held

    @pytest.mark.parametrize(
        ("value", "u", "held"),
        [
            (4.0, 0.0, Standing.KEPT),
            (3.98, 0.3, Standing.NOT_TOLD),
            (4.05, 0.3, Standing.NOT_TOLD),
            (3.3, 0.3, Standing.BROKEN),
            (4.7, 0.3, Standing.KEPT),
        ],
    )
    def test_at_least(self, value, u, held):
        figure = Measured(value, {"repeat": u} if u else {}, origin=Origin.ESTIMATED)
        assert at_least(figure, 4.0) is held
