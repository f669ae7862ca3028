"""Segments keep every bit."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays

from spindle_core.errors import CoreError
from spindle_core.formats.trace_parquet import averaged_segments, decode_segments, encode_segment


@given(arrays(np.float64, st.integers(2, 50), elements=st.floats(allow_infinity=False)))
def test_round_trip_of_two_segments_is_bit_exact(values):
    time = np.arange(values.size) * 1e-3
    cut = values.size // 2
    blobs = [
        encode_segment(time[:cut], {"thrust_gf": values[:cut]}),
        encode_segment(time[cut:], {"thrust_gf": values[cut:]}),
    ]
    back_time, channels = decode_segments(blobs)
    assert np.array_equal(back_time, time)
    assert np.array_equal(channels["thrust_gf"].view(np.uint64), values.view(np.uint64))


def test_one_channel_can_be_read_alone():
    time = np.arange(4.0)
    blob = encode_segment(time, {"thrust_gf": time, "current_a": time * 2})
    _, channels = decode_segments([blob], ["current_a"])
    assert list(channels) == ["current_a"]


def test_nothing_recorded_is_an_error():
    with pytest.raises(CoreError) as caught:
        decode_segments([])
    assert caught.value.code == "no_segments"


@given(st.integers(1, 60), st.integers(1, 9), st.integers(1, 25))
def test_averaged_segments_are_the_means_of_the_whole(rows, over, part):
    time = np.arange(rows) * 1e-3
    values = np.where(np.arange(rows) % 4 == 1, np.nan, np.arange(rows) ** 2.0)
    blobs = [
        encode_segment(time[at : at + part], {"thrust_gf": values[at : at + part]})
        for at in range(0, rows, part)
    ]
    found, channels = averaged_segments(iter(blobs), rows, ["thrust_gf", "current_a"], over)
    groups = [slice(at, at + over) for at in range(0, rows, over)]
    assert np.allclose(found, [time[one].mean() for one in groups])
    for mean, one in zip(channels["thrust_gf"], groups, strict=True):
        there = values[one][np.isfinite(values[one])]
        assert np.isnan(mean) if there.size == 0 else mean == pytest.approx(there.mean())
    assert np.isnan(channels["current_a"]).all()


@pytest.mark.parametrize("said", [7, 9])
def test_segments_that_hold_other_rows_than_they_should_are_no_run(said):
    blob = encode_segment(np.arange(8.0), {"thrust_gf": np.arange(8.0)})
    with pytest.raises(CoreError) as caught:
        averaged_segments([blob], said, ["thrust_gf"])
    assert caught.value.code == "other_rows"
