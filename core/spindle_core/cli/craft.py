"""``match``: which of the bench's motors suits a craft."""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import Any

from spindle_core.cli.files import logs_in, naming
from spindle_core.cli.report import read_motors, read_run
from spindle_core.formats.craft_json import read_craft
from spindle_core.formats.plain import plain
from spindle_core.match.candidates import candidates
from spindle_core.match.electrics import pack_need
from spindle_core.match.picks import match, pick


def add_commands(commands: Any) -> None:
    """The command of this station."""
    suit = commands.add_parser(
        "match",
        help="which motors of a folder of logs suit a craft",
        description="Puts every motor and propeller run at the craft's voltage on the craft: "
        "thrust-to-weight, hover, minutes, ESC and pack, and three picks with their trade. The "
        "craft is a JSON file (docs/formats.md); the motors' masses come from --motors.",
    )
    suit.add_argument("craft", metavar="CRAFT.json", type=Path)
    suit.add_argument("logs", metavar="LOG", type=Path, nargs="+", help="logs or folders of logs")
    suit.add_argument(
        "--motors",
        type=Path,
        metavar="CSV",
        required=True,
        help="a table with columns motor and mass_g",
    )
    suit.add_argument(
        "--thrift",
        type=float,
        default=0.5,
        help="0 counts hover power alone, 1 peak current alone, default 0.5",
    )
    suit.set_defaults(run=_match)


def _match(options: argparse.Namespace) -> dict[str, Any]:
    with naming(options.craft):
        wanted = read_craft(options.craft.read_bytes())
    runs = [read_run(path) for path in logs_in(options.logs)]
    found, left_out = candidates(runs, read_motors(options.motors), cells=wanted.craft.cells)
    matched = match(wanted.craft, found, capacity_mah=wanted.capacity_mah) if found else []
    rows = []
    for item in matched:
        row = plain(item)
        if wanted.rated_c is not None:
            need = pack_need(
                item.peak_current_a.scaled(float(wanted.craft.motors)),
                capacity_mah=wanted.capacity_mah,
                rated_c=wanted.rated_c,
            )
            row["pack"] = plain(need)
        rows.append(row)
    return {
        "candidates": rows,
        "picks": plain(pick(matched, thrift=options.thrift)),
        "left_out": left_out,
    }
