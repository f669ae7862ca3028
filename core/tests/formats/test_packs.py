"""Data packs: the same bytes, whole or refused, and nothing believed that was not checked."""

import csv
import hashlib
import io
import json
import zipfile

import jsonschema
import pyarrow.parquet as pq
import pytest
from openpyxl import load_workbook
from packs import a_log, a_pack, an_index, changed_file, changed_index, listed

from spindle_core.cli.main import main
from spindle_core.figures.measured import Measured
from spindle_core.formats.bench_log import read_bench_log
from spindle_core.formats.bench_log_parquet import read_bench_log_parquet
from spindle_core.formats.pack import tables
from spindle_core.formats.pack.errors import PackError
from spindle_core.formats.pack.quoting import quoted_runs
from spindle_core.formats.pack.reading import read_pack, schema_bytes
from spindle_core.reduction import reduce_trace


def files(pack):
    with zipfile.ZipFile(io.BytesIO(pack)) as packed:
        return {name: packed.read(name) for name in packed.namelist()}


def test_the_same_parts_give_the_same_bytes(monkeypatch):
    first = a_pack()
    # A second is not enough for a workbook to notice that time goes on; this is.
    import datetime as real

    class Later(real.datetime):
        @classmethod
        def now(cls, tz=None):
            return real.datetime(2031, 1, 2, 3, 4, 5, tzinfo=tz)

    import openpyxl.writer.excel as excel

    monkeypatch.setattr(excel.datetime, "datetime", Later)
    assert a_pack() == first


def test_no_file_tells_when_it_was_packed():
    whole = a_pack()
    with zipfile.ZipFile(io.BytesIO(whole)) as packed:
        book = packed.read("tables.xlsx")
        days = {one.date_time for one in packed.infolist()}
    with zipfile.ZipFile(io.BytesIO(book)) as packed:
        days |= {one.date_time for one in packed.infolist()}
    assert days == {(1980, 1, 1, 0, 0, 0)}


def test_everything_is_in_it_in_open_formats():
    held = files(a_pack())
    index = json.loads(held["pack.json"])
    jsonschema.validate(index, json.loads(held["bench-pack-1.schema.json"]))
    log = read_bench_log(held["logs/run-7.csv"])
    assert log.channels.keys() == read_bench_log_parquet(held["logs/run-7.parquet"]).channels.keys()
    points = list(csv.DictReader(io.StringIO(held["points.csv"].decode())))
    assert [float(row["throttle_pct"]) for row in points] == pytest.approx([30, 60, 100])
    assert float(points[2]["u_thrust_gf"]) > 0.008 * float(points[2]["thrust_gf"])
    columns = pq.read_table(io.BytesIO(held["points.parquet"])).to_pydict()
    assert columns["thrust_gf"] == pytest.approx([float(row["thrust_gf"]) for row in points])
    book = load_workbook(io.BytesIO(held["tables.xlsx"]))
    assert book.sheetnames == ["runs", "figures", "points", "identified", "claims", "teardown"]
    text = held["README.md"].decode()
    for said in ("CC BY 4.0", "Lower Quay bench", "edition 2", "Weighed anew.", "| `thrust_gf` |"):
        assert said in text


def test_what_is_absent_is_empty_with_its_reason_and_never_0():
    held = files(a_pack())
    rows = list(csv.DictReader(io.StringIO(held["identified.csv"].decode())))
    resistance = next(row for row in rows if row["figure"] == "resistance_ohm")
    assert (resistance["value"], resistance["u"]) == ("", "")
    assert resistance["absent_because"] == "no run without a propeller"
    column = pq.read_table(io.BytesIO(held["identified.parquet"])).to_pydict()["value"]
    assert column.count(None) == 1


def test_a_formula_in_a_name_is_made_inert():
    held = files(a_pack())
    assert "'=Bell" in held["teardown.csv"].decode()
    sheet = load_workbook(io.BytesIO(held["tables.xlsx"]))["teardown"]
    assert sheet["D2"].value == "'=Bell"
    assert sheet["D2"].data_type == "s"


def test_checksums_are_those_that_sha256sum_reads():
    held = files(a_pack())
    lines = held["checksums.sha256"].decode().splitlines()
    told = dict(reversed(line.split("  ", 1)) for line in lines)
    assert told == {
        path: hashlib.sha256(data).hexdigest()
        for path, data in held.items()
        if path != "checksums.sha256"
    }


