"""A motor's envelope over its propellers: which of them is the thriftiest along the thrust.

Where the best and another are not told apart, both are named: no border between two propellers is
drawn that a repeat would move.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from spindle_core.compare.delta import Outcome, compare
from spindle_core.compare.mean_curves import common_span
from spindle_core.compare.subjects import Reading, Subject, read_subject
from spindle_core.figures.measured import Absent

STEPS = 48


@dataclass(frozen=True, slots=True)
class Stretch:
    """From one thrust to another [gf]: the best subject's key and those not told from it.

    ``clear``: whether nobody else's interval reaches it.
    """

    low: float
    high: float
    best: tuple[str, ...]

    @property
    def clear(self) -> bool:
        """Whether one alone is best."""
        return len(self.best) == 1


def envelope(
    compared: Sequence[Subject], *, x_name: str = "thrust_gf", y_name: str = "efficiency_g_per_w"
) -> list[Stretch]:
    """Stretches of x with the subject of the most y; empty below two subjects that tell it.

    :param compared: the same motor on several propellers, say.
    """
    spans = {}
    for subject in compared:
        span = common_span(subject, x_name, y_name)
        if not isinstance(span, Absent):
            spans[subject.key] = span
    if len(spans) < 2:
        return []
    low, high = min(s[0] for s in spans.values()), max(s[1] for s in spans.values())
    found: list[Stretch] = []
    for at in np.linspace(low, high, STEPS):
        best = _best(compared, x_name, y_name, float(at))
        if not best:
            continue
        if found and found[-1].best == best:
            found[-1] = Stretch(found[-1].low, float(at), best)
        else:
            found.append(Stretch(float(at), float(at), best))
    return found


def _best(compared: Sequence[Subject], x_name: str, y_name: str, at: float) -> tuple[str, ...]:
    read = {}
    for subject in compared:
        reading = read_subject(subject, y_name, x_name, at)
        if isinstance(reading, Reading):
            read[subject.key] = reading.figure
    if not read:
        return ()
    top = max(read, key=lambda key: read[key].value)
    same = [
        key
        for key, figure in read.items()
        if key == top or compare(figure, read[top]).outcome is not Outcome.DIFFERENT
    ]
    return tuple(same)
