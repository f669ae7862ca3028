"""What a motor does on each propeller, at a glance: its largest thrust, its g/W at one thrust that
all of them reach, and the curve between."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from spindle_core.compare.delta import thrust_ladder, with_repeat
from spindle_core.compare.table import ComparedRun, Drawn, drawn_curves, read_at
from spindle_core.compare.tops import to_the_top
from spindle_core.figures.measured import Absent, Figure, Measured
from spindle_core.figures.repeats import mean_of_like

AXES = (("thrust_gf", "power_w"),)


@dataclass(frozen=True, slots=True)
class OnPropeller:
    """Like runs of a motor on one propeller.

    ``largest_thrust_gf``: mean over the runs that went as high as any of them, with what one run
    scatters.
    ``efficiency_g_per_w``: mean at the common thrust. ``curve``: g/W over thrust of the run with
    the most points; None where it has no such curve.
    """

    runs: int
    largest_thrust_gf: Figure
    efficiency_g_per_w: Figure
    curve: Drawn | None


REACH = 0.6


def common_thrust_gf(groups: Sequence[Sequence[ComparedRun]]) -> float | None:
    """A round thrust that every group reaches well within its range [gf]; None where there is none.

    Of the round thrusts up to 60 % of the smallest largest one, the highest: at half throttle and
    more, where a motor flies, and never at the end of a curve.
    """
    return common_level(groups, "thrust_gf")


def common_level(
    groups: Sequence[Sequence[ComparedRun]], name: str, *, share: float = REACH
) -> float | None:
    """The same for any figure of the points, in its unit; groups without it do not count.

    :param share: of the smallest largest value, up to which a level may lie.
    """
    tops = [top for group in groups if (top := _top(group, name)) is not None]
    if not tops or min(tops) <= 0:
        return None
    reach = share * min(tops)
    fitting = [level for level in thrust_ladder([min(tops)], least=8) if level <= reach]
    return fitting[-1] if fitting else None


def on_propellers(groups: Sequence[Sequence[ComparedRun]]) -> list[OnPropeller]:
    """Each group of like runs read at the thrust that all of them reach.

    :param groups: runs of one motor and kind, one group per propeller and voltage, none empty.
    """
    at = common_thrust_gf(groups)
    return [_on_propeller(group, at) for group in groups]


def _top(group: Sequence[ComparedRun], name: str) -> float | None:
    """The smallest of the runs' largest values, in the unit of the figure."""
    found = [
        max(values)
        for run in group
        if (values := [v for p in run.points if (v := p.value(name)) is not None])
    ]
    return min(found, default=None)


def _largest(run: ComparedRun) -> Figure:
    thrusts = [
        figure
        for point in run.points
        if isinstance(figure := point.figures.get("thrust_gf"), Measured)
    ]
    if not thrusts:
        return Absent("not_logged", "thrust was not logged")
    top = max(thrusts, key=lambda figure: figure.value)
    return with_repeat(top, run.repeatability, source=f"{run.key}/thrust_gf", kind=run.repeat_kind)


def _on_propeller(group: Sequence[ComparedRun], at: float | None) -> OnPropeller:
    if at is None:
        read: list[Figure] = [Absent("no_common_thrust", "no thrust is common to all propellers")]
    else:
        read = [read_at(run, at)["efficiency_g_per_w"] for run in group]
    richest = max(group, key=lambda run: len(run.points))
    curve = next(
        (one for one in drawn_curves(richest, AXES) if one.y_name == "efficiency_g_per_w"), None
    )
    whole = to_the_top(group, lambda run: run.points)
    return OnPropeller(len(group), _mean([_largest(run) for run in whole]), _mean(read), curve)


def _mean(figures: Sequence[Figure]) -> Figure:
    """Mean of those that are there; the first reason where none is."""
    known = [figure for figure in figures if isinstance(figure, Measured)]
    return mean_of_like(known, "repeat") if known else figures[0]
