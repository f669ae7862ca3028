"""The bench over the API, with a real agent on a real socket behind it."""

import asyncio
import contextlib
import dataclasses
import threading
import time
import uuid
from datetime import timedelta

import numpy as np
import pytest
from django.db import IntegrityError, OperationalError, transaction
from django.utils import timezone

from spindle_bench.agent.process import Agent
from spindle_bench.delivery import Delivery, Segment
from spindle_bench.door.token import verify
from spindle_bench.errors import BenchError, StoreAwayError
from spindle_bench.plan import checklist_of
from spindle_bench.rehearsal import rehearse
from spindle_bench.spool import Spool
from spindle_bench.stand.device import SimulatedStand
from spindle_bench.stand.server import StandServer
from spindle_bench.states import Outcome, RunEnd
from spindle_core.formats.trace_parquet import encode_segment
from spindle_server.bench.models import LookAround
from spindle_server.bench.services import plan_run
from spindle_server.runs.models import Run
from spindle_server.runs.store import DatabaseRunStore


class NoStore:
    """A store that is never reached: these tests are about the door, not the record."""

    def begin_run(self, plan, channels):
        raise StoreAwayError("away")


@pytest.fixture
def agent(settings, tmp_path):
    """Stand and agent in a thread of their own."""
    settings.AGENT_SOCKET = tmp_path / "agent.sock"
    stand, loop = SimulatedStand(seed=5, heartbeat_limit_s=1.0), asyncio.new_event_loop()
    ready = threading.Event()

    async def serve():
        server, listening = StandServer(stand), asyncio.Event()
        serving = asyncio.create_task(server.serve("127.0.0.1", 0, listening))
        await listening.wait()
        agent = Agent(
            folder=tmp_path / "agent",
            socket_path=settings.AGENT_SOCKET,
            stand_port=server.port,
            store=NoStore(),
        )
        running = asyncio.create_task(agent.run())
        while agent.engine.hello is None or not settings.AGENT_SOCKET.exists():
            await asyncio.sleep(0.01)
        ready.set()
        try:
            while True:  # a page is open
                agent.engine.pages(time.monotonic(), ago_s=0.0)
                await asyncio.sleep(0.1)
        finally:
            for task in (running, serving):
                task.cancel()
                with contextlib.suppress(asyncio.CancelledError):
                    await task

    task = loop.create_task(serve())
    thread = threading.Thread(
        target=lambda: contextlib.suppress(asyncio.CancelledError).__enter__() or _run(loop, task)
    )
    thread.start()
    assert ready.wait(20)
    yield stand
    loop.call_soon_threadsafe(task.cancel)
    thread.join(20)


def _run(loop, task):
    with contextlib.suppress(asyncio.CancelledError):
        loop.run_until_complete(task)
    loop.close()


OFF = ["power_w", "speed_rpm", "vibration_g", "voltage_floor_v"]
LIMITS = {
    "current_a": 40,
    "motor_temp_c": 90,
    "thrust_gf": 4000,
    "lost_rpm_s": 0.4,
    **dict.fromkeys(OFF),
}


def arm_body(rig, **changed):
    return {
        "sample": rig["samples"][0].pk,
        "propeller": rig["propeller"].pk,
        "supply": rig["supply"].pk,
        "stand": rig["stand"].pk,
        "profile": {"levels_pct": [30]},
        "limits": LIMITS,
        "limits_off": OFF,
        "checklist": checklist_of(OFF),
        **changed,
    }


def disarmed(stand):
    """Wait for a command that is on its way through a socket."""
    until = time.monotonic() + 5
    while stand.armed and time.monotonic() < until:
        time.sleep(0.01)
    assert stand.armed is False


def at_rest(api):
    """Wait until the bench may be armed again."""
    until = time.monotonic() + 20
    while time.monotonic() < until:
        if api.get("/api/v1/bench/").json()["state"] in ("idle", "safe", "zeroed"):
            return
        time.sleep(0.05)
    raise AssertionError("the bench does not come to rest")


def post(api, address, body=None):
    return api.post(f"/api/v1/bench/{address}/", body, format="json")


def test_arm_and_stop(api, rig, agent):
    armed = post(api, "arm", arm_body(rig))
    assert armed.status_code == 200, armed.json()
    assert armed.json()["state"] == "armed"
    assert "Sable" in armed.json()["title"]
    states = {row["name"]: (row["state"], row["off_by"]) for row in armed.json()["limits"]}
    assert states["vibration_g"] == ("off", "reviewer")
    assert states["current_a"] == ("on", "")
    stopped = post(api, "stop").json()
    assert stopped["state"] in ("aborting", "coasting", "safe")
    assert stopped["message"] == "Stopped by reviewer."


