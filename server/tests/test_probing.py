"""Whatever comes in, the answer is one of ours: nothing that is sent makes the server stumble."""

import json
import os
import random
import re
from urllib.parse import urlencode

import pytest
from django.db import transaction
from rest_framework.test import APIClient

from spindle_server.compare.services import save_comparison
from spindle_server.match.services import add_craft
from spindle_server.motors.models import MotorModel
from spindle_server.verdict.models import Verdict

from .probing import Operation, operations, probes

EACH = int(os.environ.get("SPINDLE_PROBES", "8"))
"""Probes of an operation; all of them where it is 0."""

MOVES_THE_BENCH = (
    "/bench/stream/",
    "/bench/start",
    "/bench/arm",
    "/bench/stop",
    "/bench/reset",
    "/bench/retry",
)
ASKED = operations()


@pytest.fixture
def somebody(people, rig, record):
    """An administrator on a bench that has one of most things, with their numbers."""
    record()
    run = record(1.002)
    motor: MotorModel = rig["motor"]
    comparison = save_comparison(
        actor=people["reviewer"], name="Kept", asked={"runs": str(run.pk)}, marks=[], note=""
    )
    craft = add_craft(
        actor=people["reviewer"],
        name="Five inch",
        cells=4,
        capacity_mah=1300.0,
        items=[{"name": "frame", "mass_g": 300.0}],
    )
    verdict = Verdict.objects.create(motor=motor)
    numbers = {
        "motors": motor.pk,
        "samples": rig["samples"][0].pk,
        "runs": run.pk,
        "propellers": rig["propeller"].pk,
        "supplies": rig["supply"].pk,
        "stands": rig["stand"].pk,
        "parcels": motor.parcels.get().pk,
        "verdicts": verdict.pk,
        "craft": craft.pk,
        "compare": comparison.pk,
    }
    client = APIClient(raise_request_exception=False)
    client.force_authenticate(people["administrator"])
    return client, numbers


def address(one: Operation, numbers: dict[str, int]) -> str:
    number = numbers.get(one.path.split("/")[3], 1)
    return re.sub(r"\{[^}]*\}", str(number), one.path.replace("{day}", "2026-10-05"))


def send(client, one, path, probe):
    query = f"?{urlencode(probe.query, errors='surrogatepass')}" if probe.query else ""
    if one.method in ("get", "delete"):
        return client.generic(one.method.upper(), path + query)
    if not one.is_json:
        return getattr(client, one.method)(path + query, probe.body or {}, format="multipart")
    body = json.dumps(probe.body).encode("utf-8", "surrogatepass")
    return client.generic(one.method.upper(), path + query, body, content_type="application/json")


def chosen(one):
    """As it should be, and a choice of the rest that stays the same from day to day."""
    first, *rest = probes(one)
    if EACH and len(rest) > EACH:
        rest = random.Random(f"{one.method} {one.path}").sample(rest, EACH)
    return [first, *rest]


@pytest.mark.parametrize("at", range(8))
def test_nothing_that_is_sent_makes_the_server_stumble(somebody, at):
    client, numbers = somebody
    stumbled = []
    for one in ASKED[at::8]:
        if any(part in one.path for part in MOVES_THE_BENCH):
            continue
        path = address(one, numbers)
        for probe in chosen(one):
            with transaction.atomic():
                answer = send(client, one, path, probe)
                transaction.set_rollback(True)
            if answer.status_code == 500:
                stumbled.append((one.method, one.path, probe.where, str(probe)[:200]))
            elif answer.status_code >= 400 and answer["Content-Type"] == "application/json":
                body = answer.json()
                assert set(body) == {"code", "message", "fields", "where", "current"}, one.path
                assert body["message"], (one.path, probe.where)
    assert stumbled == []


def test_the_schema_is_probed_whole():
    """So that a change of the schema's shape does not leave the test with nothing to do."""
    assert len(ASKED) > 150
    assert sum(len(list(probes(one))) for one in ASKED) > 10_000


@pytest.mark.parametrize("deep", ["[" * 50_000, '{"username":' * 50_000])
def test_strangers_cannot_dig_at_the_login(client, db, deep):
    answer = client.post("/api/v1/session/", deep, content_type="application/json")
    assert answer.status_code == 400
    assert answer.json()["code"] == "parse_error"


def test_a_field_that_there_is_not_is_refused_by_its_name(api, rig):
    """What is dropped in silence is believed to be kept."""
    answer = api.post(
        "/api/v1/propellers/",
        {"maker": "Wickett", "diameter_in": 5, "diamter_in": 6, "blades": 2},
        format="json",
    )
    assert answer.status_code == 400
    assert answer.json()["fields"] == {"diamter_in": ["This is not known here."]}


def test_so_is_one_deep_inside(api):
    items = [{"name": "frame", "mass_g": 1.0, "mas_g": 2.0}]
    body = {"name": "C", "layout": "four", "cells": 4, "items": items}
    answer = api.post("/api/v1/craft/", body, format="json")
    assert "items.0.mas_g" in answer.json()["fields"]
