"""The kinds of run, each told once: its words, what it asks for, and what is made of it.

Server, bench form, lists and documentation derive from this registry; a kind that is not here is
not known anywhere.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Final

from spindle_core.reduction import (
    direction,
    flywheel,
    hold,
    no_load,
    peak,
    ramp,
    readings,
    response,
    soak,
    steps,
)
from spindle_core.reduction.result import Reduction
from spindle_core.run.trace import Trace


@dataclass(frozen=True, slots=True)
class Parameter:
    """A number that a run of this kind is asked for, with its unit and what is possible.

    ``many``: a list of such numbers. ``default``: None where somebody has to say it, or where
    ``optional`` says that nobody need.
    """

    name: str
    label: str
    unit: str
    low: float
    high: float
    default: float | tuple[float, ...] | None
    many: bool = False
    optional: bool = False


@dataclass(frozen=True, slots=True)
class RunKind:
    """One kind of run.

    ``commands``: what the throttle does, in words. ``headline``: the summary figures that tell
    one run of this kind from another, the first of them first. ``first_look``: the two channels
    to draw first. ``loads_propeller``: its points tell a propeller's coefficients.
    """

    key: str
    label: str
    commands: str
    headline: tuple[str, ...]
    reduce: Callable[[Trace], Reduction]
    parameters: tuple[Parameter, ...] = ()
    needs_propeller: bool = True
    loads_propeller: bool = True
    first_look: tuple[str, str] = ("thrust_gf", "current_a")


REST = Parameter("rest_s", "Rest at 0 before and after", "s", 2.0, 30.0, 3.0)
RAMP = Parameter("ramp_pct_per_s", "Ramp between", "%/s", 5.0, 400.0, 40.0)
OVER_THROTTLE = ("max_thrust_gf", "max_current_a", "best_efficiency_g_per_w")

_KINDS: Final = (
    RunKind(
        "steps",
        "Steps",
        "plateaus of throttle, each held until it has settled",
        OVER_THROTTLE,
        steps.reduce,
        (
            Parameter(
                "levels_pct",
                "Plateaus",
                "% throttle",
                0.1,
                100.0,
                (20.0, 40.0, 60.0, 80.0, 100.0),
                many=True,
            ),
            Parameter("dwell_s", "Dwell on each", "s", 1.5, 60.0, 3.0),
            RAMP,
            REST,
        ),
    ),
    RunKind(
        "ramp",
        "Ramp",
        "one slow sweep of the throttle, up or up and down",
        OVER_THROTTLE,
        ramp.reduce,
        (
            Parameter("from_pct", "From", "% throttle", 0.0, 99.0, 0.0),
            Parameter("to_pct", "To", "% throttle", 1.0, 100.0, 100.0),
            Parameter("sweep_pct_per_s", "Sweep", "%/s", 0.5, 50.0, 4.0),
            Parameter("top_s", "Rest at the top", "s", 0.0, 10.0, 1.0),
            REST,
        ),
    ),
    RunKind(
        "peak",
        "Peak",
        "short bursts to full throttle, with a rest between",
        ("burst_thrust_gf", "burst_current_a", "sustained_thrust_gf"),
        peak.reduce,
        (
            Parameter("half_bursts", "Bursts at half throttle before", "", 0.0, 10.0, 0.0),
            Parameter("bursts", "Bursts", "", 1.0, 10.0, 3.0),
            Parameter("burst_s", "Each lasts", "s", 0.5, 10.0, 2.0),
            Parameter("pause_s", "Pause between", "s", 2.0, 120.0, 10.0),
            REST,
        ),
    ),
    RunKind(
        "hold",
        "Hold",
        "the throttle is trimmed until the wanted thrust is there, and held",
        ("targets_reached", "targets", "tare_drift_gf"),
        hold.reduce,
        (
            Parameter("targets_gf", "Wanted thrusts", "gf", 1.0, 50_000.0, None, many=True),
            Parameter("dwell_s", "Hold each", "s", 1.5, 120.0, 5.0),
            REST,
        ),
    ),
    RunKind(
        "no_load",
        "No load",
        "full throttle without a propeller",
        ("kv_raw_rpm_per_v", "kv_rpm_per_v", "no_load_current_a"),
        no_load.reduce,
        (Parameter("burst_s", "Full throttle for", "s", 1.0, 20.0, 4.0), REST),
        needs_propeller=False,
        loads_propeller=False,
        first_look=("speed_rpm", "current_a"),
    ),
    RunKind(
        "flywheel",
        "Flywheel",
        "a wheel of known inertia is spun up at a set duty",
        ("peak_torque_nm", "speed_at_peak_torque_rpm", "spin_up_time_s"),
        flywheel.reduce,
        (
            Parameter("inertia_kg_mm2", "Inertia of wheel and rotor", "kg·mm²", 0.1, 1e5, None),
            Parameter("rated_speed_rpm", "Wheel rated for", "rpm", 500.0, 250_000.0, None),
            Parameter("duty_pct", "Duty", "% throttle", 5.0, 100.0, 100.0),
            Parameter("spin_ups", "Spin-ups", "", 1.0, 10.0, 3.0),
            Parameter(
                "spin_up_from_rpm",
                "Spin-up time from",
                "rpm",
                100.0,
                200_000.0,
                flywheel.WINDOW_RPM[0],
            ),
            Parameter(
                "spin_up_to_rpm", "Spin-up time to", "rpm", 200.0, 250_000.0, flywheel.WINDOW_RPM[1]
            ),
            REST,
        ),
        needs_propeller=False,
        loads_propeller=False,
        first_look=("speed_rpm", "current_a"),
    ),
    RunKind(
        "response",
        "Response",
        "the throttle jumps between two levels, several times",
        ("accel_rpm_per_s", "rise_time_s", "dead_time_s"),
        response.reduce,
        (
            Parameter("low_pct", "Low level", "% throttle", 5.0, 95.0, 15.0),
            Parameter("high_pct", "High level", "% throttle", 6.0, 100.0, 55.0),
            Parameter("cycles", "Cycles", "", 1.0, 40.0, 8.0),
            Parameter("dwell_s", "Dwell on each", "s", 0.3, 10.0, 1.0),
            REST,
        ),
        loads_propeller=False,
        first_look=("speed_rpm", "throttle_pct"),
    ),
    RunKind(
        "soak",
        "Soak",
        "a constant load, then a stop and a watch while the motor cools",
        ("rise_k", "peak_after_stop_c", "case_time_constant_s"),
        soak.reduce,
        (
            Parameter("level_pct", "Throttle", "% throttle", 5.0, 100.0, None),
            Parameter("load_s", "Under load for", "s", 20.0, 3_600.0, 180.0),
            Parameter(
                "until_c", "Or until the case reaches", "°C", 25.0, 120.0, None, optional=True
            ),
            Parameter("watch_s", "Watch for", "s", 20.0, 3_600.0, 240.0),
            REST,
        ),
        loads_propeller=False,
        first_look=("motor_temp_c", "current_a"),
    ),
    RunKind(
        "direction",
        "Direction check",
        "a few seconds at low throttle after a swap: which way does it pull?",
        ("thrust_gf", "speed_rpm", "current_a"),
        direction.reduce,
        (
            Parameter("level_pct", "Level", "% throttle", 4.0, 20.0, 10.0),
            Parameter("turn_s", "Turn for", "s", 1.5, 6.0, 2.0),
            REST,
        ),
        loads_propeller=False,
        first_look=("thrust_gf", "speed_rpm"),
    ),
    RunKind(
        "readings",
        "Readings",
        "numbers read off a scale and meters, without a trace",
        OVER_THROTTLE,
        readings.reduce,
    ),
)

KINDS: Final[dict[str, RunKind]] = {kind.key: kind for kind in _KINDS}
RUN_KINDS: Final = tuple(KINDS)
WITHOUT_PROPELLER: Final = tuple(k.key for k in _KINDS if not k.needs_propeller)
