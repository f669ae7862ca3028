"""``pack``: what is in another bench's data pack, and whether its figures follow from its logs."""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import Any

from spindle_core.cli.files import naming
from spindle_core.formats.pack.quoting import quoted_runs
from spindle_core.formats.pack.reading import read_pack
from spindle_core.formats.result_json import reduction_to_json


def add_commands(commands: Any) -> None:
    """The command of this station."""
    pack = commands.add_parser(
        "pack",
        help="check a data pack and reduce its runs",
        description="Checks every checksum of a data pack and its index, reduces "
        "each log, and says where the bench that made it states another figure.",
    )
    pack.add_argument("pack", metavar="PACK", type=Path)
    pack.set_defaults(run=_pack)


def _pack(options: argparse.Namespace) -> dict[str, Any]:
    with naming(options.pack):
        pack = read_pack(options.pack.read_bytes())
        index = pack.index
        runs = [
            {
                "number": run.listed["number"],
                "kind": run.listed["kind"],
                "review": run.listed["review"],
                "error": run.error,
                "remarks": list(run.remarks),
                "summary": {}
                if run.reduction is None
                else reduction_to_json(run.reduction)["summary"],
            }
            for run in quoted_runs(pack, index["bench"]["name"])
        ]
    return {
        "bench": index["bench"],
        "publication": index["publication"],
        "licence": index["licence"],
        "grade": index["grade"],
        "files": len(index["files"]),
        "runs": runs,
    }
