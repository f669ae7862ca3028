"""Two writes that meet in the database: one of them is made again, and nothing is doubled."""

import threading
from concurrent.futures import ThreadPoolExecutor

import pytest
from django.db import OperationalError, connections, transaction
from django.test import Client

from spindle_server.accounts.models import Role
from spindle_server.errors import ConflictError
from spindle_server.motors.models import Maker, Weighing
from spindle_server.motors.services import change_motor
from spindle_server.once.middleware import CarriedOutOnce
from spindle_server.records import meeting
from spindle_server.records.writes import writes
from spindle_server.teardown import services as teardown_services
from spindle_server.teardown.models import Observation
from spindle_server.teardown.services import record_observation

pytestmark = pytest.mark.django_db(transaction=True)

DEADLOCK = OperationalError(1213, "Deadlock found when trying to get lock")


@pytest.fixture(autouse=True)
def quick(monkeypatch):
    monkeypatch.setattr(meeting, "PAUSE_S", 0.001)


def failing(times, error=DEADLOCK):
    """A write that stores a maker and then fails, so many times."""
    calls = []

    @writes(Role.EDITOR)
    def write(*, actor):
        calls.append(1)
        Maker.objects.create(name=f"Maker {len(calls)}")
        if len(calls) <= times:
            raise error
        return len(calls)

    return write, calls


def test_it_is_made_again_and_leaves_nothing_of_the_first_tries():
    write, _ = failing(3)
    assert write(actor=None) == 4
    assert list(Maker.objects.values_list("name", flat=True)) == ["Maker 4"]


def test_what_meets_for_ever_is_given_up_and_leaves_nothing():
    write, calls = failing(10_000)
    with pytest.raises(OperationalError):
        write(actor=None)
    assert len(calls) == meeting.TRIES
    assert not Maker.objects.exists()


def test_a_part_of_a_write_is_not_made_again_by_itself():
    write, calls = failing(1)
    with pytest.raises(OperationalError), transaction.atomic():
        write(actor=None)
    assert len(calls) == 1
    assert not Maker.objects.exists()


@pytest.mark.parametrize("number", [2006, 2013, 1205, 1047, 1366])
def test_other_troubles_of_the_database_are_not_tried_again(number):
    write, calls = failing(1, OperationalError(number, "something else"))
    with pytest.raises(OperationalError):
        write(actor=None)
    assert len(calls) == 1


def refusing_commits(monkeypatch, times):
    """A cluster that certifies another's write first says so when one commits."""
    wrapper = type(connections["default"])
    real, refused = wrapper._commit, []

    def commit(self):
        if len(refused) < times:
            refused.append(1)
            self.connection.rollback()
            raise DEADLOCK
        return real(self)

    monkeypatch.setattr(wrapper, "_commit", commit)
    return refused


def test_a_write_that_is_refused_at_its_commit_is_made_again(monkeypatch):
    write, calls = failing(0)
    refused = refusing_commits(monkeypatch, 2)
    write(actor=None)
    assert (len(calls), len(refused)) == (3, 2)
    assert Maker.objects.count() == 1


def test_a_real_deadlock_of_two_is_survived_by_both(rig):
    first, second = Maker.objects.create(name="One"), Maker.objects.create(name="Two")
    gate = threading.Barrier(2)
    tries = []

    @writes(Role.EDITOR)
    def rename(*, actor, rows, words):
        tries.append(words)
        for number, row in enumerate(rows):
            Maker.objects.filter(pk=row.pk).update(name=f"{words} {number}")
            if number == 0 and len(tries) <= 2:
                gate.wait(10)

    def one(job):
        try:
            rename(actor=None, rows=job[0], words=job[1])
        finally:
            connections.close_all()

    with ThreadPoolExecutor(2) as pool:
        list(pool.map(one, [((first, second), "A"), ((second, first), "B")]))
    assert len(tries) == 3
    names = {maker.pk: maker.name for maker in Maker.objects.filter(pk__in=(first.pk, second.pk))}
    # The one that was made again came last, whole.
    assert {name[0] for name in names.values()} == {tries[-1]}


@pytest.mark.parametrize("other", ["arc", "flat"])
def test_two_real_first_answers_meet_and_one_stands(people, rig, monkeypatch, other):
    sample, gate = rig["samples"][0], threading.Barrier(2)
    looked, look = [], teardown_services._answered

    def together(*args):
        found = look(*args)
        looked.append(found)
        if len(looked) <= 2:
            gate.wait(10)
        return found

    monkeypatch.setattr(teardown_services, "_answered", together)

    def one(job):
        try:
            return record_observation(
                actor=people[job[0]],
                sample=sample,
                attribute="magnet_shape",
                status="observed",
                choice=job[1],
            )
        except ConflictError as refused:
            return refused
        finally:
            connections.close_all()

    with ThreadPoolExecutor(2) as pool:
        answers = list(pool.map(one, [("reviewer", "arc"), ("editor", other)]))
    row = Observation.objects.get()
    assert (row.version, row.history.count()) == (1, 1)
    refusals = [each for each in answers if isinstance(each, ConflictError)]
    assert len(refusals) == (0 if other == "arc" else 1)
    for refused in refusals:
        assert refused.current["values"]["choice"] == row.choice
    assert [each.choice for each in answers if not isinstance(each, ConflictError)] == [
        row.choice
    ] * (2 - len(refusals))


