"""Taking a motor apart: what to look at, in which answers, and what follows from them.

``words`` says what an attribute is; ``outside``, ``by_hand``, ``rotor`` and ``stator`` hold them
in the order of looking, ``vocabulary`` all of them; ``check`` refuses what cannot be; ``findings``
is what follows from the numbers; ``comparison`` lays teardowns side by side.
"""

from spindle_core.teardown.check import check_observation, check_together
from spindle_core.teardown.comparison import (
    Argument,
    Row,
    Seen,
    arguments,
    compare_findings,
    compare_sheets,
)
from spindle_core.teardown.findings import Finding, air_gap_mm, findings
from spindle_core.teardown.vocabulary import ATTRIBUTES, OPEN_POINTS, OUTSIDE_STEP, STEPS, VERSION
from spindle_core.teardown.words import REFERRING, Attribute, Choice, Ordinal, Status, Topic

__all__ = [
    "ATTRIBUTES",
    "OPEN_POINTS",
    "OUTSIDE_STEP",
    "REFERRING",
    "STEPS",
    "VERSION",
    "Argument",
    "Attribute",
    "Choice",
    "Finding",
    "Ordinal",
    "Row",
    "Seen",
    "Status",
    "Topic",
    "air_gap_mm",
    "arguments",
    "check_observation",
    "check_together",
    "compare_findings",
    "compare_sheets",
    "findings",
]
