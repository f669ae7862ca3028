"""Figures of many points kept as columns, each made into an object only when it is asked for.

A sweep has fifty points of a dozen figures; as arrays they are computed together. The rules are
those of :mod:`spindle_core.reduction.figures`, which the tests hold against these.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from spindle_core.figures.arrays import Floats
from spindle_core.figures.measured import Absent, Figure, Measured, Origin

EACH = "/*"
"""The end of a component's key of which every point has one of its own."""


@dataclass(frozen=True, slots=True)
class Column:
    """One figure of m points. ``values`` (m,), NaN where absent for the reason ``absent``.

    ``parts``: component → signed contribution (m,); a key that ends in :data:`EACH` stands for
    one component per point. ``samples`` (m,), or None where not counted.
    """

    values: Floats
    parts: Mapping[str, Floats]
    absent: Absent
    samples: Floats | None = None
    origin: Origin = Origin.MEASURED

    def at(self, index: int) -> Figure:
        """The figure of one point."""
        value = float(self.values[index])
        if value != value:
            return self.absent
        return Measured(
            value,
            {
                (f"{key[:-1]}{index}" if key.endswith(EACH) else key): float(part[index])
                for key, part in self.parts.items()
            },
            origin=self.origin,
            samples=None if self.samples is None else int(self.samples[index]),
        )

    def scaled(self, factor: Floats | float) -> dict[str, Floats]:
        """All parts times a factor (m,)."""
        return {name: factor * part for name, part in self.parts.items()}


def missing(count: int, absent: Absent) -> Column:
    """A figure that no point has."""
    return Column(np.full(count, np.nan), {}, absent)


@dataclass(slots=True)
class ColumnRow(Mapping[str, Figure]):
    """The figures of one point: a view of the columns, made into objects when looked at."""

    columns: Mapping[str, Column]
    index: int
    _made: dict[str, Figure] = field(default_factory=dict)

    def __getitem__(self, name: str) -> Figure:
        figure = self._made.get(name)
        if figure is None:
            figure = self._made[name] = self.columns[name].at(self.index)
        return figure

    def __iter__(self) -> Iterator[str]:
        return iter(self.columns)

    def __len__(self) -> int:
        return len(self.columns)

    def value(self, name: str) -> float | None:
        """The value of a figure without making the figure; None when it is absent."""
        column = self.columns.get(name)
        if column is None:
            return None
        value = float(column.values[self.index])
        return None if value != value else value


def quotient_column(top: Column, bottom: Column, scale: float) -> Column:
    """scale × top ÷ bottom; absent where either is, or the bottom is not above 0."""
    usable = (bottom.values > 0) & np.isfinite(top.values)
    below = np.where(usable, bottom.values, np.nan)
    values = scale * top.values / below
    parts = top.scaled(scale / below)
    slope = -values / below
    for name, part in bottom.parts.items():
        parts[name] = parts.get(name, 0.0) + slope * part
    if np.isnan(top.values).all():
        absent = top.absent
    elif np.isnan(bottom.values).all():
        absent = bottom.absent
    else:
        absent = Absent("no_power", "the electrical power is not above 0 W")
    return Column(values, parts, absent, origin=Origin.DERIVED)


def shaft_power_column(torque: Column, speed: Column) -> Column:
    """Torque × angular speed [W]."""
    per_rpm = 2.0 * np.pi / 60.0
    parts = torque.scaled(per_rpm * speed.values)
    for name, part in speed.parts.items():
        parts[name] = parts.get(name, 0.0) + per_rpm * torque.values * part
    absent = torque.absent if np.isnan(torque.values).all() else speed.absent
    values = per_rpm * torque.values * speed.values
    return Column(values, parts, absent, origin=Origin.DERIVED)


def derived_columns(columns: Mapping[str, Column]) -> dict[str, Column]:
    """gf/W, shaft power [W] and motor + ESC efficiency [%] of every point."""
    shaft = shaft_power_column(columns["torque_nm"], columns["speed_rpm"])
    return {
        "efficiency_g_per_w": quotient_column(columns["thrust_gf"], columns["power_w"], 1.0),
        "shaft_power_w": shaft,
        "motor_esc_efficiency_pct": quotient_column(shaft, columns["power_w"], 100.0),
    }


def rows(columns: Mapping[str, Column], count: int) -> Sequence[ColumnRow]:
    """A view of each of the ``count`` points."""
    return [ColumnRow(columns, index) for index in range(count)]