WEIGHED = {"mass_g": 31.4, "resolution_g": 0.1, "lead_length_mm": 60, "weighed_on": "2026-03-02"}


def weigh(user, rig, key="7d1f4c80-0001", body=WEIGHED):
    client = Client(raise_request_exception=False)
    client.force_login(user)
    headers = {} if key is None else {"Idempotency-Key": key}
    path = f"/api/v1/samples/{rig['samples'][0].pk}/weighings/"
    return client.post(path, body, content_type="application/json", headers=headers)


@pytest.mark.parametrize("key", [None, "7d1f4c80-0001"])
def test_a_request_that_meets_another_is_carried_out_once(people, rig, monkeypatch, key):
    # The first commit is that of the login.
    refused = refusing_commits(monkeypatch, 0)
    real, met = Weighing.save, []

    def save(self, *args, **kwargs):
        real(self, *args, **kwargs)
        if len(met) < 2:
            met.append(1)
            raise DEADLOCK

    monkeypatch.setattr(Weighing, "save", save)
    answer = weigh(people["reviewer"], rig, key)
    assert answer.status_code == 201
    assert len(met) == 2
    assert not refused
    assert Weighing.objects.count() == 1


def test_a_request_whose_commit_is_refused_is_carried_out_once(people, rig, monkeypatch):
    client = Client(raise_request_exception=False)
    client.force_login(people["reviewer"])
    refused = refusing_commits(monkeypatch, 3)
    path = f"/api/v1/samples/{rig['samples'][0].pk}/weighings/"
    headers = {"Idempotency-Key": "7d1f4c80-0001"}
    answer = client.post(path, WEIGHED, content_type="application/json", headers=headers)
    assert answer.status_code == 201
    assert len(refused) == 3
    assert Weighing.objects.count() == 1
    again = client.post(path, WEIGHED, content_type="application/json", headers=headers)
    assert again["Answered-Before"] == "yes"
    assert Weighing.objects.count() == 1


def test_what_meets_for_ever_is_said_in_a_sentence(people, rig, monkeypatch):
    def save(self, *args, **kwargs):
        raise DEADLOCK

    monkeypatch.setattr(Weighing, "save", save)
    for key in (None, "7d1f4c80-0001"):
        answer = weigh(people["reviewer"], rig, key)
        assert answer.status_code == 503
        assert answer.json()["code"] == "met_another"
        assert "still here" in answer.json()["message"]
    assert not Weighing.objects.exists()


def test_a_cluster_without_a_majority_is_said_in_a_sentence(people, rig, monkeypatch):
    def save(self, *args, **kwargs):
        raise OperationalError(1047, "WSREP has not yet prepared node for application use")

    monkeypatch.setattr(Weighing, "save", save)
    answer = weigh(people["reviewer"], rig)
    assert answer.status_code == 503
    assert answer.json()["code"] == "no_majority"
    assert "majority" in answer.json()["message"]


@pytest.mark.parametrize(
    ("number", "code"), [(1205, "database_away"), (1047, "no_majority"), (2013, "database_away")]
)
def test_a_database_that_is_away_before_a_view_is_asked_is_no_defect(
    people, rig, monkeypatch, number, code
):
    def away(self, request):
        raise OperationalError(number, "away")

    monkeypatch.setattr(CarriedOutOnce, "__call__", away)
    answer = Client(raise_request_exception=False).get("/api/v1/board/")
    assert answer.status_code == 503
    assert answer.json()["code"] == code


def test_somebody_who_wrote_first_is_told_and_not_written_over(people, rig, monkeypatch):
    """Made again, a write sees what the other wrote, and its version is then an old one."""
    motor = rig["motor"]
    base = motor.version
    real, met = type(motor).save, []

    def save(self, *args, **kwargs):
        if not met:
            met.append(1)
            transaction.set_rollback(True)
            raise DEADLOCK
        return real(self, *args, **kwargs)

    monkeypatch.setattr(type(motor), "save", save)
    changed = change_motor(actor=people["reviewer"], motor=motor, base=base, verdict="Good.")
    assert met
    assert changed.version == base + 1
