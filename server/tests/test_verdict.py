"""Verdicts over the API: figures by reference, stale ones, proposals, what blocks publishing."""

from copy import deepcopy

import pytest

from spindle_server.compare.services import save_comparison
from spindle_server.motors.models import MotorModel, Parcel
from spindle_server.motors.parcels import change_parcel
from spindle_server.motors.services import put_claim, take_in_motor
from spindle_server.runs.models import Run
from spindle_server.runs.services import review_run
from spindle_server.teardown.services import record_observation
from spindle_server.verdict.models import QuotedFigure

from .verdict_steps import a_rival, begun, prose, quote, url, with_thrust, write


def codes(api, verdict):
    return {one["code"] for one in api.get(url(verdict)).json()["obstacles"]}


@pytest.fixture(scope="module")
def begun_verdict(common_house):
    """Of a motor with two runs on sample A and one on B."""
    return begun(common_house)


@pytest.fixture
def verdict(begun_verdict, house):
    return deepcopy(begun_verdict)


@pytest.fixture
def written(api, verdict):
    """With thrust quoted in one section."""
    return with_thrust(api, verdict)


@pytest.fixture
def rival(people, rig, record):
    """A motor that takes a tenth more current for the same thrust."""
    return a_rival(people, rig, record)


def test_a_motor_has_one_verdict(api, verdict, rig):
    again = api.post("/api/v1/verdicts/", {"motor": rig["motor"].pk}, format="json")
    assert again.status_code == 201
    assert again.json()["id"] == verdict["id"]
    assert [one["key"] for one in verdict["sections"]][:3] == ["for_whom", "propellers", "limits"]
    for nothing in ({}, {"motor": None}, {"motor": 1, "comparison": 1}):
        assert api.post("/api/v1/verdicts/", nothing, format="json").status_code in (400, 404)


def test_a_figure_is_taken_as_it_is_with_what_it_rests_on(api, verdict):
    figure = quote(api, verdict).json()
    assert figure["stated"].startswith("1,20")
    assert figure["stated"].endswith("gf")
    assert figure["words"] == "Thrust at full throttle, Wickett 5.1x4.2x3, 16 V bench supply"
    assert (figure["samples"], len(figure["runs"])) == (2, 3)
    assert quote(api, verdict).json()["id"] == figure["id"]


@pytest.mark.parametrize(
    "changed",
    [
        {"propeller": "Sallow 3x3x3"},
        {"name": "charm"},
        {"condition": "luck"},
        {"of": "999999"},
        {"condition": "thrust_gf", "level": 0},
        {"condition": "thrust_gf", "level": 90000.0},
        {"kind": "delta"},
        {"kind": "delta", "against": "999999"},
        {"kind": "subject", "of": "1"},
        {"kind": "claim", "name": "mass_g"},
        {"kind": "record", "name": "faults", "text": "made up"},
        {"kind": "wish"},
        {"voltage_v": "sixteen"},
        {"level": -1},
        {"of": "x" * 40},
    ],
)
def test_what_is_not_there_cannot_be_quoted(api, verdict, changed):
    answer = quote(api, verdict, **changed)
    assert answer.status_code == 400, answer.json()
    assert not QuotedFigure.objects.exists()


def test_prose_keeps_its_figures_and_takes_no_others(api, verdict, written):
    now = api.get(url(verdict)).json()
    section = next(one for one in now["sections"] if one["key"] == "propellers")
    assert section["prose"]["content"][0]["content"][1] == {
        "type": "figure",
        "attrs": {"figure": written["id"]},
    }
    foreign = write(api, verdict, sections={"limits": prose("x ", 999)})
    assert (foreign.status_code, foreign.json()["code"]) == (400, "unknown_figure")
    html = {"type": "doc", "content": [{"type": "script", "text": "alert(1)"}]}
    assert write(api, verdict, sections={"limits": html}).json()["code"] == "document"
    assert write(api, verdict, sections={"mood": prose("x")}).json()["code"] == "section"
    # One section is written; the others stay as they were.
    write(api, verdict, sections={"limits": prose("Plain.")})
    again = api.get(url(verdict)).json()["sections"]
    assert next(one for one in again if one["key"] == "propellers")["prose"]["content"]


