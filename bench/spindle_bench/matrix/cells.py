"""Brings one cell about in virtual time, and holds what happened against what was expected."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any, Final

from spindle_bench.limits import Limits
from spindle_bench.matrix.expected import EXPECTED, MOST_DATA_LOST_S, STATES, STOP_ANSWERS_S
from spindle_bench.matrix.house import House
from spindle_bench.plan import RunPlan
from spindle_bench.profiles import StepsProfile
from spindle_bench.states import State

FACTS: Final[dict[str, Any]] = {
    "motor": "bench motor",
    "sample": "A",
    "size_code": "2306",
    "kv_rpm_per_v": 1900.0,
    "propeller": "bench propeller",
    "prop_diameter_in": 5.1,
    "prop_pitch_in": 4.2,
    "prop_blades": 3,
    "open_circuit_v": 16.0,
    "supply_resistance_ohm": 0.005,
    "trip_a": 55.0,
}

FAULTS: Final = {
    "stand's clock 5 s ahead": "clock_forward",
    "stand's clock set back 100 s": "clock_back",
    "stand's clock stuck": "clock_stuck",
    "samples lost": "freeze",
    "samples NaN": "nan",
    "rows one cell short": "short_row",
    "samples 400 ms late": "late",
    "samples doubled": "doubled",
}


def a_plan(run_id: str, operator: str = "Ilse", *, dwell_s: float = 20.0) -> RunPlan:
    """A run to 100 % that stays there."""
    limits = Limits(current_a=50.0)
    return RunPlan(
        run_id,
        StepsProfile((100.0,), dwell_s=dwell_s, ramp_pct_per_s=200.0, rest_s=2.0),
        limits,
        dict(FACTS),
        {"title": "matrix", "operator": operator, "operator_id": len(operator)},
        100.0,
        dict.fromkeys(limits.off, operator),
        arming=f"arming of {run_id}",
    )


@dataclass(frozen=True, slots=True)
class Outcome:
    """What happened in one cell. ``zero_s``: until the throttle was zero, in the stand's time."""

    failure: str
    state: str
    expected: str
    zero_s: float | None = None
    stop_s: float | None = None
    lost_s: float | None = None
    ends: tuple[str, ...] = ()
    said: str = ""
    wrong: tuple[str, ...] = field(default=())


