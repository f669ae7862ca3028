"""How the heat of a motor's past fades, on which the separation of resistance from heat rests."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from spindle_core.identification.blocks import fading_integral


def _one_by_one(values, steps_s, constant_s):
    now, course = 0.0, []
    for value, step in zip(values.tolist(), steps_s.tolist(), strict=True):
        fade = math.exp(-step / constant_s)
        now = now * fade + constant_s * (1.0 - fade) * value
        course.append(now)
    return np.array(course)


@given(
    values=st.lists(st.floats(0.0, 1e4), min_size=1, max_size=200),
    unit_s=st.sampled_from([0.0, 1e-6, 1e-3, 0.1, 7.0, 500.0]),
    constant_s=st.sampled_from([0.03, 1.0, 10.0]),
    seed=st.integers(0, 99),
)
def test_heat_fades_whatever_the_steps_are(values, unit_s, constant_s, seed):
    held = np.array(values)
    # Equal stamps and pauses among them.
    steps = unit_s * np.random.default_rng(seed).choice([0.0, 1.0, 1.0, 30.0], held.size)
    found = fading_integral(held, steps, constant_s)
    assert found == pytest.approx(_one_by_one(held, steps, constant_s), rel=1e-9, abs=1e-12)


def test_heat_of_an_hour_is_that_of_its_last_seconds():
    steps = np.full(400_000, 0.01)
    current = np.where(np.arange(400_000) < 399_000, 1e3, 4.0)
    found = fading_integral(current, steps, 1.0)
    # Ten time constants after 1,000 A² nothing of them is left but e^-10.
    assert found[398_999] == pytest.approx(1e3, rel=1e-9)
    assert found[-1] == pytest.approx(4.0 + 996.0 * math.exp(-10.0), rel=1e-6)


def test_a_sample_that_is_missing_stays_missing_from_there_on():
    found = fading_integral(np.array([1.0, math.nan, 1.0]), np.full(3, 0.1), 1.0)
    assert math.isfinite(found[0])
    assert np.isnan(found[1:]).all()
