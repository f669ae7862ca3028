"""Numbers typed from a scale and meters: the same arithmetic, and checks beside the field."""

import numpy as np
import pytest
from runs import EXACT

from spindle_core.errors import QuantityError, ReductionError
from spindle_core.figures.measured import Absent, Measured
from spindle_core.reduction import reduce_trace
from spindle_core.reduction.typed_checks import check_peaks, check_redundant
from spindle_core.run.facts import RunFacts
from spindle_core.run.stand import Stand
from spindle_core.run.trace import Trace
from spindle_core.run.typed_cells import Doubt


def typed(rows, names=("throttle_pct", "thrust_gf", "voltage_v", "current_a"), **facts):
    columns = np.array(rows, dtype=float).T
    return Trace(
        np.arange(len(rows), dtype=float),
        dict(zip(names, columns, strict=True)),
        "readings",
        **{"stand": EXACT, **facts},
    )


ROWS = [
    (0, 4.0, 16.8, 0.0),
    (25, 154.0, 16.6, 1.8),
    (50, 424.0, 16.2, 6.4),
    (75, 744.0, 15.7, 13.9),
    (100, 1184.0, 15.1, 26.2),
    (0, 4.0, 16.4, 0.0),
]


def test_readings_are_tared_and_divided_like_a_trace():
    result = reduce_trace(typed(ROWS))
    assert result.summary["max_thrust_gf"].value == 1180.0
    assert result.summary["max_power_w"].value == pytest.approx(15.1 * 26.2)
    assert result.summary["efficiency_at_max_g_per_w"].value == pytest.approx(1180 / (15.1 * 26.2))
    assert result.summary["tare_drift_gf"].value == 0.0
    assert [p.value("throttle_pct") for p in result.points] == [25, 50, 75, 100]


def test_u_is_the_last_digit_that_was_written():
    figure = reduce_trace(typed(ROWS)).points[1].figures["current_a"]
    assert figure.u == pytest.approx(0.1 / np.sqrt(12))
    thrust = reduce_trace(typed(ROWS)).points[1].figures["thrust_gf"]
    # Read to 1 gf, and so were the zeros: at two of five seconds they count 0.6 and 0.4.
    assert thrust.u == pytest.approx(np.sqrt(1 + 0.36 + 0.16) / np.sqrt(12))


def test_a_declared_resolution_goes_before_the_digits():
    stand = Stand(resolution={"thrust_gf": 5.0})
    figure = reduce_trace(typed(ROWS, stand=stand)).points[1].figures["thrust_gf"]
    assert figure.component("within_run") == pytest.approx(5.0 / np.sqrt(12))


def test_a_wrong_watt_reading_is_said_and_volts_times_amps_used():
    rows = [(0, 0.0, 16.8, 0.0, 0.0), (100, 1180.0, 15.1, 26.2, 480.0), (0, 0.0, 16.5, 0.0, 0.0)]
    names = ("throttle_pct", "thrust_gf", "voltage_v", "current_a", "power_w")
    result = reduce_trace(typed(rows, names))
    assert [w.code for w in result.warnings] == ["power_mismatch"]
    assert result.summary["max_power_w"].value == pytest.approx(395.62)


def test_empty_cells_are_absent_not_zero():
    rows = [(0, 0.0, 16.8, 0.0), (50, 420.0, np.nan, 6.4), (100, 1180.0, 15.1, 26.2)]
    first = reduce_trace(typed(rows)).points[0]
    assert first.figures["voltage_v"].reason == "not_read"
    assert first.figures["power_w"].reason == "not_logged"
    assert first.value("thrust_gf") == 420.0


def test_no_reading_under_throttle_is_an_error():
    with pytest.raises(ReductionError) as caught:
        reduce_trace(typed([(0, 1.0, 16.8, 0.0), (0, 1.0, 16.8, 0.0)]))
    assert caught.value.code == "no_readings"


def test_peak_bounds():
    fine = {"lowest_voltage_v": 14.2, "open_voltage_v": 16.8, "peak_current_a": 40.0}
    assert check_peaks(**fine, peak_power_w=600.0) == []
    low, high = (check_peaks(**fine, peak_power_w=w)[0] for w in (500.0, 700.0))
    assert (low.code, low.impossible) == ("power_below_bound", True)
    assert (high.code, high.field) == ("power_above_bound", "peak_power_w")
    with pytest.raises(QuantityError):
        check_peaks(lowest_voltage_v=17.0, open_voltage_v=16.8, peak_current_a=1, peak_power_w=17)