def test_the_look_around_is_whole_once_and_then_what_changed(api, as_role, rig, agent):
    asked = {"sample": rig["samples"][0].pk, "load": rig["propeller"].pk}
    asked |= {"supply": rig["supply"].pk, "stand": rig["stand"].pk, "kind": "steps", "off": OFF}

    def items(client=api, **changed):
        answer = client.get("/api/v1/bench/checklist/", {**asked, **changed})
        assert answer.status_code == 200, answer.json()
        return answer.json()["items"]

    assert items() == checklist_of(OFF)
    few = post(api, "arm", arm_body(rig, checklist=["prop_plane_clear"]))
    assert (few.status_code, few.json()["code"]) == (409, "checklist")
    # What was refused was not confirmed either.
    assert items() == checklist_of(OFF)
    assert post(api, "arm", arm_body(rig)).status_code == 200
    post(api, "stop")
    at_rest(api)
    assert items() == ["prop_plane_clear"]
    assert items(load=rig["propeller"].pk + 1) == [
        "guard_in_place",
        "prop_plane_clear",
        "prop_checked",
    ]
    # Another person looks for themselves.
    assert items(as_role("editor")) == checklist_of(OFF)
    assert (
        post(as_role("editor"), "arm", arm_body(rig, checklist=["prop_plane_clear"])).json()["code"]
        == "checklist"
    )
    repeat = post(api, "arm", arm_body(rig, checklist=["prop_plane_clear"]))
    assert repeat.status_code == 200, repeat.json()
    post(api, "stop")
    at_rest(api)
    yesterday = timezone.now() - timedelta(days=1)
    LookAround.objects.update(at=yesterday)
    assert items() == checklist_of(OFF)


def test_after_a_run_that_was_cut_everything_is_looked_at_again(api, rig, agent, record, people):
    assert post(api, "arm", arm_body(rig)).status_code == 200
    post(api, "stop")
    disarmed(agent)
    run = record(end=RunEnd(Outcome.LIMIT, "limit_current_a", "Current above its limit."))
    LookAround.objects.update(run_id=str(run.uid))
    asked = {"sample": rig["samples"][0].pk, "load": rig["propeller"].pk}
    asked |= {"supply": rig["supply"].pk, "stand": rig["stand"].pk, "off": OFF}
    found = api.get("/api/v1/bench/checklist/", asked).json()
    assert found["items"] == checklist_of(OFF)
    assert "was cut" in found["why"]


@pytest.mark.parametrize(
    ("profile", "propeller", "field"),
    [
        ({"kind": "ramp"}, True, None),
        ({"kind": "ramp"}, False, "propeller"),
        ({"kind": "no_load"}, False, None),
        ({"kind": "hold"}, True, "targets_gf"),
        ({"kind": "hold", "targets_gf": [200, 400]}, True, None),
        ({"kind": "soak", "level_pct": 50, "until_c": None}, True, None),
        ({"kind": "soak", "level_pct": "50"}, True, "level_pct"),
        ({"kind": "peak", "levels_pct": [50]}, True, "levels_pct"),
        ({"kind": "readings"}, True, "kind"),
        (
            {
                "kind": "flywheel",
                "inertia_kg_mm2": 62,
                "rated_speed_rpm": 20000,
                "spin_up_to_rpm": 12000,
            },
            False,
            "speed_rpm",
        ),
    ],
)
def test_kinds_are_planned_or_refused_beside_their_field(
    api, rig, agent, profile, propeller, field
):
    body = arm_body(rig, profile=profile)
    if not propeller:
        del body["propeller"]
    body["checklist"] = [*body["checklist"], "shaft_bare", "wheel_guard"]
    answer = post(api, "arm", body)
    if field is None:
        assert answer.status_code == 200, answer.json()
        post(api, "stop")
        disarmed(agent)
    else:
        assert answer.status_code in (400, 409), answer.json()
        assert any(field in name for name in answer.json()["fields"]), answer.json()


def test_a_profile_is_looked_at_before_it_is_armed(api):
    course = post(api, "profile", {"kind": "response", "cycles": 2}).json()
    assert course["highest_pct"] == 55
    assert course["depends"] is False
    assert course["duration_s"] == pytest.approx(sum(s["seconds"] for s in course["segments"]))
    held = post(api, "profile", {"kind": "hold", "targets_gf": [300]}).json()
    assert held["depends"] is True
    wrong = post(api, "profile", {"kind": "ramp", "from_pct": 50, "to_pct": 40})
    assert wrong.status_code == 409
    assert "to_pct" in wrong.json()["fields"]


