"""The numbers of a profile, checked against what its kind of run asks for."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

from spindle_bench.errors import PlanError
from spindle_core.reduction.kinds import KINDS, Parameter

MOST_LISTED = 40

Values = Mapping[str, float | tuple[float, ...] | None]
"""Parameter → number, list of numbers, or None for an optional one that was left out."""


def checked_values(kind: str, data: Mapping[str, Any]) -> dict[str, Any]:
    """The parameters of a kind from plain data, with defaults where nothing is said.

    :raises PlanError: a number that is missing, none, or outside what is possible; or a name that
        the kind does not know.
    """
    known = {parameter.name: parameter for parameter in KINDS[kind].parameters}
    strange = sorted(set(data) - {*known, "kind"})
    if strange:
        raise PlanError(f"A {kind} run knows no {', '.join(strange)}.", field=strange[0])
    return {
        name: _value(parameter, data.get(name, parameter.default))
        for name, parameter in known.items()
    }


def _value(parameter: Parameter, given: Any) -> float | tuple[float, ...] | None:
    if given is None:
        if parameter.optional:
            return None
        raise PlanError(f"{parameter.label} is missing.", field=parameter.name)
    if not parameter.many:
        return _number(parameter, given)
    if not isinstance(given, list | tuple) or not 1 <= len(given) <= MOST_LISTED:
        raise PlanError(
            f"{parameter.label}: 1 to {MOST_LISTED} numbers are listed.", field=parameter.name
        )
    return tuple(_number(parameter, item) for item in given)


def _number(parameter: Parameter, given: Any) -> float:
    number = not isinstance(given, bool) and isinstance(given, int | float)
    if not number or not math.isfinite(given) or not parameter.low <= given <= parameter.high:
        raise PlanError(
            f"{parameter.label} is {parameter.low:g} to {parameter.high:g} {parameter.unit}, "
            f"got {given!r}.",
            field=parameter.name,
        )
    return float(given)
