"""A large log read in blocks is the log that is read whole, fault for fault."""

import io

import numpy as np
import pyarrow.parquet as pq
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from spindle_core.errors import CoreError, LogFormatError
from spindle_core.formats.bench_log import BenchLog, read_bench_log, write_bench_log
from spindle_core.formats.bench_log_parquet import write_bench_log_parquet
from spindle_core.formats.foreign.dialect import Dialect
from spindle_core.formats.foreign.mapping import ColumnMapping, LogMapping
from spindle_core.formats.foreign.reader import read_foreign
from spindle_core.formats.large_log import (
    OneRun,
    line_blocks,
    log_block,
    log_head,
    parquet_block,
    parquet_shape,
)

ROWS = 400


def own_log(rows: int = ROWS, extra: dict[str, list[str]] | None = None) -> bytes:
    rng = np.random.default_rng(5)
    time = np.arange(rows) / 1000.0
    thrust = 500 + rng.standard_normal(rows)
    thrust[7] = np.nan
    header = {"kind": "soak", "motor": "Long Haul 2207", "nominal_voltage_v": 16.0}
    return write_bench_log(header, time, {"thrust_gf": thrust, "current_a": thrust / 50}, extra)


def in_pieces(data: bytes, size: int) -> list[bytes]:
    return [data[at : at + size] for at in range(0, len(data), size)]


def taken(
    data: bytes,
    *,
    mapping: LogMapping | None = None,
    most: int = 1000,
    piece: int = 333,
    part: int = 64,
) -> tuple[OneRun, list[BenchLog]]:
    head = log_head(data, mapping)
    run, parts = OneRun(part), []
    for block, line in line_blocks(in_pieces(data, piece), head, most):
        parts += run.take(log_block(head, block, line, mapping), line)
    rest = run.rest()
    return run, parts + ([rest] if rest else [])


def joined(parts: list[BenchLog]) -> BenchLog:
    names = list(parts[0].channels)
    return BenchLog(
        parts[0].header,
        np.concatenate([part.time_s for part in parts]),
        {name: np.concatenate([part.channels[name] for part in parts]) for name in names},
    )


@settings(max_examples=60, deadline=None)
@given(st.integers(200, 9000), st.integers(1, 5000), st.integers(1, 500))
def test_however_it_is_cut_it_is_the_same_log(most, piece, part):
    data = own_log()
    run, parts = taken(data, most=most, piece=piece, part=part)
    whole, found = read_bench_log(data), joined(parts)
    assert found.header == whole.header
    assert np.array_equal(found.time_s, whole.time_s)
    for name, values in whole.channels.items():
        assert np.array_equal(found.channels[name], values, equal_nan=True)
    assert [one.time_s.size for one in parts[:-1]] == [part] * (len(parts) - 1)
    assert run.rows == ROWS


def test_a_line_end_in_a_quoted_cell_ends_no_block():
    words = ['two\nlines, "so to say"' if at % 3 == 0 else "" for at in range(ROWS)]
    data = own_log(extra={"remark": words})
    _, parts = taken(data, most=700)
    assert joined(parts).time_s.size == ROWS


@pytest.mark.parametrize("most", [1000, 8000])
def test_a_quote_that_stands_alone_is_refused_and_not_looked_for_to_the_end(most):
    data = own_log().replace(b"\n0.2,", b'\n"0.2,', 1)
    with pytest.raises(LogFormatError) as caught:
        taken(data, most=most)
    # The row of 0.2 s is line 206; what is read whole finds nothing before the last line.
    assert 200 <= caught.value.line <= 406


@pytest.mark.parametrize("row", [3, 150, 398])
@pytest.mark.parametrize("bad", [b"nan", b"twelve", b"1,2,3", b"", b"inf"])
def test_a_fault_is_told_with_its_line_in_the_file(row, bad):
    lines = own_log().split(b"\n")
    first = next(at for at, line in enumerate(lines) if line.startswith(b"time_s"))
    lines[first + 1 + row] = b"" if bad == b"" else b"%g," % (row / 1000) + bad + b",1"
    data = b"\n".join(lines)
    with pytest.raises(LogFormatError) as whole:
        read_bench_log(data)
    with pytest.raises(LogFormatError) as cut:
        taken(data)
    assert cut.value.line == whole.value.line == first + 2 + row
    assert cut.value.code == whole.value.code


def test_time_that_goes_backward_from_one_block_to_the_next_is_refused():
    data = own_log()
    head = log_head(data, None)
    blocks = list(line_blocks([data], head, 1000))
    run = OneRun(10)
    list(run.take(log_block(head, *blocks[1], None), blocks[1][1]))
    with pytest.raises(LogFormatError) as caught:
        list(run.take(log_block(head, *blocks[0], None), 77))
    assert (caught.value.code, caught.value.line) == ("time_backward", 77)


def test_a_row_that_never_ends_is_refused_before_it_fills_the_memory():
    data = own_log(9) + b"9" * 5000
    with pytest.raises(LogFormatError) as caught:
        taken(data, most=1000)
    assert caught.value.code == "long_line"
    old_mac = own_log().replace(b"\n", b"\r")
    with pytest.raises(LogFormatError):
        taken(old_mac)