def test_two_people_at_one_verdict(api, verdict):
    first = api.get(url(verdict)).json()["version"]
    one = {"version": first, "sections": {"open": prose("Mine.")}}
    assert api.patch(url(verdict), one, format="json").status_code == 200
    other = {"version": first, "sections": {"open": prose("Yours.")}}
    refused = api.patch(url(verdict), other, format="json")
    assert (refused.status_code, refused.json()["code"]) == (409, "changed_meanwhile")
    theirs = refused.json()["current"]["values"]["sections"]["open"]
    assert theirs["content"][0]["content"][0]["text"] == "Mine."


def test_two_people_at_two_sections_are_not_in_each_others_way(api, verdict):
    first = api.get(url(verdict)).json()["version"]
    for values in (
        {"sections": {"open": prose("Mine.")}},
        {"sections": {"limits": prose("Yours.")}},
        {"links": "none"},
    ):
        body = {"version": first, **values}
        assert api.patch(url(verdict), body, format="json").status_code == 200
    now = api.get(url(verdict)).json()
    told = {one["key"] for one in now["sections"] if one["prose"]["content"]}
    assert (told, now["links"]) == ({"open", "limits"}, "none")
    # The same field, and a version that never was, are refused.
    for body in ({"version": first, "links": "some"}, {"version": 999, "gains": "nobody"}):
        assert api.patch(url(verdict), body, format="json").status_code == 409


def test_the_sentence_of_a_motor_is_the_motors(api, verdict, rig):
    rig["motor"].refresh_from_db()
    answer = write(
        api, verdict, sentence="Light and thrifty.", sentence_version=rig["motor"].version
    )
    assert answer.json()["sentence"] == "Light and thrifty."
    rig["motor"].refresh_from_db()
    assert rig["motor"].verdict == "Light and thrifty."
    stale = write(api, verdict, sentence="Heavy.", sentence_version=rig["motor"].version - 1)
    assert stale.status_code == 409


def test_a_rejected_run_makes_its_figure_stale_until_somebody_stands_by_it(
    api, people, verdict, written
):
    assert "stale" not in codes(api, verdict)
    run = Run.objects.order_by("pk").first()
    review_run(
        actor=people["reviewer"], run=run, review="rejected", reason="loose", base=run.version
    )
    now = api.get(url(verdict)).json()
    (figure,) = now["figures"]
    assert figure["stale"]
    assert figure["stated"] == written["stated"]
    assert (figure["n"], figure["n_now"]) == (3, 2)
    (stale,) = [one for one in now["obstacles"] if one["code"] == "stale"]
    assert "(n = 3), is" in stale["message"]
    assert (stale["blocks"], stale["word_lifts"], stale["section"]) == (True, True, "propellers")
    lifted = api.patch(
        url(verdict, "figures", figure["id"]), {"word": "only the last digit"}, format="json"
    )
    assert lifted.json()["word"] == "only the last digit"
    now = api.get(url(verdict)).json()
    assert [one["blocks"] for one in now["obstacles"] if one["code"] == "stale"] == [False]
    api.patch(url(verdict, "figures", figure["id"]), {}, format="json")
    assert "stale" not in codes(api, verdict)
    assert api.get(url(verdict)).json()["figures"][0]["word"] == ""


def test_an_empty_word_lifts_nothing(api, verdict, written):
    answer = api.patch(url(verdict, "figures", written["id"]), {"word": "  "}, format="json")
    assert (answer.status_code, answer.json()["code"]) == (400, "no_word")


def test_a_figure_that_the_prose_no_longer_uses_is_no_obstacle(api, people, verdict, written):
    write(api, verdict, sections={"propellers": prose("Any will do.")})
    for run in Run.objects.all():
        review_run(
            actor=people["reviewer"], run=run, review="rejected", reason="loose", base=run.version
        )
    assert "stale" not in codes(api, verdict)


def test_a_paragraph_rests_on_what_does_not_stand_in_it(api, people, verdict):
    """The figure was deleted from the sentence; the sentence still goes stale with it."""
    figure = quote(api, verdict).json()
    write(api, verdict, sections={"for_whom": prose("It pulls hard.", rests_on=[figure["id"]])})
    run = Run.objects.order_by("-pk").first()
    review_run(actor=people["reviewer"], run=run, review="rejected", reason="x", base=run.version)
    assert "stale" in codes(api, verdict)


