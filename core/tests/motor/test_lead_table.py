"""The bench's own table of leads, and what off-cuts make of it."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Measured, Origin
from spindle_core.motor.lead_wire import (
    OFFCUT_SPREAD,
    calibrated_from_offcuts,
    mass_per_length_from_gauge,
    mass_per_length_from_table,
)
from spindle_core.motor.mass import LeadEvidence, OnTheScale, declared_mass


def at(mass, length):
    return OnTheScale(Measured(mass, {"a": 0.01}), Measured(length, {"b": 1.0}))


def test_the_benchs_own_table_goes_before_the_gauge_and_after_an_off_cut():
    table = mass_per_length_from_table(7.0, 0.1)
    found = declared_mass([at(40.0, 160.0)], LeadEvidence(gauge=20, table_g_per_m=table))
    assert found.lead_from == "the bench's table"
    assert found.mass_g.value == pytest.approx(40.0 - 3 * 7.0 * 0.1)
    offcut = LeadEvidence(
        offcut_mass_g=Measured(0.3), offcut_length_mm=Measured(50.0), gauge=20, table_g_per_m=table
    )
    assert declared_mass([at(40.0, 160.0)], offcut).lead_from == "off-cut"
    assert declared_mass([at(40.0, 160.0)], LeadEvidence(gauge=20)).lead_from == "gauge"


def test_an_unusual_insulation_is_not_taken_for_the_usual_one():
    found = declared_mass([at(40.0, 160.0)], LeadEvidence(gauge=20, insulation="ptfe"))
    assert isinstance(found.mass_g, Absent)
    assert "AWG 20 in PTFE" in found.remarks[0]
    usual = declared_mass([at(40.0, 160.0)], LeadEvidence(gauge=20, insulation="silicone"))
    nobody_looked = declared_mass([at(40.0, 160.0)], LeadEvidence(gauge=20))
    assert usual.mass_g == nobody_looked.mass_g
    table = mass_per_length_from_table(5.0, None)
    known = LeadEvidence(gauge=20, insulation="ptfe", table_g_per_m=table)
    assert declared_mass([at(40.0, 160.0)], known).lead_from == "the bench's table"


def test_a_row_without_a_u_is_as_wide_as_a_gauge_and_estimated():
    row, gauge = mass_per_length_from_table(6.8, None), mass_per_length_from_gauge(20)
    assert row.u / row.value == pytest.approx(gauge.u / gauge.value)
    assert row.origin is Origin.ESTIMATED
    assert mass_per_length_from_table(6.8, 0.0).u == 0.0


@pytest.mark.parametrize(("mass", "u"), [(0.0, None), (-1.0, 0.1), (math.nan, 0.1), (5.0, -0.1)])
def test_a_row_that_cannot_be_is_refused(mass, u):
    with pytest.raises(QuantityError):
        mass_per_length_from_table(mass, u)


def test_one_off_cut_does_not_show_how_leads_differ():
    found = calibrated_from_offcuts([Measured(5.0, {"x": 0.05})])
    assert (found.g_per_m, found.n) == (5.0, 1)
    assert found.u_g_per_m == pytest.approx(math.hypot(OFFCUT_SPREAD * 5.0 * math.sqrt(2.0), 0.05))
    assert isinstance(calibrated_from_offcuts([]), Absent)


def test_off_cuts_that_differ_say_so_and_equal_ones_no_less_than_is_usual():
    apart = calibrated_from_offcuts([Measured(v) for v in (4.0, 5.0, 6.0)])
    assert apart.u_g_per_m == pytest.approx(1.0 * math.sqrt(4.0 / 3.0))
    alike = calibrated_from_offcuts([Measured(5.0)] * 3)
    assert alike.u_g_per_m == pytest.approx(0.1 * math.sqrt(4.0 / 3.0))


@given(st.lists(st.floats(0.5, 20.0), min_size=1, max_size=12))
def test_the_next_lead_is_never_known_better_than_leads_differ(values):
    found = calibrated_from_offcuts([Measured(value, {"x": 0.01}) for value in values])
    assert found.u_g_per_m >= OFFCUT_SPREAD * found.g_per_m
    assert min(values) <= found.g_per_m + 1e-9
    assert found.g_per_m <= max(values) + 1e-9
