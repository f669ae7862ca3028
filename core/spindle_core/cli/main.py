"""The parser of ``spindle-core`` and what happens when something is wrong."""

from __future__ import annotations

import argparse
import json
import os
import sys
from collections.abc import Sequence
from typing import NoReturn

from spindle_core import __version__
from spindle_core.cli import bench, check, craft, foreign, logs, model, packs, report
from spindle_core.cli.files import FileError
from spindle_core.errors import CoreError

EPILOG = """\
a first half hour:
  spindle-core reduce run.csv                figures of one run, with their uncertainty
  spindle-core propose their-log.csv         what the columns of a stranger's log seem to be
  spindle-core import their-log.csv --out .  the same log as bench logs, one file per run
  spindle-core identify *.csv                kV, resistance, no-load current, CT and CP
  spindle-core report runs/                  everything a folder of logs says about its motors
  spindle-core match craft.json runs/ --motors motors.csv    which motors suit a craft

A log is CSV, JSON, Parquet or XLSX of the form bench-log/1; its file name's ending decides.
Every figure comes as {value, u, n}: u is the standard uncertainty (k = 1; a 95 % interval is
about 2·u wide to either side), n the number of runs. What was not measured is null or
{"absent": reason}, never 0. Exit status 2 and one line on standard error: what is wrong, where,
and what was expected.
"""


class _Parser(argparse.ArgumentParser):
    """Reports a bad argument in one line instead of a page."""

    def error(self, message: str) -> NoReturn:
        self.exit(2, f"{self.prog}: {' '.join(message.split())}; see '{self.prog} --help'\n")


def build_parser() -> argparse.ArgumentParser:
    """The commands and their arguments."""
    parser = _Parser(
        prog="spindle-core",
        description="Figures from bench logs of small brushless motors, without the web part.",
        epilog=EPILOG,
        formatter_class=argparse.RawDescriptionHelpFormatter,
    )
    parser.add_argument("--version", action="version", version=f"spindle-core {__version__}")
    commands = parser.add_subparsers(dest="command", required=True, metavar="COMMAND")
    for station in (logs, model, report, craft, foreign, packs, check, bench):
        station.add_commands(commands)
    return parser


def main(arguments: Sequence[str] | None = None) -> int:
    """Run the command line; returns the exit status."""
    options = build_parser().parse_args(arguments)
    try:
        result = options.run(options)
    except FileError as problem:
        return _refuse(str(problem))
    except CoreError as error:
        return _refuse(f"{options.command}: {error.message}")
    except OSError as error:
        return _refuse(f"{error.filename or options.command}: {error.strerror}")
    except Exception as error:
        # Nothing of a file ends in a traceback; what is not foreseen is named as such.
        if os.environ.get("SPINDLE_TRACEBACK"):
            raise
        return _refuse(
            f"{options.command}: stopped by something unforeseen ({type(error).__name__}: "
            f"{error}); please report it with the file. SPINDLE_TRACEBACK=1 shows where"
        )
    if result is not None:
        text = json.dumps(result, indent=2, allow_nan=False, ensure_ascii=False)
        try:
            sys.stdout.write(text + "\n")
            sys.stdout.flush()
        except BrokenPipeError:
            # The reader, such as head, has seen enough; what is left goes nowhere.
            os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
    return 0


def _refuse(line: str) -> int:
    sys.stderr.write("spindle-core: " + " ".join(line.split()) + "\n")
    return 2
