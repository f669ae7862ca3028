"""What ends a run at once: checked on every sample, cut on the first that is beyond."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, dataclass, field, fields
from typing import Any

from spindle_bench.errors import PlanError

SPINNING_PCT = 8.0
"""Above this throttle a motor must turn; no speed signal there is a lost one."""


@dataclass(frozen=True, slots=True)
class Limits:
    """Kill limits. None: not watched.

    ``lost_rpm_s`` and ``lost_sensor_s``: how long a signal may be missing under throttle [s].
    """

    current_a: float | None = 40.0
    motor_temp_c: float | None = 90.0
    voltage_floor_v: float | None = None
    thrust_gf: float | None = 4000.0
    vibration_g: float | None = None
    lost_rpm_s: float | None = 0.4
    lost_sensor_s: float = 0.5

    def __post_init__(self) -> None:
        for item in fields(self):
            value = getattr(self, item.name)
            if value is not None and not 0 < value < 1e6:
                raise PlanError(f"The limit {item.name} must be above 0, got {value:g}.")

    def as_json(self) -> dict[str, float | None]:
        """The limits as plain data."""
        return asdict(self)


def limits_from_json(data: Mapping[str, Any]) -> Limits:
    """Limits from plain data.

    :raises PlanError: an unknown name or a value that is not a number.
    """
    known = {item.name for item in fields(Limits)}
    unknown = sorted(set(data) - known)
    if unknown:
        raise PlanError(f"Unknown limit {unknown[0]!r}; known: {', '.join(sorted(known))}.")
    try:
        values = {key: None if value is None else float(value) for key, value in data.items()}
    except (TypeError, ValueError) as error:
        raise PlanError("A limit is a number or nothing.") from error
    if values.get("lost_sensor_s", 1.0) is None:
        raise PlanError("lost_sensor_s cannot be switched off.")
    return Limits(**values)  # type: ignore[arg-type]


@dataclass(frozen=True, slots=True)
class Breach:
    """A limit that was crossed: a stable code, a sentence and the stand time [s]."""

    code: str
    message: str
    time_s: float


_ABOVE = (
    ("current_a", "Current", "A"),
    ("motor_temp_c", "Motor temperature", "°C"),
    ("thrust_gf", "Thrust", "gf"),
    ("vibration_g", "Vibration", "g"),
)


@dataclass(slots=True)
class LimitMonitor:
    """Watches the samples of one run."""

    limits: Limits
    _missing_since: dict[str, float] = field(default_factory=dict)

    def check(self, time_s: float, sample: Mapping[str, float | None]) -> Breach | None:
        """The breach that this sample shows, or None.

        :param sample: channel name → value, None where missing.
        """
        for name, label, unit in _ABOVE:
            limit = getattr(self.limits, name)
            value = sample.get(name)
            if limit is not None and value is not None and value > limit:
                return Breach(
                    f"limit_{name}",
                    f"{label} {value:.4g} {unit} above the limit of {limit:.4g} {unit}.",
                    time_s,
                )
        return self._voltage(time_s, sample) or self._lost(time_s, sample)

    def _voltage(self, time_s: float, sample: Mapping[str, float | None]) -> Breach | None:
        floor, value = self.limits.voltage_floor_v, sample.get("voltage_v")
        if floor is None or value is None or value >= floor:
            return None
        message = f"Voltage {value:.4g} V below the floor of {floor:.4g} V."
        return Breach("limit_voltage_v", message, time_s)

    def _lost(self, time_s: float, sample: Mapping[str, float | None]) -> Breach | None:
        throttle = sample.get("throttle_pct") or 0.0
        if self.limits.lost_rpm_s is not None:
            lost = throttle > SPINNING_PCT and not sample.get("speed_rpm")
            if self._overdue("speed_rpm", lost, time_s, self.limits.lost_rpm_s):
                message = f"No speed signal for {self.limits.lost_rpm_s:g} s under throttle."
                return Breach("lost_rpm", message, time_s)
        for name, label, _ in _ABOVE:
            if getattr(self.limits, name) is None or name == "vibration_g":
                continue
            missing = sample.get(name) is None and throttle > 0
            if self._overdue(name, missing, time_s, self.limits.lost_sensor_s):
                message = f"{label} has been missing for {self.limits.lost_sensor_s:g} s."
                return Breach(f"lost_{name}", message, time_s)
        return None

    def _overdue(self, name: str, missing: bool, time_s: float, allowed_s: float) -> bool:
        if not missing:
            self._missing_since.pop(name, None)
            return False
        return time_s - self._missing_since.setdefault(name, time_s) > allowed_s
