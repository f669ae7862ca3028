"""A cohort of models: like with like, samples counted, gaps shown, places no surer than known."""

import math
from dataclasses import replace

import numpy as np
import pytest

from spindle_core.compare.of_models import (
    ASSUMED_SAMPLE_S,
    assumed_words,
    between_samples,
    of_model,
    of_sample,
    sample_share,
)
from spindle_core.compare.table import ComparedRun
from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Measured, Origin, component, difference
from spindle_core.figures.repeats import PooledSpread
from spindle_core.rank.cohort import Load, RanRun, cohort_of, loads_of
from spindle_core.rank.rank_confidence import rank_confidence, tie_words, tied_places
from spindle_core.rank.scoring import Criterion, Entry, score_cohort
from spindle_core.rank.settle import settlings, undecided
from spindle_core.reduction.result import Point

LIGHT, HEAVY = Load("Light 5x3x2", "bench supply", 16.0), Load("Heavy 5x4x3", "bench supply", 16.0)


def points(top_gf, g_per_w=3.0, stand="stand 1", **at_top):
    found = []
    for share in (0.1, 0.25, 0.5, 0.75, 1.0):
        thrust = top_gf * share
        watts = (thrust / g_per_w) * math.sqrt(share)
        gain = {component("calibration", f"{stand}/thrust_gf"): 0.01 * thrust}
        figures = {
            "throttle_pct": Measured(100.0 * share),
            "thrust_gf": Measured(thrust, gain),
            "power_w": Measured(watts),
            "current_a": Measured(watts / 16.0),
            "efficiency_g_per_w": Measured(thrust / watts),
            **({name: Measured(value) for name, value in at_top.items()} if share == 1.0 else {}),
        }
        found.append(Point(figures, start_s=0.0, end_s=1.0, used_from_s=0.2, settled=True))
    return found


def run(motor, top_gf, load=LIGHT, *, sample="A", key=None, kind="steps", summary=None, **more):
    name = key or f"{motor}/{sample}/{load.propeller}/{top_gf}"
    core = ComparedRun(name, points(top_gf, **more), 0.008)
    strongest = core.points[-1].figures
    told = {
        "max_thrust_gf": strongest["thrust_gf"],
        "efficiency_at_max_g_per_w": strongest["efficiency_g_per_w"],
        **(summary or {}),
    }
    return RanRun(motor, sample, kind, load, core, told)


class TestOfModels:
    def test_runs_of_one_sample_do_not_make_it_a_model(self):
        one = of_model(
            "m", "max_thrust_gf", {"A": [Measured(1000.0, {"repeat@r1": 8.0})] * 1}, None
        )
        many = of_model(
            "m",
            "max_thrust_gf",
            {"A": [Measured(1000.0, {f"repeat@r{i}": 8.0}) for i in range(50)]},
            None,
        )
        assert many.samples == one.samples == 1
        assert (one.runs, many.runs) == (1, 50)
        # Fifty runs leave what samples differ by.
        assert many.figure.u > 0.019 * 1000.0
        assert many.figure.assumed

    def test_what_is_assumed_is_said_as_it_is(self):
        assert assumed_words() == (
            "2.5 % of thrust, 1.5 % of gf/W, 3.5 % of current and power, 8 % of heat, "
            "3 % of the rest"
        )

    def test_samples_shrink_it_by_their_number(self):
        figures = {mark: [Measured(1000.0)] for mark in "ABCD"}
        four = of_model("m", "max_thrust_gf", figures, None).figure
        assert four.u == pytest.approx(ASSUMED_SAMPLE_S["max_thrust_gf"] * 1000.0 / 2.0)

    def test_what_the_bench_saw_between_samples_takes_the_place_of_the_assumption(self):
        seen = between_samples([[Measured(1000.0 + d) for d in (-30, 0, 30)] for _ in range(2)])
        assert seen is not None
        assert (seen.freedom, round(seen.relative_s, 4)) == (4, 0.03)
        share, kind = sample_share("max_thrust_gf", seen)
        # Few degrees of freedom: Student's t has the wider variance.
        assert (round(share, 4), kind) == (round(0.03 * math.sqrt(4 / 2), 4), "sample")

    @pytest.mark.parametrize("freedom", [1, 2])
    def test_two_samples_are_too_few_to_know_it(self, freedom):
        lucky = PooledSpread(0.0001, freedom)
        assert sample_share("max_thrust_gf", lucky) == (0.025, "assumed_sample")
        assert sample_share("max_thrust_gf", None) == (0.025, "assumed_sample")
        assert sample_share("unheard_of", None) == (0.03, "assumed_sample")

    def test_runs_that_scatter_beyond_their_u_make_it_grow(self):
        calm = of_sample([Measured(v, {f"repeat@{v}": 8.0}) for v in (999.0, 1001.0)], source="m/A")
        wild = of_sample([Measured(v, {f"repeat@{v}": 8.0}) for v in (900.0, 1100.0)], source="m/A")
        assert calm.u == pytest.approx(8.0 / math.sqrt(2))
        assert wild.u == pytest.approx(100.0)

    def test_a_stand_that_two_models_share_cancels_between_them(self):
        gain = {"calibration@stand 1/thrust_gf": 20.0}
        a, b = (
            of_model(name, "max_thrust_gf", {"A": [Measured(1000.0, gain)] * 3}, None).figure
            for name in "ab"
        )
        other = {"calibration@stand 2/thrust_gf": 20.0}
        c = of_model("c", "max_thrust_gf", {"A": [Measured(1000.0, other)]}, None).figure
        assert difference(a, b).component("calibration") == 0.0
        assert difference(a, c).component("calibration") == pytest.approx(math.hypot(20, 20))

    def test_nothing_has_no_mean(self):
        with pytest.raises(QuantityError):
            of_sample([], source="m")
        with pytest.raises(QuantityError):
            of_model("m", "mass_g", {}, None)


