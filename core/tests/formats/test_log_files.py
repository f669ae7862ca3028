"""Every format reads back what it writes, to the last bit, and says what is wrong with others."""

import json

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays
from motor_runs import loaded_run
from runs import plateau_run

from spindle_core.errors import LogFormatError
from spindle_core.formats.bench_log import BenchLog
from spindle_core.formats.log_files import SUFFIXES, read_log, write_log
from spindle_core.formats.result_json import reduction_from_json, reduction_to_json
from spindle_core.formats.workbook import write_reduction_xlsx
from spindle_core.reduction import reduce_trace

samples = st.floats(min_value=-1e4, max_value=1e4) | st.just(float("nan"))
words = st.text(
    st.characters(min_codepoint=32, max_codepoint=0x2FF, exclude_characters='"\x7f'), max_size=12
)


@st.composite
def logs(draw):
    count = draw(st.integers(1, 12))
    steps = draw(arrays(float, count, elements=st.floats(0, 10)))
    channels = {
        name: draw(arrays(float, count, elements=samples))
        for name in draw(st.sets(st.sampled_from(["thrust_gf", "current_a", "motor_temp_c"])))
    }
    extra = {"note": tuple(draw(st.lists(words, min_size=count, max_size=count)))}
    keys = st.sampled_from(["motor", "sample", "weather", "operator"])
    values = words.map(lambda text: " ".join(text.split())).filter(bool)
    header = draw(st.dictionaries(keys, values, max_size=3))
    return BenchLog(header, np.cumsum(steps), channels, extra if draw(st.booleans()) else {})


@pytest.mark.parametrize("suffix", SUFFIXES)
@settings(max_examples=40)
@given(log=logs())
def test_round_trip_is_lossless(suffix, log):
    name = f"run{suffix}"
    back = read_log(name, write_log(name, log))
    assert np.array_equal(back.time_s, log.time_s)
    assert back.channels.keys() == log.channels.keys()
    for channel, values in log.channels.items():
        assert np.array_equal(back.channels[channel], values, equal_nan=True), channel
    assert dict(back.extra) == dict(log.extra)
    assert {k: v for k, v in back.header.items() if k != "format"} == dict(log.header)


def test_one_format_into_another_keeps_everything():
    trace = plateau_run(levels=(30, 60), rate_hz=20.0)
    log = BenchLog({"kind": "steps", "motor": "Sable"}, trace.time_s, trace.channels)
    for suffix in SUFFIXES:
        log = read_log(f"x{suffix}", write_log(f"x{suffix}", log))
    assert all(np.array_equal(log.channels[n], v) for n, v in trace.channels.items())
    assert log.header["motor"] == "Sable"


BAD = [
    ("x.json", b"{", "not_json"),
    ("x.json", b"\xff\xfe\xfd", "not_utf8"),
    ("x.json", b"[]", "unknown_format"),
    ("x.json", json.dumps({"format": "bench-log/1", "time_s": ["a"]}).encode(), "not_a_number"),
    (
        "x.json",
        json.dumps(
            {"format": "bench-log/1", "time_s": [0, 1], "channels": {"thrust_gf": [1]}}
        ).encode(),
        "short_row",
    ),
    (
        "x.json",
        json.dumps({"format": "bench-log/1", "time_s": [0], "channels": {"charm": [1]}}).encode(),
        "unknown_channel",
    ),
    ("x.json", json.dumps({"format": "bench-log/1", "time_s": [1, 0]}).encode(), "time_backward"),
    ("x.parquet", b"PARQUET", "not_parquet"),
    ("x.xlsx", b"PK nonsense", "not_xlsx"),
]


@pytest.mark.parametrize(("name", "data", "code"), BAD)
def test_what_is_no_log_is_refused_with_a_code(name, data, code):
    with pytest.raises(LogFormatError) as caught:
        read_log(name, data)
    assert caught.value.code == code


def test_an_unknown_ending_is_not_written():
    log = BenchLog({}, np.array([0.0]), {})
    with pytest.raises(LogFormatError) as caught:
        write_log("run.docx", log)
    assert caught.value.code == "unknown_suffix"


@pytest.mark.parametrize("kind", ["steps", "hold"])
def test_a_result_reads_back_whole(kind):
    reduction = reduce_trace(loaded_run("heavy", kind=kind, target_thrust_gf=(500.0, 9000.0)))
    text = json.dumps(reduction_to_json(reduction), allow_nan=False)
    assert reduction_from_json(json.loads(text)) == reduction


def test_a_result_as_a_workbook_says_why_a_figure_is_absent():
    from io import BytesIO

    from openpyxl import load_workbook

    reduction = reduce_trace(plateau_run(levels=(30, 60)))
    book = load_workbook(BytesIO(write_reduction_xlsx(reduction, {"motor": "Sable"})))
    assert book.sheetnames == ["summary", "points", "remarks"]
    rows = {row[0]: row for row in book["summary"].iter_rows(values_only=True)}
    assert rows["max_thrust_gf"][1] == pytest.approx(720.0, abs=1.0)
    assert rows["top_end_ratio"][1] is None
    assert "throttle" in rows["top_end_ratio"][5]
    assert book["points"].max_row == 3


def test_text_that_looks_like_a_formula_stays_text():
    log = BenchLog({"motor": "=1+1"}, np.array([0.0]), {}, {"note": ("=cmd()",)})
    back = read_log("x.xlsx", write_log("x.xlsx", log))
    assert back.header["motor"] == "=1+1"
    assert back.extra["note"] == ("=cmd()",)
