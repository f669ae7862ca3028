"""Large logs come in parts and are stored by long work: whole or not at all, never held whole."""

import json

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import call_command
from django_tasks_db.management.commands import db_worker

from spindle_core.formats import large_log
from spindle_core.formats.bench_log import read_bench_log, write_bench_log
from spindle_core.formats.log_files import write_log
from spindle_server.identification import rebuilding
from spindle_server.identification.models import KeptEvidence
from spindle_server.imports import half_stored, inbox, large_tasks, serializers
from spindle_server.imports import views as imports_views
from spindle_server.imports.half_stored import undo_the_lost
from spindle_server.imports.inbox import QUIET_S, Watch
from spindle_server.imports.management.commands import long_work
from spindle_server.imports.models import InboxFile, KnownMapping, LargeFile
from spindle_server.runs import as_core, drawn, reducing, selectors, stored_files, views
from spindle_server.runs.models import Run, SourceFile, StoredPart, TraceSegment
from spindle_server.work.models import LongWork

PART, SEGMENT = 8_000, 700
ROWS = 3_000
HERE = "/api/v1/imports/large/"


@pytest.fixture(autouse=True)
def _small(monkeypatch):
    """What is large is small here: the same steps, a thousandth of the bytes."""
    for module in (stored_files, large_tasks, serializers, imports_views):
        monkeypatch.setattr(module, "PART_BYTES", PART)
    monkeypatch.setattr(large_tasks, "ROWS_PER_SEGMENT", SEGMENT)
    monkeypatch.setattr(large_log.line_blocks, "__defaults__", (5_000,))
    for module in (as_core, drawn, large_tasks, selectors, views):
        monkeypatch.setattr(module, "MOST_AT_ONCE", 1_000)


@pytest.fixture
def work_through(monkeypatch, django_capture_on_commit_callbacks):
    monkeypatch.setattr(long_work, "bound_memory", lambda: None)
    monkeypatch.setattr(db_worker, "close_old_connections", lambda: None)
    return lambda: call_command("long_work", batch=True)


def soak(rows=ROWS, motor="Sable") -> bytes:
    rng = np.random.default_rng(2)
    time = np.arange(rows) / 100.0
    header = {"kind": "soak", "motor": f"Quillmoor {motor}", "nominal_voltage_v": 16.0}
    warm = 25 + 30 * (1 - np.exp(-time / 8))
    return write_bench_log(
        header,
        time,
        {
            "throttle_pct": np.where(time > 2, 60.0, 0.0),
            "thrust_gf": np.where(time > 2, 500.0, 0.0) + rng.standard_normal(rows),
            "voltage_v": np.full(rows, 16.0) + 0.01 * rng.standard_normal(rows),
            "current_a": np.where(time > 2, 9.0, 0.1) + 0.01 * rng.standard_normal(rows),
            "motor_temp_c": warm,
            "ambient_temp_c": np.full(rows, 24.0),
        },
    )


@pytest.fixture
def whose(rig):
    return {"sample": rig["samples"][0].pk, "propeller": rig["propeller"].pk}


def announce(api, whose, data, name="long.csv", **rest):
    asked = {"name": name, "size": len(data), "sameness": "1-2", **whose, **rest}
    return api.post(HERE, asked, format="json")


def send_parts(api, file, data, which=None):
    for index in range(stored_files.parts_of(len(data))) if which is None else which:
        part = data[index * PART : (index + 1) * PART]
        answer = put(api, file, index, part)
        assert answer.status_code == 204, answer.json()


def put(api, file, index, part):
    return api.put(
        f"{HERE}{file['id']}/parts/{index}/", part, content_type="application/octet-stream"
    )


@pytest.fixture
def store(api, work_through, django_capture_on_commit_callbacks):
    """Ask for a file to be stored, and do it; what the bench says of it then."""

    def ask(file):
        with django_capture_on_commit_callbacks(execute=True):
            answer = api.post(f"{HERE}{file['id']}/store/")
        if answer.status_code != 202:
            return answer
        work_through()
        return api.get(f"{HERE}{file['id']}/").json()

    return ask


