"""Repeats as they come: early stops, a fourth run, and when repeating is no help."""

import math

import numpy as np
import pytest

from spindle_core.errors import QuantityError
from spindle_core.planning.repeats import Advice, agreement, repeats_so_far


def so_far(values, wanted=3, repeatability=0.01, assumed=False, **others):
    figures = {"max_thrust_gf": values, **others}
    return repeats_so_far(
        figures, len(values), wanted=wanted, repeatability=repeatability, assumed=assumed
    )


def test_one_run_says_nothing_of_its_spread():
    found = so_far([1180.0])
    assert found.advice is Advice.RUN
    assert found.rows[0].agrees is None
    assert found.rows[0].mean.u == pytest.approx(11.8)
    assert so_far([1180.0], wanted=1).advice is Advice.ENOUGH
    assert so_far([]).advice is Advice.RUN


def test_two_that_agree_well_are_enough():
    found = so_far([1180.0, 1184.0])
    assert found.advice is Advice.ENOUGH
    assert "2 of 3 made" in found.words
    # Four grams apart on a stand of 1 %: u stays that of the stand.
    assert found.rows[0].mean.u == pytest.approx(0.01 * 1182 / math.sqrt(2))


def test_an_assumed_repeatability_stops_nothing_early():
    assert so_far([1180.0, 1184.0], assumed=True).advice is Advice.RUN
    assert "assumed" in so_far([1180.0, 1184.0], assumed=True).words


def test_two_that_agree_so_so_want_the_third():
    # 18 gf apart: 1.08 standard deviations of a difference on a stand of 1 %.
    found = so_far([1180.0, 1198.0])
    assert found.advice is Advice.RUN
    assert found.rows[0].agrees is True


def test_three_that_do_not_agree_want_a_fourth_and_then_a_look():
    assert so_far([1180.0, 1240.0]).advice is Advice.RUN
    found = so_far([1180.0, 1240.0, 1120.0])
    assert found.advice is Advice.ANOTHER
    assert "one more is proposed" in found.words
    found = so_far([1180.0, 1240.0, 1120.0, 1195.0])
    assert found.advice is Advice.LOOK
    assert so_far([1180.0, 1185.0, 1176.0, 1181.0]).advice is Advice.ENOUGH


def test_one_figure_that_does_not_agree_is_enough_to_go_on():
    found = so_far([1180.0, 1181.0], max_current_a=[30.0, 33.0])
    assert found.advice is Advice.RUN
    assert [row.agrees for row in found.rows] == [True, False]


def test_what_describes_a_run_is_not_compared():
    found = so_far([1180.0, 1181.0], tare_drift_gf=[0.1, 40.0], bursts=[3.0, 3.0])
    assert [row.name for row in found.rows] == ["max_thrust_gf"]
    hold = repeats_so_far({"targets_reached": [2.0, 2.0]}, 2, repeatability=0.01)
    assert hold.advice is Advice.RUN
    assert "no figure" in hold.words


def test_spread_counts_where_it_is_larger_than_the_stand_s():
    row = agreement("max_thrust_gf", [1182.0, 1169.0, 1175.0], repeatability=0.001)
    assert row.mean.value == pytest.approx(1175.3, abs=0.05)
    assert row.s == pytest.approx(6.5, abs=0.02)
    assert row.mean.u == pytest.approx(3.8, abs=0.05)
    assert row.agrees is False


def test_nothing_is_made_of_no_numbers():
    for values in ([], [math.nan, 3.0], [math.inf]):
        with pytest.raises(QuantityError):
            agreement("x", values, repeatability=0.01)
    with pytest.raises(QuantityError):
        agreement("x", [1.0, 2.0], repeatability=0.0)
    with pytest.raises(QuantityError):
        repeats_so_far({}, 0, wanted=0, repeatability=0.01)


def test_a_figure_around_zero_is_no_agreement_by_chance():
    row = agreement("x", [0.0, 0.0], repeatability=0.01)
    assert row.agrees is None
    assert row.p_value is None


def test_the_rule_keeps_its_u_and_seldom_asks_in_vain():
    """2,000 bench days on a stand of 1 %: the mean's 95 % hold, one in ten or fewer asks for more
    than three, and a stand twice as bad as declared is found."""
    rng = np.random.default_rng(5)

    def day(s):
        values = []
        while True:
            values.append(1000.0 * (1.0 + s * rng.standard_normal()))
            found = so_far(values)
            if found.advice in (Advice.ENOUGH, Advice.LOOK):
                return found

    days = [day(0.01) for _ in range(2000)]
    inside = np.mean([abs(d.rows[0].mean.value - 1000) <= 1.96 * d.rows[0].mean.u for d in days])
    assert 0.94 <= inside <= 0.985
    assert np.mean([d.n for d in days]) < 2.6
    assert np.mean([d.n > 3 for d in days]) < 0.10
    bad = [day(0.03) for _ in range(500)]
    assert np.mean([d.n > 3 for d in bad]) > 0.4


def test_the_five_per_cent_are_shared_among_the_figures():
    # 31 gf apart on a stand of 1 %: p = 0.030 for two runs.
    values = [1015.4, 984.6]
    assert agreement("x", values, repeatability=0.01).p_value == pytest.approx(0.0294, abs=0.002)
    assert agreement("x", values, repeatability=0.01).agrees is False
    assert agreement("x", values, repeatability=0.01, tests=2).agrees is True
    assert so_far(values, max_current_a=[30.0, 30.0]).rows[0].agrees is True
