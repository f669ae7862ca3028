"""Segments keep every bit."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays

from spindle_core.errors import CoreError
from spindle_core.formats.trace_parquet import decode_segments, encode_segment


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