def test_redundant_figures_are_recomputed():
    right = {
        "voltage_v": 16.0,
        "current_a": 20.0,
        "power_w": 321.0,
        "thrust_gf": 960.0,
        "efficiency_g_per_w": 3.0,
    }
    assert check_redundant(right) == []
    wrong = check_redundant({**right, "power_w": 350.0, "efficiency_g_per_w": 3.4})
    assert [finding.field for finding in wrong] == ["power_w", "efficiency_g_per_w"]
    assert "gives 320 W" in wrong[0].message
    delta = check_redundant(
        {"thrust_gf": 1180.0, "baseline_thrust_gf": 1100.0, "delta_thrust_gf": -80.0}
    )
    assert [finding.field for finding in delta] == ["delta_thrust_gf"]


MAXIMA = ("throttle_pct", "thrust_gf", "voltage_v", "current_a", "power_w")
AT_REST = (0, 0.0, 25.0, 0.0, 0.0)


def maxima(*rows, **facts):
    rows = [AT_REST, *rows, AT_REST]
    return typed(rows, MAXIMA, facts=RunFacts(readings_are="maxima", **facts))


def test_a_meters_maxima_keep_its_watts():
    """Lowest volts times highest amps are of two instants: 22.9 V and 41.2 A are not 943 W."""
    result = reduce_trace(maxima((100, 1890.0, 22.9, 41.2, 958.0)))
    (point,) = result.points
    assert point.value("power_w") == 958.0
    assert point.value("efficiency_g_per_w") == pytest.approx(1890 / 958)
    assert round(point.value("efficiency_g_per_w"), 2) == 1.97
    assert not result.warnings


def test_two_motors_whose_meters_differ_do_not_come_out_equal():
    one, other = (
        reduce_trace(maxima((100, 1890.0, 22.9, 41.2, watts))).summary["max_power_w"].value
        for watts in (958.0, 1006.0)
    )
    assert other / one == pytest.approx(1.05, rel=0.001)


@pytest.mark.parametrize(
    ("row", "code", "says"),
    [
        # At least 23.61 × 41 = 968 W.
        ((100, 1890.0, 23.61, 41.0, 940.0), "power_below_bound", "at least 968 W"),
        ((100, 1890.0, 22.9, 41.0, 1200.0), "power_above_bound", "at most 1025 W"),
        ((100, 1890.0, 23.61, 41.0, 968.0), "", ""),
        # Read to whole amps and watts, 955 may be 968.
        ((100, 1890.0, 23.61, 41.0, 957.0), "", ""),
        ((100, 1890.0, np.nan, 41.0, 940.0), "", ""),
    ],
)
def test_maxima_are_held_against_what_they_allow(row, code, says):
    result = reduce_trace(maxima(row))
    assert [w.code for w in result.warnings] == ([code] if code else [])
    assert says in "".join(w.message for w in result.warnings)
    assert result.points[0].value("power_w") == row[4]


def test_without_an_open_voltage_nothing_bounds_from_above():
    rows = [(100, 1890.0, 22.9, 41.0, 1200.0), (80, 1200.0, 23.4, 25.0, 580.0)]
    result = reduce_trace(typed(rows, MAXIMA, facts=RunFacts(readings_are="maxima")))
    assert not [w for w in result.warnings if w.code.startswith("power")]


def test_maxima_without_a_watt_meter_have_no_watts():
    trace = typed([AT_REST[:4], (100, 1890.0, 22.9, 41.2)], facts=RunFacts(readings_are="maxima"))
    figures = reduce_trace(trace).points[0].figures
    assert figures["power_w"].note == "maxima of different instants do not multiply"
    assert isinstance(figures["efficiency_g_per_w"], Absent)


def test_torque_and_speed_of_different_instants_make_no_shaft_power():
    names = (*MAXIMA, "speed_rpm", "torque_nm")
    rows = [(*AT_REST, 0.0, 0.0), (100, 1890.0, 22.9, 41.2, 958.0, 21000.0, 0.31)]
    trace = typed(rows, names, facts=RunFacts(readings_are="maxima"))
    figures = reduce_trace(trace).points[0].figures
    assert isinstance(figures["shaft_power_w"], Absent)
    held = reduce_trace(typed(rows, names)).points[0].figures
    assert isinstance(held["shaft_power_w"], Measured)


CELLS = (
    Doubt("current_a", 2, 0.5, assumed=True),
    Doubt("voltage_v", 2, 0.3),
    Doubt("power_w", 3, bound="<", limit=900.0),
)


