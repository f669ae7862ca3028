"""Conditions at which each motor has a level of its own: its rating, or the hover of a craft."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from spindle_core.compare.bench_table import ON_BENCH
from spindle_server.runs.ran import ratings_of

RATING, HOVER = "rating", "hover"

READ_AS = {RATING: "current_a", HOVER: "thrust_gf"}
"""Condition of a level of its own → the condition that is read."""

CONDITIONS = (*ON_BENCH, RATING, HOVER)

CRAFT_HOVERS: list[Callable[[int, Sequence[int]], tuple[str, dict[int, float]] | None]] = []
"""Craft and motors → its name, and the thrust each motor hovers it with [gf]; who knows craft adds
a function when the server starts. None: there is no such craft."""

CRAFT_LISTED: list[Callable[[], list[tuple[int, str, int]]]] = []
"""Craft that may be chosen: number, name and version."""


def read_as(condition: str) -> str:
    """The condition that is read for another."""
    return READ_AS.get(condition, condition)


def own_levels(
    condition: str, craft: int | None, motors: Sequence[int]
) -> tuple[str, dict[str, float]]:
    """The words of the condition and each motor's level, by its key."""
    if condition == RATING:
        rated = ratings_of(motors)
        found = {pk: one["current_a"] for pk, one in rated.items() if "current_a" in one}
        return "each at its rated current", {str(pk): level for pk, level in found.items()}
    for find in CRAFT_HOVERS:
        known = find(craft or 0, motors)
        if known is not None:
            name, levels = known
            return f"hover of {name}", {str(pk): level for pk, level in levels.items()}
    return "hover of a craft", {}


def craft_listed() -> list[tuple[int, str, int]]:
    """Craft that may be chosen: number, name and version."""
    return [row for find in CRAFT_LISTED for row in find()]
