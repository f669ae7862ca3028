"""Repeats while they are made: do they agree, is that enough, or is one more wanted?

Two runs that agree to within what the stand repeats to need no third; three that do not agree need
a fourth; four that do not are no longer a matter of repeating. The standard uncertainty of the mean
rests on the stand's repeatability and on the spread seen, whichever is larger: two runs that happen
to lie beside each other do not make it small.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Measured, component
from spindle_core.figures.repeats import SPREAD_ALPHA, spread_of_repeats

USUAL: Final = 3
CLOSE_P: Final = 0.32
"""Two runs stop early when a difference as large as theirs is as likely as one standard
deviation."""

NOT_COMPARED: Final = ("targets", "targets_reached", "bursts", "cycles", "tare_drift_gf")
"""Figures that describe a run, not its motor."""


class Advice(StrEnum):
    """What to do next."""

    RUN = "run"
    ENOUGH = "enough"
    ANOTHER = "another"
    LOOK = "look"


@dataclass(frozen=True, slots=True)
class Agreement:
    """One figure over the repeats so far.

    ``p_value``: how likely a spread this large is where runs scatter as the stand does; None for
    one run. ``agrees``: None while one run tells nothing.
    """

    name: str
    values: tuple[float, ...]
    mean: Measured
    s: float | None
    p_value: float | None
    agrees: bool | None


@dataclass(frozen=True, slots=True)
class Repeats:
    """The repeats so far and what to do next, in a sentence."""

    n: int
    wanted: int
    rows: tuple[Agreement, ...]
    advice: Advice
    words: str


def agreement(
    name: str, values: Sequence[float], *, repeatability: float, tests: int = 1
) -> Agreement:
    """How well repeats of one figure agree.

    :param repeatability: relative standard deviation of one run; above 0.
    :param tests: how many figures are tested beside each other; the 5 % are shared among them.
    :raises QuantityError: no values, no finite one, or no repeatability.
    """
    if not values or not all(map(math.isfinite, values)):
        raise QuantityError(f"{name}: repeats need finite values")
    if not repeatability > 0:
        raise QuantityError(f"{name}: a repeatability is above 0, got {repeatability:g}")
    n, mean = len(values), math.fsum(values) / len(values)
    s, p, agrees = None, None, None
    if n > 1:
        spread = spread_of_repeats(values, repeatability=repeatability)
        s, p = spread.s, spread.p_value
        agrees = None if p is None else p >= SPREAD_ALPHA / tests
    u = max(s or 0.0, repeatability * abs(mean)) / math.sqrt(n)
    figure = Measured(mean, {component("repeat", "stand"): u}, n=n)
    return Agreement(name, tuple(values), figure, s, p, agrees)


def repeats_so_far(
    figures: Mapping[str, Sequence[float]],
    n: int,
    *,
    wanted: int = USUAL,
    repeatability: float,
    assumed: bool = False,
) -> Repeats:
    """What the repeats of one run say so far.

    :param figures: figure → its values, a value a run; those that only describe a run are left out.
    :param n: runs made, also those without figures.
    :param wanted: how many are to be made.
    :param assumed: the repeatability was assumed, nobody measured it: then nothing stops early.
    :raises QuantityError: ``wanted`` or ``n`` below what is possible.
    """
    if wanted < 1 or n < 0:
        raise QuantityError(f"1 or more repeats are wanted, got {wanted}; made {n}")
    kept = {k: v for k, v in figures.items() if v and k not in NOT_COMPARED}
    rows = tuple(
        agreement(name, values, repeatability=repeatability, tests=len(kept))
        for name, values in kept.items()
    )
    advice, words = _advice(rows, n, wanted, repeatability, assumed)
    return Repeats(n, wanted, rows, advice, words)


def _advice(
    rows: Sequence[Agreement], n: int, wanted: int, repeatability: float, assumed: bool
) -> tuple[Advice, str]:
    share = f"{100 * repeatability:.2g} %"
    stand = (
        f"what the stand is assumed to repeat to ({share})"
        if assumed
        else (f"what the stand repeats to ({share})")
    )
    left = f"{n} of {wanted} made"
    if n == 0:
        return Advice.RUN, "No run yet."
    if n == 1:
        if wanted == 1:
            return Advice.ENOUGH, "One run was wanted; it says nothing about its own spread."
        return Advice.RUN, f"{left}; one run says nothing about its own spread."
    judged = [row for row in rows if row.agrees is not None]
    if not judged:
        enough = n >= wanted
        return (
            Advice.ENOUGH if enough else Advice.RUN
        ), f"{left}; no figure of theirs is compared."
    apart = [row for row in judged if not row.agrees]
    if apart:
        if n < wanted:
            return Advice.RUN, f"{left}; they lie further apart than {stand}."
        if n == wanted:
            return (
                Advice.ANOTHER,
                f"{left}; they lie further apart than {stand}: one more is proposed.",
            )
        return (
            Advice.LOOK,
            f"{n} made; they lie further apart than {stand}. Another run does not mend that: look "
            "for what differs (start temperature, tightness, supply, air).",
        )
    if n >= wanted:
        return Advice.ENOUGH, f"{left}; they agree within {stand}."
    close = all((row.p_value or 0.0) >= CLOSE_P for row in judged)
    if close and not assumed:
        return Advice.ENOUGH, f"{left}; they agree well within {stand}: that is enough."
    return Advice.RUN, f"{left}; so far they agree within {stand}."
