"""The bench log: what is read, what is refused and where the fault is said to be."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays

from spindle_core.errors import LogFormatError
from spindle_core.formats.bench_log import read_bench_log, write_bench_log

GOOD = """# format: bench-log/1
# kind: steps
# motor: Sable 2105.5
# weather: drizzle
time_s,throttle_pct,thrust_gf,note
0.0,0,1.5,start
0.1,0,,
0.2,10,30.25,"a, b"
"""


def test_reads_values_missing_cells_and_unknown_parts():
    log = read_bench_log(GOOD.encode())
    assert log.kind == "steps"
    assert log.header["weather"] == "drizzle"
    assert log.time_s.tolist() == [0.0, 0.1, 0.2]
    assert np.isnan(log.channels["thrust_gf"][1])
    assert log.channels["thrust_gf"][2] == 30.25
    assert log.extra["note"] == ("start", "", "a, b")


def test_line_ends_and_byte_order_mark_do_not_matter():
    plain = read_bench_log(GOOD.encode())
    windows = read_bench_log(b"\xef\xbb\xbf" + GOOD.replace("\n", "\r\n").encode())
    assert np.array_equal(windows.time_s, plain.time_s)
    assert windows.header == plain.header


def rows(*lines, head="time_s,throttle_pct,thrust_gf", keys=("# format: bench-log/1",)):
    return "\n".join([*keys, head, *lines, ""]).encode()


BAD = [
    ("no header", b"", "no_time", 1, "time_s"),
    ("no time", rows("1,2", head="throttle_pct,thrust_gf"), "no_time", 2, "time_s"),
    ("no rows", rows(), "no_rows", 2, None),
    ("short row", rows("0,0,1", "1,0"), "short_row", 4, "thrust_gf"),
    ("long row", rows("0,0,1", "1,0,2,3"), "long_row", 4, "4"),
    ("text", rows("0,0,1", "1,zero,2"), "not_a_number", 4, "throttle_pct"),
    ("infinity", rows("0,0,1", "1,0,inf"), "not_finite", 4, "thrust_gf"),
    ("nan", rows("0,0,1", "1,0,nan"), "not_finite", 4, "thrust_gf"),
    ("time backward", rows("0,0,1", "2,0,1", "1.5,0,1"), "time_backward", 5, "time_s"),
    ("no time value", rows("0,0,1", ",0,1"), "no_time_value", 4, "time_s"),
    ("blank line", rows("0,0,1", "", "1,0,1"), "short_row", 4, "time_s"),
    (
        "duplicate column",
        rows("0,0,1", head="time_s,thrust_gf,thrust_gf"),
        "duplicate_column",
        2,
        "thrust_gf",
    ),
    ("unnamed column", rows("0,0,1", head="time_s,,thrust_gf"), "unnamed_column", 2, "2"),
    (
        "unknown kind",
        rows("0,0,1", keys=("# format: bench-log/1", "# kind: dance")),
        "unknown_kind",
        2,
        "kind",
    ),
    ("other format", rows("0,0,1", keys=("# format: bench-log/9",)), "unknown_format", 1, "format"),
    (
        "flywheel",
        rows("0,0,1", keys=("# a note", "# kind: flywheel")),
        "no_inertia",
        3,
        "inertia_kg_mm2",
    ),
    (
        "bad number key",
        rows("0,0,1", keys=("# kind: steps", "# air_temp_c: warm")),
        "not_a_number",
        2,
        "air_temp_c",
    ),
    ("key twice", rows("0,0,1", keys=("# motor: a", "# motor: b")), "duplicate_key", 2, "motor"),
    ("semicolons", b"time_s;thrust_gf\n0;1\n", "no_time", 1, "time_s"),
    ("not utf-8", b"# motor: \xe9\ntime_s\n0\n", "not_utf8", 1, "10"),
    ("binary", b"PK\x03\x04\x00\x00", "not_text", 1, "1"),
]


@pytest.mark.parametrize(
    ("data", "code", "line", "column"), [case[1:] for case in BAD], ids=[case[0] for case in BAD]
)
def test_faults_are_named_with_their_place(data, code, line, column):
    with pytest.raises(LogFormatError) as caught:
        read_bench_log(data)
    assert (caught.value.code, caught.value.line, caught.value.column) == (code, line, column)
    assert "expected" in caught.value.describe("x.csv") or code == "unreadable"


def test_the_message_is_one_line_for_a_person():
    with pytest.raises(LogFormatError) as caught:
        read_bench_log(rows("0,0,1", "1,0,3O"))
    assert caught.value.describe("run.csv") == (
        "run.csv, line 4, column thrust_gf: '3O' is not a number; "
        "expected a number with a decimal point, or an empty cell"
    )


finite = st.floats(-4e4, 4e4, allow_nan=False).map(lambda v: v + 0.0)


@given(
    arrays(np.float64, st.integers(1, 30), elements=finite | st.just(float("nan"))),
    st.text(st.characters(categories=("L", "N")), min_size=1, max_size=20),
)
def test_what_is_written_reads_back_exactly(thrust, motor):
    time = np.arange(thrust.size) * 0.1
    data = write_bench_log({"kind": "steps", "motor": motor}, time, {"thrust_gf": thrust})
    log = read_bench_log(data)
    assert np.array_equal(log.time_s, time)
    assert np.array_equal(log.channels["thrust_gf"], thrust, equal_nan=True)
    assert log.header["motor"] == motor


def test_lags_and_numbers_of_the_preamble():
    log = read_bench_log(rows("0,0,1", keys=("# thrust_gf_lag_s: 0.02", "# air_temp_c: 21.5")))
    assert log.trace().lags_s == {"thrust_gf": 0.02}
    assert log.number("air_temp_c") == 21.5
    assert log.number("air_pressure_hpa") is None
