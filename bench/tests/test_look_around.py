"""How much is asked before a run, and what may never be left out."""

from dataclasses import replace

import pytest

from spindle_bench.errors import RefusedError
from spindle_bench.look_around import Asked, Confirmed, Mounted, asked_for
from spindle_bench.plan import ALWAYS_CONFIRMED, CHECKLIST, check_checklist, checklist_of

from .conftest import make_plan

FIRST = Mounted(sample=1, load=2, supply=3, stand=4, kind="steps")


def after(now, *, before=FIRST, off=(), earlier_off=(), **more):
    confirmed = Confirmed(before, frozenset(checklist_of(list(earlier_off), kind=before.kind)))
    return asked_for(now, confirmed, limits_off=list(off), **more)


def test_the_whole_list_once_a_day():
    asked = asked_for(FIRST, None, limits_off=["power_w"])
    assert asked.items == (*CHECKLIST, "off_power_w")
    assert "first run of the day" in asked.why


def test_a_repeat_asks_one_thing():
    asked = after(FIRST)
    assert asked == Asked(("prop_plane_clear",), "A repeat.")


@pytest.mark.parametrize(
    ("swap", "touched"),
    [
        ({"load": 9}, {"guard_in_place", "prop_checked"}),
        ({"sample": 9}, {"guard_in_place", "prop_checked", "mount_clamped"}),
        ({"supply": 9}, {"guard_in_place", "kill_switch_in_reach"}),
    ],
)
def test_a_swap_asks_what_it_touched(swap, touched):
    asked = after(replace(FIRST, **swap))
    assert set(asked.items) == touched | set(ALWAYS_CONFIRMED)
    assert "swap" in asked.why


def test_what_is_not_known_counts_as_swapped():
    blind = Mounted(None, None, None, 4, "steps")
    asked = after(blind, before=blind)
    assert {"mount_clamped", "kill_switch_in_reach"} <= set(asked.items)


def test_another_stand_and_a_cut_run_ask_everything():
    assert after(replace(FIRST, stand=5)).items == tuple(CHECKLIST)
    assert after(FIRST, after_fault=True).items == tuple(CHECKLIST)


def test_a_limit_switched_off_is_confirmed_when_it_is_new():
    assert after(FIRST, off=["power_w"]).items == ("prop_plane_clear", "off_power_w")
    assert after(FIRST, off=["power_w"], earlier_off=["power_w"]).items == ("prop_plane_clear",)
    # One that was switched on again meanwhile is not asked about.
    assert after(FIRST, earlier_off=["power_w"]).items == ("prop_plane_clear",)


def test_a_longer_grace_is_a_choice_of_its_own():
    assert "longer_page_grace" in after(FIRST, page_grace_s=5.0).items


def test_a_wheel_asks_for_its_guard_every_time():
    wheel = replace(FIRST, kind="flywheel", load=None)
    assert "wheel_guard" in after(wheel, before=wheel).items
    # From a bare shaft to a wheel nothing in the record changes but the kind.
    bare = replace(FIRST, kind="no_load", load=None)
    asked = after(wheel, before=bare)
    assert {"wheel_guard", "prop_checked", "guard_in_place"} <= set(asked.items)


def test_other_kinds_on_the_same_propeller_are_repeats():
    assert after(replace(FIRST, kind="peak")).items == ("prop_plane_clear",)


def test_the_agent_holds_a_plan_to_what_was_asked_and_never_to_less():
    plan = make_plan()
    off = [f"off_{name}" for name in plan.limits_off]
    short = replace(plan, asked=("prop_plane_clear",))
    check_checklist(short, ["prop_plane_clear"])
    with pytest.raises(RefusedError, match="prop plane clear"):
        check_checklist(short, ["eye_protection"])
    # A plan that asks nothing at all is still asked for the plane of the prop.
    with pytest.raises(RefusedError, match="prop plane clear"):
        check_checklist(replace(plan, asked=()), [])
    with pytest.raises(RefusedError, match="eye protection"):
        check_checklist(plan, ["prop_plane_clear", *off])
