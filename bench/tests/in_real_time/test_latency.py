"""The measurement of latency itself: what it counts, and that it runs."""

import asyncio

import pytest

from spindle_bench.delivery import Segment
from spindle_bench.latency import Found
from spindle_bench.latency.cutting import cut_ms, cut_times_ms
from spindle_bench.latency.house import Counting
from spindle_bench.latency.streaming import stream_for

CHANNELS = ["throttle_pct", "thrust_gf"]


def test_a_cut_is_timed_from_the_first_sample_beyond_to_the_first_zero():
    rows = [[40.0, 149.0], [41.0, None], [41.0, 151.0], [42.0, 149.0], [0.0, 150.0], [0.0, 0.0]]
    assert cut_ms([0.0, 0.001, 0.002, 0.003, 0.009, 0.01], rows, CHANNELS) == pytest.approx(7.0)
    # A zero before the limit was passed is none, and a reversed cell counts by its size.
    assert cut_ms([0.0, 0.01, 0.02], [[0, 0], [9, -160], [0, 1]], CHANNELS) == pytest.approx(10.0)
    for rows in ([[0.0, 10.0]], [[40.0, 160.0]], []):
        with pytest.raises(ValueError, match="no sample passed"):
            cut_ms([0.0] * len(rows), rows, CHANNELS)


def test_a_lost_sample_is_seen():
    store = Counting()
    plan = type("Plan", (), {"run_id": "x"})
    store.begin_run(plan, CHANNELS)
    store.add_segment("x", Segment(0, 0, 1000, 5.0, 5.999, b""))
    store.add_segment("x", Segment(1, 1000, 998, 6.0, 6.999, b""))
    store.add_segment("x", Segment(1, 1000, 998, 6.0, 6.999, b""))
    assert store.taken("x", 1000.0) - store.rows("x") == 2


def test_budgets_are_judged_by_what_was_measured():
    found = Found(1, 1000, 9, 1, 100, 99, 1, 5, 1.0, 151.0, 200.0, 1.0, 20.0, 30.0, 3)
    assert list(found.holds.values()) == [False, False, True]


def test_a_short_measurement_runs(tmp_path):
    streamed = asyncio.run(stream_for(tmp_path / "a", 1.5, 1000.0, 2))
    assert streamed.recorded > 4000
    assert streamed.channels == 9
    assert len(streamed.delays_ms) > 60
    assert min(streamed.delays_ms) > 0
    [cut] = asyncio.run(cut_times_ms(tmp_path / "b", 1, 1000.0))
    assert 0 < cut < 1000
