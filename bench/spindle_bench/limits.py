"""What ends a run at once: checked on every sample, cut on the first that is beyond.

A limit is on with a number, or off because somebody chose so; never off because a number could not
be read. A limit that cannot be judged (no reading, no number, an impossible one) is a breach.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import asdict, dataclass, field, fields
from typing import Any, Final

from spindle_bench.errors import PlanError

SPINNING_PCT: Final = 8.0
"""Above this throttle a motor must turn; no speed signal there is a lost one."""

COLDEST_C: Final = -40.0
"""A motor that reads colder than this has an open thermocouple, not frost."""

MISMATCH_PCT: Final = 10.0
"""A stand that applies this much more throttle than commanded does not follow."""

MISMATCH_S: Final = 0.5

UNREAD_PCT: Final = 1.0
"""A throttle in somebody's hand that nobody reads: above zero, and too low to ask for a speed."""


@dataclass(frozen=True, slots=True)
class Kind:
    """One kind of limit: the channel it watches, its words, and what may be typed.

    ``both_signs``: the reading counts by its size, so that a reversed cell or clamp is not blind.
    ``field``: the words of its field on a form, where they differ from its label. ``unwatched``:
    what somebody confirms who switches it off. ``usual``: what a form proposes; None where it
    depends on what is mounted.
    """

    channel: str
    label: str
    unit: str
    lowest: float
    highest: float
    both_signs: bool = False
    can_be_off: bool = True
    field: str = ""
    unwatched: str = ""
    usual: float | None = None


KINDS: Final[dict[str, Kind]] = {
    "current_a": Kind("current_a", "Current", "A", 0.1, 500.0, True, False, usual=40.0),
    "power_w": Kind(
        "power_w", "Power", "W", 10.0, 20_000.0, True, unwatched="Power does not cut this run"
    ),
    "motor_temp_c": Kind(
        "motor_temp_c",
        "Motor temperature",
        "°C",
        10.0,
        130.0,
        field="Motor",
        unwatched="The motor's temperature does not cut this run",
        usual=90.0,
    ),
    "thrust_gf": Kind(
        "thrust_gf",
        "Thrust",
        "gf",
        10.0,
        50_000.0,
        True,
        unwatched="Thrust does not cut this run",
        usual=4000.0,
    ),
    "speed_rpm": Kind(
        "speed_rpm", "Speed", "rpm", 500.0, 150_000.0, True, unwatched="Speed does not cut this run"
    ),
    "vibration_g": Kind(
        "vibration_g",
        "Vibration",
        "g",
        0.1,
        200.0,
        True,
        unwatched="Vibration does not cut this run",
        usual=8.0,
    ),
    "voltage_floor_v": Kind(
        "voltage_v",
        "Voltage",
        "V",
        1.0,
        100.0,
        field="Below",
        unwatched="No voltage floor cuts this run",
    ),
    "lost_rpm_s": Kind(
        "speed_rpm",
        "Lost speed signal",
        "s",
        0.1,
        2.0,
        field="No speed signal for",
        unwatched="A lost speed signal does not cut this run",
        usual=0.4,
    ),
    "lost_sensor_s": Kind("", "Lost sensor", "s", 0.1, 2.0, False, False),
}
"""130 °C leaves a common enamel little; the winding is hotter than the case that is measured."""


@dataclass(frozen=True, slots=True)
class Limits:
    """Kill limits. None: off, which the plan holds only with the name of who chose it.

    ``lost_rpm_s`` and ``lost_sensor_s``: how long a signal may be missing under throttle [s].

    :raises PlanError: a number outside what the kind allows.
    """

    current_a: float | None = 40.0
    motor_temp_c: float | None = 90.0
    voltage_floor_v: float | None = None
    thrust_gf: float | None = 4000.0
    vibration_g: float | None = None
    power_w: float | None = None
    speed_rpm: float | None = None
    lost_rpm_s: float | None = 0.4
    lost_sensor_s: float = 0.5

    def __post_init__(self) -> None:
        for item in fields(self):
            value, kind = getattr(self, item.name), KINDS[item.name]
            if value is None and not kind.can_be_off:
                raise PlanError(f"{kind.label}: this limit cannot be switched off.")
            if value is not None and not kind.lowest <= value <= kind.highest:
                raise PlanError(
                    f"{kind.label}: a limit is {kind.lowest:g} to {kind.highest:g} {kind.unit}, "
                    f"got {value:g}.",
                    code="limit",
                    field=item.name,
                )

    @property
    def off(self) -> tuple[str, ...]:
        """The names of the limits that are off."""
        return tuple(item.name for item in fields(self) if getattr(self, item.name) is None)

    def as_json(self) -> dict[str, float | None]:
        """The limits as plain data."""
        return asdict(self)


