"""Candidates as they were run and as they are predicted, on one craft."""

import math
from dataclasses import replace

import numpy as np
import pytest

from spindle_core.compare.table import ComparedRun
from spindle_core.figures.measured import Absent, Measured, Origin
from spindle_core.match.craft import Craft, Layout, MassItem
from spindle_core.match.picks import frontier, match, pick
from spindle_core.match.seats import (
    coaxial_pair,
    fits_cells,
    heat_margin_k,
    measured_seats,
    predicted_seats,
    tip_mach_of,
    usual_voltage,
)
from spindle_core.model.operating_point import Motor, Propeller, solve
from spindle_core.planning.known import Foundation, KnownMotor, KnownPropeller
from spindle_core.planning.matrix import PlannedMotor, PropellerColumn
from spindle_core.planning.predict import MODEL_U, KnownSupply
from spindle_core.rank.cohort import Load, RanRun
from spindle_core.reduction.result import Point

QUAD = Craft(
    Layout.MULTIROTOR, 4, 4, (MassItem("frame", 300.0, basis="claimed"), MassItem("pack", 180.0))
)
BENCH = Load("Light 5x3x2", "bench supply", 16.0)
MASSES = {name: Measured(30.0, {"scale": 0.05}) for name in "abcdef"}
NAMES = {name: f"Motor {name}" for name in "abcdef"}


def motor(kv=1900.0, ohm=0.06, u=0.01):
    return KnownMotor(
        Measured(kv, {"kv": u * kv}),
        Measured(ohm, {"ohm": 3 * u * ohm}),
        Measured(1.0, {"idle": 0.1}),
        0.0,
        Measured(2e-6, {"warming": 1e-6}),
        30.0,
        Foundation.IDENTIFIED,
        "its runs",
    )


def propeller(diameter=5.0, u=0.01):
    return KnownPropeller(
        diameter,
        Measured(0.17, {"ct": u * 0.17}),
        Measured(0.11, {"cp": u * 0.11}),
        Foundation.IDENTIFIED,
        "its runs",
    )


SUPPLY = KnownSupply(Measured(16.0, {"volts": 0.05}), Measured(0.004, {"series": 0.0004}))
AIR = Measured(1.2, {"air": 0.004})


def ran(name="a", load=BENCH, *, kv=1900.0, sample="A", key="r1", kind="steps"):
    """A run of the model itself, so that what is read can be held against it."""
    points = []
    for duty in (0.15, 0.25, 0.35, 0.5, 0.65, 0.8, 1.0):
        at = solve(
            Motor(kv, 0.06, 1.0),
            Propeller(5.0, 0.17, 0.11),
            voltage_v=load.voltage_v,
            duty=duty,
            density_kg_per_m3=1.2,
        )
        figures = {
            "throttle_pct": Measured(100.0 * duty),
            "thrust_gf": Measured(at.thrust_gf),
            "current_a": Measured(at.current_a),
            "power_w": Measured(at.power_w),
            "speed_rpm": Measured(at.speed_rpm),
        }
        points.append(Point(figures, 0.0, 0.2, 1.0, True))
    core = ComparedRun(f"{name}/{key}", points, 0.008)
    return RanRun(name, sample, kind, load, core, {})


