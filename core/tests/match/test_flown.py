"""Flights against the stand: what is told, what is assumed aloud, and what no flight can say."""

import math
from dataclasses import replace

import pytest

from spindle_core.compare.delta import Outcome
from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Measured
from spindle_core.match.flown import (
    FEWEST,
    MASS_POWER,
    Flight,
    at_mass,
    factors_of,
    judge,
    pairs_of,
)

STAND = Measured(240.0, {"calibration@stand": 4.8})
"""4 cells of 1,300 mAh with 80 % flown are 15.39 Wh: 3.85 min at this power."""


def flight(key="1", minutes=3.8, **changed):
    usual = {
        "capacity_mah": 1300.0,
        "cells": 4,
        "hover_power_w": STAND,
        "put_back_mah": 1040.0,
        "mass_g": 650.0,
        "hover_share_pct": 80.0,
        "motor": "Drift",
        "propeller": "Light",
        "wind": "calm",
    }
    return Flight(key, minutes, **{**usual, **changed})


def test_minutes_and_a_pack_suffice():
    bare = Flight("1", 3.8, 1300.0, 4, STAND)
    assert bare.energy_wh.value == pytest.approx(1.3 * 4 * 3.7 * 0.8)
    assert bare.predicted_minutes.value == pytest.approx(60 * 15.392 / 240)
    assert bare.error_pct.value == pytest.approx(100 * (3.8 / 3.848 - 1), abs=0.01)
    assert bare.energy_wh.assumed
    # What nobody measured of the pack is most of what is not known.
    assert bare.error_pct.u > 7


def test_what_was_put_back_says_more():
    assert flight().energy_wh.u < 0.4 * Flight("1", 3.8, 1300.0, 4, STAND).energy_wh.u
    assert not any("usable" in key for key in flight().energy_wh.components)


def test_minutes_are_no_finer_than_they_were_typed():
    assert flight(minutes=4.0).minutes_figure.u > 2.5 * flight(minutes=4.02).minutes_figure.u
    assert flight(minutes=4.02).minutes_figure.u >= 0.1


@pytest.mark.parametrize(
    "bad",
    [
        {"minutes": 0.0},
        {"minutes": -1.0},
        {"minutes": math.nan},
        {"capacity_mah": 0.0},
        {"cells": 0},
        {"put_back_mah": 0.0},
        {"put_back_mah": 2000.0},
        {"usable": 0.0},
        {"usable": 1.2},
    ],
)
def test_what_no_flight_can_be_is_refused(bad):
    with pytest.raises(QuantityError):
        flight(**bad)


def test_a_flight_without_a_prediction_is_not_judged():
    unknown = flight(hover_power_w=Absent("not_run", "never run"))
    assert isinstance(unknown.error_pct, Absent)
    judged = judge([unknown])
    assert (judged.counted, judged.fits) == (0, "")
    assert "No flight can be held" in judged.says
    assert judge([unknown, flight()]).counted == 1


def test_no_flights_are_no_judgement():
    assert judge([]).counted == 0
    assert pairs_of([]) == []


def test_a_heavier_craft_hovers_at_more_power():
    heavier = at_mass(STAND, matched_g=600.0, flown_g=660.0)
    assert heavier.value == pytest.approx(240 * 1.1**MASS_POWER)
    assert heavier.u > STAND.u * 1.1**MASS_POWER
    assert at_mass(STAND, matched_g=600.0, flown_g=600.0).u == pytest.approx(STAND.u)
    for matched, flown in ((0.0, 1.0), (1.0, 0.0), (1.0, -5.0)):
        with pytest.raises(QuantityError):
            at_mass(STAND, matched_g=matched, flown_g=flown)


def test_more_flights_do_not_shrink_what_they_share():
    """The stand's calibration, the cells' voltage and the charger are the same in every flight."""
    one = judge([flight("1")]).error_pct
    many = judge([flight(str(i)) for i in range(25)]).error_pct
    shared = 100 * math.hypot(4.8 / 240, 0.05 / 3.7, 0.02)
    assert many.u >= 0.97 * shared
    assert many.u < one.u


def test_more_flights_do_not_shrink_the_habit_of_landing():
    """Nobody put back and measured: whether it is 80 % that was flown is one doubt for all."""
    many = judge([flight(str(i), put_back_mah=None) for i in range(25)]).error_pct
    assert many.u >= 0.97 * 100 * 0.06 / 0.8


def test_what_lies_within_what_is_not_known_refutes_nothing():
    """An error of twice u, of three flights: Student's k is 4.3."""
    flights = few(1.0 / 1.065, count=3)
    stand = judge(flights).schools[0]
    assert 1.5 * stand.error_pct.u < stand.error_pct.value < 3 * stand.error_pct.u
    assert not stand.refuted


