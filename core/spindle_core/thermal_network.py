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
from scipy.linalg import expm

from spindle_core.errors import QuantityError
from spindle_core.measured import Absent, Measured, Origin
from spindle_core.nonlinear_fit import fit
from spindle_core.trace import Bools, Floats

NAMES = (
    "winding_j_per_k", "case_j_per_k", "between_w_per_k", "still_w_per_k", "moving_w_per_k",
)  # fmt: skip
MOST_STEPS = 400
LARGEST_RELATIVE_U = 0.5


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

    def slowest_time_constant_s(self, *, moving: bool) -> float:
        """Time constant of the slower of the two modes [s]."""
        return float(-1.0 / np.linalg.eigvals(self.rates(moving=moving)).real.max())


def simulate(
    network: TwoNode, *, step_s: float, copper_w: Floats, iron_w: Floats, moving: Bools,
    start_k: tuple[float, float] = (0.0, 0.0),
) -> Floats:  # fmt: skip
    """Rises of winding and case above the air, shape (n, 2) [K].

    Exact for losses that are constant within each step.

    :param step_s: equal time between rows [s]. :param copper_w, iron_w, moving: shape (n,).
    """
    stepping = {}
    for state in (False, True):
        rates = network.rates(moving=state)
        forward = expm(rates * step_s)
        held = np.linalg.solve(rates, forward - np.eye(2))
        stepping[state] = (forward, held)
    heat = np.stack((copper_w / network.winding_j_per_k, iron_w / network.case_j_per_k), axis=1)
    rises = np.empty((copper_w.size, 2))
    now = np.array(start_k)
    for i in range(copper_w.size):
        rises[i] = now
        forward, held = stepping[bool(moving[i])]
        now = forward @ now + held @ heat[i]
    return rises


@dataclass(frozen=True, slots=True)
class NetworkFit:
    """An identified network, its log-covariance (5, 5) and the residual's deviation [K]."""

    network: TwoNode
    covariance: Floats
    residual_k: float

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
    time_s: Floats, case_rise_k: Floats, *, copper_w: Floats, iron_w: Floats, moving: Bools
) -> NetworkFit:
    """The two-node network whose case follows a measured rise, by least squares on logarithms.

    The trace is thinned to at most 400 equal steps. Both nodes start at the first case rise.

    :param time_s, case_rise_k, copper_w, iron_w, moving: shape (n,), finite.
    :raises QuantityError: fewer than 20 samples, or no loss.
    """
    if time_s.size < 20 or float(np.max(copper_w + iron_w)) <= 0:
        raise QuantityError("A thermal fit needs 20 samples and a loss.", code="too_few")
    count = min(MOST_STEPS, time_s.size)
    grid = np.linspace(time_s[0], time_s[-1], count)
    step = float(grid[1] - grid[0])
    inputs = [_block_means(time_s, values, grid, step) for values in (copper_w, iron_w)]
    turning = np.interp(grid, time_s, moving.astype(float)) > 0.5
    target = np.interp(grid, time_s, case_rise_k)
    start = (float(target[0]), float(target[0]))

    def residuals(logs: Floats) -> Floats:
        rises = simulate(
            TwoNode(*np.exp(logs)), step_s=step, copper_w=inputs[0], iron_w=inputs[1],
            moving=turning, start_k=start,
        )  # fmt: skip
        return rises[:, 1] - target

    energy = float(np.sum(inputs[0] + inputs[1])) * step
    capacity = energy / max(1.0, float(target.max() - target[0])) * 0.6
    first = np.log([0.2 * capacity, 0.8 * capacity, capacity / 20, capacity / 150, capacity / 80])
    wide = np.log(100.0)
    found = fit(residuals, first, low=first - wide, high=first + wide)
    rest = found.residuals
    squares = float(rest @ rest)
    variance = squares / max(1, count - 5)
    # Residuals of a slow process are alike for many steps: fewer independent ones than steps.
    lag_one = max(0.0, float(rest[1:] @ rest[:-1]) / max(1e-30, squares))
    covariance = found.inverse * variance * (1.0 + lag_one) / max(0.05, 1.0 - lag_one)
    return NetworkFit(TwoNode(*np.exp(found.values)), covariance, math.sqrt(variance))


def _block_means(time_s: Floats, values: Floats, grid: Floats, step: float) -> Floats:
    """Means of ``values`` over [grid, grid + step): the energy of each step is kept."""
    total = np.concatenate(([0.0], np.cumsum(0.5 * (values[1:] + values[:-1]) * np.diff(time_s))))
    edges = np.append(grid, grid[-1] + step)
    means: Floats = np.diff(np.interp(edges, time_s, total)) / step
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