class TestCohort:
    def test_the_load_of_most_motors_counts_and_others_are_left_out(self):
        runs = [run("a", 1000.0), run("b", 900.0), run("c", 1500.0, HEAVY), run("b", 1400.0, HEAVY)]
        runs.append(run("d", 800.0))
        assert loads_of(runs) == [(LIGHT, 3), (HEAVY, 2)]
        found = cohort_of(runs)
        assert found.conditions["max_thrust_gf"].load == LIGHT
        assert {m for m, figures in found.figures.items() if figures} == {"a", "b", "d"}
        # Motor c stands there without a figure; it is not given one of another propeller.
        assert found.figures["c"] == {}
        assert found.figures["b"]["max_thrust_gf"].figure.value == pytest.approx(900.0)

    def test_an_asked_load_counts_even_if_few_were_run_under_it(self):
        runs = [run("a", 1000.0), run("b", 900.0), run("b", 1400.0, HEAVY)]
        assert cohort_of(runs, load=HEAVY).figures["b"]["max_thrust_gf"].figure.value == 1400.0
        assert cohort_of(runs, load=Load("never", "pack", 9.0)).conditions[
            "max_thrust_gf"
        ].load == (LIGHT)

    def test_same_propeller_on_a_pack_is_another_load(self):
        pack = Load(LIGHT.propeller, "pack", 16.0)
        found = cohort_of([run("a", 1000.0), run("b", 900.0), run("c", 950.0, pack)])
        assert found.figures["c"] == {}

    def test_gf_per_watt_is_read_at_a_thrust_that_all_reach(self):
        found = cohort_of([run("a", 1000.0, g_per_w=3.0), run("b", 500.0, g_per_w=3.0)])
        level = found.conditions["efficiency_g_per_w"].level
        assert level is not None
        assert level <= 0.6 * 500.0
        assert set(found.figures["b"]) >= {"max_thrust_gf", "efficiency_g_per_w"}
        # What a person asks for is taken, and who does not reach it has no figure.
        asked = cohort_of([run("a", 1000.0), run("b", 500.0)], common_thrust_gf=700.0)
        assert "efficiency_g_per_w" in asked.figures["a"]
        assert "efficiency_g_per_w" not in asked.figures["b"]

    def test_no_torque_no_shaft_efficiency(self):
        found = cohort_of([run("a", 1000.0)])
        assert found.conditions["motor_esc_efficiency_pct"].level is None
        assert "motor_esc_efficiency_pct" not in found.figures["a"]

    def test_each_kind_has_its_own_load(self):
        up = {"accel_rpm_per_s": Measured(90_000.0), "decel_rpm_per_s": Measured(-70_000.0)}
        runs = [
            run("a", 1000.0),
            run("b", 900.0),
            run("a", 1.0, HEAVY, kind="response", summary=up),
            run("b", 1.0, HEAVY, kind="response", summary={"accel_rpm_per_s": Measured(8e4)}),
        ]
        found = cohort_of(runs)
        assert found.conditions["response_rpm_per_s"].load == HEAVY
        assert found.figures["a"]["response_rpm_per_s"].figure.value == pytest.approx(80_000.0)
        # One way only is no response.
        assert "response_rpm_per_s" not in found.figures["b"]

    def test_the_factor_table_fills_only_when_asked_and_says_so(self):
        runs = [
            run("a", 1000.0),
            run("a", 1300.0, HEAVY),
            run("b", 900.0),
            run("b", 1180.0, HEAVY),
            run("c", 1400.0, HEAVY),
        ]
        assert "max_thrust_gf" not in cohort_of(runs, load=LIGHT).figures["c"]
        filled = cohort_of(runs, load=LIGHT, fill=True)
        one = filled.figures["c"]["max_thrust_gf"]
        assert one.figure.value == pytest.approx(1073.0, rel=0.01)
        assert one.figure.origin is Origin.ESTIMATED
        assert (one.samples, one.runs) == (0, 0)
        assert filled.filled["c"] >= {"max_thrust_gf"}
        assert "a" not in filled.filled

    def test_whoever_has_no_figure_has_the_reason(self):
        torque = {"accel_rpm_per_s": Measured(9e4), "decel_rpm_per_s": Absent("short", "too short")}
        runs = [
            run("a", 1000.0),
            run("b", 1000.0),
            run("elsewhere", 1400.0, HEAVY),
            run(
                "a",
                1.0,
                kind="response",
                summary={"accel_rpm_per_s": Measured(9e4), "decel_rpm_per_s": Measured(-8e4)},
            ),
            run("b", 1.0, kind="response", summary=torque),
        ]
        half = run("half", 900.0)
        to_60 = [point for point in half.core.points if (point.value("throttle_pct") or 0) < 60]
        runs.append(replace(half, core=replace(half.core, points=to_60)))
        found = cohort_of(runs, load=LIGHT)
        assert found.absent["half"]["max_thrust_gf"].note == (
            "it was run to 50 % of throttle, others further"
        )
        # What it reached counts like any other's.
        assert "efficiency_g_per_w" in found.figures["half"]
        assert found.absent["elsewhere"]["max_thrust_gf"].reason == "not_run"
        assert LIGHT.words in found.absent["elsewhere"]["max_thrust_gf"].note
        assert found.absent["b"]["response_rpm_per_s"].reason == "one_way"
        assert found.absent["a"]["vibration_g"].reason == "not_logged"
        assert "max_thrust_gf" not in found.absent["a"]
        for motor, names in found.absent.items():
            assert not names.keys() & found.figures[motor].keys()
            assert names.keys() | found.figures[motor].keys() == found.conditions.keys()

    def test_what_others_stand_in_for_is_not_absent(self):
        runs = [
            run(motor, top * more, load)
            for motor, top in (("a", 1000.0), ("b", 1100.0), ("c", 900.0))
            for load, more in ((LIGHT, 1.0), (HEAVY, 1.3))
            if (motor, load) != ("c", LIGHT)
        ]
        without, filled = cohort_of(runs, load=LIGHT), cohort_of(runs, load=LIGHT, fill=True)
        assert without.absent["c"]["max_thrust_gf"].reason == "not_run"
        assert "max_thrust_gf" in filled.figures["c"]
        assert "max_thrust_gf" not in filled.absent["c"]

    def test_two_runs_cannot_be_taken_apart(self):
        found = cohort_of([run("a", 1000.0), run("c", 1400.0, HEAVY)], load=LIGHT, fill=True)
        assert isinstance(found.factors["max_thrust_gf"], Absent)
        assert found.filled == {}

    def test_no_runs_no_cohort(self):
        assert cohort_of([]).figures == {}
        assert loads_of([]) == []

    def test_unknown_voltage_is_said(self):
        assert Load("P", "", 0.0).words == "P, unknown voltage"
        assert Load("", "pack", 14.8).words == "no propeller, 14.8 V pack"


