"""The motor as two bodies of heat: winding and case, with the air cooling the case.

    C_w·dT_w/dt = P_copper − G·(T_w − T_c)
    C_c·dT_c/dt = P_iron + G·(T_w − T_c) − H·(T_c − T_air)

H is larger while the motor spins. After the stop the winding still warms the case, so that the
case goes on rising before it cools.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from spindle_core.errors import QuantityError
from spindle_core.figures.arrays import Bools, Floats
from spindle_core.figures.measured import Absent, Measured, Origin
from spindle_core.figures.nonlinear_fit import fit
from spindle_core.figures.recurrence import carried_on

NAMES = ("winding_j_per_k", "case_j_per_k", "between_w_per_k", "still_w_per_k", "moving_w_per_k")
MOST_STEPS = 400
MOST_CHANGES = 4
LAG_S, USUAL_LAG_S = (0.02, 20.0), 0.5
"""Bounds of a case sensor's lag, and where the search begins [s]."""

LARGEST_RELATIVE_U = 0.5

Row = tuple[float, float, float, float]
ONE = np.eye(2).ravel()


@dataclass(frozen=True, slots=True)
class TwoNode:
    """Heat capacities [J/K] and conductances [W/K]: winding–case, case–air still and spinning."""

    winding_j_per_k: float
    case_j_per_k: float
    between_w_per_k: float
    still_w_per_k: float
    moving_w_per_k: float

    def __post_init__(self) -> None:
        if not all(getattr(self, name) > 0 for name in NAMES):
            raise QuantityError("Heat capacities and conductances must be above 0.")

    def rates(self, *, moving: bool) -> Floats:
        """The matrix of the two equations above for (T_w − T_air, T_c − T_air), shape (2, 2)."""
        away = self.moving_w_per_k if moving else self.still_w_per_k
        g, cw, cc = self.between_w_per_k, self.winding_j_per_k, self.case_j_per_k
        return np.array([[-g / cw, g / cw], [g / cc, -(g + away) / cc]])

    def modes(self, *, moving: bool) -> tuple[float, float, Row, Row]:
        """The slow and the fast rate of :meth:`rates` [1/s], λ and μ, both below 0, and the
        matrices (R − μ) / (λ − μ) and (R − λ) / (μ − λ), row by row.
        """
        (of_winding, in_winding), (in_case, of_case) = self.rates(moving=moving).tolist()
        away = self.moving_w_per_k if moving else self.still_w_per_k
        middle = 0.5 * (of_winding + of_case)
        apart = math.sqrt(0.25 * (of_winding - of_case) ** 2 + in_winding * in_case)
        fast = middle - apart
        # Their product, and not middle + apart, in which the digits of a slow one cancel.
        slow = self.between_w_per_k * away / (self.winding_j_per_k * self.case_j_per_k) / fast

        def less(rate: float, over: float) -> Row:
            return (
                (of_winding - rate) / over,
                in_winding / over,
                in_case / over,
                (of_case - rate) / over,
            )

        return slow, fast, less(fast, slow - fast), less(slow, fast - slow)

    def stepping(self, steps_s: Floats, *, moving: Bools) -> tuple[Floats, Floats]:
        """E = exp(R·t) and R⁻¹·(E − 1) of each step, R being :meth:`rates`: shape (n, 2, 2) each.

        What stands after a step is E·(what stood) + R⁻¹·(E − 1)·(what comes in all the while). Two
        bodies that warm each other have two different rates below 0, so that both are written down
        with no series: exp(R·t) = 1 + [(e^λt − 1)·(R − μ) − (e^μt − 1)·(R − λ)] / (λ − μ).

        :param steps_s, moving: shape (n,).
        """
        both = [self.modes(moving=state) for state in (False, True)]
        which = moving.astype(np.intp)
        slow, fast, slowly, quickly = (np.array(part)[which] for part in zip(*both, strict=True))
        left_slow = np.expm1(slow * steps_s)
        left_fast = np.expm1(fast * steps_s)
        onward = ONE + left_slow[:, None] * slowly + left_fast[:, None] * quickly
        held = (left_slow / slow)[:, None] * slowly + (left_fast / fast)[:, None] * quickly
        return onward.reshape(-1, 2, 2), held.reshape(-1, 2, 2)

    def slowest_time_constant_s(self, *, moving: bool) -> float:
        """Time constant of the slower of the two modes [s]."""
        return float(-1.0 / np.linalg.eigvals(self.rates(moving=moving)).real.max())


