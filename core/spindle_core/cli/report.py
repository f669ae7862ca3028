"""``report``: a whole folder of logs."""

from __future__ import annotations

import argparse
import csv
import io
import math
from dataclasses import replace
from pathlib import Path
from typing import Any

from spindle_core.cli.files import FileError, load_log, logs_in, naming, write
from spindle_core.cli.model import identified
from spindle_core.compare.equal_conditions import compare_motors
from spindle_core.compare.measured_run import MeasuredRun
from spindle_core.compare.table import READ_AT
from spindle_core.errors import LogFormatError, QuantityError
from spindle_core.figures.measured import Absent
from spindle_core.formats.plain import plain
from spindle_core.publish.report import report
from spindle_core.rank.ranking import MotorFacts
from spindle_core.rank.scoring import PRESETS, Criterion


def add_commands(commands: Any) -> None:
    """The commands of this station."""
    tell = commands.add_parser(
        "report",
        help="repeats, identification, comparison and ranking of a folder of logs",
        description="Reduces every log, says how well repeats agree, identifies motors and "
        "propellers, compares the motors that ran one propeller at one voltage, groups those that "
        "perform the same, scores them and says how sure the places are. Motors are told apart "
        "by the logs' header keys motor and sample.",
    )
    tell.add_argument("logs", metavar="LOG", type=Path, nargs="+", help="logs or folders of logs")
    tell.add_argument(
        "--motors",
        type=Path,
        metavar="CSV",
        help=("what logs do not say: columns motor, mass_g, price, price_note, rated_kv_rpm_per_v"),
    )
    tell.add_argument("--baseline", metavar="MOTOR", help="held against; default: first by name")
    tell.add_argument(
        "--at",
        choices=tuple(READ_AT),
        default="thrust_gf",
        help="compare at equal …, default thrust_gf",
    )
    tell.add_argument("--levels", metavar="A,B,…", help="where to compare, in that unit")
    tell.add_argument(
        "--margin-pct",
        type=float,
        default=2.0,
        help="differences within this count as equivalent, default 2",
    )
    tell.add_argument(
        "--preset",
        choices=tuple(PRESETS),
        default="equal",
        help="weights of the ranking, default equal",
    )
    tell.add_argument(
        "--weight",
        action="append",
        default=[],
        metavar="FIGURE=WEIGHT",
        help="own weights instead, such as max_thrust_gf=2; lower:mass_g=1 where less is better",
    )
    tell.add_argument("--seed", type=int, default=1, help="of the drawn places, default 1")
    tell.add_argument(
        "--skip-bad",
        action="store_true",
        help="leave out logs that cannot be read or reduced, and list them",
    )
    tell.add_argument("--xlsx", type=Path, metavar="FILE", help="also write a workbook")
    tell.set_defaults(run=_report)


def _report(options: argparse.Namespace) -> dict[str, Any]:
    runs, refused = [], []
    for path in logs_in(options.logs):
        try:
            runs.append(read_run(path))
        except FileError as problem:
            if not options.skip_bad:
                raise
            refused.append(str(problem))
    if not runs:
        raise QuantityError("No log could be used.", code="no_runs")
    found = report(
        runs,
        read_motors(options.motors),
        criteria=_criteria(options),
        baseline=options.baseline,
        margin=options.margin_pct / 100.0,
        seed=options.seed,
    )
    if options.at != "thrust_gf" or options.levels:
        compared = compare_motors(
            runs,
            condition=options.at,
            levels=_levels(options.levels),
            baseline=options.baseline,
            margin=options.margin_pct / 100.0,
        )
        found = replace(found, compared=tuple(compared))
    from spindle_core.formats.report_json import report_to_json, report_to_xlsx

    if options.xlsx:
        write(options.xlsx, report_to_xlsx(found))
    data = report_to_json(found)
    known = found.identified
    data["identified"] = plain(known) if isinstance(known, Absent) else identified(known)
    return {**data, "refused": refused}


def read_run(path: Path) -> MeasuredRun:
    """A log, reduced."""
    log = load_log(path)
    with naming(path):
        trace = log.trace()
        return MeasuredRun.reduced(path.name, trace)


def _levels(text: str | None) -> list[float] | None:
    if not text:
        return None
    try:
        return [float(part) for part in text.split(",")]
    except ValueError as error:
        raise QuantityError(
            f"{text!r} is no list of levels; expected numbers as 200,400,600.", code="levels"
        ) from error


def _criteria(options: argparse.Namespace) -> tuple[Criterion, ...]:
    if not options.weight:
        return PRESETS[options.preset]
    found = []
    for text in options.weight:
        name, _, weight = text.partition("=")
        try:
            lower = name.startswith("lower:")
            found.append(Criterion(name.removeprefix("lower:"), float(weight), lower))
        except ValueError as error:
            raise QuantityError(
                f"{text!r}: expected FIGURE=WEIGHT, such as max_thrust_gf=2.", code="weight"
            ) from error
    return tuple(found)


_FACTS = ("mass_g", "price", "rated_kv_rpm_per_v")


def read_motors(path: Path | None) -> dict[str, MotorFacts]:
    """Masses, prices and labels by motor from a CSV table.

    :raises FileError: a table that cannot be read: line, column and expectation.
    """
    if path is None:
        return {}
    found: dict[str, MotorFacts] = {}
    with naming(path):
        try:
            text = path.read_bytes().decode("utf-8-sig")
        except UnicodeDecodeError as error:
            raise LogFormatError("not UTF-8", code="encoding", expected="a CSV table") from error
        rows = csv.DictReader(io.StringIO(text))
        if "motor" not in (rows.fieldnames or ()):
            raise LogFormatError(
                "no column motor",
                code="no_motor",
                line=1,
                column="motor",
                expected="a header row with motor, and mass_g, price or rated_kv_rpm_per_v",
            )
        for row in rows:
            numbers: dict[str, float] = {}
            for key in _FACTS:
                if not (cell := (row.get(key) or "").strip()):
                    continue
                try:
                    numbers[key] = float(cell)
                except ValueError:
                    numbers[key] = math.nan
                if not (math.isfinite(numbers[key]) and numbers[key] > 0):
                    raise LogFormatError(
                        f"{cell!r} is no number above 0",
                        code="not_a_number",
                        line=rows.line_num,
                        column=key,
                        expected="a number, or an empty cell",
                    )
            found[str(row["motor"]).strip()] = MotorFacts(
                numbers.get("mass_g"),
                numbers.get("price"),
                row.get("price_note") or "",
                numbers.get("rated_kv_rpm_per_v"),
            )
    return found
