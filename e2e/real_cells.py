"""The matrix of failures with real processes: ``./spindle matrix``.

The same cells, held against the same expectations as in virtual time, for what processes and links
do. A canary measures the machine's own stalls; a cell in which it stood still is *not judged*.
"""

from __future__ import annotations

import contextlib
import sys
import time
from collections.abc import Sequence
from dataclasses import dataclass, field
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from e2e.application import running_demo, wait_for
from e2e.canary import Canary
from e2e.real_bench import RealBench
from spindle_bench.matrix.expected import EXPECTED, MOST_DATA_LOST_S, STATES, STOP_ANSWERS_S

PROCESSES = ("web", "agent", "stand", "door", "database")
FAILURES = (
    *(
        f"{name} {how}"
        for name in PROCESSES
        for how in ("killed", "frozen 1 s", "frozen 5 s", "frozen 30 s")
    ),
    "last page closed",
)
MOST_NOT_JUDGED = 0.05


@dataclass
class RealOutcome:
    """What happened in one cell."""

    failure: str
    state: str
    zero_s: float | None = None
    stop_s: float | None = None
    end: str = ""
    wrong: list[str] = field(default_factory=list)
    stall_s: float = 0.0
    judged: bool = True

    def check(self, holds: bool, text: str) -> None:
        """Note what is not as expected."""
        if not holds:
            self.wrong.append(text)

    def text(self) -> str:
        """For the table."""
        if not self.judged:
            return f"not judged: the machine stood still {1000 * self.stall_s:.0f} ms"
        parts = [
            "**WRONG**"
            if self.wrong
            else EXPECTED[self.failure][STATES.index(self.state)].split()[0]
        ]
        if self.zero_s is not None:
            parts.append(f"zero {1000 * self.zero_s:.0f} ms")
        if self.stop_s is not None:
            parts.append(f"STOP {1000 * self.stop_s:.0f} ms")
        return ", ".join([*parts, *([f"`{self.end}`"] if self.end else []), *self.wrong])


def play(bench: RealBench, failure: str, state: str) -> RealOutcome:
    """One cell from rest to rest."""
    outcome = RealOutcome(failure, state)
    bench.at_rest()
    with Canary() as canary:
        try:
            _strike_and_hold(bench, outcome)
        except (AssertionError, KeyError, OSError, ValueError) as error:
            said = bench.frame().get("message", "nothing")
            outcome.wrong.append(f"{error!r} (the bench says: {said})")
    outcome.stall_s, outcome.judged = canary.worst_s, not (canary.disturbed and outcome.wrong)
    if failure == "last page closed":
        bench.open_page()
    return outcome


def _strike_and_hold(bench: RealBench, outcome: RealOutcome) -> None:
    run_id = _bring_about(bench, outcome.state)
    if outcome.state == "aborting":
        bench.press_stop(seconds=0.0)
    struck_s, stand_pid = bench.stand()["t_s"], bench.pid("stand")
    frozen_s = _strike(bench, outcome.failure)
    _hold(bench, outcome, run_id, struck_s, stand_pid, frozen_s)


def _bring_about(bench: RealBench, state: str) -> str:
    if state == "idle":
        return ""
    armed = bench.arm()
    assert armed.get("state") == "armed", armed
    run_id: str = armed["run_id"]
    if state != "armed":
        started = bench.start(run_id)
        assert started.get("state") == "running", started
        wait_for(lambda: bench.stand()["throttle_pct"] >= 100, 10, "full throttle")
        time.sleep(1.0)
    return run_id


def _strike(bench: RealBench, failure: str) -> float:
    words = failure.split()
    if failure == "last page closed":
        bench.close_page()
    elif words[1] == "killed":
        bench.kill(words[0])
    else:
        bench.freeze(words[0], float(words[2]))
        return float(words[2])
    return 0.0


