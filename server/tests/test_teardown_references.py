"""Answers that refer to another sample, two people at one answer, and teardowns side by side."""

import csv
import io

import pytest
from django.db import IntegrityError, transaction

from spindle_server.motors.services import take_in_motor
from spindle_server.teardown import services
from spindle_server.teardown.models import Observation


def put(api, sample, **answer):
    return api.put(f"/api/v1/samples/{sample.pk}/teardown/", answer, format="json")


def sheet(api, sample):
    return api.get(f"/api/v1/samples/{sample.pk}/teardown/").json()


def compare(api, *samples, **query):
    numbers = ",".join(str(sample.pk) for sample in samples)
    return api.get("/api/v1/teardown/compare/", {"samples": numbers, **query})


@pytest.fixture
def sibling(people):
    """The other wind of the rig's motor, and a stranger to it."""
    wind = take_in_motor(
        actor=None, maker="Quillmoor", name="Sable", size_code="2105.5", kv_label_rpm_per_v=2650
    )
    other = take_in_motor(
        actor=None, maker="Ostrel", name="Drift", size_code="2206", kv_label_rpm_per_v=1900
    )
    return {"wind": wind.samples.get(), "other": other.samples.get()}


def test_as_sample_a_takes_the_answer_over_and_says_so(api, rig):
    first, second = rig["samples"]
    put(api, first, attribute="magnet_shape", status="observed", choice="arc")
    put(api, first, attribute="stator_diameter", status="measured", value=21.2, u=0.01)
    for attribute in ("magnet_shape", "stator_diameter"):
        answer = put(api, second, attribute=attribute, status="same_as", reference=first.pk)
        assert answer.status_code == 200
    seen = {row["attribute"]: row for row in sheet(api, second)["observations"]}
    assert (seen["magnet_shape"]["status"], seen["magnet_shape"]["choice"]) == ("same_as", "arc")
    assert seen["stator_diameter"]["value"] == 21.2
    assert seen["magnet_shape"]["reference_name"] == "Quillmoor Sable 2105.5 1950 A"


def test_what_was_taken_over_is_no_measurement(api, rig):
    first, second = rig["samples"]
    put(api, first, attribute="stator_diameter", status="measured", value=21.2, u=0.01)
    put(api, second, attribute="stator_diameter", status="same_as", reference=first.pk)
    put(api, second, attribute="magnet_inner_diameter", status="measured", value=21.6, u=0.01)
    gap = sheet(api, second)["findings"][0]
    assert gap["value"] is None
    assert "stator" in gap["note"]


def test_a_reference_that_was_corrected_since_is_marked(api, rig):
    first, second = rig["samples"]
    put(api, first, attribute="magnet_shape", status="observed", choice="arc")
    put(api, second, attribute="magnet_shape", status="same_as", reference=first.pk)
    put(api, first, attribute="magnet_shape", status="observed", choice="flat", version=1)
    (row,) = sheet(api, second)["observations"]
    assert row["choice"] == "arc"
    assert row["reference_changed"]


def test_only_a_sibling_lets_one_infer(api, rig, sibling):
    sample = rig["samples"][0]
    for source in sibling.values():
        put(api, source, attribute="winding", status="observed", choice="single")
    inferred = put(
        api, sample, attribute="winding", status="inferred", reference=sibling["wind"].pk
    )
    assert inferred.json()["status"] == "inferred"
    refused = put(
        api,
        sample,
        attribute="winding",
        status="inferred",
        reference=sibling["other"].pk,
        version=1,
    )
    assert refused.status_code == 400
    assert "no sibling" in refused.json()["fields"]["reference"][0]


def test_an_inferred_fault_is_no_fault_of_this_motor(api, rig, sibling):
    put(api, sibling["wind"], attribute="free_spin", status="observed", choice="rough")
    put(
        api,
        rig["samples"][0],
        attribute="free_spin",
        status="inferred",
        reference=sibling["wind"].pk,
    )
    points = api.get(f"/api/v1/motors/{rig['motor'].pk}/").json()["open_points"]
    assert not any("bearing" in point for point in points)


