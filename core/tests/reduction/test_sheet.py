"""A sheet of typed readings: what rows mean, and what is wrong with them."""

from __future__ import annotations

import math

import pytest

from spindle_core.errors import QuantityError, ReductionError
from spindle_core.reduction import reduce_trace
from spindle_core.reduction.sheet import look_at, sheet_log
from spindle_core.run.facts import RunFacts
from spindle_core.run.scale import DeadWeight, Geometry, Lever
from spindle_core.run.stand import Stand
from spindle_core.run.tightest import Bound, tightest
from spindle_core.run.trace import Trace
from spindle_core.run.typed_cells import said as typed_cell

PLAIN = Geometry("stand 1")
WEIGHED = Geometry("stand 1", weights=(DeadWeight("plate", 131.0), DeadWeight("clamp", 92.0)))


def row(throttle=None, scale=None, volts=None, amps=None, watts=None, **more):
    cells = {
        "throttle_pct": throttle,
        "scale_g": scale,
        "voltage_v": volts,
        "current_a": amps,
        "power_w": watts,
        **more,
    }
    return {name: value for name, value in cells.items() if value is not None}


def said(looks):
    return [[(found.field, found.code) for found in look.findings] for look in looks]


def test_the_scale_and_the_thrust_it_means():
    rows = [row(0, -223, 16.4), row(50, 519, 16.0, 9.0), row(100, 742, 15.6, 20.0)]
    rest, half, full = look_at(rows, geometry=WEIGHED, maxima=False)
    assert (rest.thrust_gf, rest.efficiency_g_per_w) == (0.0, None)
    assert (full.thrust_gf, full.power_w) == (965.0, pytest.approx(312.0))
    assert half.efficiency_g_per_w == pytest.approx(742.0 / 144.0)
    assert said([rest, half, full]) == [[], [], []]


def test_a_zero_at_rest_is_taken_off_every_row():
    rows = [row(0, 3), row(50, 403, 16.0, 5.0)]
    _, half = look_at(rows, geometry=PLAIN, maxima=False)
    assert half.thrust_gf == 400.0


def test_thrust_alone_is_a_reading():
    [alone] = look_at([row(100, 900)], geometry=PLAIN, maxima=False)
    assert (alone.thrust_gf, alone.power_w, alone.efficiency_g_per_w) == (900.0, None, None)
    assert alone.findings == ()


def test_maxima_do_not_multiply():
    [one] = look_at([row(100, 1890, 22.9, 41.2, 958)], geometry=PLAIN, maxima=True)
    assert one.efficiency_g_per_w == pytest.approx(1.973, abs=5e-4)
    [bare] = look_at([row(100, 1890, 22.9, 41.2)], geometry=PLAIN, maxima=True)
    assert (bare.power_w, bare.efficiency_g_per_w) == (None, None)
    [held] = look_at([row(100, 1890, 22.9, 41.2)], geometry=PLAIN, maxima=False)
    assert held.power_w == pytest.approx(943.48)


def test_an_impossible_maximum_is_said_beside_its_cell():
    [one] = look_at([row(100, 1890, 23.61, 41, 940)], geometry=PLAIN, maxima=True)
    assert said([one]) == [[("power_w", "power_below_bound")]]
    assert "at least 968 W" in one.findings[0].message
    assert one.findings[0].impossible
    # What the last digits may hide is no contradiction.
    [near] = look_at([row(100, 1890, 23.6, 41, 960)], geometry=PLAIN, maxima=True)
    assert near.findings == ()


def test_an_open_voltage_bounds_from_above():
    rows = [row(0, 0, 25.2), row(100, 1500, 22.0, 30.0, 790)]
    assert said(look_at(rows, geometry=PLAIN, maxima=True))[1] == [("power_w", "power_above_bound")]
    rows = [row(0, 0, 25.2), row(100, 1500, 26.0, 30.0, 790)]
    assert said(look_at(rows, geometry=PLAIN, maxima=True))[1] == [("voltage_v", "volts_rise")]


def test_a_maximum_that_did_not_change_asks_about_the_reset():
    rows = [row(50, 400, 16.0, 12.3, 200), row(75, 800, 15.8, 12.3, 200)]
    found = said(look_at(rows, geometry=PLAIN, maxima=True))
    assert ("current_a", "not_reset") in found[1]
    # A repeat at the same throttle may well read the same.
    rows = [row(75, 800, 15.8, 12.3, 200), row(75, 803, 15.8, 12.3, 200)]
    assert said(look_at(rows, geometry=PLAIN, maxima=True)) == [[], []]


