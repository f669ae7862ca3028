"""Disk first, then the store, once, also after a crash."""

import numpy as np
import pytest

from spindle_bench.delivery import Delivery
from spindle_bench.errors import BenchError
from spindle_bench.spool import SAMPLES, Spool, spooled_runs
from spindle_bench.states import Outcome, RunEnd
from spindle_core.formats.trace_parquet import decode_segments

from .conftest import make_plan

CHANNELS = ["throttle_pct", "thrust_gf"]
DONE = RunEnd(Outcome.COMPLETED, "completed", "The profile ran to its end.")


class Store:
    """A run store in memory that can be away."""

    def __init__(self):
        self.runs, self.segments, self.ends, self.away = {}, {}, [], False

    def begin_run(self, plan, channels):
        if self.away:
            raise ConnectionError
        self.runs[plan.run_id] = plan
        self.segments.setdefault(plan.run_id, [])

    def stored_rows(self, run_id):
        held = self.segments[run_id]
        return len(held), sum(segment.row_count for segment in held)

    def add_segment(self, run_id, segment):
        if self.away:
            raise ConnectionError
        assert segment.index == len(self.segments[run_id])
        self.segments[run_id].append(segment)

    def end_run(self, run_id, end):
        self.ends.append((run_id, end))


def rows(start, count):
    times = [round(0.01 * i, 6) for i in range(start, start + count)]
    return times, [[50.0, None if i % 7 == 0 else float(i)] for i in range(start, start + count)]


def recorded(root, count=250, *, ended=True):
    spool = Spool(root)
    spool.begin(make_plan(), CHANNELS)
    for start in range(0, count, 10):
        spool.add(*rows(start, 10))
    if ended:
        spool.end(DONE)
    return spool


def test_a_run_is_delivered_whole_in_order_and_leaves_the_disk(tmp_path):
    recorded(tmp_path)
    store = Store()
    assert Delivery(tmp_path, store).deliver() == 3
    time, channels = decode_segments([s.parquet for s in store.segments["run-1"]])
    expected = rows(0, 250)
    assert time.tolist() == expected[0]
    assert np.isnan(channels["thrust_gf"][::7]).all()
    assert channels["thrust_gf"][1] == 1.0
    assert store.ends == [("run-1", DONE.as_json())]
    assert list(spooled_runs(tmp_path)) == []


def test_while_running_only_whole_seconds_are_delivered(tmp_path):
    recorded(tmp_path, ended=False).close()
    store = Store()
    delivery = Delivery(tmp_path, store)
    assert delivery.deliver() == 2
    assert delivery.deliver() == 0
    assert store.ends == []


def test_an_absent_store_loses_and_doubles_nothing(tmp_path):
    recorded(tmp_path)
    store = Store()
    store.away = True
    delivery = Delivery(tmp_path, store)
    with pytest.raises(ConnectionError):
        delivery.deliver()
    store.away = False
    delivery.deliver()
    delivery.deliver()
    assert sum(s.row_count for s in store.segments["run-1"]) == 250
    assert len(store.ends) == 1


def test_a_crash_between_segments_goes_on_where_it_was(tmp_path):
    spool = recorded(tmp_path, 120, ended=False)
    store = Store()
    Delivery(tmp_path, store).deliver()
    spool.add(*rows(120, 130))
    spool.end(DONE)
    assert Delivery(tmp_path, store).deliver() == 2
    assert [s.first_row for s in store.segments["run-1"]] == [0, 100, 200]


def test_a_run_without_an_end_is_recovered_as_interrupted(tmp_path):
    recorded(tmp_path, ended=False).close()
    with next((tmp_path / "run-1").glob(SAMPLES)).open("ab") as file:
        file.write(b"\x00" * 11)
    store = Store()
    delivery = Delivery(tmp_path, store)
    assert delivery.recover() == ["run-1"]
    assert delivery.recover() == []
    delivery.deliver()
    assert sum(s.row_count for s in store.segments["run-1"]) == 250
    assert store.ends[0][1]["outcome"] == "interrupted"


def test_a_run_id_is_used_once(tmp_path):
    recorded(tmp_path)
    with pytest.raises(BenchError) as caught:
        Spool(tmp_path).begin(make_plan(), CHANNELS)
    assert caught.value.code == "run_id"


def test_nothing_is_recorded_outside_a_run(tmp_path):
    with pytest.raises(BenchError):
        Spool(tmp_path).add([0.0], [[0.0, 0.0]])
