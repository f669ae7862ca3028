"""Air density against the worked numbers and published values."""

import pytest

from spindle_core.errors import QuantityError
from spindle_core.model.air import (
    air_density_kg_per_m3,
    speed_of_sound_m_per_s,
    standard_pressure_hpa,
)


def test_worked_example_of_a_damp_workshop():
    density = air_density_kg_per_m3(24, pressure_hpa=985, humidity_pct=60)
    assert density == pytest.approx(1.1469, abs=5e-5)


def test_standard_atmosphere():
    assert air_density_kg_per_m3(15, pressure_hpa=1013.25) == pytest.approx(1.2250, abs=5e-5)
    assert speed_of_sound_m_per_s(15) == pytest.approx(340.3, abs=0.1)


def test_damp_air_is_lighter():
    dry = air_density_kg_per_m3(25, pressure_hpa=1000, humidity_pct=0)
    damp = air_density_kg_per_m3(25, pressure_hpa=1000, humidity_pct=100)
    assert dry - damp == pytest.approx(0.0139, abs=5e-4)


@pytest.mark.parametrize(
    ("temperature", "pressure", "humidity"),
    [(20, 1.013, 50), (20, 101325, 50), (200, 1000, 50), (20, 1000, 120), (20, 1000, -1)],
)
def test_wrong_units_are_refused(temperature, pressure, humidity):
    with pytest.raises(QuantityError):
        air_density_kg_per_m3(temperature, pressure_hpa=pressure, humidity_pct=humidity)


@pytest.mark.parametrize(
    ("height_m", "hpa"), [(0.0, 1013.25), (500.0, 954.61), (1500.0, 845.56), (-100.0, 1025.3)]
)
def test_pressure_at_a_height_is_that_of_the_standard_atmosphere(height_m, hpa):
    assert standard_pressure_hpa(height_m) == pytest.approx(hpa, abs=0.1)


@pytest.mark.parametrize("height_m", [9000.0, -1000.0, float("nan")])
def test_no_bench_stands_there(height_m):
    with pytest.raises(QuantityError, match="height"):
        standard_pressure_hpa(height_m)
