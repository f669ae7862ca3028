"""A stand against known masses, and a check mass at the start of a day."""

from __future__ import annotations

import math

import numpy as np
import pytest

from spindle_core.errors import QuantityError
from spindle_core.run.calibration import AppliedLoad, calibrate
from spindle_core.run.check_mass import check_mass
from spindle_core.run.scale import DeadWeight, Geometry, Lever

PLAIN = Geometry("plain")
MASSES = (0.0, 200.0, 500.0, 1000.0, 1500.0, 2000.0)


def loads(gain=1.0, offset=0.0, hysteresis=0.0, noise=0.0, seed=1, masses=MASSES, both=True):
    rng = np.random.default_rng(seed)
    found = [AppliedLoad(m, offset + gain * m + noise * rng.normal(), "up") for m in masses]
    if both:
        found += [
            AppliedLoad(m, offset + gain * m + hysteresis + noise * rng.normal(), "down")
            for m in reversed(masses)
        ]
    return found


def codes(found):
    return {remark.code for remark in found.remarks}


def test_a_line_by_hand():
    # Masses 0, 100, 200 read 1, 103, 205: gain 1.02, offset 1, no residual.
    found = calibrate(
        [AppliedLoad(0, 1), AppliedLoad(100, 103), AppliedLoad(200, 205)],
        geometry=PLAIN,
        step_g=1.0,
        masses_relative_u=0.0,
    )
    assert (found.gain, found.offset_gf) == (pytest.approx(1.02), pytest.approx(1.0))
    assert found.residuals_gf == pytest.approx((0.0, 0.0, 0.0), abs=1e-9)
    # One degree of freedom: the last digit, widened by t 12.706 over 1.96.
    s = 1.0 / math.sqrt(12.0) * 12.7062 / 1.96
    assert found.u_gain == pytest.approx(s / math.sqrt(20000.0), rel=1e-4)
    assert found.u_offset_gf == pytest.approx(s * math.sqrt(1 / 3 + 1e4 / 2e4), rel=1e-4)
    assert found.linearity_gf == pytest.approx(0.0, abs=1e-9)
    assert (found.hysteresis_gf, found.repeatability_gf) == (None, None)
    gain_part = 0.02 / math.sqrt(3.0)
    assert found.relative_u == pytest.approx(math.hypot(found.u_gain / 1.02, gain_part), rel=1e-4)
    assert codes(found) == {"few_masses", "one_way"}


def test_readings_that_agree_are_known_to_their_last_digit_only():
    fine = calibrate(loads(), geometry=PLAIN, step_g=0.1, masses_relative_u=0.0)
    coarse = calibrate(loads(), geometry=PLAIN, step_g=5.0, masses_relative_u=0.0)
    assert 0 < fine.u_gain < coarse.u_gain
    assert coarse.u_gain / fine.u_gain == pytest.approx(50.0)


def test_a_gain_that_nobody_set_right_stays_in_u_and_is_said():
    found = calibrate(loads(gain=0.97, noise=0.3), geometry=PLAIN, step_g=0.1)
    assert found.relative_u > 0.03 / math.sqrt(3.0)
    assert "gain" in codes(found)
    said = next(remark.message for remark in found.remarks if remark.code == "gain")
    assert "3 % too little" in said
    right = calibrate(loads(noise=0.3), geometry=PLAIN, step_g=0.1)
    assert "gain" not in codes(right)
    assert right.relative_u < 0.004


def test_masses_that_nobody_certified_are_assumed_aloud():
    assumed = calibrate(loads(), geometry=PLAIN, step_g=0.1)
    certified = calibrate(loads(), geometry=PLAIN, step_g=0.1, masses_relative_u=1e-4)
    assert "masses_assumed" in codes(assumed)
    assert "masses_assumed" not in codes(certified)
    assert assumed.relative_u == pytest.approx(0.002, rel=0.05)
    assert certified.relative_u < 2.5e-4


def test_what_sticks_shows_between_up_and_down():
    found = calibrate(loads(hysteresis=6.0), geometry=PLAIN, step_g=0.1, masses_relative_u=0.0)
    assert found.hysteresis_gf == pytest.approx(6.0)
    assert found.relative_u > 6.0 / math.sqrt(12.0) / 2000.0
    one_way = calibrate(loads(both=False), geometry=PLAIN, step_g=0.1)
    assert one_way.hysteresis_gf is None
    assert "one_way" in codes(one_way)


def test_like_readings_tell_the_repeatability():
    twice = [*loads(both=False), *(AppliedLoad(m, m + 2.0) for m in MASSES)]
    found = calibrate(twice, geometry=PLAIN, step_g=0.1)
    assert found.repeatability_gf == pytest.approx(2.0 / math.sqrt(2.0))


def test_a_bent_stand_is_not_linear():
    bent = [AppliedLoad(m, m + 8.0 * math.sin(math.pi * m / 2000.0)) for m in MASSES]
    found = calibrate(bent, geometry=PLAIN, step_g=0.1, masses_relative_u=0.0)
    assert found.linearity_gf > 3.0
    assert found.relative_u > found.linearity_gf / math.sqrt(3.0) / 2000.0


