"""How packs stand: what was said last, what runs took since, and what the plan makes of it."""

import datetime

import pytest
from django.utils import timezone

from spindle_bench.states import Outcome, RunEnd
from spindle_server.rig.models import PackSaid, Supply

from .test_driving import send
from .test_joined_packs import join, packs  # noqa: F401 - a fixture


@pytest.fixture
def pack(db):
    return Supply.objects.create(
        name="Pack 4-1",
        kind="pack",
        cells=4,
        capacity_mah=850.0,
        nominal_voltage_v=14.8,
        open_circuit_v=16.6,
    )


def standing(api, pk):
    return next(one for one in api.get("/api/v1/packs-now/").json() if one["supply"] == pk)


def say(api, pk, state, **more):
    return api.put(f"/api/v1/packs-now/{pk}/", {"state": state, **more}, format="json")


@pytest.fixture
def ran_on(record):
    """A run on a supply: 2 s each at 9, 18 and 30 A are 31.7 mAh."""

    def make(supply, **changes):
        run = record()
        run.supply_id = supply if isinstance(supply, int) else supply.pk
        for name, value in changes.items():
            setattr(run, name, value)
        run.save()
        return run

    return make


TOOK_MAH = 2 * (9 + 18 + 30) / 3.6


def test_nobody_said_anything_of_it_and_it_may_run(api, pack):
    found = standing(api, pack.pk)
    assert found["state"] == "unknown"
    assert found["waits"] == ""
    assert found["used_mah"]["value"] is None
    assert "not known" in found["used_mah"]["why"]


def test_a_run_makes_a_full_pack_part_used(api, pack, ran_on):
    ran_on(pack)  # before it was charged
    assert say(api, pack.pk, "full").status_code == 200
    assert standing(api, pack.pk)["runs"] == 0
    ran_on(pack)
    ran_on(pack)
    found = standing(api, pack.pk)
    assert (found["state"], found["runs"]) == ("part_used", 2)
    assert found["used_mah"]["value"] == pytest.approx(2 * TOOK_MAH, rel=0.02)
    assert found["used_mah"]["u"] == pytest.approx(2 * TOOK_MAH * 0.02, rel=0.05)
    assert found["left_mah"]["value"] == pytest.approx(0.8 * 850 - 2 * TOOK_MAH, rel=0.02)


@pytest.mark.parametrize(
    "how",
    [{"origin": "import"}, {"review": "rejected", "review_reason": "loose"}],
    ids=["imported", "rejected"],
)
def test_what_was_imported_took_nothing_and_what_was_rejected_did(api, pack, ran_on, how):
    say(api, pack.pk, "full")
    ran_on(pack, **how)
    assert standing(api, pack.pk)["runs"] == (0 if how.get("origin") else 1)


def test_a_run_of_another_supply_takes_nothing(api, pack, record):
    say(api, pack.pk, "full")
    record()
    assert standing(api, pack.pk)["state"] == "full"


def test_used_up_it_waits_until_somebody_says_it_was_charged(api, pack, ran_on):
    say(api, pack.pk, "part_used", used_mah=660)
    ran_on(pack)
    found = standing(api, pack.pk)
    assert "charge it first" in found["waits"]
    say(api, pack.pk, "full")
    assert standing(api, pack.pk)["waits"] == ""
    row = PackSaid.objects.get()
    assert [line.state for line in row.history.all()] == ["full", "part_used"]
    assert row.used_mah is None


@pytest.mark.parametrize("state", ["charging", "resting"])
def test_on_the_charger_it_waits(api, pack, state):
    assert say(api, pack.pk, state).json()["waits"].startswith("Pack 4-1 is ")


def test_a_run_without_current_makes_it_unknown(api, pack, ran_on, monkeypatch):
    say(api, pack.pk, "full")
    run = ran_on(pack)
    run.kind = "readings"
    run.save()
    found = standing(api, pack.pk)
    assert found["used_mah"]["value"] is None
    assert "typed" in found["used_mah"]["why"]
    assert found["state"] == "part_used"


@pytest.mark.parametrize(
    ("body", "field"),
    [
        ({"state": "empty"}, "state"),
        ({"state": "unknown"}, "state"),
        ({"state": "part_used", "used_mah": -1}, "used_mah"),
        ({"state": "part_used", "used_mah": 851}, "used_mah"),
        ({"state": "full", "used_mah": 1}, "used_mah"),
        ({"state": "part_used", "used_mah": "1,5"}, "used_mah"),
        ({"state": "full", "charged": True}, "charged"),
    ],
)
def test_what_cannot_be_said_is_refused_beside_its_field(api, pack, body, field):
    answer = api.put(f"/api/v1/packs-now/{pack.pk}/", body, format="json")
    assert answer.status_code == 400
    assert field in answer.json()["fields"]
    assert not PackSaid.objects.exists()


def test_a_bench_supply_is_never_charged(api, rig):
    answer = say(api, rig["supply"].pk, "full")
    assert answer.status_code == 400
    assert "bench supply" in answer.json()["message"]
    assert rig["supply"].pk not in {one["supply"] for one in api.get("/api/v1/packs-now/").json()}


