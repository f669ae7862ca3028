"""Runs taken out as an archive: what is in it, when it is refused, stopped, dropped and let go."""

import csv
import datetime
import io
import zipfile

import pytest
from django.utils import timezone

from spindle_core.formats.bench_log import read_bench_log
from spindle_server.exports import services, tasks
from spindle_server.exports.models import RunExport
from spindle_server.exports.tasks import make_export
from spindle_server.runs.models import Run, StoredFile, StoredPart
from spindle_server.work.models import LongWork

PATH = "/api/v1/exports/"


@pytest.fixture
def ask(api, db):
    """Asks for an archive; the task is done by hand, as its process would."""

    def post(query="", **body):
        return api.post(f"{PATH}{query}", body, format="json")

    return post


def made(api, answer):
    assert answer.status_code == 202, answer.json()
    make_export.func(answer.json()["work"])
    return api.get(PATH).json()["results"][0]


def unpacked(api, export):
    answer = api.get(f"{PATH}{export['id']}/runs.zip")
    assert answer.status_code == 200
    assert int(answer["Content-Length"]) == export["size_bytes"]
    return zipfile.ZipFile(io.BytesIO(b"".join(answer.streaming_content)))


def test_named_runs_with_table_points_and_every_sample(api, ask, record):
    runs = [record(), record(1.1, sample=1)]
    answer = ask(runs=[run.pk for run in runs])
    assert (answer.json()["state"], answer.json()["size_bytes"]) == ("waiting", None)
    assert api.get(f"{PATH}{answer.json()['id']}/runs.zip").status_code == 404
    export = made(api, answer)
    assert (export["state"], export["run_count"]) == ("done", 2)
    archive = unpacked(api, export)
    assert archive.testzip() is None
    rows = list(csv.DictReader(io.StringIO(archive.read("runs.csv").decode())))
    assert [row["run"] for row in rows] == [str(run.pk) for run in runs]
    figure = runs[0].figures.get(name="max_thrust_gf")
    assert float(rows[0]["max_thrust_gf"]) == pytest.approx(figure.value)
    assert float(rows[0]["u_max_thrust_gf"]) == pytest.approx(figure.u)
    log = archive.read(f"logs/run-{runs[0].pk}.csv")
    assert log == b"".join(api.get(f"/api/v1/runs/{runs[0].pk}/bench-log.csv"))
    assert read_bench_log(log).time_s.size > 100
    points = archive.read(f"points/run-{runs[1].pk}.csv").decode()
    assert len(points.splitlines()) == 4
    letter = archive.read("README.txt").decode()
    assert "max_thrust_gf: gf" in letter
    assert "left out" not in letter


def test_without_logs_and_by_what_the_list_finds(api, ask, record, rig):
    first, second = record(), record(sample=1)
    first.review = "accepted"
    first.save()
    export = made(api, ask("?state=accepted", with_logs=False))
    names = unpacked(api, export).namelist()
    assert f"points/run-{first.pk}.csv" in names
    assert not [name for name in names if name.startswith("logs/") or str(second.pk) in name[:4]]
    assert export["run_count"] == 1
    assert "left out" in unpacked(api, export).read("README.txt").decode()


@pytest.mark.parametrize(
    ("query", "body", "said"),
    [
        ("?state=rejected", {}, "No run is meant"),
        ("", {"runs": [987_654]}, "No run is meant"),
        ("?state=strange", {}, "strange"),
        ("", {"runs": ["x"]}, "integer"),
        ("", {"runs": [0]}, "greater than"),
        ("", {"with_logs": "perhaps"}, "boolean"),
        ("", {"format": "xlsx"}, "format"),
    ],
)
def test_what_is_no_question_is_refused(ask, record, query, body, said):
    record()
    answer = ask(query, **body)
    assert answer.status_code == 400
    assert said in str(answer.json())
    assert not LongWork.objects.exists()


