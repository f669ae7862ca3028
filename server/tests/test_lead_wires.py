"""The bench's table of leads: edited, calibrated from off-cuts, and what masses make of it."""

import pytest

from spindle_server.motors.models import LeadWire

from .intake_steps import file_of, measure, send, weigh


def kinds(api):
    return {(one["gauge"], one["insulation"]): one for one in api.get("/api/v1/lead-wires/").json()}


def test_every_usual_gauge_is_there_as_an_estimate(api, db):
    found = kinds(api)
    assert (20, "silicone") in found
    assert (20, "ptfe") not in found
    one = found[20, "silicone"]
    assert (one["row"], one["offcuts"], one["usual"]["origin"]) == (None, None, "estimated")


def test_a_row_is_noted_changed_and_taken_off_with_its_version(api, db):
    row = send(api, "post", "lead-wires/", gauge=20, insulation="ptfe", g_per_m=5.4).json()
    assert (row["u_g_per_m"], row["version"]) == (None, 1)
    path = f"lead-wires/{row['id']}/"
    twice = send(api, "post", "lead-wires/", gauge=20, insulation="ptfe", g_per_m=5.0)
    assert (twice.status_code, twice.json()["code"]) == (409, "lead_exists")
    changed = send(api, "patch", path, u_g_per_m=0.1, version=1).json()
    assert (changed["g_per_m"], changed["u_g_per_m"], changed["version"]) == (5.4, 0.1, 2)
    assert send(api, "patch", path, g_per_m=9, version=1).status_code == 409
    assert kinds(api)[20, "ptfe"]["usual"]["reason"].startswith("no usual mass")
    assert api.delete(f"/api/v1/{path}?version=1").status_code == 409
    assert api.delete(f"/api/v1/{path}?version=2").status_code == 204
    assert (20, "ptfe") not in kinds(api)


@pytest.mark.parametrize(
    ("body", "field"),
    [
        ({"gauge": 9, "insulation": "pvc", "g_per_m": 5}, "gauge"),
        ({"gauge": 20, "insulation": "wool", "g_per_m": 5}, "insulation"),
        ({"gauge": 20, "insulation": "pvc", "g_per_m": 0}, "g_per_m"),
        ({"gauge": 20, "insulation": "pvc", "g_per_m": "much"}, "g_per_m"),
        ({"gauge": 20, "insulation": "pvc", "g_per_m": 5, "u_g_per_m": -1}, "u_g_per_m"),
        ({"gauge": 20, "insulation": "pvc"}, "g_per_m"),
    ],
)
def test_what_no_lead_weighs_is_refused_at_its_field(api, db, body, field):
    answer = send(api, "post", "lead-wires/", **body)
    assert answer.status_code == 400
    assert field in answer.json()["fields"]
    assert not LeadWire.objects.exists()


def test_own_off_cuts_are_gathered_by_gauge_and_insulation(api, rig):
    first, second = rig["samples"][:2]
    measure(first, lead_gauge=20, offcut_mass=0.40, offcut_length=80.0)
    one = kinds(api)[20, "silicone"]["offcuts"]
    assert (one["n"], one["g_per_m"]) == (1, pytest.approx(5.0))
    # A sibling's gauge counts for a sample that has none, and its insulation.
    measure(second, offcut_mass=0.50, offcut_length=80.0, lead_insulation="pvc")
    found = kinds(api)
    assert found[20, "silicone"]["offcuts"] is None
    both = found[20, "pvc"]["offcuts"]
    assert (both["n"], both["g_per_m"]) == (2, pytest.approx(5.625))
    # Its own goes first.
    measure(first, lead_insulation="silicone")
    found = kinds(api)
    assert found[20, "silicone"]["offcuts"]["g_per_m"] == pytest.approx(5.0)
    assert found[20, "pvc"]["offcuts"]["g_per_m"] == pytest.approx(6.25)


def test_an_off_cut_without_gauge_or_length_says_nothing(api, rig):
    measure(rig["samples"][0], offcut_mass=0.40, offcut_length=80.0)
    assert all(one["offcuts"] is None for one in kinds(api).values())
    measure(rig["samples"][1], lead_gauge=18, offcut_mass=0.40)
    # The first is of a gauge now; the second has no length of its own, and a sibling's is none.
    assert kinds(api)[18, "silicone"]["offcuts"]["n"] == 1


def test_masses_rest_on_the_table_until_it_is_taken_off(api, rig):
    sample, motor = rig["samples"][0], rig["motor"]
    measure(sample, lead_gauge=20)
    weigh(api, sample, 40.0, lead_length_mm=160)

    def mass():
        row = file_of(api, motor)["masses"]["samples"][0]
        return row["lead_from"], row["mass_g"]["value"]

    assert mass()[0] == "gauge"
    row = send(
        api, "post", "lead-wires/", gauge=20, insulation="silicone", g_per_m=7.0, u_g_per_m=0.1
    ).json()
    assert mass() == ("the bench's table", pytest.approx(40.0 - 3 * 7.0 * 0.1))
    api.delete(f"/api/v1/lead-wires/{row['id']}/?version=1")
    assert mass()[0] == "gauge"
    measure(sample, lead_insulation="ptfe")
    assert mass() == ("", None)
