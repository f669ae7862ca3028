"""Final temperatures are compared from equal starts only."""

from __future__ import annotations

import pytest

from spindle_core.compare.warmth import compare_warmth, runs_before, warmed
from spindle_core.figures.measured import Absent, Measured
from spindle_core.reduction.result import Point


def point(at, throttle=100.0, **temps):
    figures = {"throttle_pct": Measured(throttle)}
    figures |= {name: Measured(value, {"within_run:x": 0.5}) for name, value in temps.items()}
    return Point(figures, at, at, at + 1.0, True)


def typed(key, before, after, *, rows=1, air=20.0, **more):
    points = [point(0.0, 0.0, motor_temp_before_c=before)]
    points += [point(1.0 + row) for row in range(rows - 1)]
    points += [point(rows, motor_temp_c=after, ambient_temp_c=air)]
    return warmed(key, points, timed=False, **more)


def test_a_rise_is_after_less_before_with_what_is_known_of_it():
    run = typed("a", 22.0, 48.0, rows=3)
    assert run.rise.value == 26.0
    assert run.rise.u == pytest.approx(0.5 * 2**0.5)
    assert (run.readings, run.span_s, run.air_c) == (3, None, 20.0)


def test_like_runs_are_compared_and_what_nobody_noted_is_said():
    found = compare_warmth([typed("a", 22.0, 48.0), typed("b", 23.5, 41.5)])
    assert (found.refused, [d.value for d in found.against]) == ("", [0.0, -8.0])
    assert found.unknown == ("how long each was loaded",)


@pytest.mark.parametrize(
    ("other", "why"),
    [
        (typed("b", 26.0, 60.0), "They did not begin equally warm: 22 and 26 °C."),
        (typed("b", 22.0, 60.0, rows=4), "Not as many readings"),
        (typed("b", 22.0, 60.0, air=24.0), "The air was not equally warm: 20 and 24 °C."),
        (typed("b", 22.0, 60.0, runs_before=2), "Not as many runs went before"),
        (warmed("b", [point(0.0, motor_temp_c=50.0)]), "How warm the motor was before"),
        (warmed("b", [point(0.0, motor_temp_before_c=22.0)]), "the temperature after it"),
    ],
)
def test_what_is_not_alike_is_refused_with_its_reason(other, why):
    found = compare_warmth([typed("a", 22.0, 48.0), other])
    assert why in found.refused
    assert found.against == ()


def test_starts_just_alike_and_just_not():
    assert compare_warmth([typed("a", 20.0, 40.0), typed("b", 23.0, 40.0)]).refused == ""
    said = compare_warmth([typed("a", 20.0, 40.0), typed("b", 23.1, 40.0)]).refused
    assert said == "They did not begin equally warm: 20 and 23 °C."
    near = compare_warmth([typed("a", 19.6, 40.0), typed("b", 22.8, 40.0)]).refused
    assert near == "They did not begin equally warm: 20 and 23 °C."


def log(key, last_s, *, rise=1.0, air=20.0):
    points = [
        point(float(at), motor_temp_c=25.0 + at / 10, ambient_temp_c=air)
        for at in range(0, last_s, 10)
    ]
    return warmed(key, points, start_rise_k=rise)


def test_logs_know_their_start_by_the_air_and_how_long_they_were_loaded():
    run = log("a", 60)
    assert (run.before.value, run.after.value, run.span_s) == (21.0, 30.0, 51.0)
    assert compare_warmth([run, log("b", 60)]).unknown == ()
    assert "equally long: 51 and 111 s" in compare_warmth([run, log("b", 120)]).refused
    # Points of logs are as many as their plateaus; their time counts, not their number.
    more = warmed(
        "c",
        [point(a / 2, motor_temp_c=25.0, ambient_temp_c=20.0) for a in range(102)],
        start_rise_k=1.0,
    )
    assert compare_warmth([run, more]).refused == ""


def test_a_log_without_air_has_no_start():
    bare = warmed("a", [point(0.0, motor_temp_c=30.0)], start_rise_k=1.0)
    assert isinstance(bare.before, Absent)
    known = warmed("a", [point(0.0, motor_temp_c=30.0)], start_rise_k=1.0, air_c=18.0)
    assert known.before.value == 19.0


def test_without_a_thermometer_there_is_nothing_and_alone_nothing_to_compare():
    assert warmed("a", [point(0.0)]) is None
    assert warmed("a", []) is None
    assert "fewer than two" in compare_warmth([typed("a", 20.0, 30.0)]).refused


def test_runs_that_follow_each_other_warm_are_counted_until_it_could_cool():
    starts, ends = [0.0, 100.0, 300.0, 2000.0, 2500.0], [60.0, 200.0, 400.0, 2100.0, 2600.0]
    assert runs_before(starts, ends, cooled_after_s=600.0) == [0, 1, 2, 0, 1]
    assert runs_before(starts, ends, cooled_after_s=401.0) == [0, 1, 2, 0, 1]
    assert runs_before(starts, ends, cooled_after_s=400.0) == [0, 1, 2, 0, 0]
    assert runs_before([], [], cooled_after_s=1.0) == []
