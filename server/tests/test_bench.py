"""The bench over the API, with a real agent on a real socket behind it."""

import asyncio
import contextlib
import threading
import uuid

import pytest

from spindle_bench.agent.process import Agent
from spindle_bench.delivery import Delivery
from spindle_bench.plan import CHECKLIST
from spindle_bench.rehearsal import rehearse
from spindle_bench.spool import Spool
from spindle_bench.stand.device import SimulatedStand
from spindle_bench.stand.server import StandServer
from spindle_server.bench.services import plan_run
from spindle_server.runs.models import Run
from spindle_server.runs.store import DatabaseRunStore


class NoStore:
    """A store that is never reached: these tests are about the door, not the record."""

    def begin_run(self, plan, channels):
        raise ConnectionError


@pytest.fixture
def agent(settings, tmp_path):
    """Stand and agent in a thread of their own."""
    settings.AGENT_SOCKET = tmp_path / "agent.sock"
    stand, loop = SimulatedStand(seed=5, heartbeat_limit_s=5.0), asyncio.new_event_loop()
    ready = threading.Event()

    async def serve():
        server, listening = StandServer(stand), asyncio.Event()
        serving = asyncio.create_task(server.serve("127.0.0.1", 0, listening))
        await listening.wait()
        agent = Agent(
            folder=tmp_path / "agent", socket_path=settings.AGENT_SOCKET,
            stand_port=server.port, store=NoStore(),
        )  # fmt: skip
        running = asyncio.create_task(agent.run())
        while agent.engine.hello is None or not settings.AGENT_SOCKET.exists():
            await asyncio.sleep(0.01)
        ready.set()
        try:
            await asyncio.Event().wait()
        finally:
            for task in (running, serving):
                task.cancel()
                with contextlib.suppress(asyncio.CancelledError):
                    await task

    task = loop.create_task(serve())
    thread = threading.Thread(
        target=lambda: contextlib.suppress(asyncio.CancelledError).__enter__()
        or _run(loop, task)
    )  # fmt: skip
    thread.start()
    assert ready.wait(20)
    yield stand
    loop.call_soon_threadsafe(task.cancel)
    thread.join(20)


def _run(loop, task):
    with contextlib.suppress(asyncio.CancelledError):
        loop.run_until_complete(task)
    loop.close()


def arm_body(rig, **changed):
    return {
        "run_id": str(uuid.uuid4()), "sample": rig["samples"][0].pk,
        "propeller": rig["propeller"].pk, "supply": rig["supply"].pk, "stand": rig["stand"].pk,
        "profile": {"levels_pct": [30]}, "limits": {"current_a": 40},
        "checklist": list(CHECKLIST), **changed,
    }  # fmt: skip


def test_arm_and_stop(api, rig, agent):
    armed = api.post("/api/v1/bench/arm/", arm_body(rig), format="json")
    assert armed.status_code == 200, armed.json()
    assert armed.json()["state"] == "armed"
    assert "Sable" in armed.json()["title"]
    stopped = api.post("/api/v1/bench/stop/").json()
    assert stopped["state"] in ("aborting", "safe")
    assert stopped["message"] == "stopped by reviewer"


def test_what_the_door_refuses(api, rig, agent):
    unready = api.post("/api/v1/bench/start/")
    assert (unready.status_code, unready.json()["code"]) == (409, "state")
    unchecked = api.post(
        "/api/v1/bench/arm/", arm_body(rig, checklist=["prop_checked"]), format="json"
    )
    assert (unchecked.status_code, unchecked.json()["code"]) == (409, "checklist")
    impossible = api.post(
        "/api/v1/bench/arm/", arm_body(rig, profile={"levels_pct": [130]}), format="json"
    )
    assert impossible.json()["code"] == "plan"
    above_trip = api.post(
        "/api/v1/bench/arm/", arm_body(rig, limits={"current_a": 60}), format="json"
    )
    assert "current_a" in above_trip.json()["fields"]
    assert agent.armed is False


def test_without_an_agent_the_answer_is_a_sentence(api, settings, tmp_path):
    settings.AGENT_SOCKET = tmp_path / "none.sock"
    answer = api.get("/api/v1/bench/")
    assert (answer.status_code, answer.json()["code"]) == (503, "unreachable")


def test_a_stranger_gets_no_stream(client, db):
    assert client.get("/api/v1/bench/stream/").status_code == 401


def test_from_plan_to_record_through_the_spool(rig, people, tmp_path):
    """The engine's samples reach the database whole, with figures and the end record."""
    plan = plan_run(
        actor=people["reviewer"], sample=rig["samples"][0], propeller=rig["propeller"],
        supply=rig["supply"], stand=rig["stand"], profile={"levels_pct": [40], "dwell_s": 2.0},
        limits={"current_a": 40}, rate_hz=100.0, air_temp_c=22.0, air_pressure_hpa=1000.0,
    )  # fmt: skip
    played = rehearse(plan, SimulatedStand(seed=6)).recorder
    spool = Spool(tmp_path)
    spool.begin(plan, played.channels)
    spool.add(played.times_s, played.rows)
    spool.end(played.ends[0])
    Delivery(tmp_path, DatabaseRunStore()).deliver()
    run = Run.objects.get(uid=plan.run_id)
    assert run.end.outcome == "completed"
    assert run.segments.count() == -(-len(played.rows) // 100)
    assert sum(s.row_count for s in run.segments.all()) == len(played.rows)
    assert run.operator == people["reviewer"]
    (point,) = run.reduction.result["points"]
    assert point["throttle_pct"]["value"] == 40
    assert run.limits["current_a"] == 40