class TestMeasured:
    def test_hover_is_read_at_the_weight_of_the_craft_with_this_motor(self):
        (seat,), left = measured_seats(QUAD, [ran()], NAMES, MASSES)
        assert left == {}
        (found,) = match(QUAD, [seat.candidate], capacity_mah=1500.0)
        assert found.mass_g.value == pytest.approx(600.0)
        assert found.hover_thrust_gf.value == pytest.approx(150.0)
        exact = solve(
            Motor(1900.0, 0.06, 1.0),
            Propeller(5.0, 0.17, 0.11),
            voltage_v=16.0,
            duty=1.0,
            density_kg_per_m3=1.2,
        )
        assert found.thrust_to_weight.value == pytest.approx(4 * exact.thrust_gf / 600.0, rel=1e-6)
        # The claimed frame's ±5 % moves the hover power: T^1.5.
        mass_part = found.power_w.components["mass@frame"] / found.power_w.value
        slope = mass_part / (found.mass_g.components["mass@frame"] / 600.0)
        assert 1.1 < slope < 1.7

    def test_repeats_are_averaged_and_one_sample_is_not_a_model(self):
        runs = [ran(key=f"r{i}") for i in range(4)]
        (seat,), _ = measured_seats(QUAD, runs, NAMES, MASSES)
        assert (seat.runs, seat.samples) == (4, 1)
        thrust = seat.candidate.max_thrust_gf
        assert thrust.n == 4
        assert thrust.component("repeat") == pytest.approx(0.008 / 2 * thrust.value)
        assert thrust.component("assumed_sample") == pytest.approx(0.025 * thrust.value)

    @pytest.mark.parametrize(
        ("volts", "cells", "fits"),
        [
            (16.0, 4, True),
            (14.8, 4, True),
            (16.8, 4, True),
            (18.5, 5, True),
            (18.5, 4, False),
            (12.6, 4, False),
            (0.0, 4, False),
            (24.0, 6, True),
        ],
    )
    def test_a_voltage_is_of_so_many_cells(self, volts, cells, fits):
        assert fits_cells(volts, cells) is fits

    def test_the_usual_voltage_counts_where_a_combination_has_several(self):
        pack = Load(BENCH.propeller, "pack", 14.8)
        runs = [ran("a"), ran("b"), ran("a", pack, key="p1"), ran("c", pack)]
        assert usual_voltage(runs, 4) == ("bench supply", 16.0)
        seats, _ = measured_seats(QUAD, runs, NAMES, MASSES)
        assert {seat.motor: seat.load.voltage_v for seat in seats} == {
            "a": 16.0,
            "b": 16.0,
            "c": 14.8,
        }

    def test_who_is_left_out_is_told_why(self):
        runs = [ran("a", Load(BENCH.propeller, "bench supply", 24.0)), ran("g")]
        seats, left = measured_seats(QUAD, runs, {**NAMES, "g": "G"}, MASSES)
        assert seats == []
        assert left["a", BENCH.propeller] == "run at 24 V only, which is not 4 cells"
        assert "mass" in left["g", BENCH.propeller]

    def test_up_to_which_throttle_it_was_run_is_told(self):
        short = ran()
        cut = RanRun(
            short.motor,
            short.sample,
            short.kind,
            short.load,
            ComparedRun("cut", short.core.points[:-1], 0.008),
            {},
        )
        (seat,), _ = measured_seats(QUAD, [cut], NAMES, MASSES)
        assert seat.up_to_pct == pytest.approx(80.0)
        (whole,), _ = measured_seats(QUAD, [short], NAMES, MASSES)
        assert whole.up_to_pct == pytest.approx(100.0)
        assert seat.candidate.max_thrust_gf.value < whole.candidate.max_thrust_gf.value

    def test_a_burst_makes_no_candidate(self):
        assert measured_seats(QUAD, [ran(kind="peak")], NAMES, MASSES) == ([], {})

    def test_a_craft_too_heavy_to_hover_says_so(self):
        heavy = Craft(Layout.MULTIROTOR, 4, 4, (MassItem("lead", 9000.0),))
        (seat,), _ = measured_seats(heavy, [ran()], NAMES, MASSES)
        (found,) = match(heavy, [seat.candidate], capacity_mah=1500.0)
        assert isinstance(found.power_w, Absent)
        assert isinstance(found.minutes, Absent)
        assert found.thrust_to_weight.value < 1.0
        assert isinstance(pick([found]), Absent)

    def test_a_plane_cruises_at_a_typed_throttle_or_stands(self):
        plane = Craft(Layout.PLANE, 1, 4, QUAD.items, cruise_throttle_pct=50.0)
        (seat,), _ = measured_seats(plane, [ran()], NAMES, MASSES)
        (found,) = match(plane, [seat.candidate], capacity_mah=1500.0)
        exact = solve(
            Motor(1900.0, 0.06, 1.0),
            Propeller(5.0, 0.17, 0.11),
            voltage_v=16.0,
            duty=0.5,
            density_kg_per_m3=1.2,
        )
        assert found.power_w.value == pytest.approx(exact.power_w, rel=0.01)
        assert found.hover_thrust_gf.value == pytest.approx(exact.thrust_gf, rel=0.01)
        bare = Craft(Layout.PLANE, 1, 4, QUAD.items)
        (seat,), _ = measured_seats(bare, [ran()], NAMES, MASSES)
        (static,) = match(bare, [seat.candidate], capacity_mah=1500.0)
        assert static.power_w.reason == "no_lift_to_drag"
        assert static.thrust_to_weight.value > 0


