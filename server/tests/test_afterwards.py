"""Afterwards: flights against Match, letters quoted, follow-ups that come due, names erased."""

import datetime
import json
from http import HTTPStatus

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.utils import timezone

from spindle_server.afterwards.hours import used
from spindle_server.afterwards.models import Flight, FollowUp, Letter
from spindle_server.afterwards.services import note_follow_up
from spindle_server.match.services import add_craft
from spindle_server.motors.services import take_in_motor
from spindle_server.motors.weighing import add_weighing
from spindle_server.runs.models import Run

TODAY = timezone.localdate


@pytest.fixture
def craft(people, rig, record):
    """A craft that carries the motor that was run at its cells."""
    record()
    record(1.002)
    add_weighing(
        actor=people["reviewer"],
        sample=rig["samples"][0],
        mass_g=31.4,
        resolution_g=0.1,
        lead_length_mm=60.0,
        weighed_on=TODAY(),
        instrument="kitchen scale",
    )
    return add_craft(
        actor=people["reviewer"],
        name="Five inch",
        cells=4,
        capacity_mah=1300.0,
        items=[{"name": "all but motors", "mass_g": 1600.0}],
        carries_motor=rig["motor"],
        carries_propeller=rig["propeller"],
    )


def note(api, craft, **values):
    body = {"craft": craft.pk, "flown_on": "2026-10-12", "minutes": 5.5, **values}
    return api.post("/api/v1/flights/", body, format="json")


def test_craft_day_and_minutes_suffice(api, rig, craft):
    answer = note(api, craft)
    assert answer.status_code == HTTPStatus.CREATED, answer.json()
    flight = answer.json()
    assert flight["capacity_mah"] == 1300.0
    assert flight["motor_name"] == "Quillmoor Sable 2105.5 1950"
    assert flight["rests_on"] == "from 2 runs, 16 V bench supply"
    assert flight["predicted_min"]["value"] > 0.5
    assert flight["predicted_min"]["assumed"]
    assert flight["put_back_mah"] is None


def test_what_was_foreseen_stays_as_it_was_foreseen(api, people, rig, craft, record):
    flight = note(api, craft).json()
    record(1.4)
    again = api.patch(
        f"/api/v1/flights/{flight['id']}/",
        {"impressions": "smooth", "version": flight["version"]},
        format="json",
    ).json()
    assert again["predicted_min"] == flight["predicted_min"]
    assert again["impressions"] == "smooth"
    assert note(api, craft).json()["predicted_min"] != flight["predicted_min"]


def test_a_heavier_flight_is_foreseen_shorter(api, craft):
    light, heavy = (note(api, craft, mass_g=mass).json() for mass in (1600.0, 2400.0))
    assert heavy["predicted_min"]["value"] < light["predicted_min"]["value"] * 0.6


def test_a_craft_that_carries_nothing_has_no_prediction_and_says_so(api, people):
    bare = add_craft(
        actor=people["reviewer"],
        name="Bare",
        cells=4,
        capacity_mah=1300.0,
        items=[{"name": "frame", "mass_g": 300.0}],
    )
    flight = note(api, bare).json()
    assert flight["predicted_min"]["value"] is None
    assert flight["predicted_min"]["reason"] == "motor and propeller were not named"
    assert api.get(f"/api/v1/craft/{bare.pk}/flown/").json()["counted"] == 0


@pytest.mark.parametrize(
    ("wrong", "field"),
    [
        ({"minutes": 0}, "minutes"),
        ({"minutes": "about five"}, "minutes"),
        ({"minutes": None}, "minutes"),
        ({"put_back_mah": 9000}, "put_back_mah"),
        ({"hover_share_pct": 120}, "hover_share_pct"),
        ({"flown_on": "2090-01-01"}, "flown_on"),
        ({"wind": "storm"}, "wind"),
        ({"cells": 0}, "cells"),
    ],
)
def test_a_flight_that_cannot_be_is_refused_at_its_field(api, craft, wrong, field):
    answer = note(api, craft, **wrong)
    assert answer.status_code == HTTPStatus.BAD_REQUEST
    assert field in answer.json()["fields"]
    assert not Flight.objects.exists()