def test_an_interval_is_in_u_and_an_assumed_one_says_so():
    rows = [(0, 0.0, 16.8, 0.0), (50, 424.0, 16.25, 6.45), (100, 1184.0, 15.1, 26.2)]
    first, second = reduce_trace(typed(rows, facts=RunFacts(cells=CELLS))).points
    current = first.figures["current_a"]
    assert current.u == pytest.approx(0.5 / np.sqrt(3))
    assert current.assumed
    assert first.figures["voltage_v"].u == pytest.approx(0.3 / np.sqrt(3))
    assert not first.figures["voltage_v"].assumed
    # The middle of an interval has digits that nobody wrote: the others keep theirs.
    assert second.figures["current_a"].u == pytest.approx(0.1 / np.sqrt(12))
    assert second.figures["voltage_v"].u == pytest.approx(0.1 / np.sqrt(12))


def test_a_bound_is_no_figure():
    rows = [(0, 0.0, 16.8, 0.0), (50, 424.0, 16.2, np.nan), (100, 1184.0, 15.1, np.nan)]
    _, second = reduce_trace(typed(rows, facts=RunFacts(cells=CELLS))).points
    assert second.figures["power_w"].reason == "bound"
    assert "below 900 W" in second.figures["power_w"].note
    assert second.figures["efficiency_g_per_w"].reason == "bound"


def test_an_interval_narrower_than_a_digit_is_the_digit():
    cells = (Doubt("thrust_gf", 2, 0.1, assumed=True),)
    facts = RunFacts(cells=cells)
    thrust = reduce_trace(typed(ROWS, facts=facts, stand=Stand())).points[0].figures["thrust_gf"]
    assert thrust.component("within_run") >= 1.0 / np.sqrt(12)


def test_a_zero_that_jumped_is_in_u():
    rows = [(0, 3.0, 16.8, 0.0), (100, 1184.0, 15.1, 26.2)]
    plain = reduce_trace(typed(rows)).points[0].figures["thrust_gf"].u
    cells = (Doubt("thrust_gf", 1, 3.0, assumed=True),)
    wide = reduce_trace(typed(rows, facts=RunFacts(cells=cells))).points[0].figures["thrust_gf"].u
    assert wide**2 - plain**2 == pytest.approx(3.0**2 / 3 - 1 / 12)


def test_bursts_of_one_throttle_are_one_point():
    rows = [
        (0, 0.0, 16.8, 0.0),
        (50, 500.0, 16.0, 9.0),
        (100, 1170.0, 15.1, 26.0),
        (100, 1180.0, 15.1, 26.2),
        (100, 1190.0, 15.1, 26.4),
        (0, 0.0, 16.5, 0.0),
        (100, 1300.0, 15.1, 26.4),
    ]
    points = reduce_trace(typed(rows, facts=RunFacts(readings_averaged=True))).points
    assert [p.value("thrust_gf") for p in points] == [500.0, 1180.0, 1300.0]
    thrust = points[1].figures["thrust_gf"]
    # s is 10 gf of three: s ÷ √3, times Student's 1.321 for 68.27 % at two degrees of freedom.
    assert thrust.component("within_run") == pytest.approx(1.3213 * 10 / np.sqrt(3), rel=1e-3)
    assert (thrust.n, thrust.samples) == (1, 3)
    assert points[1].figures["power_w"].value == pytest.approx(15.1 * 26.2)


def test_bursts_that_agree_hide_what_their_digits_hide():
    rows = [(0, 0.0, 16.8, 0.0), *[(100, 1180.0, 15.1, 26.2)] * 3]
    facts = RunFacts(readings_averaged=True)
    thrust = reduce_trace(typed(rows, facts=facts)).points[0].figures["thrust_gf"]
    assert thrust.component("within_run") == pytest.approx(1 / np.sqrt(12) / np.sqrt(3))


def test_bursts_without_a_throttle_are_one_point_and_a_missing_one_is_left_out():
    rows = [(1100.0, 26.0), (1120.0, np.nan), (1110.0, 26.2)]
    facts = RunFacts(readings_averaged=True)
    [point] = reduce_trace(typed(rows, ("thrust_gf", "current_a"), facts=facts)).points
    assert point.value("thrust_gf") == 1110.0
    assert point.value("current_a") == pytest.approx(26.1)


def test_the_rise_is_read_with_one_thermometer():
    names = ("throttle_pct", "thrust_gf", "motor_temp_before_c", "motor_temp_c")
    rows = [(100, 1180.0, 22.0, 64.0), (100, 1170.0, np.nan, 60.0)]
    first, second = reduce_trace(typed(rows, names, stand=Stand(name="s"))).points
    rise = first.figures["rise_k"]
    assert rise.value == 42.0
    # The thermometer's ±2 K are in both and cancel; their digits do not.
    assert rise.u == pytest.approx(np.sqrt(2) / np.sqrt(12))
    assert first.figures["motor_temp_c"].u > 1.0
    assert "rise_k" not in second.figures
