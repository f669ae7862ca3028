"""Long recordings: drawn from far and from near without a peak lost, reduced with what that hides
said, and sent on without being held whole."""

import asyncio

import numpy as np
import pytest

from spindle_core.formats.trace_parquet import encode_segment
from spindle_server.api.pieces import PiecesResponse
from spindle_server.runs import as_core, drawn, views
from spindle_server.runs.models import Run, TraceOutline, TraceSegment
from spindle_server.runs.reducing import reduce_run
from spindle_server.runs.services import segment_of
from spindle_server.work.models import LongWork

ROWS, SEGMENT = 20_000, 1_700
PEAK_AT = 13_217


@pytest.fixture(autouse=True)
def _small(monkeypatch):
    for module in (as_core, drawn, views):
        monkeypatch.setattr(module, "MOST_AT_ONCE", 2_000)
    monkeypatch.setattr(drawn, "BUCKETS", (100, 1_000))


@pytest.fixture
def long_run(record):
    """A run of 20,000 rows with one spike and a hole, in segments of which two lack a channel."""
    run = record()
    TraceSegment.objects.filter(run=run).delete()
    time = np.arange(ROWS) / 100.0
    thrust = 500 + np.random.default_rng(3).standard_normal(ROWS)
    thrust[PEAK_AT] = 4_000.0
    thrust[5_000:5_400] = np.nan
    for index, first in enumerate(range(0, ROWS, SEGMENT)):
        part = slice(first, first + SEGMENT)
        channels = {"thrust_gf": thrust[part], "throttle_pct": np.full(thrust[part].size, 60.0)}
        if index not in (2, 3):
            channels["current_a"] = thrust[part] / 50
        segment_of(run, index, first, time[part], channels).save()
    run.channels = ["thrust_gf", "throttle_pct", "current_a"]
    run.kind = "hold"
    run.save()
    return run


def draw(api, run, **asked):
    answer = api.get(f"/api/v1/runs/{run.pk}/trace/", {"points": 200, **asked})
    assert answer.status_code == 200, answer.json()
    return answer.json()


def numbers(found, name="thrust_gf"):
    return [value for value in found["channels"][name] if value is not None]


def test_from_far_no_peak_is_lost(api, long_run):
    found = draw(api, long_run)
    assert found["thinned"]
    assert (found["row_count"], found["begin_s"], found["end_s"]) == (ROWS, 0.0, 199.99)
    assert len(found["time_s"]) <= 200
    assert max(numbers(found)) == 4_000.0
    at = found["channels"]["thrust_gf"].index(4_000.0)
    assert found["time_s"][at] == pytest.approx(PEAK_AT / 100.0, abs=1.1)
    # The outlines are made once.
    assert TraceOutline.objects.filter(run=long_run).count() == 2
    draw(api, long_run)
    assert TraceOutline.objects.filter(run=long_run).count() == 2


@pytest.mark.parametrize(
    ("from_s", "until_s", "thinned"),
    [(100.0, 160.0, True), (130.0, 134.0, True), (132.0, 132.4, False), (0.0, 0.03, False)],
)
def test_nearer_it_is_finer_and_ends_at_what_was_recorded(api, long_run, from_s, until_s, thinned):
    found = draw(api, long_run, from_s=from_s, until_s=until_s)
    assert found["thinned"] == thinned
    assert 0 < len(found["time_s"]) <= 200
    time = np.array(found["time_s"])
    # A bucket that reaches into the part is drawn at its middle.
    assert time.min() >= from_s - 0.2
    assert time.max() <= until_s + 0.2
    if from_s <= PEAK_AT / 100 <= until_s:
        assert max(numbers(found)) == 4_000.0
    if not thinned:
        assert len(time) == round((until_s - from_s) * 100) + 1


def test_where_nothing_was_recorded_nothing_is_drawn(api, long_run):
    assert draw(api, long_run, from_s=300.0)["time_s"] == []
    hole = draw(api, long_run, from_s=50.5, until_s=53.5)
    assert numbers(hole) == []
    assert len(hole["time_s"]) > 0
    # A channel that some segments do not have.
    part = draw(api, long_run, from_s=34.0, until_s=67.0)
    assert numbers(part, "current_a") == []


