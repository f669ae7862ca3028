"""Strangers' logs: found, proposed, corrected cheaply, converted and cut into runs."""

import io
import json

import numpy as np
import pyarrow as pa
import pyarrow.parquet as pq
import pytest
from hypothesis import given
from hypothesis import strategies as st
from openpyxl import Workbook

from spindle_core.errors import LogFormatError, MappingError
from spindle_core.formats.foreign.dialect import read_sheet, split_line
from spindle_core.formats.foreign.mapping import (
    ColumnMapping,
    LogMapping,
    mapping_from_json,
    mapping_to_json,
)
from spindle_core.formats.foreign.proposal import (
    least_certain,
    preamble_facts,
    previews,
    propose,
    sample_values,
    speed_is_electrical,
    to_ask,
)
from spindle_core.formats.foreign.reader import read_foreign
from spindle_core.formats.foreign.tables import as_text_table
from spindle_core.formats.foreign.units import UNITS, converted, unit_named
from spindle_core.reduction import reduce_trace

GERMAN = """Bench of a friend, autumn
Recorded with a home-made logger; times are from switch-on
Time;Thrust;Supply voltage;Current;Motor rpm;Motor temp
ms;N;V;mA;rpm;°F
0;0,00;16,80;10;0;71,6
100;4,90;16,50;9500;15000;75,2
200;9,81;16,00;21000;21000;80,6
300;0,00;16,70;12;0;82,4
"""


def test_decimal_comma_semicolon_preamble_and_a_row_of_units():
    sheet = read_sheet(GERMAN.encode("cp1252"))
    assert (sheet.dialect.delimiter, sheet.dialect.decimal) == (";", ",")
    assert sheet.dialect.header_line == 3
    assert sheet.dialect.units_line is True
    assert len(sheet.preamble) == 2
    mapping = propose(sheet)
    assert {n: (c.channel, c.unit) for n, c in mapping.columns.items()} == {
        "Time": ("time_s", "ms"),
        "Thrust": ("thrust_gf", "N"),
        "Supply voltage": ("voltage_v", "V"),
        "Current": ("current_a", "mA"),
        "Motor rpm": ("speed_rpm", "rpm"),
        "Motor temp": ("motor_temp_c", "°F"),
    }
    log = read_foreign(GERMAN.encode("cp1252"), mapping)[0]
    assert log.time_s.tolist() == [0.0, 0.1, 0.2, 0.3]
    assert log.channels["thrust_gf"][2] == pytest.approx(1000.34, abs=0.01)
    assert log.channels["current_a"][1] == 9.5
    assert log.channels["motor_temp_c"][0] == pytest.approx(22.0)


@pytest.mark.parametrize(
    ("head", "row", "channel", "unit", "value"),
    [
        ("time (s),pull [kg]", "1.204", "thrust_gf", "kgf", 1204.0),
        ("time (s),force_oz", "42.5", "thrust_gf", "oz", 42.5 * 28.349523),
        ("time (s),Thrust (lbf)", "2.6", "thrust_gf", "lbf", 1179.34),
        ("time (s),throttle", "1600", "throttle_pct", "µs", 60.0),
        ("time (s),throttle", "0.6", "throttle_pct", "0–1", 60.0),
        ("time (s),torque (g·cm)", "800", "torque_nm", "g·cm", 0.0784532),
        ("time (s),rotation (rad/s)", "2000", "speed_rpm", "rad/s", 19098.6),
        ("time (s),ambient temp (K)", "295", "ambient_temp_c", "K", 21.85),
        ("time (s),power (kW)", "0.4", "power_w", "kW", 400.0),
        ("time (s),batt mV", "16200", "voltage_v", "mV", 16.2),
    ],
)
def test_units_by_name_or_range(head, row, channel, unit, value):
    text = f"{head}\n0,0\n1,{row}\n2,{row}\n3,{row}\n"
    mapping = propose(read_sheet(text.encode()))
    name = head.split(",")[1]
    assert (mapping.columns[name].channel, mapping.columns[name].unit) == (channel, unit)
    log = read_foreign(text.encode(), mapping)[0]
    assert log.channels[channel][1] == pytest.approx(value, rel=1e-5)


