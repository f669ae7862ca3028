"""Reduction of a run in which the throttle was trimmed to target thrusts.

A throttle trimmed by hand stops a few grams beside its target. Power, current and throttle are
brought to the exact target on straight lines of logarithms through the neighbouring plateaus,
since all three follow powers of thrust; more than 5 % from the nearest plateau is not reached.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

from spindle_core.errors import ReductionError
from spindle_core.figures.measured import Absent, Figure, Measured, component, propagate
from spindle_core.reduction.figures import quotient
from spindle_core.reduction.result import Point, Reduction
from spindle_core.reduction.steps import plateau_points, say_all
from spindle_core.run.tare import Tare
from spindle_core.run.trace import Trace

FARTHEST_SHARE = 0.05
"""A target further than this from the nearest plateau, relative to it, was not reached."""

ASSUMED_BEND = 0.5
"""Largest second derivative d²ln y/d(ln T)² of a curve of which only two points are known."""

EXPONENTS = {"power_w": (1.5, 0.2), "current_a": (1.5, 0.2), "throttle_pct": (0.75, 0.25)}
"""Usual powers of thrust and their half-widths, for a single plateau without neighbours."""


def reduce(trace: Trace) -> Reduction:
    """W, A and throttle at each target thrust of a ``hold`` run.

    :raises ReductionError: no plateau was found, or thrust was not logged.
    """
    work, plateaus, found = plateau_points(trace)
    if not work.trace.has("thrust_gf"):
        raise ReductionError("A hold run needs thrust_gf.", code="no_thrust")
    say_all(work, plateaus, found)
    targets = trace.facts.target_thrust_gf
    if not targets:
        work.warn(
            "no_targets",
            "The log names no target_thrust_gf; the figures are those of the plateaus themselves.",
        )
        targets = tuple(
            value for point in plateaus if (value := point.value("thrust_gf")) is not None
        )
    points = tuple(point_at(plateaus, target) for target in targets)
    missed = [target for target, point in zip(targets, points, strict=True) if not reached(point)]
    if missed:
        listed = ", ".join(f"{target:g}" for target in missed)
        work.warn("not_reached", f"No plateau within 5 % of {listed} gf.")
    tare = work.tares.get("thrust_gf", Tare(None, None))
    summary: dict[str, Figure] = {
        "targets": Measured(float(len(targets))),
        "targets_reached": Measured(float(len(targets) - len(missed))),
        "tare_drift_gf": tare.drift(),
    }
    return Reduction("hold", points, summary, tuple(work.warnings), tuple(work.outliers))


def reached(point: Point) -> bool:
    """Whether the target of a point lies near enough to a plateau."""
    return bool(point.marks.get("reached"))


def point_at(plateaus: Sequence[Point], target_gf: float) -> Point:
    """Figures at an exact thrust [gf] from the plateaus around it."""
    rows = sorted(
        (thrust.value, i)
        for i, point in enumerate(plateaus)
        if isinstance(thrust := point.figures["thrust_gf"], Measured) and thrust.value > 0
    )
    nearest = min(rows, key=lambda row: abs(row[0] - target_gf), default=None)
    figures: dict[str, Figure] = {"target_thrust_gf": Measured(target_gf)}
    if nearest is None or abs(target_gf - nearest[0]) > FARTHEST_SHARE * nearest[0]:
        note = (
            "no plateau with thrust" if nearest is None else f"the nearest is {nearest[0]:.4g} gf"
        )
        for name in (*EXPONENTS, "efficiency_g_per_w"):
            figures[name] = Absent("not_reached", note)
        base = plateaus[nearest[1]] if nearest else plateaus[0]
        return Point(
            figures, base.start_s, base.used_from_s, base.end_s, base.settled, {"reached": False}
        )
    base = plateaus[nearest[1]]
    neighbour = _neighbour(rows, nearest, target_gf)
    for name, (exponent, half_width) in EXPONENTS.items():
        other = None if neighbour is None else plateaus[neighbour]
        figures[name] = _at_target(base, other, name, target_gf, exponent, half_width)
    figures["efficiency_g_per_w"] = quotient(figures["target_thrust_gf"], figures["power_w"], 1.0)
    return Point(
        figures, base.start_s, base.used_from_s, base.end_s, base.settled, {"reached": True}
    )


def _neighbour(
    rows: Sequence[tuple[float, int]], nearest: tuple[float, int], target_gf: float
) -> int | None:
    """The plateau on the target's other side; at the ends the next one inward."""
    distinct = [row for row in rows if abs(row[0] / nearest[0] - 1.0) > 0.01]
    beyond = [r for r in distinct if (r[0] - target_gf) * (nearest[0] - target_gf) < 0]
    pool = beyond or distinct
    return min(pool, key=lambda row: abs(row[0] - target_gf))[1] if pool else None


def _at_target(
    base: Point, other: Point | None, name: str, target_gf: float, exponent: float, half: float
) -> Figure:
    """One figure on the log-log line through two plateaus, at the target.

    A single plateau takes a usual exponent with its half-width; between two, what their line may
    bend is in u.
    """
    figure, thrust = base.figures[name], base.figures["thrust_gf"]
    if isinstance(figure, Absent) or isinstance(thrust, Absent):
        return figure if isinstance(figure, Absent) else thrust
    if figure.value <= 0:
        return Absent("not_above_zero", "logarithms need a value above 0")
    distance = math.log(target_gf / thrust.value)
    inputs, weights, axis = [figure], [1.0], [thrust]
    doubt = distance * half / math.sqrt(3.0)
    kind = "exponent"
    if other is not None:
        value, far = other.figures[name], other.figures["thrust_gf"]
        if isinstance(value, Measured) and isinstance(far, Measured) and value.value > 0:
            apart = math.log(far.value / thrust.value)
            exponent = math.log(value.value / figure.value) / apart
            share = distance / apart
            inputs, weights, axis = [figure, value], [1.0 - share, share], [thrust, far]
            kind = "interpolation"
            doubt = 0.5 * ASSUMED_BEND * distance * (apart - distance) / math.sqrt(3.0)
    result = figure.value * math.exp(exponent * distance)
    partials = [w * result / item.value for w, item in zip(weights, inputs, strict=True)]
    partials += [-w * exponent * result / t.value for w, t in zip(weights, axis, strict=True)]
    found = propagate(lambda *_: result, [*inputs, *axis], partials=partials)
    return found.with_component(component(kind, ""), doubt * result) if doubt else found
