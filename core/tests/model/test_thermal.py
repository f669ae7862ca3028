"""Cooling against the worked number."""

import pytest

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent
from spindle_core.model.thermal import cooling_time_s


def test_worked_example():
    time = cooling_time_s(61, 30, ambient_c=23, time_constant_s=140)
    assert time == pytest.approx(236.8, abs=0.05)


def test_edges():
    assert cooling_time_s(25, 30, ambient_c=23, time_constant_s=140) == 0.0
    assert isinstance(cooling_time_s(61, 23, ambient_c=23, time_constant_s=140), Absent)
    with pytest.raises(QuantityError):
        cooling_time_s(61, 30, ambient_c=23, time_constant_s=0)
