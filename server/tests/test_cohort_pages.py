"""A cohort's page: what a kept ranking asks, with a verdict that knows when its order changes."""

import io
import json
import zipfile
from copy import deepcopy

import pytest

from spindle_server.motors.models import Parcel
from spindle_server.motors.parcels import change_parcel
from spindle_server.motors.services import take_in_motor
from spindle_server.motors.weighing import add_weighing
from spindle_server.publish.models import Edition, Publication
from spindle_server.publish.packs import make_waiting
from spindle_server.publish.readers import Site
from spindle_server.publish.services import publish, withdraw
from spindle_server.rank.models import KeptRanking
from spindle_server.rig.services import add_propeller
from spindle_server.runs.models import Run
from spindle_server.runs.services import review_run
from spindle_server.verdict.models import Verdict

from .verdict_steps import a_rival, publishable, url, write
from .verdict_steps import prose as words


@pytest.fixture(scope="module")
def kept_once(common_house):
    """Two motors ranked: the Sable, run twice, and the Drift that needs a tenth more current."""
    house = common_house
    house.record()
    house.record(1.002)
    a_rival(house.people, house.rig, house.record)
    body = {"title": "Five-inch", "asked": {"use": "equal"}}
    return house.client("reviewer").post("/api/v1/rank/kept/", body, format="json").json()


@pytest.fixture
def kept(kept_once, house):
    return deepcopy(kept_once)


@pytest.fixture
def verdict(api, kept):
    answer = api.post("/api/v1/verdicts/", {"ranking": kept["id"]}, format="json")
    assert answer.status_code == 201, answer.json()
    return answer.json()


@pytest.fixture
def ready(api, people, verdict):
    """Nothing blocks it."""
    for parcel in Parcel.objects.all():
        change_parcel(
            actor=people["reviewer"], parcel=parcel, base=parcel.version, obtained="bought"
        )
    answer = write(
        api,
        verdict,
        sentence="Take the first.",
        links="none",
        gains="nobody",
        sections={"differs": words("As the table says.")},
    )
    assert not [one for one in answer.json()["obstacles"] if one["blocks"]]
    return verdict


def issue(people, verdict, **said):
    row = Verdict.objects.get(pk=verdict["id"])
    return publish(actor=people["editor"], verdict=row, base=row.version, **said)


def blocking(api, verdict):
    found = api.get(url(verdict)).json()["obstacles"]
    return {one["code"]: one["message"] for one in found if one["blocks"]}


def test_a_first_look_lists_what_was_not_tested(api, client, people, rig):
    own = api.post("/api/v1/verdicts/", {"motor": rig["motor"].pk}, format="json").json()
    write(api, own, sections={"for_whom": words("For somebody.")})
    publishable(api, people, own)
    edition = issue(people, own)
    assert "Not run: kV and no-load current." in edition.content["untested"]
    text = client.get("/read/motors/quillmoor-sable-21055-1950/").content.decode()
    assert "What was not tested" in text
    assert "No sample was weighed." in text
    add_weighing(
        actor=people["reviewer"],
        sample=rig["samples"][0],
        mass_g=30.0,
        resolution_g=0.1,
        lead_length_mm=60,
        weighed_on=edition.published_at.date(),
    )
    later = issue(people, own, changed="Weighed.", why="A scale came.")
    assert "No sample was weighed." not in later.content["untested"]


def test_with_runs_there_is_no_such_list(people, api, rig, record):
    record()
    own = api.post("/api/v1/verdicts/", {"motor": rig["motor"].pk}, format="json").json()
    write(api, own, sections={"for_whom": words("For somebody.")})
    publishable(api, people, own)
    assert "untested" not in issue(people, own).content


def test_what_a_ranking_asks_is_kept_with_its_load(kept):
    """More runs under another propeller must not turn it into another question."""
    assert kept["asked"]["load"] == "Wickett 5.1x4.2x3|bench supply|16"