def test_electrical_speed_needs_the_poles_and_is_checked_against_kv():
    text = "time,eRPM,volts\n0,0,16\n1,140000,16\n2,147000,16\n"
    blind = propose(read_sheet(text.encode()))
    assert blind.columns["eRPM"].unit == "electrical rpm"
    assert "needs the pole count" in {p.remark for p in previews(read_sheet(text.encode()), blind)}
    with pytest.raises(MappingError) as caught:
        read_foreign(text.encode(), blind)
    assert caught.value.code == "no_pole_count"
    mapping = propose(read_sheet(text.encode()), pole_count=14)
    assert read_foreign(text.encode(), mapping)[0].channels["speed_rpm"][2] == 21_000.0
    known = {"kv_rpm_per_v": 1900.0, "voltage_v": 16.0, "duty": 1.0, "pole_count": 14}
    assert speed_is_electrical(147_000.0, **known) is True
    assert speed_is_electrical(21_000.0, **known) is False
    assert speed_is_electrical(500.0, **known) is None


def test_a_wrong_guess_is_seen_and_cheap_to_correct():
    text = "seconds,load,amps\n0,0.0,0.1\n1,0.61,8\n2,1.18,20\n3,0,0.1\n"
    sheet = read_sheet(text.encode())
    mapping = propose(sheet)
    assert "load" not in mapping.columns  # nothing speaks for it
    fixed = mapping.with_column("load", "thrust_gf", "kgf")
    shown = {p.column: p for p in previews(sheet, fixed)}
    assert shown["load"].high == pytest.approx(1180.0)
    wrong = mapping.with_column("load", "motor_temp_c", "K")
    odd = {p.column: p.remark for p in previews(sheet, wrong)}
    assert "wrong unit?" in odd["load"]
    assert read_foreign(text.encode(), fixed)[0].channels["thrust_gf"][1] == pytest.approx(610.0)
    assert "load" not in fixed.with_column("load", None).columns


def test_guesses_carry_their_reason_and_the_least_certain_come_first():
    text = "stamp,Thrust (g),x\n0,0,5\n10,900,6\n20,910,7\n30,0,8\n"
    mapping = propose(read_sheet(text.encode()))
    name, column = least_certain(mapping)[0]
    assert (name, column.channel) == ("stamp", "time_s")
    assert column.certainty < 0.5
    assert "only rises" in column.why
    assert "written in gf" in mapping.columns["Thrust (g)"].why


def test_a_reversed_load_cell_is_noticed_and_turned():
    text = "time_s,thrust_gf\n0,0\n1,-900\n2,-910\n3,2\n"
    sheet = read_sheet(text.encode())
    mapping = propose(sheet)
    assert "reversed" in {p.column: p.remark for p in previews(sheet, mapping)}["thrust_gf"]
    turned = LogMapping(
        {**mapping.columns, "thrust_gf": ColumnMapping("thrust_gf", "gf", negate=True)},
        mapping.dialect,
    )
    assert read_foreign(text.encode(), turned)[0].channels["thrust_gf"].max() == 910.0


def long_log(runs=3, idle_s=12.0, rate=20):
    """Several step runs in one file, apart by idle time, in µs, g and ms."""
    blocks = []
    for _ in range(runs):
        blocks += [np.zeros(int(idle_s * rate)), np.full(3 * rate, 40.0), np.full(3 * rate, 80.0)]
    blocks.append(np.zeros(int(idle_s * rate)))
    throttle = np.concatenate(blocks)
    rng = np.random.default_rng(1)
    lines = ["millis\tesc pulse\tthrust g\tcurrent A"]
    for i, level in enumerate(throttle):
        lines.append(
            f"{i * 1000 // rate}\t{1000 + 10 * level:.0f}\t{12 * level + 5 + rng.normal():.1f}\t"
            f"{0.3 * level:.2f}"
        )
    return "\n".join(lines).encode()


