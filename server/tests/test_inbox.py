"""The drop folder: what is complete is noticed once, by its content; nothing in it is changed."""

import pytest

from spindle_server.demo.strangers import stranger_files
from spindle_server.imports import inbox
from spindle_server.imports.inbox import QUIET_S, Watch
from spindle_server.imports.models import InboxFile
from spindle_server.runs.services import import_log

FILES = stranger_files()
TABLE = FILES["evenings.csv"]


@pytest.fixture
def folder(tmp_path, settings, db):
    settings.INBOX = tmp_path / "inbox"
    return inbox.inbox_folder()


@pytest.fixture
def watch(folder):
    return Watch(folder)


def names(found):
    return [row.name for row in found]


def test_a_file_is_taken_up_once_it_is_quiet(folder, watch):
    path = folder / "evenings.csv"
    path.write_bytes(TABLE[:60])
    assert watch.look(0.0) == []
    # The logger is still writing: what was seen begins anew.
    path.write_bytes(TABLE)
    assert watch.look(QUIET_S) == []
    assert watch.look(2 * QUIET_S - 0.1) == []
    [row] = watch.look(2 * QUIET_S)
    assert (row.name, row.runs, row.problem) == ("evenings.csv", 2, "")
    assert watch.look(3 * QUIET_S) == []
    assert path.read_bytes() == TABLE


def test_a_content_is_taken_up_once_whatever_its_name(folder, watch):
    for name in ("a.csv", "b.csv"):
        (folder / name).write_bytes(TABLE)
    watch.look(0.0)
    assert names(watch.look(QUIET_S)) == ["a.csv"]
    # Another process begins to look: still once.
    again = Watch(folder)
    again.look(0.0)
    assert again.look(QUIET_S) == []
    assert InboxFile.objects.count() == 1


def test_a_file_that_was_imported_already_does_not_wait(folder, watch, rig, log_bytes):
    sample, propeller = rig["samples"][0], rig["propeller"]
    import_log(actor=None, name="x.csv", data=log_bytes, sample=sample, propeller=propeller)
    (folder / "again.csv").write_bytes(log_bytes)
    watch.look(0.0)
    assert watch.look(QUIET_S) == []


def test_what_is_stored_or_put_aside_waits_no_longer(api, folder, watch, rig, log_bytes):
    (folder / "one.csv").write_bytes(log_bytes)
    (folder / "two.csv").write_bytes(TABLE)
    watch.look(0.0)
    watch.look(QUIET_S)
    path = "/api/v1/imports/inbox/"
    rows = {row["name"]: row for row in api.get(path).json()["results"]}
    assert set(rows) == {"one.csv", "two.csv"}
    content = api.get(f"{path}{rows['one.csv']['id']}/file/")
    assert content.content == log_bytes
    sample, propeller = rig["samples"][0], rig["propeller"]
    import_log(actor=None, name="one.csv", data=log_bytes, sample=sample, propeller=propeller)
    assert names_of(api) == ["two.csv"]
    aside = f"{path}{rows['two.csv']['id']}/"
    assert api.patch(aside, {"put_aside": True}, format="json").status_code == 200
    assert names_of(api) == []
    api.patch(aside, {"put_aside": False}, format="json")
    assert names_of(api) == ["two.csv"]


def names_of(api):
    return [row["name"] for row in api.get("/api/v1/imports/inbox/").json()["results"]]


@pytest.mark.parametrize(
    ("name", "data", "words"),
    [
        ("empty.csv", b"", "table"),
        ("notes.txt", b"buy more props\n", "table"),
        ("broken.xlsx", b"PK\x03\x04", "workbook"),
        ("bench.csv", b"time_s,thrust_gf\n0,0\n1,x\n", "not a number"),
    ],
)
def test_what_cannot_be_read_waits_with_its_reason(folder, watch, name, data, words):
    (folder / name).write_bytes(data)
    watch.look(0.0)
    [row] = watch.look(QUIET_S)
    assert words in row.problem


@pytest.mark.parametrize("name", ["big.xlsx", "big.json"])
def test_what_is_large_and_only_makes_sense_whole_says_so(folder, watch, monkeypatch, name):
    monkeypatch.setattr(inbox, "LARGEST_FILE_BYTES", 10)
    (folder / name).write_bytes(TABLE)
    watch.look(0.0)
    [row] = watch.look(QUIET_S)
    assert "Save it as CSV or Parquet" in row.problem


def test_what_is_no_log_is_left_alone(folder, watch):
    (folder / ".hidden.csv").write_bytes(TABLE)
    (folder / "picture.png").write_bytes(b"x")
    (folder / "sub.csv").mkdir()
    (folder / "dangling.csv").symlink_to("/nowhere/at/all.csv")
    watch.look(0.0)
    assert watch.look(QUIET_S) == []


def test_a_file_that_changed_or_went_is_not_handed_out(api, folder, watch):
    path = folder / "one.csv"
    path.write_bytes(TABLE)
    watch.look(0.0)
    [row] = watch.look(QUIET_S)
    path.write_bytes(TABLE + b"\n")
    address = f"/api/v1/imports/inbox/{row.pk}/file/"
    assert api.get(address).status_code == 404
    path.unlink()
    assert api.get(address).status_code == 404
    # And a name out of the database leads nowhere but into the folder.
    InboxFile.objects.filter(pk=row.pk).update(name="../../secrets.json")
    assert api.get(address).status_code == 404
