"""What a run in hand shows, kind by kind, against what the stand is known to do."""

import json
import math

import numpy as np
import pytest

from spindle_bench.agent.frames import Delivered, FrameMaker
from spindle_bench.buckets import BUCKET_S, Bucket, Gathering, mean_of
from spindle_bench.limits import Limits
from spindle_bench.live import PICTURES, SHAPES
from spindle_bench.live.cycles import MOST_CYCLES
from spindle_bench.live.heating import HeatingForecast
from spindle_bench.profiles import PLAYS

from .test_kinds import ASKED, column, played


@pytest.fixture(scope="module")
def benches():
    return {kind: played(kind) for kind in ASKED}


def test_every_kind_has_a_picture_of_a_known_shape(benches):
    assert set(PICTURES) == set(PLAYS)
    for kind, bench in benches.items():
        drawn = bench.engine.picture
        assert drawn.shape in SHAPES, kind
        assert drawn.rows(), kind
        assert drawn.says() or kind == "soak", kind


def test_a_frame_carries_it_and_stays_small(benches):
    for kind, bench in benches.items():
        frame = FrameMaker().frame(bench.engine, Delivered())
        assert frame["picture"]["shape"] == bench.engine.picture.shape, kind
        assert len(json.dumps(frame["picture"])) < 25_000, kind


def test_plateaus_are_points_of_their_last_second(benches):
    bench = benches["steps"]
    rows = bench.engine.picture.rows()
    assert [row.x for row in rows] == [30.0, 60.0]
    throttle, thrust = column(bench, "throttle_pct"), column(bench, "thrust_gf")
    times = np.array(bench.recorder.times_s)
    for row in rows:
        # On its way down the throttle comes by here again.
        at = times[(throttle == row.x) & (times < times[np.argmax(throttle)] + 2.0)]
        late = thrust[(throttle == row.x) & (times > at[-1] - 0.9) & (times <= at[-1])]
        assert row.values["thrust_gf"] == pytest.approx(late.mean(), rel=0.01)
    assert rows[-1].values["power_w"] > 0
    assert bench.engine.picture.says().startswith("At 60 %: ")


def test_a_sweep_is_drawn_up_and_down(benches):
    rows = benches["ramp"].engine.picture.rows()
    up = [row.x for row in rows if row.series == "up"]
    down = [row.x for row in rows if row.series == "down"]
    assert up == sorted(up)
    assert down == sorted(down, reverse=True)
    assert max(up) > 97
    assert len(up) > 40


def test_three_bursts_are_three_bars_that_agree(benches):
    rows = benches["peak"].engine.picture.rows()
    assert [row.x for row in rows] == [1, 2, 3]
    thrusts = [row.values["thrust_gf"] for row in rows]
    assert np.ptp(thrusts) < 0.03 * np.mean(thrusts)
    assert benches["peak"].engine.picture.says().startswith("3 bursts, mean ")


def test_targets_show_by_how_much_they_miss(benches):
    rows = benches["hold"].engine.picture.rows()
    assert [row.x for row in rows] == [300.0, 600.0]
    for row in rows:
        assert row.values["thrust_gf"] == pytest.approx(row.x, rel=0.03)
        assert 0 < row.values["throttle_pct"] < 100


def test_kv_converges_on_what_the_reduction_finds(benches):
    rows = benches["no_load"].engine.picture.rows()
    last = np.mean([row.values["kv_raw_rpm_per_v"] for row in rows[-20:]])
    assert last == pytest.approx(1900, rel=0.03)
    assert "not corrected" in benches["no_load"].engine.picture.says()


def test_torque_falls_with_the_speed_of_the_wheel(benches):
    rows = benches["flywheel"].engine.picture.rows()
    assert len({row.series for row in rows}) == 2
    for name in {row.series for row in rows}:
        own = [row for row in rows if row.series == name]
        assert own[0].x < own[-1].x
        assert own[0].values["torque_nm"] > own[-1].values["torque_nm"] > 0


def test_cycles_lie_over_each_other_and_old_ones_leave():
    bench = played("response", cycles=9, dwell_s=0.5)
    rows = bench.engine.picture.rows()
    series = list(dict.fromkeys(row.series for row in rows))
    assert len(series) == MOST_CYCLES
    assert series[-1] == "cycle 9 of 9"
    ends = [[r for r in rows if r.series == name][-1].values["speed_rpm"] for name in series]
    assert np.ptp(ends) < 0.05 * np.mean(ends)


def test_a_soak_says_where_the_case_is_going():
    bench = played("soak", Limits(motor_temp_c=90.0), level_pct=85, load_s=80, watch_s=20)
    says = bench.engine.picture.says()
    assert says.startswith("It would settle near ")
    settles = [row for row in bench.engine.picture.rows() if row.series == "settles at"]
    assert settles[0].values["motor_temp_c"] > max(column(bench, "motor_temp_c")) - 5


def test_a_long_soak_stays_bounded_and_keeps_its_begin():
    picture = HeatingForecast(80.0)
    for i in range(3000):
        bucket = Bucket(2.0 * i, 60.0, 60.0, "under load at 60 %")
        bucket.add({"motor_temp_c": 22.0 + 90.0 * (1 - math.exp(-i / 200.0))}, 60.0)
        picture.see(bucket)
    assert len(picture.rows()) <= 121
    assert picture.rows()[0].x == 0.0
    assert "112 °C" in picture.says()


def test_samples_without_a_number_are_left_out():
    gathering = Gathering()
    whole = None
    for i in range(12):
        sample = {"thrust_gf": math.nan if i % 2 else 100.0, "current_a": None}
        whole = gathering.add(0.01 * i, sample, 30.0, "x") or whole
    assert whole.mean("thrust_gf") == 100.0
    assert whole.mean("current_a") is None
    assert mean_of([whole, whole], "thrust_gf") == 100.0
    assert mean_of([], "thrust_gf") is None
    assert whole.begin_s == pytest.approx(0.0, abs=BUCKET_S)
