"""``reduce`` and ``convert``: one log at a time."""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import Any

from spindle_core.cli.files import load_log, naming, write
from spindle_core.formats.log_files import write_log
from spindle_core.formats.result_json import reduction_to_json
from spindle_core.reduction import reduce_trace
from spindle_core.reduction.kinds import RUN_KINDS


def add_commands(commands: Any) -> None:
    """The commands of this station."""
    reduce = commands.add_parser(
        "reduce",
        help="figures of one bench log as JSON",
        description="Reads a bench log (docs/formats.md), reduces it by its kind and prints its "
        "points and summary. docs/computation.md says what each figure means.",
    )
    reduce.add_argument("log", metavar="LOG", type=Path)
    reduce.add_argument("--kind", choices=RUN_KINDS, help="reduce as this kind, not as the log's")
    reduce.add_argument("--xlsx", metavar="FILE", type=Path, help="also write a workbook")
    reduce.set_defaults(run=_reduce)
    convert = commands.add_parser(
        "convert",
        help="a log in another format",
        description="Writes a bench log as CSV, JSON, Parquet or XLSX, by the ending of OUT. "
        "Nothing is lost on the way, and back again.",
    )
    convert.add_argument("log", metavar="LOG", type=Path)
    convert.add_argument("out", metavar="OUT", type=Path)
    convert.set_defaults(run=_convert)


def _reduce(options: argparse.Namespace) -> dict[str, Any]:
    from dataclasses import replace

    log = load_log(options.log)
    with naming(options.log):
        trace = log.trace()
        if options.kind:
            trace = replace(trace, kind=options.kind)
        reduction = reduce_trace(trace)
    if options.xlsx:
        from spindle_core.formats.workbook import write_reduction_xlsx

        facts = {"log": options.log.name, "kind": reduction.kind, **log.header}
        write(options.xlsx, write_reduction_xlsx(reduction, facts))
    return reduction_to_json(reduction)


def _convert(options: argparse.Namespace) -> dict[str, Any]:
    log = load_log(options.log)
    with naming(options.out):
        data = write_log(options.out.name, log)
    write(options.out, data)
    return {"written": str(options.out), "samples": int(log.time_s.size)}
