"""Figures as text: no digit that u does not carry."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from spindle_core.figures.said import MINUS, decimals_for, figure, number


@pytest.mark.parametrize(
    ("value", "u", "text"),
    [
        (1175.4, 8.2, "1,175 ± 8"),
        (84170.0, 5546.0, "84,000 ± 6,000"),
        (19534.0, 34.0, "19,530 ± 30"),
        (19534.0, 26.0, "19,534 ± 26"),
        (-19534.0, 34.0, f"{MINUS}19,530 ± 30"),
        (4.0, 34.0, "0 ± 30"),
        (-4.0, 34.0, "0 ± 30"),
        (149_999.0, 96.0, "150,000 ± 100"),
        (1.234567, 0.0123, "1.235 ± 0.012"),
        (3.0, 2.94, "3.0 ± 2.9"),
        (3.0, 2.96, "3 ± 3"),
    ],
)
def test_to_the_digit(value, u, text):
    assert figure(value, u, "") == text


@pytest.mark.parametrize(
    ("value", "u", "text"),
    [
        (4.4, 1.2, "+4.4 ± 1.2"),
        (-4.4, 1.2, f"{MINUS}4.4 ± 1.2"),
        # What rounds to 0 goes neither way.
        (0.3, 4.0, "0 ± 4"),
        (-0.3, 4.0, "0 ± 4"),
        (0.0, None, "0"),
        (-0.0, 0.2, "0.00 ± 0.20"),
        (30.0, 400.0, "0 ± 400"),
        (0.00012, None, "+0.0001"),
    ],
)
def test_a_change_has_its_sign_where_there_is_one(value, u, text):
    assert figure(value, u, "", signed=True) == text


@given(st.floats(-1e9, 1e9, allow_nan=False), st.floats(1e-4, 1e8, allow_nan=False))
def test_what_is_written_is_within_half_of_the_last_digit_and_u_has_two_digits_at_most(value, u):
    decimals = decimals_for(u)
    half = 0.5 * 10.0**-decimals
    back = lambda text: float(text.replace(",", "").replace(MINUS, "-"))  # noqa: E731
    assert abs(back(number(value, decimals)) - value) <= half * (1 + 1e-9) + abs(value) * 1e-12
    written = back(number(u, decimals))
    assert abs(written - u) <= half * (1 + 1e-9)
    # In whole last digits u is 1 to 30: never three digits.
    assert 1 <= round(written / 10.0**-decimals) <= 30
    assert math.isfinite(written)