def test_a_log_in_parts_is_the_run_of_the_same_log_at_once(api, whose, store):
    data = soak()
    file = announce(api, whose, data).json()
    assert (file["state"], file["here"], file["part_bytes"]) == ("arriving", 0, PART)
    send_parts(api, file, data)
    found = store(file)
    assert (found["state"], found["problem"]) == ("stored", "")
    run = Run.objects.get(pk=found["run"])
    log = read_bench_log(data)
    assert run.kind == "soak"
    assert run.end.code == "imported"
    assert run.rate_hz == pytest.approx(100.0)
    assert run.channels == list(log.channels)
    assert run.header["motor"] == "Quillmoor Sable"
    assert [s.row_count for s in run.segments.all()] == [700, 700, 700, 700, 200]
    time_s, channels = as_core.read_trace(run)
    assert np.array_equal(time_s, log.time_s)
    for name, values in log.channels.items():
        assert np.array_equal(channels[name], values)
    # The file is kept, and its log comes back, neither of them whole at any time.
    assert b"".join(api.get(f"/api/v1/runs/{run.pk}/source.csv").streaming_content) == data
    back = b"".join(api.get(f"/api/v1/runs/{run.pk}/bench-log.csv").streaming_content)
    assert np.array_equal(read_bench_log(back).channels["thrust_gf"], log.channels["thrust_gf"])
    work = LongWork.objects.get()
    assert (work.state, work.unit, work.said) == ("done", "MB", f"It is run {run.pk}.")
    # A stored file no longer waits.
    assert api.get(HERE).json()["count"] == 0
    assert run.reduction.error == ""
    assert run.figures.filter(value__isnull=False).exists()
    # Who draws or accepts it waits for nothing.
    assert run.outlines.count() == 2
    assert run.evidence.blocks


def test_what_has_come_stays_and_the_same_file_goes_on(api, whose, store):
    data = soak()
    file = announce(api, whose, data).json()
    send_parts(api, file, data, which=(0, 2))
    short = store(file)
    assert (short.status_code, short.json()["code"]) == (400, "not_whole")
    again = announce(api, whose, data, note="after the train").json()
    assert (again["id"], again["parts_here"]) == (file["id"], [0, 2])
    send_parts(api, again, data)
    assert Run.objects.get(pk=store(again)["run"]).note == "after the train"
    assert StoredPart.objects.count() == stored_files.parts_of(len(data))


@pytest.mark.parametrize(
    ("index", "part", "status", "code"),
    [
        (0, b"x" * PART, 409, "another_part"),
        (0, b"", 400, "part_size"),
        (1, b"x" * (PART + 1), 400, "part_size"),
        (1, b"x" * 10, 400, "part_size"),
        (999, b"x" * PART, 400, "no_such_part"),
    ],
)
def test_a_part_that_is_none_changes_nothing(api, whose, index, part, status, code):
    data = soak()
    file = announce(api, whose, data).json()
    send_parts(api, file, data, which=(0,))
    answer = put(api, file, index, part)
    assert (answer.status_code, answer.json()["code"]) == (status, code)
    assert list(StoredPart.objects.values_list("index", flat=True)) == [0]


def spoilt(data, row, cell):
    lines = data.split(b"\n")
    first = next(at for at, line in enumerate(lines) if line.startswith(b"time_s"))
    lines[first + 1 + row] = cell
    return b"\n".join(lines), first + 2 + row


