"""Who is read by the copy, and that nobody is where it cannot be believed; the copy itself is tried
with two real servers in e2e/test_reading_copy.py."""

import asyncio

import pytest
from asgiref.sync import iscoroutinefunction
from django.core.exceptions import MiddlewareNotUsed
from django.db import connection, router
from django.http import HttpResponse, JsonResponse
from django.test import RequestFactory

from spindle_server.api.errors import DATABASE_AWAY, error_body
from spindle_server.motors.models import Maker, MotorModel
from spindle_server.records import reading_copy
from spindle_server.records.reading_copy import ByCopy, read_by, reads_by_a_copy

ASKED = RequestFactory()


@pytest.fixture
def copy(settings, monkeypatch):
    """A copy that is as it is told to be."""
    databases = {**settings.DATABASES, "copy": settings.DATABASES["default"]}
    monkeypatch.setattr(reading_copy.settings, "DATABASES", databases)
    monkeypatch.setattr(router, "routers", [ByCopy()])
    monkeypatch.setattr(reading_copy, "_left_alone_until", 0.0)
    told = {"amiss": "", "asked": 0}

    def amiss():
        told["asked"] += 1
        return told["amiss"]

    monkeypatch.setattr(reading_copy, "what_is_amiss", amiss)
    return told


@pytest.fixture(params=["at once", "later"])
def answer(request, copy):
    """What a view finds and answers, under both kinds of server."""

    def ask(view, asked):
        if request.param == "at once":
            return reads_by_a_copy(view)(asked)

        async def later(asked):
            return view(asked)

        middleware = reads_by_a_copy(later)
        assert iscoroutinefunction(middleware)
        return asyncio.run(middleware(asked))

    yield ask
    assert read_by() == "default"


def reader(found):
    def view(request):
        found.append(router.db_for_read(MotorModel))
        return HttpResponse("read")

    return view


@pytest.mark.parametrize("path", ["/api/v1/motors/", "/api/v1/runs/7/", "/read/"])
@pytest.mark.parametrize("method", ["GET", "HEAD"])
def test_pages_are_read_by_the_copy(answer, path, method):
    found = []
    answer(reader(found), ASKED.generic(method, path))
    assert found == ["copy"]


@pytest.mark.parametrize(
    ("method", "path"),
    [
        ("POST", "/api/v1/motors/"),
        ("PATCH", "/api/v1/motors/1/"),
        ("DELETE", "/api/v1/motors/1/"),
        ("PUT", "/api/v1/motors/1/"),
        ("GET", "/api/v1/bench/"),
        ("GET", "/api/v1/bench/stream/"),
        ("GET", "/healthz"),
        ("GET", "/"),
    ],
)
def test_nothing_else_is(answer, copy, method, path):
    found = []
    answer(reader(found), ASKED.generic(method, path))
    assert found == ["default"]
    assert copy["asked"] == 0


def test_what_a_page_writes_it_reads_where_it_wrote(answer):
    found = []

    def view(request):
        found.append(router.db_for_read(MotorModel))
        found.append(router.db_for_write(Maker))
        found.append(router.db_for_read(MotorModel))
        return HttpResponse("read")

    answer(view, ASKED.get("/api/v1/motors/"))
    assert found == ["copy", "default", "default"]
    answer(reader(found), ASKED.get("/api/v1/motors/"))
    assert found[-1] == "copy"


def test_a_copy_that_is_amiss_is_left_alone_for_a_while(answer, copy, monkeypatch, caplog):
    copy["amiss"] = "is late"
    found = []
    for _ in range(3):
        answer(reader(found), ASKED.get("/api/v1/motors/"))
    assert found == ["default"] * 3
    assert copy["asked"] == 1
    assert [one.getMessage() for one in caplog.records] == ["the copy for reading is late"]
    copy["amiss"] = ""
    monkeypatch.setattr(reading_copy, "_left_alone_until", 0.0)
    answer(reader(found), ASKED.get("/api/v1/motors/"))
    assert found[-1] == "copy"


def test_a_copy_that_goes_away_in_the_middle_is_made_good_by_the_database(answer, copy):
    found = []

    def view(request):
        found.append(router.db_for_read(MotorModel))
        if found[-1] == "copy":
            return JsonResponse(error_body("database_away", DATABASE_AWAY), status=503)
        return HttpResponse("read")

    assert answer(view, ASKED.get("/api/v1/motors/")).status_code == 200
    assert answer(view, ASKED.get("/api/v1/motors/")).status_code == 200
    assert found == ["copy", "default", "default"]
    assert copy["asked"] == 1


def test_what_else_is_away_is_asked_once_and_told(answer):
    """The agent's 503 is none of the copy's."""
    found = []

    def view(request):
        found.append(router.db_for_read(MotorModel))
        return JsonResponse(error_body("unreachable", "The agent does not answer."), status=503)

    assert answer(view, ASKED.get("/api/v1/upkeep/")).status_code == 503
    assert found == ["copy"]
    answer(reader(found), ASKED.get("/api/v1/motors/"))
    assert found[-1] == "copy"


def test_a_view_that_stumbles_leaves_nothing_behind(answer):
    def view(request):
        raise RuntimeError

    with pytest.raises(RuntimeError):
        answer(view, ASKED.get("/api/v1/motors/"))


def test_without_a_copy_there_is_no_middleware():
    with pytest.raises(MiddlewareNotUsed):
        reads_by_a_copy(lambda request: HttpResponse())


def test_tables_are_made_by_the_database_alone():
    rule = ByCopy()
    assert rule.allow_migrate("default", "motors")
    assert not rule.allow_migrate("copy", "motors")
    assert rule.allow_relation(Maker(), MotorModel())


def test_a_database_that_keeps_no_log_has_no_copy(db):
    """The private server of an installation is one."""
    assert connection.vendor == "mysql"
    assert "keeps no log" in reading_copy.what_is_amiss()
