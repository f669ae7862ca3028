"""``bench``: how fast the core is, held against what the same machine does anyway."""

from __future__ import annotations

import argparse
import sys
from typing import Any


def add_commands(commands: Any) -> None:
    """The commands of this station."""
    bench = commands.add_parser(
        "bench",
        help="speed of reduction, import, identification and ranking",
        description="Measures the budgets side by side in one process: reduction of a 60 s, 1 kHz, "
        "8-channel ramp against one NumPy pass over its columns, reading a CSV log against "
        "pyarrow.csv, identification from 30 runs and rank probabilities in seconds.",
    )
    bench.add_argument("--rows", type=int, default=1_000_000, help="of the CSV, default 1000000")
    bench.add_argument("--repeat", type=int, default=7, help="best and median of, default 7")
    bench.add_argument("--json", action="store_true", help="JSON instead of a table")
    bench.set_defaults(run=_bench)


def _bench(options: argparse.Namespace) -> list[dict[str, Any]] | None:
    from spindle_core.cli.benchmarks import measure, table

    rows = measure(csv_rows=options.rows, repeat=options.repeat)
    if options.json:
        return [row.as_dict() for row in rows]
    sys.stdout.write(table(rows))
    return None