THRUST = Criterion("max_thrust_gf", 1.0)
WIDE = Measured(995.0, {"repeat@c": 40.0})


def entry(name, value, u, kind="repeat"):
    return Entry(name, {"max_thrust_gf": Measured(value, {f"{kind}@{name}": u})})


class TestPlaces:
    def test_ahead_and_probability_agree(self):
        found = rank_confidence([entry("a", 1010, 10), entry("b", 1000, 10)], [THRUST], seed=3)
        assert found.ahead[0, 1] == pytest.approx(found.of("a", 1), abs=0.01)
        assert found.ahead[0, 1] + found.ahead[1, 0] == pytest.approx(1.0)
        # The exact value: the difference of 10 has a u of 14.1.
        assert found.ahead[0, 1] == pytest.approx(0.76, abs=0.03)

    def test_total_u_is_that_of_the_figures(self):
        found = rank_confidence([entry("a", 1000, 10), entry("b", 1000, 0)], [THRUST], seed=3)
        # 100·a/mean(a, b): half of a's relative u of 1 %.
        assert found.total_u[0] == pytest.approx(0.5, rel=0.05)

    @pytest.mark.parametrize(("thrust", "thrift", "first"), [(3.0, 1.0, 0), (1.0, 3.0, 1)])
    def test_what_weighs_more_decides_who_is_first(self, thrust, thrift, first):
        criteria = [Criterion("max_thrust_gf", thrust), Criterion("efficiency_g_per_w", thrift)]
        a, b = (
            Entry(
                name,
                {
                    "max_thrust_gf": Measured(pull, {f"repeat@{name}": 10.0}),
                    "efficiency_g_per_w": Measured(g_per_w),
                },
            )
            for name, pull, g_per_w in (("a", 1100.0, 3.0), ("b", 1000.0, 3.3))
        )
        found = rank_confidence([a, b], criteria, seed=3)
        assert found.probability[first, 0] == pytest.approx(1.0)
        # Of b: half of 1 % of its own thrust and half of 0.91 % of the other's, by its share.
        own = 100.0 * 1000.0 * 1100.0 / 1050.0**2 / 2.0 * math.hypot(0.01, 10.0 / 1100.0)
        assert found.total_u[1] == pytest.approx(own * thrust / 4.0, rel=0.05)

    def test_each_score_has_the_u_of_its_figure(self):
        other = Criterion("efficiency_g_per_w", 1.0)
        a = Entry("a", {"max_thrust_gf": Measured(1000.0, {"repeat@a": 10.0})})
        b = Entry("b", {"max_thrust_gf": Measured(1000.0), "efficiency_g_per_w": Measured(4.0)})
        c = Entry("c", {"max_thrust_gf": Measured(1000.0), "efficiency_g_per_w": Measured(2.0)})
        found = rank_confidence([a, b, c], [THRUST, other], seed=3)
        # 100·a/mean of three: two thirds of 1 %, and a third of it in the others.
        third = 100 * 0.01 / 3
        assert found.score_u["max_thrust_gf"] == pytest.approx([2 * third, third, third], rel=0.05)
        assert np.isnan(found.score_u["efficiency_g_per_w"]).tolist() == [True, False, False]
        assert found.score_u["efficiency_g_per_w"][1:] == pytest.approx([0, 0], abs=1e-9)

    def test_per_mass_is_as_unsure_as_its_masses(self):
        exact, unsure = (
            Entry("a", {"max_thrust_gf": Measured(1000.0), "mass_g": mass}, mass.value)
            for mass in (Measured(30.0), Measured(30.0, {"repeat@a": 0.6}))
        )
        other = Entry("b", {"max_thrust_gf": Measured(1000.0), "mass_g": Measured(20.0)}, 20.0)
        found = rank_confidence([unsure, other], [THRUST], seed=3)
        # 100·mean/m: of a by 2 % of (1/50 - 1/30)·30, of b by what the mean moves.
        assert found.per_mass_u == pytest.approx([100 * 25 / 30 * 0.008, 125 * 0.012], rel=0.05)
        assert found.total_u == pytest.approx([0, 0], abs=1e-9)
        assert rank_confidence([exact, other], [THRUST], seed=3).per_mass_u == pytest.approx(
            [0, 0], abs=1e-9
        )

    def test_one_scale_that_weighed_all_moves_no_score_per_gram(self):
        def weighed(name, grams, source):
            mass = Measured(grams, {source: 0.05 * grams})
            return Entry(name, {"max_thrust_gf": Measured(1000.0), "mass_g": mass}, grams)

        one = [weighed("a", 30.0, "gain@scale"), weighed("b", 20.0, "gain@scale")]
        two = [weighed("a", 30.0, "gain@scale"), weighed("b", 20.0, "gain@other")]
        assert rank_confidence(one, [THRUST], seed=3).per_mass_u == pytest.approx([0, 0], abs=1e-9)
        assert rank_confidence(two, [THRUST], seed=3).per_mass_u.min() > 1.0

    def test_a_mass_that_is_scored_is_drawn_once(self):
        """The same grams are in the score and below it: both go the same way."""
        light = Criterion("mass_g", 1.0, lower_is_better=True)
        a = Entry("a", {"mass_g": Measured(30.0, {"repeat@a": 0.3})}, 30.0)
        b = Entry("b", {"mass_g": Measured(20.0)}, 20.0)
        found = rank_confidence([a, b], [light], seed=3)

        def per_gram(grams):
            mean = 2.0 / (1.0 / grams + 1.0 / 20.0)
            return 100.0 * mean / grams * (grams + 20.0) / 2.0 / grams

        slope = (per_gram(30.1) - per_gram(29.9)) / 0.2
        assert found.per_mass_u[0] == pytest.approx(abs(slope) * 0.3, rel=0.05)

    def test_an_unranked_motor_counts_in_the_mean_and_has_none_of_its_own(self):
        thin = Entry("c", {"mass_g": Measured(40.0, {"repeat@c": 4.0})}, 40.0)
        motors = [
            Entry(n, {"max_thrust_gf": Measured(1000.0), "mass_g": Measured(30.0)}, 30.0)
            for n in "ab"
        ]
        found = rank_confidence([thin, *motors], [THRUST], seed=3)
        assert found.names == ("a", "b")
        assert found.per_mass_u == pytest.approx([100 / 30 * 4 / 3] * 2, rel=0.05)

    def test_what_has_no_mass_or_price_has_no_u_of_it(self):
        priced = Entry(
            "a",
            {"max_thrust_gf": Measured(1000.0), "price": Measured(20.0, {"guess": 2.0})},
            price=20.0,
        )
        typed = Entry("b", {"max_thrust_gf": Measured(1000.0)}, price=10.0)
        bare = Entry("c", {"max_thrust_gf": Measured(1000.0)})
        found = rank_confidence([priced, typed, bare], [THRUST], seed=3)
        assert np.isnan(found.per_mass_u).all()
        assert np.isnan(found.per_price_u).tolist() == [False, False, True]
        # A price that is typed without a u is one: the mean of both moves it.
        assert found.per_price_u[1] == pytest.approx(100 * 0.1 * 15 / 10 * 20 / 30, rel=0.05)

    def test_places_are_what_they_were_whatever_is_weighed_beside(self):
        """What stands beside a score draws from numbers of its own."""
        bare = [entry("a", 1010, 10), entry("b", 1000, 10), entry("c", 990, 10)]
        weighed = [
            Entry(
                one.name,
                {**one.figures, "mass_g": Measured(30.0, {"repeat": 1.0})},
                30.0,
                price=20.0,
            )
            for one in bare
        ]
        one, other = (rank_confidence(who, [THRUST], seed=3) for who in (bare, weighed))
        assert one.probability.tolist() == other.probability.tolist()
        assert one.total_u.tolist() == other.total_u.tolist()

    def test_blocks_overlap_where_the_ends_differ_but_the_middle_is_neither(self):
        motors = [entry("a", 1020, 4), entry("b", 1010, 4), entry("c", 1000, 4), entry("d", 900, 4)]
        found = rank_confidence(motors, [THRUST], seed=1)
        blocks = tied_places(found, ["a", "b", "c", "d"])
        # 10 apart with u 5.7 is 96 %: told apart; make the neighbours nearer.
        assert blocks == []
        near = [entry("a", 1016, 5), entry("b", 1008, 5), entry("c", 1000, 5), entry("d", 900, 5)]
        found = rank_confidence(near, [THRUST], seed=1)
        assert tied_places(found, ["a", "b", "c", "d"]) == [(1, 2), (2, 3)]
        assert tie_words([(1, 2), (3, 6)]) == [
            "Places 1 and 2 cannot be told apart.",
            "Places 3 to 6 cannot be told apart.",
        ]

    def test_a_block_ends_where_any_of_it_is_surely_ahead(self):
        """The first could be anywhere; the second is surely before the third."""
        motors = [entry("wide", 1012, 40), entry("sharp", 1010, 1), entry("last", 1000, 1)]
        found = rank_confidence(motors, [THRUST], seed=1)
        assert found.ahead[0, 2] < 0.95 < found.ahead[1, 2]
        assert tied_places(found, ["wide", "sharp", "last"]) == [(1, 2)]

    def test_all_alike_is_one_block(self):
        motors = [entry(name, 1000 + i, 50) for i, name in enumerate("abcde")]
        found = rank_confidence(motors, [THRUST], seed=1)
        order = [s.name for s in score_cohort(motors, [THRUST]).scored]
        assert tied_places(found, order) == [(1, 5)]


