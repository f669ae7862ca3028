"""A stand on a serial port: who may command it, and that the device cuts by itself."""

import asyncio
import contextlib
import json
import os
import signal
import subprocess
import sys
import threading
import time
import tty

import pytest

from spindle_bench.agent.process import Agent
from spindle_bench.driver.process import Driver
from spindle_bench.driver.reference_device import HEARTBEAT_MS, Device, Line, run, turn
from spindle_bench.driver.switchboard import Switchboard
from spindle_bench.protocol import check_hello, check_samples
from spindle_bench.states import State

from ..conftest import OPERATOR, make_plan
from ..test_spool_and_delivery import Store
from .test_agent import played

# ---- whose command it is -------------------------------------------------------------------------

AGENT, DOOR = 1, 2


def greeted():
    board = Switchboard()
    board.greet()
    board.heard(Device().hello())
    for client in (AGENT, DOOR):
        board.said(client, {"type": "stream", "seq": 0, "on": True})
    return board


def passed(out):
    return [message for client, message in out if client is None]


def told(out, client):
    return [message for to, message in out if to == client]


def armed():
    board = greeted()
    [arm] = passed(board.said(AGENT, {"type": "arm", "seq": 1}))
    assert told(board.heard({"type": "ack", "seq": arm["seq"]}), AGENT)[0]["seq"] == 1
    assert board.owner == AGENT
    return board


def test_a_device_is_stopped_before_anything_is_asked_of_it():
    assert [m["type"] for m in passed(Switchboard().greet())] == ["stop", "hello"]


def test_each_partner_gets_its_own_numbers_back():
    board = greeted()
    [first] = passed(board.said(AGENT, {"type": "status", "seq": 5}))
    [second] = passed(board.said(DOOR, {"type": "status", "seq": 5}))
    assert first["seq"] < second["seq"]
    assert told(board.heard({"type": "status", "seq": second["seq"]}), DOOR)[0]["seq"] == 5
    answer = board.heard({"type": "status", "seq": first["seq"]})
    assert [client for client, _ in answer] == [AGENT]
    # An answer to nothing goes nowhere.
    assert board.heard({"type": "ack", "seq": 999}) == []
    assert board.heard({"type": "ack", "seq": "x"}) == []


@pytest.mark.parametrize("kind", ["throttle", "heartbeat"])
def test_only_who_armed_commands(kind):
    board = greeted()
    [refusal] = told(board.said(DOOR, {"type": kind, "seq": 1, "pct": 50}), DOOR)
    assert refusal["code"] == "not_armed"
    board = armed()
    [refusal] = told(board.said(DOOR, {"type": kind, "seq": 1, "pct": 50}), DOOR)
    assert (refusal["type"], refusal["code"]) == ("refused", "not_owner")
    assert passed(board.said(AGENT, {"type": kind, "seq": 2, "pct": 50}))


def test_nobody_arms_what_another_holds_or_is_arming():
    board = greeted()
    board.said(AGENT, {"type": "arm", "seq": 1})
    [refusal] = told(board.said(DOOR, {"type": "arm", "seq": 1}), DOOR)
    assert refusal["code"] == "not_owner"
    [refusal] = told(armed().said(DOOR, {"type": "arm", "seq": 1}), DOOR)
    assert refusal["code"] == "not_owner"


def test_an_arm_that_is_refused_leaves_nobody_owner():
    board = greeted()
    [arm] = passed(board.said(AGENT, {"type": "arm", "seq": 1}))
    board.heard({"type": "refused", "seq": arm["seq"], "code": "x", "message": "x"})
    assert board.owner is None
    assert passed(board.said(DOOR, {"type": "arm", "seq": 1}))


def test_anybody_stops_even_with_an_old_number_and_the_owner_hears_of_it():
    board = armed()
    board.said(DOOR, {"type": "status", "seq": 9})
    [stop] = passed(board.said(DOOR, {"type": "stop", "seq": 3, "by": "Ilse"}))
    out = board.heard({"type": "ack", "seq": stop["seq"], "by": "Ilse"})
    assert told(out, DOOR)[0] == {"type": "ack", "seq": 3, "by": "Ilse"}
    assert told(out, AGENT)[0]["code"] == "stopped"
    assert told(out, AGENT)[0]["by"] == "Ilse"
    assert board.owner is None