def test_what_a_kind_is_reduced_by_stands_in_its_run(rig, people):
    planned = plan_run(
        actor=people["reviewer"],
        sample=rig["samples"][0],
        propeller=None,
        supply=rig["supply"],
        stand=rig["stand"],
        profile={
            "kind": "flywheel",
            "inertia_kg_mm2": 62.5,
            "rated_speed_rpm": 20_000,
            "spin_up_to_rpm": 12_000,
        },
        limits={"current_a": 50, "speed_rpm": 20_000, "lost_rpm_s": 0.4},
        limits_off=["power_w", "motor_temp_c", "thrust_gf", "vibration_g", "voltage_floor_v"],
    )
    assert planned.facts["load"] == "flywheel"
    assert "propeller" not in planned.facts
    store = DatabaseRunStore()
    store.begin_run(planned, ["speed_rpm"])
    run = Run.objects.get(uid=planned.run_id)
    assert (run.kind, run.propeller) == ("flywheel", None)
    assert run.header == {
        "inertia_kg_mm2": "62.5",
        "spin_up_from_rpm": "4000",
        "spin_up_to_rpm": "12000",
    }


def test_a_reader_stops_and_does_nothing_else(as_role, api, rig, agent):
    assert post(api, "arm", arm_body(rig)).status_code == 200
    reader = as_role("reader")
    assert post(reader, "arm", arm_body(rig)).status_code == 403
    assert post(reader, "stop").json()["message"] == "Stopped by reader."
    disarmed(agent)


def test_start_belongs_to_run_and_person(as_role, api, rig, agent):
    run_id = post(api, "arm", arm_body(rig)).json()["run_id"]
    other = post(as_role("editor"), "start", {"run_id": run_id})
    assert (other.status_code, other.json()["code"]) == (409, "other_person")
    late = post(api, "start", {"run_id": str(uuid.uuid4())})
    assert (late.status_code, late.json()["code"]) == (409, "other_run")
    assert post(api, "start").status_code == 400
    assert agent.armed is True
    assert post(api, "start", {"run_id": run_id}).json()["state"] == "running"


def test_an_id_is_made_by_the_server_and_by_nobody_else(api, rig, agent):
    answer = post(api, "arm", arm_body(rig, run_id=str(uuid.uuid4())))
    assert (answer.status_code, answer.json()["fields"]) == (
        400,
        {"run_id": ["This is not known here."]},
    )
    assert agent.armed is False


@pytest.mark.parametrize(
    ("limits", "off", "field"),
    [
        ({**LIMITS, "motor_temp_c": None}, OFF, "motor_temp_c"),
        ({**LIMITS, "motor_temp_c": "90,0"}, OFF, "limits.motor_temp_c"),
        ({**LIMITS, "motor_temp_c": "90"}, OFF, "limits.motor_temp_c"),
        ({**LIMITS, "motor_temp_c": 180}, OFF, "motor_temp_c"),
        ({**LIMITS, "thrust_gf": 9000}, OFF, "thrust_gf"),
        ({**LIMITS, "current_a": 60}, OFF, "current_a"),
        ({**LIMITS, "current_a": None}, OFF, "limits.current_a"),
        ({**LIMITS, "current_a": 999_999}, OFF, "current_a"),
        ({**LIMITS, "voltage_floor_v": 5}, OFF[:3], "voltage_floor_v"),
        ({**LIMITS, "voltage_floor_v": 16.5}, OFF[:3], "voltage_floor_v"),
        ({**LIMITS, "motr_temp_c": 90}, OFF, "limits.motr_temp_c"),
        ({"current_a": 40}, OFF, "limits.motor_temp_c"),
    ],
)
def test_a_limit_that_is_no_limit_is_refused_beside_its_field(api, rig, agent, limits, off, field):
    body = arm_body(rig, limits=limits, limits_off=off, checklist=checklist_of(off))
    answer = post(api, "arm", body)
    assert answer.status_code in (400, 409)
    assert field in answer.json()["fields"]
    assert agent.armed is False


