"""The stands that are known, and which of them is driven: one at a time.

The agent chooses and writes it down; the stop door reads it, so that it follows also where the
agent has frozen since. A stop goes to all of them.
"""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path


@dataclass(frozen=True, slots=True)
class KnownStand:
    """A stand by the port at which it is offered, and what it is called."""

    port: int
    words: str


def stand_from(text: str) -> KnownStand:
    """``PORT=WORDS`` as a launcher says it.

    :raises ValueError: it is written otherwise.
    """
    port, sign, words = text.partition("=")
    if not sign or not (port.isascii() and port.isdigit()) or not words.strip():
        raise ValueError(f"a stand is PORT=NAME, got {text!r}")
    return KnownStand(int(port), words.strip())


def read_driven(file: Path | None, stands: Sequence[KnownStand]) -> KnownStand:
    """The stand that was chosen last, the first one where none was or it is known no more."""
    if file is not None:
        try:
            said = json.loads(file.read_text())["words"]
        except (OSError, ValueError, LookupError, TypeError):
            said = None
        for stand in stands:
            if stand.words == said:
                return stand
    return stands[0]


def write_driven(file: Path | None, stand: KnownStand) -> None:
    """Write down which is driven, whole or not at all.

    :raises OSError: it cannot be written.
    """
    if file is None:
        return
    fresh = file.with_suffix(".new")
    fresh.write_text(json.dumps({"words": stand.words}))
    fresh.replace(file)