@dataclass(slots=True)
class Cell:
    """One failure in one state."""

    failure: str
    state: str
    house: House
    plan: RunPlan
    wrong: list[str] = field(default_factory=list)
    zero_s: float | None = None
    stop_s: float | None = None
    struck: float = 0.0
    struck_stand_s: float = 0.0
    answers: list[Any] = field(default_factory=list)
    last_row_s: float = 0.0
    _began_stand: int = 0

    def check(self, holds: bool, text: str) -> None:
        """Note what is not as expected."""
        if not holds:
            self.wrong.append(text)

    # ---- before -----------------------------------------------------------------------------

    def bring_about(self) -> None:
        """Let the bench come to the state in which the failure strikes."""
        house = self.house
        house.run_for(1.5)
        if self.state == "idle":
            return
        refused = house.arm(self.plan)
        assert refused is None, refused
        if self.state == "armed":
            house.run_for(0.5)
            return
        refused = house.start(self.plan)
        assert refused is None, refused
        house.run_for(6.0, until=lambda: house.stand.throttle_pct >= 100.0)
        house.run_for(1.5)
        assert house.engine.state is State.RUNNING
        if self.state == "aborting":
            house.engine.stop(house.now, by="Ilse")

    # ---- the failure --------------------------------------------------------------------------

    def strike(self) -> None:
        """Let it happen."""
        house, words = self.house, self.failure.split()
        self.struck, self.struck_stand_s = house.now, house.stand.time_s
        self._began_stand = id(house.stand)
        self.last_row_s = house.engine.last_time_s or 0.0
        if self.failure in FAULTS:
            message = {"type": "fault", "seq": 1, "kind": FAULTS[self.failure], "seconds": 60}
            house.stand.handle(message, 77, house.now)
        elif words[1] == "killed":
            house.kill(words[0])
        elif words[1] == "frozen":
            house.freeze(words[0], float(words[2]))
        else:
            _OTHER[self.failure](self)

    @property
    def tail_s(self) -> float:
        """How long to look on afterwards: until what was frozen has come to itself, or back."""
        words = self.failure.split()
        return 8.0 + (float(words[2]) if words[1] == "frozen" else 0.0)

    def watch_zero(self, seconds: float) -> None:
        """Let time pass until the stand is at zero and disarmed."""
        house = self.house

        def at_zero() -> bool:
            stand = house.stand
            alive = house.processes["stand"].dead_until is None
            return not alive or (stand.throttle_pct == 0.0 and not stand.armed)

        if not at_zero():
            house.run_for(seconds, until=at_zero)
        if at_zero():
            # The stand remembers when it cut; one that was killed has gone with its rotor.
            cut = house.stand.last_cut
            same = id(house.stand) == self._began_stand and cut is not None
            after = float(cut["t_s"]) - self.struck_stand_s if same and cut else 0.0  # type: ignore[arg-type]
            self.zero_s = round(max(0.0, after), 3)

    # ---- what was expected -----------------------------------------------------------------------

    def hold(self) -> None:
        """Hold what happens against the cell's words."""
        words = EXPECTED[self.failure][STATES.index(self.state)].split()
        getattr(self, f"_expect_{words[0]}")(words[1:])

    def _expect_quiet(self, rest: list[str]) -> None:
        self.house.run_for(self.tail_s)
        self.check(self.house.throttle_seen == 0.0, "the throttle moved")
        self.check(not self.house.stand.armed, "the stand is armed")
        self.check(not self.house.store.ends, "an end record was written")
        self.check(all(answer is not None for answer in self.answers), "something was accepted")

    def _expect_stays(self, rest: list[str]) -> None:
        self.house.run_for(3.0)
        self.check(self.house.engine.state is State.ARMED, "it did not stay armed")
        self._press_stop()
        self.check(not self.house.store.ends, "an end record was written")

    def _expect_disarms(self, rest: list[str]) -> None:
        self.watch_zero(60.0)
        self._zero_within(float(rest[0]))
        self.house.run_for(self.tail_s)
        self.check(not self.house.store.ends, "an end record was written without a run")

    def _expect_goes(self, rest: list[str]) -> None:
        self.house.run_for(3.0)
        self.check(self.house.engine.state is State.RUNNING, f"it is {self.house.engine.state}")
        self.check(self.house.stand.throttle_pct > 0.0, "the throttle is zero")
        self.check(all(answer is not None for answer in self.answers), "something was accepted")
        self._press_stop()
        self._one_end(["stopped"])

    def _expect_cut(self, rest: list[str]) -> None:
        self.watch_zero(60.0)
        self._zero_within(float(rest[0]))
        self._one_end(rest[1:])
        self.check(
            self.house.engine.message != "" and self.house.engine.message != "Ready.",
            "nothing is said",
        )

    def _expect_stopped(self, rest: list[str]) -> None:
        self.watch_zero(60.0)
        self._zero_within(float(rest[0]))
        self._one_end(["stopped", *rest[1:]])

    def _expect_starts(self, rest: list[str]) -> None:
        accepted = sum(answer is None for answer in self.answers)
        self.check(accepted == 1, f"{accepted} starts were accepted")
        self.house.run_for(3.5)
        self.check(self.house.engine.state is State.RUNNING, f"it is {self.house.engine.state}")
        self._press_stop()
        self._one_end(["stopped"])

    def _expect_one(self, rest: list[str]) -> None:
        accepted = sum(answer is None for answer in self.answers)
        self.check(accepted == 1, f"{accepted} armings were accepted")
        self.check(self.house.stand.armed, "the stand is not armed")
        self._press_stop()

    def _zero_within(self, seconds: float) -> None:
        self.check(self.zero_s is not None, "the throttle did not come to zero")
        if self.zero_s is not None:
            self.check(self.zero_s <= seconds + 1e-9, f"zero after {self.zero_s:.3f} s")

    def _press_stop(self) -> None:
        page, pressed = self.house.pages[0], self.house.now
        self.house.press_stop(page)
        self.house.run_for(2.0, until=lambda: page.stopped_at is not None)
        if page.stopped_at is None:
            self.check(False, "STOP was not answered")
            return
        self.stop_s = round(page.stopped_at - pressed, 3)
        self.check(self.stop_s <= STOP_ANSWERS_S, f"STOP answered after {self.stop_s:.3f} s")
        self.check(self.house.stand.throttle_pct == 0.0, "the throttle is not zero")

    def _one_end(self, codes: list[str]) -> None:
        self.house.run_for(self.tail_s)
        ends = self.house.store.ends
        self.check(len(ends) == 1, f"{len(ends)} end records")
        for _, end in ends:
            self.check(end["code"] in codes, f"it ended as {end['code']}")
            self.check(bool(end["reason"].strip()), "the end has no sentence")

    # ---- result ---------------------------------------------------------------------------------

    def outcome(self) -> Outcome:
        """What happened, for the table."""
        lost = None
        ends = tuple(str(end["code"]) for _, end in self.house.store.ends)
        if ends and self.state in ("running", "aborting"):
            segments = self.house.store.segments[self.plan.run_id]
            stored = max((segment.end_s for segment in segments), default=0.0)
            lost = round(max(0.0, self.last_row_s - stored), 3)
            self.check(lost <= MOST_DATA_LOST_S, f"{lost:.2f} s of data are lost")
        expected = EXPECTED[self.failure][STATES.index(self.state)]
        return Outcome(
            self.failure,
            self.state,
            expected,
            self.zero_s,
            self.stop_s,
            lost,
            ends,
            self.house.engine.message,
            tuple(self.wrong),
        )


def _close_page(cell: Cell) -> None:
    cell.house.close_page(cell.house.pages[0])


def _cut_stand_link(cell: Cell) -> None:
    cell.house.stand_link_up = False


def _fill_disk(cell: Cell) -> None:
    cell.house.fill_disk()


def _two_arm(cell: Cell) -> None:
    """Two people hold their arm controls in the same instant."""
    house = cell.house
    for name, who in (("run-a", "Ilse"), ("run-b", "Tomas Rook")):
        plan = a_plan(name, who)
        house.spool.prepare(plan, house.engine.channels)
        house.engine.arm(plan, house.now, cell.answers.append)
    house.run_for(1.0)


def _start_twice(cell: Cell) -> None:
    for _ in range(2):
        cell.answers.append(cell.house.start(cell.plan))


_OTHER: Final[dict[str, Callable[[Cell], None]]] = {
    "last page closed": _close_page,
    "link to the last page cut": _close_page,
    "link between agent and stand cut": _cut_stand_link,
    "disk full": _fill_disk,
    "two browsers arming": _two_arm,
    "double start": _start_twice,
}


def play(failure: str, state: str, folder: Path) -> Outcome:
    """One cell from beginning to end. ``folder`` must be empty; the spool goes there."""
    cell = Cell(failure, state, House(folder), a_plan("run-1"))
    cell.bring_about()
    cell.strike()
    cell.hold()
    return cell.outcome()
