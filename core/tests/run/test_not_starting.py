"""What to look at when a motor does not start, and as what it is kept."""

import pytest

from spindle_core.errors import QuantityError
from spindle_core.run.not_starting import BEFORE, LOOKS, kept_as


def test_the_order_goes_from_what_is_looked_at_to_what_is_taken_off():
    assert list(LOOKS) == ["signal", "arming", "range", "phases", "supply", "limits", "bearing"]
    assert BEFORE.startswith("Propeller off")


@pytest.mark.parametrize("look", LOOKS.values(), ids=LOOKS)
def test_each_look_can_come_out_well_and_says_what_to_do_where_it_does_not(look):
    keys = [one.key for one in look.findings]
    assert keys[0] == "ok"
    assert len(set(keys)) == len(keys) > 1
    assert look.question.endswith("?")
    for one in look.findings:
        assert bool(one.suggests) == (one.key != "ok")


def test_nothing_found_says_what_was_looked_at():
    kind, words = kept_as(dict.fromkeys(LOOKS, "ok"))
    assert kind == "other"
    assert words.startswith("It does not start, and nothing was found. Does the ESC get a signal?")
    assert words.count("?") == len(LOOKS)


def test_nothing_looked_at_is_said_as_it_is():
    assert kept_as({}) == ("other", "It does not start, and nothing was found.")


@pytest.mark.parametrize(
    ("found", "kind"),
    [
        ({"signal": "dark"}, "esc_failure"),
        ({"phases": "to_bell"}, "burnt_winding"),
        ({"phases": "open"}, "broken_part"),
        ({"bearing": "stuck"}, "seized"),
        # What was looked at later lies deeper, whatever the order in which it was said.
        ({"bearing": "stuck", "signal": "dark"}, "seized"),
        ({"phases": "apart", "bearing": "ok"}, "burnt_winding"),
        ({"supply": "dips"}, "other"),
    ],
)
def test_it_is_kept_as_what_was_found(found, kind):
    told = kept_as(found)
    assert told[0] == kind
    assert told[1].startswith("It does not start. ")


@pytest.mark.parametrize("wrong", [{"colour": "red"}, {"phases": "wet"}, {"phases": ""}])
def test_what_cannot_be_found_is_refused_by_its_look(wrong):
    with pytest.raises(QuantityError) as refused:
        kept_as({"signal": "ok", **wrong})
    assert refused.value.code == next(iter(wrong))
