"""Other people's files: opened, asked about, mapped, recognised again, stored or refused."""

import json

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from spindle_server.demo.strangers import stranger_files
from spindle_server.imports.models import KnownMapping, KnownName
from spindle_server.imports.opening import thinned
from spindle_server.runs.models import Run, SourceFile

FILES = stranger_files()
GARAGE, TABLE, TWO = "garage-logger-0412.csv", "evenings.csv", "two-runs.txt"


def send(api, path, name, data, **rest):
    body = {"file": SimpleUploadedFile(name, data), **rest}
    return api.post(f"/api/v1/imports/{path}/", body, format="multipart")


def opened(api, name, data=None, mapping=None):
    rest = {} if mapping is None else {"mapping": json.dumps(mapping)}
    answer = send(api, "open", name, FILES[name] if data is None else data, **rest)
    assert answer.status_code == 200, answer.json()
    return answer.json()


def sure(mapping, **changes):
    """As somebody leaves it who has looked at every column."""
    for name, column in mapping["columns"].items():
        column |= {"certainty": 1.0, **changes.get(name, {})}
    return mapping


def store(api, name, mapping, belongs, data=None, **rest):
    return send(
        api,
        "files",
        name,
        FILES[name] if data is None else data,
        mapping=json.dumps(mapping),
        belongs=json.dumps(belongs),
        **rest,
    )


@pytest.fixture
def whose(rig):
    return {"sample": rig["samples"][0].pk, "propeller": rig["propeller"].pk}


def by_name(found):
    return {column["name"]: column for column in found["columns"]}


def test_ounces_milliamperes_fahrenheit_and_electrical_speed(api, rig, whose):
    found = opened(api, GARAGE)
    assert not found["bench_log"]
    columns = by_name(found)
    assert (columns["Pull (oz)"]["channel"], columns["Pull (oz)"]["unit"]) == ("thrust_gf", "oz")
    assert (columns["Current (mA)"]["unit"], columns["Case temp (F)"]["unit"]) == ("mA", "°F")
    assert columns["eRPM"]["unit"] == "electrical rpm"
    assert "pole count" in columns["eRPM"]["ask"]
    assert "pole count" in found["problem"]
    assert found["runs"] == []
    mapping = {**sure(found["mapping"]), "pole_count": 14}
    again = opened(api, GARAGE, mapping=mapping)
    assert (again["asks"], again["problem"]) == (0, "")
    [run] = again["runs"]
    assert run["best"]["max_thrust_gf"] == pytest.approx(41.6 * 28.3495, rel=0.02)
    assert run["called"]["propeller"] == "wickett 5.1x4.2x3"
    assert Run.objects.count() == 0
    made = store(api, GARAGE, mapping, [whose], save_as="Garage logger")
    assert made.status_code == 201, made.json()
    run = Run.objects.get()
    assert run.header["pole_count"] == "14"
    assert run.figures.get(name="max_current_a").value == pytest.approx(26.1, rel=0.03)
    # Byte for byte what came in.
    assert api.get(f"/api/v1/runs/{run.pk}/source.csv").content == FILES[GARAGE]
    # The next file of its kind is recognised, its motor and propeller too.
    other = FILES[GARAGE].replace(b"garage, autumn", b"garage, winter")
    next_one = opened(api, GARAGE, other)
    assert (next_one["known_as"], next_one["asks"]) == ("Garage logger", 0)
    [run] = next_one["runs"]
    assert (run["sample"], run["propeller"]) == (whose["sample"], whose["propeller"])
    assert opened(api, GARAGE)["stored_as"] == Run.objects.get().pk


def test_a_guess_is_asked_and_never_stored(api, whose):
    found = opened(api, TWO)
    columns = by_name(found)
    # Nothing speaks for "load": it is carried through until somebody says what it is.
    assert columns["load"]["channel"] == ""
    assert columns["current"]["ask"]
    assert len(columns["load"]["trace"]) == 48
    refused = store(api, TWO, found["mapping"], [whose])
    assert refused.status_code == 400
    assert "current" in refused.json()["fields"]["mapping"][0]
    mapping = sure(found["mapping"])
    mapping["columns"]["load"] = {"channel": "thrust_gf", "unit": "kgf"}
    again = opened(api, TWO, mapping=mapping)
    assert len(again["runs"]) == 2
    wrong = sure(found["mapping"])
    wrong["columns"]["load"] = {"channel": "motor_temp_c", "unit": "K"}
    assert "wrong unit" in by_name(opened(api, TWO, mapping=wrong))["load"]["ask"]
    made = store(api, TWO, mapping, [whose, whose])
    assert made.status_code == 201, made.json()
    first, second = Run.objects.order_by("pk")
    assert second.header["file_of_run"] == str(first.pk)
    assert (first.header["part"], second.header["part"]) == ("1 of 2", "2 of 2")
    assert SourceFile.objects.count() == 1


