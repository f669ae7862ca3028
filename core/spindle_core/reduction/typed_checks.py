"""Checks of figures that were typed in: bounds no instant can break, and redundant figures.

Each finding names the field it belongs to, so that it can stand beside it.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Measured

POWER_TOLERANCE = 0.02


@dataclass(frozen=True, slots=True)
class TypedFinding:
    """What is wrong with a typed figure. ``field`` is its name; ``code`` is stable.

    ``impossible`` figures cannot all be true; the others only disagree.
    """

    field: str
    code: str
    message: str
    impossible: bool = False


def power_agrees(typed: Measured, computed: Measured) -> bool:
    """Whether a typed power [W] is within 2 % of V·A, or within what their digits allow."""
    allowed = max(
        POWER_TOLERANCE * abs(computed.value), 3.0 * math.hypot(typed.scatter, computed.scatter)
    )
    return bool(abs(typed.value - computed.value) <= allowed)


def check_peaks(
    *,
    lowest_voltage_v: float,
    open_voltage_v: float,
    peak_current_a: float,
    peak_power_w: float,
    slack_w: float = 0.0,
) -> list[TypedFinding]:
    """Bounds on peaks that fell at different instants: Vmin·Apeak ≤ Wpeak ≤ Vopen·Apeak.

    The power at the instant of peak current is at least Vmin·Apeak; no instant has more than
    the open voltage and the peak current.

    :param slack_w: what the last digits of the three may hide [W].
    :raises QuantityError: a value that is not positive, or a minimum above the open voltage.
    """
    values = (lowest_voltage_v, open_voltage_v, peak_current_a, peak_power_w)
    if min(values) <= 0:
        raise QuantityError("Volts, amps and watts of a peak must be above 0.")
    if lowest_voltage_v > open_voltage_v:
        raise QuantityError(
            f"The lowest voltage, {lowest_voltage_v:g} V, is above the open voltage, "
            f"{open_voltage_v:g} V; check which is which."
        )
    least, most = lowest_voltage_v * peak_current_a, open_voltage_v * peak_current_a
    if peak_power_w < least - slack_w:
        return [
            TypedFinding(
                "peak_power_w",
                "power_below_bound",
                f"{peak_power_w:g} W is impossible: {lowest_voltage_v:g} V at the least and "
                f"{peak_current_a:g} A make at least {least:.4g} W. One of the three was misread.",
                impossible=True,
            )
        ]
    if peak_power_w > most + slack_w:
        return [
            TypedFinding(
                "peak_power_w",
                "power_above_bound",
                f"{peak_power_w:g} W is impossible: {open_voltage_v:g} V at the most and "
                f"{peak_current_a:g} A make at most {most:.4g} W. One of the three was misread.",
                impossible=True,
            )
        ]
    return []


def check_redundant(typed: Mapping[str, float], *, tolerance: float = 0.02) -> list[TypedFinding]:
    """Recompute what was typed although it follows from the rest, and flag what disagrees.

    Knows ``power_w`` (V × A), ``efficiency_g_per_w`` (thrust ÷ power) and
    ``delta_<name>`` with ``<name>`` and ``baseline_<name>``.

    :param typed: figures by name, units as named.
    :param tolerance: relative disagreement that rounding may explain.
    """
    findings = []
    volts, amps, watts = (typed.get(n) for n in ("voltage_v", "current_a", "power_w"))
    if volts is not None and amps is not None:
        computed = volts * amps
        findings += _disagreement("power_w", watts, computed, "W", "volts × amps", tolerance)
        watts = computed if watts is None else watts
    thrust, quoted = typed.get("thrust_gf"), typed.get("efficiency_g_per_w")
    if thrust is not None and watts:
        findings += _disagreement(
            "efficiency_g_per_w", quoted, thrust / watts, "g/W", "thrust ÷ power", tolerance
        )
    for name, value in typed.items():
        if not name.startswith("delta_"):
            continue
        stem = name.removeprefix("delta_")
        now, base = typed.get(stem), typed.get(f"baseline_{stem}")
        if now is not None and base is not None:
            slack = tolerance * max(abs(now), abs(base)) / max(abs(now - base), 1e-12)
            unit = stem.rsplit("_", 1)[-1]
            findings += _disagreement(
                name, value, now - base, unit, "the difference", min(0.5, max(tolerance, slack))
            )
    return findings


def _disagreement(
    field: str, typed: float | None, computed: float, unit: str, how: str, tolerance: float
) -> list[TypedFinding]:
    if typed is None or abs(typed - computed) <= tolerance * max(abs(computed), 1e-12):
        return []
    return [
        TypedFinding(
            field,
            "redundant_mismatch",
            f"{typed:g} {unit} was typed; {how} gives {computed:.4g} {unit}.",
        )
    ]
