"""A craft as a JSON file, ``craft/1``: what a reviewer wants motors for."""

from __future__ import annotations

import json
import math
from dataclasses import dataclass
from typing import Any

from spindle_core.errors import LogFormatError
from spindle_core.match.craft import Craft, Layout, MassItem

FORMAT = "craft/1"


@dataclass(frozen=True, slots=True)
class CraftFile:
    """The craft and its pack: capacity [mAh] and, where it is known, the C-rate it is rated for."""

    craft: Craft
    capacity_mah: float
    rated_c: float | None


def read_craft(data: bytes) -> CraftFile:
    """Read a craft.

    ``{"format": "craft/1", "layout": "multirotor", "motors": 4, "cells": 4,
    "capacity_mah": 1300, "rated_c": 75, "items": [{"name": "frame", "mass_g": 98}, …]}``; an item
    has ``count`` (1), ``basis`` (``weighed``, ``claimed`` or ``omitted``) and ``half_width_g``.

    :raises LogFormatError: with the key and what was expected.
    """
    try:
        raw = json.loads(data.decode("utf-8-sig"))
    except (UnicodeDecodeError, json.JSONDecodeError) as error:
        line = error.lineno if isinstance(error, json.JSONDecodeError) else None
        raise LogFormatError(
            "not JSON", code="not_json", line=line, expected=f"a craft, format {FORMAT!r}"
        ) from error
    if not isinstance(raw, dict) or raw.get("format") != FORMAT:
        raise _refuse("format", "this is no craft", f'"format": "{FORMAT}"')
    layout = raw.get("layout", "multirotor")
    if layout not in list(Layout):
        raise _refuse("layout", f"{layout!r} is no layout", ", ".join(Layout))
    items = raw.get("items", [])
    if not isinstance(items, list):
        raise _refuse("items", "the masses are no list", "a list of items")
    craft = Craft(
        Layout(layout),
        _whole(raw, "motors"),
        _whole(raw, "cells"),
        tuple(_item(item, number) for number, item in enumerate(items, start=1)),
        _number(raw, "lift_to_drag") if "lift_to_drag" in raw else None,
    )
    rated = _number(raw, "rated_c") if "rated_c" in raw else None
    return CraftFile(craft, _number(raw, "capacity_mah"), rated)


def _item(item: Any, number: int) -> MassItem:
    where = f"items[{number}]"
    if not isinstance(item, dict) or not isinstance(item.get("name"), str):
        raise _refuse(where, "an item has no name", '{"name": …, "mass_g": …}')
    return MassItem(
        item["name"],
        _number(item, "mass_g", where),
        _whole(item, "count", where) if "count" in item else 1,
        str(item.get("basis", "weighed")),
        _number(item, "half_width_g", where) if "half_width_g" in item else 0.0,
    )


def _number(data: dict[str, Any], key: str, where: str = "") -> float:
    value = data.get(key)
    if isinstance(value, bool) or not isinstance(value, int | float) or not math.isfinite(value):
        raise _refuse(f"{where}.{key}".lstrip("."), f"{value!r} is no number", "a number")
    return float(value)


def _whole(data: dict[str, Any], key: str, where: str = "") -> int:
    value = _number(data, key, where)
    if value != int(value):
        raise _refuse(f"{where}.{key}".lstrip("."), f"{value:g} is no whole number", "a count")
    return int(value)


def _refuse(key: str, message: str, expected: str) -> LogFormatError:
    return LogFormatError(message, code="bad_craft", column=key, expected=expected)
