"""Measured curves read between their points, and only there.

Thrust, power, current, speed and throttle follow powers of each other, so that they are read on
logarithmic axes, where the physics is nearly straight: a parabola through three neighbouring
points, or the blend of the two that hold the interval (Overhauser 1968; Catmull and Rom 1974).
How far the parabola lies from the straight line, and how far the two lie apart, says what the
points do not show: it is a component of u, *interpolation*. What so few points cannot show at all,
a bend that itself changes, is assumed with it. Every point's own components go through the weights
it has in the reading, on both axes.

What is refused rather than guessed: a reading outside the measured range, in a gap in which x
grows more than fourfold, or where the curve folds back and passes the same x twice.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import lru_cache
from itertools import pairwise

import numpy as np

from spindle_core.errors import ReadingError
from spindle_core.figures.arrays import Floats
from spindle_core.figures.measured import Absent, Measured, Origin, component, propagate
from spindle_core.figures.quantities import QUANTITIES
from spindle_core.reduction.hold import ASSUMED_BEND
from spindle_core.reduction.result import Point

WIDEST_GAP = math.log(4.0)
"""Between two points x grows at most fourfold; what lies in a wider gap was not measured."""

BEND_SHARE = 0.25
"""Share of a one-sided parabola's bend that may be wrong (k = 1); see docs/computation.md."""

USUAL_BEND = {"throttle_pct": 0.7, "speed_rpm": 1.6}
"""Half-width of d²ln y/d(ln x)² where two points show none: over throttle, where no-load current
and a warming winding count for more, and over speed, whose square thrust is;
:data:`ASSUMED_BEND` over anything else."""

USUAL_TURN, OTHER_TURN = {"throttle_pct": 1.3, "speed_rpm": 0.6}, 0.15
"""Half-width of d³ln y/d(ln x)³, which no parabola has: over these, and over anything else."""

BLEND_SHARE, APART_SHARE = 0.08, 0.25
"""Shares of the blend's bend, and of the distance of its two parabolas, that may be wrong."""

NOT_TOLD_FROM_ZERO = 3.0
"""A point within so many u of 0 has no logarithm worth the name."""

NEAR = 0.05
"""Points nearer than this on the logarithmic axis do not show a bend."""

WITHIN_NOISE = 3.0
"""A step back of at most so many of its own u is no fold."""

ORDERED_BY = ("throttle_pct", "speed_rpm", "thrust_gf", "power_w", "current_a")
"""What a run's points are put in order by: the first of these that all of them hold."""


@dataclass(frozen=True, slots=True)
class Node:
    """One point of a curve on logarithmic axes, with its figures on both."""

    log_x: float
    log_y: float
    x: Measured
    y: Measured


