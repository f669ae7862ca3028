"""Every command of the core's command line on files as a reviewer has them."""

import csv
import io
import json

import pytest
from motor_runs import MOTOR, PROPS, loaded_run, no_load_run
from openpyxl import load_workbook

from spindle_core.cli import main
from spindle_core.formats.bench_log import write_bench_log

AIR = {"air_temp_c": 15.0, "air_humidity_pct": 0.0, "air_pressure_hpa": 1.19 * 287.055 * 2.8815}


def written(folder, name, trace, **header):
    known = {"kind": trace.kind, "motor": trace.facts.motor, "sample": trace.facts.sample, **AIR}
    if trace.facts.propeller:
        known |= {
            "propeller": trace.facts.propeller,
            "prop_diameter_in": trace.facts.prop_diameter_in,
        }
    path = folder / name
    path.write_bytes(write_bench_log({**known, **header}, trace.time_s, trace.channels))
    return path


@pytest.fixture
def bench(tmp_path):
    """Two motors, one of them 3 % weaker in kV, with repeats and a no-load run."""
    folder = tmp_path / "runs"
    folder.mkdir()
    volts = {"nominal_voltage_v": 16.0, "esc_linear": "yes"}
    levels = (20, 40, 60, 80, 100)
    for number in range(3):
        gain = {"thrust_gf": 0.004 * (number - 1)}
        run = loaded_run("heavy", seed=number, levels=levels, gains=gain)
        written(folder, f"sable-{number}.csv", run, **volts)
        weak = loaded_run("heavy", seed=10 + number, levels=levels, volts=15.0, gains=gain)
        written(folder, f"other-{number}.csv", weak, **{**volts, "motor": "Other"})
    written(folder, "sable-light.csv", loaded_run("light", seed=5, levels=levels), **volts)
    written(folder, "sable-free.csv", no_load_run(seed=7), **volts)
    return folder


def answer(capsys, *arguments):
    assert main([str(argument) for argument in arguments]) == 0
    return json.loads(capsys.readouterr().out)


def refusal(capsys, *arguments):
    assert main([str(argument) for argument in arguments]) == 2
    captured = capsys.readouterr()
    assert captured.out == ""
    assert captured.err.count("\n") == 1
    return captured.err


def test_identify_gives_the_motor_and_its_propellers(bench, capsys):
    found = answer(capsys, "identify", *sorted(bench.glob("sable*.csv")))
    motor = found["motor"]
    assert motor["kv_rpm_per_v"]["value"] == pytest.approx(MOTOR.kv_rpm_per_v, rel=2e-3)
    assert motor["resistance_ohm"]["value"] == pytest.approx(MOTOR.resistance_ohm, rel=0.03)
    assert motor["no_load_current_a"]["u"] > 0
    props = {item["propeller"]: item for item in found["propellers"]}
    assert props["heavy"]["ct"]["value"] == pytest.approx(PROPS["heavy"].ct, rel=0.01)
    assert props["light"]["cp"]["value"] == pytest.approx(PROPS["light"].cp, rel=0.02)


def test_identify_names_the_file_that_is_wrong(bench, capsys):
    bad = bench / "bad.csv"
    bad.write_text("time_s,current_a\n0,1\n0,\n1,x\n")
    line = refusal(capsys, "identify", bench / "sable-free.csv", bad)
    assert "bad.csv, line 4, column current_a" in line


def test_report_of_a_folder(bench, tmp_path, capsys):
    motors = tmp_path / "motors.csv"
    motors.write_text("motor,mass_g,price,rated_kv_rpm_per_v\nSable,31.5,24,1950\nOther,31,,\n")
    book = tmp_path / "report.xlsx"
    found = answer(
        capsys,
        "report",
        bench,
        "--motors",
        motors,
        "--xlsx",
        book,
        "--baseline",
        "Sable",
        "--weight",
        "max_thrust_gf=1",
        "--weight",
        "lower:mass_g=1",
    )
    assert len(found["runs"]) == 8
    repeat = next(
        r for r in found["repeats"] if r["figure"] == "max_thrust_gf" and r["motor"] == "Sable A"
    )
    assert repeat["n"] == 3
    assert repeat["s"] / repeat["mean"] == pytest.approx(0.004, abs=1e-3)
    table = found["comparisons"][0]
    assert table["repeatability_from"] == "repeats"
    assert table["propeller"] == "heavy"
    assert table["motors"] == ["Other", "Sable"]
    assert {row["figure"] for row in table["rows"]} >= {"power_w", "efficiency_g_per_w"}
    speeds = [r for r in table["rows"] if r["figure"] == "throttle_pct"]
    assert any(r["motors"]["Other"].get("outcome") == "different" for r in speeds)
    # Equal thrust takes equal power in the same windings, whatever the supply's voltage.
    assert table["performs_the_same"] == []
    first = found["ranking"]["motors"][0]
    assert first["name"] == "Sable"
    assert first["place_interval"] == [1, 1]
    assert found["labels"]["Sable"]["value"] == pytest.approx(100 * (1900 / 1950 - 1), abs=0.3)
    assert any("slower than its label" in text for text in found["statements"])
    assert found["identified"]["motor"]["motor"] in ("Sable A", "Other A")
    nominal = found["runs"][0]["at_nominal"]["max_thrust_gf"]
    raw = found["runs"][0]["summary"]["max_thrust_gf"]
    assert nominal["value"] > raw["value"]
    sheets = load_workbook(io.BytesIO(book.read_bytes()))
    assert sheets.sheetnames == ["runs", "repeats", "comparison", "ranking", "statements"]
    assert sheets["ranking"]["B2"].value == "Sable"


