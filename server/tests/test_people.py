"""People: who may come in, where they are logged in, when that ends, and what they did."""

import datetime

import pytest
from django.contrib.sessions.models import Session
from django.test import Client
from django.utils import timezone

from spindle_server.accounts import sessions
from spindle_server.accounts.models import User
from spindle_server.accounts.services import change_person
from spindle_server.bench import services as bench
from spindle_server.errors import ConflictError
from spindle_server.motors.services import take_in_motor

from .conftest import PASSWORD


@pytest.fixture
def people(people):
    return people.all_there()


NEW = "two-copper-bells-77"


def logged_in(username, **extra):
    client = Client(**extra)
    answer = try_in(client, username)
    assert answer.status_code == 200, answer.json()
    return client


def try_in(client, username, password=PASSWORD, **extra):
    body = {"username": username, "password": password}
    return client.post("/api/v1/session/", body, content_type="application/json", **extra)


def is_in(client):
    return client.get("/api/v1/board/").status_code == 200


def post(client, path, body):
    return client.post(f"/api/v1/{path}", body, content_type="application/json")


def test_own_password_needs_the_one_so_far_and_ends_other_logins(people):
    here, there = logged_in("reviewer"), logged_in("reviewer")
    wrong = post(here, "session/password/", {"current": "x" * 12, "password": NEW})
    assert wrong.json()["fields"] == {"current": ["This is not your password."]}
    for weak in ("short", "password12", "1234567890"):
        answer = post(here, "session/password/", {"current": PASSWORD, "password": weak})
        assert answer.status_code == 400, weak
        assert "password" in answer.json()["fields"]
    assert is_in(there)
    answer = post(here, "session/password/", {"current": PASSWORD, "password": NEW})
    assert answer.status_code == 204
    assert is_in(here)
    assert not is_in(there)
    assert try_in(Client(), "reviewer").status_code == 403
    assert try_in(Client(), "reviewer", NEW).status_code == 200


def test_nobody_but_oneself_and_no_stranger_changes_a_password(people):
    stranger = Client()
    answer = post(stranger, "session/password/", {"current": PASSWORD, "password": NEW})
    assert answer.status_code == 401
    answer = post(logged_in("editor"), f"users/{people['reader'].pk}/password/", {"password": NEW})
    assert answer.status_code == 403


def test_a_reset_logs_out_everywhere(people):
    there = logged_in("reader")
    boss = logged_in("administrator")
    answer = post(boss, f"users/{people['reader'].pk}/password/", {"password": NEW})
    assert answer.status_code == 204
    assert not is_in(there)
    assert is_in(boss)
    assert try_in(Client(), "reader", NEW).status_code == 200
    weak = post(boss, f"users/{people['reader'].pk}/password/", {"password": "reader-1"})
    assert weak.status_code == 400


def test_logins_are_listed_and_ended_from_elsewhere(people):
    here = logged_in("reviewer", HTTP_USER_AGENT="Here/1", REMOTE_ADDR="10.0.0.7")
    there = logged_in("reviewer", HTTP_USER_AGENT="There/2" * 60)
    logged_in("editor")
    found = here.get("/api/v1/session/logins/").json()
    assert [one["own"] for one in found] == [True, False]
    assert found[0]["browser"] == "Here/1"
    assert found[0]["address"] == "10.0.0.7"
    assert found[1]["since"]
    # What is shown is no key that somebody could log in with.
    keys = set(Session.objects.values_list("session_key", flat=True))
    assert not keys & {one["handle"] for one in found}
    answer = here.delete(f"/api/v1/session/logins/{found[1]['handle']}/")
    assert answer.status_code == 204
    assert is_in(here)
    assert not is_in(there)
    assert here.delete(f"/api/v1/session/logins/{found[1]['handle']}/").status_code == 404


def test_nobody_ends_the_logins_of_others(people):
    other = logged_in("editor")
    handle = other.get("/api/v1/session/logins/").json()[0]["handle"]
    assert logged_in("reviewer").delete(f"/api/v1/session/logins/{handle}/").status_code == 404
    assert is_in(other)


def test_who_is_let_in_no_longer_is_out_at_once_and_may_come_again(people):
    there = logged_in("editor")
    change_person(actor=people["administrator"], user=people["editor"], base=1, is_active=False)
    assert not is_in(there)
    assert try_in(Client(), "editor").status_code == 403
    change_person(actor=people["administrator"], user=people["editor"], base=2, is_active=True)
    assert try_in(Client(), "editor").status_code == 200
    assert not is_in(there)


def test_somebody_always_administers(people):
    admin = people["administrator"]
    for leaving in (
        {"is_active": False},
        {"role": "reader"},
        {"role": "editor", "is_active": True},
    ):
        with pytest.raises(ConflictError, match="last administrator"):
            change_person(actor=admin, user=admin, base=1, **leaving)
    # One who may not come in administers nothing.
    second = User.objects.create(username="second", role="administrator", is_active=False)
    with pytest.raises(ConflictError):
        change_person(actor=admin, user=admin, base=1, is_active=False)
    change_person(actor=admin, user=second, base=1, is_active=True)
    assert change_person(actor=admin, user=admin, base=1, is_active=False).is_active is False


