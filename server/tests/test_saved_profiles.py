"""Profiles that are kept by name."""

import pytest

from spindle_server.bench.models import SavedProfile

pytestmark = pytest.mark.django_db
AT = "/api/v1/bench/profiles/"
LADDER = {"kind": "steps", "levels_pct": [20, 40, 60], "dwell_s": 4}


def keep(api, **changes):
    body = {"name": "Ladder", "purpose": "figures for comparison", "profile": LADDER, **changes}
    return api.post(AT, body, format="json")


def test_a_profile_is_kept_whole_and_listed(api):
    made = keep(api)
    assert made.status_code == 201, made.json()
    assert made.json()["made_by_name"] == "reviewer"
    keep(api, name="A burst", purpose="", profile={"kind": "peak"})
    found = api.get(AT).json()
    assert [row["name"] for row in found] == ["A burst", "Ladder"]
    # What was not said is kept as it was then: a default that changes later changes nothing.
    assert found[1]["profile"] == {
        "kind": "steps",
        "levels_pct": [20.0, 40.0, 60.0],
        "dwell_s": 4.0,
        "ramp_pct_per_s": 40.0,
        "rest_s": 3.0,
    }
    assert found[0]["profile"]["bursts"] == 3.0


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"name": ""}, "name"),
        ({"name": "x" * 81}, "name"),
        ({"profile": {"kind": "steps", "levels_pct": [140]}}, "levels_pct"),
        ({"profile": {"kind": "steps", "levels_pct": ["40"]}}, "profile"),
        ({"profile": {"kind": "dance"}}, "profile"),
        ({"profile": {"kind": "ramp", "from_pct": 60, "to_pct": 20}}, "to_pct"),
        ({"strange": 1}, "strange"),
    ],
)
def test_what_is_no_profile_is_refused_beside_its_field(api, changes, field):
    answer = keep(api, **changes)
    assert answer.status_code in (400, 409), answer.json()
    assert any(name.startswith(field) for name in answer.json()["fields"]), answer.json()
    assert not SavedProfile.objects.exists()


def test_a_name_is_taken_once(api):
    keep(api)
    answer = keep(api, name=" Ladder ")
    assert answer.status_code == 400
    assert "already" in answer.json()["fields"]["name"][0]
    assert SavedProfile.objects.count() == 1


def test_one_is_dropped_from_the_version_that_was_read(api):
    made = keep(api).json()
    address = f"{AT}{made['id']}/"
    assert api.delete(address).status_code == 409
    assert api.delete(f"{address}?version=99").status_code == 409
    assert api.delete(f"{address}?version={made['version']}").status_code == 204
    assert api.delete(f"{address}?version=1").status_code == 404
    assert api.get(AT).json() == []
