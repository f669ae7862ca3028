"""Whatever a stand says in whichever field: nothing of it breaks the engine, and nothing of it is
taken for a read-back of zero that is none."""

import copy
import itertools
import math

import pytest

from spindle_bench.dialogue import Dialogue
from spindle_bench.errors import ProtocolError
from spindle_bench.protocol import check_hello, says_zero
from spindle_bench.rehearsal import VirtualBench
from spindle_bench.stand.device import SimulatedStand
from spindle_bench.states import AT_REST, State

from .conftest import make_plan, running

DEEP = [[[[[[]]]]]]
BAD = (
    None, "", " ", "NaN", "0", "\ud800", "\x00", "x" * 5_000, -1, 0, 1, 2**63, 10**400, -(10**400),
    1e308, -1e308, 5e-324, -0.0, 0.1, float("nan"), float("inf"), True, False, [], {}, [None],
    [True], ["0"], [10**400], [[]], [{}], {"": None}, {"type": "samples"}, DEEP,
)  # fmt: skip

MESSAGES = {
    "samples": {"type": "samples", "t_s": [0.0, 0.01], "rows": [[0.0] * 9, [0.0] * 9]},
    "status": {
        "type": "status",
        "seq": 5,
        "armed": False,
        "throttle_pct": 0,
        "speed_rpm": 0.0,
        "owner": True,
        "t_s": 1.0,
        "last_cut": None,
        "supply_tripped": False,
    },
    "event": {"type": "event", "code": "stopped", "message": "Stopped.", "by": "Ilse", "t_s": 1.0},
    "ack": {"type": "ack", "seq": 5},
    "refused": {"type": "refused", "seq": 5, "code": "armed", "message": "No."},
    "malformed": {"type": "malformed", "message": "Not a JSON line."},
}


def places(message, path=()):
    """Every place of a message but its type, the whole of each list first."""
    inner = message.items() if isinstance(message, dict) else enumerate(message)
    for key, value in inner:
        if key != "type":
            yield (*path, key)
            if isinstance(value, dict | list):
                yield from places(value, (*path, key))


def said_instead(message, path, value):
    changed = copy.deepcopy(message)
    inside = changed
    for key in path[:-1]:
        inside = inside[key]
    inside[path[-1]] = value
    return changed


WHERE = [
    pytest.param(kind, path, id=f"{kind}.{'.'.join(map(str, path))}")
    for kind, message in MESSAGES.items()
    for path in places(message)
    # One row and one cell stand for all.
    if not (len(path) > 1 and path[1] == 1) and not (len(path) > 2 and path[2] > 0)
]


def sane(bench):
    """Only numbers are on record, in the order of time; and a run that ended is at zero."""
    for row in bench.recorder.rows:
        assert len(row) == 9
        assert all(value is None or math.isfinite(value) for value in row)
        assert not any(isinstance(value, bool) for value in row)
    times = bench.recorder.times_s
    assert all(earlier < later for earlier, later in itertools.pairwise(times))
    assert len(bench.recorder.ends) <= bench.recorder.begun
    if bench.recorder.ends:
        assert bench.stand.throttle_pct == 0.0
        assert not bench.stand.armed


@pytest.mark.parametrize(("kind", "path"), WHERE)
@pytest.mark.parametrize("at", ["idle", "armed", "running", "by_read_back"])
def test_whatever_stands_in_a_field_the_engine_goes_on_or_ends_at_zero(bench, at, kind, path):
    plan = make_plan(levels=(40.0,), dwell_s=60.0)
    if at == "armed":
        bench.arm(plan)
    elif at != "idle":
        running(bench, plan)
    for value in BAD:
        if at == "by_read_back" and bench.engine.state is State.RUNNING:
            bench.engine.stop(bench.now, by="Ilse")
        message = said_instead(MESSAGES[kind], path, value)
        if kind == "samples" and path[0] != "t_s":
            message["t_s"] = [bench.stand.time_s + 1e-4, bench.stand.time_s + 2e-4]
        elif "seq" in message and path != ("seq",):
            message["seq"] = bench.engine._dialogue._seq
        bench.engine.received(message, bench.now)
        bench.run_for(0.05)
    bench.run_for(6.0)
    assert bench.engine.state in (
        {State.IDLE}
        if at == "idle"
        else {*State} - {State.ABORTING, State.COASTING, State.WATCHING}
    )
    sane(bench)
    # It is a bench still: whoever stops it is heard.
    bench.engine.stop(bench.now, by="Ilse")
    bench.run_for(8.0)
    assert bench.engine.state in (*AT_REST, State.FAULTED)
    assert bench.stand.throttle_pct == 0.0


NOT_ZERO = [
    {field: value}
    for field in ("armed", "throttle_pct")
    for value in BAD
    if not (field == "armed" and value is False)
    and not (field == "throttle_pct" and type(value) in (int, float) and value == 0)
]


@pytest.mark.parametrize("said", [*NOT_ZERO, {"type": "ack"}, {"type": "refused"}])
def test_only_disarmed_and_a_number_that_is_zero_is_a_read_back_of_zero(said):
    status = {"type": "status", "armed": False, "throttle_pct": 0}
    assert says_zero(status)
    assert says_zero({**status, "throttle_pct": 0.0})
    assert not says_zero({**status, **said})
    left_out = {key: value for key, value in status.items() if key == "type" or key not in said}
    assert says_zero(left_out) is ("type" in said)


@pytest.mark.parametrize("said", NOT_ZERO)
def test_a_stop_that_is_not_read_back_as_zero_is_called_no_safe_state(said, monkeypatch):
    bench = VirtualBench(SimulatedStand(seed=4))
    bench.run_for(0.5)
    running(bench, make_plan(levels=(40.0,), dwell_s=60.0))
    handle = bench.stand.handle

    def lying(message, client, now):
        answers = handle(message, client, now)
        return [{**one, **said} if one["type"] == "status" else one for one in answers]

    monkeypatch.setattr(type(bench.stand), "handle", lambda self, *args: lying(*args))
    bench.engine.stop(bench.now, by="Ilse")
    bench.run_for(8.0)
    assert bench.engine.state is State.FAULTED
    assert "confirm" in bench.engine.message


HELLO = SimulatedStand(seed=4).hello()


@pytest.mark.parametrize(
    "path",
    [
        pytest.param(p, id=".".join(map(str, p)))
        for p in places(HELLO)
        if len(p) < 2 or p[1] in (0, "current_a")
    ],
)
def test_a_hello_is_refused_or_can_be_lived_with(bench, path):
    for value in BAD:
        said = said_instead(HELLO, path, value)
        try:
            check_hello(copy.deepcopy(said))
        except ProtocolError:
            with pytest.raises(ProtocolError):
                bench.engine.connected(said, bench.now)
            continue
        bench.engine.disconnected(bench.now)
        bench.engine.connected(said, bench.now)
        bench.run_for(0.1)
        assert bench.engine.state is State.IDLE
        bench.engine.stop(bench.now, by="Ilse")
        bench.run_for(0.3)
        assert bench.engine.state in AT_REST


@pytest.mark.parametrize("seq", [True, 1.0, "1", None, [1], 2])
def test_an_answer_whose_number_is_none_is_nobodys(seq):
    answers, sent = [], []
    dialogue = Dialogue(sent.append)
    dialogue.ask({"type": "status"}, 0.0, answers.append)
    assert sent[0]["seq"] == 1
    assert not dialogue.answer({"type": "status", "seq": seq})
    assert answers == []
    assert dialogue.answer({"type": "status", "seq": 1})
    assert len(answers) == 1