def test_an_owner_that_leaves_stops_the_device_first():
    out = armed().left(AGENT)
    assert out[0][0] is None
    assert out[0][1]["type"] == "stop"
    assert told(out, DOOR)[0]["code"] == "link_lost"
    # One that was only arming may have armed it.
    board = greeted()
    board.said(AGENT, {"type": "arm", "seq": 1})
    assert passed(board.left(AGENT))[0]["type"] == "stop"
    assert armed().left(DOOR) == []


def test_old_numbers_and_no_numbers_are_refused():
    board = greeted()
    for seq in (0, -1, None, True, "7", 1.5):
        [refusal] = told(board.said(AGENT, {"type": "status", "seq": seq}), AGENT)
        assert refusal["code"] == "stale"


def test_a_device_that_does_not_answer_is_not_asked_for_ever():
    board = greeted()
    codes = {
        message.get("code")
        for seq in range(1, 700)
        for message in told(board.said(AGENT, {"type": "status", "seq": seq}), AGENT)
    }
    assert codes == {"busy"}
    assert passed(board.said(AGENT, {"type": "stop", "seq": 900}))


def test_samples_go_to_who_asked_for_them():
    board = greeted()
    board.said(DOOR, {"type": "stream", "seq": 1, "on": False})
    out = board.heard({"type": "samples", "t_s": [], "rows": []})
    assert [client for client, _ in out] == [AGENT]
    assert told(board.said(3, {"type": "hello", "protocol": "stand/1"}), 3)[0]["driver"] == "serial"
    assert told(board.said(3, {"type": "hello", "protocol": "stand/2"}), 3)[0]["code"] == "version"


# ---- the device ----------------------------------------------------------------------------------


def ask(device, seq, kind, now=0.0, **rest):
    return device.handle({"type": kind, "seq": seq, **rest}, now)


def test_the_device_cuts_when_it_hears_nothing():
    device = Device()
    assert ask(device, 1, "arm")["type"] == "ack"
    assert ask(device, 2, "throttle", pct=40)["type"] == "ack"
    device.watch_partner(HEARTBEAT_MS / 1000.0)
    assert device.armed
    device.watch_partner(HEARTBEAT_MS / 1000.0 + 0.001)
    assert (device.armed, device.throttle_pct) == (False, 0.0)
    assert device.out[-1]["code"] == "link_lost"
    assert ask(device, 3, "throttle", pct=40)["code"] == "not_armed"


def test_the_device_has_limits_of_its_own():
    device = Device(armed=True, throttle_pct=100.0)
    device.watch_limits({"current_a": 61.0, "thrust_gf": 1.0, "motor_temp_c": 30.0})
    assert not device.armed
    assert device.last_cut["code"] == "own_limit"


def test_the_device_obeys_a_stop_whatever_its_number_and_nothing_else_that_is_old():
    device = Device()
    ask(device, 10, "arm")
    ask(device, 11, "throttle", pct=30)
    assert ask(device, 5, "throttle", pct=90)["code"] == "stale"
    assert device.throttle_pct == 30.0
    assert ask(device, 2, "stop")["type"] == "ack"
    assert (device.armed, device.throttle_pct) == (False, 0.0)


@pytest.mark.parametrize("pct", [-1, 100.1, None, "50", True, float("nan")])
def test_the_device_applies_no_throttle_that_is_none(pct):
    device = Device()
    ask(device, 1, "arm")
    assert ask(device, 2, "throttle", pct=pct)["code"] == "bad_value"
    assert device.throttle_pct == 0.0


def test_a_new_partner_finds_the_motor_off():
    device = Device()
    ask(device, 500, "arm")
    hello = device.handle({"type": "hello"}, 0.0)
    assert check_hello(hello)["heartbeat_ms"] == HEARTBEAT_MS
    assert not device.armed
    assert ask(device, 1, "arm")["type"] == "ack"


