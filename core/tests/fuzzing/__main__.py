"""``python -m tests.fuzzing --each 10000 [--first SEED] [--keep FOLDER]``, from ``core/``."""

from __future__ import annotations

import argparse
import resource
import sys
import time
import warnings
from pathlib import Path

from .corpus import SUFFIXES
from .running import WITHIN_S, run


def main() -> int:
    """Read files that went wrong, and say what became of them; 1 where one made a reader stumble
    or took too long."""
    parser = argparse.ArgumentParser(prog="spindle fuzz", description=__doc__)
    parser.add_argument("--each", type=int, default=10_000, help="files of each format")
    parser.add_argument("--first", type=int, default=0, help="the first seed")
    parser.add_argument("--format", choices=[one[1:] for one in SUFFIXES], action="append")
    parser.add_argument("--keep", type=Path, help="where files that made a reader stumble are put")
    asked = parser.parse_args()
    warnings.simplefilter("ignore")
    bad = 0
    for suffix in [f".{one}" for one in asked.format or ()] or SUFFIXES:
        began = time.perf_counter()
        told = run(suffix, asked.each, asked.first, keep=asked.keep)
        print(
            f"{suffix[1:]:8} {asked.each:6} files in {time.perf_counter() - began:5.0f} s: "
            f"{told.read} read, {sum(told.refused.values())} refused for {len(told.refused)} "
            f"reasons, {len(told.stumbled)} stumbled; slowest {told.slowest_s:.2f} s, "
            f"{resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024:.0f} MB so far",
            flush=True,
        )
        for seed, place, what in told.stumbled[:20]:
            print(f"  seed {seed}: {place}: {what}")
        bad += len(told.stumbled) + (told.slowest_s > WITHIN_S)
    return 1 if bad else 0


sys.exit(main())
