"""What nobody tested, told by a first look: a page without runs says what it cannot say."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from typing import Final

from spindle_core.teardown.vocabulary import STEPS

TELLS: Final = (
    (("steps", "ramp", "readings", "peak", "hold"), "thrust, current, power and gf/W"),
    (("no_load",), "kV and no-load current"),
    (("flywheel",), "torque over speed"),
    (("response",), "how fast it follows the throttle"),
    (("soak",), "how warm it gets and what it stands for long"),
)
"""Kinds of run, any of which tells something: what stays unknown without all of them."""


def untested(
    kinds_run: Collection[str],
    unmeasured: Sequence[str],
    steps_seen: Collection[str],
    *,
    weighed: bool,
    samples: int,
) -> list[str]:
    """What was not tested, in whole lines, what matters most first.

    :param kinds_run: kinds of the runs that count. :param unmeasured: labels of what is claimed and
        was not measured. :param steps_seen: steps of the teardown with at least one answer.
    :param weighed: whether a sample was. :param samples: how many there are.
    """
    found = [
        f"Not run: {told}." for kinds, told in TELLS if not any(one in kinds_run for one in kinds)
    ]
    if unmeasured:
        found.append(f"Claimed and not measured here: {', '.join(unmeasured)}.")
    if not weighed:
        found.append("No sample was weighed.")
    blank = [step for step in STEPS if step not in steps_seen]
    if len(blank) == len(STEPS):
        found.append("It was not taken apart.")
    elif blank:
        found.append(f"Not looked at: {', '.join(one.lower() for one in blank)}.")
    if samples == 1:
        found.append("One sample only: nothing can be said of how much they differ.")
    return found
