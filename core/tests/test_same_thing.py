"""What may be typed twice, and what certainly was not."""

import pytest

from spindle_core.errors import QuantityError
from spindle_core.intake.same_thing import geometry_conflict, merged_marks, plain_name


@pytest.mark.parametrize(
    ("one", "other"),
    [
        ("Ostrel", "OSTREL"),
        ("Ostrel Drift", "ostrel-drift"),
        ("Ostrel  Drift ", "Ostrel_Drift"),
        ("Brackwater No. 4", "Brackwater No 4"),
        ("Fér Lite", "fer lite"),
        ("Straße", "STRASSE"),
    ],
)
def test_what_is_written_otherwise_is_one_name(one, other):
    assert plain_name(one) == plain_name(other)


@pytest.mark.parametrize(
    ("one", "other"),
    [("5.1", "51"), ("Drift 2", "Drift 3"), ("Ostrel", "Ostrels"), ("", "-x"), ("2.5", "2 5")],
)
def test_what_is_another_name_stays_one(one, other):
    assert plain_name(one) != plain_name(other)


@pytest.mark.parametrize(
    ("one", "other", "conflict"),
    [
        ((5.1, 4.3, 3), (5.1, 4.3, 3), ""),
        ((5.1, 4.3, 3), (5.1, None, None), ""),
        ((5.1, None, 3), (5.1, 4.3, None), ""),
        ((5.1, 4.3, 3), (5.11, 4.31, 3), ""),
        ((5.1, 4.3, 3), (5.0, 4.3, 3), "diameter"),
        ((5.1, 4.3, 3), (5.1, 4.0, 3), "pitch"),
        ((5.1, 4.3, 3), (5.1, 4.3, 2), "the number of blades"),
        ((5.1, None, 3), (5.1, 4.3, 2), "the number of blades"),
    ],
)
def test_propellers_that_certainly_differ(one, other, conflict):
    assert geometry_conflict(one, other) == conflict
    assert geometry_conflict(other, one) == conflict


class TestMarks:
    def test_those_that_are_taken_get_the_next_free_letters(self):
        assert merged_marks(["A", "B"], ["A", "B"]) == {"A": "C", "B": "D"}

    def test_those_that_are_free_stay(self):
        assert merged_marks(["A"], ["B", "C"]) == {}
        # C is the other's own: what has to move does not take it.
        assert merged_marks(["A"], ["A", "B", "C"]) == {"A": "D"}

    def test_small_letters_are_the_same_mark(self):
        assert merged_marks(["a"], ["A"]) == {"A": "B"}
        assert merged_marks(["A"], ["a", "b"]) == {"a": "C"}

    def test_nothing_comes_or_nothing_is_there(self):
        assert merged_marks(["A"], []) == {}
        assert merged_marks([], ["A", "second hand"]) == {}

    def test_letters_run_out(self):
        letters = [chr(65 + k) for k in range(26)]
        found = merged_marks(letters, letters)
        assert list(found.values()) == [str(k + 1) for k in range(26)]
        taken = [*letters, *(str(k) for k in range(1, 10_000))]
        with pytest.raises(QuantityError, match="No mark is left"):
            merged_marks(taken, ["A"])
