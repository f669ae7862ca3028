"""The second factor: asked once name and password match, used up by use, needed by rule."""

import threading
import time
from concurrent.futures import ThreadPoolExecutor
from datetime import timedelta

import pytest
from django.db import connections
from django.test import Client
from django.utils import timezone
from django_otp.oath import TOTP
from django_otp.plugins.otp_static.models import StaticDevice, StaticToken
from django_otp.plugins.otp_totp.models import TOTPDevice

from spindle_server.accounts.models import AccessRule, Role

from .conftest import PASSWORD


@pytest.fixture
def people(people):
    return people.all_there()


SESSION = "/api/v1/session/"
OWN = f"{SESSION}second-factor/"
RULE = "/api/v1/access-rule/"


def send(client, path, body=None, method="post"):
    return getattr(client, method)(f"{path}", body or {}, content_type="application/json")


def log_in(username="reviewer", password=PASSWORD, client=None, **more):
    client = client or Client()
    return client, send(client, SESSION, {"username": username, "password": password, **more})


def digits(user, ahead=0):
    """What the telephone shows; ``ahead`` steps of half a minute from now."""
    device = TOTPDevice.objects.get(user=user)
    made = TOTP(device.bin_key, device.step, device.t0, device.digits, device.drift)
    made.time = time.time() + ahead * device.step
    return f"{made.token():06d}"


def forget_last(user):
    """The next code may be the one of this half minute again, and no pause is left."""
    TOTPDevice.objects.filter(user=user).update(
        last_t=-1, throttling_failure_count=0, throttling_failure_timestamp=None
    )


@pytest.fixture
def set_up(people):
    """A reviewer with a second factor, and the codes on their paper."""
    client, _ = log_in()
    assert send(client, OWN, {"password": PASSWORD}).status_code == 200
    codes = send(client, f"{OWN}confirmed/", {"code": digits(people["reviewer"])}).json()["codes"]
    forget_last(people["reviewer"])
    return client, codes


class TestSettingUp:
    def test_a_telephone_reads_it_and_shows_digits(self, people):
        client, _ = log_in()
        assert client.get(OWN).json() == {"on": False, "needed": False, "codes_left": 0}
        begun = send(client, OWN, {"password": PASSWORD}).json()
        assert begun["address"].startswith("otpauth://totp/Taut%20Spindle%3Areviewer?")
        assert begun["secret"] in begun["address"]
        rows = begun["picture"]
        assert len(rows) > 20
        assert {len(row) for row in rows} == {len(rows)}
        # Nothing is asked before it is confirmed.
        assert client.get(OWN).json()["on"] is False
        assert log_in()[1].status_code == 200
        confirmed = send(client, f"{OWN}confirmed/", {"code": digits(people["reviewer"])})
        codes = confirmed.json()["codes"]
        assert len(set(codes)) == 10
        assert client.get(OWN).json() == {"on": True, "needed": False, "codes_left": 10}

    @pytest.mark.parametrize("code", ["000000", "", " ", "abc", "²²²²²²", "12345678901234567890"])
    def test_a_wrong_code_confirms_nothing(self, people, code):
        client, _ = log_in()
        send(client, OWN, {"password": PASSWORD})
        assert send(client, f"{OWN}confirmed/", {"code": code}).status_code in (400, 403)
        assert client.get(OWN).json()["on"] is False

    def test_an_open_page_without_the_password_changes_nothing(self, people, set_up):
        client, _ = set_up
        for path in (OWN, f"{OWN}codes/", f"{OWN}ended/"):
            answer = send(client, path, {"password": "something-else"})
            assert answer.status_code == 400
            assert answer.json()["code"] == "wrong_password"
        assert client.get(OWN).json() == {"on": True, "needed": False, "codes_left": 10}

    def test_guessing_the_password_there_is_locked_like_at_the_login(self, people):
        client, _ = log_in()
        for number in range(5):
            send(client, OWN, {"password": f"guess-number-{number}"})
        assert log_in()[1].status_code == 429
        # And the right one is not told from a wrong one there either.
        assert send(client, OWN, {"password": PASSWORD}).status_code == 429

    def test_one_that_is_there_is_not_replaced_by_who_passes(self, people, set_up):
        client, _ = set_up
        before = TOTPDevice.objects.get(user=people["reviewer"]).key
        assert send(client, OWN, {"password": PASSWORD}).status_code == 409
        assert TOTPDevice.objects.get(user=people["reviewer"]).key == before

    def test_nothing_begun_nothing_confirmed(self, people):
        client, _ = log_in()
        assert send(client, f"{OWN}confirmed/", {"code": "123456"}).status_code == 409


