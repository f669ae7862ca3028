"""The codes propellers are sold under, read with a confirmation in mind.

``5043x3`` is 5.0 × 4.3 inch with three blades, ``51433`` 5.1 × 4.3 × 3, ``5.1×4.3×3`` says it
plainly. Digits without points are a guess that a person confirms.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

from spindle_core.errors import QuantityError

_PLAIN = re.compile(
    r"^(\d+(?:\.\d+)?)\s*[x×*]\s*(\d+(?:\.\d+)?)(?:\s*[x×*]\s*(\d))?$", re.IGNORECASE
)
_PACKED = re.compile(r"^(\d{4,5})(?:\s*[x×*]\s*(\d))?$", re.IGNORECASE)


@dataclass(frozen=True, slots=True)
class PropellerCode:
    """Diameter and pitch [in], blades; ``certain`` is False where digits had to be guessed."""

    diameter_in: float
    pitch_in: float
    blades: int
    certain: bool


def parse_propeller_code(text: str) -> PropellerCode:
    """Read a propeller code.

    Packed digits: two for the diameter and two for the pitch, in tenths of an inch, and a fifth
    for the blades; ``1045`` (a diameter of 10 inch) is read so when tenths would give a pitch
    above the diameter. Two blades where none are said.

    :raises QuantityError: the text is no such code.
    """
    cleaned = text.strip()
    plain = _PLAIN.match(cleaned)
    if plain is not None and ("." in cleaned or len(plain[1]) <= 2):
        return _checked(text, float(plain[1]), float(plain[2]), int(plain[3] or 2), certain=True)
    packed = _PACKED.match(cleaned)
    if packed is None:
        raise QuantityError(
            f"{text!r} is not a propeller code: write diameter x pitch x blades in inches "
            "(5.1x4.3x3) or digits (51433).",
            code="propeller_code",
        )
    digits = packed[1]
    blades = int(packed[2] or (digits[4] if len(digits) == 5 else 2))
    diameter, pitch = int(digits[:2]) / 10.0, int(digits[2:4]) / 10.0
    if pitch > 1.2 * diameter:
        diameter *= 10.0
    return _checked(text, diameter, pitch, blades, certain=False)


def _checked(
    text: str, diameter: float, pitch: float, blades: int, *, certain: bool
) -> PropellerCode:
    if not (1.0 <= diameter <= 40.0 and 0.5 <= pitch <= 1.5 * diameter and 1 <= blades <= 8):
        raise QuantityError(
            f"{text!r} would be {diameter:g} × {pitch:g} inch with {blades} blades, which is no "
            "propeller; write diameter x pitch x blades.",
            code="propeller_code",
        )
    return PropellerCode(diameter, pitch, blades, certain)
