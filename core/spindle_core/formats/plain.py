"""Results of any station as plain JSON data: figures keep u, what is absent keeps its reason."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Mapping, Sequence
from enum import StrEnum
from typing import Any

import numpy as np

from spindle_core.figures.measured import Absent, Measured
from spindle_core.formats.result_json import figure_to_json


def plain(value: Any) -> Any:
    """Data classes, figures and arrays as dicts, lists, numbers and text.

    A :class:`Measured` becomes ``{value, u, n, origin, components}``, an :class:`Absent`
    ``{"absent": reason, "note": …}``; a number that is not finite becomes None.

    :raises TypeError: something that has no plain form.
    """
    if isinstance(value, Measured):
        return figure_to_json(value)
    if isinstance(value, Absent):
        return {"absent": value.reason, "note": value.note}
    if dataclasses.is_dataclass(value) and not isinstance(value, type):
        return {f.name: plain(getattr(value, f.name)) for f in dataclasses.fields(value)}
    if isinstance(value, StrEnum):
        return str(value)
    if value is None or isinstance(value, bool | str | int):
        return value
    if isinstance(value, float | np.floating):
        return float(value) if math.isfinite(value) else None
    if isinstance(value, np.ndarray):
        return plain(value.tolist())
    if isinstance(value, Mapping):
        return {str(key): plain(item) for key, item in value.items()}
    if isinstance(value, Sequence):
        return [plain(item) for item in value]
    raise TypeError(f"{type(value).__name__} has no plain form.")