@dataclass(frozen=True, slots=True)
class Curve:
    """``y`` over ``x`` in the order the curve is run through; at least two nodes, all above 0.

    Names carry the units. Build one with :func:`curve_from_points` or :func:`curve`.
    """

    x_name: str
    y_name: str
    nodes: tuple[Node, ...]
    logs: tuple[float, ...] = field(init=False, repr=False, compare=False)
    """ln x of the nodes."""
    span: tuple[float, float] = field(init=False, repr=False, compare=False)
    """Lowest and highest x that was measured."""
    slopes: dict[tuple[int, int], float] = field(init=False, repr=False, compare=False)
    """By interval and node, as far as they were needed."""

    def __post_init__(self) -> None:
        values = [node.x.value for node in self.nodes]
        # Read thousands of times for one drawing: told once.
        object.__setattr__(self, "logs", tuple(node.log_x for node in self.nodes))
        object.__setattr__(self, "span", (min(values), max(values)))
        object.__setattr__(self, "slopes", {})

    @property
    def x(self) -> Floats:
        """x of the nodes, shape (n,)."""
        return np.array([node.x.value for node in self.nodes])

    @property
    def y(self) -> Floats:
        """y of the nodes, shape (n,)."""
        return np.array([node.y.value for node in self.nodes])

    @property
    def u_y(self) -> Floats:
        """Scatter of the nodes' y, without what moves the whole curve, shape (n,)."""
        return np.array([node.y.scatter for node in self.nodes])

    def read(self, at: float) -> Measured | Absent:
        """y at x = ``at``, with the components of the points around it and of the interpolation.

        Absent with reason ``not_reached`` outside the measured range, ``gap_too_wide`` between
        points too far apart, ``folds_back`` where the curve passes x more than once.
        """
        place = self._place(at)
        return place if isinstance(place, Absent) else place.figure(self)

    def read_measured(self, at: Measured) -> Measured | Absent:
        """y at an x that is itself not known exactly: its components go through the slope."""
        found = self.read_with_slope(at.value)
        if isinstance(found, Absent):
            return found
        figure, slope = found
        through = slope * figure.value / at.value
        value = figure.value
        return propagate(lambda *_: value, (figure, at), partials=(1.0, through))

    def read_with_slope(self, at: float) -> tuple[Measured, float] | Absent:
        """:meth:`read` and :meth:`slope` in one."""
        place = self._place(at)
        return place if isinstance(place, Absent) else (place.figure(self), place.slope(self))

    def slope(self, at: float) -> float | Absent:
        """dln y/dln x at x = ``at``; absent where :meth:`read` is."""
        place = self._place(at)
        return place if isinstance(place, Absent) else place.slope(self)

    def sampled(self, count: int = 80) -> tuple[Floats, Floats]:
        """The curve for drawing: up to ``count`` (x, y), NaN where there is no reading."""
        low, high = self.span
        x = np.linspace(low, high, count)
        return x, np.array([self.value(float(at)) for at in x])

    def value(self, at: float) -> float:
        """The reading without its u, NaN where there is none: many times quicker."""
        place = self._place(at)
        return math.nan if isinstance(place, Absent) else math.exp(place.value(self))

    def _place(self, at: float) -> _Place | Absent:
        unit = self.x_name.rsplit("_", 1)[-1]
        low, high = self.span
        if at <= 0 or not low * (1 - 1e-12) <= at <= high * (1 + 1e-12):
            return Absent("not_reached", f"measured from {low:.4g} to {high:.4g} {unit}")
        place = _place_at(self.logs, math.log(at))
        if place is None:
            return Absent(
                "folds_back", f"the curve passes {at:.4g} {unit} more than once; which is meant?"
            )
        if place.gap > WIDEST_GAP:
            ends = (self.nodes[i].x.value for i in (place.first, place.first + 1))
            a, b = sorted(ends)
            return Absent(
                "gap_too_wide", f"nothing was measured between {a:.4g} and {b:.4g} {unit}"
            )
        return place


@dataclass(frozen=True, slots=True)
class _Bends:
    """Weights of the nodes in what a reading's doubt is told by: the straight line of the interval,
    and the parabolas of its sides."""

    straight: tuple[Weight, ...]
    sides: tuple[tuple[Weight, ...], ...]


Weight = tuple[int, float]
"""A node by its number, and what it counts."""