def predicted(craft=QUAD, *, u=0.01, rows=None, columns=None, **more):
    return predicted_seats(
        craft,
        rows or [PlannedMotor("a", "Motor a", motor(u=u))],
        columns or [PropellerColumn(1, BENCH.propeller, propeller(u=u))],
        MASSES,
        SUPPLY,
        AIR,
        load=("bench supply", 16.0),
        **more,
    )


class TestPredicted:
    def test_agrees_with_a_run_of_the_same_model(self):
        """The model's own run, and what is foreseen of it, on the same craft."""
        (run_seat,), _ = measured_seats(QUAD, [ran()], NAMES, MASSES)
        (seat,) = predicted()
        made, seen = (
            match(QUAD, [one.candidate], capacity_mah=1500.0)[0] for one in (run_seat, seat)
        )
        for name in ("thrust_to_weight", "power_w", "current_a", "minutes", "throttle_pct"):
            a, b = getattr(made, name), getattr(seen, name)
            assert a.value == pytest.approx(b.value, rel=0.03), name
            assert abs(a.value - b.value) < 2 * b.u, name
        assert seen.predicted is True
        assert seen.power_w.origin is Origin.ESTIMATED
        assert (seat.runs, seat.samples) == (0, 0)

    def test_u_covers_what_is_not_known(self):
        """Motors drawn within their u: two thirds lie within one u of what was foreseen."""
        (seat,) = predicted(u=0.03)
        thrust = seat.candidate.max_thrust_gf
        rng = np.random.default_rng(2)
        drawn = [
            solve(
                Motor(rng.normal(1900, 57), max(0.01, rng.normal(0.06, 0.0054)), 1.0),
                Propeller(5.0, rng.normal(0.17, 0.0051), rng.normal(0.11, 0.0033)),
                voltage_v=16.0,
                duty=1.0,
                density_kg_per_m3=1.2,
            ).thrust_gf
            for _ in range(400)
        ]
        assert thrust.u == pytest.approx(np.std(drawn), rel=0.3)

    def test_what_the_model_leaves_out_is_in_u_even_where_all_else_is_known(self):
        (seat,) = predicted_seats(
            QUAD,
            [PlannedMotor("a", "Motor a", motor(u=1e-9))],
            [PropellerColumn(1, BENCH.propeller, propeller(u=1e-9))],
            MASSES,
            KnownSupply(Measured(16.0), Measured(0.004)),
            Measured(1.2),
            load=("bench supply", 16.0),
        )
        thrust = seat.candidate.max_thrust_gf
        assert thrust.u >= MODEL_U["thrust_gf"] * thrust.value

    def test_a_guess_is_shown_and_never_picked(self):
        wide = predicted(u=0.15)
        (found,) = match(QUAD, [wide[0].candidate], capacity_mah=1500.0)
        assert "run it first" in found.barred
        assert isinstance(pick([found]), Absent)
        assert frontier([found]) == []

    def test_what_was_run_is_not_predicted_too_and_the_unknown_is_left_out(self):
        leave = frozenset({("a", BENCH.propeller)})
        assert predicted(leave=leave) == []
        assert (
            predicted(rows=[PlannedMotor("a", "A", Absent("no_label", "nothing is known"))]) == []
        )
        assert predicted(rows=[PlannedMotor("zz", "no mass", motor())]) == []

    def test_a_throttle_beyond_full_is_no_hover(self):
        heavy = Craft(Layout.MULTIROTOR, 4, 4, (MassItem("lead", 9000.0),))
        (seat,) = predicted(heavy)
        (found,) = match(heavy, [seat.candidate], capacity_mah=1500.0)
        assert isinstance(found.power_w, Absent)
        assert found.thrust_to_weight.value < 1

    def test_a_plane_without_a_ratio_is_told_statically(self):
        (seat,) = predicted(Craft(Layout.PLANE, 1, 4, QUAD.items))
        (found,) = match(Craft(Layout.PLANE, 1, 4, QUAD.items), [seat.candidate], capacity_mah=1e3)
        assert found.minutes.reason == "no_lift_to_drag"
        cruise = Craft(Layout.PLANE, 1, 4, QUAD.items, cruise_throttle_pct=50.0)
        (seat,) = predicted(cruise)
        (found,) = match(cruise, [seat.candidate], capacity_mah=1e3)
        assert found.power_w.value > 0
        assert found.power_w.relative_u > 0.05  # what half a throttle is, nobody declared

    def test_many_are_solved_at_once(self):
        rows = [
            PlannedMotor(name, name, motor(kv=1500 + 100 * i)) for i, name in enumerate("abcdef")
        ]
        columns = [PropellerColumn(i, f"P{i}", propeller(4.0 + 0.2 * i)) for i in range(8)]
        seats = predicted(rows=rows, columns=columns)
        assert len(seats) == 48
        assert len({seat.candidate.name for seat in seats}) == 48


