"""What Django refuses by itself has the one shape of every error too."""

import pytest
from django.test import Client, RequestFactory
from django.utils.module_loading import import_string

from spindle_server.api.errors import json_bad_request


@pytest.mark.parametrize(
    "host", ["elsewhere.example", "127.0.0.1.evil.example", "a b", "<script>", "[::1", "x" * 300]
)
@pytest.mark.parametrize("path", ["/api/v1/session/", "/", "/read/", "/healthz"])
def test_a_host_that_is_not_ours(db, host, path):
    answer = Client(raise_request_exception=False).get(path, headers={"host": host})
    assert answer.status_code == 400
    body = answer.json()
    assert body["code"] == "unknown_host"
    assert set(body) == {"code", "message", "fields", "where", "current"}
    assert host not in answer.content.decode()


def test_other_bad_requests_say_no_more_than_that():
    answer = json_bad_request(RequestFactory().get("/"), ValueError("of an inner part"))
    assert answer.status_code == 400
    assert b"inner part" not in answer.content


def test_a_forged_write_outside_the_api(settings):
    answer = import_string(settings.CSRF_FAILURE_VIEW)(RequestFactory().post("/x"), reason="No.")
    assert answer.status_code == 403
    assert b'"forged"' in answer.content