def test_a_sample_of_another_motor_did_not_fly(api, people, craft):
    other = take_in_motor(actor=people["reviewer"], maker="Ostrel", name="Drift", size_code="2206")
    answer = note(api, craft, samples=[other.samples.get().pk])
    assert answer.json()["fields"] == {"samples": ["A sample is of the motor that flew."]}


def test_flights_together_say_their_error_and_the_school_that_fits(api, craft):
    foreseen = note(api, craft, put_back_mah=1040).json()["predicted_min"]["value"]
    Flight.objects.all().delete()
    for share in (1.40, 1.41, 1.39, 1.40):
        note(api, craft, minutes=round(share * foreseen, 2), put_back_mah=1040)
    struck = note(api, craft, minutes=2.0, put_back_mah=1040).json()
    api.patch(
        f"/api/v1/flights/{struck['id']}/",
        {"struck_reason": "landed early", "version": 1},
        format="json",
    )
    found = api.get(f"/api/v1/craft/{craft.pk}/flown/").json()
    assert found["counted"] == 4
    stand = next(one for one in found["schools"] if one["key"] == "stand")
    assert stand["refuted"]
    assert next(one for one in found["schools"] if one["fits"])["key"] == "learnt"
    assert "longer than on the stand" in found["says"]


def test_hours_and_starts_come_from_runs_and_flights(api, rig, craft):
    a, b = rig["samples"]
    note(api, craft, minutes=6.0, samples=[a.pk])
    note(api, craft, minutes=6.0, samples=[a.pk])
    found = used([a.pk, b.pk])
    assert found[a.pk].flown_h == pytest.approx(0.2)
    assert found[a.pk].flown_starts == 2
    assert found[a.pk].bench_starts == 2
    trace = Run.objects.order_by("pk")[0].segments.order_by("index")
    seconds = trace.last().end_s - trace.first().begin_s
    assert found[a.pk].bench_h == pytest.approx(2 * seconds / 3600, rel=1e-6)
    assert (found[b.pk].hours, found[b.pk].starts) == (0.0, 0)


def test_typed_runs_are_counted_and_nobody_invents_their_time(rig, craft):
    Run.objects.all().update(origin="typed")
    one = used([rig["samples"][0].pk])[rig["samples"][0].pk]
    assert (one.bench_starts, one.untimed, one.bench_h) == (2, 2, 0.0)


def test_the_timeline_tells_hours_so_far(api, rig, craft):
    a = rig["samples"][0]
    note(api, craft, minutes=60.0, samples=[a.pk], flown_on="2026-10-12")
    note(api, craft, minutes=60.0, samples=[a.pk], flown_on="2026-10-20")
    api.post(
        f"/api/v1/samples/{a.pk}/incidents/",
        {"kind": "seized", "happened_on": "2026-10-15", "note": "rough"},
        format="json",
    )
    told = api.get(f"/api/v1/motors/{rig['motor'].pk}/afterwards/").json()
    incident = next(one for one in told["timeline"] if one["kind"] == "incident")
    bench = told["samples"][0]["bench_h"]
    # What was run on the bench today comes after it.
    assert incident["hours"] == pytest.approx(1.0, abs=bench + 1e-9)
    assert incident["mark"] == "A"
    assert (incident["sample"], incident["incident"]) == (a.pk, a.incidents.get().pk)
    assert told["samples"][0]["flown_h"] == pytest.approx(2.0)
    assert told["flights"][0]["flown_on"] == "2026-10-20"


def letter(api, **values):
    body = {"kind": "question", "text": "How hot?", "received_on": "2026-10-12", **values}
    return api.post("/api/v1/letters/", body, format="json")


