"""A throttle played to the simulated stand without a controller, recorded with its truth.

For studies of the computation, not for the bench: no limits, no heartbeat. A recording holds
what the sensors said and, beside it, what really happened at the same instants.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from spindle_bench.stand.physics import Physics
from spindle_bench.stand.sensors import CHANNEL_NAMES, Sensors
from spindle_core.figures.arrays import Floats

Throttle = Callable[[float], float]
"""Time [s] → commanded throttle [%]."""

TRUTHS = ("thrust_gf", "torque_nm", "voltage_v", "current_a", "speed_rpm", "case_c", "winding_c")


@dataclass(frozen=True, slots=True)
class Recording:
    """``time_s`` (n,) as logged; ``channels``: what the sensors said; ``truth``: what was."""

    time_s: Floats
    channels: dict[str, Floats]
    truth: dict[str, Floats]


def record(
    physics: Physics,
    sensors: Sensors,
    throttle: Throttle,
    seconds: float,
    *,
    rate_hz: float = 200.0,
    jitter_s: float = 0.0,
) -> Recording:
    """Play a throttle and record every sample.

    :param jitter_s: half-width of the error of each logged time [s]; times stay in order.
    """
    step = 1.0 / rate_hz
    count = round(seconds * rate_hz)
    rows: list[list[float | None]] = []
    truths: list[tuple[float, ...]] = []
    for number in range(count):
        at = number * step
        wanted = throttle(at)
        physics.advance(step, wanted)
        rows.append(sensors.read(physics, at, wanted, step))
        truths.append(
            (
                physics.thrust_gf,
                physics.shaft_torque_nm,
                physics.terminal_v,
                physics.battery_current_a,
                physics.speed_rpm,
                physics.case_c,
                physics.winding_c,
            )
        )
    time: Floats = np.asarray(np.arange(count) * step, dtype=np.float64)
    if jitter_s:
        draws = np.random.default_rng(sensors.seed + 1).uniform(-jitter_s, jitter_s, count)
        time = np.sort(time + draws)
        time -= time[0]
    table = np.array(rows, dtype=float)
    real = np.array(truths)
    return Recording(
        time,
        {name: table[:, i] for i, name in enumerate(CHANNEL_NAMES)},
        {name: real[:, i] for i, name in enumerate(TRUTHS)},
    )


def plateaus(levels: Sequence[float], *, dwell_s: float = 2.5, rest_s: float = 3.0) -> Throttle:
    """Levels of throttle [%] between two rests."""

    def throttle(at: float) -> float:
        number = int((at - rest_s) // dwell_s)
        return levels[number] if at >= rest_s and 0 <= number < len(levels) else 0.0

    return throttle


def sweep(*, up_s: float, rest_s: float = 3.0, down: bool = False, top_s: float = 0.0) -> Throttle:
    """0 to 100 % in ``up_s``, ``top_s`` at full throttle, then a cut, or as slowly down again."""

    def throttle(at: float) -> float:
        share = (at - rest_s) / up_s
        if share > 1.0:
            share = max(1.0, share - top_s / up_s)
        if share > 1.0:
            share = 2.0 - share if down else 0.0
        return 100.0 * min(1.0, max(0.0, share))

    return throttle


def pulses(
    low_pct: float, high_pct: float, *, cycles: int, low_s: float, high_s: float, rest_s: float
) -> Throttle:
    """``cycles`` of low and high throttle after a rest: bursts, or steps of a response run."""

    def throttle(at: float) -> float:
        number, within = divmod(at - rest_s, low_s + high_s)
        if at < rest_s or number >= cycles:
            return 0.0
        return low_pct if within < low_s else high_pct

    return throttle
