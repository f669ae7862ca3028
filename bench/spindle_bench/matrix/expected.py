"""What shall happen in each cell. Written down before it is run; a change here is a decision.

A row is a failure, a column the state of the bench when it strikes. Words of a cell:

``quiet``           nothing arms, nothing turns, no end record
``stays``           armed as before; STOP disarms within 100 ms
``disarms T``       disarmed within T seconds
``goes on``         the run goes on; three seconds later STOP answers within 100 ms
``cut T CODES``     throttle zero within T seconds of the stand's time; one end, of these codes
``stopped T``       the stop in hand is carried through: zero within T, one end record *stopped*
``starts once``     exactly one run begins, and goes on
``one arms``        of two that ask, one is armed and the other is refused
"""

from __future__ import annotations

from typing import Final

STATES: Final = ("idle", "armed", "running", "aborting")

EXPECTED: Final[dict[str, tuple[str, str, str, str]]] = {
    "web killed": ("quiet", "stays", "goes on", "stopped 0.5"),
    "web frozen 1 s": ("quiet", "stays", "goes on", "stopped 0.5"),
    "web frozen 5 s": ("quiet", "stays", "goes on", "stopped 0.5"),
    "web frozen 30 s": ("quiet", "stays", "goes on", "stopped 0.5"),
    "database killed": ("quiet", "stays", "goes on", "stopped 0.5"),
    "database frozen 1 s": ("quiet", "stays", "goes on", "stopped 0.5"),
    "database frozen 5 s": ("quiet", "stays", "goes on", "stopped 0.5"),
    "database frozen 30 s": ("quiet", "stays", "goes on", "stopped 0.5"),
    # The stand cuts when its owner leaves, or has been silent for 300 ms.
    "agent killed": ("quiet", "disarms 0.5", "cut 0.5 agent_died", "stopped 0.5 agent_died"),
    "agent frozen 1 s": ("quiet", "disarms 0.5", "cut 0.5 link_lost", "stopped 0.5"),
    "agent frozen 5 s": ("quiet", "disarms 0.5", "cut 0.5 link_lost", "stopped 0.5"),
    "agent frozen 30 s": ("quiet", "disarms 0.5", "cut 0.5 agent_died", "stopped 0.5 agent_died"),
    # A stand that stood still cuts by itself when it comes round; the agent has given it up.
    "stand killed": ("quiet", "disarms 0.5", "cut 0.5 link_lost", "stopped 0.5"),
    "stand frozen 1 s": ("quiet", "disarms 0.5", "cut 0.5 no_samples", "stopped 0.5"),
    "stand frozen 5 s": ("quiet", "disarms 0.5", "cut 0.5 no_samples", "stopped 0.5"),
    "stand frozen 30 s": ("quiet", "disarms 0.5", "cut 0.5 no_samples", "stopped 0.5"),
    # The door comes back before the two seconds are over, or it does not.
    "door killed": ("quiet", "stays", "goes on", "stopped 0.5"),
    "door frozen 1 s": ("quiet", "stays", "goes on", "stopped 0.5"),
    "door frozen 5 s": ("quiet", "disarms 2.5", "cut 2.5 no_door", "stopped 0.5"),
    "door frozen 30 s": ("quiet", "disarms 2.5", "cut 2.5 no_door", "stopped 0.5"),
    "link between agent and stand cut": (
        "quiet",
        "disarms 0.5",
        "cut 0.5 no_samples",
        "stopped 0.5",
    ),
    "last page closed": ("quiet", "disarms 2.5", "cut 2.5 no_page", "stopped 0.5"),
    "link to the last page cut": ("quiet", "disarms 2.5", "cut 2.5 no_page", "stopped 0.5"),
    "disk full": ("quiet", "stays", "cut 0.5 recording", "stopped 0.5"),
    "stand's clock 5 s ahead": ("quiet", "disarms 0.5", "cut 0.5 clock", "stopped 0.5"),
    "stand's clock set back 100 s": ("quiet", "disarms 0.5", "cut 0.5 clock", "stopped 0.5"),
    "stand's clock stuck": ("quiet", "disarms 0.5", "cut 0.5 no_samples", "stopped 0.5"),
    "samples lost": ("quiet", "disarms 0.5", "cut 0.5 no_samples", "stopped 0.5"),
    "samples NaN": ("quiet", "disarms 0.5", "cut 0.5 bad_lines no_samples", "stopped 0.5"),
    "rows one cell short": ("quiet", "disarms 0.5", "cut 0.5 bad_lines no_samples", "stopped 0.5"),
    "samples 400 ms late": ("quiet", "disarms 0.5", "cut 0.5 no_samples", "stopped 0.5"),
    "samples doubled": ("quiet", "stays", "goes on", "stopped 0.5"),
    "two browsers arming": ("one arms", "stays", "goes on", "stopped 0.5"),
    "double start": ("quiet", "starts once", "goes on", "stopped 0.5"),
}

MOST_DATA_LOST_S: Final = 1.0
STOP_ANSWERS_S: Final = 0.1