def test_a_report_is_quoted_and_counted_apart(api, rig):
    motor = rig["motor"].pk
    letter(api, kind="report", text="It seized.", motor=motor, failure="seized", person="Ana")
    letter(api, kind="report", text="All well.", motor=motor)
    told = api.get(f"/api/v1/motors/{motor}/afterwards/").json()
    assert told["reports"]["count"] == 2
    assert [one["count"] for one in told["reports"]["failures"]] == [1]
    assert not rig["samples"][0].incidents.exists()
    assert letter(api, failure="seized").json()["fields"] == {
        "failure": ["Only a report tells of a failure."]
    }


def test_an_answer_bears_its_day_and_takes_the_letter_off_the_board(api):
    made = letter(api).json()
    wish = letter(api, kind="wish", text="A keyed shaft, please.").json()
    assert api.get("/api/v1/afterwards/").json()["unanswered_count"] == 2
    answered = api.patch(
        f"/api/v1/letters/{made['id']}/",
        {"answer": "At 71 °C.", "version": made["version"]},
        format="json",
    ).json()
    assert answered["answered_on"] == TODAY().isoformat()
    left = api.get("/api/v1/afterwards/").json()["unanswered"]
    assert [one["id"] for one in left] == [wish["id"]]
    taken_back = api.patch(
        f"/api/v1/letters/{made['id']}/",
        {"answer": " ", "version": answered["version"]},
        format="json",
    ).json()
    assert taken_back["answered_on"] is None


@pytest.mark.parametrize("wrong", [{"text": " "}, {"received_on": "2090-01-01"}, {"kind": "spam"}])
def test_a_letter_that_says_nothing_is_refused(api, wrong):
    assert letter(api, **wrong).status_code == HTTPStatus.BAD_REQUEST
    assert not Letter.objects.exists()


def follow(api, rig, **values):
    body = {"motor": rig["motor"].pk, "text": "Look at the bearing", **values}
    return api.post("/api/v1/follow-ups/", body, format="json")


def on_the_board(api):
    return [one["row"]["text"] for one in api.get("/api/v1/afterwards/").json()["due"]]


def test_a_point_waits_for_its_day(api, rig):
    tomorrow = (TODAY() + datetime.timedelta(days=1)).isoformat()
    later = follow(api, rig, trigger="date", due_on=tomorrow).json()
    assert later["due"] is False
    assert on_the_board(api) == []
    FollowUp.objects.update(due_on=TODAY())
    assert on_the_board(api) == ["Look at the bearing"]


def test_a_point_waits_for_hours_since_it_was_noted(api, rig, craft):
    a = rig["samples"][0]
    note(api, craft, minutes=120.0, samples=[a.pk])
    follow(api, rig, trigger="hours", after_hours=1.0)
    assert on_the_board(api) == []
    note(api, craft, minutes=30.0, samples=[a.pk])
    assert on_the_board(api) == []
    note(api, craft, minutes=30.0, samples=[a.pk])
    assert on_the_board(api) == ["Look at the bearing"]


def test_a_point_waits_for_a_flight_and_is_done_with_a_word(api, rig, craft):
    note(api, craft)
    made = follow(api, rig, trigger="first_flight").json()
    # One that was flown before does not bring it back.
    assert made["due"] is False
    note(api, craft)
    assert on_the_board(api) == ["Look at the bearing"]
    done = api.patch(
        f"/api/v1/follow-ups/{made['row']['id']}/",
        {"done": True, "done_note": "dry", "version": made["row"]["version"]},
        format="json",
    ).json()
    assert done["row"]["done_on"] == TODAY().isoformat()
    assert on_the_board(api) == []


@pytest.mark.parametrize(
    ("wrong", "field"),
    [
        ({"trigger": "date"}, "due_on"),
        ({"trigger": "hours"}, "after_hours"),
        ({"trigger": "hours", "after_hours": 0}, "after_hours"),
        ({"trigger": "hours", "after_hours": -1}, "after_hours"),
        ({"trigger": "first_flight", "text": " "}, "text"),
    ],
)
def test_a_trigger_without_what_it_needs_is_refused(api, rig, wrong, field):
    answer = follow(api, rig, **wrong)
    assert answer.status_code == HTTPStatus.BAD_REQUEST
    assert field in answer.json()["fields"]