class TestLoggingIn:
    def test_is_asked_for_only_once_the_password_is_right(self, people, set_up):
        wrong = log_in(password="not-this-one")[1]
        assert wrong.json()["code"] == "login_refused"
        right = log_in()[1]
        assert right.status_code == 403
        assert right.json()["code"] == "second_factor"
        assert Client().get(SESSION).json()["user"] is None

    def test_the_digits_let_in_and_count_once(self, people, set_up):
        code = digits(people["reviewer"])
        client, answer = log_in(code=f"{code[:3]} {code[3:]}")
        assert answer.status_code == 200
        assert client.get(SESSION).json()["user"]["username"] == "reviewer"
        again = log_in(code=code)[1]
        assert again.json()["code"] in ("wrong_code", "too_soon")

    def test_digits_of_an_hour_ago_let_nobody_in(self, people, set_up):
        answer = log_in(code=digits(people["reviewer"], ahead=-120))[1]
        assert answer.json()["code"] == "wrong_code"

    def test_wrong_codes_cost_time_and_the_right_one_has_to_wait_too(self, people, set_up):
        log_in(code="000000")
        mine = TOTPDevice.objects.filter(user=people["reviewer"])
        assert mine.get().throttling_failure_count == 1
        # Eight before it: the pause is longer than any machine is slow.
        mine.update(throttling_failure_count=9)
        answer = log_in(code=digits(people["reviewer"]))[1]
        assert answer.status_code == 429
        assert answer.json()["code"] == "too_soon"
        # It ends; nobody is locked out for ever.
        mine.update(throttling_failure_timestamp=timezone.now() - timedelta(hours=1))
        assert log_in(code=digits(people["reviewer"]))[1].status_code == 200
        assert mine.get().throttling_failure_count == 0

    def test_a_code_on_paper_lets_in_once(self, people, set_up):
        _, codes = set_up
        assert log_in(code=codes[3].upper())[1].status_code == 200
        assert log_in(code=codes[3])[1].status_code in (403, 429)
        assert StaticToken.objects.count() == 9

    def test_codes_of_others_let_nobody_in(self, people, set_up):
        _, codes = set_up
        other, _ = log_in("editor")
        send(other, OWN, {"password": PASSWORD})
        send(other, f"{OWN}confirmed/", {"code": digits(people["editor"])})
        assert log_in("editor", code=codes[0])[1].json()["code"] == "wrong_code"

    def test_other_codes_on_paper_end_those_before(self, people, set_up):
        client, codes = set_up
        fresh = send(client, f"{OWN}codes/", {"password": PASSWORD}).json()["codes"]
        assert not set(fresh) & set(codes)
        assert log_in(code=codes[0])[1].json()["code"] == "wrong_code"
        StaticDevice.objects.update(throttling_failure_count=0, throttling_failure_timestamp=None)
        assert log_in(code=fresh[0])[1].status_code == 200

    def test_ended_it_is_asked_no_more(self, people, set_up):
        client, _ = set_up
        assert send(client, f"{OWN}ended/", {"password": PASSWORD}).status_code == 204
        assert log_in()[1].status_code == 200
        assert not TOTPDevice.objects.exists()
        assert not StaticDevice.objects.exists()


