"""The heaviest propeller below a motor's limits and the lightest above them, run by run."""

import math

import pytest

from spindle_core.errors import QuantityError
from spindle_core.planning.bracket import LimitSide, Rung, bracket


def ladder(*shares: float, u: float = 0.05, **states: str) -> list[Rung]:
    said = [states.get(f"p{i}") for i in range(len(shares))]
    return [
        Rung(i, f"prop {i}", used, u, ran=said[i] == "ran", cut=said[i] == "cut")
        for i, used in enumerate(shares)
    ]


def keys(found):
    return tuple(None if one is None else one.key for one in (found.below, found.above, found.next))


def test_what_is_foreseen_by_two_u_encloses_and_the_lightest_between_is_next():
    found = bracket(ladder(0.5, 0.8, 0.95, 1.05, 1.3))
    # 0.8 + 2 x 0.05 is below, 1.3 - 2 x 0.05 above; what is below is run before what is unsure.
    assert keys(found) == (1, 4, 1)
    assert not found.tried
    assert "rop 1 is foreseen" in found.words
    assert "(~80 ± 5\N{THIN SPACE}% of the tightest)" in found.words


def test_each_run_brackets_anew():
    shares = (0.5, 0.8, 0.95, 1.05, 1.3)
    assert keys(bracket(ladder(*shares, p1="ran"))) == (1, 4, 2)
    assert keys(bracket(ladder(*shares, p1="ran", p2="ran"))) == (2, 4, 3)
    closed = bracket(ladder(*shares, p1="ran", p2="ran", p3="cut"))
    assert keys(closed) == (2, 3, None)
    assert closed.tried
    assert "Nothing between them" in closed.words


def test_a_run_that_went_through_outweighs_its_prediction():
    found = bracket(ladder(0.5, 1.3, 1.5, p1="ran"))
    assert keys(found) == (1, 2, None)


def test_a_run_that_was_cut_outweighs_its_prediction():
    found = bracket(ladder(0.5, 0.6, 1.3, p1="cut"))
    # It was foreseen at 60 %: it lies at the limit at least, and 0.5 is still to be run.
    assert keys(found) == (0, 1, 0)


def test_lighter_ones_than_what_ran_are_not_tried_any_more():
    found = bracket(ladder(0.92, 0.95, 1.02, p1="ran"))
    assert keys(found) == (1, None, 2)
    assert "none is known to pass" in found.words


def test_the_order_of_the_list_does_not_matter():
    rungs = ladder(1.3, 0.5, 1.05, 0.8, 0.95)
    found = bracket(rungs)
    assert keys(found) == (3, 0, 3)
    assert keys(bracket(rungs[::-1])) == (3, 0, 3)


def test_a_prediction_without_certainty_is_tried_and_not_believed():
    found = bracket([Rung(0, "prop 0", 0.3, math.inf), Rung(1, "prop 1", 0.2, math.nan)])
    assert keys(found) == (None, None, 1)


def test_what_cannot_be_predicted_or_mounted_is_not_proposed():
    rungs = [Rung(0, "dark", math.nan, math.nan), Rung(1, "no hub", 0.9, 0.1, may_mount=False)]
    assert keys(bracket(rungs)) == (None, None, None)
    assert "Nothing can be predicted" in bracket(rungs[:1]).words
    assert bracket([]).below is None


def test_what_ran_without_a_prediction_lies_below_all_the_same():
    found = bracket([Rung(0, "dark", math.nan, math.nan, ran=True), *ladder(0.0, 1.6)[1:]])
    assert keys(found) == (0, 1, None)
    assert "%" not in found.words.split(";")[0]


def test_at_the_limit_itself_it_is_below():
    assert Rung(0, "p", 1.0, 0.0).side is LimitSide.BELOW
    assert Rung(0, "p", 0.95, 0.025).side is LimitSide.BELOW
    assert Rung(0, "p", 0.96, 0.025).side is LimitSide.UNSURE


def test_of_two_that_were_cut_the_lighter_one_counts():
    found = bracket(ladder(0.5, 1.1, 1.2, p0="ran", p1="cut", p2="cut"))
    assert keys(found) == (0, 1, None)


def test_a_heavier_one_that_ran_beside_a_lighter_one_that_was_cut():
    # One was cut by a glitch, or ran cooler: both are said, nothing is guessed between them.
    found = bracket(ladder(0.5, 0.9, 0.95, p1="cut", p2="ran"))
    assert keys(found) == (2, 1, None)


@pytest.mark.parametrize("wrong", [(-0.1, 0.1), (0.5, -0.1)])
def test_shares_that_cannot_be_are_refused(wrong):
    with pytest.raises(QuantityError):
        Rung(0, "p", *wrong)


def test_nothing_heavier_is_tried_or_foreseen_below_after_a_lighter_one_was_cut():
    # It was cut at a load foreseen at 60 %: whatever is heavier than that is not proposed.
    rungs = ladder(0.5, 0.6, 0.7, 0.95, p0="ran", p1="cut")
    assert keys(bracket(rungs)) == (0, 1, None)


def test_nothing_lighter_is_foreseen_above_or_tried_after_a_heavier_one_ran():
    rungs = ladder(1.05, 1.2, 1.3, 1.6, p2="ran")
    assert keys(bracket(rungs)) == (2, 3, None)