@pytest.mark.parametrize(
    ("row", "cell", "says"),
    [
        (2_500, b"25,60,nan,16,9,40,24", "thrust_gf"),
        (2_500, b"1,60,500,16,9,40,24", "backward"),
        (1, b"0.01,60", "cells"),
        (2_999, b"29.99,60,500,16,9,40,twelve", "twelve"),
    ],
)
def test_a_fault_near_the_end_leaves_no_half_run(api, whose, store, row, cell, says):
    data, line = spoilt(soak(), row, cell)
    file = announce(api, whose, data).json()
    send_parts(api, file, data)
    found = store(file)
    assert (found["state"], found["run"]) == ("refused", None)
    assert f"line {line}" in found["problem"]
    assert says in found["problem"]
    assert not Run.objects.exists()
    assert not TraceSegment.objects.exists()
    assert not SourceFile.objects.exists()
    assert LongWork.objects.get().state == "failed"
    # What came is not lost with it: the same is tried again, or dropped.
    assert found["here"] == len(data)
    assert api.delete(f"{HERE}{file['id']}/").status_code == 204
    assert not StoredPart.objects.exists()


def test_a_stop_leaves_no_half_run_and_it_can_be_stored_again(api, whose, store, monkeypatch):
    data = soak()
    file = announce(api, whose, data).json()
    send_parts(api, file, data)
    before = large_tasks.Storing._keep

    def keep(storing, part):
        before(storing, part)
        LongWork.objects.update(stop_asked=True)

    monkeypatch.setattr(large_tasks.Storing, "_keep", keep)
    found = store(file)
    assert (found["state"], found["run"]) == ("arriving", None)
    assert LongWork.objects.get().state == "cancelled"
    assert not Run.objects.exists()
    monkeypatch.setattr(large_tasks.Storing, "_keep", before)
    assert store(file)["state"] == "stored"


def test_a_stop_before_it_began_leaves_the_file_as_it_was(
    api, whose, store, work_through, django_capture_on_commit_callbacks
):
    data = soak()
    file = announce(api, whose, data).json()
    send_parts(api, file, data)
    with django_capture_on_commit_callbacks(execute=True):
        waiting = api.post(f"{HERE}{file['id']}/store/").json()
    assert api.post(f"/api/v1/work/{waiting['work']}/stop/").status_code == 200
    work_through()
    found = api.get(f"{HERE}{file['id']}/").json()
    assert (found["state"], found["problem"]) == ("arriving", "It was stopped.")
    assert not Run.objects.exists()
    assert store(file)["state"] == "stored"


def test_a_process_that_dies_in_the_middle_leaves_nothing_behind(api, whose, store, monkeypatch):
    data = soak()
    file = announce(api, whose, data).json()
    send_parts(api, file, data)

    class DeadError(BaseException):
        """Nothing after it is done."""

    def die(*args, **kwargs):
        raise DeadError

    monkeypatch.setattr(large_tasks.Storing, "_end", die)
    monkeypatch.setattr(large_tasks, "undo", die)
    store(file)
    assert TraceSegment.objects.exists()
    LongWork.objects.update(state="lost")
    assert undo_the_lost() == 1
    row = LargeFile.objects.get()
    assert (row.state, row.run, row.problem) == ("refused", None, half_stored.LOST)
    assert not TraceSegment.objects.exists()
    assert not Run.objects.exists()
    assert undo_the_lost() == 0


def test_the_same_file_is_not_stored_twice(api, whose, store):
    data = soak()
    first = announce(api, whose, data).json()
    send_parts(api, first, data)
    run = store(first)["run"]
    # Under another name, by somebody who does not know.
    other = announce(api, whose, data, name="copy.csv").json()
    assert other["id"] != first["id"]
    send_parts(api, other, data)
    found = store(other)
    assert found["state"] == "refused"
    assert f"run {run}" in found["problem"]
    assert Run.objects.count() == 1


def test_what_is_stored_is_neither_stored_again_nor_dropped(api, whose, store):
    data = soak()
    file = announce(api, whose, data).json()
    send_parts(api, file, data)
    assert store(file)["state"] == "stored"
    assert store(file).json()["code"] == "stored"
    assert api.delete(f"{HERE}{file['id']}/").json()["code"] == "stored"
    assert put(api, file, 0, data[:PART]).status_code == 409
    assert SourceFile.objects.get().stored_id == LargeFile.objects.get().stored_id


