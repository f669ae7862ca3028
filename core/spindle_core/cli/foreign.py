"""``propose`` and ``import``: logs that other software wrote."""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import Any

from spindle_core.cli.files import naming, write
from spindle_core.errors import MappingError
from spindle_core.formats.foreign.dialect import read_sheet
from spindle_core.formats.foreign.mapping import LogMapping, mapping_from_json, mapping_to_json
from spindle_core.formats.foreign.proposal import previews, propose
from spindle_core.formats.foreign.reader import read_foreign
from spindle_core.formats.log_files import write_log
from spindle_core.formats.plain import plain
from spindle_core.reduction.kinds import RUN_KINDS


def add_commands(commands: Any) -> None:
    """The commands of this station."""
    look = commands.add_parser(
        "propose",
        help="what the columns of someone's log seem to hold",
        description="Prints a mapping of columns and units to channels, how sure each guess is, "
        "why, and the range it would give, so that a wrong one is seen. Save it with --save, edit "
        "it or correct it with --column, and use it with import --mapping.",
    )
    take = commands.add_parser(
        "import",
        help="someone's log as bench logs, one file per run",
        description="Applies a mapping (a saved one, or the proposal with your corrections) and "
        "writes a bench log per run in the file; runs are separated by idle time.",
    )
    for parser in (look, take):
        parser.add_argument("log", metavar="FILE", type=Path)
        parser.add_argument("--mapping", type=Path, metavar="JSON", help="a saved mapping")
        parser.add_argument(
            "--column",
            action="append",
            default=[],
            metavar="'NAME=CHANNEL[:UNIT]'",
            help="correct one column, for instance 'Load=thrust_gf:N'; 'NAME=' leaves it out",
        )
        parser.add_argument("--poles", type=int, help="the motor's poles, for electrical speed")
        parser.add_argument(
            "--set",
            action="append",
            default=[],
            metavar="KEY=VALUE",
            help="a header key of the bench log, for instance motor=Ostrel or kind=ramp",
        )
        parser.add_argument("--idle-s", type=float, help="idle time between two runs [s]")
        parser.add_argument("--save", type=Path, metavar="JSON", help="save the mapping as used")
    look.set_defaults(run=_propose)
    take.add_argument("--kind", choices=RUN_KINDS, help="kind of the runs, default steps")
    take.add_argument("--out", type=Path, default=Path(), metavar="FOLDER", help="default: here")
    take.add_argument(
        "--format", choices=("csv", "json", "parquet", "xlsx"), default="csv", help="default csv"
    )
    take.set_defaults(run=_import)


def _propose(options: argparse.Namespace) -> dict[str, Any]:
    with naming(options.log):
        data = options.log.read_bytes()
        mapping = _mapping(options, data)
        sheet = read_sheet(data, mapping.dialect)
        shown = {preview.column: preview for preview in previews(sheet, mapping)}
    _save(options, mapping)
    return {
        "columns": [
            {
                "column": name,
                **(
                    {
                        "channel": column.channel,
                        "unit": column.unit,
                        "certainty": round(column.certainty, 2),
                        "why": column.why,
                        "gives": [shown[name].low, shown[name].high],
                        "remark": shown[name].remark,
                        "or": [f"{channel}:{unit}" for channel, unit in column.alternatives],
                    }
                    if (column := mapping.columns.get(name)) is not None
                    else {"channel": None, "why": "carried through as text"}
                ),
            }
            for name in sheet.names
        ],
        "dialect": plain(mapping.dialect),
        "preamble": list(sheet.preamble),
        "rows": len(sheet.rows),
    }


def _import(options: argparse.Namespace) -> dict[str, Any]:
    with naming(options.log):
        data = options.log.read_bytes()
        mapping = _mapping(options, data)
        logs = read_foreign(data, mapping)
    _save(options, mapping)
    written = []
    for number, log in enumerate(logs, start=1):
        part = f"-{number}" if len(logs) > 1 else ""
        path = options.out / f"{options.log.stem}{part}.bench.{options.format}"
        with naming(path):
            content = write_log(path.name, log)
        write(path, content)
        written.append(
            {
                "file": str(path),
                "samples": int(log.time_s.size),
                "duration_s": float(log.time_s[-1]),
                "channels": list(log.channels),
            }
        )
    return {"runs": written}


def _mapping(options: argparse.Namespace, data: bytes) -> LogMapping:
    """The saved mapping or a proposal, with the corrections of the command line."""
    from dataclasses import replace

    if options.mapping:
        with naming(options.mapping):
            mapping = mapping_from_json(options.mapping.read_text(encoding="utf-8"))
        if options.poles:
            mapping = replace(mapping, pole_count=options.poles)
    else:
        mapping = propose(read_sheet(data), pole_count=options.poles)
    for text in options.column:
        name, channel, unit = _correction(text)
        if name not in (*mapping.columns, *read_sheet(data, mapping.dialect).names):
            raise MappingError(f"The file has no column {name!r}.", code="missing_column")
        mapping = mapping.with_column(name, channel, unit)
    header = {**mapping.header, **dict(_pair(text) for text in options.set)}
    if getattr(options, "kind", None):
        header["kind"] = options.kind
    mapping = replace(mapping, header=header)
    return replace(mapping, idle_s=options.idle_s) if options.idle_s else mapping


def _correction(text: str) -> tuple[str, str | None, str | None]:
    name, found, target = text.rpartition("=")
    if not found or not name:
        raise MappingError(f"{text!r}: expected NAME=CHANNEL or NAME=CHANNEL:UNIT.", code="column")
    channel, _, unit = target.partition(":")
    return name.strip(), channel.strip() or None, unit.strip() or None


def _pair(text: str) -> tuple[str, str]:
    key, found, value = text.partition("=")
    if not found or not key.strip():
        raise MappingError(f"{text!r}: expected KEY=VALUE.", code="header")
    return key.strip(), value.strip()


def _save(options: argparse.Namespace, mapping: LogMapping) -> None:
    if options.save:
        write(options.save, (mapping_to_json(mapping) + "\n").encode())