def test_disclosure_blocks_until_it_is_complete(api, people, verdict, written):
    now = api.get(url(verdict)).json()
    assert {one["code"] for one in now["obstacles"] if one["blocks"]} == {
        "no_sentence",
        "disclosure",
    }
    assert len(now["disclosure"]["missing"]) == 3
    parcel = Parcel.objects.filter(motor=verdict["motor"]).get()
    change_parcel(
        actor=people["reviewer"],
        parcel=parcel,
        base=parcel.version,
        obtained="given",
        obtained_from="Quillmoor",
    )
    write(api, verdict, links="none", gains="somebody", gains_text="")
    missing = api.get(url(verdict)).json()["disclosure"]["missing"]
    assert missing == ["who gains, and how"]
    write(api, verdict, gains_text="One of us sells frames for it.")
    told = api.get(url(verdict)).json()["disclosure"]
    assert told["missing"] == []
    assert told["matters"] is True
    assert told["lines"][0] == (
        "Quillmoor Sable 2105.5 1950, samples A, B: given free of charge, from Quillmoor."
    )


def test_the_grade_says_what_there_is(api, verdict):
    grade = api.get(url(verdict)).json()["grade"]
    assert grade["line"].startswith("Thin evidence: 2 samples, 3 runs, up to 2 alike, 1 voltage")
    assert "3 not reviewed" in grade["line"]
    assert "a calibration of the stand before the runs" in grade["missing"]


def test_statements_for_and_against_with_their_evidence(api, verdict, rival):
    told = api.get(url(verdict, "proposals")).json()
    assert told["against"] == rival.pk
    assert [one["id"] for one in told["rivals"]] == [rival.pk]
    hover = next(one for one in told["statements"] if one["key"].startswith("hover/"))
    assert "needs less power than the Ostrel Drift 2206 1900" in hover["text"]
    assert (hover["side"], hover["section"]) == ("for", "for_whom")
    assert hover["evidence"][0]["words"].startswith("Power at")
    assert len(hover["evidence"][0]["runs"]) == 5
    strengths = [one["strength"] for one in told["statements"] if one["strength"] is not None]
    assert strengths == sorted(strengths)
    assert any(one["section"] == "for_whom" for one in told["statements"])
    assert told["sentences"][0].startswith("At full throttle with the Wickett 5.1x4.2x3")


def test_an_adopted_statement_stands_in_the_prose_with_its_figures(api, people, verdict, rival):
    told = api.get(url(verdict, "proposals")).json()
    hover = next(one for one in told["statements"] if one["key"].startswith("hover/"))
    taken = api.post(url(verdict, "adopt"), {"key": hover["key"]}, format="json").json()
    numbers = [one["id"] for one in taken["figures"]]
    assert taken["paragraph"]["attrs"]["rests_on"] == numbers
    doc = {"type": "doc", "content": [taken["paragraph"]]}
    assert write(api, verdict, sections={"for_whom": doc}).status_code == 200
    assert "stale" not in codes(api, verdict)
    # A run of the rival is rejected: what was said of this motor against it goes stale.
    run = Run.objects.filter(sample__motor=rival).first()
    review_run(actor=people["reviewer"], run=run, review="rejected", reason="x", base=run.version)
    assert "stale" in codes(api, verdict)
    gone = api.post(url(verdict, "adopt"), {"key": "made/up"}, format="json")
    assert (gone.status_code, gone.json()["code"]) == (400, "not_proposed")


def test_who_is_held_against_is_disclosed_too(api, verdict, rival):
    told = api.get(url(verdict, "proposals")).json()
    hover = next(one for one in told["statements"] if one["key"].startswith("hover/"))
    taken = api.post(url(verdict, "adopt"), {"key": hover["key"]}, format="json").json()
    doc = {"type": "doc", "content": [taken["paragraph"]]}
    write(api, verdict, sections={"for_whom": doc})
    missing = api.get(url(verdict)).json()["disclosure"]["missing"]
    assert any("Ostrel Drift" in text for text in missing)


def test_beyond_a_rating_is_neither_proposed_nor_publishable(api, people, verdict, rig):
    put_claim(
        actor=people["reviewer"],
        motor=rig["motor"],
        quantity="max_current_a",
        value=20.0,
        source="page",
    )
    told = api.get(url(verdict, "proposals")).json()["statements"]
    full = next(one for one in told if one["key"].startswith("thrust_gf@full"))
    # 60 % throttle is the strongest point within the rating.
    assert "72" in full["text"]
    assert any("points beyond its rating are left out" in one["text"] for one in told)
    offered = api.get(url(verdict, "figures")).json()
    assert {one["beyond"] for one in offered} == {False}
    beyond = quote(api, verdict, condition="thrust_gf", level=1000.0, name="power_w").json()
    write(api, verdict, sections={"limits": prose("It takes ", beyond["id"], ".")})
    (found,) = [
        one for one in api.get(url(verdict)).json()["obstacles"] if one["code"] == "beyond_rating"
    ]
    assert found["blocks"] is True