def test_a_name_is_erased_and_no_history_keeps_it(api, as_role, craft):
    made = letter(api, person="Ana Lund", text="Regards, Ana Lund.").json()
    api.patch(
        f"/api/v1/letters/{made['id']}/",
        {"text": "Hello from ANA LUND", "version": 1},
        format="json",
    )
    note(api, craft, flown_by="ana lund")
    assert api.post("/api/v1/afterwards/erasing/", {"name": "Ana Lund"}).status_code == 403
    admin = as_role("administrator")
    told = admin.post("/api/v1/afterwards/erasing/", {"name": "Ana Lund "}, format="json").json()
    assert told == {"changed": 2, "mentioned": [made["id"]]}
    assert set(Letter.objects.values_list("person", flat=True)) == {"erased"}
    assert "Ana Lund" not in set(Letter.history.values_list("person", flat=True))
    assert {name.casefold() for name in Flight.history.values_list("flown_by", flat=True)} == {
        "erased"
    }
    again = admin.post("/api/v1/afterwards/erasing/", {"name": "Ana Lund"}, format="json")
    assert again.status_code == HTTPStatus.BAD_REQUEST


def table(api, of, text, columns=None, name="my.csv"):
    file = SimpleUploadedFile(name, text if isinstance(text, bytes) else text.encode(), "text/csv")
    if columns is None:
        body = {"file": file, "of": of}
        return api.post("/api/v1/afterwards/tables/look/", body, format="multipart")
    body = {"file": file, "of": of, "columns": json.dumps(columns)}
    return api.post("/api/v1/afterwards/tables/", body, format="multipart")


LOGBOOK = (
    "Date;Quad;Min;mAh;Wind;Weather\n"
    "2026-10-12;Five inch;5,5;1040;calm;sunny\n"
    "13.10.2026;five inch;4,8;;A breeze;\n"
)


def test_a_logbook_comes_in_by_its_columns(api, craft):
    seen = table(api, "flights", LOGBOOK).json()
    assert seen["proposed"] == ["flown_on", "craft", "minutes", "put_back_mah", "wind", ""]
    assert seen["rows"] == 2
    noted = table(api, "flights", LOGBOOK, seen["proposed"])
    assert noted.json() == {"noted": 2}, noted.json()
    flights = list(Flight.objects.order_by("flown_on"))
    assert [one.minutes for one in flights] == [5.5, 4.8]
    assert [one.put_back_mah for one in flights] == [1040.0, None]
    assert [one.wind for one in flights] == ["calm", "breeze"]


@pytest.mark.parametrize(
    ("row", "said"),
    [
        ("2026-10-12;Six inch;5;;;", "line 4, Craft: “Six inch” is not known here"),
        ("12/10/2026;Five inch;5;;;", "line 4, Day: “12/10/2026” is no day"),
        ("2026-10-12;Five inch;;;;", "line 4, Minutes"),
        ("2026-10-12;Five inch;five;;;", "“five” is no number"),
        ("2026-10-12;Five inch;nan;;;", "“nan” is no number"),
        ("2026-10-12;Five inch;5;1,040;;", "may be two numbers"),
        ("2026-10-12;Five inch;5;9999;;", "line 4: 9999 mAh were not put back"),
        ("2026-10-12;Five inch;5;;storm;", "“storm” is not known here (calm"),
        ("2026-10-12;Five inch", "line 4 has 2 of 6 columns"),
    ],
)
def test_one_wrong_row_and_nothing_is_noted(api, craft, row, said):
    columns = ["flown_on", "craft", "minutes", "put_back_mah", "wind", ""]
    answer = table(api, "flights", f"{LOGBOOK}{row}\n", columns)
    assert answer.status_code == HTTPStatus.BAD_REQUEST
    assert said in answer.json()["message"]
    assert not Flight.objects.exists()


