"""Files that take too much are put down, whatever they are; the next file finds a reader."""

import io
import os
import pickle
import signal
import threading
import time
import zipfile
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import numpy as np
import pyarrow as pa
import pyarrow.parquet as pq
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from spindle_core.errors import LogFormatError
from spindle_core.formats.apart import read_log
from spindle_server import reading
from spindle_server.errors import UnavailableError
from spindle_server.reading import Reader, Readers, read_apart

LOG = b"# kind: steps\ntime_s,throttle_pct\n0,0\n1,1\n"


@pytest.fixture
def readers(monkeypatch):
    """Readers of this test alone."""
    made = Readers(2)
    monkeypatch.setattr(reading, "READ", made)
    yield made
    made.end()


def workbook_of(rows):
    """A workbook that is small and whole, and has many rows."""
    source = io.BytesIO()
    from openpyxl import Workbook

    book = Workbook()
    book.active.title = "samples"
    book.active.append(["time_s", "thrust_gf"])
    book.save(source)
    made = io.BytesIO()
    line = b'<row><c t="n"><v>1</v></c><c t="n"><v>2</v></c></row>'
    with zipfile.ZipFile(source) as old, zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as new:
        for one in old.infolist():
            data = old.read(one)
            if one.filename.endswith("sheet1.xml"):
                data = data.replace(b"</sheetData>", line * rows + b"</sheetData>")
            new.writestr(one.filename, data)
    return made.getvalue()


def test_a_file_that_takes_too_long_is_put_down(readers, monkeypatch):
    """A workbook of 160 kB once took two minutes."""
    monkeypatch.setattr(reading, "LEAST_S", 0.4)
    bomb = workbook_of(300_000)
    assert len(bomb) < 200_000
    with pytest.raises(LogFormatError) as refused:
        read_apart(read_log, "bomb.xlsx", bomb)
    assert refused.value.code == "too_slow"
    monkeypatch.setattr(reading, "LEAST_S", 5.0)
    assert read_apart(read_log, "x.csv", LOG).time_s.size == 2


def test_a_file_that_takes_too_much_memory_is_put_down(readers, monkeypatch):
    monkeypatch.setattr(reading, "LEAST_BYTES", 30_000_000)
    rng = np.random.default_rng(1)
    steps = pa.array(np.repeat(rng.normal(size=40), 100_000))
    sink = io.BytesIO()
    pq.write_table(pa.table({"Time (s)": steps, "Thrust": steps}), sink)
    assert len(sink.getvalue()) < 300_000
    with pytest.raises(LogFormatError) as refused:
        read_apart(read_log, "bomb.parquet", sink.getvalue())
    assert refused.value.code == "too_large"


def test_a_refusal_keeps_its_place_and_the_reader(readers):
    first = None
    for _ in range(3):
        with pytest.raises(LogFormatError) as refused:
            read_apart(read_log, "x.csv", b"# kind: dance\ntime_s\n0\n")
        assert (refused.value.code, refused.value.line) == ("unknown_kind", 1)
        (idle,) = readers._idle
        first = first or idle
        assert idle is first


def test_a_reader_that_dies_breaks_one_file_and_not_the_next(readers, monkeypatch):
    # However slowly the machine goes, it is at the file when it dies, and dies of nothing else.
    monkeypatch.setattr(reading, "LEAST_S", 60.0)
    bomb = workbook_of(200_000)
    readers.start_ahead()
    (reader,) = readers._idle
    killer = threading.Timer(0.2, reader._process.kill)
    killer.start()
    with pytest.raises(LogFormatError) as refused:
        read_apart(read_log, "bomb.xlsx", bomb)
    killer.join()
    assert refused.value.code == "broke_reader"
    assert not reader.alive
    assert read_apart(read_log, "x.csv", LOG).time_s.size == 2


