"""Long work: asked for, done apart, its progress told, stopped, bounded, and what is left of it."""

import threading
import time

import pytest
from django.core.management import call_command
from django_tasks_db.management.commands import db_worker

from spindle_core.errors import QuantityError
from spindle_server.errors import ConflictError
from spindle_server.imports.management.commands import long_work
from spindle_server.runs import tasks
from spindle_server.runs.models import Reduction
from spindle_server.runs.tasks import REBUILD, rebuild_stale
from spindle_server.work.doing import StoppedError, _at_most, doing, name_the_lost
from spindle_server.work.models import LongWork
from spindle_server.work.services import ask_for, go_on


@pytest.fixture
def work_through(monkeypatch, django_capture_on_commit_callbacks):
    """Do what waits, as the process for it does."""
    monkeypatch.setattr(long_work, "bound_memory", lambda: None)
    # The test's own connection, in its transaction, has to stay.
    monkeypatch.setattr(db_worker, "close_old_connections", lambda: None)
    return lambda: call_command("long_work", batch=True)


def ask(api, django_capture_on_commit_callbacks):
    with django_capture_on_commit_callbacks(execute=True):
        return api.post("/api/v1/runs/rebuild/")


def test_old_figures_are_made_again_apart(
    api, record, work_through, django_capture_on_commit_callbacks
):
    old, fresh = record(), record()
    Reduction.objects.filter(run=old).update(core_version="0.0.1")
    answer = ask(api, django_capture_on_commit_callbacks)
    assert (answer.status_code, answer.json()["state"]) == (202, "waiting")
    assert Reduction.objects.get(run=old).core_version == "0.0.1"
    before = Reduction.objects.get(run=fresh).made_at
    work_through()
    [work] = api.get("/api/v1/work/").json()["results"]
    assert (work["state"], work["done"], work["total"]) == ("done", 2, 2)
    assert work["said"] == "1 of 2 runs had old figures; they are made again."
    assert Reduction.objects.get(run=old).core_version != "0.0.1"
    assert Reduction.objects.get(run=fresh).made_at == before


def test_the_same_work_is_not_asked_for_twice(api, django_capture_on_commit_callbacks):
    assert ask(api, django_capture_on_commit_callbacks).status_code == 202
    again = ask(api, django_capture_on_commit_callbacks)
    assert (again.status_code, again.json()["code"]) == (409, "at_work")


def test_what_is_stopped_before_it_began_does_not_begin(
    api, record, work_through, django_capture_on_commit_callbacks
):
    run = record()
    Reduction.objects.filter(run=run).update(core_version="0.0.1")
    number = ask(api, django_capture_on_commit_callbacks).json()["id"]
    assert api.post(f"/api/v1/work/{number}/stop/").json()["stop_asked"] is True
    work_through()
    [work] = api.get("/api/v1/work/").json()["results"]
    assert (work["state"], work["said"]) == ("cancelled", "It had not begun.")
    assert Reduction.objects.get(run=run).core_version == "0.0.1"
    assert api.post(f"/api/v1/work/{number}/stop/").json()["code"] == "ended"


@pytest.fixture
def work(db):
    return LongWork.objects.create(title="Something long")


def test_a_stop_in_the_middle_keeps_what_is_done(work):
    with doing(work.pk) as progress:
        progress.of(3)
        progress.step(1)
        LongWork.objects.filter(pk=work.pk).update(stop_asked=True)
        progress.step(2)
        pytest.fail("it went on")
    work.refresh_from_db()
    assert (work.state, work.done) == ("cancelled", 2)
    assert "stays" in work.said


@pytest.mark.parametrize(
    ("error", "words"),
    [
        (QuantityError("Five is right out."), "Five is right out."),
        (ValueError("secret text"), "Something unforeseen (ValueError)"),
        (MemoryError(), "more memory"),
    ],
)
def test_what_goes_wrong_is_said(work, error, words):
    with doing(work.pk):
        raise error
    work.refresh_from_db()
    assert work.state == "failed"
    assert words in work.said
    assert "secret" not in work.said
    assert work.ended_at