def test_it_is_begun_once_and_of_one_thing(api, kept, verdict):
    again = api.post("/api/v1/verdicts/", {"ranking": kept["id"]}, format="json").json()
    assert again["id"] == verdict["id"]
    assert verdict["kind"] == "cohort"
    assert verdict["subject"] == "Five-inch"
    assert verdict["asked"]["use"] == "equal"
    assert [one["key"] for one in verdict["sections"]][:2] == ["differs", "same"]
    motor = Run.objects.first().sample.motor_id
    for body in ({"ranking": kept["id"], "motor": motor}, {}):
        answer = api.post("/api/v1/verdicts/", body, format="json")
        assert answer.status_code == 400
    assert api.post("/api/v1/verdicts/", {"ranking": 999}, format="json").status_code == 404


def test_its_evidence_is_that_of_the_motor_tested_least(verdict):
    assert verdict["grade"]["line"].startswith("Thin evidence: 1 to 2 samples of each of 2 motors")


def test_runs_under_another_load_do_not_speak_here(api, people, rig, ready, record):
    """A second propeller of the same motor would draw a second curve and a better grade."""
    used = rig["propeller"]
    rig["propeller"] = add_propeller(
        actor=people["reviewer"], diameter_in=5.0, pitch_in=3.0, blades=3, maker="Wickett"
    )
    other = record()
    rig["propeller"] = used
    line = api.get(url(ready)).json()["grade"]["line"]
    assert "1 to 2 samples of each of 2 motors, 4 runs" in line
    edition = issue(people, ready)
    assert other.pk not in [one["number"] for one in edition.content["runs"]]
    assert {row["load"] for row in edition.content["table"]["rows"]} == {
        "Wickett 5.1x4.2x3, 16 V bench supply"
    }


def test_a_motor_that_was_run_on_something_else_is_told(api, people, rig, verdict, record):
    pale = take_in_motor(
        actor=people["reviewer"],
        maker="Hollin",
        name="Pale",
        size_code="2807",
        kv_label_rpm_per_v=1250,
        sample_marks=["A"],
    )
    rig["samples"] = list(pale.samples.all())
    rig["propeller"] = add_propeller(
        actor=people["reviewer"], diameter_in=7.0, pitch_in=3.5, blades=2, maker="Wickett"
    )
    record()
    line = api.get(url(verdict)).json()["grade"]["line"]
    assert "1 of the motors not run under this load" in line


def test_the_leader_is_held_against_the_next(api, verdict):
    found = api.get(url(verdict, "proposals")).json()
    assert found["sentences"]
    assert any(one["section"] in ("differs", "same") for one in found["statements"])
    offered = api.get(url(verdict, "figures")).json()
    assert {one["quote"]["of"] for one in offered} == {
        str(pk) for pk in Run.objects.values_list("sample__motor", flat=True)
    }


def test_an_order_that_changed_blocks_until_somebody_stands_by_it(api, people, rig, ready, record):
    assert "order_moved" not in blocking(api, ready)
    first = json.loads(json.dumps(Verdict.objects.get(pk=ready["id"]).order_seen))
    # A third that beats both.
    third = take_in_motor(
        actor=people["reviewer"],
        maker="Brackwater",
        name="No. 4",
        size_code="2306",
        kv_label_rpm_per_v=1800,
        sample_marks=["A"],
    )
    parcel = third.parcels.get()
    change_parcel(actor=people["reviewer"], parcel=parcel, base=parcel.version, obtained="bought")
    rig["samples"] = list(third.samples.all())
    record(0.5)
    told = blocking(api, ready)["order_moved"]
    assert "Brackwater No. 4 2306 1800 is new at 1" in told
    answer = api.post(url(ready, "proposal"), {}, format="json")
    assert answer.status_code == 400
    assert "Who stands where has changed" in answer.json()["message"]
    now = write(api, ready, order_seen=True).json()
    assert not [one for one in now["obstacles"] if one["code"] == "order_moved"]
    assert Verdict.objects.get(pk=ready["id"]).order_seen != first
    # A word alone does not do it, and neither does "no".
    assert write(api, ready, order_seen=False).status_code == 200


