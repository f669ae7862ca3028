"""Lines that a device prints, read through a mapping."""

import json

import pytest

from spindle_core.errors import MappingError
from spindle_core.formats.foreign.printed import LONGEST_LINE, printed_lines


def mapping(columns, *, delimiter=",", decimal=".", **more):
    dialect = {
        "encoding": "utf-8",
        "delimiter": delimiter,
        "decimal": decimal,
        "header_line": 1,
        "units_line": False,
    }
    said = {name: dict(zip(("channel", "unit"), what, strict=True)) for name, what in columns}
    return json.dumps({"format": "log-mapping/1", "columns": said, "dialect": dialect, **more})


PLACES = mapping([("1", ("thrust_gf", "kgf")), ("3", ("current_a", "mA"))])
NAMED = mapping([("Load", ("thrust_gf", "N")), ("I", ("current_a", "A"))], delimiter=";")
LABELS = mapping([("T", ("thrust_gf", "gf")), ("A", ("current_a", "A"))], delimiter=" ")


def test_by_place():
    lines = printed_lines(PLACES)
    assert lines.channels == ("thrust_gf", "current_a")
    row = lines.read("0.5,ignored,1500")
    assert row.time_s is None
    assert row.values == pytest.approx((500.0, 1.5))


def test_by_the_devices_own_names_once_it_has_printed_them():
    lines = printed_lines(NAMED)
    with pytest.raises(MappingError, match="no line of names"):
        lines.read("9.80665;2")
    assert lines.read("Load;I;Volts") is None
    assert lines.read("9.80665;2;16").values == pytest.approx((1000.0, 2.0))
    # The device began anew, with another order.
    assert lines.read("I;Load") is None
    assert lines.read("2;9.80665").values == pytest.approx((1000.0, 2.0))


def test_by_labels_in_any_order():
    lines = printed_lines(LABELS)
    assert lines.read("T:12.5 A=3.1").values == (12.5, 3.1)
    assert lines.read("A:1 X:7 T:2").values == (2.0, 1.0)


def test_a_clock_of_its_own():
    text = mapping([("1", ("time_s", "ms")), ("2", ("thrust_gf", "gf"))])
    row = printed_lines(text).read("12500,4")
    assert (row.time_s, row.values) == (12.5, (4.0,))


@pytest.mark.parametrize("blank", ["", "   ", "# a comment", "\r", "\ufeff"])
def test_what_holds_no_readings_is_passed_over(blank):
    assert printed_lines(PLACES).read(blank) is None


@pytest.mark.parametrize("cell", ["", "-", "--", "nan", "NaN", "N/A"])
def test_what_the_device_does_not_have_is_missing(cell):
    assert printed_lines(PLACES).read(f"{cell},x,20").values == (None, 0.02)


@pytest.mark.parametrize(
    ("cell", "expected"), [("12.5g", 12.5), ("12.5 g", 12.5), ("-3", -3.0), (".5", 0.5)]
)
def test_a_unit_behind_a_number_is_allowed(cell, expected):
    text = mapping([("1", ("thrust_gf", "gf"))], delimiter=";")
    assert printed_lines(text).read(cell).values == (expected,)


@pytest.mark.parametrize(
    "cell", ["OVF", "1O", "5kg", "1,", "1,2.3", "0x1F", "1.2.3", "12 34", "²", "1e999", "ERR 5"]
)
def test_text_that_is_no_number_is_no_missing_reading(cell):
    text = mapping([("1", ("thrust_gf", "gf"))], delimiter=";")
    with pytest.raises(MappingError) as caught:
        printed_lines(text).read(cell)
    assert caught.value.message.startswith("1: ")


def test_a_decimal_comma():
    text = mapping([("1", ("thrust_gf", "gf"))], delimiter=";", decimal=",")
    assert printed_lines(text).read("12,5;7").values == (12.5,)


def test_two_cells_that_share_the_thrust_and_one_mounted_reversed():
    columns = {
        "1": {"channel": "thrust_gf", "unit": "gf", "how": "plus", "other": "2", "negate": True}
    }
    lines = printed_lines(json.dumps({"format": "log-mapping/1", "columns": columns}))
    assert lines.read("-100,-20").values == (120.0,)
    assert lines.read("-100,nan").values == (None,)


@pytest.mark.parametrize(
    ("line", "says"),
    [("1,2", "without '3'"), ("x" * (LONGEST_LINE + 1), "characters"), ("1;2;3", "not a number")],
)
def test_a_line_that_does_not_fit_says_why(line, says):
    with pytest.raises(MappingError, match=says):
        printed_lines(PLACES).read(line)


def test_a_line_cut_short_under_names_is_refused():
    lines = printed_lines(NAMED)
    lines.read("Load;I;Volts")
    with pytest.raises(MappingError, match="2 cells where the names are 3"):
        lines.read("9.8;2")


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("{", "cannot be read"),
        ("[]", "cannot be read"),
        ('{"format": "x", "columns": {}}', "no mapping"),
        (mapping([("1", ("time_s", "s"))]), "Only the time"),
        (mapping([("1", ("speed_rpm", "electrical rpm"))]), "pole count"),
        (mapping([("1", ("thrust_gf", "parsec"))]), "no unit"),
    ],
)
def test_a_mapping_that_cannot_be_is_refused(text, says):
    with pytest.raises(MappingError, match=says):
        printed_lines(text)


def test_electrical_speed_by_the_poles():
    text = mapping([("1", ("speed_rpm", "electrical rpm"))], pole_count=14)
    assert printed_lines(text).read("70000").values == pytest.approx((10_000.0,))