def test_work_that_takes_too_long_is_ended(work):
    with doing(work.pk, longest_s=1):
        time.sleep(20)
    work.refresh_from_db()
    assert work.state == "failed"
    assert "longer than" in work.said


def test_off_the_main_thread_there_is_no_bound_of_time_and_no_crash(work):
    ended = []

    def elsewhere():
        # The record is another connection's; only the bound itself is looked at.
        with pytest.raises(ValueError, match="here"), _at_most(1):
            raise ValueError("here")
        ended.append(True)

    thread = threading.Thread(target=elsewhere)
    thread.start()
    thread.join(10)
    assert ended == [True]


def test_what_a_killed_process_left_is_named(work):
    LongWork.objects.filter(pk=work.pk).update(state="running", done=4, total=9)
    other = LongWork.objects.create(title="Waits")
    assert name_the_lost() == [work.title]
    work.refresh_from_db()
    other.refresh_from_db()
    assert (work.state, other.state) == ("lost", "waiting")
    assert "4 of 9" in work.said
    assert name_the_lost() == []


def test_figures_that_a_killed_process_was_making_again_go_on(db):
    lost = LongWork.objects.create(title=REBUILD, state="running", done=4, total=9)
    other = LongWork.objects.create(title="Something long", state="running")
    titles = name_the_lost()
    assert sorted(titles) == sorted([REBUILD, "Something long"])
    assert go_on(titles) == [REBUILD]
    assert go_on(titles) == [REBUILD]
    waiting = LongWork.objects.get(state="waiting")
    assert waiting.title == REBUILD
    assert {lost.pk, other.pk} == set(
        LongWork.objects.filter(state="lost").values_list("pk", flat=True)
    )


class TestGivingWay:
    """Hours of making figures again, and somebody's import that waits."""

    @pytest.fixture
    def old(self, record, monkeypatch):
        runs = [record(1.0 + 0.01 * k) for k in range(3)]
        Reduction.objects.update(core_version="0.1.0")
        monkeypatch.setattr(tasks, "GIVES_WAY_AFTER_S", 0.0)
        return runs

    def rebuild(self, work):
        rebuild_stale.func(work.pk)
        work.refresh_from_db()
        return Reduction.objects.filter(core_version="0.1.0").count()

    def test_others_go_first_and_the_rest_comes_after_them(self, old, monkeypatch):
        asked = []
        monkeypatch.setattr(type(rebuild_stale), "enqueue", lambda self, pk: asked.append(pk))
        other = LongWork.objects.create(title="Somebody's import")
        work = LongWork.objects.create(title=REBUILD)
        assert self.rebuild(work) == 2
        assert (work.state, work.ended_at, asked) == ("waiting", None, [work.pk])
        # The newest first: it is what people look at.
        assert Reduction.objects.get(run=old[-1]).core_version != "0.1.0"
        other.state = "done"
        other.save()
        assert self.rebuild(work) == 0
        assert (work.state, asked) == ("done", [work.pk])

    def test_alone_it_goes_on(self, old):
        work = LongWork.objects.create(title=REBUILD)
        assert self.rebuild(work) == 0
        assert work.state == "done"


def test_what_was_asked_to_stop_raises_where_it_would_begin(work):
    LongWork.objects.filter(pk=work.pk).update(stop_asked=True)
    with pytest.raises(StoppedError), doing(work.pk):
        pytest.fail("it began")


def test_a_second_piece_of_the_same_title_waits_for_the_first(work, people):
    with pytest.raises(ConflictError, match="Something long"):
        ask_for(actor=None, title="Something long", task=rebuild_stale)
    LongWork.objects.filter(pk=work.pk).update(state="done")
    assert ask_for(actor=None, title="Something long", task=rebuild_stale).state == "waiting"
