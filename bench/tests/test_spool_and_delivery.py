"""Disk first, then the store, once, also after a crash."""

import json
from pathlib import Path

import numpy as np
import pytest

from spindle_bench.delivery import Delivery
from spindle_bench.errors import BenchError, PlanError, StoreAwayError
from spindle_bench.plan import plan_from_json
from spindle_bench.spool import END, PLAN, SAMPLES, Spool, SpooledRun, spooled_runs
from spindle_bench.states import Outcome, RunEnd
from spindle_core.formats.trace_parquet import decode_segments

from .conftest import make_plan

CHANNELS = ["throttle_pct", "thrust_gf"]
DONE = RunEnd(Outcome.COMPLETED, "completed", "The profile ran to its end.")


class Store:
    """A run store in memory that can be away."""

    def __init__(self):
        self.runs, self.segments, self.ends, self.away = {}, {}, [], False
        self.refused = set()

    def begin_run(self, plan, channels):
        if plan.run_id in self.refused:
            raise ValueError("the air pressure is impossible")
        if self.away:
            raise StoreAwayError("away")
        self.runs[plan.run_id] = plan
        self.segments.setdefault(plan.run_id, [])

    def stored_rows(self, run_id):
        held = self.segments[run_id]
        return len(held), sum(segment.row_count for segment in held)

    def add_segment(self, run_id, segment):
        if self.away:
            raise StoreAwayError("away")
        assert segment.index == len(self.segments[run_id])
        self.segments[run_id].append(segment)

    def end_run(self, run_id, end):
        self.ends.append((run_id, end))


def rows(start, count):
    times = [round(0.01 * i, 6) for i in range(start, start + count)]
    return times, [[50.0, None if i % 7 == 0 else float(i)] for i in range(start, start + count)]


def recorded(root, count=250, *, ended=True, run_id="run-1"):
    spool = Spool(root)
    spool.begin(make_plan(run_id), CHANNELS)
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
    with pytest.raises(StoreAwayError):
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
    assert [run.plan.run_id for run in delivery.recover()] == ["run-1"]
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


def test_a_run_the_store_refuses_is_set_aside_and_the_rest_goes_on(tmp_path):
    for name in ("run-1", "run-2", "run-3"):
        recorded(tmp_path, run_id=name)
    store = Store()
    store.refused = {"run-2"}
    delivery = Delivery(tmp_path, store)
    delivery.deliver()
    assert [run_id for run_id, _ in store.ends] == ["run-1", "run-3"]
    [aside] = delivery.set_aside
    assert (aside.run_id, aside.title) == ("run-2", "a test")
    assert "air pressure is impossible" in aside.reason
    assert delivery.waiting == 0
    # It stays set aside over restarts, and goes when somebody tries it again.
    store.refused = set()
    again = Delivery(tmp_path, store)
    again.recover()
    again.deliver()
    assert len(store.ends) == 2
    again.retry("run-2")
    again.deliver()
    assert store.ends[-1][0] == "run-2"
    assert again.set_aside == []


@pytest.mark.parametrize(
    "content", [b"", b"{", b"[]", b'{"plan": 3}', b"\xff\xfe", b'{"plan": {}}']
)
def test_a_damaged_plan_file_neither_ends_the_agent_nor_holds_up_others(tmp_path, content):
    recorded(tmp_path, run_id="run-1", ended=False).close()
    recorded(tmp_path, run_id="run-2")
    (tmp_path / "run-1" / PLAN).write_bytes(content)
    store = Store()
    delivery = Delivery(tmp_path, store)
    delivery.recover()
    delivery.deliver()
    assert [run_id for run_id, _ in store.ends] == ["run-2"]
    assert [run.run_id for run in delivery.set_aside] == ["run-1"]
    assert (tmp_path / "run-1" / SAMPLES).stat().st_size > 0


def test_a_damaged_end_record_is_set_aside_too(tmp_path):
    recorded(tmp_path)
    (tmp_path / "run-1" / END).write_bytes(b"")
    delivery = Delivery(tmp_path, Store())
    delivery.recover()
    delivery.deliver()
    assert [run.run_id for run in delivery.set_aside] == ["run-1"]


