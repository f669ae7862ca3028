"""What an observation is made of: statuses, topics, choices and attributes."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum


class Status(StrEnum):
    """What kind of answer an observation is.

    ``same_as``: seen to be the same as a reference sample's, by eye; ``inferred``: taken from a
    sibling (another wind or size of the family) without looking; ``ordinal``: less, the same or
    more than a reference sample.
    """

    MEASURED = "measured"
    OBSERVED = "observed"
    SAME_AS = "same_as"
    INFERRED = "inferred"
    ORDINAL = "ordinal"
    COULD_NOT_TELL = "could_not_tell"
    NOT_LOOKED = "not_looked"


REFERRING = (Status.SAME_AS, Status.INFERRED, Status.ORDINAL)
"""Answers that mean something only beside the reference sample they name."""


class Ordinal(StrEnum):
    """Where a sample stands beside a reference sample."""

    LESS = "less"
    SAME = "same"
    MORE = "more"


BY_SIZE = ("smaller", "about the same", "larger")


class Topic(StrEnum):
    """What a reader wants to read off a detail."""

    POWER = "power"
    HEAT = "heat"
    DURABILITY = "durability"
    SERVICE = "service"
    COST = "cost"
    MASS = "mass"


@dataclass(frozen=True, slots=True)
class Choice:
    """One answer of an observed attribute, what it suggests, and for what it speaks or against.

    A suggestion, not a finding: practitioners read these from experience, and differ.
    """

    key: str
    label: str
    suggests: str = ""
    helps: tuple[Topic, ...] = ()
    costs: tuple[Topic, ...] = ()


@dataclass(frozen=True, slots=True)
class Attribute:
    """One thing to look at: either choices, or a number with its unit and possible range.

    ``counterpoint``: what those say who read it the other way. ``ordinal``: what less, the same
    and more are called beside a reference sample; empty where that says nothing.
    """

    key: str
    step: str
    label: str
    choices: tuple[Choice, ...] = ()
    unit: str | None = None
    low: float = 0.0
    high: float = math.inf
    integer: bool = False
    counterpoint: str = ""
    ordinal: tuple[str, str, str] | tuple[()] = ()

    @property
    def ordinal_words(self) -> tuple[str, str, str] | tuple[()]:
        """Its words for less, the same and more; a measure is always smaller or larger."""
        if self.unit and not self.integer and not self.ordinal:
            return BY_SIZE
        return self.ordinal

    @property
    def is_number(self) -> bool:
        """Whether the answer is a number; a count has the unit ''."""
        return self.unit is not None


def yes_no(
    yes: str = "", no: str = "", *, helps: tuple[Topic, ...] = (), costs: tuple[Topic, ...] = ()
) -> tuple[Choice, ...]:
    """Yes, with what it suggests and speaks for or against, and no."""
    return (Choice("yes", "yes", yes, helps, costs), Choice("no", "no", no))
