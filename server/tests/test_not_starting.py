"""A motor that does not start: what was found is kept as an incident."""

import pytest

from spindle_server.motors.models import Incident


def found(api, sample, **body):
    return api.post(f"/api/v1/samples/{sample.pk}/not-starting/", body, format="json")


def test_what_to_look_at_comes_in_its_order(api):
    said = api.get("/api/v1/not-starting/").json()
    assert said["before"].startswith("Propeller off")
    assert [one["key"] for one in said["looks"]][:2] == ["signal", "arming"]
    assert said["looks"][0]["findings"][0]["suggests"] == ""


def test_what_was_found_is_an_incident_of_today(api, rig):
    sample = rig["samples"][0]
    made = found(
        api, sample, found={"signal": "ok", "bearing": "stuck"}, note="After the rain flight."
    )
    assert made.status_code == 201, made.json()
    row = Incident.objects.get()
    assert (row.sample, row.kind) == (sample, "seized")
    assert "It does not turn." in row.note
    assert row.note.endswith("After the rain flight.")
    assert not row.destroyed
    assert row.history.count() == 1


@pytest.mark.parametrize(
    "wrong", [{"found": {"colour": "red"}}, {"found": {"signal": "wet"}}, {"found": ["signal"]}, {}]
)
def test_what_cannot_be_found_is_refused(api, rig, wrong):
    answer = found(api, rig["samples"][0], **wrong)
    assert answer.status_code == 400
    assert "found" in answer.json()["fields"]
    assert not Incident.objects.exists()