@pytest.mark.parametrize(
    ("text", "columns", "said"),
    [
        (b"\n\n", [], "no rows"),
        (b"\xff\xfe\x00", [], "UTF-8"),
        ("a,b\n", ["", ""], "no rows"),
        ("a,b\n1,2\n", [""], "2 columns; 1 were named"),
        ("a,b\n1,2\n", ["minutes", "minutes"], "named twice"),
        ("a,b\n1,2\n", ["minutes", "colour"], "colour is no field"),
        ("a,b\n1,2\n", ["minutes", ""], "Say which column is: Day, Craft."),
    ],
)
def test_what_is_no_table_is_refused(api, text, columns, said):
    answer = table(api, "flights", text, columns)
    assert answer.status_code == HTTPStatus.BAD_REQUEST
    assert said in answer.json()["message"]


def test_letters_come_in_by_their_columns(api, rig):
    text = (
        "received,type,message,name,motor,failure\n"
        "2026-10-12,report from the field,It seized,Ana,Quillmoor Sable 2105.5 1950,seized\n"
        "2026-10-13,question,How hot?,,,\n"
    )
    seen = table(api, "letters", text).json()
    assert seen["proposed"] == ["received_on", "kind", "text", "person", "motor", "failure"]
    assert table(api, "letters", text, seen["proposed"]).json() == {"noted": 2}
    assert Letter.objects.get(kind="report").motor == rig["motor"]


def test_hours_need_a_motor(people, rig):
    row = note_follow_up(
        actor=people["reviewer"], motor=rig["motor"], text="x", trigger="date", due_on=TODAY()
    )
    assert row.hours_then == 0.0


def used_run(record, days_ago, scale=1.0):
    """A run of sample A made so many days ago."""
    run = record(scale)
    run.started_at = timezone.now() - datetime.timedelta(days=days_ago)
    run.save()
    return run


def test_wear_is_looked_for_after_the_hours_one_asks_for(api, rig, craft, record):
    """Two hours of flight between two runs: worn after one or two, not yet after three."""
    Run.objects.filter(sample=rig["samples"][0]).update(review="rejected", review_reason="x")
    used_run(record, 20)
    flown = (TODAY() - datetime.timedelta(days=10)).isoformat()
    flight = note(api, craft, minutes=120.0, flown_on=flown, samples=[rig["samples"][0].pk])
    assert flight.status_code == HTTPStatus.CREATED, flight.json()
    used_run(record, 2, 1.2)
    at = f"/api/v1/motors/{rig['motor'].pk}/afterwards/"
    for hours, worn in (("1", True), ("1.99", True), ("3", False)):
        found = api.get(at, {"wear_hours": hours}).json()
        assert found["wear_hours"] == float(hours)
        assert bool(found["worn"]) is worn, hours
    assert api.get(at).json()["wear_hours"] == 1.0
    for nonsense in ("0", "-1", "nan", "inf", "soon", "1e99"):
        assert api.get(at, {"wear_hours": nonsense}).status_code == HTTPStatus.BAD_REQUEST


# ---- readers' requests ---------------------------------------------------------------------------


def asks(api, **changes):
    body = {
        "kind": "request",
        "text": "How does it do on the two-blade?",
        "received_on": str(timezone.localdate()),
        **changes,
    }
    answer = api.post("/api/v1/letters/", body, format="json")
    assert answer.status_code == 201, answer.json()
    return answer.json()


def day(offset):
    return str(timezone.localdate() + datetime.timedelta(days=offset))


