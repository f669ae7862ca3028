"""What a test needs on record, made for it alone; and what is only read, found by its name."""

from __future__ import annotations

import itertools
from typing import Any

from playwright.sync_api import Page

from e2e.application import Application

_numbers = itertools.count(1)
READ_RUN = "Ostrel Drift 2206 1900"


def token(page: Page) -> str:
    """What a write carries along so that no other page can make it."""
    return next(c["value"] for c in page.context.cookies() if c["name"] == "csrftoken")


def own_motor(page: Page, demo: Application, **facts: Any) -> dict[str, Any]:
    """A motor that no other test touches."""
    body = {
        "maker": "Tarnwick",
        "name": f"Linnet {next(_numbers)}",
        "size_code": "2207",
        "kv_label_rpm_per_v": 1800,
        "sample_marks": ["A"],
        **facts,
    }
    answer = page.request.post(
        f"{demo.address}/api/v1/motors/", data=body, headers={"X-CSRFToken": token(page)}
    )
    assert answer.ok, answer.text()
    return answer.json()


def found(page: Page, demo: Application, words: str) -> dict[str, Any]:
    """A motor of the demo, by words of its name."""
    answer = page.request.get(f"{demo.address}/api/v1/motors/", params={"search": words})
    (motor,) = answer.json()["results"]
    return motor


def run_of(page: Page, demo: Application, words: str, **filters: Any) -> dict[str, Any]:
    """The first steps run of the demo that fits the words."""
    asked = {"search": words, "kind": "steps", "order": "number", **filters}
    answer = page.request.get(f"{demo.address}/api/v1/runs/", params=asked)
    return answer.json()["results"][0]


def own_run(page: Page, demo: Application, motor: dict[str, Any]) -> dict[str, Any]:
    """A run of a motor of one's own: a log of the demo, imported for it as another hour's."""
    shown = run_of(page, demo, "drift 2206 wickett")
    log = page.request.get(f"{demo.address}/api/v1/runs/{shown['id']}/bench-log.csv").text()
    lines = log.splitlines()
    head = next(at for at, line in enumerate(lines) if not line.startswith("#"))
    lines.insert(head, f"# note: run {next(_numbers)} of a test")
    answer = page.request.post(
        f"{demo.address}/api/v1/imports/",
        multipart={
            "file": {
                "name": "own.csv",
                "mimeType": "text/csv",
                "buffer": "\n".join(lines).encode() + b"\n",
            },
            "sample": str(motor["samples"][0]["id"]),
            "propeller": str(shown["propeller"]),
        },
        headers={"X-CSRFToken": token(page)},
    )
    assert answer.ok, answer.text()
    return answer.json()


def close_campaign(page: Page, demo: Application, pk: int) -> None:
    """End a campaign that a test began: the newest that is open is the one that others find."""
    listed = page.request.get(f"{demo.address}/api/v1/campaigns/").json()["results"]
    version = next(one["version"] for one in listed if one["id"] == pk)
    answer = page.request.patch(
        f"{demo.address}/api/v1/campaigns/{pk}/",
        data={"closed": True, "version": version},
        headers={"X-CSRFToken": token(page)},
    )
    assert answer.ok, answer.text()
