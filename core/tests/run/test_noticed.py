"""What was noticed of a run that is no figure."""

from __future__ import annotations

import math

import pytest

from spindle_core.errors import QuantityError
from spindle_core.run.noticed import NOTICED, check_noticed


def test_what_was_noticed_comes_back_checked():
    found = {"sound_db": 82, "sound_distance_m": 1.0, "smell": "none", "screech_pct": 61.5}
    assert check_noticed(found) == {**found, "sound_db": 82.0}
    assert check_noticed({}) == {}


@pytest.mark.parametrize(
    ("found", "key"),
    [
        ({"luck": 1}, "luck"),
        ({"smell": "roses"}, "smell"),
        ({"smell": None}, "smell"),
        ({"screech_pct": 101}, "screech_pct"),
        ({"screech_pct": "61"}, "screech_pct"),
        ({"screech_pct": math.nan}, "screech_pct"),
        ({"screech_pct": True}, "screech_pct"),
        ({"sound_db": 82}, "sound_distance_m"),
        ({"sound_db": 82, "sound_distance_m": 0}, "sound_distance_m"),
    ],
)
def test_what_cannot_be(found, key):
    with pytest.raises(QuantityError) as refused:
        check_noticed(found)
    assert refused.value.code == key


def test_every_choice_has_words():
    for one in NOTICED.values():
        assert one.label
        assert one.choices is None or all(one.choices.values())
        assert one.choices is not None or one.low < one.high