def test_tables_without_rows_keep_their_heads():
    empty = tables.Table("x", "nothing", (("a", str), ("b", float)), ())
    assert tables.table_csv(empty) == b"a,b\r\n"
    assert pq.read_table(io.BytesIO(tables.table_parquet(empty))).column_names == ["a", "b"]


def test_a_pack_without_runs_is_a_pack():
    pack = read_pack(a_pack(logs={}, index=an_index([])))
    assert list(quoted_runs(pack, "Lower Quay bench")) == []


def test_what_was_packed_is_read_back():
    pack = read_pack(a_pack())
    (run,) = quoted_runs(pack, "Lower Quay bench")
    assert run.remarks == ()
    assert run.error == ""
    own = reduce_trace(a_log().trace())
    figure = run.reduction.summary["max_thrust_gf"]
    assert figure.value == own.summary["max_thrust_gf"].value
    assert figure.u == pytest.approx(own.summary["max_thrust_gf"].u)
    assert run.density_kg_per_m3 == pytest.approx(1.18, abs=0.01)
    assert run.repeatability == pytest.approx(0.01)


def test_their_stand_shares_nothing_with_ours_of_the_same_name():
    (run,) = quoted_runs(read_pack(a_pack()), "Lower Quay bench")
    theirs = run.reduction.summary["max_thrust_gf"]
    ours = reduce_trace(a_log().trace()).summary["max_thrust_gf"]
    assert isinstance(theirs, Measured)
    assert not set(theirs.components) & set(ours.components)


def test_a_figure_that_does_not_follow_from_its_log_is_told():
    def praised(results):
        figure = results[7]["summary"]["max_thrust_gf"]
        figure["value"] *= 1.2

    (run,) = quoted_runs(read_pack(a_pack(tamper=praised)), "Lower Quay bench")
    assert len(run.remarks) == 1
    assert run.remarks[0].startswith("max_thrust_gf: they state 1,")
    assert "their log gives 1,2" in run.remarks[0]


def test_a_log_that_cannot_be_reduced_is_kept_with_its_reason():
    short = a_log()
    flat = type(short)(short.header, short.time_s, {"voltage_v": short.channels["voltage_v"]})
    whole = a_pack()
    bare = files(a_pack(logs={7: short}))["logs/run-7.csv"]
    assert bare
    pack = read_pack(_with_log(whole, flat))
    (run,) = quoted_runs(pack, "Lower Quay bench")
    assert run.reduction is None
    assert run.error


def _with_log(pack, log):
    """The pack with another log, and the index told of it."""
    from spindle_core.formats.bench_log import write_bench_log

    data = write_bench_log(log.header, log.time_s, log.channels, log.extra)

    def told(index):
        for one in index["files"]:
            if one["path"] == "logs/run-7.csv":
                one |= {"sha256": hashlib.sha256(data).hexdigest(), "bytes": len(data)}

    return changed_index(changed_file(pack, "logs/run-7.csv", lambda _: data), told)


@pytest.mark.parametrize(
    ("change", "code", "where"),
    [
        (lambda index: {"format": "bench-pack/2"}, "unknown_format", "pack.json"),
        (lambda index: [], "unknown_format", "pack.json"),
        (lambda index: index["bench"].update(name=""), "schema", "bench/name"),
        (lambda index: index["publication"].update(slug="../x"), "schema", "publication/slug"),
        (lambda index: index["runs"][0].update(nominal_voltage_v=0), "schema", "nominal_voltage_v"),
        (lambda index: index["runs"][0].update(nominal_voltage_v="16"), "schema", "runs/0"),
        (lambda index: index["runs"][0].update(propeller="p9"), "reference", "p9"),
        (lambda index: index["runs"][0].update(sample="Y"), "reference", "'Y'"),
        (lambda index: index["runs"][0].update(log="logs/run-8.csv"), "reference", "run-8"),
        (lambda index: index["runs"].append(index["runs"][0]), "twice", "runs"),
        (lambda index: index["motors"].append(index["motors"][0]), "twice", "motors"),
        (lambda index: index["files"].append(index["files"][0]), "twice", "files"),
        (lambda index: index["files"][0].update(path="gone.txt"), "missing", "gone.txt"),
        (lambda index: index["files"][0].update(bytes=1), "checksum", "README.md"),
        (lambda index: index["motors"][0]["figures"]["kv_rpm_per_v"].update(u=-1), "schema", "kv"),
        (
            lambda index: index["motors"][0]["figures"].update(ct={"absent": "x", "value": 1}),
            "schema",
            "ct",
        ),
        (lambda index: index["files"][3].update(sha256="0" * 64), "checksum", ""),
    ],
)
def test_an_index_that_cannot_be_is_refused_with_the_place(change, code, where):
    with pytest.raises(PackError) as refused:
        read_pack(changed_index(a_pack(), change))
    assert refused.value.code == code
    assert where in refused.value.message


