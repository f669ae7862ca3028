"""Whether runs may be compared: what differs between them besides what is asked.

The factors of a fair comparison are the propeller, the supply and its nominal voltage, the lead
length, the ESC and its settings, the throttle point, the stand, the temperature at the start and
the air. What differs is listed, with what was corrected and what could not be; where several
factors differ at once, a difference in the figures cannot be laid to any one of them.
"""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

from spindle_core.figures.said import number
from spindle_core.run.trace import WARM_START_K

if TYPE_CHECKING:
    from spindle_core.reduction.result import Point

UNDER_LOAD_TOLERANCE = 0.02
"""Voltages under load further apart than this are not the same: thrust follows V^1.7."""

DENSITY_TOLERANCE = 0.01
VOLTAGE_TOLERANCE = 0.01
LEAD_LENGTH_TOLERANCE_MM = 5.0
THROTTLE_TOLERANCE_PCT = 1.0

NOT_SAID = "—"


@dataclass(frozen=True, slots=True)
class Conditions:
    """How one run was made. None: not known, which is not the same as equal.

    ``start_rise_k``: motor above air at the start [K]; ``air_density_kg_per_m3``;
    ``throttle_point_pct``: the throttle at which the compared figures stand.
    ``voltage_under_load_v``: the lowest that was measured.
    """

    motor: str
    sample: str
    propeller: str
    supply_kind: str | None = None
    nominal_voltage_v: float | None = None
    stand: str | None = None
    start_rise_k: float | None = None
    air_density_kg_per_m3: float | None = None
    lead_length_mm: float | None = None
    esc: str | None = None
    esc_settings: str | None = None
    throttle_point_pct: float | None = None
    voltage_under_load_v: float | None = None


def voltage_under_load_v(points: Sequence[Point]) -> float | None:
    """The lowest voltage of a run's points [V]: what a sagging pack really gave."""
    volts = [value for point in points if (value := point.value("voltage_v")) is not None]
    return min(volts, default=None)


@dataclass(frozen=True, slots=True)
class Factor:
    """One factor: its name, each run's value in words, and whether they agree.

    ``state`` is ``same``, ``differs``, ``corrected`` (differs, but the figures were brought to
    one value) or ``unknown`` (a run does not say).
    """

    name: str
    values: tuple[str, ...]
    state: str


CORRECTABLE = ("nominal voltage", "air density")
"""Factors that a model or powers of voltage and density can take out of the figures."""


def factors(runs: Sequence[Conditions], *, corrected: Collection[str] = ()) -> list[Factor]:
    """Every factor of the comparison, in a fixed order.

    Lead length, ESC, its settings and the throttle point are left out where no run says them.

    :param corrected: names of factors that the compared figures were corrected for.
    """
    found = [
        _words("motor", [f"{run.motor} {run.sample}".strip() for run in runs]),
        _words("propeller", [run.propeller for run in runs]),
        _words("supply", [run.supply_kind for run in runs]),
        _numbers(
            "nominal voltage",
            [run.nominal_voltage_v for run in runs],
            ("V", 1),
            relative=VOLTAGE_TOLERANCE,
        ),
        _numbers(
            "voltage under load",
            [run.voltage_under_load_v for run in runs],
            ("V", 2),
            relative=UNDER_LOAD_TOLERANCE,
        ),
        _words("stand", [run.stand for run in runs]),
        _numbers(
            "motor above air at the start",
            [run.start_rise_k for run in runs],
            ("K", 0),
            absolute=WARM_START_K,
            signed=True,
        ),
        _numbers(
            "air density",
            [run.air_density_kg_per_m3 for run in runs],
            ("kg/m³", 3),
            relative=DENSITY_TOLERANCE,
        ),
    ]
    optional = [
        _numbers(
            "lead length",
            [run.lead_length_mm for run in runs],
            ("mm", 0),
            absolute=LEAD_LENGTH_TOLERANCE_MM,
        ),
        _words("ESC", [run.esc for run in runs]),
        _words("ESC settings", [run.esc_settings for run in runs]),
        _numbers(
            "throttle point",
            [run.throttle_point_pct for run in runs],
            ("%", 0),
            absolute=THROTTLE_TOLERANCE_PCT,
        ),
    ]
    found += [factor for factor in optional if any(value != NOT_SAID for value in factor.values)]
    return [
        replace(factor, state="corrected")
        if factor.state == "differs" and factor.name in corrected
        else factor
        for factor in found
    ]


def not_corrected(found: Sequence[Factor]) -> list[str]:
    """Names of the factors that differ, other than the motor, and stay in the figures."""
    return [item.name for item in found if item.state == "differs" and item.name != "motor"]


def confounded(found: Sequence[Factor]) -> list[str]:
    """Names of the factors that differ, when there are two or more; else nothing."""
    differing = [factor.name for factor in found if factor.state == "differs"]
    return differing if len(differing) > 1 else []


def _words(name: str, values: Sequence[str | None]) -> Factor:
    shown = tuple(value or NOT_SAID for value in values)
    if any(not value for value in values):
        return Factor(name, shown, "unknown")
    return Factor(name, shown, "same" if len(set(values)) == 1 else "differs")


def _numbers(
    name: str,
    values: Sequence[float | None],
    said: tuple[str, int],
    *,
    relative: float = 0.0,
    absolute: float = 0.0,
    signed: bool = False,
) -> Factor:
    """A factor that is a number. ``said``: its unit and decimals."""
    unit, decimals = said
    shown = tuple(
        NOT_SAID if value is None else f"{number(value, decimals, signed=signed)} {unit}"
        for value in values
    )
    known = [value for value in values if value is not None]
    if len(known) < len(values):
        return Factor(name, shown, "unknown")
    allowed = max(absolute, relative * max(abs(value) for value in known))
    return Factor(name, shown, "same" if max(known) - min(known) <= allowed else "differs")
