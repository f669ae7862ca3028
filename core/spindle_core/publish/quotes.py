"""A figure in prose by what it is, not by its digits.

``thrust at full throttle, Wickett 5.1x4.2x3, 16 V`` is looked up whenever somebody reads the
sentence it stands in. What it was when the sentence was written is kept beside it, so that a
sentence whose figure has moved is seen to be stale.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

from spindle_core.compare.bench_table import FULL, Load
from spindle_core.compare.delta import K_95
from spindle_core.errors import CoreError
from spindle_core.figures.measured import Absent, Figure, Measured, Origin
from spindle_core.figures.quantities import QUANTITIES
from spindle_core.figures.said import figure as figure_text
from spindle_core.intake.claim_quantities import CLAIMS


class QuoteError(CoreError):
    """What cannot be quoted."""


class QuoteKind(StrEnum):
    """What sort of figure is quoted.

    ``read``: of a motor under a load and a condition. ``delta``: the same of two motors, one
    against the other. ``subject`` and ``subject_delta``: of a comparison that is kept by name.
    ``constant``: of the motor itself, whatever is mounted. ``claim``: what somebody else says.
    ``record``: no figure but an entry of the file, such as a fault.
    """

    READ = "read"
    DELTA = "delta"
    SUBJECT = "subject"
    SUBJECT_DELTA = "subject_delta"
    CONSTANT = "constant"
    CLAIM = "claim"
    RECORD = "record"


DIFFERENCES = (QuoteKind.DELTA, QuoteKind.SUBJECT_DELTA)

LEVEL_UNITS: Mapping[str, str] = {
    "thrust_gf": "gf",
    "power_w": "W",
    "shaft_power_w": "W at the shaft",
    "throttle_pct": "% throttle",
    "current_a": "A",
    "speed_rpm": "rpm",
}

LABELS: Mapping[str, tuple[str, str]] = {
    "mass_g": ("Mass", "g"),
    "price": ("Price", ""),
    **{name: (one.label, one.unit) for name, one in QUANTITIES.items()},
}
"""Name → label and unit of what can be quoted."""


NO_LOAD = Load("", "", 0.0)

WITHIN_RATING = "at the most within its rating"
"""What *at full throttle* is where points beyond a rating are left out."""


@dataclass(frozen=True, slots=True, order=True)
class Quote:
    """What is quoted.

    ``of`` and ``against``: a motor, or of a kept comparison the first run of a subject, as text.
    ``level`` is in the unit of the condition, 0 where it has none. ``text``: of a record, the
    source of a claim, or the currency of a price.
    """

    kind: QuoteKind
    of: str
    name: str
    load: Load = NO_LOAD
    condition: str = ""
    level: float = 0.0
    against: str = ""
    text: str = ""

    @property
    def unit(self) -> str:
        """Of its figure; differences are in per cent."""
        if self.kind in DIFFERENCES:
            return "%"
        if self.kind is QuoteKind.CLAIM:
            return CLAIMS[self.name].unit if self.name in CLAIMS else ""
        if self.name == "price":
            return self.text
        return LABELS.get(self.name, ("", ""))[1]

    @property
    def words(self) -> str:
        """What it is: ``thrust at full throttle, Wickett 5.1×4.2×3, 16 V bench supply``."""
        if self.kind is QuoteKind.RECORD:
            return self.text
        label = LABELS.get(self.name, (self.name, ""))[0]
        if self.kind is QuoteKind.CLAIM:
            label = CLAIMS[self.name].label if self.name in CLAIMS else self.name
            return f"{label}, claimed ({self.text})" if self.text else f"{label}, claimed"
        parts = [f"{label} {at}" if (at := self.at) else label]
        if self.load.propeller:
            parts.append(self.load.words)
        return ", ".join(parts)

    @property
    def at(self) -> str:
        """The condition in words, empty where it has none."""
        if not self.condition:
            return ""
        if self.condition == FULL:
            return "at full throttle"
        return f"at {self.level_words}"

    def words_for(self, found: Found) -> str:
        """What it is, by what was found: *at full throttle* is not said of what was left of a run
        whose points beyond a rating are left out."""
        if self.condition == FULL and found.held_back:
            return self.words.replace("at full throttle", WITHIN_RATING, 1)
        return self.words

    @property
    def level_words(self) -> str:
        """The level it is read at, ``500 gf``; empty where there is none."""
        unit = LEVEL_UNITS.get(self.condition)
        return f"{self.level:g} {unit}" if unit else ""


def checked(quote: Quote) -> Quote:
    """The quote, if it is one that can be looked up.

    :raises QuoteError: an unknown figure or condition, or a level that none is.
    """
    if quote.kind is QuoteKind.RECORD:
        if not quote.text.strip():
            raise QuoteError("A record is quoted by its words.", code="no_words")
        return quote
    known = CLAIMS if quote.kind is QuoteKind.CLAIM else LABELS
    if quote.name not in known:
        raise QuoteError(f"There is no figure {quote.name!r}.", code="unknown_figure")
    if quote.kind in (QuoteKind.READ, *DIFFERENCES, QuoteKind.SUBJECT):
        if quote.condition != FULL and quote.condition not in LEVEL_UNITS:
            listed = ", ".join((FULL, *LEVEL_UNITS))
            raise QuoteError(f"A figure is read at {listed}.", code="unknown_condition")
        if quote.condition != FULL and not (math.isfinite(quote.level) and quote.level > 0):
            raise QuoteError("Name the level it is read at, above 0.", code="no_level")
    if quote.kind in DIFFERENCES and not quote.against:
        raise QuoteError("Name what it is held against.", code="no_baseline")
    return quote


@dataclass(frozen=True, slots=True)
class Found:
    """A quoted figure as it is now.

    ``samples`` and ``runs``: how many it rests on; 0 where that says nothing. ``beyond``: it was
    only reached beyond a rating. ``held_back``: points of its runs beyond a rating are left out.
    ``half_width``: of its 95 % interval, for differences.
    """

    figure: Figure
    samples: int = 0
    runs: tuple[int, ...] = ()
    beyond: bool = False
    outcome: str = ""
    half_width: float = 0.0
    held_back: bool = False

    @property
    def claimed(self) -> bool:
        """Whether nobody measured it here."""
        return isinstance(self.figure, Measured) and self.figure.origin is Origin.CLAIMED


@dataclass(frozen=True, slots=True)
class LastSeen:
    """What a figure was when somebody last stood by the sentence it is in.

    ``value`` None: it was absent already; a record is 1 while it is on file.
    """

    value: float | None
    u: float | None
    n: int = 0


SAME = 1e-9
"""Relative difference that a computer's arithmetic makes; nothing a reader could see."""


