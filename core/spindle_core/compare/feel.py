"""What a stick does with a motor: how it begins, what its last tenth gives, and what makes one
motor feel like another.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from spindle_core.compare.of_models import of_sample
from spindle_core.compare.subjects import Reading, Subject, read_subject
from spindle_core.figures.arrays import Floats
from spindle_core.figures.measured import Absent, Figure, Measured, difference, ratio
from spindle_core.figures.said import figure as in_words
from spindle_core.reduction.throttle_feel import STICK, TOP_PCT, matching_expo
from spindle_core.run.duty import FULL_THROTTLE_PCT

NO_TORQUE_LEFT = 0.5
"""Below this top-end ratio the last watts mostly warm the motor."""

SOFT_START, SHARP_START = 0.35, 0.7
"""Slope up to a fifth of the stick, against a straight line to full throttle."""

STICKS = np.linspace(0.0, 100.0, 51)


@dataclass(frozen=True, slots=True)
class Feel:
    """How a subject answers the stick.

    ``low_slope_gf_per_pct`` and ``low_ratio``: up to a fifth of it, and against a straight line to
    full. ``top_end_ratio``: slope over 90–100 % against 50–80 %. ``last_tenth_thrust_pct`` and
    ``last_tenth_current_a_pct``: what the last tenth gives and takes, of the value at full
    throttle. ``expo``: that makes it begin as the reference does. ``words``: the same in a
    sentence. ``stick_pct`` and ``thrust_gf``: its thrust with that expo, shape (51,), NaN where it
    was not measured; None without an expo.
    """

    low_slope_gf_per_pct: Figure
    low_ratio: Figure
    top_end_ratio: Figure
    last_tenth_thrust_pct: Figure
    last_tenth_current_pct: Figure
    expo: float | Absent
    words: str
    stick_pct: Floats | None
    thrust_gf: Floats | None


def feel_of(compared: Sequence[Subject], reference: Subject | None) -> list[Feel]:
    """How each subject answers the stick, and the expo that makes it begin as the reference.

    :param reference: None where each is only told by itself.
    """
    wanted = None
    if reference is not None:
        wanted = _at(reference, "thrust_gf", 100.0 * STICK)
    found = []
    for subject in compared:
        expo: float | Absent = Absent("no_reference", "nothing to feel like")
        if subject is reference:
            expo = Absent("reference", "it is what the others are made to feel like")
        elif isinstance(wanted, Measured):
            expo = _expo(subject, wanted.value)
        elif wanted is not None:
            expo = Absent("not_reached", "the reference has no thrust at a fifth of the throttle")
        found.append(_feel(subject, expo))
    return found


def _at(subject: Subject, name: str, throttle_pct: float) -> Figure:
    reading = read_subject(subject, name, "throttle_pct", throttle_pct)
    return reading.figure if isinstance(reading, Reading) else reading


def _thrust_at(subject: Subject, share: float) -> float | None:
    if share <= 0:
        return 0.0
    figure = _at(subject, "thrust_gf", 100.0 * share)
    return figure.value if isinstance(figure, Measured) else None


def _expo(subject: Subject, reference_gf: float) -> float | Absent:
    lowest = _lowest_throttle(subject)
    if lowest is None or lowest >= STICK:
        return Absent("not_reached", "thrust at a fifth of the throttle was not measured")
    # Full expo turns a fifth of the stick into 0.8 % of throttle, which few runs hold.
    most = min(1.0, (STICK - lowest) / (STICK - STICK**3))
    return matching_expo(
        lambda share: _thrust_at(subject, max(share, lowest)), reference_gf=reference_gf, most=most
    )


def _lowest_throttle(subject: Subject) -> float | None:
    found = []
    for run in subject.runs:
        shares = [
            at / 100.0
            for point in run.core.points
            if (at := point.value("throttle_pct")) and (point.value("thrust_gf") or 0.0) > 0
        ]
        if shares:
            found.append(min(shares))
    return max(found, default=None)


def _summary(subject: Subject, name: str) -> Figure:
    figures = [
        figure for run in subject.runs if isinstance(figure := run.summary.get(name), Measured)
    ]
    if figures:
        return of_sample(figures, source=f"{subject.key}/{name}")
    first = next((run.summary[name] for run in subject.runs if name in run.summary), None)
    return first if isinstance(first, Absent) else Absent("not_measured", "no run tells it")


def _last_tenth(subject: Subject, name: str) -> Figure:
    top = _highest(subject)
    if top < FULL_THROTTLE_PCT:
        return Absent("no_full_throttle", f"it was run to {top:.0f} % of throttle")
    full, before = (_at(subject, name, at) for at in (top, TOP_PCT))
    if isinstance(full, Absent):
        return full
    if isinstance(before, Absent):
        return before
    share = ratio(difference(full, before), full)
    return share if isinstance(share, Absent) else share.scaled(100.0)


def _highest(subject: Subject) -> float:
    """The highest throttle that all of its runs measured [%]."""
    tops = [
        max((point.value("throttle_pct") or 0.0 for point in run.core.points), default=0.0)
        for run in subject.runs
    ]
    return min(tops, default=0.0)


def _feel(subject: Subject, expo: float | Absent) -> Feel:
    thrust, current = (_last_tenth(subject, name) for name in ("thrust_gf", "current_a"))
    low, top = (_summary(subject, n) for n in ("low_throttle_ratio", "top_end_ratio"))
    stick = gained = None
    if not isinstance(expo, Absent):
        stick = STICKS
        shares = STICKS / 100.0
        gained = np.array(
            [
                np.nan if (gf := _thrust_at(subject, float(s))) is None else gf
                for s in (1.0 - expo) * shares + expo * shares**3
            ]
        )
    return Feel(
        _summary(subject, "low_throttle_slope_gf_per_pct"),
        low,
        top,
        thrust,
        current,
        expo,
        _words(low, top, thrust, current),
        stick,
        gained,
    )


def _begins(low: Measured) -> str:
    """How it begins, as far as that is told; empty where it is not."""
    least, most = low.value - 2.0 * low.u, low.value + 2.0 * low.u
    if most < SOFT_START:
        return "begins softly"
    if least > SHARP_START:
        return "begins sharply"
    return "begins evenly" if least >= SOFT_START and most <= SHARP_START else ""


def _words(low: Figure, top: Figure, thrust: Figure, current: Figure) -> str:
    said = []
    if isinstance(low, Measured) and (begins := _begins(low)):
        said.append(begins)
    if isinstance(thrust, Measured) and isinstance(current, Measured):
        said.append(
            f"the last tenth of the stick gives {in_words(thrust.value, thrust.u, '%')} of the "
            f"thrust for {in_words(current.value, current.u, '%')} of the current"
        )
    if isinstance(top, Measured) and top.value + 2.0 * top.u < NO_TORQUE_LEFT:
        said.append("no torque is left there: more watts only warm it")
    return "; ".join(said)