def test_windows_line_ends_and_a_mark_in_front_change_nothing():
    data = b"\xef\xbb\xbf" + own_log().replace(b"\n", b"\r\n") + b"\r\n\r\n"
    assert joined(taken(data)[1]).time_s.size == ROWS


def test_a_head_without_end_and_two_bytes_a_letter_are_refused():
    for data, code in (
        (b"# note: " + b"x" * 3000, "no_time"),
        ("time_s,thrust_gf\n".encode("utf-16"), "utf16"),
        (b"", "no_time"),
    ):
        with pytest.raises(LogFormatError) as caught:
            log_head(data, None)
        assert caught.value.code == code


def test_points_are_never_large():
    data = own_log().replace(b"kind: soak", b"kind: readings")
    with pytest.raises(LogFormatError) as caught:
        taken(data)
    assert caught.value.code == "large_readings"


STRANGE = b"Logger 7\n\nTime [ms];Zug [g];Strom [mA];Motor\n" + b"".join(
    b"%d;%d,5;%d;%s\n" % (at * 2, 400 + at, 9000 + at, b"Tall One" if at == 0 else b"")
    for at in range(ROWS)
)


def strange_mapping() -> LogMapping:
    return LogMapping(
        {
            "Time [ms]": ColumnMapping("time_s", "ms"),
            "Zug [g]": ColumnMapping("thrust_gf", "gf"),
            "Strom [mA]": ColumnMapping("current_a", "mA"),
        },
        Dialect("utf-8", ";", ",", 3),
        header={"kind": "soak"},
        idle_s=1000.0,
        names={"Motor": "motor"},
    )


def test_a_strangers_large_file_gives_what_a_small_one_gives():
    mapping = strange_mapping()
    (whole,) = read_foreign(STRANGE, mapping)
    run, parts = taken(STRANGE, mapping=mapping)
    found = joined(parts)
    assert np.allclose(found.time_s, whole.time_s)
    assert np.array_equal(found.channels["thrust_gf"], whole.channels["thrust_gf"])
    assert np.array_equal(found.channels["current_a"], whole.channels["current_a"])
    # The name stood in the first row only.
    assert run.header["motor"] == "Tall One"


def test_another_motor_further_down_is_another_run_and_said_where():
    lines = STRANGE.split(b"\n")
    lines[300] = lines[300] + b"Other"
    with pytest.raises(LogFormatError) as caught:
        taken(b"\n".join(lines), mapping=strange_mapping())
    assert caught.value.code == "another_run"
    # Within a block its own line, between blocks the first line of the block.
    assert 240 <= caught.value.line <= 301


def test_a_number_beyond_all_numbers_is_refused_with_its_line():
    lines = STRANGE.split(b"\n")
    lines[200] = b"394;1e999;9000;"
    with pytest.raises(CoreError) as caught:
        taken(b"\n".join(lines), mapping=strange_mapping())
    assert caught.value.line == 201


def in_groups(log: BenchLog, rows: int) -> bytes:
    table = pq.read_table(io.BytesIO(write_bench_log_parquet(log)))
    sink = io.BytesIO()
    pq.write_table(table, sink, row_group_size=rows)
    return sink.getvalue()


def test_parquet_is_known_by_its_end_and_read_group_by_group(tmp_path):
    whole = read_bench_log(own_log())
    data = in_groups(whole, 150)
    shape = parquet_shape(len(data), data[-(len(data) // 2) :])
    assert shape.group_rows == (150, 150, 100)
    assert shape.log.header["motor"] == "Long Haul 2207"
    assert list(shape.log.channels) == ["thrust_gf", "current_a"]
    path = tmp_path / "log.parquet"
    path.write_bytes(data)
    run, parts = OneRun(64), []
    for group in range(3):
        parts += run.take(parquet_block(str(path), group), group)
    parts.append(run.rest())
    assert np.array_equal(
        joined(parts).channels["thrust_gf"], whole.channels["thrust_gf"], equal_nan=True
    )


def test_the_end_of_something_else_is_no_parquet():
    data = in_groups(read_bench_log(own_log()), 150)
    for size, tail in ((len(data), b"x" * 500), (5_000_000_000, data[-90:]), (10, data[-10:])):
        with pytest.raises(LogFormatError) as caught:
            parquet_shape(size, tail)
        assert caught.value.code == "not_parquet"


def test_a_separator_that_only_some_call_blank_is_a_fault_and_no_stumbling():
    data = b"time_s,thrust_gf\n0.,1\n6.\x1c,2\n7.,3\n"
    with pytest.raises(LogFormatError) as caught:
        read_bench_log(data)
    assert caught.value.code in ("unreadable", "not_a_number")


def test_only_blank_lines_at_the_very_end_are_left_out():
    head = log_head(own_log(), None)
    blocks = list(line_blocks([head.text + b"\n0.1,1,1\n\n\n"], head))
    assert blocks == [(b"\n0.1,1,1\n", head.lines + 1)]
