"""Repeats, degrees of freedom, groups that perform the same, factor tables and dominance."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from spindle_core.compare.delta import Outcome, against_previous, compare
from spindle_core.compare.factor_table import factor_table
from spindle_core.compare.groups import benjamini_hochberg, equivalence_p, performs_the_same
from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Measured
from spindle_core.figures.repeats import (
    coverage_factor,
    effective_freedom,
    pooled_spread,
    spread_of_repeats,
)
from spindle_core.intake.peers import Loading, loading, peers, percentile, suitability_window
from spindle_core.model.operating_point import Motor, Propeller
from spindle_core.rank.dominance import Priced, dominated, marginal_price
from spindle_core.reduction.overrun import overruns, recommendable
from spindle_core.reduction.result import Point


def test_repeats_of_the_worked_example():
    spread = spread_of_repeats([1182.0, 1169.0, 1175.0])
    assert spread.mean.value == pytest.approx(1175.3, abs=0.05)
    assert spread.s == pytest.approx(6.5, abs=0.05)
    assert spread.mean.u == pytest.approx(3.8, abs=0.05)
    assert spread.exceeds is None


def test_spread_beyond_the_stands_repeatability_is_flagged():
    assert spread_of_repeats([1182.0, 1169.0, 1175.0], repeatability=0.006).exceeds is False
    wild = spread_of_repeats([1182.0, 1120.0, 1175.0], repeatability=0.006)
    assert wild.exceeds is True
    assert wild.p_value < 0.001


def test_chi_squared_flags_five_percent_of_good_repeats():
    rng = np.random.default_rng(1)
    flagged = [
        spread_of_repeats(rng.normal(1000.0, 8.0, 4).tolist(), repeatability=0.008).exceeds
        for _ in range(2000)
    ]
    assert np.mean(flagged) == pytest.approx(0.05, abs=0.015)


def test_pooled_spread_and_its_freedom():
    pooled = pooled_spread([[100.0, 102.0], [50.0, 50.0, 53.0], [7.0]])
    assert pooled.freedom == 3
    squares = 2 * (1 / 101) ** 2 + 2 * (1 / 51) ** 2 + (2 / 51) ** 2
    assert pooled.relative_s == pytest.approx(np.sqrt(squares / 3))
    assert pooled_spread([[1.0], [2.0]]) is None


def test_coverage_factors_are_students():
    assert coverage_factor(0.95) == pytest.approx(1.95996, abs=1e-4)
    assert coverage_factor(0.95, 4) == pytest.approx(2.776, abs=1e-3)
    assert coverage_factor(0.90, 10) == pytest.approx(1.812, abs=1e-3)


def test_welch_satterthwaite():
    figure = Measured(10.0, {"repeat@a": 3.0, "within_run@b": 4.0, "calibration@c": 0.0})
    nu = effective_freedom(figure, {"repeat": 2.0, "within_run": 3.0})
    assert nu == pytest.approx(5.0**4 / (3.0**4 / 2 + 4.0**4 / 3))
    assert effective_freedom(figure, {}) == np.inf
    assert effective_freedom(figure, {"repeat": np.inf}) == np.inf
    assert effective_freedom(figure, {"tare": 2.0}) == np.inf
    # Known for certain beside few repeats: 4 of 5 parts in u.
    assert effective_freedom(figure, {"repeat": 5.0}) == pytest.approx(625 * 5 / 81)


def test_one_pooled_spread_is_one_term_however_often_it_counts():
    """One s with ν = 2 in both runs and on both axes still has two degrees of freedom."""
    parts = {f"repeat@{run}/{axis}": 2.0 for run in "ab" for axis in ("thrust_gf", "power_w")}
    assert effective_freedom(Measured(10.0, parts), {"repeat": 2.0}) == pytest.approx(2.0)


def test_two_equal_motors_are_called_different_in_five_of_a_hundred():
    """s pooled from three repeats (ν = 2), four times in the difference: 13 % before."""
    rng = np.random.default_rng(8)
    different = 0
    for _ in range(2000):
        pooled = pooled_spread([(1000.0 + 8.0 * rng.standard_normal(3)).tolist()])
        runs = []
        for name in "ab":
            thrust, power = 0.008 * rng.standard_normal(2)
            parts = {
                f"repeat@{name}/power_w": 200.0 * pooled.relative_s,
                f"repeat@{name}/thrust_gf": -1.5 * 200.0 * pooled.relative_s,
            }
            runs.append(Measured(200.0 * (1.0 + power - 1.5 * thrust), parts))
        delta = compare(*runs, freedom={"repeat": float(pooled.freedom)})
        different += delta.outcome is Outcome.DIFFERENT
    assert 0.03 <= different / 2000 <= 0.065


def test_three_equal_runs_do_not_repeat_to_nothing():
    pooled = pooled_spread([[1182.0, 1182.0, 1182.0]])
    assert pooled.relative_s == pytest.approx(1 / 1182 / np.sqrt(12))
    assert pooled_spread([[1182.0] * 3], resolution=10.0).relative_s == pytest.approx(
        10 / 1182 / np.sqrt(12)
    )
    spread = spread_of_repeats([1182.0] * 3, repeatability=0.01)
    assert (spread.s, spread.exceeds) == (0.0, False)
    assert spread.mean.u == pytest.approx(1 / np.sqrt(12) / np.sqrt(3))


def test_few_repeats_make_equivalence_harder_to_show():
    delta = Measured(0.0, {"repeat@a": 1.0})
    certain = equivalence_p(delta, 2.0)
    assert certain == pytest.approx(0.02275, abs=1e-4)
    # Student's t with two degrees of freedom: P(t > 2) = 0.0918.
    assert equivalence_p(delta, 2.0, freedom={"repeat": 2.0}) == pytest.approx(0.0918, abs=1e-4)
    cohort = {n: {"thrust_gf": Measured(1000.0, {f"repeat@{n}": 5.0})} for n in "ab"}
    assert performs_the_same(cohort).groups == (("a", "b"),)
    assert performs_the_same(cohort, freedom={"repeat": 2.0}).groups == ()


def test_few_repeats_widen_the_interval_of_a_comparison():
    a, b = Measured(103.0, {"repeat@a": 1.0}), Measured(100.0, {"repeat@b": 1.0})
    assert compare(a, b).outcome is Outcome.DIFFERENT
    assert compare(a, b, freedom={"repeat": 2.0}).outcome is Outcome.UNRESOLVED
    deltas = against_previous([b, a, Measured(101.0, {"repeat@c": 1.0})])
    assert [round(d.delta_pct, 2) for d in deltas] == [3.0, -1.94]


def figures(value, u, shared=0.0, name="x"):
    return {"thrust_gf": Measured(value, {f"repeat@{name}": u, "calibration@cell": shared * value})}


def test_groups_join_only_what_was_shown_to_be_equal():
    cohort = {
        "a": figures(1000.0, 2.0, 0.005, "a"),
        "b": figures(1002.0, 2.0, 0.005, "b"),
        "c": figures(998.0, 2.0, 0.005, "c"),
        "d": figures(1060.0, 2.0, 0.005, "d"),
        "e": figures(1001.0, 40.0, 0.005, "e"),
    }
    found = performs_the_same(cohort)
    assert found.groups == (("a", "b", "c"),)  # e is not known to differ, and not known to be equal


def test_complete_linkage_does_not_chain():
    chain = {n: figures(v, 0.5, 0, n) for n, v in (("a", 1000.0), ("b", 1015.0), ("c", 1030.0))}
    groups = performs_the_same(chain).groups
    assert len(groups) == 1
    assert len(groups[0]) == 2


def test_every_shared_figure_must_agree():
    a = {**figures(1000, 2, 0, "a"), "rise_k": Measured(30.0, {"repeat@a": 0.1})}
    b = {**figures(1001, 2, 0, "b"), "rise_k": Measured(35.0, {"repeat@b": 0.1})}
    assert performs_the_same({"a": a, "b": b}).groups == ()


def test_benjamini_hochberg_by_hand():
    # Thresholds 0.0125, 0.025, 0.0375, 0.05: the third fits its own, so the first three count.
    assert benjamini_hochberg([0.04, 0.001, 0.03, 0.2], 0.05) == [False, True, False, False]
    assert benjamini_hochberg([0.035, 0.001, 0.03, 0.2], 0.05) == [True, True, True, False]
    assert equivalence_p(Measured(0.0, {"a": 1.0}), 1.645) == pytest.approx(0.05, abs=1e-3)


@given(st.lists(st.floats(900, 1100), min_size=2, max_size=7))
def test_members_of_a_group_are_always_equivalent_pairwise(values):
    cohort = {f"m{i}": figures(v, 1.0, 0, f"m{i}") for i, v in enumerate(values)}
    for group in performs_the_same(cohort).groups:
        inside = [cohort[name]["thrust_gf"].value for name in group]
        assert max(inside) - min(inside) <= 0.02 * max(inside)


def test_factor_table_recovers_effects_and_fills_cells():
    rng = np.random.default_rng(2)
    truth = {
        (m, p): Measured(1000.0 * fm * fp * np.exp(rng.normal(0, 0.002)))
        for m, fm in (("A", 1.0), ("B", 1.1), ("C", 0.95))
        for p, fp in (("light", 0.8), ("mid", 1.0), ("heavy", 1.15))
    }
    missing = truth.pop(("C", "heavy"))
    table = factor_table(truth)
    predicted = table.predicted["C", "heavy"]
    assert abs(predicted.value - missing.value) < 3 * predicted.u
    assert predicted.origin == "estimated"
    effects = table.propeller_effect_pct
    assert effects["heavy"].value > effects["mid"].value > effects["light"].value
    ratio = (1 + table.motor_effect_pct["B"].value / 100) / (
        1 + table.motor_effect_pct["A"].value / 100
    )
    assert ratio == pytest.approx(1.1, rel=0.005)


def test_factor_table_needs_linked_cells():
    two = {
        ("A", "p"): Measured(1.0),
        ("A", "q"): Measured(2.0),
        ("B", "r"): Measured(1.0),
        ("B", "s"): Measured(1.0),
        ("B", "t"): Measured(1.0),
    }
    assert isinstance(factor_table(two), Absent)


def test_dominance_and_its_sentence():
    choices = {
        "Drift": {
            "max_thrust_gf": Measured(1200.0, {"a": 5.0}),
            "mass_g": Measured(31.0),
            "price": Measured(20.0),
        },
        "Lump": {
            "max_thrust_gf": Measured(1100.0, {"b": 5.0}),
            "mass_g": Measured(33.0),
            "price": Measured(24.0),
        },
        "Feather": {
            "max_thrust_gf": Measured(1000.0, {"c": 5.0}),
            "mass_g": Measured(26.0),
            "price": Measured(24.0),
        },
    }
    found = dominated(choices)
    assert [(d.better, d.worse) for d in found] == [("Drift", "Lump")]
    assert found[0].confidence > 0.99
    assert found[0].sentence.startswith("Choose Drift; Lump is behind")
    level = {
        "A": {"x": Measured(10.0), "y": Measured(5.0)},
        "B": {"x": Measured(10.0), "y": Measured(4.0)},
    }
    assert dominated(level)[0].only_if == ("x",)


def test_marginal_price():
    def priced(name, price, mass, figure, relative=0.005):
        parts = {f"repeat@{name}": relative * figure, "calibration@stand": 0.05 * figure}
        return Priced(name, price, Measured(mass, {f"scale@{name}": 0.1}), Measured(figure, parts))

    dear, cheap = priced("dear", 25.0, 30.0, 1250.0), priced("cheap", 20.0, 32.0, 1200.0)
    cost = marginal_price(dear, cheap)
    assert marginal_price(cheap, dear) == cost
    assert cost.per_gram_saved.value == pytest.approx(2.5)
    # 2 ± 0.14 g are saved, so each is paid for to 7 %.
    assert cost.per_gram_saved.relative_u == pytest.approx(0.1 * 2**0.5 / 2)
    gained = 100 * (1250 / 1200 - 1)
    assert cost.per_percent_gained.value == pytest.approx(5.0 / gained)
    # The stand's gain is both's: what is gained is known to 0.7 of its 4.2 %.
    assert cost.per_percent_gained.relative_u == pytest.approx(
        0.005 * 2**0.5 * 104.2 / gained, rel=0.01
    )
    heavier = marginal_price(priced("dear", 25.0, 33.0, 1250.0), cheap)
    assert heavier.per_gram_saved.reason == "no_saving"
    # A gram that may be none, and a per cent that may be none, have no price.
    level = marginal_price(priced("dear", 25.0, 31.9, 1205.0), cheap)
    assert level.per_gram_saved.reason == "no_saving"
    assert level.per_percent_gained.reason == "no_gain"
    assert (
        marginal_price(priced("a", 1.0, 1.0, 1.0), priced("b", 1.0, 2.0, 1.0)).reason
        == "same_price"
    )
    with pytest.raises(QuantityError):
        marginal_price(priced("a", 0.0, 1.0, 1.0), priced("b", 1.0, 2.0, 1.0))


def test_peers_and_percentile():
    mine = {"stator_volume_mm3": 2281.0, "mass_g": 31.0, "kv_rpm_per_v": 1900.0, "price": 22.0}
    others = {
        "near": {**mine, "kv_rpm_per_v": 1800.0, "mass_g": 32.5},
        "far": {"stator_volume_mm3": 616.0, "mass_g": 9.0, "kv_rpm_per_v": 4100.0},
        "unknown": {"mass_g": 31.0},
    }
    assert [peer.name for peer in peers(mine, others)] == ["near"]
    assert percentile(5.0, [1.0, 5.0, 9.0]) == 50.0
    assert isinstance(percentile(5.0, [1.0]), Absent)


def test_suitability_window_tells_light_from_heavy():
    good = [
        Loading(20_000, t, s, None)
        for t, s in zip((120, 125, 130, 135, 140), (0.7, 0.72, 0.74, 0.76, 0.78), strict=True)
    ]
    window = suitability_window(good)
    assert window.verdict(Loading(20_000, 130, 0.74, None)) == "suits"
    assert window.verdict(Loading(20_000, 130, 0.5, None)) == "too heavy"
    assert window.verdict(Loading(20_000, 130, 0.9, None)) == "too light"
    assert window.verdict(Loading(20_000, 200, 0.74, None)) == "tip too fast"
    found = loading(
        Motor(1900, 0.15, 1.2), Propeller(5.1, 0.21, 0.145), voltage_v=22.2, rated_current_a=40
    )
    assert found.loaded_rpm == pytest.approx(28_575, abs=1)
    assert found.current_share == pytest.approx(47.74 / 40, abs=1e-3)


def point(current, end):
    return Point({"current_a": Measured(current, {"w": 0.1})}, end - 3.0, end - 2.0, end, True)


def test_overruns_are_marked_timed_and_barred_unless_justified():
    points = [point(20.0, 10.0), point(27.0, 20.0), point(26.05, 30.0), point(25.0, 40.0)]
    found = overruns(points, {"current_a": 26.0}, smoke_at_s=39.0)
    assert [(o.point, o.seconds) for o in found] == [(1, 3.0), (3, 3.0)]
    assert found[0].reasons == ("current 27 above 26 A",)
    assert recommendable(points, found) == [points[0], points[2]]
    excused = overruns(points, {"current_a": 26.0}, justifications={1: "3 s burst, as in a race"})
    assert len(recommendable(points, excused)) == 4


def test_impossible_input_is_refused():
    with pytest.raises(QuantityError):
        performs_the_same({}, margin=0.0)
    with pytest.raises(QuantityError):
        factor_table({("a", "p"): Measured(-1.0)})
    with pytest.raises(QuantityError):
        coverage_factor(1.2)


def test_a_pair_below_nothing_is_judged_by_its_size():
    """A brake's −50 gf against −50.2: the margin is of their size, not of their sign."""
    same = {
        n: {"thrust_gf": Measured(v, {f"repeat@{n}": 0.05})}
        for n, v in (("a", -50.0), ("b", -50.2))
    }
    assert performs_the_same(same).groups == (("a", "b"),)
    apart = {"a": {"t": Measured(-50.0, {"r@a": 0.05})}, "b": {"t": Measured(50.0, {"r@b": 0.05})}}
    assert performs_the_same(apart).groups == ()
    nothing = {n: {"t": Measured(0.0, {f"r@{n}": 0.1})} for n in "ab"}
    assert performs_the_same(nothing).pairs == ()


@pytest.mark.parametrize("value", [0.5, -0.5])
def test_equivalence_looks_at_both_sides(value):
    assert equivalence_p(Measured(value, {"r": 0.2}), 1.0) == pytest.approx(0.00621, abs=1e-4)
    assert equivalence_p(Measured(4.0 * value, {"r": 0.2}), 1.0) > 0.999
    assert equivalence_p(Measured(4.0 * value), 1.0) == 1.0
    assert equivalence_p(Measured(value), 1.0) == 0.0