def limits_from_json(data: Mapping[str, Any]) -> Limits:
    """Limits from plain data; what is not named is off (and needs somebody who chose that).

    :raises PlanError: an unknown name or a value that is not a number.
    """
    unknown = sorted(set(data) - set(KINDS))
    if unknown:
        raise PlanError(f"Unknown limit {unknown[0]!r}; known: {', '.join(sorted(KINDS))}.")
    values: dict[str, float | None] = {}
    for name in KINDS:
        value = data.get(name, 0.5 if name == "lost_sensor_s" else None)
        if value is not None and (isinstance(value, bool) or not isinstance(value, int | float)):
            raise PlanError(f"{KINDS[name].label}: a limit is a number, got {value!r}.", field=name)
        values[name] = None if value is None else float(value)
    return Limits(**values)  # type: ignore[arg-type]


def check_off(limits: Limits, off: Mapping[str, str]) -> None:
    """Every limit that is off names who chose it, and none that is on does.

    :raises PlanError: otherwise.
    """
    for name in limits.off:
        if not off.get(name, "").strip():
            raise PlanError(
                f"{KINDS[name].label}: set a limit, or choose that it is off.",
                code="limit_missing",
                field=name,
            )
    for name in off:
        if name not in limits.off:
            raise PlanError(f"{name!r} is named as off but has a limit.", field=name)


def against_stand(limits: Limits, hello: Mapping[str, Any]) -> None:
    """Hold a run's limits against what the stand says of itself.

    :raises PlanError: a limit beyond the stand's own, or one the stand has no channel for.
    """
    own: Mapping[str, float] = hello.get("limits") or {}
    channels = {channel["name"] for channel in hello["channels"]}
    for name, kind in KINDS.items():
        value = getattr(limits, name)
        if value is None or not kind.channel:
            continue
        most = own.get(name)
        if most is not None and value > most:
            raise PlanError(
                f"{kind.label}: the stand itself ends at {most:g} {kind.unit}; "
                f"the limit of {value:g} {kind.unit} is beyond that.",
                code="above_stand",
                field=name,
            )
        needed = {"voltage_v", "current_a"} if name == "power_w" else {kind.channel}
        if kind.channel not in channels and not needed <= channels:
            raise PlanError(
                f"{kind.label}: the stand has no such reading, so this limit cannot be judged; "
                "choose that it is off, or use another stand.",
                code="no_channel",
                field=name,
            )


@dataclass(frozen=True, slots=True)
class Breach:
    """A limit that was crossed: a stable code, a sentence and the stand time [s]."""

    code: str
    message: str
    time_s: float


def reading(sample: Mapping[str, float | None], name: str) -> float | None:
    """The reading a limit is held against; power is V·A where no meter gives it."""
    value = sample.get(name)
    if value is None and name == "power_w":
        volts, amps = sample.get("voltage_v"), sample.get("current_a")
        return None if volts is None or amps is None else volts * amps
    return value


_ABOVE: Final = ("current_a", "power_w", "motor_temp_c", "thrust_gf", "speed_rpm", "vibration_g")