@pytest.mark.parametrize(
    ("asked", "state"),
    [
        ({}, "open"),
        ({"wanted_by": day(0)}, "open"),
        ({"wanted_by": day(-1)}, "stale"),
        ({"received_on": day(-365)}, "open"),
        ({"received_on": day(-366)}, "stale"),
        # What is wanted by a day to come is not stale, however long ago it was asked.
        ({"received_on": day(-900), "wanted_by": day(1)}, "open"),
        ({"kind": "question", "wanted_by": day(-1)}, "open"),
    ],
)
def test_a_request_goes_stale_by_its_day_or_by_age(api, asked, state):
    assert asks(api, **asked)["state"] == state


def test_a_request_is_declined_with_a_reason_and_can_be_opened_again(api, db):
    letter = asks(api, readers=12)

    def change(**body):
        now = api.get("/api/v1/letters/").json()["results"][0]
        address = f"/api/v1/letters/{letter['id']}/"
        return api.patch(address, {**body, "version": now["version"]}, format="json")

    bare = change(declined=True)
    assert bare.status_code == 400
    assert "why" in bare.json()["fields"]["answer"][0]
    said = change(declined=True, answer="Nobody here has that propeller.")
    assert (said.json()["state"], said.json()["readers"]) == ("declined", 12)
    assert change(answer="").json()["state"] == "open"
    assert change(answer="See edition 2.").json()["state"] == "answered"


@pytest.mark.parametrize("readers", [0, -1, 10_001, "many", 2.5])
def test_so_many_readers_cannot_have_asked(api, db, readers):
    body = {"kind": "request", "text": "x", "received_on": day(0), "readers": readers}
    answer = api.post("/api/v1/letters/", body, format="json")
    assert answer.status_code == 400
    assert "readers" in answer.json()["fields"]


def test_the_board_shows_what_is_wanted_soonest_then_what_most_want(api, db):
    asks(api, text="few", readers=2)
    asks(api, text="many", readers=9)
    asks(api, text="late", readers=40, wanted_by=day(-1))
    asks(api, text="soon", wanted_by=day(3))
    found = api.get("/api/v1/afterwards/").json()
    assert [one["text"] for one in found["requests"]] == ["soon", "many", "few"]
    assert found["request_count"] == 3
    assert found["unanswered_count"] == 0


def test_a_campaign_hears_what_led_to_it_and_what_is_asked_of_its_motors(api, rig):
    body = {
        "title": "Which?",
        "samples": [rig["samples"][0].pk],
        "propellers": [rig["propeller"].pk],
        "supplies": [rig["supply"].pk],
    }
    campaign = api.post("/api/v1/campaigns/", body, format="json").json()
    other = api.post("/api/v1/campaigns/", {**body, "title": "Other"}, format="json").json()
    asks(api, text="its own", campaign=campaign["id"], propeller=rig["propeller"].pk)
    asks(api, text="of the motor", motor=rig["motor"].pk, supply=rig["supply"].pk)
    asks(api, text="elsewhere", motor=rig["motor"].pk, campaign=other["id"])
    asks(api, text="of nothing")
    found = api.get(f"/api/v1/campaigns/{campaign['id']}/requests/").json()
    assert [one["text"] for one in found] == ["its own", "of the motor"]
    assert found[0]["propeller_name"] == rig["propeller"].full_name
    assert found[1]["supply_name"] == rig["supply"].name


def test_requests_come_from_a_table_too(api, db):
    text = (
        "date,type,message,votes,deadline\n"
        f"{day(-3)},request,The 6-inch please,7,{day(20)}\n"
        f"{day(-2)},request,The 7-inch please,0,\n"
    )
    columns = table(api, "letters", text).json()["proposed"]
    assert columns == ["received_on", "kind", "text", "readers", "wanted_by"]
    wrong = table(api, "letters", text, columns)
    assert wrong.status_code == HTTPStatus.BAD_REQUEST
    assert "line 3" in wrong.json()["message"]
    made = table(api, "letters", text.replace("please,0", "please,1"), columns)
    assert made.json() == {"noted": 2}
    rows = api.get("/api/v1/letters/").json()["results"]
    assert [(one["readers"], one["wanted_by"]) for one in rows] == [(1, None), (7, day(20))]
