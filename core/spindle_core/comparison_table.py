"""Several runs read at the same thrusts, with deltas against a baseline."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from spindle_core.comparison import Delta, compare, with_bench_scatter
from spindle_core.errors import QuantityError
from spindle_core.measured import Absent, Measured, ratio
from spindle_core.reading import Curve, curve_from_points
from spindle_core.reduction.result import Figure, Point

READ_AT_THRUST = ("power_w", "current_a", "throttle_pct", "speed_rpm")


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
    """One figure of one run at one thrust, and its difference to the baseline's.

    ``delta`` is None for the baseline itself and where either figure is absent.
    """

    figure: Figure
    delta: Delta | None


@dataclass(frozen=True, slots=True)
class Row:
    """One figure at one thrust [gf]; a cell per run, in the order of the runs."""

    thrust_gf: float
    name: str
    cells: tuple[Cell, ...]


def run_curve(run: ComparedRun, x_name: str, y_name: str) -> Curve | Absent:
    """One curve of a run; the origin belongs to it only for thrust-like axes of tared runs."""
    through_origin = run.tared and "speed_rpm" not in (x_name, y_name)
    return curve_from_points(run.points, x_name, y_name, origin=through_origin)


def comparison_rows(
    runs: Sequence[ComparedRun], baseline_key: str, thrusts_gf: Sequence[float], *, margin: float
) -> list[Row]:
    """The table: for each thrust the power, g/W, current, throttle and speed of each run.

    :raises QuantityError: the baseline is not among the runs, or a thrust is not above 0 gf.
    """
    keys = [run.key for run in runs]
    if baseline_key not in keys:
        raise QuantityError("The baseline must be one of the compared runs.", code="baseline")
    if any(thrust <= 0 for thrust in thrusts_gf):
        raise QuantityError("A thrust to compare at must be above 0 gf.", code="thrust")
    base = keys.index(baseline_key)
    rows = []
    for thrust in thrusts_gf:
        figures = [_read(run, thrust) for run in runs]
        for name in ("power_w", "efficiency_g_per_w", *READ_AT_THRUST[1:]):
            column = [figure[name] for figure in figures]
            cells = tuple(
                Cell(item, None if i == base else _delta(item, column[base], margin))
                for i, item in enumerate(column)
            )
            rows.append(Row(thrust, name, cells))
    return rows


def _read(run: ComparedRun, thrust_gf: float) -> dict[str, Figure]:
    figures: dict[str, Figure] = {}
    for name in READ_AT_THRUST:
        line = run_curve(run, "thrust_gf", name)
        if isinstance(line, Curve):
            figures[name] = _with_scatter(run, line, thrust_gf)
        else:
            figures[name] = line
    power = figures["power_w"]
    figures["efficiency_g_per_w"] = (
        ratio(Measured(thrust_gf), power) if isinstance(power, Measured) else power
    )
    return figures


def _with_scatter(run: ComparedRun, line: Curve, thrust_gf: float) -> Figure:
    """A reading with the stand's scatter on both axes.

    The stand's repeatability and calibration belong to the thrust, too: a thrust that is off by
    1 % moves the reading by the curve's slope. Since power grows with about T^1.5, that part is
    the larger one; leaving it out would report differences finer than the bench can see.
    """
    figure = line.read(thrust_gf)
    if isinstance(figure, Absent):
        return figure
    own = with_bench_scatter(
        figure,
        run=run.key,
        stand=run.stand,
        repeatability=run.repeatability,
        calibration=run.calibration,
    )
    through_thrust = -line.slope(thrust_gf) * thrust_gf
    return own.with_component(
        f"repeat_thrust@{run.key}", through_thrust * run.repeatability
    ).with_component(f"calibration_thrust@{run.stand}", through_thrust * run.calibration)


def _delta(figure: Figure, baseline: Figure, margin: float) -> Delta | None:
    if isinstance(figure, Absent) or isinstance(baseline, Absent) or baseline.value == 0:
        return None
    return compare(figure, baseline, margin=margin)