class TestTheRule:
    def admin(self, people):
        client, _ = log_in("administrator")
        send(client, OWN, {"password": PASSWORD})
        send(client, f"{OWN}confirmed/", {"code": digits(people["administrator"])})
        return client

    def change(self, client, role):
        version = client.get(RULE).json()["version"]
        return send(client, RULE, {"second_factor_from": role, "version": version}, "patch")

    def test_who_has_none_does_not_ask_it_of_their_own_role(self, people):
        client, _ = log_in("administrator")
        answer = self.change(client, Role.EDITOR)
        assert answer.status_code == 409
        assert AccessRule.objects.filter(second_factor_from="editor").count() == 0

    def test_nobody_needs_one_at_first(self, people):
        client, _ = log_in("administrator")
        assert client.get(RULE).json()["second_factor_from"] == ""

    def test_who_needs_one_is_logged_out_and_may_do_nothing_but_set_it_up(self, people):
        editor, _ = log_in("editor")
        reviewer, _ = log_in("reviewer")
        assert self.change(self.admin(people), Role.EDITOR).status_code == 200
        assert editor.get("/api/v1/board/").status_code == 401
        assert reviewer.get("/api/v1/board/").status_code == 200
        editor, answer = log_in("editor")
        assert answer.json()["second_factor_due"] is True
        refused = editor.get("/api/v1/board/")
        assert refused.status_code == 403
        assert refused.json()["code"] == "second_factor_due"
        assert editor.get("/api/v1/bench/door/").status_code == 403
        assert editor.get("/api/v1/bench/stream/").status_code == 403
        send(editor, OWN, {"password": PASSWORD})
        done = send(editor, f"{OWN}confirmed/", {"code": digits(people["editor"])})
        assert done.status_code == 200
        assert editor.get("/api/v1/board/").status_code == 200
        assert editor.get(SESSION).json()["second_factor_due"] is False

    def test_where_it_is_needed_it_is_not_ended(self, people):
        client = self.admin(people)
        self.change(client, Role.ADMINISTRATOR)
        answer = send(client, f"{OWN}ended/", {"password": PASSWORD})
        assert answer.status_code == 409
        assert client.get(OWN).json() == {"on": True, "needed": True, "codes_left": 10}

    def test_an_administrator_helps_who_lost_telephone_and_paper(self, people, set_up):
        lost, _ = set_up
        client = self.admin(people)
        rows = client.get("/api/v1/users/").json()["results"]
        having = {row["username"] for row in rows if row["second_factor"]}
        assert having == {"administrator", "reviewer"}
        path = f"/api/v1/users/{people['reviewer'].pk}/second-factor/"
        assert send(client, path, method="delete").status_code == 204
        assert lost.get("/api/v1/board/").status_code == 401
        assert log_in()[1].status_code == 200

    def test_from_another_version_it_is_not_changed(self, people):
        client = self.admin(people)
        self.change(client, Role.ADMINISTRATOR)
        answer = send(client, RULE, {"second_factor_from": "", "version": 1}, "patch")
        assert answer.status_code == 409

    def test_a_role_that_is_none_is_refused(self, people):
        assert self.change(self.admin(people), "everybody").status_code == 400


@pytest.mark.django_db(transaction=True)
def test_of_two_who_send_one_code_at_one_instant_one_is_let_in(people, set_up):
    _, codes = set_up
    gate = threading.Barrier(2)

    def one(_):
        try:
            gate.wait(10)
            return log_in(code=codes[0])[1].status_code
        finally:
            connections.close_all()

    with ThreadPoolExecutor(2) as pool:
        found = list(pool.map(one, range(2)))
    assert sorted(found)[0] == 200
    assert sorted(found)[1] in (403, 429)


def test_neither_code_nor_secret_is_in_the_log(people, caplog):
    caplog.set_level("INFO")
    client, _ = log_in()
    begun = send(client, OWN, {"password": PASSWORD}).json()
    code = digits(people["reviewer"])
    codes = send(client, f"{OWN}confirmed/", {"code": code}).json()["codes"]
    log_in(code=codes[0])
    for secret in (begun["secret"], codes[0], codes[0].replace("-", "")):
        assert secret not in caplog.text