@pytest.mark.parametrize("nominal_v", [14.8, 16.0, 22.2, 13.37])
def test_the_floor_that_a_supply_is_told_with_is_one_that_is_taken(api, rig, agent, nominal_v):
    psu = {"name": "Supply between", "kind": "psu", "nominal_voltage_v": nominal_v}
    supply = api.post("/api/v1/supplies/", psu, format="json").json()
    told = {"supply": supply["id"], "limits_off": OFF[:3], "checklist": checklist_of(OFF[:3])}
    below = post(
        api,
        "arm",
        arm_body(rig, **told, limits={**LIMITS, "voltage_floor_v": supply["floor_v"] - 0.01}),
    ).json()
    assert f"not run below {supply['floor_v']:g} V" in below["fields"]["voltage_floor_v"][0]
    taken = arm_body(rig, **told, limits={**LIMITS, "voltage_floor_v": supply["floor_v"]})
    answer = post(api, "arm", taken)
    assert answer.status_code == 200, answer.json()


def test_what_the_door_refuses(api, rig, agent):
    unready = post(api, "start", {"run_id": str(uuid.uuid4())})
    assert (unready.status_code, unready.json()["code"]) == (409, "state")
    unchecked = post(api, "arm", arm_body(rig, checklist=["prop_checked"]))
    assert (unchecked.status_code, unchecked.json()["code"]) == (409, "checklist")
    off_unconfirmed = post(api, "arm", arm_body(rig, checklist=checklist_of(OFF[:2])))
    assert "off vibration g" in off_unconfirmed.json()["message"]
    impossible = post(api, "arm", arm_body(rig, profile={"levels_pct": [130]}))
    assert impossible.json()["code"] == "plan"
    grace = post(api, "arm", arm_body(rig, page_grace_s=30))
    assert "page_grace_s" in grace.json()["fields"]
    assert agent.armed is False


@pytest.mark.parametrize(
    "air",
    [
        {"air_pressure_hpa": 98_500},
        {"air_pressure_hpa": 28},
        {"air_temp_c": -300},
        {"air_humidity_pct": 400},
        {"air_temp_c": "nan"},
        {"air_pressure_hpa": "985,0"},
    ],
)
def test_air_that_could_never_be_stored_is_refused_before_anything_spins(api, rig, agent, air):
    answer = post(api, "arm", arm_body(rig, **air))
    assert answer.status_code == 400
    assert [*answer.json()["fields"]] == [*air]


def test_pressure_without_a_temperature_is_a_run_that_can_be_stored(api, rig, agent):
    assert post(api, "arm", arm_body(rig, air_pressure_hpa=985)).status_code == 200


def test_a_page_gets_its_pass_to_the_door(api, settings):
    settings.DOOR_KEY, settings.DOOR_PORT = "a key", 8999
    given = api.get("/api/v1/bench/door/").json()
    assert given["port"] == 8999
    assert verify(given["token"], key="a key", now=time.time() + 11 * 3600).name == "reviewer"
    settings.DOOR_KEY = ""
    assert api.get("/api/v1/bench/door/").json()["code"] == "no_door"


def test_a_database_that_is_away_is_a_sentence_and_no_defect(api, monkeypatch):
    def away(*ignored, **also):
        raise OperationalError(2013, "Lost connection to server during query")

    monkeypatch.setattr("spindle_server.bench.services.command", away)
    answer = api.get("/api/v1/bench/")
    assert (answer.status_code, answer.json()["code"]) == (503, "database_away")


def test_without_an_agent_the_answer_is_a_sentence(api, settings, tmp_path):
    settings.AGENT_SOCKET = tmp_path / "none.sock"
    answer = api.get("/api/v1/bench/")
    assert (answer.status_code, answer.json()["code"]) == (503, "unreachable")


def test_a_stranger_gets_no_stream(client, db):
    assert client.get("/api/v1/bench/stream/").status_code == 401


def test_from_plan_to_record_through_the_spool(rig, people, tmp_path):
    """The engine's samples reach the database whole, with figures and the end record."""
    plan = plan_run(
        actor=people["reviewer"],
        sample=rig["samples"][0],
        propeller=rig["propeller"],
        supply=rig["supply"],
        stand=rig["stand"],
        profile={"levels_pct": [40], "dwell_s": 2.0},
        limits=LIMITS,
        limits_off=OFF,
        rate_hz=100.0,
        air_temp_c=22.0,
        air_pressure_hpa=1000.0,
    )
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
    assert run.limits_off["vibration_g"] == "reviewer"
    assert run.end.by == ""


def a_plan(rig, people, run_id=None, **changed):
    plan = plan_run(
        actor=people["reviewer"],
        sample=rig["samples"][0],
        propeller=rig["propeller"],
        supply=rig["supply"],
        stand=rig["stand"],
        profile={"levels_pct": [40]},
        limits=LIMITS,
        limits_off=OFF,
        rate_hz=100.0,
        run_id=run_id,
    )
    return dataclasses.replace(plan, arming=str(uuid.uuid4()), **changed)


