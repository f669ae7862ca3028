"""A request that is sent again is carried out once, whatever comes between its tries."""

import datetime
import threading
from concurrent.futures import ThreadPoolExecutor

import pytest
from django.db import OperationalError, connection, connections
from django.test import Client
from django.utils import timezone

from spindle_server.motors.models import MotorModel, Weighing
from spindle_server.once import middleware
from spindle_server.once.models import CarriedOut
from spindle_server.urls import urlpatterns

KEY = "7d1f4c80-0001"
WEIGHED = {"mass_g": 31.4, "resolution_g": 0.1, "lead_length_mm": 60, "weighed_on": "2026-03-02"}


def client_of(user):
    client = Client(raise_request_exception=False)
    client.force_login(user)
    return client


@pytest.fixture
def bench(people):
    return client_of(people["reviewer"])


def post(client, path, body, key=KEY, **more):
    headers = {} if key is None else {"Idempotency-Key": key}
    return client.post(
        f"/api/v1{path}", body, content_type="application/json", headers=headers, **more
    )


def weigh(client, rig, key=KEY, **changes):
    path = f"/samples/{rig['samples'][0].pk}/weighings/"
    return post(client, path, {**WEIGHED, **changes}, key)


def test_a_weighing_that_is_sent_again_is_one_weighing(bench, rig):
    first, again = weigh(bench, rig), weigh(bench, rig)
    assert first.status_code == again.status_code == 201
    assert first.json() == again.json()
    assert "Answered-Before" not in first
    assert again["Answered-Before"] == "yes"
    assert Weighing.objects.count() == 1


def test_without_a_key_or_with_another_it_is_two(bench, rig):
    weigh(bench, rig, None)
    weigh(bench, rig, None)
    weigh(bench, rig, "another-key")
    assert Weighing.objects.count() == 3


def test_a_key_stands_for_what_was_sent_under_it(bench, rig):
    weigh(bench, rig)
    other = weigh(bench, rig, mass_g=99.0)
    assert other.status_code == 409
    assert other.json()["code"] == "key_of_another_request"
    elsewhere = post(bench, f"/samples/{rig['samples'][1].pk}/weighings/", WEIGHED)
    assert elsewhere.status_code == 409
    assert Weighing.objects.count() == 1


def test_keys_are_everybodys_own(bench, rig, people):
    weigh(bench, rig)
    assert weigh(client_of(people["editor"]), rig).status_code == 201
    assert Weighing.objects.count() == 2
    # Capitals count: the database's usual order of words does not tell them apart.
    weigh(bench, rig, "aaaa-BBBB")
    weigh(bench, rig, "AAAA-bbbb")
    assert Weighing.objects.count() == 4


def test_what_was_refused_may_be_sent_again(bench, rig):
    assert weigh(bench, rig, mass_g=-1).status_code == 400
    assert not CarriedOut.objects.exists()
    assert weigh(bench, rig).status_code == 201


@pytest.mark.parametrize(
    ("error", "status"),
    [(RuntimeError("the machine goes down here"), 500), (OperationalError(2006, "gone"), 503)],
)
def test_a_crash_leaves_nothing_and_the_next_try_is_the_first(
    bench, rig, monkeypatch, error, status
):
    from spindle_server.motors import record_views

    real = record_views.WeighingList.add

    def crash(**facts):
        real(**facts)
        raise error

    monkeypatch.setattr(record_views.WeighingList, "add", staticmethod(crash))
    assert weigh(bench, rig).status_code == status
    assert not Weighing.objects.exists()
    assert not CarriedOut.objects.exists()
    monkeypatch.setattr(record_views.WeighingList, "add", staticmethod(real))
    assert weigh(bench, rig).status_code == 201
    assert Weighing.objects.count() == 1


@pytest.mark.parametrize("key", ["", "short", "x" * 65, "with space", "ümlaut-key", "a\tb-cdefgh"])
def test_keys_that_are_none_are_refused_and_nothing_is_written(bench, rig, key):
    answer = weigh(bench, rig, key)
    assert answer.status_code == 400
    assert answer.json()["code"] == "key_unreadable"
    assert not Weighing.objects.exists()


def test_strangers_are_turned_away_as_ever(rig):
    assert weigh(Client(), rig).status_code == 401
    assert not CarriedOut.objects.exists()


def test_a_reader_is_still_a_reader(rig, people):
    assert weigh(client_of(people["reader"]), rig).status_code == 403
    assert not CarriedOut.objects.exists()


def test_a_forged_request_is_refused_under_a_key_too(rig, people):
    strict = Client(enforce_csrf_checks=True)
    strict.force_login(people["reviewer"])
    assert weigh(strict, rig).status_code == 403
    assert not Weighing.objects.exists()


def test_a_stop_is_always_carried_out(bench, monkeypatch):
    sent = []
    frame = {"state": "idle", "stopped_by": ""}
    monkeypatch.setattr(
        "spindle_server.bench.services.command", lambda name, **_: sent.append(name) or frame
    )
    asked = [post(bench, "/bench/stop/", {}) for _ in range(2)]
    assert sent == ["stop", "stop"]
    assert not any("Answered-Before" in one for one in asked)
    assert not CarriedOut.objects.exists()


