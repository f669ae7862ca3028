"""Numbers typed in another unit than the field's."""

from __future__ import annotations

import pytest

from spindle_core.figures.entry_units import ENTRY_UNITS
from spindle_core.formats.foreign.units import UNITS


def into(unit: str, typed: float, spelled: str) -> float:
    [found] = [one for one in ENTRY_UNITS[unit] if spelled in one.spellings]
    return found.into(typed)


@pytest.mark.parametrize(
    ("unit", "typed", "spelled", "expected"),
    [
        ("mm", 1.1, "in", 27.94),
        ("mm", 0.25, '"', 6.35),
        ("in", 127.0, "mm", 5.0),
        ("g", 1.0, "oz", 28.349523125),
        ("g", 0.5, "lb", 226.796185),
        ("gf", 35.274, "oz", 1000.0),
        ("gf", 9.80665, "n", 1000.0),
        ("°C", 212.0, "f", 100.0),
        ("°C", -40.0, "°f", -40.0),
        ("m", 1000.0, "ft", 304.8),
        ("hPa", 29.92, "inhg", 1013.21),
        ("mΩ", 0.072, "ohm", 72.0),
    ],
)
def test_a_number_in_another_unit(unit: str, typed: float, spelled: str, expected: float) -> None:
    assert into(unit, typed, spelled) == pytest.approx(expected, rel=2e-5)


def test_no_spelling_means_two_things() -> None:
    for unit, others in ENTRY_UNITS.items():
        spellings = [spelling for one in others for spelling in one.spellings]
        assert len(spellings) == len(set(spellings)), unit
        assert unit.lower() not in spellings, unit
        assert all(spelling == spelling.lower().replace(" ", "") for spelling in spellings), unit


def test_columns_of_logs_and_fields_agree() -> None:
    for channel, unit in (("thrust_gf", "gf"), ("motor_temp_c", "°C"), ("voltage_v", "V")):
        of_logs = {one.name.replace("lbf", "lb"): one for one in UNITS[channel]}
        for entry in ENTRY_UNITS[unit]:
            twin = of_logs[entry.name]
            assert (twin.factor, twin.offset) == pytest.approx((entry.factor, entry.offset))
