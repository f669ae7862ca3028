"""What a motor turns into heat during a soak, apart for its copper and the rest.

The supply's current is not the motor's: at part throttle the motor carries I ÷ duty. What the ESC
loses warms the ESC. Copper heats with the resistance it has when it is hot.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from spindle_core.figures.arrays import Bools, Floats
from spindle_core.figures.constants import COPPER_TEMPERATURE_COEFFICIENT_PER_K
from spindle_core.figures.measured import Absent
from spindle_core.reduction.cleaning import Cleaning
from spindle_core.reduction.plateau import filled_forward
from spindle_core.run.duty import FULL_THROTTLE_PCT

COPPER_SHARE, COPPER_SHARE_HALF_WIDTH = 0.8, 0.1
"""Share of the effective resistance that is the motor's copper; the rest is ESC and plugs."""

RESISTANCE_HALF_WIDTH = 0.10
"""What a resistance without its u may be off (relative)."""

NO_LOAD_HALF_WIDTH = 0.20
"""What a no-load current at another speed may be off (relative)."""

LINEAR_HALF_WIDTH = 0.03
"""What the duty of an ESC that is declared linear may be off the throttle (relative)."""

ESC_SHARE, ESC_SHARE_HALF_WIDTH = 0.12, 0.08
"""Share of what is lost between meter and shaft that the ESC takes, where R is not known."""

COPPER_OF_LOSS, COPPER_OF_LOSS_HALF_WIDTH = 0.6, 0.3
"""Copper's share of a motor's loss where R is not known."""


@dataclass(frozen=True, slots=True)
class Losses:
    """Heat in copper, as it would be at the air's temperature, and elsewhere [W], shape (n,).

    ``copper_per_k``: its growth with the winding's rise. ``u_copper``, ``u_rest``: relative
    standard uncertainties. ``assumed``: in words, what nobody declared.
    """

    copper_w: Floats
    rest_w: Floats
    copper_per_k: float
    u_copper: float
    u_rest: float
    assumed: str


def motor_losses(
    work: Cleaning, power_w: Floats | None, moving: Bools, air_c: float
) -> Losses | Absent:
    """The losses of the motor, where the log tells them.

    :param power_w: electrical power, shape (n,). :param air_c: temperature of the air [°C].
    """
    facts = work.trace.facts
    torque, speed = work.get("torque_nm"), work.get("speed_rpm")
    shaft = None
    if torque is not None and speed is not None:
        shaft = filled_forward(torque) * filled_forward(speed) * math.pi / 30.0 * moving
    if facts.resistance_ohm is None:
        if shaft is None or power_w is None:
            return Absent(
                "loss_unknown", "needs torque and speed, or resistance and no-load current"
            )
        return _by_torque(power_w, shaft, moving)
    current = _motor_current(work, moving)
    if isinstance(current, Absent):
        return current
    amps, u_duty = current
    cold = 1.0 + COPPER_TEMPERATURE_COEFFICIENT_PER_K * (air_c - 20.0)
    squared = amps**2 * moving
    copper = COPPER_SHARE * facts.resistance_ohm * cold * squared
    esc = (1.0 - COPPER_SHARE) * facts.resistance_ohm * squared
    u_copper = math.hypot(
        RESISTANCE_HALF_WIDTH / math.sqrt(3.0),
        COPPER_SHARE_HALF_WIDTH / COPPER_SHARE / math.sqrt(3.0),
        2.0 * u_duty,
    )
    said = (
        f"resistance ±{100 * RESISTANCE_HALF_WIDTH:g} %, of which {100 * COPPER_SHARE:g} ± "
        f"{100 * COPPER_SHARE_HALF_WIDTH:g} % is the motor's copper"
    )
    if u_duty:
        said += f", duty ±{100 * LINEAR_HALF_WIDTH:g} %"
    rest, u_rest = _rest(work, power_w, shaft, amps, esc, copper, cold, moving)
    if isinstance(rest, Absent):
        return rest
    return Losses(copper, rest, COPPER_TEMPERATURE_COEFFICIENT_PER_K / cold, u_copper, u_rest, said)


