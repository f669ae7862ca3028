"""The expected curve of a run as plain data."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

from spindle_core.planning.guard import ExpectedStep


def read_curve(data: Iterable[Mapping[str, Any]] | None) -> tuple[ExpectedStep, ...]:
    """An expected curve from plain data: ``throttle_pct`` and ``figures``, a list of name, value
    and u. What cannot be read is left out: the guard then rests on the steps alone."""
    found = []
    for step in data or ():
        try:
            figures = {
                str(one["name"]): (float(one["value"]), float(one["u"])) for one in step["figures"]
            }
            found.append(ExpectedStep(float(step["throttle_pct"]), figures))
        except (KeyError, TypeError, ValueError):
            continue
    return tuple(found)


def curve_as_json(curve: Iterable[ExpectedStep]) -> list[dict[str, Any]]:
    """An expected curve as :func:`read_curve` reads it."""
    return [
        {
            "throttle_pct": step.throttle_pct,
            "figures": [
                {"name": name, "value": value, "u": u} for name, (value, u) in step.figures.items()
            ],
        }
        for step in curve
    ]
