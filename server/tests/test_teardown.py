"""Observations: what may be answered, what is derived and what is kept."""

import pytest
from django.db import IntegrityError, transaction

from spindle_server.teardown.models import Observation


def put(api, sample, **answer):
    return api.put(f"/api/v1/samples/{sample.pk}/teardown/", answer, format="json")


def sheet(api, sample):
    return api.get(f"/api/v1/samples/{sample.pk}/teardown/").json()


def test_the_vocabulary_comes_in_the_order_of_looking(api):
    vocabulary = api.get("/api/v1/teardown/vocabulary/").json()
    assert vocabulary["version"] == 4
    assert vocabulary["attributes"][0]["step"] == vocabulary["outside_step"]
    inside = [a for a in vocabulary["attributes"] if a["step"] != vocabulary["outside_step"]]
    assert inside[0]["step"] == vocabulary["steps"][0]
    numbers = {a["key"]: a["unit"] for a in vocabulary["attributes"] if a["unit"] is not None}
    assert numbers["stator_diameter"] == "mm"


def test_an_observation_and_its_correction(api, rig):
    sample = rig["samples"][0]
    put(api, sample, attribute="magnet_shape", status="observed", choice="flat")
    answer = put(api, sample, attribute="magnet_shape", status="observed", choice="arc", version=1)
    assert answer.status_code == 200
    assert answer.json()["version"] == 2
    (seen,) = sheet(api, sample)["observations"]
    assert seen["choice"] == "arc"
    assert seen["observed_by_name"] == "reviewer"
    row = Observation.objects.get()
    assert [h.choice for h in row.history.all()] == ["arc", "flat"]
    assert {h.history_user.username for h in row.history.all()} == {"reviewer"}


def test_what_was_typed_in_another_unit_is_kept_and_goes_with_its_number(api, rig):
    sample = rig["samples"][0]
    answer = {"attribute": "magnet_inner_diameter", "status": "measured"}
    first = put(api, sample, **answer, value=10.16, typed="0.4 in")
    assert first.status_code == 200, first.json()
    assert first.json()["typed"] == "0.4 in"
    again = put(api, sample, **answer, value=10.2, version=first.json()["version"])
    assert again.json()["typed"] == ""


def test_the_air_gap_is_derived_with_its_uncertainty(api, rig):
    sample = rig["samples"][0]
    assert sheet(api, sample)["findings"][0]["value"] is None
    put(api, sample, attribute="stator_diameter", status="measured", value=21.20, u=0.01)
    assert "magnets" in sheet(api, sample)["findings"][0]["note"]
    put(api, sample, attribute="magnet_inner_diameter", status="measured", value=21.62, u=0.02)
    gap = sheet(api, sample)["findings"][0]
    assert gap["value"] == pytest.approx(0.21)
    assert gap["u"] == pytest.approx(0.01118, abs=1e-5)


def test_a_stator_wider_than_its_magnets_is_refused_and_nothing_is_lost(api, rig):
    sample = rig["samples"][0]
    put(api, sample, attribute="magnet_inner_diameter", status="measured", value=21.0)
    answer = put(api, sample, attribute="stator_diameter", status="measured", value=21.2)
    assert answer.status_code == 400
    assert answer.json()["code"] == "no_air_gap"
    assert len(sheet(api, sample)["observations"]) == 1


@pytest.mark.parametrize(
    ("first", "then"),
    [
        (("shaft_inner_diameter", 4.0), ("bearing_outer_diameter", 3.9)),
        (("bell_outer_diameter", 27.0), ("magnet_inner_diameter", 27.5)),
        (("stator_diameter", 20.0), ("hub_diameter", 21.0)),
    ],
)
def test_parts_that_do_not_fit_each_other_are_refused(api, rig, first, then):
    sample = rig["samples"][0]
    put(api, sample, attribute=first[0], status="measured", value=first[1])
    answer = put(api, sample, attribute=then[0], status="measured", value=then[1])
    assert answer.status_code == 400
    assert answer.json()["code"] == "does_not_fit"
    assert [o["attribute"] for o in sheet(api, sample)["observations"]] == [first[0]]


def test_findings_come_from_the_numbers(api, rig):
    sample = rig["samples"][0]
    for attribute, value in (("slot_count", 12), ("pole_count", 14)):
        put(api, sample, attribute=attribute, status="observed", value=value)
    put(api, sample, attribute="stator_diameter", status="measured", value=21.8, u=0.01)
    found = {item["name"]: item for item in sheet(api, sample)["findings"]}
    assert found["winding_factor"]["value"] == pytest.approx(0.933, abs=5e-4)
    assert found["cogging_steps"]["value"] == 84
    assert found["stator_diameter_off_mm"]["value"] == pytest.approx(0.8)
    assert "rounding" in found["stator_diameter_off_mm"]["note"]
    assert found["bearing_wall_mm"]["value"] is None


@pytest.mark.parametrize(
    ("answer", "field"),
    [
        ({"attribute": "pole_count", "status": "observed", "value": 13}, "value"),
        ({"attribute": "magnet_shape", "status": "observed", "choice": "round"}, "choice"),
        ({"attribute": "colour", "status": "observed", "choice": "red"}, "attribute"),
        ({"attribute": "stator_diameter", "status": "measured", "value": 0.021}, "value"),
        ({"attribute": "stator_diameter", "status": "measured", "value": 21, "u": -0.1}, "u"),
        ({"attribute": "stator_diameter", "status": "ordinal", "ordinal": "wide"}, "ordinal"),
        ({"attribute": "stator_diameter", "status": "same_as", "reference": 99999}, "reference"),
    ],
)
def test_impossible_answers_name_their_field(api, rig, answer, field):
    refused = put(api, rig["samples"][0], **answer)
    assert refused.status_code == 400
    assert field in refused.json()["fields"]
    assert not Observation.objects.exists()


def test_could_not_tell_is_an_answer(api, rig):
    sample = rig["samples"][0]
    put(api, sample, attribute="magnet_shape", status="could_not_tell", note="glued shut")
    (seen,) = sheet(api, sample)["observations"]
    assert (seen["status"], seen["choice"], seen["value"]) == ("could_not_tell", "", None)


@pytest.mark.parametrize(
    "fields",
    [
        {"status": "measured"},
        {"status": "observed", "choice": "arc", "value": 3.0},
        {"status": "could_not_tell", "choice": "arc"},
        {"status": "measured", "value": 3.0, "u": -0.1},
    ],
)
def test_the_database_keeps_answers_and_their_status_together(rig, fields):
    row = Observation(
        sample=rig["samples"][0], attribute="magnet_shape", vocabulary_version=1, **fields
    )
    with pytest.raises(IntegrityError), transaction.atomic():
        row.save()


def test_a_fault_seen_becomes_an_open_point_and_the_next_act(api, rig):
    put(api, rig["samples"][1], attribute="free_spin", status="observed", choice="rough")
    motor = rig["motor"].pk
    assert (
        "Sample B: dry or rough bearing."
        in (api.get(f"/api/v1/motors/{motor}/").json()["open_points"])
    )
    (row,) = api.get("/api/v1/board/").json()["motors"]
    assert row["next_station"] == "teardown"
    assert "Sample B: dry or rough bearing" in row["gaps"]