def seen_of(found: Found) -> LastSeen:
    """What is kept of a figure as it is now."""
    if isinstance(found.figure, Absent):
        return LastSeen(None, None)
    return LastSeen(found.figure.value, found.figure.u, found.figure.n)


def is_stale(seen: LastSeen, now: Found) -> bool:
    """Whether a figure has moved, gone or come since it was last stood by."""
    if isinstance(now.figure, Absent) or seen.value is None:
        return isinstance(now.figure, Absent) is not (seen.value is None)
    figure = now.figure
    return (
        not _alike(seen.value, figure.value)
        or not _alike(seen.u or 0.0, figure.u)
        or seen.n != figure.n
    )


def _alike(a: float, b: float) -> bool:
    return math.isclose(a, b, rel_tol=SAME, abs_tol=1e-12)


def moved(seen: LastSeen, now: Found) -> bool:
    """Whether a stale figure changed by more than its 95 % interval: a sentence may be wrong."""
    if isinstance(now.figure, Absent) or seen.value is None:
        return is_stale(seen, now)
    return abs(now.figure.value - seen.value) > K_95 * math.hypot(now.figure.u, seen.u or 0.0)


def stated(quote: Quote, seen: LastSeen) -> str:
    """The figure as it stands in a sentence, ``1,175 ± 8 gf``; a dash where there is none."""
    if quote.kind is QuoteKind.RECORD:
        return quote.text
    if seen.value is None:
        return "\N{EM DASH}"
    signed = quote.kind in DIFFERENCES
    if quote.kind is QuoteKind.CLAIM:
        return f"{figure_text(seen.value, None, quote.unit)} (claimed)"
    return figure_text(seen.value, seen.u, quote.unit, signed=signed)
