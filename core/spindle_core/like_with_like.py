"""Whether runs may be compared: what differs between them besides what is asked.

The factors of a fair comparison are the propeller, the supply and its nominal voltage, the
stand, the temperature at the start and the air. What differs is listed; where several factors
differ at once, a difference in the figures cannot be laid to any one of them.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

START_TEMPERATURE_TOLERANCE_K = 5.0
DENSITY_TOLERANCE = 0.01
VOLTAGE_TOLERANCE = 0.01


@dataclass(frozen=True, slots=True)
class Conditions:
    """How one run was made. None: not known, which is not the same as equal.

    ``start_rise_k``: motor above air at the start [K]; ``air_density_kg_per_m3``.
    """

    motor: str
    sample: str
    propeller: str
    supply_kind: str | None = None
    nominal_voltage_v: float | None = None
    stand: str | None = None
    start_rise_k: float | None = None
    air_density_kg_per_m3: float | None = None


@dataclass(frozen=True, slots=True)
class Factor:
    """One factor: its name, each run's value in words, and whether they agree.

    ``state`` is ``same``, ``differs`` or ``unknown`` (a run does not say).
    """

    name: str
    values: tuple[str, ...]
    state: str


def factors(runs: Sequence[Conditions]) -> list[Factor]:
    """Every factor of the comparison, in a fixed order."""
    return [
        _words("motor", [f"{run.motor} {run.sample}".strip() for run in runs]),
        _words("propeller", [run.propeller for run in runs]),
        _words("supply", [run.supply_kind for run in runs]),
        _numbers("nominal voltage", [run.nominal_voltage_v for run in runs], "{:.1f} V",
                 relative=VOLTAGE_TOLERANCE),
        _words("stand", [run.stand for run in runs]),
        _numbers("motor above air at the start", [run.start_rise_k for run in runs], "{:+.0f} K",
                 absolute=START_TEMPERATURE_TOLERANCE_K),
        _numbers("air density", [run.air_density_kg_per_m3 for run in runs], "{:.3f} kg/m³",
                 relative=DENSITY_TOLERANCE),
    ]  # fmt: skip


def confounded(found: Sequence[Factor]) -> list[str]:
    """Names of the factors that differ, when there are two or more; else nothing."""
    differing = [factor.name for factor in found if factor.state == "differs"]
    return differing if len(differing) > 1 else []


def _words(name: str, values: Sequence[str | None]) -> Factor:
    shown = tuple(value or "—" for value in values)
    if any(not value for value in values):
        return Factor(name, shown, "unknown")
    return Factor(name, shown, "same" if len(set(values)) == 1 else "differs")


def _numbers(
    name: str,
    values: Sequence[float | None],
    form: str,
    *,
    relative: float = 0.0,
    absolute: float = 0.0,
) -> Factor:
    shown = tuple("—" if value is None else form.format(value) for value in values)
    known = [value for value in values if value is not None]
    if len(known) < len(values):
        return Factor(name, shown, "unknown")
    allowed = max(absolute, relative * max(abs(value) for value in known))
    return Factor(name, shown, "same" if max(known) - min(known) <= allowed else "differs")
