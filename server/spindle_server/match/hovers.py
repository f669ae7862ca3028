"""The thrust at which each motor would hover a craft: Compare reads the bench there."""

from __future__ import annotations

from collections.abc import Sequence

from spindle_core.errors import CoreError
from spindle_core.figures.measured import Absent
from spindle_core.match.craft import all_up_mass, needed_thrust_gf
from spindle_server.match.as_core import core_craft
from spindle_server.match.models import Craft
from spindle_server.rank.facts import facts_of


def craft_to_choose() -> list[tuple[int, str, int]]:
    """Number, name and version of every craft."""
    return list(Craft.objects.order_by("name").values_list("pk", "name", "version"))


def hover_levels(craft: int, motors: Sequence[int]) -> tuple[str, dict[int, float]] | None:
    """The craft's name and the thrust of each motor in hover [gf], its own mass swapped in.

    A motor whose mass nobody knows, and a plane without a lift-to-drag, have none.
    """
    row = Craft.objects.filter(pk=craft).first()
    if row is None:
        return None
    try:
        core = core_craft(row)
    except CoreError:
        return row.name, {}
    found = {}
    for pk, facts in facts_of(sorted(set(motors))).items():
        if isinstance(facts.mass_g, Absent):
            continue
        needed = needed_thrust_gf(core, all_up_mass(core, facts.mass_g))
        if not isinstance(needed, Absent) and needed.value > 0:
            found[pk] = needed.value
    return row.name, found