def test_noise_on_the_cable_is_no_command():
    master, slave = os.openpty()
    tty.setraw(slave)
    device, line = Device(), Line(master)
    try:
        os.write(slave, b'\x00\xff{"type":\nnull\n[1]\n{"type": "arm", "seq": 1}\n')
        time.sleep(0.05)
        turn(device, line, 1.0)
        assert device.armed
        assert json.loads(os.read(slave, 4096)) == {"type": "ack", "seq": 1}
        # A line without an end is thrown away.
        os.write(slave, b"x" * 3000)
        time.sleep(0.05)
        turn(device, line, 1.1)
        assert len(line.rest) <= 1000
    finally:
        os.close(master)
        os.close(slave)


# ---- over a pseudo-terminal ----------------------------------------------------------------------


class Cable:
    """A pseudo-terminal with the reference device at its other end, in a thread."""

    def __init__(self):
        self.master, self.slave = os.openpty()
        tty.setraw(self.slave)
        self.path = os.ttyname(self.slave)
        self.device = Device()
        self.thread = threading.Thread(target=self._run, daemon=True)
        self.thread.start()

    def _run(self):
        with contextlib.suppress(OSError):
            run(self.device, Line(self.master))

    def unplug(self):
        os.close(self.master)
        self.thread.join(2.0)

    def close(self):
        with contextlib.suppress(OSError):
            os.close(self.master)
        os.close(self.slave)
        self.thread.join(2.0)

    def wait(self, wanted, seconds=5.0):
        until = time.monotonic() + seconds
        while time.monotonic() < until:
            if wanted(self.device):
                return
            time.sleep(0.005)
        raise AssertionError(f"the device never came there: {self.device}")


@pytest.fixture
def cable():
    made = Cable()
    yield made
    made.close()


@contextlib.asynccontextmanager
async def driven(cable, folder):
    """Agent, driver and device."""
    driver, ready = Driver(cable.path), asyncio.Event()
    tasks = [asyncio.create_task(driver.serve("127.0.0.1", 0, ready))]
    await ready.wait()
    agent = Agent(
        folder=folder / "agent",
        socket_path=folder / "a.sock",
        stand_port=driver.port,
        store=Store(),
    )
    tasks.append(asyncio.create_task(agent.run()))

    async def page():
        while True:
            agent.engine.pages(time.monotonic(), ago_s=0.0)
            await asyncio.sleep(0.1)

    tasks.append(asyncio.create_task(page()))
    try:
        await until(lambda: agent.engine.hello is not None)
        yield agent, driver
    finally:
        for task in reversed(tasks):
            task.cancel()
            with contextlib.suppress(asyncio.CancelledError):
                await task


async def until(wanted, seconds=20.0):
    async with asyncio.timeout(seconds):
        while not wanted():
            await asyncio.sleep(0.01)


async def start(agent, plan):
    answers = []
    agent.spool.prepare(plan, list(agent.engine.channels))
    agent.engine.arm(plan, time.monotonic(), answers.append)
    await until(lambda: bool(answers))
    assert answers == [None]
    agent.engine.start(time.monotonic(), run_id=plan.run_id, operator_id=OPERATOR)


# The device on this machine shares its processor; only whole stalls of it would be a false cut.
SHORT = make_plan(levels=(30.0,), dwell_s=1.5, rate_hz=50.0)
LONG = make_plan(levels=(30.0,), dwell_s=60.0, rate_hz=50.0)


def test_a_run_over_a_serial_port_goes_to_its_end(cable, tmp_path):
    async def scene():
        async with driven(cable, tmp_path) as (agent, _):
            assert agent.engine.hello["stand"] == "reference device"
            await start(agent, SHORT)
            await until(lambda: cable.device.throttle_pct == 30.0 or agent.engine.end is not None)
            await until(lambda: agent.engine.end is not None, 30.0)
            assert agent.engine.end.outcome == "completed", agent.engine.end
            assert agent.engine.state in (State.SAFE, State.COASTING)
            assert cable.device.throttle_pct == 0.0
            assert not cable.device.armed

    played(scene)


