"""A device that only prints lines of numbers: read as a stand, never taken for one that cuts."""

import asyncio
import contextlib
import json
import os
import threading
import time
import tty
from dataclasses import replace

import pytest

from spindle_bench.agent.process import Agent
from spindle_bench.driver import printing_device
from spindle_bench.driver.printed_board import KNOWN_AFTER, PrintedBoard
from spindle_bench.driver.process import Driver, main
from spindle_bench.engine import UNCONFIRMED
from spindle_bench.errors import ProtocolError
from spindle_bench.limits import Limits
from spindle_bench.protocol import check_hello, check_samples, drives, says_zero
from spindle_bench.states import State
from spindle_core.formats.foreign.printed import printed_lines

from ..conftest import make_plan
from ..test_spool_and_delivery import Store
from .test_agent import played

COLUMNS = {
    "ms": {"channel": "time_s", "unit": "ms"},
    "Load g": {"channel": "thrust_gf", "unit": "gf"},
    "I": {"channel": "current_a", "unit": "A"},
    "rpm": {"channel": "speed_rpm", "unit": "rpm"},
    "U": {"channel": "voltage_v", "unit": "V"},
}
DIALECT = {
    "encoding": "utf-8",
    "delimiter": ";",
    "decimal": ".",
    "header_line": 1,
    "units_line": False,
}
MAPPING = json.dumps({"format": "log-mapping/1", "columns": COLUMNS, "dialect": DIALECT})
PLACES = {
    "1": {"channel": "thrust_gf", "unit": "gf"},
    "2": {"channel": "throttle_pct", "unit": "%"},
}
BY_PLACE = json.dumps({"format": "log-mapping/1", "columns": PLACES, "dialect": DIALECT})
AGENT = 1


def board_of(mapping=BY_PLACE, *, rows=KNOWN_AFTER, row=b"10;0"):
    board = PrintedBoard(printed_lines(mapping))
    board.said(AGENT, {"type": "stream", "seq": 0, "on": True})
    for number in range(rows):
        board.line(row, 100.0 + 0.2 * number)
    return board


def only(out):
    [(client, message)] = out
    assert client == AGENT
    return message


def test_it_is_known_once_whole_lines_have_come():
    board = board_of(rows=KNOWN_AFTER - 1)
    assert board.hello is None
    refusal = only(board.said(AGENT, {"type": "hello", "protocol": "stand/1"}))
    with pytest.raises(ProtocolError, match="printed no row"):
        check_hello(refusal)
    board.line(b"10;0", 100.6)
    hello = check_hello(only(board.said(AGENT, {"type": "hello", "protocol": "stand/1"})))
    assert not drives(hello)
    assert hello["rate_hz"] == pytest.approx(5.0)
    assert [channel["name"] for channel in hello["channels"]] == ["thrust_gf", "throttle_pct"]
    assert "heartbeat_ms" not in hello


def test_what_is_printed_before_it_is_known_is_no_bad_line():
    board = board_of(rows=0)
    for line in (b"Kitchen scale v3", b"3.4;", b"\xff\xfe\x00"):
        assert board.line(line, 1.0) == []


def test_a_bad_line_is_told_with_its_reason():
    told = only(board_of().line(b"1O;0", 101.0))
    assert told["type"] == "malformed"
    assert "1: '1O' is not a number" in told["message"]


@pytest.mark.parametrize("kind", ["arm", "throttle", "heartbeat", "stop", "disarm", "mount", "x"])
def test_it_obeys_nothing_and_does_not_pretend_to(kind):
    refusal = only(board_of().said(AGENT, {"type": kind, "seq": 1, "pct": 50}))
    assert (refusal["type"], refusal["code"]) == ("refused", "only_reads")


@pytest.mark.parametrize(
    ("mapping", "row", "zero"),
    [(BY_PLACE, b"10;0", True), (BY_PLACE, b"10;30", False), (BY_PLACE, b"10;nan", False)],
)
def test_zero_is_only_what_is_read_as_zero(mapping, row, zero):
    status = only(board_of(mapping, row=row).said(AGENT, {"type": "status", "seq": 1}))
    assert says_zero(status) is zero


def test_lines_that_came_together_stay_in_order():
    board = board_of()
    times = [only(board.line(b"10;0", 105.0))["t_s"][0] for _ in range(5)]
    assert times == sorted(set(times))
    assert times[-1] < 105.1


def test_a_tare_takes_off_what_hangs_on_the_cell():
    board = board_of(row=b"31.5;0")
    reply = only(board.said(AGENT, {"type": "tare", "seq": 1}))
    assert (reply["type"], reply["tare_gf"]) == ("ack", 31.5)
    samples = only(board.line(b"41.5;0", 102.0))
    check_samples(samples, 2)
    assert samples["rows"] == [[10.0, 0.0]]
    assert only(board.line(b"nan;0", 102.2))["rows"] == [[None, 0.0]]