def _hold(
    bench: RealBench,
    outcome: RealOutcome,
    run_id: str,
    struck_s: float,
    stand_pid: int,
    frozen_s: float,
) -> None:
    words = EXPECTED[outcome.failure][STATES.index(outcome.state)].split()
    if words[0] in ("stays", "goes"):
        time.sleep(3.0 if outcome.failure != "door frozen 1 s" else 2.5)
        stand = bench.stand()
        outcome.check(stand["armed"], "the stand is not armed")
        if words[0] == "goes":
            outcome.check(stand["throttle_pct"] > 0, "the throttle is zero")
        outcome.stop_s = bench.press_stop()
        outcome.check(outcome.stop_s is not None, "STOP was not answered")
        if outcome.stop_s is not None:
            outcome.check(outcome.stop_s <= STOP_ANSWERS_S, "STOP was late")
        codes = ["stopped"]
    else:
        _zero(bench, outcome, words, struck_s, stand_pid, frozen_s)
        codes = ["stopped", *words[2:]] if words[0] == "stopped" else words[2:]
    if run_id and outcome.state in ("running", "aborting"):
        row = bench.end_of(run_id, 60.0 + frozen_s)
        outcome.end = row["end_code"]
        outcome.check(outcome.end in codes, f"it ended as {outcome.end}")
        outcome.check(bool(row["end_reason"]), "the end has no sentence")
        lost_s = struck_s - _last_stored_s(bench, row["id"])
        outcome.check(lost_s <= MOST_DATA_LOST_S, f"{lost_s:.2f} s of data are lost")
    if outcome.state == "idle":
        frame = wait_for(bench.frame, 60.0 + frozen_s, "an answer of the bench")
        outcome.check(frame["state"] in ("idle", "safe", "zeroed"), f"it is {frame['state']}")


def _zero(
    bench: RealBench,
    outcome: RealOutcome,
    words: list[str],
    struck_s: float,
    stand_pid: int,
    frozen_s: float,
) -> None:
    def at_zero() -> dict | None:
        with contextlib.suppress(OSError, ValueError):
            stand = bench.stand()
            return stand if stand["throttle_pct"] == 0 and not stand["armed"] else None
        return None

    stand = wait_for(at_zero, 20.0 + frozen_s, "zero throttle")
    if words[0] == "quiet":
        return
    same = bench.pid("stand") == stand_pid and stand["last_cut"] is not None
    outcome.zero_s = max(0.0, stand["last_cut"]["t_s"] - struck_s) if same else 0.0
    outcome.check(outcome.zero_s <= float(words[1]), "the throttle was late")


def _last_stored_s(bench: RealBench, run: int) -> float:
    trace = bench.ask("GET", f"runs/{run}/trace/?points=6000")
    return float(trace["time_s"][-1])


def markdown(outcomes: list[RealOutcome]) -> str:
    """The table: a failure a row, a state a column."""
    lines = [f"| failure | {' | '.join(STATES)} |", "|---|" + "---|" * len(STATES)]
    for failure in dict.fromkeys(outcome.failure for outcome in outcomes):
        cells = [outcome.text() for outcome in outcomes if outcome.failure == failure]
        lines.append(f"| {failure} | {' | '.join(cells)} |")
    return "\n".join(lines)


def main(only: Sequence[str] = ()) -> int:
    """Play every cell, or the failures named, on a demo of its own; the exit status says whether
    all are as expected."""
    outcomes = []
    with running_demo("matrix") as demo:
        bench = RealBench(demo)
        bench.open_page()
        for failure in only or FAILURES:
            for state in STATES:
                outcomes.append(play(bench, failure, state))
                print(f"{failure}, {state}: {outcomes[-1].text()}", file=sys.stderr, flush=True)
        bench.at_rest()
        bench.close_page()
    print(markdown(outcomes))
    judged = [outcome for outcome in outcomes if outcome.judged]
    wrong = [outcome for outcome in judged if outcome.wrong]
    print(
        f"\n{len(judged) - len(wrong)} of {len(outcomes)} cells as expected, "
        f"{len(outcomes) - len(judged)} not judged."
    )
    return 1 if wrong or len(outcomes) - len(judged) > MOST_NOT_JUDGED * len(outcomes) else 0


if __name__ == "__main__":
    raise SystemExit(main(sys.argv[1:]))
