"""Logs are packed while somebody writes them, and no line is lost."""

import gzip
import shutil
import subprocess
import sys
import time

import pytest

from spindle_ops import rotation
from spindle_ops.rotation import rotate, rotate_all


def test_a_small_log_stays(tmp_path):
    log = tmp_path / "web.log"
    log.write_text("x" * 100)
    assert not rotate(log, 100)
    assert log.read_text() == "x" * 100
    assert not rotate(tmp_path / "not-there.log")


def test_what_grew_is_packed_and_its_writer_goes_on_at_the_start(tmp_path):
    log = tmp_path / "web.log"
    with log.open("ab", buffering=0) as writer:
        writer.write(b"old\n" * 50)
        assert rotate(log, 100)
        writer.write(b"new\n")
    assert log.read_bytes() == b"new\n"
    assert gzip.decompress((tmp_path / "web.log.1.gz").read_bytes()) == b"old\n" * 50


def test_the_newest_are_kept(tmp_path):
    log = tmp_path / "web.log"
    for number in range(7):
        log.write_text(f"{number}\n" * 20)
        assert rotate(log, 10, kept=3)
    there = {
        p.name: gzip.decompress(p.read_bytes())[:1] for p in tmp_path.iterdir() if p.suffix == ".gz"
    }
    assert there == {"web.log.1.gz": b"6", "web.log.2.gz": b"5", "web.log.3.gz": b"4"}


def test_what_is_written_while_it_is_copied_is_copied_too(tmp_path, monkeypatch):
    log = tmp_path / "agent.log"
    log.write_bytes(b"early\n" * 50)
    copy = shutil.copyfileobj

    def slowly(source, out, length):
        copy(source, out, length)
        with log.open("ab") as writer:
            writer.write(b"late\n" * 3)

    monkeypatch.setattr(rotation.shutil, "copyfileobj", slowly)
    assert rotate(log, 100)
    packed = gzip.decompress((tmp_path / "agent.log.1.gz").read_bytes())
    assert packed == b"early\n" * 50 + b"late\n" * 3
    assert log.read_bytes() == b""


def test_another_process_keeps_its_handle(tmp_path):
    """It writes on through the handle it was started with, and what it writes then is there."""
    log = tmp_path / "agent.log"
    script = "import sys\nprint('x' * 200, flush=True)\nsys.stdin.readline()\nprint('after')"
    with log.open("ab") as out:
        writer = subprocess.Popen([sys.executable, "-c", script], stdin=subprocess.PIPE, stdout=out)
    until = time.monotonic() + 30
    while not log.stat().st_size and time.monotonic() < until:
        time.sleep(0.01)
    assert rotate(log, 100)
    writer.communicate(b"\n", timeout=30)
    assert log.read_bytes() == b"after\n"


def test_on_a_full_disk_the_log_stays(tmp_path, monkeypatch):
    log = tmp_path / "web.log"
    log.write_text("x" * 200)

    def full(*_):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(rotation.shutil, "copyfileobj", full)
    assert not rotate(log, 100)
    assert log.read_text() == "x" * 200
    assert [p.name for p in tmp_path.iterdir()] == ["web.log"]


@pytest.mark.parametrize("name", ["web.log", "mariadb.log"])
def test_all_of_a_folder(tmp_path, monkeypatch, name):
    (tmp_path / name).write_text("x" * (rotation.MOST_BYTES + 1))
    (tmp_path / "door.log").write_text("y")
    (tmp_path / "notes.txt").write_text("z" * (rotation.MOST_BYTES + 1))
    assert rotate_all(tmp_path) == [name]