def test_it_is_not_tared_while_it_turns():
    board = board_of(MAPPING, rows=0)
    board.line(b"ms;Load g;I;rpm;U", 1.0)
    for number in range(KNOWN_AFTER):
        board.line(b"%d;100;3;9000;16" % (100 * number), 1.0)
    refusal = only(board.said(AGENT, {"type": "tare", "seq": 1}))
    assert (refusal["type"], refusal["code"]) == ("refused", "turning")


def test_a_device_that_begins_anew_is_known_anew():
    board = board_of()
    board.said(AGENT, {"type": "tare", "seq": 1})
    board.opened()
    assert board.hello is None
    assert board.line(b"3;0", 200.0) == []
    for number in range(KNOWN_AFTER):
        board.line(b"10;0", 201.0 + number)
    assert only(board.line(b"10;0", 210.0))["rows"] == [[10.0, 0.0]]


def test_a_mapping_that_cannot_be_read_ends_the_driver(tmp_path, capsys):
    path = tmp_path / "club.json"
    path.write_text("{")
    assert main(["--device", "/dev/null", "--printed", str(path)]) == 2
    assert "club.json" in capsys.readouterr().err


@pytest.mark.parametrize(
    ("at_s", "pct"), [(0.0, 0.0), (3.9, 0.0), (4.0, 30.0), (8.9, 30.0), (9.0, 60.0), (99.0, 0.0)]
)
def test_the_played_hand_is_where_it_is_said(at_s, pct):
    assert printing_device.wanted_pct(at_s, printing_device.read_hand("0x4 30x5 60x5")) == pct


# ---- over a pseudo-terminal ----------------------------------------------------------------------


@contextlib.asynccontextmanager
async def printing(hand, folder):
    """A printing device, the driver on its cable, and an agent."""
    master, slave = os.openpty()
    tty.setraw(slave)
    stopped = threading.Event()

    def device():
        script, rng = printing_device.read_hand(hand), printing_device.random.Random(3)
        begun, pct = time.monotonic(), 0.0
        with contextlib.suppress(OSError):
            os.write(master, f"{printing_device.NAMES}\n".encode())
            while not stopped.is_set():
                at_s = time.monotonic() - begun
                pct += (printing_device.wanted_pct(at_s, script) - pct) * 0.6
                pct = 0.0 if pct < 0.2 else pct
                os.write(master, f"{printing_device.printed(at_s, pct, rng)}\n".encode())
                time.sleep(0.05)

    driver = Driver(os.ttyname(slave), 115_200, PrintedBoard(printed_lines(MAPPING)))
    ready = asyncio.Event()
    tasks = [asyncio.create_task(driver.serve("127.0.0.1", 0, ready))]
    await ready.wait()
    agent = Agent(
        folder=folder / "agent",
        socket_path=folder / "a.sock",
        stand_port=driver.port,
        store=Store(),
    )
    tasks.append(asyncio.create_task(agent.run()))
    await asyncio.sleep(0.3)
    thread = threading.Thread(target=device, daemon=True)
    thread.start()
    try:
        async with asyncio.timeout(20):
            while agent.engine.hello is None:
                await asyncio.sleep(0.01)
        agent.engine.pages(time.monotonic(), ago_s=0.0)
        yield agent
    finally:
        for task in reversed(tasks):
            task.cancel()
            with contextlib.suppress(asyncio.CancelledError):
                await task
        stopped.set()
        thread.join(2.0)
        os.close(master)
        os.close(slave)


async def recorded(agent, plan, seconds):
    answers = []
    agent.spool.prepare(plan, list(agent.engine.channels))
    agent.engine.arm(plan, time.monotonic(), answers.append)
    async with asyncio.timeout(seconds):
        while agent.engine.end is None:
            await asyncio.sleep(0.02)
    return answers


NO_SENSOR = Limits(motor_temp_c=None, lost_rpm_s=None)


def test_a_hand_at_a_device_that_prints_makes_a_whole_run(tmp_path):
    plan = replace(
        make_plan(levels=(30.0, 60.0), dwell_s=1.5, limits=NO_SENSOR), by_hand=True, rate_hz=20.0
    )

    async def scene():
        async with printing("0x6 30x4 60x4 0x30", tmp_path) as agent:
            assert await recorded(agent, plan, 40.0) == [None]
            assert agent.engine.end.outcome == "completed", agent.engine.end
            assert agent.engine.state is State.WATCHED
            assert agent.engine.message != UNCONFIRMED
            # A stop is refused by the device, and nothing is called zero by it.
            agent.engine.stop(time.monotonic(), by="Ilse")
            await asyncio.sleep(0.2)
            assert agent.engine.state is State.WATCHED

    played(scene)


def test_a_limit_at_a_device_that_prints_is_an_alarm(tmp_path):
    limits = replace(NO_SENSOR, current_a=3.0)
    plan = replace(
        make_plan(levels=(60.0,), dwell_s=1.5, limits=limits), by_hand=True, rate_hz=20.0
    )

    async def scene():
        async with printing("0x5 60x3 0x30", tmp_path) as agent:
            await recorded(agent, plan, 40.0)
            end = agent.engine.end
            assert (end.outcome, end.code) == ("limit", "limit_current_a")
            assert "To be cut by hand: cut " in end.reason

    played(scene)
