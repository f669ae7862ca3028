"""What must hold of masses, fits and comparisons for every input, not only for the worked ones."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Measured
from spindle_core.intake.mounting_screw import ScrewOutcome, screw_reach
from spindle_core.intake.parcel import Needs, Part, PartKind, check_parts
from spindle_core.intake.propeller_fit import Hub, Ring, Shaft, best_stack, fits, propeller_fit
from spindle_core.motor.lead_wire import lead_reach, mass_per_length_from_gauge
from spindle_core.motor.mass import LeadEvidence, OnTheScale, declared_mass, spread_of
from spindle_core.teardown import Seen, Status, compare_sheets

masses = st.floats(5.0, 80.0)
per_metre = st.floats(1.0, 15.0)
lengths = st.floats(0.0, 300.0)


def weighing(mass, length, *, nut=False, u=0.003):
    return OnTheScale(Measured(mass, {"scale": u}), Measured(length, {"ruler": 1.0}), nut_on=nut)


def mass_at(bare, per_m, length):
    return bare + 3 * per_m * length / 1000


@given(bare=masses, per_m=per_metre, first=lengths, second=lengths, wanted=lengths)
def test_two_weighings_of_one_line_give_that_line_back(bare, per_m, first, second, wanted):
    if abs(first - second) < 25:
        return
    found = declared_mass(
        [weighing(mass_at(bare, per_m, at), at) for at in (first, second)], lead_length_mm=wanted
    )
    assert found.lead_g_per_m.value == pytest.approx(per_m, rel=1e-6)
    assert found.mass_g.value == pytest.approx(mass_at(bare, per_m, wanted), rel=1e-6)


@given(bare=masses, per_m=per_metre, order=st.permutations([20.0, 90.0, 160.0]))
def test_the_order_of_weighings_does_not_matter(bare, per_m, order):
    found = declared_mass([weighing(mass_at(bare, per_m, at), at) for at in order])
    assert found.mass_g.value == pytest.approx(mass_at(bare, per_m, 60.0), rel=1e-6)
    assert order[found.used] == 90.0


@given(mass=masses, length=st.floats(0.0, 300.0))
def test_u_grows_with_the_way_to_the_declared_length(mass, length):
    gauge = LeadEvidence(gauge=20)
    at = declared_mass([weighing(mass, length)], gauge, lead_length_mm=length).mass_g
    away = declared_mass([weighing(mass, length)], gauge, lead_length_mm=length + 50).mass_g
    assert away.u > at.u
    expected = mass + 3 * mass_per_length_from_gauge(20).value * 0.05
    assert away.value == pytest.approx(expected)


@given(mass=masses, nut=st.floats(0.3, 4.0))
def test_a_nut_weighed_alone_is_taken_off_whole(mass, nut):
    with_nut = declared_mass(
        [weighing(mass + nut, 60, nut=True)],
        LeadEvidence(nut_g=Measured(nut, {"scale": 0.003}), gauge=20),
    )
    assert with_nut.mass_g.value == pytest.approx(mass)
    without = declared_mass([weighing(mass, 60)], LeadEvidence(gauge=20))
    assert with_nut.mass_g.u > without.mass_g.u


@given(values=st.lists(masses, min_size=2, max_size=6), shift=st.floats(-4.0, 4.0))
def test_spread_does_not_depend_on_where_the_masses_lie(values, shift):
    here = spread_of([Measured(value, {"u": 0.01}) for value in values])
    there = spread_of([Measured(value + shift, {"u": 0.01}) for value in values])
    assert there.s == pytest.approx(here.s, abs=1e-9)
    assert there.widest == pytest.approx(here.widest, abs=1e-9)
    assert there.mean == pytest.approx(here.mean + shift, abs=1e-9)


def test_equal_samples_rarely_seem_to_differ():
    """The χ² test at 5 %: of many cohorts of equal motors about one in twenty is called uneven."""
    import numpy as np

    rng = np.random.default_rng(11)
    called = sum(
        spread_of([Measured(25 + e, {"u": 0.05}) for e in rng.normal(0, 0.05, 3)]).resolved
        for _ in range(1000)
    )
    assert 30 <= called <= 72


def test_unequal_samples_are_seen():
    assert spread_of([Measured(v, {"u": 0.02}) for v in (25.0, 25.2, 24.9)]).resolved


@given(
    length=st.floats(3.0, 20.0),
    arm=st.floats(1.0, 8.0),
    depth=st.floats(0.5, 6.0),
    room=st.floats(0.0, 4.0),
)
def test_a_shorter_screw_never_comes_nearer_the_winding(length, arm, depth, room):
    inside = {"arm_thickness_mm": arm, "thread_depth_mm": depth, "clearance_mm": room}
    longer, shorter = screw_reach(length, **inside), screw_reach(length - 1, **inside)
    assert shorter.room_mm > longer.room_mm
    if longer.outcome is not ScrewOutcome.HITS_WINDING:
        assert shorter.outcome is not ScrewOutcome.HITS_WINDING
    assert longer.room_mm == pytest.approx(depth + room - (length - arm))


@given(have=st.integers(0, 40), motors=st.integers(1, 6))
def test_screws_are_counted_against_all_motors(have, motors):
    found = check_parts(
        [Part(PartKind.MOUNTING_SCREW, have)], Needs(motors, 4.0, mounting_holes=4)
    )[0]
    wanted = 4 * motors
    expected = "missing" if have < wanted else "caution" if have == wanted else "good"
    assert found.state == expected


@given(
    bore=st.floats(2.0, 12.0),
    shaft=st.floats(1.0, 8.0),
    rings=st.lists(
        st.tuples(st.floats(1.0, 7.0), st.floats(0.5, 5.0), st.floats(1.0, 9.0)), max_size=3
    ),
)
def test_the_best_stack_is_never_worse_than_none(bore, shaft, rings):
    hub, pin = Hub(bore, 6.0), Shaft(shaft, 14.0, nut_mm=4.0)
    box = [Ring(inner, inner + wall, height) for inner, wall, height in rings]
    stack, found = best_stack(hub, pin, box)
    bare = propeller_fit(hub, pin)
    assert fits(found) or not fits(bare)
    if fits(bare) and all(item.state == "good" for item in bare):
        assert stack == ()
    assert len(stack) <= 2


@given(
    numbers=st.lists(
        st.tuples(st.floats(10.0, 30.0), st.floats(0.001, 0.5)), min_size=2, max_size=4
    )
)
def test_numbers_differ_exactly_when_some_pair_exceeds_its_uncertainty(numbers):
    sheets = [{"stator_diameter": Seen(Status.MEASURED, value=value, u=u)} for value, u in numbers]
    (row,) = compare_sheets(sheets)
    apart = any(
        abs(a - b) > 1.96 * math.hypot(u, v)
        for i, (a, u) in enumerate(numbers)
        for b, v in numbers[i + 1 :]
    )
    assert row.outcome == ("different" if apart else "unresolved")


@given(length=st.floats(1.0, 500.0), needed=st.floats(1.0, 500.0))
def test_leads_reach_exactly_when_they_are_long_enough(length, needed):
    found = lead_reach(length, needed_mm=needed)
    assert found.spare_mm == pytest.approx(length - needed)
    assert (found.state == "impossible") == (length < needed)
    assert (found.state == "good") == (length - needed >= 10.0)


def test_a_lead_of_no_length_is_refused():
    for length, needed in ((0.0, 50.0), (50.0, 0.0)):
        with pytest.raises(QuantityError):
            lead_reach(length, needed_mm=needed)


def test_absent_stays_absent_through_the_spread():
    assert isinstance(spread_of([]), Absent)
    assert declared_mass([]).mass_g.note == "not weighed"
