"""JSON from outside is text and numbers, or is refused with its place."""

import pytest

from spindle_core.formats.strict_json import DEEPEST, JsonFaultError, strict_json


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ('{"a": "\\ud800"}', "half a character"),
        ('{"\\udfff": 1}', "half a character"),
        ("[" * (DEEPEST + 2) + "]" * (DEEPEST + 2), "deeper"),
        ("[" * 100_000, "deeper"),
        ('{"a": ' * 3_000 + "1" + "}" * 3_000, "deeper"),
        ("NaN", "no number"),
        ("[-Infinity]", "no number"),
        ("1e999", "too large"),
        ("9" * 41, "too long"),
        ("9" * 100_000, "too long"),
        ("{", "line 1, character 2"),
        (b'"\xff"', "not UTF-8"),
        ("", "line 1"),
    ],
)
def test_what_no_text_or_number_can_be_is_refused_with_its_place(text, said):
    with pytest.raises(JsonFaultError, match=said):
        strict_json(text)


@pytest.mark.parametrize(
    "text", ['"\\ud83d\\ude80"', "[" * DEEPEST + "]" * DEEPEST, "9" * 40, "1e308"]
)
def test_what_is_unusual_and_whole_comes_in(text):
    assert strict_json(text) is not None