@pytest.mark.parametrize("number", ["NaN", "Infinity", "1e999", "1" * 400])
def test_numbers_that_are_none_are_refused(number):
    pack = changed_file(
        a_pack(), "pack.json", lambda data: data.replace(b": 1890.0", f": {number}".encode())
    )
    with pytest.raises(PackError) as refused:
        read_pack(pack)
    assert refused.value.code == "not_json"


def test_a_file_that_was_changed_is_found():
    with pytest.raises(PackError) as refused:
        read_pack(changed_file(a_pack(), "points.csv", lambda data: data.replace(b"1", b"2", 1)))
    assert refused.value.code == "checksum"
    assert "points.csv" in refused.value.message


def _zip(*entries):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        for name, data in entries:
            packed.writestr(name, data)
    return out.getvalue()


@pytest.mark.parametrize(
    ("data", "code"),
    [
        (b"", "not_zip"),
        (b"time_s,thrust_gf\n0,1\n", "not_zip"),
        (a_pack()[:-400], "not_zip"),
        (_zip(("notes.txt", b"hello")), "no_index"),
        (_zip(("pack.json", b"{")), "not_json"),
        (_zip(("pack.json", b"[" * 100_000)), "not_json"),
        (_zip(("../pack.json", b"{}")), "bad_path"),
        (_zip(("/etc/pack.json", b"{}")), "bad_path"),
        (_zip(*((f"{n}.txt", b"") for n in range(5_001))), "too_many"),
    ],
)
def test_what_is_no_pack_is_refused(data, code):
    with pytest.raises(PackError) as refused:
        read_pack(data)
    assert refused.value.code == code


@pytest.mark.filterwarnings("ignore:Duplicate name")
def test_a_file_that_is_there_twice_is_refused():
    with pytest.raises(PackError) as refused:
        read_pack(_zip(("pack.json", b"{}"), ("pack.json", b"{}")))
    assert refused.value.code == "twice"


def test_a_bomb_is_not_unpacked(monkeypatch):
    from spindle_core.formats.pack import reading

    monkeypatch.setattr(reading, "LARGEST_EXPANDED_BYTES", 10_000)
    with pytest.raises(PackError) as refused:
        read_pack(_zip(("pack.json", b"0" * 20_000)))
    assert refused.value.code == "too_large"


def test_an_archive_damaged_inside_is_refused():
    whole = bytearray(a_pack())
    at = whole.index(b"logs/run-7.csv") + 300
    whole[at : at + 40] = bytes(40)
    with pytest.raises(PackError) as refused:
        read_pack(bytes(whole))
    assert refused.value.code in ("damaged", "checksum")


def test_kind_and_day_have_to_be_what_they_say():
    other = read_pack(a_pack(logs={7: a_log()}, index=an_index([listed(7, kind="ramp")])))
    with pytest.raises(PackError) as refused:
        list(quoted_runs(other, "x"))
    assert refused.value.code == "other_kind"
    never = read_pack(changed_index(a_pack(), lambda i: i["runs"][0].update(on="2026-02-31")))
    with pytest.raises(PackError) as refused:
        list(quoted_runs(never, "x"))
    assert "2026-02-31" in refused.value.message


def test_the_schema_is_one():
    jsonschema.Draft202012Validator.check_schema(json.loads(schema_bytes()))


def test_the_command_line_checks_one(tmp_path, capsys):
    path = tmp_path / "their.zip"
    path.write_bytes(a_pack())
    assert main(["pack", str(path)]) == 0
    told = json.loads(capsys.readouterr().out)
    assert told["bench"]["name"] == "Lower Quay bench"
    assert told["runs"][0]["summary"]["max_thrust_gf"]["value"] == pytest.approx(1200, rel=0.01)
    path.write_bytes(a_pack()[:-400])
    assert main(["pack", str(path)]) == 2
    assert "not whole" in capsys.readouterr().err