def test_too_much_is_refused_before_it_is_begun(ask, record, monkeypatch):
    runs = [record().pk, record().pk]
    monkeypatch.setattr(services, "MOST_RUNS", 1)
    assert ask().json()["code"] == "too_many_runs"
    assert ask(runs=runs[:1]).status_code == 202
    monkeypatch.setattr(services, "MOST_RUNS", 5)
    monkeypatch.setattr(services, "MOST_SAMPLES", 10)
    assert ask().json()["code"] == "too_many_samples"
    assert ask(with_logs=False).status_code == 202


def test_a_run_named_as_a_formula_is_none_in_the_table(api, ask, record, rig):
    rig["motor"].name = "=cmd|' /C calc'!A0"
    rig["motor"].save()
    run = record()
    run.review, run.review_reason = "rejected", "=1+1"
    run.save()
    rows = unpacked(api, made(api, ask())).read("runs.csv").decode()
    assert ",=1+1" not in rows
    assert "'=1+1" in rows


def test_a_run_that_went_meanwhile_is_left_out(api, ask, record):
    first, second = record(), record()
    answer = ask(runs=[first.pk, second.pk])
    Run.objects.filter(pk=first.pk).delete()
    names = unpacked(api, made(api, answer)).namelist()
    assert f"points/run-{first.pk}.csv" not in names
    assert f"points/run-{second.pk}.csv" in names


def test_a_stop_keeps_nothing(api, ask, record):
    record()
    answer = ask()
    work = answer.json()["work"]
    api.post(f"/api/v1/work/{work}/stop/")
    make_export.func(work)
    row = api.get(PATH).json()["results"][0]
    assert (row["state"], row["size_bytes"]) == ("cancelled", None)
    assert not StoredFile.objects.exists()


def test_one_that_is_being_made_is_not_dropped_and_one_that_is_made_is(api, ask, record):
    record()
    answer = ask()
    path = f"{PATH}{answer.json()['id']}/"
    assert api.delete(path).json()["code"] == "at_work"
    made(api, answer)
    assert StoredPart.objects.exists()
    assert api.delete(path).status_code == 204
    assert not StoredFile.objects.exists()
    assert not StoredPart.objects.exists()
    assert Run.objects.count() == 1


def test_the_same_twice_at_once_is_refused(ask, record):
    record()
    assert ask().status_code == 202
    assert ask().json()["code"] == "at_work"


def test_old_ones_are_let_go_when_another_is_asked_for(api, ask, record, monkeypatch):
    record()
    first = made(api, ask())
    RunExport.objects.update(asked_at=timezone.now() - datetime.timedelta(days=4))
    second = made(api, ask())
    assert [row["id"] for row in api.get(PATH).json()["results"]] == [second["id"]]
    assert first["id"] != second["id"]
    assert StoredFile.objects.count() == 1
    monkeypatch.setattr(services, "MOST_KEPT", 2)
    third, fourth = made(api, ask()), made(api, ask())
    kept = [row["id"] for row in api.get(PATH).json()["results"]]
    assert kept == [fourth["id"], third["id"]]


def test_a_damaged_part_is_not_given_out_as_whole(api, ask, record):
    record()
    export = made(api, ask())
    StoredPart.objects.update(zstd=b"not what it was")
    with pytest.raises(Exception, match="gone or damaged"):
        unpacked(api, export)


def test_what_fails_while_it_is_kept_keeps_nothing(api, ask, record, monkeypatch):
    record()
    answer = ask()

    def full(*args):
        raise OSError("no room")

    monkeypatch.setattr(tasks, "keep_part", full)
    make_export.func(answer.json()["work"])
    row = api.get(PATH).json()["results"][0]
    assert (row["state"], row["size_bytes"]) == ("failed", None)
    assert api.get(f"{PATH}{row['id']}/runs.zip").status_code == 404
    assert not StoredFile.objects.exists()


def test_what_is_half_kept_is_not_given_out(api, ask, record):
    record()
    export = made(api, ask())
    LongWork.objects.update(state="lost")
    assert api.get(f"{PATH}{export['id']}/runs.zip").status_code == 404
    assert api.get(PATH).json()["results"][0]["size_bytes"] is None
