"""What went wrong with ESCs, packs, propellers and stands."""

import pytest
from django.db import IntegrityError, transaction

from spindle_server.rig.models import Esc, GearIncident

DAY = "2026-10-05"


@pytest.fixture
def esc(db):
    return Esc.objects.create(name="Tarn 45")


def note(api, **body):
    return api.post("/api/v1/gear-incidents/", {"happened_on": DAY, **body}, format="json")


def test_an_incident_hangs_on_one_thing(api, rig, esc):
    for thing, name in (
        ({"esc": esc.pk}, "Tarn 45"),
        ({"supply": rig["supply"].pk}, rig["supply"].name),
        ({"propeller": rig["propeller"].pk}, rig["propeller"].full_name),
        ({"stand": rig["stand"].pk}, rig["stand"].name),
    ):
        made = note(api, kind="other", note="smelt odd", **thing)
        assert made.status_code == 201, made.json()
        assert made.json()["thing_name"] == name
    listed = api.get("/api/v1/gear-incidents/").json()
    assert listed["count"] == 4
    assert {row["noted_by_name"] for row in listed["results"]} != {""}


@pytest.mark.parametrize(
    ("body", "field"),
    [
        ({"kind": "burnt"}, "thing"),
        ({"kind": "burnt", "esc": 1, "stand": 1}, "thing"),
        ({"kind": "bored", "esc": 1}, "kind"),
        ({"kind": "burnt", "esc": 999}, "esc"),
        ({"kind": "burnt", "esc": 1, "happened_on": "2199-01-01"}, "happened_on"),
    ],
)
def test_what_is_no_incident(api, rig, esc, body, field):
    known = {"esc": esc.pk, "stand": rig["stand"].pk}
    sent = {k: known[k] if v == 1 and k in known else v for k, v in body.items()}
    answer = note(api, **sent)
    assert answer.status_code == 400
    assert field in answer.json()["fields"]
    assert GearIncident.objects.count() == 0


def test_what_is_destroyed_is_retired_and_a_mistake_is_struck(api, esc):
    made = note(api, esc=esc.pk, kind="burnt", destroyed=True).json()
    esc.refresh_from_db()
    assert (esc.retired, esc.version) == (True, 2)
    path = f"/api/v1/gear-incidents/{made['id']}/"
    body = {"struck_reason": "it was the other one", "version": made["version"]}
    assert api.patch(path, body, format="json").json()["struck_reason"] == "it was the other one"
    assert api.patch(path, body | {"struck_reason": "x"}, format="json").status_code == 409
    # The second one of the same does no harm to what is retired already.
    assert note(api, esc=esc.pk, kind="burnt", destroyed=True).status_code == 201


def test_the_database_holds_it_too(esc, rig):
    for things in ({}, {"esc": esc, "stand": rig["stand"]}):
        with pytest.raises(IntegrityError), transaction.atomic():
            GearIncident.objects.create(kind="other", happened_on=DAY, **things)


def test_an_escs_bec_and_a_propellers_turn(api, rig, esc):
    path = f"/api/v1/escs/{esc.pk}/"
    changed = api.patch(path, {"bec_v": 5, "bec_a": 2, "version": 1}, format="json")
    assert (changed.json()["bec_v"], changed.json()["bec_a"]) == (5, 2)
    assert api.patch(path, {"bec_v": 0, "version": 2}, format="json").status_code == 400
    propeller = rig["propeller"]
    path = f"/api/v1/propellers/{propeller.pk}/"
    body = {"turns": "ccw", "version": propeller.version}
    assert api.patch(path, body, format="json").json()["turns"] == "ccw"
    assert api.patch(path, {"turns": "up", "version": 2}, format="json").status_code == 400