def test_report_at_other_conditions_and_with_a_bad_log(bench, capsys):
    (bench / "broken.csv").write_text("thrust_gf\n1\n")
    assert "broken.csv, line 1" in refusal(capsys, "report", bench)
    found = answer(
        capsys, "report", bench, "--skip-bad", "--at", "throttle_pct", "--levels", "50,100"
    )
    assert "broken.csv" in found["refused"][0]
    rows = found["comparisons"][0]["rows"]
    assert {(row["condition"], row["at"]) for row in rows} == {
        ("throttle_pct", 50.0),
        ("throttle_pct", 100.0),
    }
    thrust = next(r for r in rows if r["figure"] == "thrust_gf" and r["at"] == 100.0)["motors"]
    assert thrust["Sable"]["value"] > thrust["Other"]["value"]
    assert "no motor" not in refusal(capsys, "report", bench, "--skip-bad", "--baseline", "Nobody")


def test_a_table_of_motors_with_text_for_a_mass(bench, tmp_path, capsys):
    motors = tmp_path / "motors.csv"
    motors.write_text("motor,mass_g\nSable,heavy\n")
    line = refusal(capsys, "report", bench, "--motors", motors)
    assert "motors.csv, line 2, column mass_g" in line


def test_reduce_as_another_kind_and_as_a_workbook(bench, tmp_path, capsys):
    book = tmp_path / "run.xlsx"
    found = answer(capsys, "reduce", bench / "sable-0.csv", "--kind", "peak", "--xlsx", book)
    assert found["kind"] == "peak"
    assert found["summary"]["burst_thrust_gf"]["value"] > 0
    assert load_workbook(io.BytesIO(book.read_bytes())).sheetnames[0] == "summary"


@pytest.mark.parametrize("ending", ["json", "parquet", "xlsx"])
def test_convert_and_reduce_what_was_converted(bench, tmp_path, capsys, ending):
    out = tmp_path / f"run.{ending}"
    answer(capsys, "convert", bench / "sable-0.csv", out)
    assert answer(capsys, "reduce", out) == answer(capsys, "reduce", bench / "sable-0.csv")
    assert "no known format" in refusal(capsys, "convert", out, tmp_path / "run.txt")


STRANGE = (
    "Bench of the club\nGain: 2,1\n"
    "Zeit;Thrust [kg];Volt;Current [mA];eRPM\n"
    + "\n".join(
        f"{i * 100};{0.5 + 0.001 * i:.3f};16,0;{3000 + i};{140_000 + i}".replace(".", ",")
        for i in range(40)
    )
    + "\n"
)


def test_a_strangers_log_is_proposed_corrected_and_taken(tmp_path, capsys):
    path, saved = tmp_path / "their log.csv", tmp_path / "club.json"
    path.write_text(STRANGE)
    found = answer(capsys, "propose", path, "--poles", "14")
    by_name = {item["column"]: item for item in found["columns"]}
    assert by_name["Thrust [kg]"]["unit"] == "kgf"
    assert by_name["Thrust [kg]"]["gives"] == pytest.approx([500.0, 539.0])
    assert by_name["Zeit"]["channel"] == "time_s"
    assert found["preamble"][0] == "Bench of the club"
    taken = answer(
        capsys,
        "import",
        path,
        "--poles",
        "14",
        "--column",
        "Volt=voltage_v:V",
        "--kind",
        "readings",
        "--set",
        "motor=Ostrel",
        "--out",
        tmp_path,
        "--save",
        saved,
    )
    log = tmp_path / "their log.bench.csv"
    assert taken["runs"][0]["file"] == str(log)
    text = log.read_text()
    assert "# motor: Ostrel" in text
    rows = list(csv.DictReader(line for line in text.splitlines() if not line.startswith("#")))
    assert float(rows[0]["speed_rpm"]) == pytest.approx(20_000.0)
    assert float(rows[0]["current_a"]) == pytest.approx(3.0)
    again = answer(capsys, "import", path, "--mapping", saved, "--out", tmp_path)
    assert again == taken
    line = refusal(capsys, "propose", path, "--column", "Schub=thrust_gf")
    assert "no column 'Schub'" in line


