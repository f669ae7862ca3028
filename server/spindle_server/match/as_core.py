"""A kept craft in the core's terms."""

from __future__ import annotations

from spindle_core.match.craft import Craft as CoreCraft
from spindle_core.match.craft import Layout, MassItem
from spindle_server.match.models import Craft


def core_craft(row: Craft) -> CoreCraft:
    """The craft.

    :raises CoreError: an impossible one.
    """
    items = tuple(
        MassItem(
            one["name"],
            one["mass_g"],
            one.get("count", 1),
            one.get("basis", "weighed"),
            one.get("half_width_g") or 0.0,
        )
        for one in row.items
    )
    for item in items:
        item.figure()
    return CoreCraft(
        Layout(row.layout),
        row.motors,
        row.cells,
        items,
        lift_to_drag=row.lift_to_drag,
        cruise_throttle_pct=row.cruise_throttle_pct,
    )
