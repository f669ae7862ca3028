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

    plan = commands.add_parser(
        "study",
        help="simulated campaigns: minutes by proposal against a fixed matrix",
        description="Walks simulated campaigns twice, by the proposed next run and row by row, and "
        "prints the bench time of each until every figure asked for is known within 2 %.",
    )
    plan.add_argument("--campaigns", type=int, default=50, help="default 50")
    plan.add_argument("--seed", type=int, default=7, help="default 7")
    plan.set_defaults(run=_study)


SIZES = ((2, 3), (3, 4), (4, 5), (6, 5), (4, 8))
"""Motors and propellers of the campaigns that are walked."""


def _study(options: argparse.Namespace) -> list[dict[str, Any]]:
    from spindle_core.planning.study import study

    found = []
    for motors, propellers in SIZES:
        made = study(options.campaigns, seed=options.seed, motors=motors, propellers=propellers)
        count = len(made.proposed)
        found.append(
            {
                "motors": motors,
                "propellers": propellers,
                "campaigns": count,
                "minutes_proposed": round(sum(w.minutes for w in made.proposed) / count, 1),
                "minutes_fixed": round(sum(w.minutes for w in made.fixed) / count, 1),
                "runs_proposed": round(sum(w.runs for w in made.proposed) / count, 1),
                "runs_fixed": round(sum(w.runs for w in made.fixed) / count, 1),
                "share": round(made.share, 3),
            }
        )
    return found


def _bench(options: argparse.Namespace) -> list[dict[str, Any]] | None:
    from spindle_core.cli.benchmarks import measure, table

    rows = measure(csv_rows=options.rows, repeat=options.repeat)
    if options.json:
        return [row.as_dict() for row in rows]
    sys.stdout.write(table(rows))
    return None