def test_figures_to_insert_name_themselves(api, verdict):
    offered = api.get(url(verdict, "figures")).json()
    thrust = next(
        one for one in offered if one["words"].startswith("Thrust at full throttle, Wickett")
    )
    taken = api.post(url(verdict, "figures"), thrust["quote"], format="json").json()
    assert taken["stated"] == thrust["stated"]
    assert all(one["stated"] != "—" for one in offered)


def test_a_comparison_that_is_kept_has_a_verdict(api, people, record, rig, rival):
    first = record()
    mine, rig["samples"] = rig["samples"], list(rival.samples.all())
    # A tenth more of one sample each is no more than what samples may differ by.
    second = record(1.25)
    rig["samples"] = mine
    saved = save_comparison(
        actor=people["reviewer"],
        name="One against the other",
        asked={"runs": f"{first.pk},{second.pk}", "by": "model"},
    )
    verdict = api.post("/api/v1/verdicts/", {"comparison": saved.pk}, format="json").json()
    assert [one["key"] for one in verdict["sections"]][:2] == ["differs", "same"]
    told = api.get(url(verdict, "proposals")).json()
    hover = next(one for one in told["statements"] if one["key"].startswith("hover/"))
    assert "the one sample of the Ostrel Drift 2206 1900 needs more power" in hover["text"]
    assert hover["section"] == "differs"
    assert any(one["section"] == "would_change" for one in told["statements"])
    offered = api.get(url(verdict, "figures")).json()
    assert {one["quote"]["kind"] for one in offered} == {"subject", "subject_delta"}
    taken = api.post(url(verdict, "adopt"), {"key": hover["key"]}, format="json").json()
    doc = {"type": "doc", "content": [taken["paragraph"]]}
    assert write(api, verdict, sections={"differs": doc}, sentence="Buy either.").status_code == 200
    # The comparison is asked anew without the other run: what was said of it is gone.
    api.patch(
        f"/api/v1/compare/saved/{saved.pk}/",
        {"version": saved.version, "asked": {"runs": str(first.pk)}},
        format="json",
    )
    assert "stale" in codes(api, verdict)
    assert api.get(url(verdict, "proposals")).json()["statements"] == []


def test_a_comparison_with_a_verdict_is_not_forgotten_in_passing(api, people, record):
    saved = save_comparison(actor=people["reviewer"], name="Kept", asked={"runs": str(record().pk)})
    api.post("/api/v1/verdicts/", {"comparison": saved.pk}, format="json")
    answer = api.delete(f"/api/v1/compare/saved/{saved.pk}/?version={saved.version}")
    assert (answer.status_code, answer.json()["code"]) == (400, "has_verdict")


def test_the_list_says_how_each_stands(
    api, people, verdict, written, django_assert_max_num_queries
):
    (row,) = api.get("/api/v1/verdicts/").json()["results"]
    assert (row["stale"], row["grade"]) == (0, "Thin evidence")
    assert row["blocked"] == 4
    run = Run.objects.first()
    review_run(actor=people["reviewer"], run=run, review="rejected", reason="x", base=run.version)
    (row,) = api.get("/api/v1/verdicts/").json()["results"]
    assert row["stale"] == 1
    with django_assert_max_num_queries(8):
        api.get("/api/v1/verdicts/")


def test_a_verdict_takes_no_more_queries_for_more_figures(
    api, verdict, written, django_assert_num_queries
):
    from django.db import connection
    from django.test.utils import CaptureQueriesContext

    with CaptureQueriesContext(connection) as few:
        api.get(url(verdict))
    numbers = [
        quote(api, verdict, name=name, condition=condition, level=level).json()["id"]
        for name in ("power_w", "current_a", "speed_rpm")
        for condition, level in (("full", 0.0), ("throttle_pct", 50.0), ("thrust_gf", 600.0))
        if not (name == "speed_rpm" and condition == "full")
    ]
    doc = prose(*[part for pk in numbers for part in (pk, " and ")])
    write(api, verdict, sections={"limits": doc})
    with CaptureQueriesContext(connection) as many:
        api.get(url(verdict))
    assert len(many) <= len(few)


