"""What a soak will warm its motor by, from the soaks before it.

The energy is that of the operating point over the course of the throttle; the rise per kilojoule is
what the motor's soaks have shown. A rise per energy holds for soaks of about one length and load:
the further the next one is from them, the less is known of it.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Final

from spindle_core.figures.measured import Absent, Figure, Measured, Origin, product
from spindle_core.identification.heat import heat_figures
from spindle_core.planning.known import KnownMotor, KnownPropeller
from spindle_core.planning.predict import FULL_PCT, KnownSupply, predict, predict_curve

POWER_CUBED: Final = 3.0
"""Electrical power of a propeller goes about with this power of the throttle."""

SATURATES: Final = 0.35
"""The rise per kJ falls by this share for each e-fold of energy: with a longer load more heat has
left, with a higher one it has not. Between the two, and either is within :data:`PER_LENGTH`."""

PER_LENGTH: Final = 0.35
"""Relative doubt of a rise per kJ for each e-fold that a soak's energy is off those before it."""

OTHER_SAMPLE: Final = 0.06
"""Relative doubt of a rise per kJ that only other samples of the model have shown."""

ENERGY_SHARE: Final = 0.03
"""Relative doubt of the energy: the ESC's part-load and the way up and down."""

Course = Sequence[tuple[float, float, float]]


@dataclass(frozen=True, slots=True)
class SoaksBefore:
    """What a motor's soaks have shown: rise per energy [K/kJ] and their mean energy [kJ]."""

    rise_k_per_kj: Figure
    energy_kj: float | None


def soaks_before(soaks: Sequence[Mapping[str, Figure]], *, own: bool = True) -> SoaksBefore:
    """Of the summaries of accepted soaks, by figure name; absent without one.

    :param own: they are of the sample itself, not of others of its model.
    """
    per = heat_figures(soaks)["rise_k_per_kj"]
    if isinstance(per, Measured) and not own:
        per = per.with_component("assumed_other_sample", OTHER_SAMPLE * per.value)
    energies = [one["energy_kj"] for one in soaks if "energy_kj" in one]
    told = [math.log(e.value) for e in energies if isinstance(e, Measured) and e.value > 0]
    return SoaksBefore(per, math.exp(math.fsum(told) / len(told)) if told else None)


def predict_soak(
    motor: KnownMotor,
    propeller: KnownPropeller,
    supply: KnownSupply,
    density_kg_per_m3: Measured,
    before: SoaksBefore,
    *,
    course: Course,
    esc_linear: bool | None = None,
) -> dict[str, Figure]:
    """``energy_kj`` and ``rise_k`` of a soak, by the names of its summary.

    :param course: the throttle up to the stop: from [%], to [%], seconds; empty where nobody knows
        how long the load lasts, as of a soak that ends at a temperature.
    """
    top = max((max(begin, end) for begin, end, _ in course), default=0.0)
    if top <= 0:
        open_end = Absent("open_end", "how long its load lasts is not known beforehand")
        return {"energy_kj": open_end, "rise_k": open_end}
    power = _power(motor, propeller, supply, density_kg_per_m3, top, esc_linear=esc_linear)
    if isinstance(power, Absent):
        return {"energy_kj": power, "rise_k": power}
    energy = power.scaled(_seconds_at(course, top) / 1000.0)
    energy = energy.with_component("course", ENERGY_SHARE * energy.value)
    per = before.rise_k_per_kj
    if isinstance(per, Absent) or before.energy_kj is None:
        missing = (
            per if isinstance(per, Absent) else Absent("no_energy", "no soak tells its energy")
        )
        return {"energy_kj": energy, "rise_k": missing}
    apart = math.log(energy.value / before.energy_kj)
    rise = product(per, energy).scaled(math.exp(-SATURATES * apart))
    parts = {**rise.components, "other_length": PER_LENGTH * abs(apart) * rise.value}
    return {"energy_kj": energy, "rise_k": Measured(rise.value, parts, origin=Origin.ESTIMATED)}


def _power(
    motor: KnownMotor,
    propeller: KnownPropeller,
    supply: KnownSupply,
    density: Measured,
    top_pct: float,
    *,
    esc_linear: bool | None,
) -> Figure:
    """Electrical power at the load [W]."""
    if top_pct >= FULL_PCT or esc_linear:
        duty = min(1.0, top_pct / 100.0) if top_pct < FULL_PCT else 1.0
        return predict(motor, propeller, supply, density, duty=duty).figures["power_w"]
    # The curve around it tells what an assumed duty does to it.
    around = (0.9 * top_pct, top_pct, min(100.0, 1.1 * top_pct))
    found = dict(predict_curve(motor, propeller, supply, density, around))
    if top_pct not in found:
        return Absent("does_not_turn", "at this throttle it would not turn")
    return found[top_pct]["power_w"]


def _seconds_at(course: Course, top_pct: float) -> float:
    """How many seconds at the top take the energy of the whole course [s]."""
    total = 0.0
    for begin, end, seconds in course:
        a, b = begin / top_pct, end / top_pct
        # ∫ of the cube over a straight stretch.
        mean = (a**2 + b**2) * (a + b) / (POWER_CUBED + 1.0)
        total += seconds * mean
    return total
