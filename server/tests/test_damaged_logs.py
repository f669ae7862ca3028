"""Damaged logs that were still read and stored break no page that is shown afterwards."""

import os
import random

import pytest
from core.tests.fuzzing.corpus import SUFFIXES
from core.tests.fuzzing.running import file_of
from django.core.files.uploadedfile import SimpleUploadedFile

from spindle_server.runs.models import Run

EACH = int(os.environ.get("SPINDLE_FUZZ", "300")) // 10
PAGES = (
    "/api/v1/board/",
    "/api/v1/runs/",
    "/api/v1/runs/?order=-max_thrust_gf",
    "/api/v1/compare/bench/",
    "/api/v1/compare/bench.csv",
    "/api/v1/compare/tests/",
    "/api/v1/compare/mass/",
    "/api/v1/rank/",
    "/api/v1/rank/?fill=1",
    "/api/v1/propellers/identified/",
    "/api/v1/motors/{motor}/",
    "/api/v1/motors/{motor}/performance/",
    "/api/v1/motors/{motor}/identified/",
    "/api/v1/verdicts/",
    "/api/v1/hindsight/",
)


@pytest.mark.filterwarnings("ignore")
@pytest.mark.parametrize("suffix", SUFFIXES)
def test_no_stored_log_breaks_a_page(as_role, rig, suffix):
    api = as_role("reviewer")
    api.raise_request_exception = False
    stored = []
    for seed in range(40_000, 40_000 + 4 * EACH):
        data = file_of(suffix, seed, [])
        body = {
            "file": SimpleUploadedFile(f"x{suffix}", data),
            "sample": rig["samples"][seed % 2].pk,
            "propeller": rig["propeller"].pk,
        }
        answer = api.post("/api/v1/imports/", body, format="multipart")
        # Read, refused, or known already; never a defect.
        assert answer.status_code in (201, 400, 409), (seed, answer.content[:300])
        if answer.status_code == 201:
            stored.append(answer.json()["id"])
        if len(stored) >= EACH:
            break
    assert len(stored) >= 2
    asked = [f"/api/v1/runs/{pk}/{rest}" for pk in stored for rest in ("", "trace/", "source.csv")]
    chosen = random.Random(suffix).sample(stored, min(6, len(stored)))
    runs = ",".join(map(str, chosen))
    asked += [f"/api/v1/compare/?runs={runs}&by={by}" for by in ("run", "repeats", "model")]
    asked += [page.format(motor=rig["motor"].pk) for page in PAGES]
    for address in asked:
        answer = api.get(address)
        assert answer.status_code in (200, 400), (address, answer.content[:300])
    assert Run.objects.count() == len(stored)
