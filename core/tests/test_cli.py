"""The command line: JSON out, one line and status 2 for anything wrong."""

import json

import pytest
from runs import plateau_run

from spindle_core.cli import main
from spindle_core.formats.bench_log import write_bench_log


@pytest.fixture
def log(tmp_path):
    trace = plateau_run()
    path = tmp_path / "run.csv"
    path.write_bytes(write_bench_log({"kind": "steps"}, trace.time_s, trace.channels))
    return path


def test_reduce_prints_points_and_summary(log, capsys):
    assert main(["reduce", str(log)]) == 0
    result = json.loads(capsys.readouterr().out)
    assert result["kind"] == "steps"
    assert len(result["points"]) == 5
    figure = result["points"][4]["thrust_gf"]
    assert figure["value"] == pytest.approx(1200, abs=1.5)
    assert figure["n"] == 1
    assert figure["u"] > 0
    assert result["points"][4]["torque_nm"] is None
    assert result["absent"]["top_end_ratio"]["reason"] == "too_few_points"


def test_operate_prints_the_worked_point(capsys):
    arguments = "--kv 1900 --r 0.15 --i0 1.2 --diameter-in 5.1 --ct 0.21 --cp 0.145"
    assert main(["operate", *arguments.split(), "--voltage", "22.2", "--duty", "0.5"]) == 0
    result = json.loads(capsys.readouterr().out)
    assert result["speed_rpm"] == pytest.approx(16_386, abs=0.5)
    assert result["efficiency_g_per_w"] == pytest.approx(3.008, abs=6e-4)


def refused(arguments, capsys):
    try:
        status = main(arguments)
    except SystemExit as stop:
        status = stop.code
    captured = capsys.readouterr()
    assert status == 2
    assert captured.out == ""
    assert captured.err.count("\n") == 1
    return captured.err


def test_a_bad_file_names_file_line_column_and_expectation(tmp_path, capsys):
    path = tmp_path / "bad.csv"
    path.write_text("time_s,thrust_gf\n0,1\n1,x\n")
    line = refused(["reduce", str(path)], capsys)
    assert f"{path}, line 3, column thrust_gf" in line
    assert "expected a number" in line


@pytest.mark.parametrize(
    "arguments",
    [["reduce", "/no/such/file.csv"], ["reduce"], ["dance"], ["operate", "--kv", "fast"],
     "operate --kv 1900 --r 0 --i0 1 --diameter-in 5 --ct .2 --cp .1 --voltage 22".split()],  # noqa: SIM905
)  # fmt: skip
def test_bad_arguments(arguments, capsys):
    assert refused(arguments, capsys).startswith("spindle-core")


def test_a_log_without_plateaus(tmp_path, capsys):
    path = tmp_path / "flat.csv"
    path.write_text("time_s,throttle_pct\n0,0\n9,0\n")
    assert "No plateau" in refused(["reduce", str(path)], capsys)