def test_several_runs_in_one_file_are_cut_at_the_idle_time():
    data = long_log()
    mapping = propose(read_sheet(data))
    logs = read_foreign(data, mapping)
    assert len(logs) == 3
    for log in logs:
        assert log.time_s[0] == 0.0
        result = reduce_trace(log.trace())
        assert [p.value("throttle_pct") for p in result.points] == [40.0, 80.0]
        assert result.summary["max_thrust_gf"].value == pytest.approx(960.0, abs=2.0)
        assert result.summary["tare_drift_gf"].u > 0  # a zero at both ends


def test_short_pauses_do_not_cut():
    data = long_log(runs=2, idle_s=5.0)
    assert len(read_foreign(data, propose(read_sheet(data)))) == 1


def test_a_mapping_is_saved_and_read_back():
    mapping = propose(read_sheet(GERMAN.encode()), pole_count=14)
    assert mapping_from_json(mapping_to_json(mapping)).columns.keys() == mapping.columns.keys()
    again = mapping_from_json(mapping_to_json(mapping))
    assert again.dialect == mapping.dialect
    assert again.pole_count == 14
    for broken in ("[]", "{}", '{"format": "log-mapping/1"}', "nonsense"):
        with pytest.raises(MappingError):
            mapping_from_json(broken)


def test_contradicting_mappings_are_refused():
    time = ColumnMapping("time_s", "s")
    thrust = ColumnMapping("thrust_gf", "gf")
    with pytest.raises(MappingError) as caught:
        LogMapping({"a": time, "b": thrust, "c": thrust})
    assert caught.value.code == "duplicate_channel"
    with pytest.raises(MappingError) as caught:
        LogMapping({"b": thrust})
    assert caught.value.code == "no_time"
    with pytest.raises(MappingError) as caught:
        LogMapping({"a": time, "b": ColumnMapping("thrust_gf", "stone")})
    assert caught.value.code == "unit"
    with pytest.raises(MappingError) as caught:
        read_foreign(b"x,y\n0,1\n1,2\n", LogMapping({"z": time}))
    assert caught.value.code == "missing_column"


def test_bad_cells_are_named_by_line_and_column():
    text = "time_s,thrust_gf\n0,1\n1,2\n2,3\n3,oops\n"
    mapping = propose(read_sheet(text.encode()))
    with pytest.raises(LogFormatError) as caught:
        read_foreign(text.encode(), mapping)
    assert (caught.value.line, caught.value.column, caught.value.code) == (
        5,
        "thrust_gf",
        "not_a_number",
    )
    back = "time_s,thrust_gf\n0,1\n2,2\n1,3\n"
    with pytest.raises(LogFormatError) as caught:
        read_foreign(back.encode(), propose(read_sheet(back.encode())))
    assert (caught.value.line, caught.value.code) == (4, "time_backward")
    for nothing in (b"", b"just a sentence\nand another\n", b"\x00\x01\x02"):
        with pytest.raises(LogFormatError):
            read_sheet(nothing)


def test_every_unit_goes_into_its_channel_and_back():
    for channel, units in UNITS.items():
        assert (units[0].factor, units[0].offset) == (1.0, 0.0), channel
        for unit in units:
            assert unit_named(channel, unit.name) is unit
            assert all(unit_named(channel, spelling) for spelling in unit.spellings)
            there = converted(np.array([3.0, 5.0]), unit, poles=14)
            assert (there[1] - there[0]) > 0


TABLE = """My own bench book
Motor;Prop;Battery;Throttle;Thrust (g);Amps;Volts
Ostrel Drift;5.1x4.2x3;4S;50;410;6,2;16,2
;;;100;1180;26,1;15,1
Hollin Pale;7x3.8x3;6S;50;800;8,1;24,0
;;;100;2300;45,6;23,8
Ostrel Drift;5.1x4.2x3;4S;75;760;14,0;15,7
"""


