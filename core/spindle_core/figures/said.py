"""Figures as text: no more digits than the uncertainty carries, a unit never dropped."""

from __future__ import annotations

import math

MINUS = "\N{MINUS SIGN}"
THIN = "\N{THIN SPACE}"

TWO_DIGITS_BELOW = 2.95
"""u keeps two digits when it begins with 1 or 2, else one (JCGM 100, 7.2.6)."""

MOST_DECIMALS = 6


def decimals_for(u: float) -> int:
    """Decimals at which u keeps its digits; 3 where there is no u. Negative where it keeps only
    tens, hundreds and so on: 84,000 ± 6,000."""
    if not u > 0:
        return 3
    exponent = math.floor(math.log10(u))
    digits = 2 if u / 10.0**exponent < TWO_DIGITS_BELOW else 1
    return min(MOST_DECIMALS, digits - 1 - exponent)


def decimals_for_value(value: float) -> int:
    """Decimals that give a number without u four significant digits."""
    if value == 0:
        return 0
    return max(0, min(4, 3 - math.floor(math.log10(abs(value)))))


def number(value: float, decimals: int, *, signed: bool = False) -> str:
    """A number with thousands set apart and a true minus sign; rounded to tens, hundreds and so on
    where ``decimals`` is negative. What rounds to 0 goes neither way and has no sign."""
    # Adding 0 takes the sign off a zero.
    rounded = round(value, decimals) + 0.0
    plus = "+" if signed and rounded else ""
    return f"{rounded:{plus},.{max(0, decimals)}f}".replace("-", MINUS)


def declared(value: float) -> str:
    """A number that was declared or chosen: four digits at most, and no zeros nobody wrote."""
    text = number(value, decimals_for_value(value))
    return text.rstrip("0").rstrip(".") if "." in text else text


def figure(value: float, u: float | None, unit: str, *, signed: bool = False) -> str:
    """Value, u (k = 1) and unit: ``1,175 ± 8 gf``; without ± where there is no u."""
    if u:
        decimals = decimals_for(u)
        text = f"{number(value, decimals, signed=signed)} ± {number(u, decimals)}"
    elif signed:
        text = number(value, decimals_for_value(value), signed=True)
    else:
        text = declared(value)
    return f"{text}{THIN}{unit}" if unit else text