@pytest.mark.parametrize(
    ("question", "expected"),
    [
        ("size 2105.5", {"basis": "stator", "aspect": pytest.approx(0.262, abs=5e-4)}),
        ("winding --slots 12 --poles 14", {"winding_factor": pytest.approx(0.933, abs=5e-4)}),
        (
            "leads --mass-g 28.60 --at-mm 140 --other-mass-g 26.35 --other-at-mm 40 --awg 20",
            {"resistance_ohm_per_m": pytest.approx(0.0333, abs=5e-5)},
        ),
        (
            "screw --length 8 --arm 4 --thread-depth 2.5 --clearance 1.2",
            {"reach_mm": pytest.approx(4.0)},
        ),
        ("fit --bore 5 --hub-thickness 6 --shaft 5 --free-length 14 --nut 4", {"fits": True}),
        (
            "ratings --power 420 --current 26 --cells 4",
            {"implied_voltage_v": pytest.approx(16.15, abs=0.005)},
        ),
        (
            "scale 742 --weight plate=131 --weight clamp=92 --total 956",
            {
                "added_g": 223.0,
                "assumed": True,
                "total": "956 g was typed; 742 + 131 (plate) + 92 (clamp) make 965 gf.",
            },
        ),
        ("scale 900 --lever 168/112 --u-arm-mm 0.5", {"assumed": False, "total": None}),
        ("ceiling --enamel H --magnets N52SH", {"winding_c": 150.0}),
        ("propeller 5.1x4.2x3", {"certain": True, "blades": 3}),
        ("load --voltage 14.8 --i0 1.1 --r 0.052", {"current_a": pytest.approx(17.69, abs=0.005)}),
        (
            "air --temp-c 24 --pressure-hpa 985 --humidity-pct 60",
            {"density_kg_per_m3": pytest.approx(1.1469, abs=5e-5)},
        ),
        (
            "ready --from-c 61 --to-c 30 --ambient-c 23 --time-constant-s 140",
            {"ready_in_s": pytest.approx(236.8, abs=0.05)},
        ),
    ],
)
def test_check_answers_one_question(question, expected, capsys):
    found = answer(capsys, "check", *question.split())
    assert {key: found[key] for key in expected} == expected


@pytest.mark.parametrize("ring", ["a/b/c", "5/8"])
def test_a_ring_that_is_none(ring, capsys):
    fit = "check fit --bore 8 --hub-thickness 6 --shaft 5 --free-length 14 --ring".split()  # noqa: SIM905
    with pytest.raises(SystemExit) as stop:
        main([*fit, ring])
    assert stop.value.code == 2
    assert capsys.readouterr().err.count("\n") == 1
    assert answer(capsys, *fit, "5/8/6")["fits"] is True


@pytest.mark.parametrize(
    ("read", "thrust_gf"),
    [("742 --weight plate=131 --weight clamp=92", 965.0), ("420 --at-rest 1500", 1080.0)],
)
def test_a_scale_is_read_as_thrust(read, thrust_gf, capsys):
    found = answer(capsys, "check", "scale", *read.split())
    assert found["thrust_gf"]["value"] == pytest.approx(thrust_gf)


@pytest.mark.parametrize(
    "wrong", ["--lever 168", "--lever 0/112", "--weight plate", "--weight plate=-1", "--lever a/b"]
)
def test_a_geometry_that_is_none(wrong, capsys):
    try:
        status = main(["check", "scale", "900", *wrong.split()])
    except SystemExit as stop:
        status = stop.code
    said = capsys.readouterr()
    assert (status, said.out, said.err.count("\n")) == (2, "", 1)


def test_leads_of_unknown_gauge_are_not_guessed(capsys):
    line = refusal(capsys, "check", "leads", "--mass-g", "28.6", "--at-mm", "140")
    assert "--awg" in line
    by_gauge = answer(
        capsys, *["check", "leads", "--mass-g", "28.6", "--at-mm", "140", "--awg", "20"]
    )
    assert by_gauge["mass_g"]["origin"] == "estimated"


def test_check_refuses_what_cannot_be(capsys):
    assert "12" in refusal(capsys, "check", "winding", "--slots", "12", "--poles", "12")


def test_operate_with_limits(capsys):
    point = "operate --kv 1900 --r 0.15 --i0 1.2 --diameter-in 5.1 --ct 0.21 --cp 0.145".split()  # noqa: SIM905
    sag = answer(capsys, *point, "--voltage", "25.0", "--pack-resistance", "0.012")
    assert sag["speed_rpm"] == pytest.approx(30_650, abs=0.5)
    limited = answer(capsys, *point, "--voltage", "22.2", "--supply-limit", "30")
    assert limited["current_a"] == pytest.approx(30.0, abs=1e-3)
    assert limited["limited_by"] == "supply"
    held = answer(capsys, *point, "--voltage", "22.2", "--esc-limit", "30")
    assert held["motor_current_a"] == pytest.approx(30.0, abs=1e-3)
    assert held["limited_by"] == "esc"