class TestPicking:
    def test_the_frontier_holds_who_nobody_beats_in_both(self):
        seats = predicted(
            rows=[
                PlannedMotor(n, n, motor(kv))
                for n, kv in zip("abc", (1500, 1900, 2300), strict=True)
            ],
            columns=[
                PropellerColumn(i, f"P{d}", propeller(d)) for i, d in enumerate((4.5, 5.0, 5.5))
            ],
        )
        found = match(QUAD, [seat.candidate for seat in seats], capacity_mah=1500.0)
        names = frontier(found)
        by_name = {one.name: one for one in found}
        pairs = [(by_name[n].thrust_to_weight.value, by_name[n].minutes.value) for n in names]
        assert pairs == sorted(pairs, key=lambda pair: -pair[0])
        for one in found:
            beaten = any(
                r >= one.thrust_to_weight.value and m >= one.minutes.value for r, m in pairs
            )
            assert beaten
            if one.name not in names:
                assert any(
                    r >= one.thrust_to_weight.value and m >= one.minutes.value for r, m in pairs
                )

    def test_who_only_equals_the_minutes_of_a_stronger_one_is_beaten(self):
        (seat,) = predicted()
        strong = seat.candidate
        weak = replace(strong, name="weak", max_thrust_gf=strong.max_thrust_gf.scaled(0.8))
        assert frontier(match(QUAD, [strong, weak], capacity_mah=1500.0)) == [strong.name]

    def test_the_trade_says_minutes_and_no_minus_zero(self):
        seats = predicted(
            rows=[PlannedMotor(n, n, motor(kv)) for n, kv in (("a", 1700), ("b", 2100))]
        )
        found = match(QUAD, [seat.candidate for seat in seats], capacity_mah=1500.0)
        picks = pick(found, thrift=0.5)
        assert "% thrust for" in picks.trade or "strongest is also" in picks.trade
        assert "−0.0" not in picks.trade
        assert "−0 %" not in picks.trade


class TestAround:
    def test_tips_and_heat(self):
        assert tip_mach_of(Measured(30_000.0), 5.0).value == pytest.approx(0.581, abs=0.002)
        assert isinstance(tip_mach_of(Absent("x"), 5.0), Absent)
        known = motor()
        cool, hot = (
            heat_margin_k(known, Measured(amps, {"repeat": 0.5}), ceiling_c=155.0)
            for amps in (5.0, 35.0)
        )
        assert cool.value > hot.value
        # 155 − 20 of the air − 20 of the case − 2e-6·25 ÷ (0.8·0.00393·0.06) of the winding.
        assert cool.value == pytest.approx(155 - 20 - 20 - 5e-5 / (0.8 * 0.00393 * 0.06))
        assert cool.origin is Origin.ESTIMATED
        assert hot.assumed
        assert isinstance(heat_margin_k(known, Absent("x"), ceiling_c=155.0), Absent)

    def test_two_motors_of_a_pair_share_the_load(self):
        seats = predicted(
            Craft(Layout.COAXIAL, 8, 4, QUAD.items),
            rows=[PlannedMotor(n, n, motor(kv)) for n, kv in (("a", 1700), ("b", 2100))],
        )
        upper, lower = (seat.candidate for seat in seats)
        both = coaxial_pair(upper, lower)
        assert both.max_thrust_gf.value == pytest.approx(
            0.5 * (upper.max_thrust_gf.value + lower.max_thrust_gf.value)
        )
        assert both.esc_peak_a == lower.peak_current_a
        (found,) = match(Craft(Layout.COAXIAL, 8, 4, QUAD.items), [both], capacity_mah=1500.0)
        needed = found.esc[0]
        assert needed.needed_a == pytest.approx(both.esc_peak_a.value)
        assert math.isfinite(found.minutes.value)
