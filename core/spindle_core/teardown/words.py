"""What an observation is made of: statuses, topics, choices and attributes."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum


class Status(StrEnum):
    """What kind of answer an observation is."""

    MEASURED = "measured"
    OBSERVED = "observed"
    COULD_NOT_TELL = "could_not_tell"
    NOT_LOOKED = "not_looked"


class Topic(StrEnum):
    """What a reader wants to read off a detail."""

    POWER = "power"
    HEAT = "heat"
    DURABILITY = "durability"
    SERVICE = "service"
    COST = "cost"


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

    ``counterpoint``: what those say who read it the other way.
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

    @property
    def is_number(self) -> bool:
        """Whether the answer is a number; a count has the unit ''."""
        return self.unit is not None


def yes_no(
    yes: str = "", no: str = "", *, helps: tuple[Topic, ...] = (), costs: tuple[Topic, ...] = ()
) -> tuple[Choice, ...]:
    """Yes, with what it suggests and speaks for or against, and no."""
    return (Choice("yes", "yes", yes, helps, costs), Choice("no", "no", no))