@dataclass(frozen=True, slots=True)
class _Place:
    """A reading's place on the axis: what each node counts in it, whatever is read.

    The interval lies between nodes ``first`` and the next, ``gap`` apart. ``left``, ``right``:
    outer nodes, None where the branch ends. ``logs``: ln x of all nodes. ``turn``: what a third
    derivative of 1 makes of the reading, in ln y.
    """

    first: int
    gap: float
    left: int | None
    right: int | None
    wanted: float
    logs: tuple[float, ...]
    weights: tuple[Weight, ...]
    slopes: tuple[Weight, ...]
    bends: _Bends
    turn: float

    def value(self, curve: Curve) -> float:
        """ln y at the place."""
        return _sum(curve, self.weights)

    def slope(self, curve: Curve) -> float:
        """dln y/dln x at the place."""
        return _sum(curve, self.slopes)

    def _slope_at_node(self, curve: Curve, i: int) -> float:
        """dln y/dln x at one of the nodes: there the blend is the parabola of the node's side."""
        key = (self.first, i)
        if key not in curve.slopes:
            curve.slopes[key] = self._side_slope(curve, i)
        return curve.slopes[key]

    def _side_slope(self, curve: Curve, i: int) -> float:
        sides = _sides(self.first, self.left, self.right)
        own: Sequence[int] = (self.first, self.first + 1)
        if sides:
            own = sides[0] if len(sides) == 1 or i in (self.left, self.first) else sides[1]
        at = self.logs[i]
        total = 0.0
        for k in own:
            rest = [self.logs[j] for j in own if j != k]
            over = math.prod(self.logs[k] - one for one in rest)
            # The derivative of (at − a)·(at − b), or of (at − a).
            under = sum(at - one for one in rest) if len(rest) == 2 else 1.0
            total += under / over * curve.nodes[k].log_y
        return total

    def doubt(self, curve: Curve) -> tuple[str, float]:
        """The kind of the interpolation's component and its size in ln y (k = 1)."""
        straight = _sum(curve, self.bends.straight)
        bends = [_sum(curve, side) - straight for side in self.bends.sides]
        if not bends:
            i = self.first
            room = abs((self.wanted - self.logs[i]) * (self.logs[i + 1] - self.wanted))
            bend = USUAL_BEND.get(curve.x_name, ASSUMED_BEND)
            return "assumed_interpolation", 0.5 * bend * room / math.sqrt(3.0)
        unseen = USUAL_TURN.get(curve.x_name, OTHER_TURN) * self.turn / math.sqrt(3.0)
        if len(bends) == 1:
            return "interpolation", math.hypot(BEND_SHARE * bends[0], unseen)
        apart = abs(bends[0] - bends[1])
        return "interpolation", math.hypot(
            BLEND_SHARE * 0.5 * (abs(bends[0]) + abs(bends[1])), APART_SHARE * 0.5 * apart, unseen
        )

    def figure(self, curve: Curve) -> Measured:
        """y at the place with all components."""
        value = math.exp(self.value(curve))
        inputs, partials = [], []
        for i, weight in self.weights:
            node = curve.nodes[i]
            inputs += [node.y, node.x]
            slope = self._slope_at_node(curve, i)
            partials += [weight * value / node.y.value, -weight * slope * value / node.x.value]
        found = propagate(lambda *_: value, inputs, partials=partials, origin=Origin.DERIVED)
        kind, size = self.doubt(curve)
        return found.with_component(component(kind, ""), size * value) if size else found


def _sum(curve: Curve, weights: Sequence[Weight]) -> float:
    return math.fsum(weight * curve.nodes[i].log_y for i, weight in weights)


@lru_cache(maxsize=8192)
def _place_at(logs: tuple[float, ...], wanted: float) -> _Place | None:
    """The place of a reading between nodes at ``logs``; None where the curve folds back.

    All figures of a run stand at the same nodes, so that a place found for one is that of all.
    """
    wanted = min(max(wanted, min(logs)), max(logs))
    found = [i for i, (a, b) in enumerate(pairwise(logs)) if min(a, b) <= wanted <= max(a, b)]
    if _apart(found, logs, wanted):
        return None
    first = found[0]
    left, right = _outer(logs, first, -1), _outer(logs, first + 1, 1)
    sides = _sides(first, left, right)
    step = 1e-4
    above, below = (_blended(logs, first, sides, wanted + d) for d in (step, -step))
    return _Place(
        first,
        abs(logs[first + 1] - logs[first]),
        left,
        right,
        wanted,
        logs,
        tuple(_blended(logs, first, sides, wanted).items()),
        tuple((i, (weight - below[i]) / (2.0 * step)) for i, weight in above.items()),
        _Bends(
            tuple(_lagrange(logs, (first, first + 1), wanted).items()),
            tuple(tuple(_lagrange(logs, side, wanted).items()) for side in sides),
        ),
        _turn(logs, first, sides, wanted),
    )


