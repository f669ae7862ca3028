"""The table of failures: ``python -m spindle_bench.matrix.table``.

Plays every cell in virtual time and prints what happened beside what was expected; with ``--hours``
it also looks for false trips: so many simulated hours of ordinary runs must end without one.
"""

from __future__ import annotations

import argparse
import sys
import tempfile
from collections.abc import Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import numpy as np

from spindle_bench.matrix.cells import Outcome, a_plan, play
from spindle_bench.matrix.expected import EXPECTED, STATES
from spindle_bench.rehearsal import VirtualBench
from spindle_bench.stand.device import SimulatedStand
from spindle_bench.states import State


def play_in_folder(cell: tuple[str, str]) -> Outcome:
    """One cell in a folder of its own that is removed afterwards."""
    with tempfile.TemporaryDirectory(prefix="spindle-matrix-") as folder:
        return play(*cell, Path(folder))


def play_all(workers: int) -> list[Outcome]:
    """Every cell, row by row."""
    cells = [(failure, state) for failure in EXPECTED for state in STATES]
    with ProcessPoolExecutor(workers) as pool:
        return list(pool.map(play_in_folder, cells, chunksize=4))


def markdown(outcomes: Sequence[Outcome]) -> str:
    """The table: a failure a row, a state a column; what happened, with its times."""
    lines = [f"| failure | {' | '.join(STATES)} |", "|---|" + "---|" * len(STATES)]
    found = {(outcome.failure, outcome.state): outcome for outcome in outcomes}
    for failure in EXPECTED:
        cells = (_cell(found[failure, state]) for state in STATES)
        lines.append(f"| {failure} | {' | '.join(cells)} |")
    return "\n".join(lines)


def _cell(outcome: Outcome) -> str:
    parts = [outcome.expected.split()[0] if not outcome.wrong else "**WRONG**"]
    if outcome.zero_s is not None:
        parts.append(f"zero {1000 * outcome.zero_s:.0f} ms")
    if outcome.stop_s is not None:
        parts.append(f"STOP {1000 * outcome.stop_s:.0f} ms")
    parts += [f"`{code}`" for code in outcome.ends]
    return ", ".join([*parts, *outcome.wrong])


def stalls_s(rng: np.random.Generator) -> Iterator[float]:
    """Times between two looks of an agent [s]: mostly a fiftieth of a second, seldom a fifth."""
    while True:
        yield from rng.choice((0.02, 0.05, 0.1, 0.2), p=(0.9, 0.07, 0.02, 0.01), size=1000).tolist()


def false_trips(hours: float, seed: int = 1) -> tuple[int, list[str]]:
    """Ordinary runs back to back, on an agent that stalls as a busy machine lets it.

    Returns the number of runs and the ends of those that did not run to their end.
    """
    stalls = stalls_s(np.random.default_rng(seed))
    bench, tripped, runs = VirtualBench(SimulatedStand(seed=seed)), [], 0
    bench.run_for(0.5)
    while bench.now < 3600.0 * hours:
        runs += 1
        bench.arm(a_plan(f"run-{runs}", dwell_s=15.0))
        bench.start()
        while bench.engine.state not in (State.SAFE, State.ZEROED, State.FAULTED):
            stall_s = next(stalls)
            bench.run_for(stall_s, step_s=0.02, agent_step_s=stall_s)
        end = bench.recorder.ends[-1]
        if end.code != "completed":
            tripped.append(f"run {runs}: {end.reason}")
        bench.recorder.times_s.clear()
        bench.recorder.rows.clear()
        # Somebody waits until the motor is cool, as a bench of ordinary runs does.
        bench.stand.physics.warm_to(21.0)
    return runs, tripped


def main(arguments: Sequence[str] | None = None) -> int:
    """Play the table; the exit status says whether every cell is as expected."""
    parser = argparse.ArgumentParser(prog="spindle-matrix", description=__doc__)
    parser.add_argument("--hours", type=float, default=0.0, help="also look for false trips")
    parser.add_argument("--workers", type=int, default=2)
    options = parser.parse_args(arguments)
    outcomes = play_all(options.workers)
    sys.stdout.write(markdown(outcomes) + "\n\n")
    wrong = [outcome for outcome in outcomes if outcome.wrong]
    sys.stdout.write(f"{len(outcomes) - len(wrong)} of {len(outcomes)} cells as expected.\n")
    tripped: list[str] = []
    if options.hours:
        runs, tripped = false_trips(options.hours)
        sys.stdout.write(
            f"{options.hours:g} simulated hours, {runs} runs: {len(tripped)} false trips.\n"
        )
        for line in tripped:
            sys.stdout.write(f"- {line}\n")
    return 1 if wrong or tripped else 0


if __name__ == "__main__":
    raise SystemExit(main())
