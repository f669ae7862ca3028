"""Logging in: CSRF, throttling, roles and the first administrator."""

import pytest
from django.core.management import call_command
from django.test import Client

from spindle_server.accounts.models import User
from spindle_server.accounts.services import change_person, create_user
from spindle_server.errors import ConflictError, ServiceError

from .conftest import PASSWORD


@pytest.fixture
def people(people):
    return people.all_there()


@pytest.fixture
def visitor():
    return Client(enforce_csrf_checks=True)


def log_in(visitor, password=PASSWORD, *, username="reviewer", token=True):
    visitor.get("/api/v1/session/")
    headers = {"X-CSRFToken": visitor.cookies["csrftoken"].value} if token else {}
    return visitor.post(
        "/api/v1/session/",
        {"username": username, "password": password},
        content_type="application/json",
        headers=headers,
    )


def test_log_in_and_out(visitor, people):
    assert visitor.get("/api/v1/session/").json()["user"] is None
    answer = log_in(visitor)
    assert answer.json()["user"]["role"] == "reviewer"
    assert "password" not in answer.content.decode()
    assert visitor.get("/api/v1/board/").status_code == 200
    token = visitor.cookies["csrftoken"].value
    visitor.delete("/api/v1/session/", headers={"X-CSRFToken": token})
    assert visitor.get("/api/v1/board/").status_code == 401


def test_logging_in_needs_the_csrf_token(visitor, people):
    assert log_in(visitor, token=False).status_code == 403
    assert visitor.get("/api/v1/session/").json()["user"] is None


def test_writing_needs_the_csrf_token(visitor, people):
    log_in(visitor)
    answer = visitor.post("/api/v1/motors/", {}, content_type="application/json")
    assert answer.status_code == 403
    assert "CSRF" in answer.json()["message"]


def test_a_wrong_password_does_not_say_what_was_wrong(visitor, people):
    known = log_in(visitor, "wrong")
    unknown = log_in(visitor, "wrong", username="nobody")
    assert known.status_code == unknown.status_code == 403
    assert known.json()["message"] == unknown.json()["message"]


def test_five_failures_lock_the_pair_of_name_and_address(visitor, people):
    for _ in range(5):
        last = log_in(visitor, "wrong")
    assert last.status_code == 429
    assert log_in(visitor).status_code == 429
    assert log_in(visitor, username="reader").status_code == 200


def test_security_headers(visitor, people, settings, tmp_path):
    answer = visitor.get("/api/v1/session/")
    policy = answer["Content-Security-Policy"]
    assert "default-src 'self'" in policy
    assert "frame-ancestors 'none'" in policy
    assert answer["X-Content-Type-Options"] == "nosniff"
    assert answer["X-Frame-Options"] == "DENY"
    log_in(visitor)
    assert visitor.cookies["sessionid"]["httponly"]


def test_passwords_are_hashed_with_argon2(people):
    assert people["reader"].password.startswith("argon2$")


def test_weak_passwords_and_taken_names_are_refused(people):
    admin = people["administrator"]
    with pytest.raises(ServiceError) as caught:
        create_user(actor=admin, username="new", password="password", role="reader")
    assert "password" in caught.value.fields
    with pytest.raises(ConflictError):
        create_user(actor=admin, username="reader", password=PASSWORD, role="reader")
    with pytest.raises(ServiceError):
        create_user(actor=people["editor"], username="new", password=PASSWORD, role="reader")


def test_the_last_administrator_keeps_the_role(people):
    admin = people["administrator"]
    with pytest.raises(ConflictError):
        change_person(actor=admin, user=admin, role="reader", base=1)
    create_user(actor=admin, username="second", password=PASSWORD, role="administrator")
    assert change_person(actor=admin, user=admin, role="reader", base=1).role == "reader"


def test_administering_over_the_api(as_role, people):
    api = as_role("administrator")
    body = {"username": "mira", "full_name": "Mira", "password": PASSWORD, "role": "reader"}
    made = api.post("/api/v1/users/", body, format="json")
    assert made.status_code == 201
    changed = api.patch(
        f"/api/v1/users/{made.json()['id']}/", {"role": "reviewer", "version": 1}, format="json"
    )
    assert changed.json()["role"] == "reviewer"
    assert len(api.get("/api/v1/users/").json()["results"]) == 5


def test_the_first_administrator_is_made_once(db, capsys):
    call_command("first_start")
    said = capsys.readouterr().out
    password = said.split("/ ")[1].split(" ")[0]
    assert User.objects.get(username="admin").check_password(password)
    call_command("first_start")
    assert capsys.readouterr().out == ""
