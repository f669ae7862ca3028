"""``identify`` and ``operate``: from runs to constants, and from constants to a point."""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import Any

from spindle_core.cli.files import load_log, logs_in, naming
from spindle_core.errors import QuantityError
from spindle_core.formats.plain import plain
from spindle_core.identification import Identification, MotorFit, PropellerFit, identify
from spindle_core.model.in_flight import in_flight
from spindle_core.model.operating_point import Motor, Propeller
from spindle_core.model.supply import BenchSupply, settled_on_supply


def add_commands(commands: Any) -> None:
    """The commands of this station."""
    find = commands.add_parser(
        "identify",
        help="motor and propeller constants from several logs",
        description="Fits kV, resistance and no-load current to full-throttle stretches (or to "
        "all with a logged duty or esc_linear: yes) of several runs, and CT and CP of each "
        "propeller. Give a no-load run and loads that differ; air and propeller size come from "
        "the logs' headers.",
    )
    find.add_argument("logs", metavar="LOG", type=Path, nargs="+", help="logs or folders of logs")
    find.set_defaults(run=_identify)
    operate = commands.add_parser(
        "operate",
        help="where a motor, a propeller and a supply settle",
        description="Solves the steady state of motor, propeller and supply.",
    )
    for flag, text in (
        ("--kv", "motor constant [rpm/V]"),
        ("--r", "effective resistance of winding, leads and ESC [ohm]"),
        ("--i0", "no-load current, at standstill when --i0-slope is given [A]"),
        ("--diameter-in", "propeller diameter [in]"),
        ("--ct", "static thrust coefficient"),
        ("--cp", "static power coefficient"),
        ("--voltage", "supply voltage, or the pack's open-circuit voltage [V]"),
    ):
        operate.add_argument(flag, type=float, required=True, help=text)
    operate.add_argument("--duty", type=float, default=1.0, help="0 to 1, default 1")
    operate.add_argument("--rho", type=float, default=1.225, help="air density [kg/m3]")
    operate.add_argument("--pack-resistance", type=float, default=0.0, help="[ohm], default 0")
    operate.add_argument("--i0-slope", type=float, default=0.0, help="of I0 over speed [A/rpm]")
    operate.add_argument("--supply-limit", type=float, help="current the supply gives [A]")
    operate.add_argument("--esc-limit", type=float, help="motor current the ESC allows [A]")
    operate.add_argument("--pitch-in", type=float, help="propeller pitch, for --flight-speed [in]")
    operate.add_argument(
        "--flight-speed", type=float, help="also estimate the point at this speed [m/s]"
    )
    operate.add_argument(
        "--flight-less-current",
        type=float,
        nargs=2,
        metavar=("LOW", "HIGH"),
        help="the bench's own rule beside it: so much less current in flight [%%]",
    )
    operate.set_defaults(run=_operate)


def _identify(options: argparse.Namespace) -> dict[str, Any]:
    paths = logs_in(options.logs)
    traces = []
    for path in paths:
        log = load_log(path)
        with naming(path):
            traces.append(log.trace())
    return identified(identify(traces))


def identified(found: Identification) -> dict[str, Any]:
    """An identification as JSON data; ``motor`` is the one with most evidence."""
    motors = sorted(found.motors, key=lambda fit: -fit.blocks)
    return {
        "motor": _motor(motors[0]) if motors else None,
        **({"motors": [_motor(fit) for fit in motors]} if len(motors) > 1 else {}),
        "propellers": [_propeller(fit) for fit in found.propellers],
        "warnings": plain(found.warnings),
    }


def _motor(fit: MotorFit) -> dict[str, Any]:
    return {
        "motor": fit.motor,
        "kv_rpm_per_v": plain(fit.kv_rpm_per_v),
        "resistance_ohm": plain(fit.resistance_ohm),
        "no_load_current_a": plain(fit.no_load.current_a),
        "no_load_speed_rpm": fit.no_load.speed_rpm,
        "no_load_offset_a": plain(fit.no_load.offset_a),
        "no_load_slope_a_per_rpm": plain(fit.no_load.slope_a_per_rpm),
        "kt_nm_per_a": plain(fit.kt_nm_per_a),
        "kv_resistance_covariance": fit.kv_resistance_covariance,
        "resistance_at_c": fit.resistance_at_c,
        "heat_ohm_per_a2s": plain(fit.heat_ohm_per_a2s),
        "chi2_per_freedom": fit.chi2_per_freedom,
        "start_case_c": plain(fit.start_case_c),
        "runs": fit.runs,
    }


def _propeller(fit: PropellerFit) -> dict[str, Any]:
    return {
        "propeller": fit.propeller,
        "diameter_in": fit.diameter_in,
        "ct": plain(fit.ct),
        "cp": plain(fit.cp),
        "at_rpm": fit.rpm_reference,
        "ct_exponent": plain(fit.ct_exponent),
        "cp_exponent": plain(fit.cp_exponent),
        "points": fit.points,
        "runs": fit.runs,
    }


def _operate(options: argparse.Namespace) -> dict[str, Any]:
    motor = Motor(options.kv, options.r, options.i0, options.i0_slope)
    propeller = Propeller(options.diameter_in, options.ct, options.cp)
    settled = settled_on_supply(
        motor,
        propeller,
        BenchSupply(options.voltage, options.supply_limit, resistance_ohm=options.pack_resistance),
        duty=options.duty,
        density_kg_per_m3=options.rho,
        esc_current_limit_a=options.esc_limit,
    )
    point = settled.point
    names = (
        "speed_rpm",
        "current_a",
        "motor_current_a",
        "voltage_v",
        "thrust_gf",
        "power_w",
        "shaft_power_w",
        "efficiency_g_per_w",
        "motor_efficiency_pct",
    )
    result: dict[str, Any] = {name: point.value(name) for name in names}
    if settled.limited_by:
        result["limited_by"] = settled.limited_by
    if options.flight_speed is not None:
        if options.pitch_in is None:
            raise QuantityError("A flight speed needs the propeller's --pitch-in.", code="no_pitch")
        flying = in_flight(
            motor,
            propeller,
            pitch_in=options.pitch_in,
            flight_speed_m_per_s=options.flight_speed,
            voltage_v=point.voltage_v,
            duty=options.duty,
            density_kg_per_m3=options.rho,
            less_current_pct=options.flight_less_current and tuple(options.flight_less_current),
        )
        result["in_flight"] = {**plain(flying), "origin": "estimated"}
    return result