def test_hours_in_which_nobody_did_anything_end_a_login(people, settings, monkeypatch):
    client = logged_in("reviewer")
    began = timezone.now()
    for hours, stands in ((11, True), (22, True), (33, True), (46, False)):
        later = began + datetime.timedelta(hours=hours)
        monkeypatch.setattr(sessions.timezone, "now", lambda later=later: later)
        assert is_in(client) is stands, hours


def test_no_login_ends_by_itself_while_the_bench_is_hot(people, monkeypatch):
    client = logged_in("reviewer")
    assert bench.is_hot in sessions.MAY_NOT_END
    later = timezone.now() + datetime.timedelta(hours=13)
    monkeypatch.setattr(sessions.timezone, "now", lambda: later)
    hot = True
    monkeypatch.setattr(sessions, "MAY_NOT_END", [lambda: hot])
    assert is_in(client)
    client.cookies["sessionid"] = client.cookies["sessionid"].value
    monkeypatch.setattr(sessions.timezone, "now", lambda: later + datetime.timedelta(hours=13))
    hot = False
    assert not is_in(client)


@pytest.mark.parametrize(
    ("state", "hot"),
    [
        ("armed", True),
        ("running", True),
        ("aborting", True),
        ("coasting", True),
        ("idle", False),
        ("safe", False),
        ("faulted", False),
    ],
)
def test_what_is_hot(monkeypatch, state, hot):
    monkeypatch.setattr(bench, "command", lambda what: {"state": state})
    assert bench.is_hot() is hot


def test_without_an_agent_nothing_is_hot(settings, tmp_path):
    settings.AGENT_SOCKET = tmp_path / "none.sock"
    assert bench.is_hot() is False


def test_a_name_is_locked_wherever_it_is_tried_from(people, settings):
    for at in range(settings.FAILURES_OF_A_NAME):
        answer = try_in(Client(), "reviewer", "wrong", REMOTE_ADDR=f"10.0.0.{at}")
        assert answer.status_code == 403
    assert try_in(Client(), "reviewer", REMOTE_ADDR="10.9.9.9").status_code == 429
    assert try_in(Client(), "editor", REMOTE_ADDR="10.9.9.9").status_code == 200


def test_an_address_is_locked_whatever_names_it_tries(people, settings):
    for at in range(settings.FAILURES_FROM_AN_ADDRESS):
        assert try_in(Client(), f"name{at}", "wrong", REMOTE_ADDR="10.0.0.5").status_code == 403
    assert try_in(Client(), "editor", REMOTE_ADDR="10.0.0.5").status_code == 429
    assert try_in(Client(), "editor", REMOTE_ADDR="10.0.0.6").status_code == 200


def test_a_header_is_no_address(people, settings):
    """Whoever sends another one with each try is still where they are."""
    for at in range(5):
        forged = {"HTTP_X_FORWARDED_FOR": f"10.0.0.{at}", "HTTP_X_REAL_IP": f"10.0.1.{at}"}
        last = try_in(Client(), "reviewer", "wrong", **forged)
    assert last.status_code == 429


def test_what_the_api_says_is_kept_by_nobody(people):
    client = logged_in("reader")
    for path in ("board/", "session/", "runs/", "nothing/"):
        assert client.get(f"/api/v1/{path}")["Cache-Control"] == "no-store"


def test_deeds_tell_who_did_what(as_role, people):
    take_in_motor(actor=people["reviewer"], maker="Hollin", name="Pale", size_code="2807")
    take_in_motor(actor=people["editor"], maker="Hollin", name="Dusk", size_code="2207")
    found = as_role("administrator").get(f"/api/v1/users/{people['reviewer'].pk}/deeds/").json()
    assert ("added", "Pale") in {(one["kind"], one["which"]) for one in found}
    assert "Dusk" not in {one["which"] for one in found}
    assert found == sorted(found, key=lambda one: one["at"], reverse=True)
    assert not any(PASSWORD in str(one) for one in found)


def test_a_stream_ends_with_its_session(people):
    client = logged_in("reviewer")
    key = client.session.session_key
    assert sessions.still_open(key)
    people["reviewer"].is_active = False
    people["reviewer"].save()
    assert not sessions.still_open(key)
    people["reviewer"].is_active = True
    people["reviewer"].save()
    client.delete("/api/v1/session/")
    assert not sessions.still_open(key)
    assert not sessions.still_open(None)


def test_a_stream_that_was_open_elsewhere_ends_with_the_password_it_came_by(people):
    """The session's row is still there, but lets nobody in."""
    here, there = logged_in("reviewer"), logged_in("reviewer")
    keys = [client.session.session_key for client in (here, there)]
    assert all(map(sessions.still_open, keys))
    post(here, "session/password/", {"current": PASSWORD, "password": NEW})
    assert sessions.still_open(here.session.session_key)
    assert not sessions.still_open(keys[1])
    assert len(here.get("/api/v1/session/logins/").json()) == 1
    third = logged_in("reader")
    post(logged_in("administrator"), f"users/{people['reader'].pk}/password/", {"password": NEW})
    assert not Session.objects.filter(session_key=third.session.session_key).exists()