def test_bench_prints_each_budget_with_what_it_measured(capsys):
    rows = answer(capsys, "bench", "--rows", "3000", "--repeat", "3", "--json")
    assert [row["budget"] for row in rows] == [3.0, 2.0, 1.0, 0.5]
    for row in rows:
        held_to = row["median_s"] if row["ratio"] is None else row["ratio"]
        assert row["held"] == (held_to <= row["budget"])
        assert 0 < row["best_s"] <= row["median_s"]
    assert main(["bench", "--rows", "3000", "--repeat", "3"]) == 0
    assert "held" in capsys.readouterr().out.lower()


def test_help_tells_a_newcomer_where_to_start(capsys):
    with pytest.raises(SystemExit) as stop:
        main(["--help"])
    assert stop.value.code == 0
    text = capsys.readouterr().out
    for command in ("reduce", "identify", "report", "propose", "import", "check", "bench"):
        assert command in text


CRAFT = {
    "format": "craft/1",
    "layout": "multirotor",
    "motors": 4,
    "cells": 4,
    "capacity_mah": 1300,
    "rated_c": 75,
    "items": [
        {"name": "frame and pack", "mass_g": 410},
        {"name": "camera", "mass_g": 30, "basis": "claimed"},
    ],
}


def test_match_puts_the_motors_on_a_craft(bench, tmp_path, capsys):
    craft, motors = tmp_path / "craft.json", tmp_path / "motors.csv"
    craft.write_text(json.dumps(CRAFT))
    motors.write_text("motor,mass_g\nSable,31.5\n")
    found = answer(capsys, "match", craft, bench, "--motors", motors)
    names = {item["name"] for item in found["candidates"]}
    assert names == {"Sable, heavy", "Sable, light"}
    heavy = next(item for item in found["candidates"] if item["name"] == "Sable, heavy")
    mass = 440 + 4 * 31.5
    assert heavy["mass_g"]["value"] == pytest.approx(mass)
    assert heavy["thrust_to_weight"]["value"] == pytest.approx(
        4 * heavy["max_thrust_gf"]["value"] / mass
    )
    assert heavy["hover_thrust_gf"]["value"] == pytest.approx(mass / 4)
    assert heavy["pack"]["c_rate"]["value"] == pytest.approx(
        4 * heavy["peak_current_a"]["value"] / 1.3
    )
    assert found["picks"]["strongest"] == "Sable, heavy"
    assert any("mass is not known" in line for line in found["left_out"])


@pytest.mark.parametrize(
    ("change", "where"),
    [
        ({"format": "boat/1"}, "column format"),
        ({"motors": 2.5}, "column motors"),
        ({"layout": "blimp"}, "column layout"),
        ({"items": [{"mass_g": 3}]}, "column items[1]"),
        ({"items": [{"name": "x", "mass_g": "much"}]}, "column items[1].mass_g"),
        ({"layout": "coaxial", "motors": 3}, "pairs"),
    ],
)
def test_a_craft_that_cannot_be(bench, tmp_path, capsys, change, where):
    craft, motors = tmp_path / "craft.json", tmp_path / "motors.csv"
    craft.write_text(json.dumps({**CRAFT, **change}))
    motors.write_text("motor,mass_g\nSable,31.5\n")
    line = refusal(capsys, "match", craft, bench, "--motors", motors)
    assert "craft.json" in line
    assert where in line


def test_operate_in_flight_is_an_estimate_beside_the_stand(capsys):
    point = "operate --kv 1900 --r 0.15 --i0 1.2 --diameter-in 5.1 --ct 0.21 --cp 0.145".split()  # noqa: SIM905
    found = answer(capsys, *point, "--voltage", "16", "--pitch-in", "4.2", "--flight-speed", "15")
    flying = found["in_flight"]
    assert flying["origin"] == "estimated"
    assert flying["speed_rpm"] > found["speed_rpm"]
    assert flying["current_a"]["value"] < found["current_a"]
    assert flying["rule_current_a"]["absent"] == "no_rule"
    own = answer(
        capsys,
        *point,
        "--voltage",
        "16",
        "--pitch-in",
        "4.2",
        "--flight-speed",
        "15",
        "--flight-less-current",
        "20",
        "30",
    )["in_flight"]
    assert own["rule_current_a"] == pytest.approx(
        [0.7 * found["current_a"], 0.8 * found["current_a"]]
    )
    assert "pitch-in" in refusal(capsys, *point, "--voltage", "16", "--flight-speed", "15")
