"""Two benches over a motor both measured: what is told, and that no u is too small."""

import math

import pytest

from spindle_core.compare.bench_table import FULL, Load, RanRun
from spindle_core.compare.benches import (
    ASSUMED_AIR_S,
    ASSUMED_PROPELLER_S,
    EQUAL_SPEED,
    UNLOADED,
    Side,
    between_benches,
)
from spindle_core.compare.delta import Outcome
from spindle_core.compare.table import ComparedRun
from spindle_core.figures.measured import Measured
from spindle_core.reduction.result import Point

LIGHT, HEAVY = Load("Light", "bench supply", 16.0), Load("Heavy", "bench supply", 16.0)
SHARES = (0.1, 0.2, 0.4, 0.6, 0.8, 0.9, 1.0)


def run(
    key,
    *,
    scale=1.0,
    density=1.225,
    stand="yard",
    motor="a",
    sample="A",
    load=LIGHT,
    gain=0.01,
    top_gf=1000.0,
    volts=16.0,
):
    """A run whose scale reads ``scale`` times too much, in air of a density: at one speed the
    thrust goes with it, and the speed is the same."""
    points = []
    for share in SHARES:
        true = top_gf * share**2 * density / 1.225
        thrust = scale * true
        figures = {
            "throttle_pct": Measured(100.0 * share),
            "thrust_gf": Measured(thrust, {f"calibration@{stand}/thrust_gf": gain * thrust}),
            "power_w": Measured(300.0 * share**3 * density / 1.225),
            "current_a": Measured(300.0 * share**3 / 16.0),
            "voltage_v": Measured(volts),
            "speed_rpm": Measured(20_000.0 * share),
        }
        points.append(Point(figures, share, share, share + 0.1, True))
    return RanRun(motor, sample, "steps", load, ComparedRun(key, points, 0.005), {})


def side(name, runs, density=1.225):
    return Side(name, runs, {one.core.key: density for one in runs} if density else {})


def held(check, condition, name, load=LIGHT):
    return next(
        one for one in check.held if (one.condition, one.name, one.load) == (condition, name, load)
    )


def offset(check, condition, name):
    return next(one for one in check.offsets if (one.condition, one.name) == (condition, name))


def test_a_scale_that_reads_too_much_is_found():
    check = between_benches(
        side("ours", [run("1")]), side("theirs", [run("q1", scale=1.10, stand="loft")])
    )
    scales = held(check, EQUAL_SPEED, "thrust_gf")
    assert scales.ratio.value == pytest.approx(1.10, rel=1e-6)
    assert scales.delta.outcome is Outcome.DIFFERENT
    assert offset(check, EQUAL_SPEED, "thrust_gf").delta.delta_pct == pytest.approx(10.0)


def test_the_calibrations_of_two_benches_never_cancel():
    """Nor do samples and propellers that merely share a name."""
    check = between_benches(side("ours", [run("1")]), side("theirs", [run("q1", stand="loft")]))
    apart = held(check, EQUAL_SPEED, "thrust_gf").ratio
    calibration = math.hypot(0.01, 0.01)
    propellers = math.sqrt(2) * ASSUMED_PROPELLER_S
    samples = math.sqrt(2) * 0.02
    assert apart.u >= 0.99 * math.hypot(calibration, propellers, samples)
    assert apart.assumed
    assert held(check, EQUAL_SPEED, "thrust_gf").delta.outcome is Outcome.UNRESOLVED


def test_a_motor_that_travelled_adds_nothing_for_samples():
    ours, theirs = side("ours", [run("1")]), side("theirs", [run("q1", stand="loft")])
    travelled = between_benches(ours, theirs, same_samples={("a", "A")})
    another = between_benches(ours, theirs)
    assert held(travelled, FULL, "thrust_gf").one_sample
    assert not held(another, FULL, "thrust_gf").one_sample
    assert held(travelled, FULL, "thrust_gf").ratio.u < held(another, FULL, "thrust_gf").ratio.u
    kinds = {key.partition("@")[0] for key in held(travelled, FULL, "thrust_gf").ratio.components}
    assert not kinds & {"sample", "assumed_sample"}


def test_only_the_motor_that_travelled_counts_where_there_is_one():
    ours = side("ours", [run("1"), run("2", sample="B", top_gf=1500.0)])
    theirs = side("theirs", [run("q1", stand="loft"), run("q2", sample="C", top_gf=700.0)])
    check = between_benches(ours, theirs, same_samples={("a", "A")})
    one = held(check, EQUAL_SPEED, "thrust_gf")
    assert one.ratio.value == pytest.approx(1.0)
    assert (one.ours.runs, one.theirs.runs) == (1, 1)


def test_a_mark_that_is_the_same_by_accident_is_another_motor():
    """Both call theirs sample A; nobody said that it is one."""
    check = between_benches(
        side("ours", [run("1")]), side("theirs", [run("q1")]), same_samples={("b", "A")}
    )
    assert not any(one.one_sample for one in check.held)


def test_thin_air_is_taken_out():
    check = between_benches(
        side("ours", [run("1")]),
        side("theirs", [run("q1", density=1.05, stand="loft")], density=1.05),
    )
    assert held(check, EQUAL_SPEED, "thrust_gf").ratio.value == pytest.approx(1.0, rel=1e-9)


