"""Cells that were never run: what is foreseen of them holds as often as it says."""

import math

import numpy as np
import pytest

from spindle_core.compare.delta import K_95
from spindle_core.compare.factor_table import factor_table
from spindle_core.figures.measured import Absent, Measured, component


def drawn(rng, motors, props, *, interaction, scatter=0.0, gain=0.0, leave_out=1):
    """A true table and what a bench saw of it; some cells, no row of them whole, were never run."""
    level = {m: rng.normal(0.0, 0.2) for m in motors}
    of_prop = {p: rng.normal(0.0, 0.2) for p in props}
    off = gain * rng.standard_normal()
    true, cells = {}, {}
    keys = [(m, p) for m in motors for p in props]
    for m, p in keys:
        true[m, p] = 1000.0 * math.exp(level[m] + of_prop[p] + interaction * rng.standard_normal())
    never = {keys[-1 - 4 * i] for i in range(leave_out)}
    for m, p in (key for key in keys if key not in never):
        seen = true[m, p] * (1.0 + scatter * rng.standard_normal()) * (1.0 + off)
        own = {component("repeat", f"{m}{p}"): scatter * seen} if scatter else {}
        shared = {component("calibration", "stand"): gain * seen} if gain else {}
        cells[m, p] = Measured(seen, {**own, **shared})
    return true, cells


def held(tables):
    """Share of foreseen cells whose 95 % interval holds what is true."""
    inside = total = 0
    for true, cells in tables:
        table = factor_table(cells)
        assert not isinstance(table, Absent)
        for key, figure in table.predicted.items():
            inside += abs(figure.value - true[key]) <= K_95 * figure.u
            total += 1
    return inside / total


@pytest.mark.parametrize(
    ("motors", "props", "leave_out"),
    [("abc", "xy", 1), ("ab", "xyz", 1), ("abcd", "xyz", 1), ("abcd", "xyz", 3)],
)
@pytest.mark.parametrize(("scatter", "gain"), [(0.0, 0.0), (0.008, 0.0), (0.008, 0.02)])
def test_a_foreseen_cell_holds_also_where_one_cell_judges_the_fit(
    motors, props, leave_out, scatter, gain
):
    rng = np.random.default_rng(7)
    tables = [
        drawn(rng, motors, props, interaction=0.01, scatter=scatter, gain=gain, leave_out=leave_out)
        for _ in range(600)
    ]
    share = held(tables)
    assert share >= 0.94
    if len(motors) > 3:
        # Where one cell judges it is rather too wide than too narrow.
        assert share <= 0.98


def test_luck_does_not_make_it_surer_than_its_cells():
    """A fit that leaves nothing over by chance: what the cells scatter by stays."""
    cells = {
        (m, p): Measured(value, {component("repeat", f"{m}{p}"): 0.01 * value})
        for (m, p), value in {
            ("a", "x"): 1000.0,
            ("a", "y"): 1100.0,
            ("b", "x"): 900.0,
            ("b", "y"): 990.0,
            ("c", "x"): 800.0,
        }.items()
    }
    table = factor_table(cells)
    foreseen = table.predicted["c", "y"]
    assert foreseen.value == pytest.approx(880.0)
    # c on x, and what y does: one cell and a difference of means of two.
    assert 0.01 * 880.0 * math.sqrt(1.0 + 1.0) <= foreseen.u <= 0.02 * 880.0
    assert table.motor_effect_pct["a"].u > 0.5


def bent_table(bend):
    """Four motors on three propellers whose effects take from each other."""
    of_motor = dict(zip("abcd", (-0.2, -0.05, 0.05, 0.2), strict=True))
    of_prop = dict(zip("xyz", (-0.2, 0.0, 0.2), strict=True))
    return {
        (m, p): 1000.0 * math.exp(a + b + bend * a * b)
        for m, a in of_motor.items()
        for p, b in of_prop.items()
    }


@pytest.mark.parametrize("bend", [-0.8, -0.3, 0.0, 0.3])
def test_the_corner_is_not_foreseen_as_if_effects_just_added(bend):
    """The strongest motor on the heaviest propeller, where both pull the supply down."""
    true = bent_table(bend)
    cells = {
        at: Measured(value, {component("repeat", "".join(at)): 0.004 * value})
        for at, value in true.items()
        if at != ("d", "z")
    }
    (foreseen,) = factor_table(cells).predicted.values()
    off = foreseen.value / true["d", "z"] - 1.0
    assert abs(off) <= K_95 * foreseen.relative_u
    # The cells say some of it themselves: effects that only add are further off.
    rows = np.array([[m == one for one in "abcd"] + [p == one for one in "yz"] for m, p in cells])
    y = np.log([figure.value for figure in cells.values()])
    added, *_ = np.linalg.lstsq(rows.astype(float), y, rcond=None)
    plain = math.exp(added[3] + added[5]) / true["d", "z"] - 1.0
    assert abs(off) < 0.9 * abs(plain) + 1e-9
    # A cell in the middle hangs on no bend.
    middle = {at: figure for at, figure in cells.items() if at != ("b", "y")}
    middle["d", "z"] = Measured(true["d", "z"])
    assert factor_table(middle).predicted["b", "y"].u < 0.8 * foreseen.u


def test_what_all_cells_share_stays_in_a_foreseen_cell_and_leaves_an_effect():
    """A stand that reads 2 % high makes the foreseen thrust 2 % high, and no propeller better."""
    rng = np.random.default_rng(3)
    _, cells = drawn(rng, "abcd", "xyz", interaction=0.002, gain=0.02)
    table = factor_table(cells)
    (foreseen,) = table.predicted.values()
    key = component("calibration", "stand")
    assert foreseen.components[key] == pytest.approx(0.02 * foreseen.value, rel=1e-6)
    for effect in (*table.motor_effect_pct.values(), *table.propeller_effect_pct.values()):
        assert effect.components.get(key, 0.0) == pytest.approx(0.0, abs=1e-9)


def test_a_motor_known_by_one_sample_carries_it_into_its_foreseen_cells_only():
    """What its sample differs by from the model is in all of its cells alike."""
    rng = np.random.default_rng(5)
    _, cells = drawn(rng, "abc", "xyz", interaction=0.001)
    key = component("between_samples", "c")
    for at, figure in list(cells.items()):
        if at[0] == "c":
            cells[at] = figure.with_component(key, 0.03 * figure.value)
    table = factor_table(cells)
    ((at, foreseen),) = table.predicted.items()
    assert at[0] == "c"
    assert foreseen.components[key] == pytest.approx(0.03 * foreseen.value, rel=1e-6)
    others = {at: figure for at, figure in cells.items() if at not in {("a", "x")}}
    assert factor_table(others).predicted["a", "x"].components.get(key, 0.0) == pytest.approx(
        0.0, abs=0.002 * 1000.0
    )
