"""The current a motor needs for itself: I0 = a + b·rpm."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from spindle_core.figures.measured import Absent, Figure, Measured, Origin
from spindle_core.identification.blocks import Block, stands_of
from spindle_core.model.operating_point import Motor
from spindle_core.run.stand import Stand, weighted_gains

SPEEDS_APART = 0.05


@dataclass(frozen=True, slots=True)
class NoLoad:
    """``current_a`` at ``speed_rpm``, and the line ``offset_a`` + ``slope_a_per_rpm``·rpm.

    With one voltage the slope is absent and the offset is the current itself.
    """

    current_a: Figure
    speed_rpm: float | None
    offset_a: Figure
    slope_a_per_rpm: Figure


def identify_no_load(blocks: Sequence[Block], motor: Motor | None) -> NoLoad:
    """I0 from no-load runs; without any, from torque: I − torque ÷ Kt.

    :param motor: gives Kt for the second way; its own I0 is not used.
    """
    free = [block for block in blocks if block.no_load and block.duty >= 0.99]
    if free:
        return _from_free_runs(free)
    loaded = [b for b in blocks if b.torque_nm is not None]
    if not loaded or motor is None:
        missing = Absent("no_no_load", "needs a no-load run, or torque")
        return NoLoad(missing, None, missing, missing)
    kt = motor.torque_constant_nm_per_a
    currents = np.array([b.motor_current_a - (b.torque_nm or 0.0) / kt for b in loaded])
    spread = float(currents.std(ddof=1)) if currents.size > 1 else float(abs(currents[0]))
    figure: Figure = Measured(
        float(currents.mean()), {"within_run": spread}, origin=Origin.ESTIMATED
    )
    if isinstance(figure, Measured) and figure.value <= 0:
        figure = Absent("not_identified", "torque and current leave no current for the motor")
    speed = float(np.mean([b.speed_rpm for b in loaded]))
    return NoLoad(figure, speed, figure, Absent("one_voltage", "needs no-load runs"))


def _from_free_runs(free: Sequence[Block]) -> NoLoad:
    speed = np.array([b.speed_rpm for b in free])
    current = np.array([b.motor_current_a for b in free])
    u = np.maximum(np.array([b.u_current_a for b in free]), 1e-4 * current)
    stands = stands_of(free)
    runs = len({b.run for b in free})
    weights = 1.0 / u**2
    mean = float(np.average(current, weights=weights))
    mean_speed = float(np.average(speed, weights=weights))
    if speed.max() < (1.0 + SPEEDS_APART) * speed.min():
        rest = (current - mean) / u
        widen = max(1.0, float(rest @ rest) / max(1, len(free) - 1))
        scatter = math.sqrt(widen / float(weights.sum()))
        idle = _figure(mean, scatter, stands, runs)
        return NoLoad(idle, mean_speed, idle, Absent("one_voltage", "needs two voltages"))
    centred = speed - mean_speed
    spread = float(weights @ centred**2)
    b = float(weights @ (centred * current)) / spread
    rest = (current - mean - b * centred) / u
    widen = max(1.0, float(rest @ rest) / max(1, len(free) - 2))
    u_mean, u_b = math.sqrt(widen / float(weights.sum())), math.sqrt(widen / spread)
    if b < 2.0 * u_b:
        idle = _figure(mean, math.hypot(u_mean, u_b * float(centred.std())), stands, runs)
        return NoLoad(idle, mean_speed, idle, Absent("not_shown", "I0 does not grow with speed"))
    offset = mean - b * mean_speed
    u_offset = math.hypot(u_mean, u_b * mean_speed)
    return NoLoad(
        _figure(mean, u_mean, stands, runs),
        mean_speed,
        _figure(offset, u_offset, stands, runs),
        _figure(b, u_b, stands, runs),
    )


def _figure(value: float, scatter: float, stands: Mapping[str, Stand], runs: int) -> Measured:
    parts = {"within_run": scatter, **weighted_gains(stands, {"current_a": 1.0}, value)}
    return Measured(value, parts, n=runs, origin=Origin.DERIVED)
