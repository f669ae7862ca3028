"""Agent and stand over real sockets: arm, run, watch, stop, deliver."""

import asyncio
import contextlib

import pytest

from spindle_bench.agent.control import ask, watch
from spindle_bench.agent.frames import ready_in_s
from spindle_bench.agent.process import Agent
from spindle_bench.errors import RefusedError, UnreachableError
from spindle_bench.plan import CHECKLIST
from spindle_bench.stand.device import SimulatedStand
from spindle_bench.stand.server import StandServer

from .conftest import make_plan
from .test_spool_and_delivery import Store


@contextlib.asynccontextmanager
async def whole_bench(folder):
    """A stand whose time runs fast, and an agent on it; yields socket path, stand and store."""
    stand, store = SimulatedStand(seed=2, speed=10.0, heartbeat_limit_s=5.0), Store()
    server, ready = StandServer(stand), asyncio.Event()
    serving = asyncio.create_task(server.serve("127.0.0.1", 0, ready))
    await ready.wait()
    socket_path = folder / "a.sock"
    agent = Agent(
        folder=folder / "agent", socket_path=socket_path, stand_port=server.port, store=store
    )
    running = asyncio.create_task(agent.run())
    try:
        while not socket_path.exists():
            await asyncio.sleep(0.01)
        await frame_where(socket_path, lambda frame: frame["link"])
        yield socket_path, stand, store
    finally:
        for task in (running, serving):
            task.cancel()
            with contextlib.suppress(asyncio.CancelledError):
                await task


async def frame_where(path, wanted):
    async with asyncio.timeout(20):
        async for frame in watch(path):
            if wanted(frame):
                return frame
    raise AssertionError("the frames ended")


async def request(path, **what):
    return await asyncio.to_thread(ask, path, what)


ARM = {"do": "arm", "plan": make_plan().as_json(), "checklist": list(CHECKLIST)}

# Six minutes of the stand's time: no pause of the machine is long enough to reach its end.
LONG = make_plan(levels=[30.0] * 6).as_json()
LONG["profile"]["dwell_s"] = 60.0
ARM_LONG = {**ARM, "plan": LONG}


def test_a_run_from_arming_to_the_store(tmp_path):
    async def scene():
        async with whole_bench(tmp_path) as (path, _, store):
            await request(path, **ARM)
            await request(path, do="start")
            live = await frame_where(path, lambda f: f["values"].get("thrust_gf", 0) > 100)
            assert live["state"] == "running"
            assert live["progress"]["total_s"] > 5
            done = await frame_where(path, lambda f: f["end"] and not f["waiting_runs"])
            assert (done["state"], done["end"]["outcome"]) == ("safe", "completed")
            assert store.ends == [("run-1", done["end"])]
            assert sum(s.row_count for s in store.segments["run-1"]) > 900

    asyncio.run(scene())


def test_stop_reaches_the_stand_and_the_run_is_kept(tmp_path):
    async def scene():
        async with whole_bench(tmp_path) as (path, stand, store):
            await request(path, **ARM_LONG)
            await request(path, do="start")
            await frame_where(path, lambda f: f["values"].get("throttle_pct", 0) > 5)
            await request(path, do="stop")
            await frame_where(path, lambda f: f["state"] == "safe")
            assert (stand.throttle_pct, stand.armed) == (0.0, False)
            await frame_where(path, lambda f: f["end"] and not f["waiting_runs"])
            assert store.ends[0][1]["reason"] == "stopped by reviewer"

    asyncio.run(scene())


def test_shutting_the_agent_down_makes_safe_and_delivers(tmp_path):
    async def scene():
        async with whole_bench(tmp_path) as (path, stand, store):
            await request(path, **ARM_LONG)
            await request(path, do="start")
            await frame_where(path, lambda f: f["values"].get("throttle_pct", 0) > 5)
        assert stand.throttle_pct == 0.0
        assert store.ends[0][1]["reason"] == "the bench agent was shut down"

    asyncio.run(scene())


def test_an_unconfirmed_checklist_is_refused(tmp_path):
    async def scene():
        async with whole_bench(tmp_path) as (path, stand, _):
            with pytest.raises(RefusedError) as caught:
                await request(path, **{**ARM, "checklist": ["guard_in_place"]})
            assert caught.value.code == "checklist"
            assert "eye protection" in caught.value.message
            with pytest.raises(RefusedError) as caught:
                await request(path, do="dance")
            assert caught.value.code == "unknown_request"
            assert not stand.armed

    asyncio.run(scene())


def test_without_an_agent_the_answer_is_a_sentence(tmp_path):
    with pytest.raises(UnreachableError):
        ask(tmp_path / "none.sock", {"do": "status"})


def test_ready_estimate():
    warm = {"motor_temp_c": 61.0, "ambient_temp_c": 23.0}
    # 140·ln(38/5) s
    assert ready_in_s(warm) == pytest.approx(284, abs=1)
    assert ready_in_s({"motor_temp_c": 25.0, "ambient_temp_c": 23.0}) == 0
    assert ready_in_s({"motor_temp_c": 25.0}) is None