def test_less_than_a_reference_sample(api, rig, sibling):
    answer = put(
        api,
        rig["samples"][0],
        attribute="pull_force",
        status="ordinal",
        ordinal="more",
        reference=sibling["other"].pk,
    )
    assert answer.status_code == 200
    (row,) = sheet(api, rig["samples"][0])["observations"]
    assert (row["ordinal"], row["choice"], row["value"]) == ("more", "", None)


@pytest.mark.parametrize(
    ("answer", "field"),
    [
        ({"attribute": "winding", "status": "same_as"}, "reference"),
        ({"attribute": "pull_force", "status": "ordinal", "ordinal": "more"}, "reference"),
        ({"attribute": "winding", "status": "same_as", "reference": "own"}, "reference"),
        ({"attribute": "winding", "status": "same_as", "reference": "second"}, "reference"),
        (
            {"attribute": "winding", "status": "ordinal", "ordinal": "more", "reference": "second"},
            "choice",
        ),
    ],
)
def test_references_that_make_no_sense(api, rig, answer, field):
    own, second = rig["samples"]
    named = {"own": own.pk, "second": second.pk}
    if "reference" in answer:
        answer = {**answer, "reference": named[answer["reference"]]}
    refused = put(api, own, **answer)
    assert refused.status_code == 400
    assert field in refused.json()["fields"]
    assert not Observation.objects.exists()


@pytest.mark.parametrize(
    "fields",
    [
        {"status": "same_as", "choice": "arc"},
        {"status": "ordinal", "ordinal": "more"},
        {"status": "ordinal", "with_reference": True},
        {"status": "same_as", "with_reference": True},
        {"status": "observed", "choice": "arc", "with_reference": True},
        {"status": "observed", "choice": "arc", "ordinal": "more"},
    ],
)
def test_the_database_keeps_references_and_statuses_together(rig, fields):
    reference = rig["samples"][1] if fields.pop("with_reference", False) else None
    row = Observation(
        sample=rig["samples"][0],
        attribute="magnet_shape",
        vocabulary_version=3,
        reference=reference,
        **fields,
    )
    with pytest.raises(IntegrityError), transaction.atomic():
        row.save()


def test_two_people_at_one_answer(as_role, rig):
    sample, question = rig["samples"][0], {"attribute": "magnet_shape", "status": "observed"}
    ilse, tomas = as_role("reviewer"), as_role("editor")
    put(ilse, sample, choice="arc", **question)
    put(tomas, sample, choice="flat", note="looked twice", version=1, **question)
    for version in ({}, {"version": 1}):
        refused = put(ilse, sample, choice="arc", note="sure", **version, **question)
        assert refused.status_code == 409
        current = refused.json()["current"]
        assert (current["version"], current["who"]) == (2, "editor")
        assert current["values"]["note"] == "looked twice"
    assert put(ilse, sample, choice="arc", version=2, **question).json()["version"] == 3


def test_two_first_answers_at_the_same_instant(api, rig, monkeypatch):
    """The second writer saw no answer when it looked, and there is one when it writes."""
    sample, question = rig["samples"][0], {"attribute": "magnet_shape", "status": "observed"}
    put(api, sample, choice="arc", **question)
    looks, look = [], services._answered

    def too_early(*args):
        looks.append(args)
        return None if len(looks) == 1 else look(*args)

    monkeypatch.setattr(services, "_answered", too_early)
    refused = put(api, sample, choice="flat", **question)
    assert (refused.status_code, len(looks)) == (409, 2)
    assert refused.json()["current"]["values"]["choice"] == "arc"
    assert Observation.objects.get().choice == "arc"
    looks.clear()
    assert put(api, sample, choice="arc", **question).json()["version"] == 1
    assert len(looks) == 2