STRANGE = b"Motor: Quillmoor Sable\n\nTime [ms];Load [g];Amps [mA];Note\n" + b"".join(
    b"%d;%d,5;%d;windy, or not\n" % (700_000 + at * 10, 400 + at % 7, 9_000 + at)
    for at in range(ROWS)
)


def test_a_strangers_large_file_is_looked_at_by_its_beginning_and_read_whole(api, whose, store):
    part = SimpleUploadedFile("x.txt", STRANGE[:6_000])
    asked = {"part": part, "name": "x.txt", "size": len(STRANGE)}
    found = api.post(f"{HERE}open/", asked, format="multipart").json()
    assert found["large"]
    assert not found["bench_log"]
    [run] = found["runs"]
    assert 0.8 * ROWS < run["row_count"] < 1.2 * ROWS
    assert run["duration_s"] is None
    mapping = found["mapping"]
    for column in mapping["columns"].values():
        column["certainty"] = 1.0
    mapping["header"] = {"kind": "soak"}
    file = announce(
        api, whose, STRANGE, name="x.txt", mapping=json.dumps(mapping), save_as="field logger"
    ).json()
    send_parts(api, file, STRANGE)
    stored = store(file)
    assert stored["problem"] == ""
    run = Run.objects.get(pk=stored["run"])
    time_s, channels = as_core.read_trace(run)
    assert np.allclose(time_s, np.arange(ROWS) / 100.0)
    assert channels["current_a"][-1] == pytest.approx(11.999)
    assert channels["thrust_gf"][2] == 402.5
    assert run.header["motor"] == "Quillmoor Sable"
    assert run.rate_hz == pytest.approx(100.0)
    assert KnownMapping.objects.get().name == "field logger"


def test_guesses_and_forms_that_are_not_read_in_parts_are_refused_before_a_byte_comes(api, whose):
    unsure = {"columns": {"t": {"channel": "time_s", "unit": "s", "certainty": 0.4}}}
    for rest, code in (
        ({"mapping": json.dumps({"format": "log-mapping/1", **unsure})}, "unsure"),
        ({"name": "x.xlsx"}, "too_large"),
        ({"name": "x.json"}, "too_large"),
        ({"size": 5_000_000_000}, "too_large"),
        ({"name": "x.parquet", "mapping": json.dumps({"format": "log-mapping/1"})}, None),
        ({"size": 0}, None),
        ({"sample": 999_999}, None),
        ({"colour": "red"}, None),
    ):
        answer = (
            announce(api, whose, b"x" * 90, **rest)
            if "size" not in rest
            else api.post(HERE, {"name": "x.csv", "sameness": "1", **whose, **rest}, format="json")
        )
        assert answer.status_code == 400, (rest, answer.json())
        assert code is None or answer.json()["code"] == code
    assert not LargeFile.objects.exists()


def test_parquet_in_parts(api, whose, store):
    log = read_bench_log(soak())
    data = write_log("x.parquet", log)
    part = SimpleUploadedFile("x.parquet", data[-20_000:])
    asked = {"part": part, "name": "x.parquet", "size": len(data)}
    found = api.post(f"{HERE}open/", asked, format="multipart").json()
    assert (found["bench_log"], found["runs"][0]["row_count"]) == (True, ROWS)
    assert found["runs"][0]["kind"] == "soak"
    file = announce(api, whose, data, name="x.parquet").json()
    send_parts(api, file, data)
    stored = store(file)
    assert stored["problem"] == ""
    _, channels = as_core.read_trace(Run.objects.get(pk=stored["run"]))
    assert np.array_equal(channels["thrust_gf"], log.channels["thrust_gf"])