def _motor_current(work: Cleaning, moving: Bools) -> tuple[Floats, float] | Absent:
    """Current in the motor [A], shape (n,), and the relative u of the duty it rests on."""
    current = work.get("current_a")
    if current is None:
        return Absent("loss_unknown", "current was not logged")
    amps = filled_forward(current)
    if work.trace.has("duty"):
        duty = filled_forward(work.trace.get("duty"))
        return amps / np.clip(duty, 0.02, 1.0), 0.0
    if not work.trace.has("throttle_pct"):
        return Absent("duty_unknown", "without throttle nobody knows the motor's own current")
    throttle = filled_forward(work.trace.get("throttle_pct"))
    if float(throttle[moving].min()) >= FULL_THROTTLE_PCT:
        return amps, 0.0
    if not work.trace.facts.esc_linear:
        return Absent(
            "duty_unknown",
            "below full throttle the motor carries more than the meter shows; log duty, or "
            "declare the ESC linear",
        )
    return amps / np.clip(throttle / 100.0, 0.02, 1.0), LINEAR_HALF_WIDTH / math.sqrt(3.0)


def _rest(
    work: Cleaning,
    power_w: Floats | None,
    shaft: Floats | None,
    amps: Floats,
    esc: Floats,
    copper: Floats,
    cold: float,
    moving: Bools,
) -> tuple[Floats | Absent, float]:
    """What is lost beside the copper: the rest of the balance, or no-load current × back EMF."""
    if shaft is not None and power_w is not None:
        warm = _warm_factor(work, cold)
        rest = np.maximum(power_w * moving - shaft - esc - copper * warm, 0.0)
        total = power_w * moving - shaft
        lost, in_copper = float(total[moving].mean()), float(copper[moving].mean())
        whole = max(float(rest[moving].mean()), 0.02 * lost)
        through = float(power_w[moving].mean())
        # The balance takes up what is not known of the copper, and both meters' gains.
        u = math.hypot(0.12 * in_copper, _gain(work) * through) / max(whole, 1e-9)
        return rest, min(u, 1.0)
    idle, volts = work.trace.facts.no_load_current_a, work.get("voltage_v")
    if idle is None or volts is None:
        return Absent("loss_unknown", "needs torque and speed, or a no-load current"), 0.0
    resistance = work.trace.facts.resistance_ohm or 0.0
    current = np.maximum(filled_forward(work.channels["current_a"]), 0.0)
    duty = np.clip(current / np.maximum(amps, 1e-9), 0.02, 1.0)
    emf = np.maximum(duty * filled_forward(volts) - amps * resistance, 0.0)
    return idle * emf * moving, NO_LOAD_HALF_WIDTH / math.sqrt(3.0)


def _warm_factor(work: Cleaning, cold: float) -> float:
    """How much warmer copper makes its loss on the mean of the load, by the case's temperature."""
    case, ambient = work.get("motor_temp_c"), work.get("ambient_temp_c")
    if case is None or ambient is None or not np.isfinite(case - ambient).any():
        return 1.0
    rise = float(np.nanmean(case - ambient))
    return 1.0 + COPPER_TEMPERATURE_COEFFICIENT_PER_K / cold * max(0.0, rise)


def _gain(work: Cleaning) -> float:
    """Relative u of electrical minus shaft power against electrical power: meters and cell."""
    stand = work.trace.stand
    names = ("voltage_v", "current_a", "torque_nm")
    return math.hypot(*(g for name in names for g in stand.gains(name, work.run).values()))


def _by_torque(power_w: Floats, shaft: Floats, moving: Bools) -> Losses:
    total = np.maximum(power_w - shaft, 0.0) * moving * (1.0 - ESC_SHARE)
    u_share = COPPER_OF_LOSS_HALF_WIDTH / math.sqrt(3.0)
    u_esc = ESC_SHARE_HALF_WIDTH / (1.0 - ESC_SHARE) / math.sqrt(3.0)
    # The balance holds the warm copper's loss already: it does not grow once more.
    return Losses(
        COPPER_OF_LOSS * total,
        (1.0 - COPPER_OF_LOSS) * total,
        0.0,
        math.hypot(u_share / COPPER_OF_LOSS, u_esc),
        math.hypot(u_share / (1.0 - COPPER_OF_LOSS), u_esc),
        f"the ESC takes {100 * ESC_SHARE:g} ± {100 * ESC_SHARE_HALF_WIDTH:g} % of the loss, copper "
        f"{100 * COPPER_OF_LOSS:g} ± {100 * COPPER_OF_LOSS_HALF_WIDTH:g} % of the motor's",
    )
