"""Measured curves read between their points, and only there.

Monotone piecewise-cubic interpolation (SciPy's ``PchipInterpolator``; Fritsch and Butland 1984)
through the measured points. A reading outside the measured range is absent, "not reached":
nothing is extrapolated.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.interpolate import PchipInterpolator

from spindle_core.errors import ReadingError
from spindle_core.measured import Absent, Measured, Origin
from spindle_core.reduction.result import Point
from spindle_core.trace import Floats


@dataclass(frozen=True, slots=True)
class Curve:
    """``y`` over ``x``, increasing in x, with u of both; shape (n,) each, n ≥ 2.

    Names carry the units. Build one with :func:`curve_from_points` or :func:`curve`.
    """

    x_name: str
    y_name: str
    x: Floats
    y: Floats
    u_x: Floats
    u_y: Floats

    def read(self, at: float) -> Measured | Absent:
        """y at x = ``at``, with u interpolated from the neighbours and u of x through the slope.

        Absent with reason ``not_reached`` outside the measured range.
        """
        if not self.x[0] <= at <= self.x[-1]:
            unit = self.x_name.rsplit("_", 1)[-1]
            return Absent(
                "not_reached", f"measured from {self.x[0]:.4g} to {self.x[-1]:.4g} {unit}"
            )
        slope = self.slope(at)
        u_y = float(np.interp(at, self.x, self.u_y))
        u_x = float(np.interp(at, self.x, self.u_x))
        return Measured(
            float(PchipInterpolator(self.x, self.y)(at)),
            {f"within_run_{self.y_name}": u_y, f"within_run_{self.x_name}": -slope * u_x},
            origin=Origin.DERIVED,
        )

    def slope(self, at: float) -> float:
        """dy/dx at x = ``at`` inside the measured range [unit of y per unit of x]."""
        return float(PchipInterpolator(self.x, self.y).derivative()(at))

    def sampled(self, count: int = 80) -> tuple[Floats, Floats]:
        """The curve on ``count`` equal steps of its measured range, for drawing."""
        x = np.linspace(self.x[0], self.x[-1], count)
        return x, PchipInterpolator(self.x, self.y)(x)


def curve(
    x: Sequence[float] | Floats,
    y: Sequence[float] | Floats,
    *,
    x_name: str,
    y_name: str,
    u_x: Sequence[float] | Floats | None = None,
    u_y: Sequence[float] | Floats | None = None,
) -> Curve:
    """A curve from arrays of shape (n,); points are sorted, equal x are averaged.

    :raises ReadingError: fewer than two distinct x, or a value that is not finite.
    """
    columns = [np.asarray(x, dtype=float), np.asarray(y, dtype=float)]
    columns += [
        np.zeros_like(columns[0]) if u is None else np.asarray(u, dtype=float) for u in (u_x, u_y)
    ]
    if not all(np.isfinite(column).all() for column in columns):
        raise ReadingError(f"{y_name} over {x_name} holds values that are not finite.")
    levels, index, counts = np.unique(columns[0], return_inverse=True, return_counts=True)
    if levels.size < 2:
        raise ReadingError(
            f"A curve of {y_name} needs points at two different {x_name}.", code="too_few_points"
        )
    mean_y = np.bincount(index, columns[1]) / counts
    mean_u_x = np.sqrt(np.bincount(index, columns[2] ** 2)) / counts
    mean_u_y = np.sqrt(np.bincount(index, columns[3] ** 2)) / counts
    return Curve(x_name, y_name, levels, mean_y, mean_u_x, mean_u_y)


def curve_from_points(
    points: Sequence[Point], x_name: str, y_name: str, *, origin: bool
) -> Curve | Absent:
    """The curve of one figure over another from a run's points.

    ``origin`` adds (0, 0), which is a measured point when thrust was tared. Where x does not
    rise with throttle (a curve that folds back), readings would be ambiguous: absent.
    """
    rows = []
    for point in points:
        x, y = point.figures.get(x_name), point.figures.get(y_name)
        if isinstance(x, Measured) and isinstance(y, Measured):
            rows.append((x.value, y.value, _scatter(x), _scatter(y)))
    if origin:
        rows.append((0.0, 0.0, 0.0, 0.0))
    if len({row[0] for row in rows}) < 2:
        return Absent("too_few_points", f"needs two points with {x_name} and {y_name}")
    x, y, u_x, u_y = np.array(rows).T
    return curve(x, y, x_name=x_name, y_name=y_name, u_x=u_x, u_y=u_y)


def _scatter(figure: Measured) -> float:
    """u without the calibration, which moves a whole curve and is added where curves are read."""
    parts = figure.components.items()
    return math.hypot(*(part for name, part in parts if not name.startswith("calibration")))
