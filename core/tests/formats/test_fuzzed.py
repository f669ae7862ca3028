"""Thousands of files that went wrong: each is read or refused, none makes a reader stumble.

``./spindle fuzz`` reads more of them, and tells how long the slowest took.
"""

import dataclasses
import io
import json
import os
import re
import zipfile

import numpy as np
import pyarrow as pa
import pyarrow.parquet as pq
import pytest

from spindle_core.errors import LogFormatError, ReductionError
from spindle_core.formats import outside
from spindle_core.formats.foreign.tables import as_text_table
from spindle_core.formats.log_files import read_log, write_log
from spindle_core.formats.outside import read_outside
from spindle_core.formats.workbook import opened_workbook, sheet_rows

from ..fuzzing.corpus import CORPUS, SUFFIXES
from ..fuzzing.running import run, take

EACH = int(os.environ.get("SPINDLE_FUZZ", "300"))


@pytest.mark.filterwarnings("ignore")
@pytest.mark.parametrize("suffix", SUFFIXES)
def test_no_file_makes_a_reader_stumble(suffix):
    told = run(suffix, EACH)
    assert told.stumbled == []
    # It tries what it should: some are still read, and they are refused for many reasons.
    assert told.read > 0.05 * EACH, told.refused
    assert len(told.refused) >= 3, told.refused


@pytest.mark.parametrize("suffix", SUFFIXES)
def test_the_files_to_begin_from_are_whole(suffix):
    assert [take(f"x{suffix}", data) for data in CORPUS[suffix]] == [1, 1, 1]


def parquet(columns, said=None):
    table = pa.table(columns)
    if said is not None:
        table = table.replace_schema_metadata({b"bench-log": said})
    sink = io.BytesIO()
    pq.write_table(table, sink)
    return sink.getvalue()


WHOLE = json.dumps({"format": "bench-log/1", "header": {"kind": "steps"}}).encode()
TIMES = pa.array([0.0, 1.0, 2.0])


@pytest.mark.parametrize(
    ("columns", "said", "code", "column"),
    [
        (
            {"time_s": TIMES, "thrust_gf": pa.array(["a", "b", "c"])},
            WHOLE,
            "not_a_number",
            "thrust_gf",
        ),
        ({"time_s": TIMES, "thrust_gf": pa.array([[1.0]] * 3)}, WHOLE, "not_a_number", "thrust_gf"),
        ({"time_s": pa.array([0, 1, 2], pa.timestamp("s"))}, WHOLE, "not_a_number", "time_s"),
        ({"time_s": TIMES}, b"{", "bad_header", "bench-log"),
        ({"time_s": TIMES}, b"[]", "bad_header", "bench-log"),
        ({"time_s": TIMES}, b'{"header": {"kind": ["steps"]}}', "bad_header", "bench-log"),
        ({"time_s": TIMES}, b"\xff", "bad_header", "bench-log"),
    ],
)
def test_parquet_of_another_shape_says_where(columns, said, code, column):
    with pytest.raises(LogFormatError) as refused:
        read_log("x.parquet", parquet(columns, said))
    assert (refused.value.code, refused.value.column) == (code, column)
    assert refused.value.expected


def test_a_column_that_stands_twice_is_named():
    table = pa.table([TIMES, TIMES], names=["time_s", "time_s"])
    sink = io.BytesIO()
    pq.write_table(table, sink)
    for reader in (read_log, as_text_table):
        with pytest.raises(LogFormatError, match="'time_s' stands twice"):
            reader("x.parquet", sink.getvalue())


def test_a_small_file_of_many_rows_is_refused_before_it_is_unpacked():
    """Half a megabyte once took three gigabytes and two minutes."""
    rows = 12_000_000
    data = parquet(
        {"time_s": pa.array(np.zeros(rows)), "thrust_gf": pa.array(np.zeros(rows))}, WHOLE
    )
    assert len(data) < 500_000
    with pytest.raises(LogFormatError, match="12,000,000 rows of 2"):
        read_log("bomb.parquet", data)


@pytest.mark.parametrize("reader", [read_log, as_text_table])
def test_a_workbook_that_would_fill_the_memory_is_not_unpacked(monkeypatch, reader):
    monkeypatch.setattr("spindle_core.formats.bench_log.LARGEST_EXPANDED_BYTES", 1_000_000)
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as book:
        book.writestr("xl/worksheets/sheet1.xml", bytes(2_000_000))
    assert len(packed.getvalue()) < 10_000
    with pytest.raises(LogFormatError, match="unpacks to 2 MB"):
        reader("bomb.xlsx", packed.getvalue())


def test_rows_of_a_workbook_are_counted_while_they_come(monkeypatch):
    monkeypatch.setattr(outside, "MOST_CELLS", 300)
    book = opened_workbook(CORPUS[".xlsx"][2])
    with pytest.raises(LogFormatError) as refused:
        sheet_rows(book.worksheets[0])
    assert refused.value.code == "too_large"


def test_a_hidden_double_for_a_sample_that_is_not_there_is_refused():
    log = read_log("x.csv", CORPUS[".csv"][0])
    thrust_gf = log.channels["thrust_gf"].copy()
    thrust_gf[3] = 0.1 + 0.2
    log = dataclasses.replace(log, channels={**log.channels, "thrust_gf": thrust_gf})
    whole = write_log("x.xlsx", log)
    assert read_log("x.xlsx", whole).channels["thrust_gf"][3] == 0.1 + 0.2
    from openpyxl import load_workbook

    for cell, value in (("A2", -1), ("A2", 4000), ("B2", "trust_gf"), ("C2", "nan"), ("C2", "x")):
        book = load_workbook(io.BytesIO(whole))
        book["exact"][cell] = value
        sink = io.BytesIO()
        book.save(sink)
        with pytest.raises(LogFormatError, match="names no sample"):
            read_log("x.xlsx", sink.getvalue())


def test_what_a_library_stumbles_over_is_a_fault_of_the_file_and_memory_is_not():
    with pytest.raises(LogFormatError, match="IndexError") as refused, read_outside("sheet", "c"):
        raise IndexError("deep inside")
    assert isinstance(refused.value.__cause__, IndexError)
    with pytest.raises(MemoryError), read_outside("sheet", "c"):
        raise MemoryError


def test_a_sheet_that_is_larger_than_it_says_is_read_whole():
    """Programs that write while they measure know the size of their first rows only."""
    source = CORPUS[".xlsx"][2]
    made = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(source)) as old, zipfile.ZipFile(made, "w") as new:
        for one in old.infolist():
            data = old.read(one)
            data = re.sub(rb'<dimension ref="[^"]*"', b'<dimension ref="A1"', data)
            new.writestr(one.filename, data)
    assert made.getvalue() != source
    assert as_text_table("x.xlsx", made.getvalue()) == as_text_table("x.xlsx", source)


@pytest.mark.parametrize("value", ["1e308", "-1e13", "1.1e12"])
def test_what_nothing_measures_is_not_reckoned_with(value):
    rows = "".join(f"{i},50,{value if i == 30 else 10 + i % 2}\n" for i in range(60))
    log = read_log("x.csv", f"time_s,throttle_pct,current_a\n{rows}".encode())
    with pytest.raises(ReductionError, match="current_a holds") as refused:
        log.trace()
    assert refused.value.code == "out_of_range"
