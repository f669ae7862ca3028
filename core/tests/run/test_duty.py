"""What share of the supply the motor saw: one rule for every station."""

import math

import pytest

from spindle_core.run.duty import known_duty


@pytest.mark.parametrize(
    ("duty", "throttle_pct", "esc_linear", "expected"),
    [
        (0.42, 100.0, None, 0.42),  # what was logged stands for itself
        (1.0, None, None, 1.0),
        (1.3, 100.0, True, None),  # no duty at all, and then the throttle is no better
        (0.02, None, True, None),
        (math.nan, 50.0, True, 0.5),  # not logged
        (None, 99.0, None, 1.0),
        (None, 98.9, None, None),  # below full throttle only a linear ESC tells
        (None, 98.9, False, None),
        (None, 98.0, True, 0.98),
        (None, 2.0, True, None),
        (None, 2.1, True, 0.021),
        (None, math.nan, True, None),
        (None, None, True, None),
    ],
)
def test_the_duty_as_far_as_it_is_known(duty, throttle_pct, esc_linear, expected):
    found = known_duty(duty=duty, throttle_pct=throttle_pct, esc_linear=esc_linear)
    assert found == (None if expected is None else pytest.approx(expected))
