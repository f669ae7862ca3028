"""What stands in a cell besides a number."""

from __future__ import annotations

import math

import pytest

from spindle_core.errors import QuantityError
from spindle_core.run.typed_cells import (
    Doubt,
    Footage,
    TypedCell,
    doubts_text,
    footage,
    read_doubts,
    said,
)


@pytest.mark.parametrize(
    ("way", "numbers", "cell"),
    [
        ("about", [40.0], TypedCell(40.0, 2.0, assumed=True)),
        ("about", [-40.0], TypedCell(-40.0, 2.0, assumed=True)),
        ("just_below", [900.0], TypedCell(877.5, 22.5, assumed=True)),
        ("just_above", [900.0], TypedCell(922.5, 22.5, assumed=True)),
        ("just_below", [-100.0], TypedCell(-102.5, 2.5, assumed=True)),
        ("between", [890.0, 910.0], TypedCell(900.0, 10.0)),
        ("below", [900.0], TypedCell(None, bound="<", limit=900.0)),
        ("above", [0.0], TypedCell(None, bound=">", limit=0.0)),
    ],
)
def test_what_is_said(way, numbers, cell):
    assert said(way, numbers) == cell


@pytest.mark.parametrize(
    ("way", "numbers", "words"),
    [
        ("about", [0.0], "write a range"),
        ("between", [910.0, 890.0], "from the smaller"),
        ("between", [900.0, 900.0], "from the smaller"),
        ("between", [900.0], "a range, or a bound"),
        ("about", [1.0, 2.0], "a range, or a bound"),
        ("roughly", [1.0], "a range, or a bound"),
        ("below", [math.nan], "a range, or a bound"),
        ("about", [math.inf], "a range, or a bound"),
    ],
)
def test_what_says_nothing(way, numbers, words):
    with pytest.raises(QuantityError, match=words):
        said(way, numbers)


def test_a_log_says_it_in_its_preamble():
    doubts = (
        Doubt("current_a", 3, 2.0, assumed=True),
        Doubt("thrust_gf", 12, 6.666666666666667),
        Doubt("power_w", 4, bound="<", limit=900.0),
        Doubt("thrust_gf", 5, bound=">", limit=-12.5),
        Doubt("voltage_v", 6, 1e-07),
    )
    text = doubts_text(doubts)
    assert text.startswith("current_a@3~2.0 thrust_gf@12±6.666666666666667 power_w@4<900.0")
    assert read_doubts(text) == doubts
    assert read_doubts("") == ()


@pytest.mark.parametrize(
    "text", ["current_a", "current_a@0~1", "current_a@3~-1", "current_a@3?1", "@3~1", "a@3~1e999"]
)
def test_a_preamble_that_says_nothing(text):
    with pytest.raises(QuantityError, match="is none of"):
        read_doubts(text)


@pytest.mark.parametrize(
    ("text", "clip", "at"),
    [
        ("clip 3 at 04:12", "clip 3", "04:12"),
        ("from clip 3, 4:12", "clip 3", "4:12"),
        ("1:04:12", "", "1:04:12"),
        ("GX0142.mov", "GX0142.mov", ""),
        ("", "", ""),
        ("clip 12:75", "clip 12:75", ""),
        ("clip 1:2:3:04", "clip 1:2:3:04", ""),
    ],
)
def test_where_it_can_be_seen(text, clip, at):
    assert footage(text) == Footage(clip, at)