def test_a_table_of_points_becomes_a_run_a_combination():
    sheet = read_sheet(TABLE.encode())
    mapping = propose(sheet)
    assert mapping.names == {"Motor": "motor", "Prop": "propeller", "Battery": "voltage"}
    assert mapping.header == {"kind": "readings"}
    first, second = read_foreign(TABLE.encode(), mapping)
    assert (first.header["motor"], first.header["propeller"]) == ("Ostrel Drift", "5.1x4.2x3")
    assert float(first.header["nominal_voltage_v"]) == pytest.approx(14.8)
    # Rows of one combination stand together in their order, wherever they were.
    assert first.channels["thrust_gf"].tolist() == [410.0, 1180.0, 760.0]
    assert second.header["motor"] == "Hollin Pale"
    reduced = reduce_trace(second.trace())
    assert reduced.summary["max_thrust_gf"].value == pytest.approx(2300.0)
    # And it survives being saved.
    again = mapping_from_json(mapping_to_json(mapping))
    assert (again.names, again.header) == (mapping.names, mapping.header)
    assert len(read_foreign(TABLE.encode(), again)) == 2


@pytest.mark.parametrize("word", ["full", "0", "4,4,4", "140"])
def test_a_voltage_that_is_none_is_named_with_its_line(word):
    text = TABLE.replace("6S", word)
    mapping = propose(read_sheet(TABLE.encode()))
    with pytest.raises(LogFormatError) as refused:
        read_foreign(text.encode(), mapping)
    assert (refused.value.line, refused.value.column) == (5, "Battery")


@pytest.mark.parametrize(
    "changed",
    [
        {"dialect": {"delimiter": 5}},
        {"dialect": {"delimiter": ""}},
        {"dialect": {"delimiter": ";;"}},
        {"dialect": {"delimiter": "\n"}},
        {"dialect": {"delimiter": '"'}},
        {"dialect": {"delimiter": ","}},
        {"dialect": {"decimal": "7"}},
        {"dialect": {"decimal": None}},
        {"dialect": {"header_line": 0}},
        {"dialect": {"header_line": True}},
        {"dialect": {"header_line": 1.5}},
        {"dialect": {"encoding": "klingon"}},
        {"dialect": {"encoding": 7}},
        {"dialect": {"units_line": "no"}},
        {"dialect": {"colour": "red"}},
        {"idle_s": 0},
        {"idle_s": "soon"},
        {"idle_s": 1e999},
        {"pole_count": "many"},
        {"pole_count": 1e999},
        {"columns": {"A": {}}},
        {"columns": 5},
        {"header": ["x"]},
        {"names": 7},
    ],
)
def test_a_mapping_that_no_file_has_is_refused(changed):
    whole = {
        "format": "log-mapping/1",
        "columns": {},
        "dialect": {"encoding": "utf-8", "delimiter": ";", "decimal": ",", "header_line": 1},
    }
    dialect = {**whole["dialect"], **changed.get("dialect", {})}
    text = json.dumps({**whole, **changed, "dialect": dialect})
    with pytest.raises(MappingError):
        mapping_from_json(text)


def test_without_a_time_only_readings_are_a_mapping():
    mapping = propose(read_sheet(TABLE.encode()))
    with pytest.raises(MappingError, match="time_s"):
        LogMapping(mapping.columns, header={"kind": "steps"})
    with pytest.raises(MappingError, match="two things"):
        LogMapping(mapping.columns, header={"kind": "readings"}, names={"Amps": "motor"})
    with pytest.raises(MappingError, match="none of"):
        LogMapping(mapping.columns, header={"kind": "readings"}, names={"Motor": "colour"})
    with pytest.raises(MappingError, match="to anything"):
        LogMapping({}, header={"kind": "readings"})


def rows_of(text):
    return [line.split(";") for line in text.splitlines()[1:]]


def as_xlsx(rows):
    book = Workbook()
    book.active.title = "notes"
    sheet = book.create_sheet("data")
    for row in rows:
        sheet.append([number_or_text(cell) for cell in row])
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def number_or_text(cell):
    try:
        return float(cell.replace(",", "."))
    except ValueError:
        return cell or None


