"""Several runs read under equal conditions, with deltas against a baseline.

Equal thrust is the usual question; equal electrical power, shaft power and throttle are the
others. A condition that a run did not reach gives no figure.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from spindle_core.comparison import Delta, compare, with_bench_scatter
from spindle_core.errors import QuantityError
from spindle_core.measured import Absent, Measured, ratio
from spindle_core.reading import Curve, curve_from_points
from spindle_core.reduction.result import Figure, Point

READ_AT: Mapping[str, tuple[str, ...]] = {
    "thrust_gf": ("power_w", "efficiency_g_per_w", "current_a", "throttle_pct", "speed_rpm"),
    "power_w": ("thrust_gf", "efficiency_g_per_w", "current_a", "throttle_pct", "speed_rpm"),
    "shaft_power_w": ("thrust_gf", "power_w", "motor_esc_efficiency_pct", "speed_rpm"),
    "throttle_pct": ("thrust_gf", "power_w", "efficiency_g_per_w", "current_a", "speed_rpm"),
}
"""What is read at each condition, in the order of the table."""

_QUOTIENTS: Mapping[str, tuple[str, str, float]] = {
    "efficiency_g_per_w": ("thrust_gf", "power_w", 1.0),
    "motor_esc_efficiency_pct": ("shaft_power_w", "power_w", 100.0),
}
"""Figures that are the quotient of two others, and their scale."""


@dataclass(frozen=True, slots=True)
class ComparedRun:
    """A reduced run with what its stand declares.

    ``repeatability`` and ``calibration``: relative standard uncertainties of the stand.
    ``tared``: whether the origin is a measured point.
    """

    key: str
    points: Sequence[Point]
    tared: bool
    stand: str
    repeatability: float
    calibration: float


@dataclass(frozen=True, slots=True)
class Cell:
    """One figure of one run under one condition, and its difference to the baseline's.

    ``delta`` is None for the baseline itself and where either figure is absent.
    """

    figure: Figure
    delta: Delta | None


@dataclass(frozen=True, slots=True)
class Row:
    """One figure at one level of the condition; a cell per run, in the order of the runs."""

    condition: str
    at: float
    name: str
    cells: tuple[Cell, ...]

    @property
    def thrust_gf(self) -> float:
        """The thrust of a row read at equal thrust [gf]."""
        if self.condition != "thrust_gf":
            raise QuantityError(f"The row was read at equal {self.condition}.", code="condition")
        return self.at


def run_curve(run: ComparedRun, x_name: str, y_name: str) -> Curve | Absent:
    """One curve of a run; the origin belongs to it only for thrust-like axes of tared runs."""
    through_origin = run.tared and "speed_rpm" not in (x_name, y_name)
    return curve_from_points(run.points, x_name, y_name, origin=through_origin)


def comparison_rows(
    runs: Sequence[ComparedRun],
    baseline_key: str,
    levels: Sequence[float],
    *,
    margin: float,
    condition: str = "thrust_gf",
) -> list[Row]:
    """The table: at each level of the condition the figures of each run.

    :param levels: in the unit of the condition, above 0.
    :param condition: a key of :data:`READ_AT`.
    :raises QuantityError: the baseline is not among the runs, a level is not above 0, or a
        condition that runs cannot be compared at.
    """
    keys = [run.key for run in runs]
    if baseline_key not in keys:
        raise QuantityError("The baseline must be one of the compared runs.", code="baseline")
    _check(condition, levels)
    base = keys.index(baseline_key)
    rows = []
    for level in levels:
        figures = [read_at(run, level, condition) for run in runs]
        for name in READ_AT[condition]:
            column = [figure[name] for figure in figures]
            cells = tuple(
                Cell(item, None if i == base else _delta(item, column[base], margin))
                for i, item in enumerate(column)
            )
            rows.append(Row(condition, level, name, cells))
    return rows


def _check(condition: str, levels: Sequence[float]) -> None:
    if condition not in READ_AT:
        raise QuantityError(
            f"Runs are compared at equal {', '.join(READ_AT)}; not {condition!r}.",
            code="condition",
        )
    if any(level <= 0 for level in levels):
        what = condition.split("_")[0]
        raise QuantityError(f"A {what} to compare at must be above 0.", code=what)


def read_at(run: ComparedRun, level: float, condition: str = "thrust_gf") -> dict[str, Figure]:
    """The figures of one run at one level of a condition, with the stand's scatter."""
    _check(condition, [level])
    found: dict[str, Figure] = {condition: Measured(level)}
    for name in READ_AT[condition]:
        for needed in _QUOTIENTS.get(name, (name, name))[:2]:
            if needed not in found:
                found[needed] = _read(run, needed, level, condition)
    figures: dict[str, Figure] = {}
    for name in READ_AT[condition]:
        figures[name] = _quotient(found, *_QUOTIENTS[name]) if name in _QUOTIENTS else found[name]
    return figures


def _quotient(found: Mapping[str, Figure], above: str, below: str, scale: float) -> Figure:
    top, bottom = found[above], found[below]
    if isinstance(top, Absent):
        return top
    if isinstance(bottom, Absent):
        return bottom
    figure = ratio(top, bottom)
    if isinstance(figure, Absent):
        return figure
    parts = {name: scale * part for name, part in figure.components.items()}
    return Measured(scale * figure.value, parts, n=figure.n, origin=figure.origin)


def _read(run: ComparedRun, name: str, level: float, condition: str) -> Figure:
    line = run_curve(run, condition, name)
    return _with_scatter(run, line, level) if isinstance(line, Curve) else line


def _with_scatter(run: ComparedRun, line: Curve, level: float) -> Figure:
    """A reading with the stand's scatter on both axes.

    The stand's repeatability and calibration belong to the thrust, too: a thrust that is off by
    1 % moves the reading by the curve's slope. Since power grows with about T^1.5, that part is
    the larger one; leaving it out would report differences finer than the bench can see. A
    throttle is commanded, not measured, and scatters in itself not at all.
    """
    figure = line.read(level)
    if isinstance(figure, Absent):
        return figure
    if line.y_name == "throttle_pct":
        own = with_bench_scatter(
            figure, run=run.key, stand=run.stand, repeatability=0.0, calibration=0.0
        )
    else:
        own = with_bench_scatter(
            figure,
            run=run.key,
            stand=run.stand,
            repeatability=run.repeatability,
            calibration=run.calibration,
        )
    if line.x_name == "throttle_pct":
        return own
    axis = line.x_name.split("_")[0]
    through = -line.slope(level) * level
    return own.with_component(
        f"repeat_{axis}@{run.key}", through * run.repeatability
    ).with_component(f"calibration_{axis}@{run.stand}", through * run.calibration)


def _delta(figure: Figure, baseline: Figure, margin: float) -> Delta | None:
    if isinstance(figure, Absent) or isinstance(baseline, Absent) or baseline.value == 0:
        return None
    return compare(figure, baseline, margin=margin)