def few(power, count=6, spread=0.01):
    """Flights whose mean power is ``power`` times the stand's, scattering a little."""
    made = []
    for i in range(count):
        drawn = 240 * power * (1 + spread * (-1) ** i)
        made.append(flight(str(i), round(60 * 1.04 * 4 * 3.7 / drawn, 2)))
    return made


def test_the_school_that_fits_is_named_and_the_others_refuted():
    judged = judge(few(0.80), less_current_pct=(15.0, 25.0))
    by = {one.key: one for one in judged.schools}
    assert by["stand"].refuted
    assert by["stand"].error_pct.value == pytest.approx(25, abs=0.5)
    assert not by["rule"].refuted
    assert judged.fits in ("rule", "learnt")
    assert "not told apart from it: " in judged.says
    assert "longer than on the stand" in judged.says
    wrong = judge(few(1.15), less_current_pct=(15.0, 25.0))
    by = {one.key: one for one in wrong.schools}
    assert by["rule"].refuted
    assert wrong.fits == "learnt"
    assert "shorter" in wrong.says
    assert "not told apart" not in wrong.says
    assert "what its own flights say, × 1.1" in wrong.says
    assert by["learnt"].factor.value == pytest.approx(1.15, rel=0.01)


def test_where_every_school_still_stands_none_is_said_to_fit():
    judged = judge(few(1.0), less_current_pct=(0.0, 4.0))
    assert not any(one.refuted for one in judged.schools)
    assert judged.fits == ""
    assert "No school is told apart" in judged.says


def test_two_flights_are_too_few_for_a_school():
    judged = judge(few(0.8, count=FEWEST - 1))
    assert [one.key for one in judged.schools] == ["stand"]
    assert judged.fits == ""
    assert "3 flights say which school fits" in judged.says


def test_a_learnt_school_is_tried_on_flights_that_it_has_not_seen():
    """Three alike and one that was thrown about: foreseen from the others it is far off."""
    flights = [*few(0.8, count=3, spread=0.0), replace(flight("wild"), minutes=2.0)]
    learnt = judge(flights).schools[-1]
    assert learnt.key == "learnt"
    seen = [one.to_stand.value for one in flights]
    off = [(sum(seen) - own) / (len(seen) - 1) / own - 1.0 for own in seen]
    assert learnt.rms_pct == pytest.approx(100 * math.sqrt(sum(one**2 for one in off) / len(off)))


@pytest.mark.parametrize("rule", [(-1.0, 5.0), (30.0, 20.0), (0.0, 100.0)])
def test_a_rule_that_cannot_be_is_refused(rule):
    with pytest.raises(QuantityError):
        judge([flight()], less_current_pct=rule)


def test_two_kinds_of_flight_that_differ_in_one_thing_are_compared():
    light = [flight(str(i), 4.0 + 0.02 * i) for i in range(3)]
    heavy = [flight(f"p{i}", 3.0 + 0.02 * i, propeller="Heavy") for i in range(3)]
    (pair,) = pairs_of([*light, *heavy])
    assert pair.factor == "propeller"
    assert pair.values == ("Light", "Heavy")
    assert pair.minutes_delta.outcome is Outcome.DIFFERENT
    assert pair.minutes_delta.delta_pct == pytest.approx(-25, abs=1)
    assert pair.unknown == ()


def test_what_differs_in_two_things_or_in_what_one_did_not_note_is_not():
    assert pairs_of([flight("1"), flight("2", propeller="Heavy", wind="windy")]) == []
    assert pairs_of([flight("1"), flight("2", wind="")]) == []
    unnoted = [flight("1", wind=""), flight("2", wind="", propeller="Heavy")]
    (pair,) = pairs_of(unnoted)
    assert pair.unknown == ("wind",)


def test_single_flights_are_told_apart_only_beyond_what_flights_scatter():
    near = pairs_of([flight("1", 5.02), flight("2", 5.62, propeller="Heavy")])
    assert near[0].minutes_delta.outcome is Outcome.UNRESOLVED
    assert near[0].minutes[0].assumed
    far = pairs_of([flight("1", 4.0), flight("2", 6.5, propeller="Heavy")])
    assert far[0].minutes_delta.outcome is Outcome.DIFFERENT


def test_craft_that_weigh_alike_are_alike():
    assert factors_of(flight(mass_g=650.0))["mass"] == factors_of(flight(mass_g=652.0))["mass"]
    assert factors_of(flight(mass_g=650.0))["mass"] != factors_of(flight(mass_g=720.0))["mass"]
    assert factors_of(flight(mass_g=None, hover_share_pct=None))["mass"] == ""