def simulate(
    network: TwoNode,
    *,
    step_s: float | Floats,
    copper_w: Floats,
    iron_w: Floats,
    moving: Bools,
    start_k: tuple[float, float] = (0.0, 0.0),
    copper_per_k: float = 0.0,
) -> Floats:
    """Rises of winding and case above the air, shape (n, 2) [K].

    Exact for losses that are constant within each step.

    :param step_s: time from each row to the next [s], one for all or shape (n,).
    :param copper_w, iron_w, moving: shape (n,).
    :param copper_per_k: how much more the copper turns into heat for each kelvin the winding
        stands above the air, where ``copper_w`` is what it would at the air's temperature.
    """
    steps = np.broadcast_to(np.asarray(step_s, dtype=float), copper_w.shape)
    onward, held = network.stepping(steps, moving=moving)
    copper = held[:, :, 0] * (copper_w / network.winding_j_per_k)[:, None]
    iron = held[:, :, 1] * (iron_w / network.case_j_per_k)[:, None]
    # What the winding's own rise adds to its heat.
    onward[:, :, 0] += copper * copper_per_k
    return carried_on(np.array(start_k, dtype=float), onward, copper + iron)[:-1]


def lagging(values: Floats, steps_s: Floats, lag_s: float) -> Floats:
    """What a sensor of first order shows of a course that is straight within each step, (n,)."""
    before, after = values[:-1], values[1:]
    late = (after - before) / steps_s[:-1] * lag_s
    fade = np.exp(-steps_s[:-1] / lag_s)
    added = after - late - (before - late) * fade
    return carried_on(values[:1], fade[:, None, None], added[:, None])[:, 0]


@dataclass(frozen=True, slots=True)
class NetworkFit:
    """An identified network, its log-covariance (6, 6) with the sensor's lag as the last, and the
    residual's deviation [K].
    """

    network: TwoNode
    covariance: Floats
    residual_k: float
    lag_s: float

    def relative_u(self, name: str) -> float:
        """Relative standard uncertainty of one of :data:`NAMES`."""
        i = NAMES.index(name)
        return math.sqrt(max(0.0, float(self.covariance[i, i])))

    def figure(self, name: str) -> Measured | Absent:
        """One of :data:`NAMES` with its u; absent when the run does not tell it to 50 %."""
        relative = self.relative_u(name)
        value = float(getattr(self.network, name))
        if not relative <= LARGEST_RELATIVE_U:
            return Absent("not_identified", "this run does not separate it from the others")
        return Measured(value, {"fit": relative * value}, origin=Origin.DERIVED)