def test_a_large_file_of_the_inbox_is_read_from_where_it_lies(
    api, whose, store, tmp_path, settings, monkeypatch
):
    settings.INBOX = tmp_path / "inbox"
    monkeypatch.setattr(inbox, "LARGEST_FILE_BYTES", 10_000)
    data = soak()
    path = inbox.inbox_folder() / "hour.csv"
    path.write_bytes(data)
    watch = Watch(inbox.inbox_folder())
    watch.look(0.0)
    [row] = watch.look(QUIET_S)
    assert (row.problem, row.runs, row.asks) == ("", 1, 0)
    assert api.get("/api/v1/imports/inbox/").json()["results"][0]["large"]
    assert api.get(f"/api/v1/imports/inbox/{row.pk}/file/").json()["code"] == "large"
    looked = api.post(f"{HERE}open/", {"inbox": row.pk}, format="multipart").json()
    assert looked["runs"][0]["kind"] == "soak"
    file = announce(api, whose, data, name="hour.csv", inbox=row.pk).json()
    assert file["here"] == len(data)
    assert put(api, file, 0, data[:PART]).status_code == 409
    stored = store(file)
    assert stored["problem"] == ""
    run = Run.objects.get(pk=stored["run"])
    # The folder may be emptied: the bench has the file.
    path.unlink()
    assert b"".join(api.get(f"/api/v1/runs/{run.pk}/source.csv").streaming_content) == data
    assert api.get("/api/v1/imports/inbox/").json()["count"] == 0


@pytest.mark.parametrize("what", ["gone", "longer", "another"])
def test_a_file_of_the_inbox_that_is_not_what_it_was_is_no_run(
    api, whose, store, tmp_path, settings, monkeypatch, what
):
    settings.INBOX = tmp_path / "inbox"
    monkeypatch.setattr(inbox, "LARGEST_FILE_BYTES", 10_000)
    data = soak()
    path = inbox.inbox_folder() / "hour.csv"
    path.write_bytes(data)
    row = inbox.take_up(path)
    file = announce(api, whose, data, name="hour.csv", inbox=row.pk).json()
    if what == "gone":
        path.unlink()
    else:
        path.write_bytes(
            data + b"30,60,500,16,9,40,24\n"
            if what == "longer"
            else data.replace(b",24\n", b",23\n")
        )
    found = store(file)
    if what == "another":
        assert found["state"] == "refused"
        assert "not what it was" in found["problem"]
    else:
        assert found.json()["code"] == "gone"
    assert not Run.objects.exists()
    assert InboxFile.objects.count() == 1


def test_a_run_that_turns_a_propeller_says_which(api, whose, store):
    data = soak()
    file = announce(api, {**whose, "propeller": None}, data).json()
    send_parts(api, file, data)
    assert "propeller" in store(file)["problem"]
    # Said now, without a byte sent again.
    again = announce(api, whose, data).json()
    assert again["here"] == len(data)
    assert store(again)["state"] == "stored"


def test_the_undoing_is_in_the_history(api, whose, store):
    data, _ = spoilt(soak(), 2_000, b"never")
    file = announce(api, whose, data).json()
    send_parts(api, file, data)
    store(file)
    told = Run.history.order_by("history_id").values_list("history_type", "history_user__username")
    assert list(told) == [("+", "reviewer"), ("-", None)]


def test_a_part_that_went_bad_on_its_way_is_no_run(api, whose, store):
    data = soak()
    file = announce(api, whose, data).json()
    send_parts(api, file, data)
    part = StoredPart.objects.get(index=3)
    StoredPart.objects.filter(pk=part.pk).update(zstd=bytes(part.zstd)[:-9] + b"x" * 9)
    found = store(file)
    assert found["state"] == "refused"
    assert "Part 3" in found["problem"]
    assert not Run.objects.exists()


def test_what_it_rests_on_is_read_once(api, whose, store, monkeypatch):
    asked = []

    def counted(run, said=None):
        asked.append(run.pk)
        return run_trace(run, said)

    run_trace = as_core.run_trace
    for module in (as_core, reducing, rebuilding):
        monkeypatch.setattr(module, "run_trace", counted)
    data = soak()
    file = announce(api, whose, data).json()
    send_parts(api, file, data)
    run = store(file)["run"]
    assert asked == [run]
    assert KeptEvidence.objects.filter(run=run).exists()