@pytest.mark.parametrize("asked", ["nan", "inf", "-inf", "²", "1e999", "{}"])
def test_a_time_that_is_none_is_refused_or_an_end(api, long_run, asked):
    answer = api.get(f"/api/v1/runs/{long_run.pk}/trace/", {"from_s": asked})
    assert answer.status_code in (200, 400)
    if answer.status_code == 200:
        assert answer.json()["row_count"] == ROWS


def test_a_run_without_a_sample_says_so(api, record):
    run = record()
    TraceSegment.objects.filter(run=run).delete()
    answer = api.get(f"/api/v1/runs/{run.pk}/trace/")
    assert (answer.status_code, answer.json()["code"]) == (400, "no_segments")


def test_a_short_run_is_drawn_as_before(api, record, monkeypatch):
    monkeypatch.setattr(drawn, "MOST_AT_ONCE", 500_000)
    run = record()
    found = draw(api, run, points=6000)
    assert not found["thinned"]
    assert not TraceOutline.objects.exists()


def test_what_is_too_long_is_averaged_and_says_what_that_hides(long_run, monkeypatch):
    monkeypatch.setattr(as_core, "MOST_REDUCED", ROWS - 1)
    monkeypatch.setattr(as_core, "AVERAGED_TO", 5_000)
    trace = as_core.run_trace(long_run)
    assert (trace.averaged_over, trace.size) == (4, 5_000)
    # The spike is one sample of four now.
    assert 1_300 < np.nanmax(trace.get("thrust_gf")) < 1_500
    assert np.isnan(trace.get("thrust_gf")[1_250:1_350]).all()
    reduce_run(long_run)
    result = Run.objects.get(pk=long_run.pk).reduction.result
    assert result is not None
    said = [w["message"] for w in result["warnings"] if w["code"] == "averaged"]
    assert len(said) == 1
    assert "4 samples" in said[0]
    assert "40 ms" in said[0]


def test_what_is_not_too_long_is_reduced_sample_for_sample(long_run, monkeypatch):
    # As many as may be; to how many a longer one is averaged says nothing of it.
    monkeypatch.setattr(as_core, "MOST_REDUCED", ROWS)
    monkeypatch.setattr(as_core, "AVERAGED_TO", 5_000)
    trace = as_core.run_trace(long_run)
    assert (trace.averaged_over, trace.size) == (1, ROWS)
    assert trace.get("thrust_gf")[PEAK_AT] == 4_000.0


def test_a_long_run_is_reduced_again_by_long_work(
    api, long_run, django_capture_on_commit_callbacks
):
    reduce_run(long_run)
    with django_capture_on_commit_callbacks():
        answer = api.post(f"/api/v1/runs/{long_run.pk}/reduction/")
    assert answer.status_code == 202
    assert LongWork.objects.get().title == "Make old figures again"
    again = api.post(f"/api/v1/runs/{long_run.pk}/reduction/")
    assert (again.status_code, again.json()["code"]) == (409, "at_work")


def test_segments_are_read_a_few_at_a_time(long_run, django_assert_num_queries):
    # One for where they are, then one for each 2,000 rows or the segment beyond.
    with django_assert_num_queries(7):
        blobs = list(as_core.segment_blobs(long_run))
    assert len(blobs) == 12
    with django_assert_num_queries(2):
        assert len(list(as_core.segment_blobs(long_run, 16.5, 30.0))) == 2


def test_pieces_are_sent_on_as_they_are_made():
    made = []

    def pieces():
        for at in range(4):
            made.append(at)
            yield b"%d" % at

    async def first_two():
        response = PiecesResponse(pieces())
        found = []
        async for piece in response:
            found.append(piece)
            if len(found) == 2:
                return found
        return found

    assert asyncio.run(first_two()) == [b"0", b"1"]
    assert made == [0, 1]


def test_a_segment_that_is_missing_is_no_shorter_run(long_run):
    TraceSegment.objects.filter(run=long_run, index=4).update(
        parquet=encode_segment(np.arange(5.0), {"thrust_gf": np.arange(5.0)})
    )
    reduction = reduce_run(long_run)
    assert "another number of rows" in reduction.error