def test_the_same_table_in_any_format():
    rows = rows_of(TABLE)
    names, body = rows[0], [[number_or_text(c) for c in row] for row in rows[1:]]
    columns = {name: [row[i] for row in body] for i, name in enumerate(names)}
    sink = io.BytesIO()
    pq.write_table(pa.table(columns), sink)
    objects = [dict(zip(names, row, strict=True)) for row in body]
    files = {
        "book.xlsx": as_xlsx(rows),
        "table.parquet": sink.getvalue(),
        "rows.json": json.dumps({"made": "by hand", "rows": objects}).encode(),
        "columns.json": json.dumps({"note": 1, **columns}).encode(),
        "table.csv": TABLE.encode(),
    }
    for name, data in files.items():
        text = as_text_table(name, data)
        first, second = read_foreign(text, propose(read_sheet(text)))
        assert first.channels["current_a"].tolist() == pytest.approx([6.2, 26.1, 14.0]), name
        assert second.header["propeller"] == "7x3.8x3", name


@pytest.mark.parametrize(
    ("name", "data"),
    [
        ("a.xlsx", b"PK\x03\x04 not really"),
        ("a.xlsx", b""),
        ("a.parquet", b"PAR1"),
        ("a.json", b"{"),
        ("a.json", b"[" * 100_000),
        ("a.json", b"3"),
        ("a.json", b'{"a": {"b": 1}}'),
        ("a.json", b"[1, 2]"),
    ],
)
def test_a_file_that_is_not_what_it_says(name, data):
    with pytest.raises(LogFormatError):
        as_text_table(name, data)


def test_what_has_to_be_asked():
    text = "Time (s),Pull,Motor temp (°C),Current (A)\n0,0,22,0.1\n1,1.2,23,9\n2,1.1,24,9\n"
    sheet = read_sheet(text.encode())
    mapping = propose(sheet)
    asked = to_ask(mapping, previews(sheet, mapping))
    assert set(asked) == {"Pull"}
    assert "range" in asked["Pull"]
    # Somebody has said it: then it is not asked again.
    said = mapping.with_column("Pull", "thrust_gf", "kgf")
    assert to_ask(said, previews(sheet, said)) == {}
    # What would be outside any bench is asked all the same.
    wrong = mapping.with_column("Pull", "motor_temp_c", "K")
    assert "wrong unit" in to_ask(wrong, previews(sheet, wrong))["Pull"]


def test_lines_above_the_table_say_whose_it_is():
    lines = ["# Motor: Ostrel Drift;", "prop = 5x4.3x3", "ESC: Tarn 45", "motor: other", "x", ": y"]
    assert preamble_facts(lines) == {
        "motor": "Ostrel Drift",
        "propeller": "5x4.3x3",
        "esc": "Tarn 45",
    }


def test_cells_that_are_shown_of_a_column():
    sheet = read_sheet(("t,x\n" + "".join(f"{i},{i * i}\n" for i in range(100))).encode())
    assert sample_values(sheet, 1) == ["0", "1089", "4356", "9801"]
    assert sample_values(sheet, 1, most=200) == [str(i * i) for i in range(100)]


def by_hand(line, delimiter):
    """Cells as somebody would read them, sign by sign."""
    cells, quoted, cell = [], False, ""
    for sign in line:
        if sign == '"':
            quoted = not quoted
        elif sign == delimiter and not quoted:
            cells.append(cell)
            cell = ""
        else:
            cell += sign
    cells = [one.strip().strip('"').strip() for one in [*cells, cell]]
    return cells[:-1] if len(cells) > 1 and cells[-1] == "" else cells


@given(st.text(alphabet='ab;," \t', max_size=40), st.sampled_from(";,\t"))
def test_cells_are_split_as_somebody_would_read_them(line, delimiter):
    if '"' in line:
        assert split_line(line, delimiter) == by_hand(line, delimiter)