def fit_network(
    time_s: Floats,
    case_rise_k: Floats,
    *,
    copper_w: Floats,
    iron_w: Floats,
    moving: Bools,
    copper_per_k: float = 0.0,
    near: NetworkFit | None = None,
) -> NetworkFit:
    """The two-node network whose case follows a measured rise, by least squares on logarithms.

    The trace is thinned to at most 400 steps, short ones around each start and stop. Both nodes
    start at the first case rise. How far the sensor on the case lags is fitted, too: heat that
    it shows late looks like heat from the winding.

    :param time_s, case_rise_k, copper_w, iron_w, moving: shape (n,), finite.
    :param copper_per_k: see :func:`simulate`. :param near: a fit to begin at.
    :raises QuantityError: fewer than 20 samples, or no loss.
    """
    if time_s.size < 20 or float(np.max(copper_w + iron_w)) <= 0:
        raise QuantityError("A thermal fit needs 20 samples and a loss.", code="too_few")
    edges = _thinned(time_s, moving)
    steps = np.diff(edges)
    inputs = [_block_means(time_s, values, edges) for values in (copper_w, iron_w)]
    turning = np.interp(edges[:-1] + 0.5 * steps, time_s, moving.astype(float)) > 0.5
    target = _block_means(time_s, case_rise_k, edges)[:-1]
    weights = np.sqrt(steps[:-1] / steps.mean())
    start = (float(target[0]), float(target[0]))

    def residuals(logs: Floats) -> Floats:
        rises = simulate(
            TwoNode(*np.exp(logs[:5])),
            step_s=steps,
            copper_w=inputs[0],
            iron_w=inputs[1],
            moving=turning,
            start_k=start,
            copper_per_k=copper_per_k,
        )
        shown = lagging(rises[:, 1], steps, math.exp(logs[5]))
        # The measured rise of a step is its mean.
        held: Floats = 0.5 * (shown[1:] + shown[:-1])
        weighted: Floats = weights * (held - target)
        return weighted

    if near is None:
        energy = float(np.sum((inputs[0] + inputs[1]) * steps))
        capacity = energy / max(1.0, float(target.max() - target[0])) * 0.6
        first = np.log(
            [
                0.15 * capacity,
                0.8 * capacity,
                capacity / 20,
                capacity / 150,
                capacity / 80,
                USUAL_LAG_S,
            ]
        )
    else:
        first = np.log([*(getattr(near.network, name) for name in NAMES), near.lag_s])
    wide = np.log(100.0)
    low, high = first - wide, first + wide
    low[5], high[5] = np.log(LAG_S[0]), np.log(LAG_S[1])
    found = fit(residuals, first, low=low, high=high)
    rest = found.residuals
    squares = float(rest @ rest)
    variance = squares / max(1, rest.size - 6)
    # Residuals of a slow process are alike for many steps: fewer independent ones than steps.
    lag_one = max(0.0, float(rest[1:] @ rest[:-1]) / max(1e-30, squares))
    covariance = found.inverse * variance * (1.0 + lag_one) / max(0.05, 1.0 - lag_one)
    values = np.exp(found.values)
    return NetworkFit(TwoNode(*values[:5]), covariance, math.sqrt(variance), float(values[5]))


FINE_S = 12.0
"""After each start and stop the winding's heat shows for so long; steps are short there."""


def _thinned(time_s: Floats, moving: Bools) -> Floats:
    """Edges of the steps: a third of them in the first seconds after each change, (m + 1,)."""
    begin, end = float(time_s[0]), float(time_s[-1])
    changes = time_s[np.flatnonzero(np.diff(moving.astype(np.int8))) + 1]
    changes = changes[-MOST_CHANGES:] if changes.size > MOST_CHANGES else changes
    finest = max((end - begin) / max(1, time_s.size - 1), 0.1)
    budget = min(MOST_STEPS, time_s.size - 1)
    pieces, coarse = [], (end - begin) / max(10.0, 0.6 * budget)
    fine = min(coarse, max(finest, FINE_S * max(1, changes.size) / (0.4 * budget)))
    at = begin
    for change in (*changes, end):
        if change > at:
            count = max(1, round((change - at) / coarse))
            pieces.append(np.linspace(at, change, count, endpoint=False))
        until = min(end, float(change) + FINE_S)
        at = max(at, float(change))
        if until > at:
            pieces.append(
                np.linspace(at, until, max(1, round((until - at) / fine)), endpoint=False)
            )
            at = until
    return np.unique(np.append(np.concatenate(pieces), end))


def _block_means(time_s: Floats, values: Floats, edges: Floats) -> Floats:
    """Means of ``values`` between the edges: the energy of each step is kept, shape (m,)."""
    total = np.concatenate(([0.0], np.cumsum(0.5 * (values[1:] + values[:-1]) * np.diff(time_s))))
    means: Floats = np.diff(np.interp(edges, time_s, total)) / np.diff(edges)
    return means


def continuous_loss_w(
    network: TwoNode, *, ceiling_c: float, ambient_c: float, copper_share: float
) -> float:
    """Total loss that just brings the winding to its ceiling in steady spinning [W].

    T_w = T_air + P/H + s·P/G with s the winding's share of the loss.

    :raises QuantityError: a ceiling not above the air, or a share outside 0 to 1.
    """
    if ceiling_c <= ambient_c:
        raise QuantityError("The ceiling must be above the air's temperature.")
    if not 0 <= copper_share <= 1:
        raise QuantityError("The winding's share of the loss lies in 0 to 1.")
    per_watt = 1.0 / network.moving_w_per_k + copper_share / network.between_w_per_k
    return (ceiling_c - ambient_c) / per_watt