def test_air_that_nobody_noted_is_assumed_aloud():
    check = between_benches(
        side("ours", [run("1"), run("2"), run("3")]),
        side("theirs", [run(f"q{i}", stand="loft") for i in range(3)], density=None),
    )
    apart = held(check, EQUAL_SPEED, "thrust_gf").ratio
    # Three runs in one unknown air are no better than one.
    assert apart.component("assumed_air") == pytest.approx(ASSUMED_AIR_S * apart.value)


def test_more_loads_do_not_shrink_what_they_share():
    loads = [Load(f"Prop {i}", "bench supply", 16.0) for i in range(8)]
    ours = side("ours", [run(f"{i}", load=load) for i, load in enumerate(loads)])
    theirs = side("theirs", [run(f"q{i}", load=load, stand="loft") for i, load in enumerate(loads)])
    one = between_benches(side("ours", ours.runs[:1]), side("theirs", theirs.runs[:1]))
    many = between_benches(ours, theirs)
    few, more = (offset(check, FULL, "thrust_gf") for check in (one, many))
    assert more.loads == 8
    assert more.motors == 1
    shared = math.hypot(math.hypot(0.01, 0.01), math.sqrt(2) * 0.02)
    assert more.delta.delta.u >= 0.99 * shared
    assert more.delta.delta.u < few.delta.delta.u


def test_loads_that_scatter_by_more_than_their_u_say_so():
    loads = [Load(f"Prop {i}", "bench supply", 16.0) for i in range(4)]
    ours = side("ours", [run(f"{i}", load=load) for i, load in enumerate(loads)])
    wild = [
        run(f"q{i}", load=load, stand="loft", scale=scale)
        for i, (load, scale) in enumerate(zip(loads, (0.7, 1.3, 0.8, 1.2), strict=True))
    ]
    found = offset(between_benches(ours, side("theirs", wild)), EQUAL_SPEED, "thrust_gf")
    assert found.delta.delta.u > 0.12
    assert found.delta.outcome is Outcome.UNRESOLVED


def test_a_supply_of_nearly_the_same_voltage_is_the_same_load():
    near, far = Load("Light", "bench supply", 15.95), Load("Light", "bench supply", 15.5)
    ours = side("ours", [run("1")])
    assert between_benches(ours, side("t", [run("q", load=near, stand="loft")])).held
    other = between_benches(ours, side("t", [run("q", load=far, stand="loft")]))
    assert not other.held
    assert other.theirs_only == (("a", far),)


def test_a_pack_is_not_a_supply_and_another_motor_is_another():
    ours = side("ours", [run("1")])
    pack = run("q1", load=Load("Light", "pack", 16.0), stand="loft")
    stranger = run("q2", motor="b", stand="loft")
    check = between_benches(ours, side("t", [pack, stranger]))
    assert check.held == ()
    assert [motor for motor, _ in check.theirs_only] == ["a", "b"]


def test_volts_that_sagged_are_brought_to_nominal():
    """Theirs was run at 15.5 V of 16: at full throttle that alone is 5 % of thrust."""
    check = between_benches(
        side("ours", [run("1")]), side("theirs", [run("q1", volts=15.5, stand="loft")])
    )
    apart = held(check, FULL, "thrust_gf").ratio
    assert apart.value == pytest.approx((16 / 15.5) ** 1.7, rel=1e-6)


def test_without_a_propeller_kv_is_compared():
    def unloaded(key, kv, owner):
        summary = {"kv_raw_rpm_per_v": Measured(kv, {f"calibration@{owner}/voltage_v": 0.002 * kv})}
        load = Load("", "bench supply", 12.0)
        return RanRun("a", "A", "no_load", load, ComparedRun(key, [], 0.005), summary)

    check = between_benches(
        side("ours", [unloaded("1", 1900.0, "yard")]),
        side("theirs", [unloaded("q1", 2000.0, "loft")]),
        same_samples={("a", "A")},
    )
    (one,) = check.held
    assert (one.condition, one.name) == (UNLOADED, "kv_raw_rpm_per_v")
    assert one.ratio.value == pytest.approx(2000 / 1900)
    assert not one.ratio.component("assumed_propeller")


def test_nothing_on_either_side_is_nothing_told():
    assert between_benches(side("ours", []), side("theirs", [])).held == ()
    lost = between_benches(side("ours", []), side("theirs", [run("q1")]))
    assert lost.held == ()
    assert lost.offsets == ()
    assert lost.theirs_only == (("a", LIGHT),)


def test_a_bench_that_logged_no_revolutions_still_has_its_full_throttle():
    bare = run("q1", stand="loft")
    points = [
        Point(
            {k: v for k, v in p.figures.items() if k != "speed_rpm"},
            p.start_s,
            p.used_from_s,
            p.end_s,
            True,
        )
        for p in bare.core.points
    ]
    theirs = RanRun("a", "A", "steps", LIGHT, ComparedRun("q1", points, 0.005), {})
    check = between_benches(side("ours", [run("1")]), side("theirs", [theirs]))
    assert {one.condition for one in check.held} == {FULL, "thrust_gf"}
    assert not any(one.name == "speed_rpm" for one in check.held)