def _apart(found: list[int], logs: Sequence[float], wanted: float) -> bool:
    """Whether the intervals are more than the two that meet in one node, rising or falling."""
    if len(found) == 1:
        return False
    if len(found) > 2 or found[1] != found[0] + 1 or logs[found[1]] != wanted:
        return True
    before, node, after = logs[found[0]], logs[found[1]], logs[found[1] + 1]
    return (node - before) * (after - node) < 0


def _outer(logs: Sequence[float], start: int, step: int) -> int | None:
    """The next node of the branch far enough out to show a bend; else the branch's last.

    :param start: the node of the interval on that side. :param step: −1 to its left, else 1.
    """
    other = start - step
    rising = (logs[start] - logs[other]) * step > 0
    apart = max(NEAR, 0.5 * abs(logs[start] - logs[other]))
    last, i = None, start + step
    while 0 <= i < len(logs):
        away = (logs[i] - logs[i - step]) * step
        if (away > 0) != rising:
            break
        distance = abs(logs[i] - logs[start])
        if distance > WIDEST_GAP:
            break
        last = i
        if distance >= apart:
            break
        i += step
    return last


def _sides(first: int, left: int | None, right: int | None) -> list[tuple[int, ...]]:
    """The node sets of the parabolas: left and right of the interval, as far as there are."""
    i, j = first, first + 1
    sides: list[tuple[int, ...]] = [] if left is None else [(left, i, j)]
    return sides if right is None else [*sides, (i, j, right)]


def _lagrange(logs: Sequence[float], nodes: Sequence[int], at: float) -> dict[int, float]:
    """Lagrange weights of the nodes at a place on the axis."""
    found = {}
    for i in nodes:
        weight = 1.0
        for j in nodes:
            if j != i:
                weight *= (at - logs[j]) / (logs[i] - logs[j])
        found[i] = weight
    return found


def _share(logs: Sequence[float], first: int, at: float) -> float:
    """How far into the interval a place lies, from 0 to 1: what the second parabola counts."""
    return min(1.0, max(0.0, (at - logs[first]) / (logs[first + 1] - logs[first])))


def _turn(logs: Sequence[float], first: int, sides: Sequence[Sequence[int]], at: float) -> float:
    """How far a third derivative of 1 leads the reading astray: of two parabolas, whose errors have
    opposite signs, what is left of them."""
    errors = [math.prod(at - logs[k] for k in side) / 6.0 for side in sides]
    if len(errors) < 2:
        return abs(sum(errors))
    share = _share(logs, first, at)
    return abs((1.0 - share) * errors[0] + share * errors[1])


def _blended(
    logs: Sequence[float], first: int, sides: Sequence[Sequence[int]], at: float
) -> dict[int, float]:
    """What each node counts in the reading: of the chord, of a parabola, or of two blended."""
    i, j = first, first + 1
    if not sides:
        return _lagrange(logs, (i, j), at)
    if len(sides) == 1:
        return _lagrange(logs, sides[0], at)
    share = _share(logs, first, at)
    total: dict[int, float] = {}
    for part, side in zip((1.0 - share, share), sides, strict=True):
        for k, weight in _lagrange(logs, side, at).items():
            total[k] = total.get(k, 0.0) + part * weight
    return total


def curve(
    x: Sequence[float] | Floats,
    y: Sequence[float] | Floats,
    *,
    x_name: str,
    y_name: str,
    u_x: Sequence[float] | Floats | None = None,
    u_y: Sequence[float] | Floats | None = None,
) -> Curve:
    """A curve from arrays of shape (n,) in the order they were run through.

    :param u_x, u_y: standard uncertainties, independent of each other.
    :raises ReadingError: fewer than two points above 0 at different x, or values not finite.
    """
    columns = [np.asarray(x, dtype=float), np.asarray(y, dtype=float)]
    columns += [
        np.zeros_like(columns[0]) if u is None else np.asarray(u, dtype=float) for u in (u_x, u_y)
    ]
    if not all(np.isfinite(column).all() for column in columns):
        raise ReadingError(f"{y_name} over {x_name} holds values that are not finite.")
    pairs = [
        (
            Measured(float(a), {"within_run": float(ua)} if ua else {}),
            Measured(float(b), {"within_run": float(ub)} if ub else {}),
        )
        for a, b, ua, ub in zip(*columns, strict=True)
    ]
    found = _from_pairs(pairs, x_name, y_name)
    if isinstance(found, Absent):
        raise ReadingError(f"{y_name} over {x_name}: {found.note}.", code=found.reason)
    return found


