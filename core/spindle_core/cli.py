"""The command line of the core: ``spindle-core``.

Exit status 0 with JSON on standard output, or 2 with one line on standard error.
"""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Sequence
from pathlib import Path
from typing import NoReturn

from spindle_core import __version__
from spindle_core.errors import CoreError, LogFormatError
from spindle_core.formats.bench_log import read_bench_log
from spindle_core.formats.result_json import reduction_to_json
from spindle_core.operating_point import Motor, Propeller, solve
from spindle_core.reduction import reduce_trace


class _Parser(argparse.ArgumentParser):
    """Reports a bad argument in one line instead of a page."""

    def error(self, message: str) -> NoReturn:
        self.exit(2, f"{self.prog}: {message}; see '{self.prog} --help'\n")


def build_parser() -> argparse.ArgumentParser:
    """The commands and their arguments."""
    parser = _Parser(
        prog="spindle-core",
        description="Figures from bench logs of small brushless motors, without the web part.",
        epilog="Start with: spindle-core reduce LOG.csv",
    )
    parser.add_argument("--version", action="version", version=f"spindle-core {__version__}")
    commands = parser.add_subparsers(dest="command", required=True, metavar="COMMAND")
    reduce = commands.add_parser(
        "reduce", help="figures of one bench log as JSON",
        description="Reads a bench log (docs/formats.md) and prints its points and summary.",
    )  # fmt: skip
    reduce.add_argument("log", metavar="LOG.csv", type=Path)
    operate = commands.add_parser(
        "operate", help="where a motor, a propeller and a supply settle",
        description="Solves the steady state of motor, propeller and supply.",
    )  # fmt: skip
    for flag, text in (
        ("--kv", "motor constant [rpm/V]"),
        ("--r", "effective resistance [ohm]"),
        ("--i0", "no-load current [A]"),
        ("--diameter-in", "propeller diameter [in]"),
        ("--ct", "static thrust coefficient"),
        ("--cp", "static power coefficient"),
        ("--voltage", "supply voltage, or the pack's open-circuit voltage [V]"),
    ):
        operate.add_argument(flag, type=float, required=True, help=text)
    operate.add_argument("--duty", type=float, default=1.0, help="0 to 1, default 1")
    operate.add_argument("--rho", type=float, default=1.225, help="air density [kg/m3]")
    operate.add_argument("--pack-resistance", type=float, default=0.0, help="[ohm], default 0")
    return parser


def main(arguments: Sequence[str] | None = None) -> int:
    """Run the command line; returns the exit status."""
    options = build_parser().parse_args(arguments)
    try:
        result = _reduce(options.log) if options.command == "reduce" else _operate(options)
    except LogFormatError as error:
        return _refuse(error.describe(str(options.log)))
    except CoreError as error:
        where = f"{options.log}: " if options.command == "reduce" else ""
        return _refuse(f"{where}{error.message}")
    except OSError as error:
        return _refuse(f"{options.log}: {error.strerror}; expected a bench log that can be read")
    json.dump(result, sys.stdout, indent=2, allow_nan=False)
    sys.stdout.write("\n")
    return 0


def _refuse(line: str) -> int:
    sys.stderr.write("spindle-core: " + " ".join(line.split()) + "\n")
    return 2


def _reduce(path: Path) -> dict[str, object]:
    return reduction_to_json(reduce_trace(read_bench_log(path.read_bytes()).trace()))


def _operate(options: argparse.Namespace) -> dict[str, object]:
    point = solve(
        Motor(options.kv, options.r, options.i0),
        Propeller(options.diameter_in, options.ct, options.cp),
        voltage_v=options.voltage,
        duty=options.duty,
        density_kg_per_m3=options.rho,
        pack_resistance_ohm=options.pack_resistance,
    )
    return {
        "speed_rpm": point.speed_rpm,
        "current_a": point.current_a,
        "motor_current_a": point.motor_current_a,
        "voltage_v": point.voltage_v,
        "thrust_gf": point.thrust_gf,
        "power_w": point.power_w,
        "shaft_power_w": point.shaft_power_w,
        "efficiency_g_per_w": point.efficiency_g_per_w,
    }


if __name__ == "__main__":
    raise SystemExit(main())