@pytest.mark.parametrize("size", [100, 3_000_000])
def test_a_frozen_reader_holds_nobody_up(readers, monkeypatch, size):
    """It takes no request: more than a pipe holds would be written to it for ever."""
    monkeypatch.setattr(reading, "LEAST_S", 0.3)
    monkeypatch.setattr(reading, "S_PER_MB", 0.01)
    readers.start_ahead()
    (reader,) = readers._idle
    os.kill(reader._process.pid, signal.SIGSTOP)
    began = time.monotonic()
    with pytest.raises(LogFormatError) as refused:
        read_apart(read_log, "x.csv", LOG + b"1,1\n" * (size // 4))
    assert refused.value.code == "too_slow"
    assert time.monotonic() - began < 10
    assert not reader.alive
    monkeypatch.setattr(reading, "LEAST_S", 5.0)
    assert read_apart(read_log, "x.csv", LOG).time_s.size == 2


@pytest.mark.parametrize("sent", [b"\0" * 7 + b"\x40", b"\xff" * 8, b"\0\0"])
def test_an_answer_that_ends_nowhere_holds_nobody_up(readers, monkeypatch, sent):
    """A reader that was taken over begins an answer, and says no more."""
    monkeypatch.setattr(reading, "LEAST_S", 0.3)
    readers.start_ahead()
    (reader,) = readers._idle
    mine, theirs = os.pipe()
    os.write(theirs, sent)
    reader._answers = os.fdopen(mine, "rb")
    kill, writing = reader._process.kill, os.fdopen(theirs, "wb")

    def killed():
        """With the process goes its end of the pipe."""
        writing.close()
        kill()

    monkeypatch.setattr(reader._process, "kill", killed)
    with pytest.raises(LogFormatError) as refused:
        read_apart(read_log, "x.csv", LOG)
    assert not reader.alive
    assert refused.value.code in ("too_slow", "broke_reader")


def test_one_that_died_while_it_waited_is_not_asked(readers):
    readers.start_ahead()
    readers._idle[0]._process.kill()
    readers._idle[0]._process.wait()
    assert read_apart(read_log, "x.csv", LOG).time_s.size == 2


def test_an_answer_that_is_no_data_ends_the_reader(readers, monkeypatch):
    readers.start_ahead()

    def hostile(data):
        raise pickle.UnpicklingError("os.system is no data")

    monkeypatch.setattr(reading, "answer_from", hostile)
    with pytest.raises(LogFormatError) as refused:
        read_apart(read_log, "x.csv", LOG)
    assert refused.value.code == "broke_reader"
    assert readers._idle == []


def test_what_it_stumbles_over_is_logged_with_its_trace(readers, caplog):
    with pytest.raises(LogFormatError) as refused:
        read_apart(read_log, None, LOG)
    assert refused.value.code == "not_understood"
    (record,) = [one for one in caplog.records if "stumbled" in one.message]
    assert "Traceback" in record.trace


def test_more_files_than_readers_wait_for_their_turn(readers):
    with ThreadPoolExecutor(6) as pool:
        logs = list(pool.map(lambda _: read_apart(read_log, "x.csv", LOG), range(12)))
    assert all(log.time_s.size == 2 for log in logs)
    assert len(readers._idle) <= 2


def test_who_waits_too_long_is_told_so(readers, monkeypatch):
    monkeypatch.setattr(reading, "WAIT_S", 0.05)
    with readers.one(), readers.one(), pytest.raises(UnavailableError, match="being read"):
        read_apart(read_log, "x.csv", LOG)


def test_who_reads_strangers_files_holds_no_secret(readers, monkeypatch):
    monkeypatch.setenv("SPINDLE_DB_PASSWORD", "of-the-database")
    readers.start_ahead()
    (reader,) = readers._idle
    held = Path(f"/proc/{reader._process.pid}/environ").read_bytes()
    assert b"PATH=" in held
    assert b"SPINDLE" not in held
    assert b"of-the-database" not in held


def test_only_what_is_on_the_list_is_done():
    with pytest.raises((AssertionError, KeyError)):
        read_apart(print, "x")


def test_what_a_reader_takes_is_counted_from_what_it_is_itself():
    reader = Reader()
    try:
        assert reader.held_bytes() > 20_000_000
        assert reader._own_bytes == pytest.approx(reader.held_bytes(), rel=0.2)
    finally:
        reader.end()
    assert reader.held_bytes() == 0


@pytest.mark.parametrize("address", ["preview/", "open/"])
def test_whoever_sends_a_bomb_reads_why_it_was_put_down(api, readers, monkeypatch, address):
    monkeypatch.setattr(reading, "LEAST_S", 0.4)
    file = SimpleUploadedFile("bomb.xlsx", workbook_of(300_000))
    answer = api.post(f"/api/v1/imports/{address}", {"file": file}, format="multipart")
    assert answer.status_code == 400
    body = answer.json()
    assert body["code"] == "too_slow"
    assert "takes too long to read for its size" in body["message"]
    assert body["where"]["expected"] == "fewer rows"