def test_no_command_and_no_secret_is_kept():
    """Every view that posts to the agent or answers with a password says so itself."""
    found = {}

    def walk(patterns):
        for one in patterns:
            if hasattr(one, "url_patterns"):
                walk(one.url_patterns)
                continue
            cls = getattr(one.callback, "cls", None)
            if cls is not None and hasattr(cls, "post"):
                found[cls.__name__] = getattr(cls, "answers_once", True)

    walk(urlpatterns)
    never = {name for name, once in found.items() if not once}
    assert never == {
        "BenchArm",
        "BenchDriven",
        "BenchHand",
        "BenchProfile",
        "BenchReset",
        "BenchRetry",
        "BenchStart",
        "BenchStop",
        "OwnPaperCodes",
        "OwnPassword",
        "OwnSecondFactor",
        "OwnSecondFactorConfirmed",
        "OwnSecondFactorEnded",
        "SessionView",
        "UserList",
        "UserPassword",
    }
    assert len(found) > 40


def test_after_a_day_keys_are_thrown_away(bench, rig, monkeypatch):
    monkeypatch.setattr(middleware, "_PURGED_EVERY", 1)
    weigh(bench, rig, "yesterdays-key")
    weigh(bench, rig, "of-an-hour-ago")
    old, newer = CarriedOut.objects.order_by("pk")
    CarriedOut.objects.filter(pk=old.pk).update(at=timezone.now() - datetime.timedelta(hours=25))
    weigh(bench, rig, "todays-key")
    assert sorted(CarriedOut.objects.values_list("key", flat=True)) == [newer.key, "todays-key"]


def test_a_motor_is_taken_in_once(bench):
    motor = {"maker": "Tarnwick", "name": "Plover", "size_code": "2207"}
    answers = [post(bench, "/motors/", motor) for _ in range(3)]
    assert [one.status_code for one in answers] == [201] * 3
    assert MotorModel.objects.count() == 1
    assert len({one.json()["id"] for one in answers}) == 1


@pytest.mark.django_db(transaction=True)
class TestAtOneInstant:
    """On connections of their own, as web workers have."""

    def together(self, send, count=6):
        gate = threading.Barrier(count)

        def one(number):
            try:
                gate.wait(10)
                return send(number)
            finally:
                connections.close_all()

        with ThreadPoolExecutor(count) as pool:
            return list(pool.map(one, range(count)))

    def test_six_are_one(self, people, rig):
        clients = [client_of(people["reviewer"]) for _ in range(6)]
        answers = self.together(lambda number: weigh(clients[number], rig))
        assert [one.status_code for one in answers] == [201] * 6
        assert len({one.content for one in answers}) == 1
        assert sum("Answered-Before" in one for one in answers) == 5
        assert Weighing.objects.count() == 1

    def test_where_the_first_comes_to_nothing_one_of_the_others_is_the_first(
        self, people, rig, monkeypatch
    ):
        from spindle_server.motors import record_views

        real, calls, lock = record_views.WeighingList.add, [], threading.Lock()

        def crash_first(**facts):
            with lock:
                calls.append(1)
                number = len(calls)
            found = real(**facts)
            if number == 1:
                raise RuntimeError("the first goes down")
            return found

        monkeypatch.setattr(record_views.WeighingList, "add", staticmethod(crash_first))
        clients = [client_of(people["reviewer"]) for _ in range(6)]
        answers = self.together(lambda number: weigh(clients[number], rig))
        assert sorted(one.status_code for one in answers) == [201] * 5 + [500]
        assert Weighing.objects.count() == 1

    def test_who_waits_too_long_is_told(self, people, rig, monkeypatch):
        monkeypatch.setattr(middleware, "WAIT_S", 1)
        from spindle_server.motors import record_views

        real, inside, go_on = record_views.WeighingList.add, threading.Event(), threading.Event()

        def slow(**facts):
            inside.set()
            go_on.wait(20)
            return real(**facts)

        monkeypatch.setattr(record_views.WeighingList, "add", staticmethod(slow))
        first, second = (client_of(people["reviewer"]) for _ in range(2))

        def held():
            try:
                return weigh(first, rig)
            finally:
                connections.close_all()

        with ThreadPoolExecutor(1) as pool:
            waiting = pool.submit(held)
            assert inside.wait(10)
            told = weigh(second, rig)
            go_on.set()
            assert waiting.result(20).status_code == 201
        assert told.status_code == 409
        assert told.json()["code"] == "still_under_way"
        # And then it has the answer.
        assert weigh(second, rig)["Answered-Before"] == "yes"
        assert Weighing.objects.count() == 1
        with connection.cursor() as cursor:
            cursor.execute("SELECT @@innodb_lock_wait_timeout, @@global.innodb_lock_wait_timeout")
            own, usual = cursor.fetchone()
        assert own == usual
