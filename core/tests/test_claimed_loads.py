"""A maker's table of loads: what it can say, and which propeller of ours it means."""

import pytest

from spindle_core.errors import QuantityError
from spindle_core.intake.claimed_loads import (
    ClaimedLoad,
    RunPropeller,
    check_claimed_load,
    is_that_propeller,
    odd_about,
)

OURS = RunPropeller("Wickett Swift 5.1x4.2x3", "Swift", "5.1x4.2x3", (5.1, 4.2, 3))
UNNAMED = RunPropeller("Wickett 5.1x4.2x3", "", "5.1x4.2x3", (5.1, 4.2, 3))


class TestARow:
    @pytest.mark.parametrize(
        "load",
        [
            ClaimedLoad(4, "5.1x4.2x3", thrust_gf=1400),
            ClaimedLoad(1, "40mm", current_a=3.1, power_w=12),
            ClaimedLoad(16, "big", 1.0, 0.1, 0.5),
        ],
    )
    def test_says_something(self, load):
        check_claimed_load(load)

    @pytest.mark.parametrize(
        ("load", "code"),
        [
            (ClaimedLoad(0, "5x4", 100), "cells"),
            (ClaimedLoad(17, "5x4", 100), "cells"),
            (ClaimedLoad(4, "  ", 100), "propeller"),
            (ClaimedLoad(4, "5x4"), "nothing"),
            (ClaimedLoad(4, "5x4", thrust_gf=0), "thrust_gf"),
            (ClaimedLoad(4, "5x4", thrust_gf=-5), "thrust_gf"),
            (ClaimedLoad(4, "5x4", thrust_gf=float("nan")), "thrust_gf"),
            (ClaimedLoad(4, "5x4", 1000, current_a=41_000), "current_a"),
            (ClaimedLoad(4, "5x4", 1000, power_w=float("inf")), "power_w"),
        ],
    )
    def test_else_it_is_refused_at_the_field(self, load, code):
        with pytest.raises(QuantityError) as refused:
            check_claimed_load(load)
        assert refused.value.code == code


class TestOdd:
    def test_watts_and_amps_that_no_pack_of_so_many_cells_has(self):
        assert odd_about(ClaimedLoad(4, "5x4", 1000, 40, 600), []) == []
        [said] = odd_about(ClaimedLoad(4, "5x4", 1000, 30, 620), [])
        assert "20.7 V" in said
        assert "4 cells (13.2 to 16.8 V)" in said

    def test_exactly_full_is_possible(self):
        assert odd_about(ClaimedLoad(4, "5x4", None, 10, 168), []) == []

    def test_more_cells_give_more_of_everything_on_the_same_propeller(self):
        three = ClaimedLoad(3, "5 X 4", 900, 22)
        four = ClaimedLoad(4, "5x4", 900, 30)
        [said] = odd_about(four, [three])
        assert said.startswith("No more thrust on 4 cells (900 gf) than on 3")
        # Said once, at the row with more cells.
        assert odd_about(three, [four]) == []
        assert odd_about(four, [ClaimedLoad(3, "6x4", 900, 40)]) == []
        assert odd_about(four, [ClaimedLoad(4, "5x4", 950, 40)]) == []


class TestThePropeller:
    @pytest.mark.parametrize(
        "words",
        ["wickett swift 5.1x4.2x3", "Swift", "5.1x4.2x3", "5.1 x 4.2 x 3", "51423", "5.1X4.2X3"],
    )
    def test_is_ours(self, words):
        assert is_that_propeller(words, OURS)

    @pytest.mark.parametrize(
        "words", ["", "Swift 2", "5.1x4.2x2", "5x4.2x3", "5.1x4.0x3", "nonsense", "Wickett", "\0"]
    )
    def test_is_another(self, words):
        assert not is_that_propeller(words, OURS)
        assert not is_that_propeller(words, UNNAMED)

    def test_what_the_bench_does_not_know_proves_nothing(self):
        vague = RunPropeller("Wickett 5.1 in", "", "5.1 in", (5.1, None, None))
        assert not is_that_propeller("5.1x4.2x3", vague)
        assert is_that_propeller("5.1 in", vague)