def curve_from_points(points: Sequence[Point], x_name: str, y_name: str) -> Curve | Absent:
    """The curve of one figure over another from a run's points.

    Points are put in the order of throttle, else of the first of :data:`ORDERED_BY` they all
    hold; never in the order of x itself, which would hide a curve that folds back. A point that
    is not told from 0 is left out.
    """
    rows: list[tuple[Point, Measured, Measured]] = []
    for point in points:
        x, y = point.figures.get(x_name), point.figures.get(y_name)
        if isinstance(x, Measured) and isinstance(y, Measured):
            rows.append((point, x, y))
    guide = next(
        (
            name
            for name in ORDERED_BY
            if name != x_name and all(row[0].value(name) is not None for row in rows)
        ),
        x_name,
    )
    if x_name == "throttle_pct":
        guide = x_name
    rows.sort(key=lambda row: row[0].value(guide) or 0.0)
    return _from_pairs([(x, y) for _, x, y in rows], x_name, y_name)


def _from_pairs(
    pairs: Sequence[tuple[Measured, Measured]], x_name: str, y_name: str
) -> Curve | Absent:
    nodes = [
        Node(math.log(x.value), math.log(y.value), x, y)
        for x, y in pairs
        if x.value > NOT_TOLD_FROM_ZERO * x.scatter and y.value > NOT_TOLD_FROM_ZERO * y.scatter
    ]
    nodes = _without_steps_back(nodes)
    if len(nodes) < 2:
        named = " and ".join(_word(name) for name in (x_name, y_name))
        return Absent("too_few_points", f"needs two points with {named}")
    return Curve(x_name, y_name, tuple(nodes))


def _word(name: str) -> str:
    """A figure as one says it."""
    return QUANTITIES[name].label.lower() if name in QUANTITIES else name


def _without_steps_back(nodes: Sequence[Node]) -> list[Node]:
    """Neighbours whose x steps back within their noise become one point, their mean.

    A repeated plateau and the noise of a sweep are no folds (pooling of adjacent violators).
    """
    groups: list[list[Node]] = []
    for node in nodes:
        groups.append([node])
        while len(groups) > 1 and _steps_back(groups[-2], groups[-1]):
            last = groups.pop()
            groups[-1] += last
    return [group[0] if len(group) == 1 else _merged(group) for group in groups]


def _steps_back(before: Sequence[Node], after: Sequence[Node]) -> bool:
    step = _log_mean(after) - _log_mean(before)
    if step > 0:
        return False
    if step == 0.0:
        return True
    noise = math.hypot(*(n.x.scatter / n.x.value for n in (*before, *after)))
    return -step <= WITHIN_NOISE * noise


def _log_mean(nodes: Sequence[Node]) -> float:
    return math.fsum(node.log_x for node in nodes) / len(nodes)


def _merged(nodes: Sequence[Node]) -> Node:
    """Several readings at one x: their mean, and what they differ by."""
    share = 1.0 / len(nodes)

    def mean(figures: Sequence[Measured]) -> Measured:
        value = math.fsum(f.value for f in figures) * share
        found = propagate(
            lambda *_: value, figures, partials=[share] * len(figures), origin=Origin.MEASURED
        )
        values = [f.value for f in figures]
        apart = (max(values) - min(values)) / math.sqrt(12.0)
        return found.with_component(component("between_points", ""), apart) if apart else found

    x, y = mean([node.x for node in nodes]), mean([node.y for node in nodes])
    return Node(math.log(x.value), math.log(y.value), x, y)
