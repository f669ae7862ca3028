"""The one page, and the one shape of errors."""

import json

import pytest
from rest_framework import exceptions

from spindle_bench.errors import RefusedError, UnreachableError
from spindle_core.errors import LogFormatError, QuantityError
from spindle_server.api import front_page
from spindle_server.api.build import build_id
from spindle_server.api.errors import answer_error
from spindle_server.errors import ConflictError


@pytest.fixture
def build(settings, tmp_path):
    front_page._manifest.cache_clear()
    settings.WEB_BUILD = tmp_path
    (tmp_path / ".vite").mkdir()
    manifest = {
        "index.html": {
            "file": "assets/index-1.js",
            "imports": ["_base.js"],
            "css": ["assets/index-1.css"],
        },
        "_base.js": {
            "file": "assets/base-2.js",
            "imports": ["index.html"],
            "css": ["assets/base-2.css"],
        },
    }
    (tmp_path / ".vite" / "manifest.json").write_text(json.dumps(manifest))
    yield tmp_path
    front_page._manifest.cache_clear()


def test_the_page_links_what_the_build_made(client, build):
    answer = client.get("/runs/12")
    text = answer.content.decode()
    assert 'src="/static/assets/index-1.js"' in text
    assert text.index("base-2.css") < text.index("index-1.css")
    assert "csrftoken" in answer.cookies
    assert "no-store" in answer["Cache-Control"] or "no-cache" in answer["Cache-Control"]
    assert "<script>" not in text


def test_without_a_build_it_says_what_to_do(client, settings, tmp_path):
    front_page._manifest.cache_clear()
    settings.WEB_BUILD = tmp_path / "none"
    answer = client.get("/")
    assert answer.status_code == 503
    assert "./spindle start" in answer.content.decode()


CASES = [
    (ConflictError("Taken.", code="taken", fields={"mark": ["x"]}), 409, "taken"),
    (QuantityError("Too hot."), 400, "quantity_range"),
    (LogFormatError("bad", code="short_row", line=3, column="x", expected="y"), 400, "short_row"),
    (UnreachableError("Away."), 503, "unreachable"),
    (RefusedError("Not armed.", code="state"), 409, "state"),
    (exceptions.NotFound(), 404, "not_found"),
    (exceptions.ParseError(), 400, "parse_error"),
    (exceptions.ValidationError({"a": [{"b": ["wrong"]}]}), 400, "invalid"),
]


@pytest.mark.parametrize(("error", "status", "code"), CASES)
def test_every_error_has_the_same_shape(error, status, code):
    answer = answer_error(error, {})
    assert answer.status_code == status
    assert set(answer.data) == {"code", "message", "fields", "where", "current"}
    assert answer.data["code"] == code
    assert answer.data["message"]


def test_nested_field_errors_keep_their_path():
    answer = answer_error(exceptions.ValidationError({"a": [{"b": ["wrong"]}]}), {})
    assert answer.data["fields"] == {"a.0.b": ["wrong"]}


def test_a_place_in_a_file_is_told_apart_from_the_sentence():
    error = LogFormatError("bad", code="short_row", line=3, column="x", expected="y")
    assert answer_error(error, {}).data["where"] == {"line": 3, "column": "x", "expected": "y"}


def test_a_defect_is_not_dressed_up():
    assert answer_error(ZeroDivisionError(), {}) is None


def test_unreadable_json_is_a_clear_error(api):
    answer = api.post("/api/v1/motors/", "{", content_type="application/json")
    assert (answer.status_code, answer.json()["code"]) == (400, "parse_error")


def test_answers_of_the_api_name_the_build_and_other_answers_do_not(client, db, settings, tmp_path):
    manifest = tmp_path / ".vite" / "manifest.json"
    settings.WEB_BUILD = tmp_path
    build_id.cache_clear()
    assert "X-Spindle-Build" not in client.get("/api/v1/session/").headers
    manifest.parent.mkdir()
    names = []
    for text in ("{}", '{"a": 1}'):
        manifest.write_text(text)
        build_id.cache_clear()
        names.append(client.get("/api/v1/session/").headers["X-Spindle-Build"])
        assert client.get("/api/v1/runs/").headers["X-Spindle-Build"] == names[-1]
    assert names[0] != names[1]
    assert "X-Spindle-Build" not in client.get("/static/nothing.js").headers
    build_id.cache_clear()