def test_a_line_without_end_is_no_row():
    rows = "a,b\n" + "".join(f"{i},{i}\n" for i in range(20))
    with pytest.raises(LogFormatError) as refused:
        read_sheet((rows + "x" * 100_001 + "\n").encode())
    assert (refused.value.code, refused.value.line) == ("long_line", 22)
    assert len(read_sheet((rows + "1," + "9" * 99_000 + "\n").encode()).rows) == 21


TWO_CELLS = """t,left,right,volts,amps
0,1.0,0.5,16.0,0.1
0.1,3.0,2.5,15.8,10.0
0.2,,2.5,15.6,20.0
0.3,1.0,0.5,16.0,0.1
"""


def together(how="plus", other="right", unit="N", channel="thrust_gf", column="left"):
    return LogMapping(
        {
            "t": ColumnMapping("time_s", "s"),
            column: ColumnMapping(channel, unit, how=how, other=other),
        }
    )


def test_two_cells_share_the_thrust_and_a_gap_in_either_is_one():
    [log] = read_foreign(TWO_CELLS.encode(), together())
    newtons = log.channels["thrust_gf"] * 9.80665e-3
    assert newtons.tolist() == pytest.approx([1.5, 5.5, np.nan, 1.5], nan_ok=True)
    [log] = read_foreign(TWO_CELLS.encode(), together("minus"))
    assert log.channels["thrust_gf"][1] * 9.80665e-3 == pytest.approx(0.5)
    # The second column is carried along as the text that it was.
    assert log.extra["right"][2] == "2.5"


def test_volts_times_amps_are_watts_and_a_reversed_sum_is_turned_as_a_whole():
    watts = together("times", "amps", "W", "power_w", "volts")
    [log] = read_foreign(TWO_CELLS.encode(), watts)
    assert log.channels["power_w"].tolist() == pytest.approx([1.6, 158.0, 312.0, 1.6])
    sheet = read_sheet(TWO_CELLS.encode())
    shown = {one.column: one for one in previews(sheet, watts)}
    assert (shown["volts"].low, shown["volts"].high) == (pytest.approx(1.6), pytest.approx(312.0))
    turned = LogMapping(
        {
            "t": ColumnMapping("time_s", "s"),
            "left": ColumnMapping("thrust_gf", "gf", negate=True, how="plus", other="right"),
        }
    )
    [log] = read_foreign(TWO_CELLS.encode(), turned)
    assert log.channels["thrust_gf"][0] == -1.5


@pytest.mark.parametrize(
    ("how", "other", "unit", "channel"),
    [
        ("divided", "right", "N", "thrust_gf"),
        ("plus", "", "N", "thrust_gf"),
        ("", "right", "N", "thrust_gf"),
        ("plus", "left", "N", "thrust_gf"),
        ("plus", "right", "°F", "motor_temp_c"),
    ],
)
def test_what_cannot_be_taken_together_is_refused(how, other, unit, channel):
    with pytest.raises(MappingError) as caught:
        together(how, other, unit, channel)
    assert caught.value.code == "combined"


def test_the_time_is_one_column():
    with pytest.raises(MappingError, match="cannot be taken together"):
        LogMapping({"t": ColumnMapping("time_s", "s", how="plus", other="right")})


def test_a_second_column_that_is_not_there_is_named_and_one_of_words_too():
    with pytest.raises(MappingError, match="no column 'centre'"):
        read_foreign(TWO_CELLS.encode(), together(other="centre"))
    sheet = read_sheet(TWO_CELLS.encode())
    assert previews(sheet, together(other="centre"))[1].remark == "'centre' is not in the file"
    wrong = TWO_CELLS.replace("3.0,2.5", "3.0,much")
    with pytest.raises(LogFormatError) as caught:
        read_foreign(wrong.encode(), together())
    assert (caught.value.line, caught.value.column) == (3, "right")


def test_what_is_taken_together_goes_through_its_file():
    mapping = together("minus")
    again = mapping_from_json(mapping_to_json(mapping))
    assert again.columns["left"] == mapping.columns["left"]
    plain = json.loads(mapping_to_json(mapping.with_column("left", "thrust_gf", "gf")))
    assert "how" not in plain["columns"]["left"]
