"""Sequences of profiles that are kept by name."""

import pytest

from spindle_server.bench.models import SavedSequence

pytestmark = pytest.mark.django_db
AT = "/api/v1/bench/sequences/"
PARTS = [
    {"kind": "direction"},
    {"kind": "steps", "levels_pct": [20, 60, 100]},
    {"kind": "peak", "half_bursts": 2},
]


def keep(api, **changes):
    body = {"name": "A morning", "purpose": "first look", "parts": PARTS, **changes}
    return api.post(AT, body, format="json")


def test_a_sequence_is_kept_whole_in_its_order(api):
    made = keep(api)
    assert made.status_code == 201, made.json()
    (found,) = api.get(AT).json()
    assert [part["kind"] for part in found["parts"]] == ["direction", "steps", "peak"]
    # What was not said is kept as it was then.
    assert found["parts"][0]["level_pct"] == 10.0
    assert found["parts"][2]["bursts"] == 3.0
    assert found["made_by_name"] == "reviewer"


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"name": ""}, "name"),
        ({"parts": []}, "parts"),
        ({"parts": PARTS[:1]}, "parts"),
        ({"parts": [PARTS[0]] * 13}, "parts"),
        ({"parts": "steps"}, "parts"),
        ({"parts": [PARTS[0], {"kind": "dance"}]}, "parts"),
        ({"parts": [PARTS[0], {"kind": "steps", "levels_pct": [140]}]}, "levels_pct"),
        # A bare shaft and a propeller are not mounted at once.
        ({"parts": [PARTS[0], {"kind": "no_load"}]}, "parts"),
        ({"strange": 1}, "strange"),
    ],
)
def test_what_is_no_sequence_is_refused_beside_its_field(api, changes, field):
    answer = keep(api, **changes)
    assert answer.status_code in (400, 409), answer.json()
    assert any(name.startswith(field) for name in answer.json()["fields"]), answer.json()
    assert not SavedSequence.objects.exists()


def test_what_is_mounted_alike_goes_together(api):
    assert (
        keep(api, parts=[{"kind": "no_load"}, {"kind": "no_load", "burst_s": 8}]).status_code == 201
    )


def test_a_name_is_taken_once_and_free_again_when_it_was_dropped(api):
    made = keep(api).json()
    taken = keep(api, name=" A morning ")
    assert taken.status_code == 400
    assert "sequence named A morning" in taken.json()["fields"]["name"][0]
    stale = api.delete(f"{AT}{made['id']}/?version=7")
    assert stale.status_code == 409
    assert api.delete(f"{AT}{made['id']}/?version=1").status_code == 204
    assert keep(api).status_code == 201
