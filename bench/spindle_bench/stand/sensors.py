"""What the stand's sensors make of the physics: lag, drift, noise, steps, and their failures."""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from functools import lru_cache

import numpy as np

from spindle_bench.stand import misbehaviour
from spindle_bench.stand.physics import Physics

CHANNEL_NAMES = (
    "throttle_pct",
    "thrust_gf",
    "torque_nm",
    "voltage_v",
    "current_a",
    "speed_rpm",
    "motor_temp_c",
    "ambient_temp_c",
    "vibration_g",
)

RESOLUTION = {
    "throttle_pct": 0.1,
    "thrust_gf": 0.1,
    "torque_nm": 1e-4,
    "voltage_v": 0.002,
    "current_a": 0.005,
    "speed_rpm": 1.0,
    "motor_temp_c": 0.05,
    "ambient_temp_c": 0.1,
    "vibration_g": 0.01,
}

_STEPS = tuple(round(1.0 / step) for step in RESOLUTION.values())
"""How many steps of the display make one unit."""

UNITS = {
    "throttle_pct": "%",
    "thrust_gf": "gf",
    "torque_nm": "N·m",
    "voltage_v": "V",
    "current_a": "A",
    "speed_rpm": "rpm",
    "motor_temp_c": "°C",
    "ambient_temp_c": "°C",
    "vibration_g": "g",
}

FAULT_KINDS = (
    "lost_rpm",
    "lost_temperature",
    "lost_voltage",
    "lost_throttle",
    "thrust_spike",
    "reversed_thrust",
    "hot",
    *misbehaviour.KINDS,
)


@lru_cache(maxsize=8)
def _over(dt: float) -> tuple[float, float, float, float]:
    """Shares over a time [s]: how far the cells and the thermometer settle, how much of the air's
    wander stays, and how much of it is new."""
    memory = math.exp(-dt / 0.05)
    wander = math.sqrt(1 - memory**2)
    return 1.0 - math.exp(-dt / 0.015), 1.0 - math.exp(-dt / 0.4), memory, wander


@dataclass(slots=True)
class Sensors:
    """The sensors of one stand. ``seed`` fixes every random number they draw.

    ``thrust_gain`` and ``gains`` (channel → factor, for the others) are calibrations that are a
    little off; ``torque_zero_nm`` and the drifts belong to the two cells. ``glitch_share``: share
    of samples of each channel that are wild.
    """

    seed: int
    thrust_gain: float = 1.0
    thrust_zero_gf: float = 0.0
    thrust_drift_gf_per_s: float = 0.0
    torque_zero_nm: float = 0.0
    torque_drift_nm_per_s: float = 0.0
    gains: dict[str, float] = field(default_factory=dict)
    glitch_share: float = 0.0
    imbalance: float = 1.0
    faults: dict[str, tuple[float, float]] = field(default_factory=dict)
    _thrust_gf: float = 0.0
    _torque_nm: float = 0.0
    _case_c: float | None = None
    _wander: float = 0.0
    _draws: list[float] = field(default_factory=list)
    _rng: np.random.Generator = field(init=False)

    def __post_init__(self) -> None:
        self._rng = np.random.default_rng(self.seed)

    def fail(self, kind: str, since_s: float, until_s: float) -> None:
        """Let a sensor fail between two stand times [s]."""
        self.faults[kind] = (since_s, until_s)

    def failing(self, kind: str, time_s: float) -> bool:
        """Whether a requested failure is in force."""
        since_s, until_s = self.faults.get(kind, (math.inf, -math.inf))
        return since_s <= time_s < until_s

    def read(
        self, physics: Physics, time_s: float, throttle_pct: float, dt: float
    ) -> list[float | None]:
        """One sample in the order of :data:`CHANNEL_NAMES`; None where a sensor is lost."""
        settle, warm, memory, fresh = _over(dt)
        self._thrust_gf += settle * (physics.thrust_gf - self._thrust_gf)
        self._torque_nm += settle * (physics.shaft_torque_nm - self._torque_nm)
        if self._case_c is None:
            self._case_c = physics.case_c
        self._case_c += warm * (physics.case_c - self._case_c)
        # Air around a propeller is unsteady for tenths of a second: correlated noise.
        self._wander = memory * self._wander + fresh * self._normal()
        flow = 0.0035 * self._thrust_gf * self._wander
        speed = physics.speed_rpm
        zero = self.thrust_zero_gf + self.thrust_drift_gf_per_s * time_s
        thrust = self.thrust_gain * (self._thrust_gf + flow) + zero + 0.35 * self._normal()
        if self.faults and self.failing("thrust_spike", time_s):
            thrust += 2500.0
        values: list[float | None] = [
            throttle_pct,
            thrust,
            self._torque_nm * (1.0 + 0.002 * self._wander) + 2e-4 * self._normal(),
            max(0.0, physics.terminal_v + 0.004 * self._normal()),
            physics.battery_current_a * (1.0 + 0.003 * self._normal()) + 0.01 * self._normal(),
            max(0.0, speed + (0.0004 * speed + 1.0) * self._normal() if speed > 60 else 0.0),
            self._case_c + 0.03 * self._normal(),
            physics.mounted.ambient_c + 0.03 * self._normal(),
            abs(0.02 + self.imbalance * (speed / 20_000.0) ** 2 * (0.4 + 0.05 * self._normal())),
        ]
        for name, gain in self.gains.items():
            number = CHANNEL_NAMES.index(name)
            value = values[number]
            if value is not None:
                values[number] = gain * value
        values[2] = (values[2] or 0.0) + self.torque_zero_nm + self.torque_drift_nm_per_s * time_s
        if self.glitch_share:
            self._glitch(values)
        if self.faults:
            self._fail(values, time_s)
        return [
            None if value is None else round(value * steps) / steps
            for value, steps in zip(values, _STEPS, strict=True)
        ]

    def _fail(self, values: list[float | None], time_s: float) -> None:
        """What the failures in force make of a sample."""
        if self.failing("lost_rpm", time_s):
            values[5] = 0.0
        if self.failing("lost_temperature", time_s):
            values[6] = None
        if self.failing("hot", time_s):
            values[6] = 145.0
        if self.failing("lost_voltage", time_s):
            values[3] = None
        if self.failing("lost_throttle", time_s):
            values[0] = None
        if self.failing("reversed_thrust", time_s):
            values[1] = -5000.0

    def _glitch(self, values: list[float | None]) -> None:
        """Wild values, as a loose plug or a lost bit gives them; the command is never one."""
        for number in range(1, len(values)):
            value = values[number]
            if value is not None and self._rng.random() < self.glitch_share:
                values[number] = value * self._rng.choice((0.2, 1.9, 3.0)) + 1.0

    def _normal(self) -> float:
        if not self._draws:
            self._draws = self._rng.standard_normal(4096).tolist()
        return self._draws.pop()
