"""The envelope over propellers, levels of each motor's own, and tables of the other kinds."""

import math

import pytest

from spindle_core.compare.bench_table import Load, RanRun, bench_table
from spindle_core.compare.envelope import envelope
from spindle_core.compare.kinds_table import OF_KIND, against_label, kinds_table, listed
from spindle_core.compare.subjects import Grouping, subjects
from spindle_core.compare.table import ComparedRun
from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Measured
from spindle_core.reduction.result import Point

SHARES = (0.1, 0.2, 0.35, 0.5, 0.65, 0.8, 1.0)


def curve(key, propeller, watts, *, motor="a", top=1000.0, r=0.003):
    points = []
    for share in SHARES:
        thrust = top * share
        figures = {
            "throttle_pct": Measured(100.0 * math.sqrt(share)),
            "thrust_gf": Measured(thrust),
            "power_w": Measured(watts(thrust)),
            "current_a": Measured(watts(thrust) / 16.0),
        }
        points.append(Point(figures, share, share, share + 0.1, True))
    core = ComparedRun(key, points, r)
    return RanRun(motor, "A", "steps", Load(propeller, "bench supply", 16.0), core, {})


def light(thrust):
    return thrust**1.5 / 100.0


def heavy(thrust):
    # Thriftier above 500 gf, hungrier below.
    return light(thrust) * (1.15 - 0.0003 * thrust)


def test_the_envelope_names_the_propeller_along_the_thrust():
    compared = subjects([curve("1", "L", light), curve("2", "H", heavy)], Grouping.RUN)
    found = envelope(compared)
    assert found[0].best == ("1",)
    assert found[-1].best == ("2",)
    # In between nobody could tell them apart, and both are named.
    (middle,) = [one for one in found if not one.clear]
    assert middle.best == ("1", "2")
    assert middle.low < 500.0 < middle.high
    assert found[0].low == pytest.approx(100.0)
    assert found[-1].high == pytest.approx(1000.0)


def test_one_alone_has_no_envelope_and_a_stronger_one_goes_on_alone():
    assert envelope(subjects([curve("1", "L", light)], Grouping.RUN)) == []
    far = curve("2", "H", lambda t: 3.0 * light(t), top=1600.0)
    found = envelope(subjects([curve("1", "L", light), far], Grouping.RUN))
    assert [one.best for one in found] == [("1",), ("2",)]


def test_what_is_not_resolved_is_named_beside_the_best():
    noisy = [curve("1", "L", light, r=0.03), curve("2", "H", lambda t: 1.05 * light(t), r=0.03)]
    found = envelope(subjects(noisy, Grouping.RUN))
    # 5 % apart with 3 % of scatter on both axes: neither different nor shown to be the same.
    assert {one.best for one in found} == {("1", "2")}


def test_each_motor_at_a_level_of_its_own():
    runs = [
        curve("1", "L", light),
        curve("2", "L", light, motor="b"),
        curve("3", "L", light, motor="c"),
    ]
    rows = {row.motor: row for row in bench_table(runs, "current_a", {"a": 5.0, "b": 10.0})}
    assert (rows["a"].level, rows["b"].level, rows["c"].level) == (5.0, 10.0, None)
    # I = T^1.5/1600: T = (1600·I)^(2/3).
    assert rows["a"].figure("thrust_gf").value == pytest.approx((1600 * 5) ** (2 / 3), rel=0.01)
    assert rows["b"].figure("thrust_gf").value == pytest.approx((1600 * 10) ** (2 / 3), rel=0.01)
    assert rows["c"].figure("thrust_gf").reason == "no_level"
    with pytest.raises(QuantityError, match="above 0"):
        bench_table(runs, "current_a", {"a": 5.0, "b": math.nan})


def ran(kind, summary, *, motor="a", sample="A", key="1", load=None):
    figures = {
        name: value
        if isinstance(value, Absent)
        else Measured(value, {f"s@{key}{name}": 0.01 * value})
        for name, value in summary.items()
    }
    where = load or Load("", "bench supply", 8.0)
    return RanRun(motor, sample, kind, where, ComparedRun(key, [], 0.002), figures)


def test_kv_over_the_bench_with_what_the_label_says():
    runs = [
        ran("no_load", {"kv_rpm_per_v": 1950.0, "no_load_current_a": 1.2}),
        ran("no_load", {"kv_rpm_per_v": 1970.0}, sample="B", key="2"),
        ran("no_load", {"kv_rpm_per_v": Absent("no_r", "R is not known")}, motor="b", key="3"),
    ]
    first, second = kinds_table(runs, "no_load")
    kv = first.figures["kv_rpm_per_v"]
    assert (kv.figure.value, kv.samples, kv.runs) == (pytest.approx(1960.0), 2, 2)
    assert first.figure("no_load_current_a").value == 1.2
    assert second.figure("kv_rpm_per_v").note == "R is not known"
    off = against_label(first.figure("kv_rpm_per_v"), 2000.0)
    assert off.value == pytest.approx(-2.0)
    assert off.u > 0
    assert against_label(first.figure("kv_rpm_per_v"), None).reason == "no_label"
    assert against_label(Absent("x"), 2000.0).reason == "x"


def test_torque_falls_and_bursts_are_held():
    wheel = {
        "peak_torque_nm": 0.3,
        "speed_at_peak_torque_rpm": 5000.0,
        "zero_torque_speed_rpm": 20_000.0,
    }
    (row,) = kinds_table([ran("flywheel", wheel)], "flywheel")
    assert row.figure("falling_nm_per_krpm").value == pytest.approx(-0.02)
    assert row.figure("spin_up_time_s").reason == "not_measured"
    bent = {**wheel, "zero_torque_speed_rpm": 4000.0}
    (row,) = kinds_table([ran("flywheel", bent)], "flywheel")
    assert isinstance(row.figure("falling_nm_per_krpm"), Absent)
    (row,) = kinds_table(
        [ran("peak", {"burst_thrust_gf": 1200.0, "sustained_thrust_gf": 1140.0})], "peak"
    )
    assert row.figure("held_pct").value == pytest.approx(95.0)
    (row,) = kinds_table([ran("peak", {"burst_thrust_gf": 1200.0})], "peak")
    assert row.figure("held_pct").reason == "not_measured"
    dead = {"burst_thrust_gf": 0.0, "sustained_thrust_gf": 0.0}
    (row,) = kinds_table([ran("peak", dead)], "peak")
    assert row.figure("held_pct").note == "the burst gave no thrust"


def test_loads_stand_apart_and_kinds_are_those_that_were_run():
    runs = [
        ran("soak", {"rise_k": 30.0}, load=Load("P", "bench supply", 16.0)),
        ran("soak", {"rise_k": 40.0}, key="2", load=Load("P", "bench supply", 24.0)),
        ran("no_load", {"kv_rpm_per_v": 1.0}, key="3"),
    ]
    assert [row.load.voltage_v for row in kinds_table(runs, "soak")] == [16.0, 24.0]
    assert listed({run.kind for run in runs}) == ["no_load", "soak"]
    assert kinds_table(runs, "peak") == []
    with pytest.raises(QuantityError, match="no_load, flywheel"):
        kinds_table(runs, "steps")
    assert listed(["steps", "peak", "flywheel"]) == ["flywheel", "peak"]
    assert listed(OF_KIND) == list(OF_KIND)