def test_nothing_is_added_to_a_run_of_another_arming(rig, people, tmp_path):
    """An id that comes twice, by whatever way: the first run stays as it is."""
    store, first = DatabaseRunStore(), a_plan(rig, people)
    spool = Spool(tmp_path)
    spool.begin(first, ["throttle_pct"])
    spool.add([0.0, 0.01], [[0.0], [0.0]])
    spool.end(RunEnd(Outcome.STOPPED, "stopped", "Stopped by Ilse.", "Ilse"))
    Delivery(tmp_path, store).deliver()
    other = a_plan(rig, people, run_id=first.run_id)
    spool.begin(other, ["throttle_pct"])
    spool.add([5.0, 5.01, 5.02], [[50.0], [50.0], [50.0]])
    spool.end(RunEnd(Outcome.COMPLETED, "completed", "The profile ran to its end."))
    delivery = Delivery(tmp_path, store)
    delivery.deliver()
    run = Run.objects.get(uid=first.run_id)
    assert [s.row_count for s in run.segments.all()] == [2]
    assert (run.end.reason, run.end.by) == ("Stopped by Ilse.", "Ilse")
    [aside] = delivery.set_aside
    assert "another arming" in aside.reason


def test_nothing_is_added_to_a_run_that_has_ended(rig, people):
    store, plan = DatabaseRunStore(), a_plan(rig, people)
    segment = Segment(0, 0, 1, 0.0, 0.0, encode_segment(np.zeros(1), {"throttle_pct": np.zeros(1)}))
    store.begin_run(plan, ["throttle_pct"])
    store.add_segment(plan.run_id, segment)
    store.end_run(plan.run_id, {"outcome": "fault", "code": "clock", "reason": "x"})
    with pytest.raises(BenchError, match="ended"):
        store.add_segment(plan.run_id, dataclasses.replace(segment, index=1))
    store.end_run(plan.run_id, {"outcome": "completed", "code": "completed", "reason": "y"})
    assert Run.objects.get(uid=plan.run_id).end.code == "clock"


def test_a_database_that_is_away_is_told_from_a_run_it_refuses(rig, people, monkeypatch):
    store, plan = DatabaseRunStore(), a_plan(rig, people)
    plan.record["air_pressure_hpa"] = 5.0
    with pytest.raises(IntegrityError), transaction.atomic():
        store.begin_run(plan, ["throttle_pct"])

    def away(*ignored, **also):
        raise OperationalError(2006, "Server has gone away")

    monkeypatch.setattr(Run.objects, "filter", away)
    with pytest.raises(StoreAwayError):
        store.begin_run(plan, ["throttle_pct"])


def test_what_is_in_hand_is_expected_along_its_throttles(api, rig, agent):
    nothing = api.get("/api/v1/bench/in-hand/").json()
    assert nothing == {"run_id": None, "guarded": False, "curve": []}
    body = arm_body(rig, profile={"kind": "steps", "levels_pct": [30, 60, 60]})
    armed = post(api, "arm", body)
    assert armed.status_code == 200, armed.json()
    found = api.get("/api/v1/bench/in-hand/").json()
    assert found["run_id"] == armed.json()["run_id"]
    assert found["guarded"] is True
    assert [step["throttle_pct"] for step in found["curve"]] == [30.0, 60.0]
    current = {f["name"]: f for f in found["curve"][1]["figures"]}["current_a"]
    assert 0 < current["u"] < current["value"]
    post(api, "stop")
    disarmed(agent)


def test_a_kind_that_bounds_itself_is_not_guarded(api, rig, agent):
    body = arm_body(rig, profile={"kind": "hold", "targets_gf": [100]})
    assert post(api, "arm", body).status_code == 200
    found = api.get("/api/v1/bench/in-hand/").json()
    assert (found["guarded"], found["curve"]) == (False, [])
    post(api, "stop")
    disarmed(agent)


def test_nothing_that_goes_wrong_in_a_forecast_keeps_a_run_from_being_made(
    monkeypatch, people, rig
):
    def broken(*args, **kwargs):
        raise ZeroDivisionError("a defect")

    monkeypatch.setattr("spindle_server.identification.knowing.predict_curve", broken)
    made = plan_run(
        actor=people["reviewer"],
        sample=rig["samples"][0],
        propeller=rig["propeller"],
        supply=rig["supply"],
        stand=rig["stand"],
        profile={"levels_pct": [30]},
        limits=LIMITS,
        limits_off=OFF,
    )
    assert made.guarded is True
    assert made.curve == ()
