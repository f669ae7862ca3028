"""What was noticed of a run that is no figure: how it sounded, shook, smelt; and what it was for.

A sound level without its distance says nothing: 82 dB at a metre are 76 at two.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

from spindle_core.errors import QuantityError


@dataclass(frozen=True, slots=True)
class Noticed:
    """One thing to notice: a number between ``low`` and ``high`` [``unit``], or one of
    ``choices`` (key → words)."""

    key: str
    label: str
    unit: str = ""
    low: float = 0.0
    high: float = 0.0
    choices: Mapping[str, str] | None = None


_ALL: Final = (
    Noticed("sound_db", "Sound level", "dB", 20.0, 140.0),
    Noticed("sound_distance_m", "heard at", "m", 0.05, 50.0),
    Noticed(
        "sound",
        "Sound",
        choices={
            "even": "even hum",
            "whine": "whines",
            "harsh": "harsh",
            "grinding": "grinds",
            "clicking": "clicks",
        },
    ),
    Noticed("screech_pct", "Screeches at", "%", 0.0, 100.0),
    Noticed(
        "smoothness",
        "Runs",
        choices={"smooth": "smoothly", "uneven": "unevenly", "stutters": "stutters"},
    ),
    Noticed(
        "vibration",
        "Vibration",
        choices={"none": "none felt", "slight": "slight", "strong": "strong"},
    ),
    Noticed(
        "smell", "Smell", choices={"none": "none", "warm": "of warm varnish", "burnt": "burnt"}
    ),
    Noticed("smoke", "Smoke", choices={"none": "none", "some": "smoke seen"}),
)

NOTICED: Final[dict[str, Noticed]] = {one.key: one for one in _ALL}
"""Everything that can be noticed, in the order of the page."""

PURPOSES: Final[dict[str, str]] = {
    "comparison": "to compare motors",
    "limit": "to find a limit",
    "request": "a reader asked for it",
    "check": "to check stand or repeat",
}
"""What a run is for; a limit run is expected to go beyond a rating, another is not."""


def check_noticed(found: Mapping[str, object]) -> dict[str, float | str]:
    """What was noticed, checked.

    :raises QuantityError: with ``where`` naming the key: one that is none, a number out of its
        range, a word that is no choice, or a sound level without its distance.
    """
    checked: dict[str, float | str] = {}
    for key, value in found.items():
        known = NOTICED.get(key)
        if known is None:
            raise QuantityError(f"{key!r} is nothing that can be noticed.", code=key)
        if known.choices is not None:
            if value not in known.choices:
                listed = ", ".join(known.choices)
                raise QuantityError(f"{known.label} is one of {listed}.", code=key)
            checked[key] = str(value)
            continue
        number = value if isinstance(value, int | float) and not isinstance(value, bool) else None
        if number is None or not math.isfinite(number) or not known.low <= number <= known.high:
            message = (
                f"{known.label} is a number from {known.low:g} to {known.high:g} {known.unit}."
            )
            raise QuantityError(message, code=key)
        checked[key] = float(number)
    if "sound_db" in checked and "sound_distance_m" not in checked:
        raise QuantityError(
            "A sound level needs the distance at which it was heard.", code="sound_distance_m"
        )
    return checked