def test_a_kill_while_a_delivered_run_is_cleared_away_leaves_nothing_interrupted(
    tmp_path, monkeypatch
):
    recorded(tmp_path)
    store = Store()

    def killed(path, **rest):
        (path / END).unlink()
        raise KeyboardInterrupt

    monkeypatch.setattr("spindle_bench.spool.shutil.rmtree", killed)
    with pytest.raises(KeyboardInterrupt):
        Delivery(tmp_path, store).deliver()
    monkeypatch.undo()
    later = Delivery(tmp_path, store)
    assert later.recover() == []
    later.deliver()
    assert [end["outcome"] for _, end in store.ends] == ["completed"]
    assert list(tmp_path.iterdir()) == []


def test_the_plan_is_on_the_disk_before_anything_is_armed(tmp_path, monkeypatch):
    forced = []
    monkeypatch.setattr("spindle_bench.spool.os.fsync", lambda handle: forced.append(handle))
    spool = Spool(tmp_path)
    spool.prepare(make_plan(), CHANNELS)
    assert len(forced) >= 4
    assert list(spooled_runs(tmp_path)) == []
    before = len(forced)
    spool.begin(make_plan(), CHANNELS)
    assert len(forced) == before
    [run] = spooled_runs(tmp_path)
    assert isinstance(run, SpooledRun)


def test_a_plan_that_was_prepared_and_never_started_is_no_run(tmp_path):
    Spool(tmp_path).prepare(make_plan(), CHANNELS)
    delivery = Delivery(tmp_path, Store())
    assert delivery.recover() == []
    assert list(tmp_path.iterdir()) == []


def test_a_full_disk_still_takes_the_end_record(tmp_path, monkeypatch):
    """Its room is taken before the run starts; nothing new has to be allocated."""
    spool = recorded(tmp_path, ended=False)

    def full(path, data, **rest):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr("spindle_bench.spool._write_json", full)
    spool.end(DONE)
    [run] = spooled_runs(tmp_path)
    assert run.end == DONE.as_json()


def test_an_end_record_that_the_disk_does_not_take_is_written_later(tmp_path, monkeypatch):
    spool = recorded(tmp_path, ended=False)
    room = tmp_path / "run-1" / f"{END}.room"
    room.unlink()

    def full(path, data, **rest):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr("spindle_bench.spool._write_json", full)
    with pytest.raises(OSError, match="No space"):
        spool.end(DONE)
    assert not spool.flush()
    monkeypatch.undo()
    assert spool.flush()
    [run] = spooled_runs(tmp_path)
    assert run.end == DONE.as_json()


def test_a_row_that_went_half_to_a_full_disk_is_cut_off(tmp_path):
    spool = recorded(tmp_path, 10, ended=False)
    real = spool._file

    class Short:
        def write(self, data):
            return real.write(data[: len(data) // 2 + 3])

        def __getattr__(self, name):
            return getattr(real, name)

    spool._file = Short()
    with pytest.raises(OSError, match="No space"):
        spool.add(*rows(10, 10))
    spool._file = real
    spool.add(*rows(20, 10))
    spool.end(DONE)
    [run] = spooled_runs(tmp_path)
    # Five whole rows of the block that did not fit, then the next block, aligned.
    times = run.rows(0, 100)[:, 0].tolist()
    assert times == [round(0.01 * i, 6) for i in (*range(15), *range(20, 30))]


def test_a_run_written_before_limits_were_choices_is_still_delivered(tmp_path):
    recorded(tmp_path)
    path = tmp_path / "run-1" / PLAN
    data = json.loads(path.read_text())
    for name in ("limits_off", "page_grace_s", "arming"):
        del data["plan"][name]
    data["plan"]["limits"] = {"current_a": 40.0, "motor_temp_c": 90.0}
    path.write_text(json.dumps(data))
    store = Store()
    Delivery(tmp_path, store).deliver()
    assert [run_id for run_id, _ in store.ends] == ["run-1"]


@pytest.mark.parametrize("run_id", ["../escape", ".hidden", "a/b", "", "x" * 65])
def test_a_run_id_cannot_leave_the_spool(run_id):
    with pytest.raises(PlanError, match="run id"):
        plan_from_json(make_plan(run_id).as_json())
    with pytest.raises(BenchError):
        Delivery(Path("/nonexistent"), Store()).retry(run_id)
