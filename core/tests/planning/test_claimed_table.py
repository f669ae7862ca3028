"""A row of a maker's table, foreseen: what it rests on, and how little is known of it."""

from __future__ import annotations

import pytest

from spindle_core.figures.measured import Absent, Measured
from spindle_core.planning.claimed_table import (
    CELL_V,
    best_known,
    foreseen_load,
    propeller_by_words,
    table_supply,
)
from spindle_core.planning.known import Foundation, KnownMotor, KnownPropeller

AIR = Measured(1.2, {"air": 0.006})


def motor(basis=Foundation.IDENTIFIED, relative=0.01):
    return KnownMotor(
        Measured(1900.0, {"fit@m": relative * 1900.0}),
        Measured(0.060, {"own": relative * 0.060}),
        Measured(1.0, {"idle": 0.1}),
        0.0,
        Measured(2e-6, {"warming": 1e-6}),
        8.0,
        basis,
        "as it was run",
    )


def propeller(relative=0.01):
    return KnownPropeller(
        5.1,
        Measured(0.19, {"ct": relative * 0.19}),
        Measured(0.12, {"cp": relative * 0.12}),
        Foundation.IDENTIFIED,
        "identified from 3 runs",
    )


def foreseen(cells=4, **known):
    figures, words = foreseen_load(
        known.get("motor", motor()),
        known.get("propeller", propeller()),
        cells=cells,
        density_kg_per_m3=AIR,
    )
    return figures, words


def test_the_voltage_that_nobody_said_is_most_of_what_is_not_known():
    figures, words = foreseen()
    assert "identified from 3 runs" in words
    current = figures["current_a"]
    assert 20.0 < current.value < 60.0
    assert current.assumed
    # From 3.7 to 4.2 V a cell current goes with V² or a little less: some 7 % of u.
    assert 0.04 < current.relative_u < 0.12
    assert abs(current.component("assumed_cell_voltage")) > 0.7 * current.u


def test_nominal_and_full_cells_lie_within_what_is_foreseen():
    middle = table_supply(4).open_circuit_v
    assert middle.value == pytest.approx(4 * CELL_V)
    for cell_v in (3.7, 4.2):
        assert abs(4 * cell_v - middle.value) < 2 * middle.u


def test_a_propeller_nobody_ran_makes_it_a_guess():
    guessed = propeller_by_words("5.1x4.2x3")
    assert isinstance(guessed, KnownPropeller)
    vague, _ = foreseen(propeller=guessed)
    sharp, _ = foreseen()
    assert vague["current_a"].u > 1.5 * sharp["current_a"].u
    assert abs(vague["current_a"].value - sharp["current_a"].value) < 2 * vague["current_a"].u


@pytest.mark.parametrize(
    ("words", "reason"),
    [
        ("", "no_geometry"),
        ("the big one", "no_geometry"),
        ("9 inch", "no_geometry"),
        ("5x4", "ambiguous"),
        ("2540", "ambiguous"),
    ],
)
def test_words_that_tell_no_propeller(words, reason):
    found = propeller_by_words(words)
    assert isinstance(found, Absent)
    assert found.reason == reason


def test_of_several_samples_the_best_known_counts():
    run, like, guess = (
        motor(basis) for basis in (Foundation.IDENTIFIED, Foundation.SIBLINGS, Foundation.GUESSED)
    )
    assert best_known([Absent("x"), guess, like, run]) is run
    assert best_known([guess, like]) is like
    assert best_known([Absent("no_label", "no kV")]).note == "no kV"
    assert best_known([]).reason == "no_sample"


def test_what_will_not_turn_is_absent_with_its_reason():
    stuck, _ = foreseen(
        motor=KnownMotor(
            Measured(1900.0),
            Measured(5.0),
            Measured(50.0),
            0.0,
            Measured(2e-6),
            8.0,
            Foundation.GUESSED,
            "a brick",
        ),
        cells=1,
    )
    assert isinstance(stuck["current_a"], Absent)
    assert stuck["current_a"].note
