"""Taking a motor apart: what to look at, in which answers, and what follows from them.

``words`` says what an attribute is; ``by_hand``, ``rotor`` and ``stator`` hold them in the order
of looking, ``vocabulary`` all of them; ``check`` refuses what cannot be; ``findings`` is what
follows from the numbers.
"""

from spindle_core.teardown.check import check_observation
from spindle_core.teardown.findings import Finding, air_gap_mm, findings
from spindle_core.teardown.vocabulary import ATTRIBUTES, OPEN_POINTS, STEPS, VERSION
from spindle_core.teardown.words import Attribute, Choice, Status, Topic

__all__ = [
    "ATTRIBUTES", "OPEN_POINTS", "STEPS", "VERSION", "Attribute", "Choice", "Finding", "Status",
    "Topic", "air_gap_mm", "check_observation", "findings",
]  # fmt: skip