@dataclass(slots=True)
class LimitMonitor:
    """Watches the samples of one run, under the run's limits and the stand's own."""

    limits: Limits
    stand_limits: Mapping[str, float] = field(default_factory=dict)
    _missing_since: dict[str, float] = field(default_factory=dict)

    def effective(self, name: str) -> tuple[float | None, str]:
        """The value that cuts, and whose it is: ``run`` or ``stand``."""
        own: float | None = getattr(self.limits, name)
        most = self.stand_limits.get(name)
        if most is not None and (own is None or most < own):
            return most, "stand"
        return own, "run"

    @classmethod
    def on_stand(cls, limits: Limits, hello: Mapping[str, Any]) -> LimitMonitor:
        """A monitor that also holds the stand's own limits, where the stand has the reading."""
        channels = {channel["name"] for channel in hello["channels"]}
        own = {
            name: most
            for name, most in (hello.get("limits") or {}).items()
            if name in channels or (name == "power_w" and {"voltage_v", "current_a"} <= channels)
        }
        return cls(limits, own)

    def check(
        self,
        time_s: float,
        sample: Mapping[str, float | None],
        commanded_pct: float = 0.0,
        *,
        by_hand: bool = False,
    ) -> Breach | None:
        """The breach that this sample shows, or None.

        :param sample: channel name → value, None where missing.
        :param commanded_pct: the throttle last commanded [%]; what the stand echoes is not
            trusted to be lower.
        :param by_hand: nothing is commanded from here: what the stand reads of the throttle is all
            there is, and one that is not read may be anything above zero.
        """
        for name, value in sample.items():
            if value is not None and not math.isfinite(value):
                return Breach(f"unreadable_{name}", f"{name} reads {value}; no number.", time_s)
        echo = sample.get("throttle_pct")
        throttle = max(commanded_pct, echo or 0.0)
        if by_hand and echo is None:
            throttle = UNREAD_PCT
        return (
            self._voltage(time_s, sample, throttle)
            or self._above(time_s, sample, throttle)
            or self._lost_rpm(time_s, sample, throttle)
            or (None if by_hand else self._echo(time_s, echo, commanded_pct))
        )

    def _above(
        self, time_s: float, sample: Mapping[str, float | None], throttle_pct: float
    ) -> Breach | None:
        for name in _ABOVE:
            limit, whose = self.effective(name)
            if limit is None:
                continue
            kind, value = KINDS[name], reading(sample, name)
            if value is None:
                breach = self._missing(name, kind.label, time_s, throttle_pct)
                if breach is not None:
                    return breach
                continue
            self._missing_since.pop(name, None)
            if (abs(value) if kind.both_signs else value) > limit:
                beyond = "below minus" if value < 0 else "above"
                owner = "the stand's limit" if whose == "stand" else "the limit"
                return Breach(
                    f"limit_{name}",
                    f"{kind.label} {value:.4g} {kind.unit} {beyond} {owner} of "
                    f"{limit:.4g} {kind.unit}.",
                    time_s,
                )
            if name == "motor_temp_c" and value < COLDEST_C:
                message = f"Motor temperature reads {value:.4g} °C: the sensor is open."
                return Breach("unreadable_motor_temp_c", message, time_s)
        return None

    def _voltage(
        self, time_s: float, sample: Mapping[str, float | None], throttle_pct: float
    ) -> Breach | None:
        floor, value = self.limits.voltage_floor_v, sample.get("voltage_v")
        if floor is None:
            return None
        if value is None:
            return self._missing("voltage_v", "Voltage", time_s, throttle_pct)
        self._missing_since.pop("voltage_v", None)
        if value >= floor:
            return None
        message = f"Voltage {value:.4g} V below the floor of {floor:.4g} V."
        return Breach("limit_voltage_v", message, time_s)

    def _lost_rpm(
        self, time_s: float, sample: Mapping[str, float | None], throttle_pct: float
    ) -> Breach | None:
        allowed = self.limits.lost_rpm_s
        if allowed is None:
            return None
        lost = throttle_pct > SPINNING_PCT and not sample.get("speed_rpm")
        if not self._overdue("lost_rpm", lost, time_s, allowed):
            return None
        return Breach("lost_rpm", f"No speed signal for {allowed:g} s under throttle.", time_s)

    def _echo(self, time_s: float, echo: float | None, commanded_pct: float) -> Breach | None:
        """The read-back of the throttle: there, and no higher than what was commanded."""
        lost = echo is None and commanded_pct > 0
        if self._overdue("echo", lost, time_s, self.limits.lost_sensor_s):
            message = f"The stand has not said its throttle for {self.limits.lost_sensor_s:g} s."
            return Breach("lost_throttle_pct", message, time_s)
        ahead = echo is not None and echo > commanded_pct + MISMATCH_PCT
        if self._overdue("ahead", ahead, time_s, MISMATCH_S):
            message = f"The stand applies {echo:.4g} % where {commanded_pct:.4g} % is commanded."
            return Breach("throttle_mismatch", message, time_s)
        return None

    def _missing(self, name: str, label: str, time_s: float, throttle_pct: float) -> Breach | None:
        """A reading that is missing too long under throttle."""
        if not self._overdue(name, throttle_pct > 0, time_s, self.limits.lost_sensor_s):
            return None
        message = f"{label} has been missing for {self.limits.lost_sensor_s:g} s."
        return Breach(f"lost_{name}", message, time_s)

    def _overdue(self, name: str, missing: bool, time_s: float, allowed_s: float) -> bool:
        if not missing:
            self._missing_since.pop(name, None)
            return False
        return time_s - self._missing_since.setdefault(name, time_s) > allowed_s


def states(
    limits: Mapping[str, float | None] | None,
    off: Mapping[str, str],
    stand_limits: Mapping[str, float],
    values: Mapping[str, float | None] | None,
) -> list[dict[str, Any]]:
    """Every limit with its state, for the screen: ``on``, ``off`` or ``cannot_judge``.

    :param limits: the run's; None before a run is chosen, when only the stand's own count.
    :param values: what is read now; None when nothing is expected to be.
    """
    rows: list[dict[str, Any]] = []
    for name, kind in KINDS.items():
        own = limits.get(name) if limits else None
        most = stand_limits.get(name)
        if limits is None and most is None:
            continue
        on = own is not None or most is not None
        judged = values is None or not kind.channel or reading(values, kind.channel) is not None
        rows.append(
            {
                "name": name,
                "channel": kind.channel,
                "label": kind.label,
                "unit": kind.unit,
                "limit": own,
                "stand_limit": most,
                "state": ("on" if judged else "cannot_judge") if on else "off",
                "off_by": off.get(name, ""),
            }
        )
    return rows
