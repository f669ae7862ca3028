"""The whole bench in open formats: everything is in it, and nothing that is secret."""

import csv
import hashlib
import io
import zipfile
from datetime import date
from http import HTTPStatus

import pytest
from django.apps import apps

from spindle_core.formats.bench_log import read_bench_log
from spindle_core.reduction import reduce_trace
from spindle_server.accounts.models import User
from spindle_server.afterwards.services import note_letter
from spindle_server.demo.no_load_runs import bare_shaft
from spindle_server.demo.stand_logs import recorded_file
from spindle_server.publish.leaving import bench_path, export_bench
from spindle_server.runs.models import Run, SummaryFigure
from spindle_server.runs.services import import_log
from spindle_server.work.models import LongWork


@pytest.fixture(autouse=True)
def _folders(settings, tmp_path):
    settings.VAR = tmp_path
    settings.PACKS = tmp_path / "packs"
    settings.PHOTOS = tmp_path / "photos"


@pytest.fixture
def files(people, rig, record):
    """What is in the archive of a small bench."""
    record()
    record(1.002)
    data = recorded_file(bare_shaft(rig["samples"][0], rig["supply"]))
    import_log(
        actor=people["reviewer"],
        name="kv.csv",
        data=data,
        sample=rig["samples"][0],
        supply=rig["supply"],
        stand=rig["stand"],
    )
    note_letter(
        actor=people["reviewer"], kind="question", text="=2+3", received_on=date(2026, 10, 5)
    )
    said = []
    count = export_bench(lambda done, total: said.append((done, total)))
    assert said == [(1, 3), (2, 3), (3, 3)]
    with zipfile.ZipFile(bench_path()) as packed:
        found = {name: packed.read(name) for name in packed.namelist()}
    assert len(found) == count
    return found, data


def rows(files, name):
    return list(csv.DictReader(io.StringIO(files[f"tables/{name}.csv"].decode())))


def test_every_table_is_in_it(files):
    found, _ = files
    ours = [m for m in apps.get_models() if m.__module__.startswith("spindle_server.")]
    assert len(ours) > 60
    for model in ours:
        name = f"{model._meta.app_label}.{model.__name__}"
        assert len(rows(found, name)) == model._default_manager.count(), name
    (motor,) = rows(found, "motors.MotorModel")
    assert motor["name"] == "Sable"


def test_nothing_secret_is_in_it(files):
    found, _ = files
    hashes = [user.password for user in User.objects.all()]
    whole = b"".join(found.values())
    assert all(one.encode() not in whole for one in hashes)
    assert "password" not in rows(found, "accounts.User")[0]
    assert not any("session" in name.lower() for name in found)


def test_its_logs_give_the_stored_figures(files):
    found, _ = files
    for run in Run.objects.filter(kind="steps"):
        log = read_bench_log(found[f"logs/run-{run.pk}.csv"])
        stored = SummaryFigure.objects.get(run=run, name="max_thrust_gf")
        figure = reduce_trace(log.trace()).summary["max_thrust_gf"]
        assert figure.value == pytest.approx(stored.value, rel=1e-12)
        assert figure.u == pytest.approx(stored.u, rel=1e-9)


def test_what_was_imported_comes_out_byte_for_byte(files):
    found, data = files
    run = Run.objects.get(kind="no_load")
    kept = found[f"files/run-{run.pk}/kv.csv"]
    assert hashlib.sha256(kept).digest() == hashlib.sha256(data).digest()


def test_a_formula_in_a_text_is_made_inert(files):
    found, _ = files
    assert rows(found, "afterwards.Letter")[0]["text"] == "'=2+3"


def test_an_administrator_has_it_written_and_takes_it(as_role, files):
    found, _ = files
    bench_path().unlink()
    admin = as_role("administrator")
    assert admin.get("/api/v1/whole-bench/").status_code == HTTPStatus.NOT_FOUND
    assert admin.post("/api/v1/whole-bench/").status_code == HTTPStatus.ACCEPTED
    assert LongWork.objects.get().title == "Write the whole bench"
    export_bench()
    answer = admin.get("/api/v1/whole-bench/")
    with zipfile.ZipFile(io.BytesIO(b"".join(answer.streaming_content))) as packed:
        assert packed.read("README.md") == found["README.md"]
    assert as_role("editor").get("/api/v1/whole-bench/").status_code == HTTPStatus.FORBIDDEN


def test_an_export_that_fails_leaves_the_last_one(files, monkeypatch):
    before = bench_path().read_bytes()
    monkeypatch.setattr(
        "spindle_server.publish.leaving.bench_log_pieces",
        lambda *of: (_ for _ in ()).throw(OSError),
    )
    with pytest.raises(OSError):  # noqa: PT011 - any will do
        export_bench()
    assert bench_path().read_bytes() == before
    assert not list(bench_path().parent.glob("*.part"))