def test_the_same_answer_sent_again_changes_nothing(api, rig):
    answer = {"attribute": "magnet_shape", "status": "observed", "choice": "arc"}
    first = put(api, rig["samples"][0], **answer).json()
    again = put(api, rig["samples"][0], **answer)
    assert (again.status_code, again.json()["version"]) == (200, first["version"])
    assert Observation.objects.get().history.count() == 1


def test_side_by_side(api, rig, sibling):
    first, second = rig["samples"]
    put(api, first, attribute="magnet_shape", status="observed", choice="arc")
    put(api, second, attribute="magnet_shape", status="observed", choice="flat")
    put(api, second, attribute="winding", status="observed", choice="single")
    claim = {"quantity": "mass_g", "value": 24.8, "source": "box"}
    api.post(f"/api/v1/motors/{rig['motor'].pk}/claims/", claim, format="json")
    table = compare(api, first, second, sibling["other"]).json()
    rows = {row["key"]: row for row in table["rows"]}
    assert rows["magnet_shape"]["outcome"] == "different"
    assert [cell["text"] for cell in rows["magnet_shape"]["cells"]] == [
        "arc",
        "flat",
        "not looked at",
    ]
    assert rows["winding"]["outcome"] == "unknown"
    power = [a for a in table["arguments"] if a["topic"] == "power"]
    assert [(a["column"], a["speaks_for"]) for a in power] == [(0, True), (1, False)]
    assert [cell and cell["value"] for cell in table["claims"][0]["cells"]] == [24.8, 24.8, None]
    assert "Winding" in table["unknown"][0]["labels"]
    assert "Winding" not in table["unknown"][1]["labels"]
    assert [len(rows) for rows in table["observations"]] == [1, 2, 0]


def test_comparing_takes_two_to_four(api, rig, sibling):
    first, second = rig["samples"]
    assert compare(api, first).status_code == 400
    assert compare(api, first, first).status_code == 400
    assert api.get("/api/v1/teardown/compare/?samples=1,x").json()["code"] == "samples"
    missing = api.get(f"/api/v1/teardown/compare/?samples={first.pk},99999")
    assert "99999" in missing.json()["message"]
    assert compare(api, first, second).status_code == 200


def test_comparing_takes_the_same_queries_for_two_as_for_four(
    api, rig, sibling, django_assert_num_queries
):
    from django.db import connection
    from django.test.utils import CaptureQueriesContext

    first, second = rig["samples"]
    put(api, first, attribute="pull_force", status="ordinal", ordinal="more", reference=second.pk)
    with CaptureQueriesContext(connection) as two:
        compare(api, first, second)
    count = len(two)
    put(api, second, attribute="pull_force", status="ordinal", ordinal="less", reference=first.pk)
    with django_assert_num_queries(count):
        compare(api, first, second, *sibling.values())


def test_the_comparison_as_a_file(api, rig):
    first, second = rig["samples"]
    put(api, first, attribute="magnet_shape", status="observed", choice="arc")
    put(api, second, attribute="magnet_shape", status="observed", choice="flat")
    put(api, first, attribute="stator_diameter", status="measured", value=21.2, u=0.01)
    put(api, second, attribute="stator_diameter", status="measured", value=21.2, u=0.01)
    query = {"samples": f"{first.pk},{second.pk}"}
    text = api.get("/api/v1/teardown/compare.csv", query).content.decode()
    rows = {row["attribute"]: row for row in csv.DictReader(io.StringIO(text))}
    name = "Quillmoor Sable 2105.5 1950 A"
    assert rows["Stator diameter"][f"{name}: value"] == "21.2"
    assert rows["Stator diameter"]["unit"] == "mm"
    assert rows["Magnet shape"][f"{name}: answer"] == "arc"
    short = api.get("/api/v1/teardown/compare.csv", {**query, "differences": "1"}).content.decode()
    assert "Stator diameter" not in short
    assert "Magnet shape" in short
