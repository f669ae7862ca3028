"""How hot a motor may get: the lowest of what its enamel, its magnets and its owner allow."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent

ENAMEL_CLASS_C: Mapping[str, float] = {"B": 130.0, "F": 155.0, "H": 180.0, "N": 200.0, "R": 220.0}
"""Thermal class → temperature [°C] (IEC 60085)."""

MAGNET_GRADE_C: Mapping[str, float] = {
    "": 80.0,
    "M": 100.0,
    "H": 120.0,
    "SH": 150.0,
    "UH": 180.0,
    "EH": 200.0,
}
"""Suffix of an NdFeB grade → usual highest working temperature [°C]."""

DEFAULT_CASE_MARGIN_K = 30.0
"""How much hotter the winding may be than the case a sensor sees."""

_GRADE = re.compile(r"^N\s*\d{2}\s*(M|H|SH|UH|EH)?$", re.IGNORECASE)


@dataclass(frozen=True, slots=True)
class Ceiling:
    """Highest winding temperature and what sets it; ``case_c`` is what a case sensor may read."""

    winding_c: float
    set_by: str
    case_c: float
    known: Mapping[str, float]


def magnet_limit_c(grade: str) -> float:
    """Highest working temperature of an NdFeB grade such as ``N52SH`` [°C].

    :raises QuantityError: not a grade of that form.
    """
    match = _GRADE.match(grade.strip())
    if match is None:
        raise QuantityError(
            f"{grade!r} is not a magnet grade: write N and two digits, with M, H, SH, UH or EH "
            "where marked.",
            code="magnet_grade",
        )
    return MAGNET_GRADE_C[(match[1] or "").upper()]


_DEGREES = re.compile(r"^(?:class\s*)?(\d{2,3})\s*(?:°?\s*C)?$", re.IGNORECASE)


def enamel_limit(text: str) -> tuple[str, float]:
    """What an enamel is called and how hot it may get [°C]: a class (``H``, ``class H``), or its
    temperature as labels write it (``200``, ``220 °C``).

    :raises QuantityError: neither.
    """
    cleaned = text.strip()
    letter = cleaned.upper().removeprefix("CLASS").strip()
    if letter in ENAMEL_CLASS_C:
        return f"enamel class {letter}", ENAMEL_CLASS_C[letter]
    match = _DEGREES.match(cleaned)
    degrees = float(match[1]) if match else 0.0
    if match and 90.0 <= degrees <= 300.0:
        return f"enamel of {degrees:g} °C", degrees
    listed = ", ".join(ENAMEL_CLASS_C)
    raise QuantityError(
        f"Enamel {text!r} is no class ({listed}) and no temperature in °C.", code="enamel"
    )


def temperature_ceiling(
    *,
    enamel: str | float | None = None,
    magnet_grade: str | None = None,
    own_limit_c: float | None = None,
    case_margin_k: float = DEFAULT_CASE_MARGIN_K,
) -> Ceiling | Absent:
    """The lowest limit that is known; absent when none is.

    :param enamel: thermal class (B, F, H, N, R) or the rated temperature [°C].
    :param case_margin_k: kept between a case reading and the winding [K].
    :raises QuantityError: an unknown class or grade, or a negative margin.
    """
    if case_margin_k < 0:
        raise QuantityError("The margin to the winding cannot be below 0 K.")
    known: dict[str, float] = {}
    if isinstance(enamel, str):
        name, degrees = enamel_limit(enamel)
        known[name] = degrees
    elif enamel is not None:
        known["rated enamel"] = float(enamel)
    if magnet_grade:
        known[f"magnets {magnet_grade.upper()}"] = magnet_limit_c(magnet_grade)
    if own_limit_c is not None:
        known["own limit"] = own_limit_c
    if not known:
        return Absent("no_limit_known", "neither enamel, magnets nor an own limit is known")
    name = min(known, key=lambda key: known[key])
    return Ceiling(known[name], name, known[name] - case_margin_k, known)