def test_watts_that_contradict_volts_and_amps():
    [one] = look_at([row(100, 900, 16.0, 20.0, 350)], geometry=PLAIN, maxima=False)
    assert said([one]) == [[("power_w", "redundant_mismatch")]]


def test_volts_that_rise_with_the_load():
    rows = [row(20, 100, 15.0, 2.0), row(60, 500, 16.1, 9.0)]
    assert said(look_at(rows, geometry=PLAIN, maxima=False)) == [[], [("voltage_v", "volts_rise")]]
    # In the order of throttle, not of the sheet.
    assert said(look_at(rows[::-1], geometry=PLAIN, maxima=False)) == [
        [("voltage_v", "volts_rise")],
        [],
    ]


def test_digits_that_were_swapped_are_found_by_the_rows_beside_them():
    right = [row(25, 120), row(50, 438), row(75, 790), row(100, 1180)]
    assert said(look_at(right, geometry=PLAIN, maxima=False)) == [[], [], [], []]
    rows = [row(25, 120), row(50, 834), row(75, 790), row(100, 1180)]
    # The wrong row bends the line of the one beside it; only the farther one is named.
    assert said(look_at(rows, geometry=PLAIN, maxima=False)) == [
        [],
        [("scale_g", "off_curve")],
        [],
        [],
    ]
    [finding] = look_at(rows, geometry=PLAIN, maxima=False)[1].findings
    assert "Were it 384 g" in finding.message
    # Where no swap fits, none is proposed.
    rows[1]["scale_g"] = 999.0
    [finding] = look_at(rows, geometry=PLAIN, maxima=False)[1].findings
    assert "swapped" not in finding.message


def test_swapped_digits_are_sought_through_the_lever():
    arm = Geometry("arm", lever=Lever(168.0, 112.0), weights=(DeadWeight("plate", 223.0),))
    grams = {0: -223, 25: 62, 50: 168, 75: 1042, 100: 1471}
    rows = [row(throttle, scale) for throttle, scale in grams.items()]
    looks = look_at(rows, geometry=arm, maxima=False)
    assert said(looks) == [[], [], [("scale_g", "off_curve")], [], []]
    assert "Were it 618 g" in looks[2].findings[0].message


def test_a_forgotten_weight_shows_at_rest():
    rows = [row(0, -223), row(100, 742)]
    [rest, _] = look_at(rows, geometry=PLAIN, maxima=False)
    assert [found.code for found in rest.findings] == ["zero_far"]
    assert "dead weight" in rest.findings[0].message


def test_what_is_no_cell():
    for rows, words in (
        ([{"luck": 1.0}], "Row 1"),
        ([row(50, 400), {"scale_g": math.nan}], "Row 2"),
        ([row(50, math.inf)], "no number"),
        ([row(50, 400)] * 201, "200 rows"),
    ):
        with pytest.raises(QuantityError, match=words):
            look_at(rows, geometry=PLAIN, maxima=False)


def test_a_sheet_becomes_channels_and_a_run():
    rows = [row(0, -223, 16.4), {}, row(50, 300, 16.0, 9.0), row(100, 742, 15.6, 20.0)]
    channels = sheet_log(rows, geometry=WEIGHED).channels
    assert channels["thrust_gf"].tolist() == [0.0, 523.0, 965.0]
    assert math.isnan(channels["current_a"][0])
    assert "power_w" not in channels
    time_s = channels["thrust_gf"] * 0.0 + [0.0, 1.0, 2.0]
    reduced = reduce_trace(
        Trace(time_s, channels, kind="readings", facts=RunFacts(readings_are="held"))
    )
    assert reduced.summary["max_thrust_gf"].value == pytest.approx(965.0)
    assert len(reduced.points) == 2


@pytest.mark.parametrize("rows", [[], [{}], [row(0, 5.0)], [row(None, 5.0, 16.0, 0.0)]])
def test_a_sheet_without_a_reading_under_throttle_is_none(rows):
    with pytest.raises(ReductionError, match="under throttle"):
        sheet_log(rows, geometry=PLAIN)


def test_arms_that_nobody_calibrated_stay_in_u():
    lever = Lever(168.0, 112.0)
    assert lever.relative_u == pytest.approx(math.hypot(1 / 168, 1 / 112))
    assumed = Stand(name="s", arms_relative_u=lever.relative_u, arms_assumed=True)
    gains = assumed.gains("thrust_gf", "run 1")
    assert any(key.startswith("assumed_lever") for key in gains)
    assert "assumed_lever" not in str(assumed.gains("current_a", "run 1"))
    known = Stand(name="s", arms_relative_u=0.003)
    assert 0.003 in known.gains("thrust_gf", "run 1").values()
    with pytest.raises(QuantityError):
        Stand(arms_relative_u=math.nan)