def test_a_lever_and_its_weights_are_reckoned_before_the_line():
    arm = Geometry("arm", lever=Lever(168.0, 112.0), weights=(DeadWeight("plate", 131.0),))
    # 1.5 g on the scale for each gram pulled, less the plate that holds it down.
    rows = [AppliedLoad(m, 1.5 * m - 131.0) for m in MASSES]
    found = calibrate(rows, geometry=arm, step_g=1.0, masses_relative_u=0.0)
    assert found.gain == pytest.approx(1.0)
    assert found.offset_gf == pytest.approx(0.0, abs=1e-9)
    lifting = Geometry("lift", lifts=True, rest_g=3000.0)
    found = calibrate([AppliedLoad(m, 3000.0 - m) for m in MASSES], geometry=lifting, step_g=1.0)
    assert found.gain == pytest.approx(1.0)


def test_a_direction_declared_the_wrong_way_is_said():
    found = calibrate([AppliedLoad(m, 3000.0 - m) for m in MASSES], geometry=PLAIN, step_g=1.0)
    assert found.gain == pytest.approx(-1.0)
    assert "reversed" in codes(found)
    assert found.relative_u > 1.0


def test_u_of_the_gain_covers_it():
    masses = (0.0, 400.0, 900.0, 1500.0)
    held = 0
    for seed in range(200):
        rows = loads(noise=2.0, seed=seed, masses=masses, both=False)
        found = calibrate(rows, geometry=PLAIN, step_g=1.0)
        held += abs(found.gain - 1.0) <= 1.96 * found.u_gain
    assert 180 <= held <= 198


@pytest.mark.parametrize(
    ("rows", "step", "masses_u", "said"),
    [
        ([AppliedLoad(0, 0), AppliedLoad(100, 100)], 1.0, None, "3 different masses"),
        ([AppliedLoad(100, 100)] * 5, 1.0, None, "1 were given"),
        ([], 1.0, None, "0 were given"),
        (
            [AppliedLoad(0, 0), AppliedLoad(100, math.nan), AppliedLoad(200, 200)],
            1.0,
            None,
            "numbers",
        ),
        (
            [AppliedLoad(-5, 0), AppliedLoad(100, 100), AppliedLoad(200, 200)],
            1.0,
            None,
            "0 g or more",
        ),
        ([AppliedLoad(0, 0), AppliedLoad(100, 100), AppliedLoad(200, 200)], 0.0, None, "step"),
        ([AppliedLoad(0, 0), AppliedLoad(100, 100), AppliedLoad(200, 200)], math.inf, None, "step"),
        (
            [AppliedLoad(0, 7), AppliedLoad(100, 7), AppliedLoad(200, 7)],
            1.0,
            None,
            "nothing reaches",
        ),
        ([AppliedLoad(0, 0), AppliedLoad(100, 100), AppliedLoad(200, 200)], 1.0, -0.1, "50 %"),
    ],
)
def test_what_is_no_calibration(rows, step, masses_u, said):
    with pytest.raises(QuantityError, match=said):
        calibrate(rows, geometry=PLAIN, step_g=step, masses_relative_u=masses_u)


def test_a_check_mass_within_and_beyond_its_u():
    plain = {"geometry": PLAIN, "relative_u": 0.004, "step_g": 1.0}
    near = check_mass(mass_g=500.0, reading_g=502.0, **plain)
    # u = sqrt((0.004 · 500)² + 1/12) = 2.0207
    assert near.u_gf == pytest.approx(2.0207, abs=1e-4)
    assert (near.difference_gf, near.moved, near.assumed) == (2.0, False, False)
    assert "as its uncertainty allows" in near.sentence
    assert not check_mass(mass_g=500.0, reading_g=504.0, **plain).moved
    far = check_mass(mass_g=500.0, reading_g=495.9, **plain)
    assert far.moved
    assert "calibrate anew" in far.sentence


def test_a_stand_that_nobody_declared_is_checked_with_what_is_assumed():
    found = check_mass(mass_g=500.0, reading_g=503.0, geometry=PLAIN, relative_u=None, step_g=1.0)
    assert found.assumed
    assert found.u_gf == pytest.approx(math.hypot(5.0 / math.sqrt(3.0), 1 / math.sqrt(12.0)))
    assert "±1 %" in found.sentence


def test_a_check_goes_through_the_lever():
    arm = Geometry("arm", lever=Lever(168.0, 112.0))
    found = check_mass(mass_g=600.0, reading_g=900.0, geometry=arm, relative_u=0.01, step_g=3.0)
    assert found.difference_gf == pytest.approx(0.0, abs=1e-9)
    assert found.u_gf == pytest.approx(math.hypot(6.0, 2.0 / math.sqrt(12.0)))


@pytest.mark.parametrize("mass", [0.0, -5.0, math.nan, math.inf])
def test_a_check_needs_a_mass(mass):
    with pytest.raises(QuantityError, match="mass above 0"):
        check_mass(mass_g=mass, reading_g=1.0, geometry=PLAIN, relative_u=0.01, step_g=1.0)