def test_a_second_partner_stops_it_through_the_driver(cable, tmp_path):
    async def scene():
        async with driven(cable, tmp_path) as (agent, driver):
            await start(agent, LONG)
            await until(lambda: cable.device.throttle_pct == 30.0)
            reader, writer = await asyncio.open_connection("127.0.0.1", driver.port)
            writer.write(b'{"type":"hello","protocol":"stand/1"}\n')
            check_hello(json.loads(await reader.readline()))
            writer.write(b'{"type":"stop","seq":1,"by":"Tomas"}\n')
            await until(lambda: agent.engine.end is not None)
            assert cable.device.throttle_pct == 0.0
            assert (agent.engine.end.outcome, agent.engine.end.by) == ("stopped", "Tomas")
            writer.close()

    played(scene)


def test_a_cable_that_is_pulled_is_a_lost_link(cable, tmp_path):
    async def scene():
        async with driven(cable, tmp_path) as (agent, _):
            await start(agent, LONG)
            await until(lambda: cable.device.throttle_pct == 30.0)
            cable.unplug()
            await until(lambda: agent.engine.end is not None)
            assert agent.engine.end.outcome == "fault"
            assert agent.engine.state is State.FAULTED
            assert "cut" in agent.engine.message

    played(scene)


def test_samples_over_the_port_are_what_the_protocol_asks(cable, tmp_path):
    async def scene():
        async with driven(cable, tmp_path) as (_, driver):
            reader, writer = await asyncio.open_connection("127.0.0.1", driver.port)
            writer.write(
                b'{"type":"hello","protocol":"stand/1"}\n{"type":"stream","seq":0,"on":true}\n'
            )
            seen = 0
            async with asyncio.timeout(10):
                while seen < 20:
                    message = json.loads(await reader.readline())
                    if message["type"] == "samples":
                        check_samples(message, 6)
                        seen += 1
            writer.close()

    played(scene)


def test_a_driver_that_is_killed_leaves_a_device_that_cuts_by_itself(cable):
    driver = subprocess.Popen(
        [
            sys.executable,
            "-c",
            "import asyncio, sys\n"
            "from spindle_bench.driver.process import Driver\n"
            "async def go():\n"
            "    driver, ready = Driver(sys.argv[1]), asyncio.Event()\n"
            "    task = asyncio.create_task(driver.serve('127.0.0.1', 0, ready))\n"
            "    await ready.wait()\n"
            "    print(driver.port, flush=True)\n"
            "    await task\n"
            "asyncio.run(go())\n",
            cable.path,
        ],
        stdout=subprocess.PIPE,
    )
    try:
        port = int(driver.stdout.readline())

        async def scene():
            reader, writer = await asyncio.open_connection("127.0.0.1", port)
            hello = {"type": "refused"}
            async with asyncio.timeout(10):
                while hello["type"] != "hello":
                    writer.write(b'{"type":"hello","protocol":"stand/1"}\n')
                    hello = json.loads(await reader.readline())
                    await asyncio.sleep(0.05)
            writer.write(b'{"type":"arm","seq":1}\n')
            async with asyncio.timeout(10):
                seq = 2
                while cable.device.throttle_pct != 40.0:
                    # Until the arming is answered this is refused: nobody owns the stand yet.
                    message = {"type": "throttle", "seq": seq, "pct": 40}
                    writer.write(json.dumps(message).encode() + b"\n")
                    seq += 1
                    await asyncio.sleep(0.02)
            os.kill(driver.pid, signal.SIGKILL)
            killed = time.monotonic()
            while cable.device.throttle_pct != 0.0 and time.monotonic() - killed < 5:
                await asyncio.sleep(0.005)
            assert cable.device.throttle_pct == 0.0
            assert cable.device.last_cut["code"] == "link_lost"
            writer.close()

        played(scene)
    finally:
        driver.kill()
        driver.wait()
        driver.stdout.close()