def test_cells_that_say_less_than_a_number():
    rows = [
        row(0, 0),
        row(50, typed_cell("about", [400.0]), 16.0, 5.0),
        row(100, 900, 15.5, 20.0, typed_cell("below", [900.0])),
    ]
    _, half, full = look_at(rows, geometry=PLAIN, maxima=False)
    assert half.thrust_gf == 400.0
    assert full.power_w == 310.0
    arm = Geometry("arm", lever=Lever(168.0, 112.0))
    log = sheet_log(rows, geometry=arm)
    channels, doubts = log.channels, log.doubts
    assert math.isnan(channels.get("power_w", [math.nan] * 3)[2])
    scale, power = doubts
    # Through the lever an interval shrinks as the grams do.
    assert (scale.channel, scale.row) == ("thrust_gf", 2)
    assert scale.half_width == pytest.approx(20.0 * 112 / 168)
    assert scale.assumed
    assert (power.channel, power.row, power.bound, power.limit) == ("power_w", 3, "<", 900.0)


def test_a_bound_turns_round_where_thrust_lifts():
    lifting = Geometry("up", lifts=True, rest_g=2000.0)
    rows = [row(100, typed_cell("below", [800.0]), 15.0, 20.0)]
    [doubt] = sheet_log(rows, geometry=lifting).doubts
    assert (doubt.bound, doubt.limit) == (">", 1200.0)


def test_an_empty_row_shifts_no_doubt():
    rows = [{}, row(0, 0), {}, row(100, typed_cell("about", [900.0]))]
    [doubt] = sheet_log(rows, geometry=PLAIN).doubts
    assert doubt.row == 2


def test_maxima_that_were_read_about_are_not_called_impossible():
    rows = [row(100, 1000, 23.61, 41.0, 940.0)]
    [only] = look_at(rows, geometry=PLAIN, maxima=True)
    assert [f.code for f in only.findings] == ["power_below_bound"]
    rows = [row(100, 1000, 23.61, typed_cell("about", [41.0]), 940.0)]
    [only] = look_at(rows, geometry=PLAIN, maxima=True)
    assert only.findings == ()


def test_bursts_are_counted_and_their_spread_is_shown():
    rows = [row(0, 0), row(50, 400), row(100, 990), {}, row(100, 1010), row(0, 0), row(100, 950)]
    looks = look_at(rows, geometry=PLAIN, maxima=False, averaged=True)
    assert [(one.burst, one.bursts) for one in looks] == [
        (None, None),
        (1, 1),
        (1, 2),
        (None, None),
        (2, 2),
        (None, None),
        (1, 1),
    ]
    assert looks[4].mean_thrust_gf == 1000.0
    assert looks[4].spread_gf == pytest.approx(math.sqrt(200.0))
    assert looks[2].spread_gf is None


def test_a_total_that_was_added_up_wrongly():
    [one] = look_at([row(100, 742, total_gf=956)], geometry=WEIGHED, maxima=False)
    [found] = one.findings
    assert (found.field, found.code, found.impossible) == ("total_gf", "total_disagrees", True)
    assert "965 gf" in found.message
    [one] = look_at([row(100, 742, total_gf=965)], geometry=WEIGHED, maxima=False)
    assert one.findings == ()


@pytest.mark.parametrize(
    ("charge", "maxima", "codes"),
    [
        (100.0, False, []),  # 36 A for 10 s
        (85.0, False, []),
        (84.0, False, ["charge_mismatch"]),
        (116.0, False, ["charge_mismatch"]),
        (84.0, True, []),  # the largest amps are not the mean
        (140.0, True, ["charge_mismatch"]),
    ],
)
def test_the_meters_charge_beside_amps_and_seconds(charge, maxima, codes):
    rows = [row(100, 900, 15.0, 36.0, charge_mah=charge, duration_s=10.0)]
    [one] = look_at(rows, geometry=PLAIN, maxima=maxima)
    assert [found.code for found in one.findings] == codes


def test_ounces_among_grams():
    grams = {25: 180, 50: 420, 75: 25.6, 100: 1050}
    rows = [row(throttle, scale) for throttle, scale in grams.items()]
    looks = look_at(rows, geometry=PLAIN, maxima=False)
    assert said(looks) == [[], [], [("scale_g", "off_curve")], []]
    assert "25.6 oz" in looks[2].findings[0].message
    # And the other way: the scale was set to ounces, the cells' unit too, one row is in grams.
    rows[2]["scale_g"] = 726 * 28.349523125
    assert "726 g" in look_at(rows, geometry=PLAIN, maxima=False)[2].findings[0].message


