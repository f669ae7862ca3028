"""What has to be confirmed before this run, given what the same person confirmed before it.

The whole list once per bench day and person; after a swap what the swap touched; for a repeat one
item. After a fault, or where anything is not known, the whole list again. It asks less of who does
the same thing forty times, so that what is asked is read.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from spindle_bench.plan import (
    ALWAYS_CONFIRMED,
    CHECKLIST,
    EACH_TIME,
    KIND_CHECKLIST,
    PAGE_GRACE_S,
    checklist_of,
)

TOUCHED_BY: Final = {
    "sample": ("guard_in_place", "prop_checked", "mount_clamped"),
    "load": ("guard_in_place", "prop_checked"),
    "supply": ("guard_in_place", "kill_switch_in_reach"),
}
"""What is looked at again after a swap of motor, of what it turns, or of the supply."""


@dataclass(frozen=True, slots=True)
class Mounted:
    """What a look around was for, by the record's numbers; ``kind`` of the run."""

    sample: int | None
    load: int | None
    supply: int | None
    stand: int | None
    kind: str


@dataclass(frozen=True, slots=True)
class Confirmed:
    """The last look around of a person on this day."""

    mounted: Mounted
    items: frozenset[str]


@dataclass(frozen=True, slots=True)
class Asked:
    """What has to be confirmed, in the checklist's order, and why that much."""

    items: tuple[str, ...]
    why: str


def asked_for(
    now: Mounted,
    before: Confirmed | None,
    *,
    limits_off: Sequence[str],
    page_grace_s: float = PAGE_GRACE_S,
    after_fault: bool = False,
    guard_off: bool = False,
    by_hand: bool = False,
) -> Asked:
    """What has to be confirmed before a run.

    :param before: None where this person has not confirmed anything today.
    :param after_fault: the last run on the stand ended in a fault or at a limit.
    """
    whole = checklist_of(limits_off, page_grace_s, now.kind, guard_off=guard_off, by_hand=by_hand)
    if before is None:
        return Asked(tuple(whole), "The first run of the day: the whole look around.")
    if after_fault:
        return Asked(tuple(whole), "The last run was cut: the whole look around again.")
    if before.mounted.stand != now.stand:
        return Asked(tuple(whole), "Another stand: the whole look around.")
    swapped = [
        name
        for name in TOUCHED_BY
        if (getattr(now, name) is None and name != "load")
        or getattr(now, name) != getattr(before.mounted, name)
    ]
    if now.kind != before.mounted.kind and "load" not in swapped:
        bare = KIND_CHECKLIST.keys() & {now.kind, before.mounted.kind}
        swapped += ["load"] if bare else []
    wanted = {*ALWAYS_CONFIRMED, *EACH_TIME, *KIND_CHECKLIST.get(now.kind, {})}
    for name in swapped:
        wanted |= set(TOUCHED_BY[name])
    # What is off by choice, or outlives its page, is a choice made anew unless it was made today.
    chosen = {item for item in whole if item not in CHECKLIST}
    wanted |= chosen - before.items
    why = f"After a swap: what it touched ({_words(swapped)})." if swapped else "A repeat."
    return Asked(tuple(item for item in whole if item in wanted), why)


def _words(swapped: Sequence[str]) -> str:
    words = {"sample": "motor", "load": "propeller or load", "supply": "supply"}
    return ", ".join(words[name] for name in swapped)