def test_a_table_of_points_becomes_runs(api, rig, whose):
    found = opened(api, TABLE)
    assert found["mapping"]["names"] == {"Motor": "motor", "Prop": "propeller", "Pack": "voltage"}
    assert len(found["runs"]) == 2
    first = found["runs"][0]
    assert (first["kind"], first["duration_s"], first["points"]) == ("readings", None, 3)
    assert first["called"]["sample"] == "sable 2105.5 1950"
    other = {**whose, "sample": rig["samples"][1].pk}
    made = store(api, TABLE, sure(found["mapping"]), [whose, other])
    assert made.status_code == 201, made.json()
    runs = list(Run.objects.order_by("pk"))
    assert [run.nominal_voltage_v for run in runs] == pytest.approx([14.8, 14.8])
    assert runs[0].rate_hz is None
    # What "Teal 1505 3600" is has been said once.
    assert KnownName.objects.get(words="teal 1505 3600").sample == rig["samples"][1]
    fresh = opened(api, TABLE, FILES[TABLE].replace(b"372", b"373"))
    assert [run["sample"] for run in fresh["runs"]] == [whose["sample"], other["sample"]]


def test_all_runs_of_a_file_are_stored_or_none(api, whose):
    mapping = sure(opened(api, TABLE)["mapping"])
    for belongs, field in (
        ([whose, {"sample": whose["sample"]}], "belongs.1.propeller"),
        ([whose, {"propeller": whose["propeller"]}], "belongs.1.sample"),
        ([whose, whose, whose], "belongs"),
        ([], "belongs"),
    ):
        refused = store(api, TABLE, mapping, belongs)
        assert refused.status_code == 400, belongs
        assert field in refused.json()["fields"]
        assert Run.objects.count() == 0
        assert KnownName.objects.count() == 0


def test_the_same_file_is_taken_once(api, whose):
    mapping = sure(opened(api, TABLE)["mapping"])
    store(api, TABLE, mapping, [whose])
    again = store(api, TABLE, mapping, [whose])
    assert (again.status_code, again.json()["code"]) == (409, "imported_already")
    assert Run.objects.count() == 2


@pytest.mark.parametrize(
    ("name", "data"),
    [
        ("a.csv", b""),
        ("a.csv", b"no table at all\n"),
        ("a.csv", b"\x00\x01\x02" * 100),
        ("a.xlsx", b"PK\x03\x04"),
        ("a.parquet", b"PAR1PAR1"),
        ("a.json", b"[1, 2"),
        ("a.csv", b"time_s,thrust_gf\n0,0\n1,x\n"),
        ("a.csv", "x,y\n".encode("utf-16")),
        ("a.txt", b"a b\n1 2\n"),
    ],
)
def test_a_file_that_holds_nothing_is_refused_with_a_sentence(api, name, data):
    answer = send(api, "open", name, data)
    assert answer.status_code == 400
    assert answer.json()["message"]
    assert "Traceback" not in answer.json()["message"]


@pytest.mark.parametrize(
    "mapping",
    [
        "{",
        "[]",
        '{"format": "log-mapping/1"}',
        '{"format": "log-mapping/1", "columns": {}}',
        '{"format": "log-mapping/1", "columns": {"x": {"channel": "luck", "unit": "g"}}}',
        '{"format": "log-mapping/1", "columns": {"x": {"channel": "thrust_gf", "unit": "V"}}}',
        '{"format": "log-mapping/1", "columns": [], "names": 3}',
        '{"format": 1, "columns": {"a": {"channel": "time_s", "unit": "s"}}, "dialect": {"x": 1}}',
    ],
)
def test_a_mapping_that_is_none_is_refused(api, mapping, whose):
    answer = send(api, "open", GARAGE, FILES[GARAGE], mapping=mapping)
    assert answer.status_code == 400, answer.json()
    stored = send(api, "files", GARAGE, FILES[GARAGE], mapping=mapping, belongs=json.dumps([whose]))
    assert stored.status_code == 400


def test_a_bench_log_says_by_itself_what_it_holds(api, log_bytes):
    found = opened(api, "run.csv", log_bytes)
    assert (found["bench_log"], found["asks"], found["mapping"]) == (True, 0, None)
    assert len(found["runs"]) == 1


def test_a_kept_mapping_is_renewed_and_forgotten(api, whose):
    mapping = sure(opened(api, TABLE)["mapping"])
    store(api, TABLE, mapping, [whose], save_as="Own book")
    data = FILES[TABLE].replace(b"372", b"374")
    store(api, TABLE, mapping, [whose], data=data, save_as="Own book")
    [kept] = api.get("/api/v1/imports/mappings/").json()["results"]
    assert (kept["name"], kept["version"]) == ("Own book", 2)
    path = f"/api/v1/imports/mappings/{kept['id']}/"
    assert api.delete(f"{path}?version=1").status_code == 409
    assert api.delete(f"{path}?version=2").status_code == 204
    assert api.delete(f"{path}?version=2").status_code == 404
    assert KnownMapping.objects.count() == 0


def test_a_small_picture_of_a_column():
    assert thinned(np.array([])) == []
    assert thinned(np.array([np.nan, np.nan])) == []
    assert thinned(np.array([1.0, np.nan, 3.0])) == [1.0, None, 3.0]
    assert thinned(np.arange(96.0))[:2] == [0.5, 2.5]


@pytest.mark.parametrize("delimiter", [5, ""])
def test_a_dialect_that_cannot_be_ends_in_a_sentence(api, whose, delimiter):
    mapping = sure(opened(api, TABLE)["mapping"])
    mapping["dialect"]["delimiter"] = delimiter
    stored = store(api, TABLE, mapping, [whose])
    looked = send(api, "open", TABLE, FILES[TABLE], mapping=json.dumps(mapping))
    for answer in (stored, looked):
        assert answer.status_code == 400, answer.json()
        assert answer.json()["message"]
    assert Run.objects.count() == 0