class TestSettling:
    def leads(self, **parts):
        a = Entry("a", {"max_thrust_gf": Measured(1020.0, {f"{k}@a": v for k, v in parts.items()})})
        b = Entry("b", {"max_thrust_gf": Measured(1000.0, {f"{k}@b": v for k, v in parts.items()})})
        return score_cohort([a, b], [THRUST])

    def test_where_runs_scatter_a_run_helps_and_more_on_the_one_with_fewer(self):
        found = settlings(
            self.leads(repeat=20.0),
            {("a", "max_thrust_gf"): (1, 1), ("b", "max_thrust_gf"): (1, 9)},
        )
        assert found[0].motor == "a"
        assert found[0].now < found[0].after < 1.0
        exact = 0.5 * math.erfc(-20.0 / math.hypot(20, 20) / math.sqrt(2))
        assert found[0].now == pytest.approx(exact, abs=1e-9)

    def test_what_samples_differ_by_only_another_sample_settles(self):
        found = settlings(self.leads(assumed_sample=20.0), {})
        assert found
        assert all(one.another_sample for one in found)

    def test_a_calibration_no_run_takes_away(self):
        assert settlings(self.leads(calibration=20.0), {}) == []

    def test_certainty_never_falls_on_average(self):
        rng = np.random.default_rng(5)
        for _ in range(50):
            parts = {"repeat": rng.uniform(0, 50), "sample": rng.uniform(0, 50)}
            for one in settlings(self.leads(**parts), {}):
                assert one.now < one.after <= 1.0

    def test_agrees_with_a_simulation(self):
        """The expectation against draws of the truth, of today's lead and of the next run's."""
        found = settlings(self.leads(repeat=20.0), {("a", "max_thrust_gf"): (1, 1)})[0]
        rng = np.random.default_rng(11)
        scale = 100.0 / 1010.0
        lead, u_a, u_b = 20.0 * scale, 20.0 * scale, 20.0 * scale
        # A flat prior: the truth lies about today's lead.
        truth = lead + rng.normal(0, math.hypot(u_a, u_b), 200_000)
        # After it a's mean has half its variance; b stays. What was seen goes into both.
        taken, left = u_a**2 / 2, u_a**2 / 2 + u_b**2
        seen = (
            lead
            + (truth - lead) * taken / (taken + left)
            + rng.normal(0, math.sqrt(taken * left / (taken + left)), truth.size)
        )
        right = np.mean(np.sign(seen) == np.sign(truth))
        assert found.after == pytest.approx(right, abs=0.005)

    def test_whoever_could_lead_is_looked_at_and_not_only_the_second(self):
        """The third was hardly tested: it is the one that may really be first."""
        a, b, c = entry("a", 1020, 2), entry("b", 1000, 2), Entry("c", {"max_thrust_gf": WIDE})
        found = settlings(score_cohort([a, b, c], [THRUST]), {})
        assert (found[0].motor, found[0].against) == ("c", "a")
        assert found[0].now == pytest.approx(
            0.5 * math.erfc(-25.0 / math.hypot(2, 40) / math.sqrt(2)), abs=1e-9
        )
        told = undecided(score_cohort([a, b, c], [THRUST]))
        assert (told.first, told.contender, told.largest) == ("a", "c", "repeat")

    def test_what_no_run_settles_is_told_with_its_reason(self):
        """Each motor on its own stand: a calibration each, and hardly any scatter."""
        told = undecided(self.leads(calibration=20.0, repeat=1.0))
        assert (told.largest, told.first, told.contender) == ("calibration", "a", "b")
        assert told.share == pytest.approx(400.0 / 401.0)
        assert told.now == pytest.approx(
            0.5 * math.erfc(-20.0 / math.sqrt(802.0) / math.sqrt(2)), abs=1e-9
        )

    def test_nothing_is_undecided_between_figures_without_u(self):
        assert isinstance(undecided(self.leads()), Absent)

    def test_one_motor_has_nothing_to_settle(self):
        assert isinstance(settlings(score_cohort([entry("a", 1, 0.1)], [THRUST]), {}), Absent)

    def test_figures_without_u_are_settled(self):
        a, b = Entry("a", {"max_thrust_gf": Measured(2.0)}), entry("b", 1.0, 0.0)
        assert settlings(score_cohort([a, b], [THRUST]), {}) == []