def test_speaking_notes_round_as_one_speaks(api, verdict, written, rig):
    rig["motor"].refresh_from_db()
    write(api, verdict, sentence="Plain.", sentence_version=rig["motor"].version)
    notes = api.get(url(verdict, "notes")).json()
    titles = [one["title"] for one in notes["sections"]]
    assert titles == ["The sentence", "Propellers"]
    assert notes["sections"][1]["lines"] == ["It pulls about 1,200 grams of thrust."]
    assert notes["seconds"] == pytest.approx(sum(one["seconds"] for one in notes["sections"]))


def test_a_motor_that_was_never_run_has_a_first_look(api, people):
    motor = take_in_motor(
        actor=people["reviewer"],
        maker="Hollin",
        name="Pale",
        size_code="2807",
        kv_label_rpm_per_v=1250,
        sample_marks=["A"],
    )
    verdict = api.post("/api/v1/verdicts/", {"motor": motor.pk}, format="json").json()
    assert verdict["grade"]["grade"] == "first_look"
    told = api.get(url(verdict, "proposals")).json()
    assert told["rivals"] == []
    assert any("never run with a propeller" in one["text"] for one in told["statements"])
    assert MotorModel.objects.get(pk=motor.pk).verdict == ""


def test_readers_read_and_do_not_write(as_role, verdict, written):
    reader = as_role("reader")
    assert reader.get(url(verdict)).status_code == 200
    assert reader.patch(url(verdict), {"sentence": "x"}, format="json").status_code == 403
    assert quote(reader, verdict).status_code == 403
    assert reader.post(url(verdict, "adopt"), {"key": "x"}, format="json").status_code == 403
    body = {"word": "x"}
    figure = url(verdict, "figures", written["id"])
    assert reader.patch(figure, body, format="json").status_code == 403
    assert as_role(None).get(url(verdict)).status_code in (401, 403)


def test_a_price_and_another_build_of_the_rival_are_proposed(api, people, rig, record, verdict):
    rival = a_rival(people, rig, record)
    for motor, amount, arcs in ((rig["motor"], 20.0, "arc"), (rival, 26.0, "flat")):
        parcel = motor.parcels.get()
        change_parcel(
            actor=people["reviewer"],
            parcel=parcel,
            base=parcel.version,
            price_amount=amount,
            price_currency="EUR",
            shipping="included",
        )
        record_observation(
            actor=people["reviewer"],
            sample=motor.samples.first(),
            attribute="magnet_shape",
            status="observed",
            choice=arcs,
        )
    found = api.get(url(verdict, "proposals"), {"against": rival.pk}).json()["statements"]
    said = {one["key"].partition("/")[0]: one for one in found}
    assert said["price"]["text"].startswith("It costs less than the Ostrel Drift 2206 1900")
    assert said["price"]["section"] == "costs"
    made = next(one for one in found if one["key"].startswith("made_of/magnet_shape/"))
    adopted = api.post(
        url(verdict, "adopt"), {"key": made["key"], "against": rival.pk}, format="json"
    ).json()
    write(api, verdict, sections={"made_of": {"type": "doc", "content": [adopted["paragraph"]]}})
    assert not [one for one in api.get(url(verdict)).json()["figures"] if one["stale"]]
    # The rival is taken apart again, and it was an arc after all.
    seen = rival.samples.first().observations.get(attribute="magnet_shape")
    record_observation(
        actor=people["reviewer"],
        sample=rival.samples.first(),
        attribute="magnet_shape",
        status="observed",
        choice="arc",
        base=seen.version,
    )
    assert [one["stale"] for one in api.get(url(verdict)).json()["figures"]].count(True) == 1


def test_a_comparison_that_cannot_be_asked_any_more_stops_no_list(api, people, rig, record):
    record()
    kept = save_comparison(
        actor=people["reviewer"], name="Old", asked={"runs": "nonsense"}, marks=[], note=""
    )
    row = api.post("/api/v1/verdicts/", {"comparison": kept.pk}, format="json")
    assert row.status_code == 201, row.json()
    assert api.get("/api/v1/verdicts/").status_code == 200
    assert api.get(url(row.json())).json()["grade"]["grade"] == "first_look"