def test_a_cohort_that_nobody_can_rank_any_more_blocks_and_lists(api, people, ready):
    for run in Run.objects.all():
        review_run(
            actor=people["reviewer"], run=run, review="rejected", reason="x", base=run.version
        )
    assert "can no longer be ranked" in blocking(api, ready)["not_ranked"]
    assert api.get("/api/v1/verdicts/").status_code == 200
    KeptRanking.objects.update(asked={"weights": "nonsense"})
    assert "not_ranked" in blocking(api, ready)
    assert api.get("/api/v1/verdicts/").status_code == 200


def test_the_page_shows_places_figures_and_who_was_not_run(client, people, ready):
    take_in_motor(
        actor=people["reviewer"],
        maker="Hollin",
        name="Pale",
        size_code="2807",
        kv_label_rpm_per_v=1250,
        sample_marks=["A"],
    )
    edition = issue(people, ready)
    ranking = edition.content["ranking"]
    assert [row["place"] for row in ranking["rows"] if row["place"]] == [1, 2]
    text = client.get("/read/cohorts/five-inch/").content.decode()
    assert "The places" in text
    assert "Quillmoor Sable 2105.5 1950" in text
    assert 'class="strip"' in text
    assert "Wickett 5.1x4.2x3" in text
    assert "largest thrust × 1" in text
    # Every figure has its unit in the head, in gf and in N.
    assert '<span class="gf">gf</span><span class="newton">N</span>' in text
    # Claims are on the motors' own pages.
    assert edition.content["motors"] == []
    index = client.get("/read/").content.decode()
    assert 'data-kind="cohort"' in index
    assert client.get("/read/cohorts/five-inch/page.pdf").content.startswith(b"%PDF")
    assert len(edition.content["runs"]) == 4


def test_a_motor_with_a_page_of_its_own_is_linked_as_long_as_it_stands(
    api, client, people, rig, ready
):
    own = api.post("/api/v1/verdicts/", {"motor": rig["motor"].pk}, format="json").json()
    write(api, own, sections={"for_whom": words("For somebody.")})
    publishable(api, people, own)
    issue(people, own)
    issue(people, ready)
    link = 'href="../../motors/quillmoor-sable-21055-1950/index.html"'
    assert link in client.get("/read/cohorts/five-inch/").content.decode()
    page = Publication.objects.get(verdict__motor=rig["motor"])
    withdraw(actor=people["editor"], publication=page, reason="wrong", base=page.version)
    assert link not in client.get("/read/cohorts/five-inch/").content.decode()


def test_an_edition_says_the_places_of_its_day(client, people, rig, ready, record):
    first = issue(people, ready).content["ranking"]
    rig["samples"] = list(Run.objects.last().sample.motor.samples.all())
    record(0.6)
    record(0.6)
    assert Edition.objects.get().content["ranking"] == first
    assert Site().file("cohorts/five-inch/index.html") == Site().file(
        "cohorts/five-inch/index.html"
    )


def test_its_pack_holds_the_runs_of_all(people, ready):
    issue(people, ready)
    make_waiting()
    data = Site().file("cohorts/five-inch/edition-1-data.zip")
    pack = zipfile.ZipFile(io.BytesIO(data))
    index = json.loads(pack.read("pack.json"))
    assert index["publication"]["kind"] == "cohort"
    assert len(index["motors"]) == 2
    assert len(index["runs"]) == 4


def test_a_draft_is_seen_by_the_bench_alone(api, client, verdict):
    answer = api.get(url(verdict, "draft"))
    assert answer.status_code == 200
    text = answer.content.decode()
    assert "A draft as it would be published now" in text
    assert "in its way" in text
    assert "The places" in text
    assert answer["Cache-Control"] == "no-store"
    assert "default-src 'none'" in answer["Content-Security-Policy"]
    assert client.get(url(verdict, "draft")).status_code in (401, 403)
    assert not Edition.objects.exists()