def test_what_a_row_still_owes():
    wanted = ["scale_g", "speed_rpm", "motor_temp_c"]
    rows = [
        row(0, 0),
        row(50, 400, speed_rpm=typed_cell("above", [9000.0]), motor_temp_c=31.0),
        row(100, 900),
        row(75),
        {},
    ]
    looks = look_at(rows, geometry=PLAIN, maxima=False, wanted=wanted)
    assert said(looks) == [[], [], [("speed_rpm", "owed")], [], []]
    [owed] = looks[2].findings
    assert owed.owed
    assert "speed, motor temperature" in owed.message


def test_the_rise_of_a_row():
    [one] = look_at(
        [row(100, 900, motor_temp_before_c=22.5, motor_temp_c=60.0)], geometry=PLAIN, maxima=False
    )
    assert one.rise_k == 37.5


def test_what_is_above_a_rating_is_said_with_its_time():
    limits = tightest(
        [
            Bound("current_a", "most", 38.0, "the motor's rating"),
            Bound("current_a", "most", 45.0, "ESC Tarn 45"),
            Bound("voltage_v", "least", 13.2, "pack"),
            Bound("power_w", "most", None, "pack"),
        ]
    )
    rows = [
        row(100, 1800, 13.0, 38.0),
        row(100, 1800, 13.0, 41.2, duration_s=12),
        row(100, 1800, 13.0, typed_cell("about", [39.0])),
    ]
    looks = look_at(rows, geometry=PLAIN, maxima=False, limits=limits)
    assert said(looks) == [[], [("current_a", "overrun")], []]
    assert looks[1].findings[0].message == "41.2 A, for 12 s: above 38 A, the motor's rating."


@pytest.mark.parametrize(
    ("grams", "step"), [([300, 742], 1.0), ([300, 742.5], 0.1), ([300, None], 1.0)]
)
def test_the_scales_digit_goes_through_the_lever(grams, step):
    arm = Geometry("arm", lever=Lever(168.0, 112.0))
    cells = [typed_cell("about", [712.25]) if g is None else g for g in grams]
    log = sheet_log([row(50, cells[0]), row(100, cells[1])], geometry=arm)
    assert log.thrust_step_gf == pytest.approx(step * 112 / 168)
    assert sheet_log([{"current_a": 5.0}], geometry=arm).thrust_step_gf is None


def test_the_last_row_with_a_temperature_says_when_the_motor_is_cool_again():
    rows = [
        {"throttle_pct": 0, "scale_g": 0.0},
        {"throttle_pct": 100, "scale_g": 900.0, "motor_temp_c": 60.0},
        {"throttle_pct": 100, "scale_g": 900.0, "motor_temp_c": 45.0, "ambient_temp_c": 20.0},
        {"throttle_pct": 0, "scale_g": 0.0},
    ]
    looks = look_at(rows, geometry=PLAIN, maxima=False)
    # 140 s · ln(25 ÷ 5)
    assert [one.ready_s for one in looks] == [None, None, pytest.approx(225.3, abs=0.1), None]
    own = look_at(rows, geometry=PLAIN, maxima=False, case_time_constant_s=100.0)
    assert own[2].ready_s == pytest.approx(160.9, abs=0.1)


def test_cool_already_is_0_and_without_the_air_nobody_can_tell():
    rows = [{"throttle_pct": 100, "scale_g": 900.0, "motor_temp_c": 24.0}]
    look = lambda **more: look_at(rows, geometry=PLAIN, maxima=False, **more)[0].ready_s  # noqa: E731
    assert look() is None
    assert look(air_c=20.0) == 0.0
    assert look(air_c=18.0) == pytest.approx(140.0 * math.log(6.0 / 5.0))
    # A row's own air goes before the day's.
    rows[0] = {**rows[0], "ambient_temp_c": 20.0}
    assert look(air_c=-5.0) == 0.0


def test_a_temperature_before_in_a_row_at_rest_is_asked_down_to_its_load():
    rows = [
        {"throttle_pct": 0, "scale_g": 0.0, "motor_temp_before_c": 21.0},
        {"throttle_pct": 100, "scale_g": 900.0, "motor_temp_c": 40.0},
    ]

    def codes():
        looks = look_at(rows, geometry=PLAIN, maxima=False)
        return [[found.code for found in one.findings] for one in looks]

    assert codes() == [["before_at_rest"], []]
    rows[1]["motor_temp_before_c"] = rows[0].pop("motor_temp_before_c")
    assert codes() == [[], []]