def test_joined_packs_stand_as_their_worst(api, packs, ran_on):  # noqa: F811
    first, second = packs
    whole = join(api, "series", first, second).json()
    assert say(api, whole["id"], "full").status_code == 400
    say(api, first["id"], "full")
    say(api, second["id"], "charging")
    found = standing(api, whole["id"])
    assert found["state"] == "charging"
    assert found["waits"] == "B is on the charger"
    ran_on(whole["id"])
    # Whoever ran it took it off the charger; both gave all of the charge.
    assert standing(api, first["id"])["used_mah"]["value"] == pytest.approx(TOOK_MAH, rel=0.02)
    assert standing(api, second["id"])["used_mah"]["value"] is None


def test_in_parallel_each_gives_by_its_capacity(api, packs, ran_on):  # noqa: F811
    first, second = packs
    whole = join(api, "parallel", first, second).json()
    for one in packs:
        say(api, one["id"], "full")
    ran_on(whole["id"])
    used = [standing(api, one["id"])["used_mah"]["value"] for one in packs]
    assert used == pytest.approx([TOOK_MAH / 3, 2 * TOOK_MAH / 3], rel=0.02)


def test_a_run_that_has_not_ended_counts_when_it_has(api, pack, ran_on):
    say(api, pack.pk, "full")
    run = ran_on(pack)
    end = run.end
    end.delete()
    assert standing(api, pack.pk)["runs"] == 0


def test_a_run_that_was_stopped_took_what_it_took(api, pack, ran_on, record, rig):
    say(api, pack.pk, "full")
    run = record(end=RunEnd(Outcome.STOPPED, "stopped", "By hand."))
    run.supply = pack
    run.save()
    assert standing(api, pack.pk)["used_mah"]["value"] == pytest.approx(TOOK_MAH, rel=0.02)


# ---- what the plan makes of it -------------------------------------------------------------------


@pytest.fixture
def campaign(api, rig, pack):
    body = {
        "title": "Which of them?",
        "samples": [one.pk for one in rig["samples"]],
        "propellers": [rig["propeller"].pk],
        "supplies": [pack.pk, rig["supply"].pk],
    }
    return api.post("/api/v1/campaigns/", body, format="json").json()


def test_while_a_pack_charges_the_other_supply_is_proposed(api, campaign, pack, rig):
    address = f"/api/v1/campaigns/{campaign['id']}/meanwhile/?supply={pack.pk}"
    assert api.get(address).json()["waits"] == ""
    say(api, pack.pk, "charging")
    found = api.get(address).json()
    assert "on the charger" in found["waits"]
    assert found["supply_name"] == rig["supply"].name
    assert found["next"]["sample"] in campaign["samples"]
    onboard = api.get("/api/v1/plan/next/").json()["found"]
    assert onboard["supply_name"] == rig["supply"].name
    assert onboard["waits"] == ["Pack 4-1 is on the charger"]


def test_where_every_supply_waits_nothing_is_proposed(api, campaign, pack, rig):
    send(api, "patch", f"campaigns/{campaign['id']}/", supplies=[pack.pk], version=1)
    say(api, pack.pk, "resting")
    found = api.get("/api/v1/plan/next/").json()["found"]
    assert found["next"] is None
    assert "waits" in found["nothing_next"]
    meanwhile = api.get(f"/api/v1/campaigns/{campaign['id']}/meanwhile/").json()
    assert (meanwhile["supply"], meanwhile["next"]) == (None, None)


def test_what_was_said_yesterday_holds_today(api, pack, ran_on):
    say(api, pack.pk, "full")
    row = PackSaid.objects.get()
    row.said_at = timezone.now() - datetime.timedelta(days=1)
    row.save()
    ran_on(pack)
    assert standing(api, pack.pk)["state"] == "part_used"


def test_more_runs_than_a_charge_gives_leave_it_unknown_and_no_trace_is_read(
    api, pack, ran_on, monkeypatch
):
    say(api, pack.pk, "full")
    ran_on(pack)
    monkeypatch.setattr("spindle_server.runs.packs_now.MOST_A_CHARGE", 1)
    assert standing(api, pack.pk)["used_mah"]["value"] == pytest.approx(TOOK_MAH, rel=0.02)
    ran_on(pack)
    monkeypatch.setattr("spindle_server.runs.packs_now.run_trace", None)
    found = standing(api, pack.pk)
    assert found["used_mah"]["value"] is None
    assert "2 runs were made since" in found["used_mah"]["why"]
    assert (found["state"], found["waits"]) == ("part_used", "")


def test_packs_ask_as_much_for_many_as_for_one(api, pack, ran_on, django_assert_num_queries):
    say(api, pack.pk, "full")
    ran_on(pack)
    standing(api, pack.pk)
    with django_assert_num_queries(6):
        standing(api, pack.pk)
    for number in range(3):
        other = Supply.objects.create(
            name=f"More {number}", kind="pack", cells=4, capacity_mah=850, nominal_voltage_v=14.8
        )
        say(api, other.pk, "full")
        ran_on(other)
    standing(api, pack.pk)
    with django_assert_num_queries(6):
        standing(api, pack.pk)
