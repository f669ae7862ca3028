"""The command line: JSON out, one line and status 2 for anything wrong."""

import json
import subprocess
import sys

import pytest
from runs import plateau_run

import spindle_core
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


OPERATE = ["operate", "--kv", "1900", "--i0", "1", "--diameter-in", "5", "--ct", ".2", "--cp", ".1"]


@pytest.mark.parametrize(
    "arguments",
    [
        ["reduce", "/no/such/file.csv"],
        ["reduce"],
        ["dance"],
        ["operate", "--kv", "fast"],
        [*OPERATE, "--r", "0", "--voltage", "22"],
    ],
)
def test_bad_arguments(arguments, capsys):
    assert refused(arguments, capsys).startswith("spindle-core")


def test_a_log_without_plateaus(tmp_path, capsys):
    path = tmp_path / "flat.csv"
    path.write_text("time_s,throttle_pct\n0,0\n9,0\n")
    assert "No plateau" in refused(["reduce", str(path)], capsys)


def test_a_reader_that_has_seen_enough_is_no_error(log):
    """``spindle-core reduce LOG | head -1`` ends quietly."""
    command = [sys.executable, "-m", "spindle_core.cli", "reduce", str(log)]
    with subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.PIPE) as process:
        assert process.stdout.read(1) == b"{"
        process.stdout.close()
        complaint = process.stderr.read()
        process.wait(timeout=60)
    assert complaint == b""
    assert process.returncode == 0


def test_version_and_a_command_that_is_none(capsys):
    with pytest.raises(SystemExit) as stop:
        main(["--version"])
    assert stop.value.code == 0
    assert capsys.readouterr().out == f"spindle-core {spindle_core.__version__}\n"
    assert "invalid choice" in refused(["reduc"], capsys)


def test_numbers_that_no_motor_has_are_refused_in_one_line(capsys):
    base = "operate --kv 1900 --r 0.15 --i0 1.2 --diameter-in 5.1 --ct 0.21 --cp 0.145".split()  # noqa: SIM905
    for wrong in (
        ["--voltage", "0"],
        ["--voltage", "16", "--duty", "1.2"],
        ["--voltage", "16", "--rho", "-1"],
        ["--voltage", "0.01"],
    ):
        assert refused([*base, *wrong], capsys).startswith("spindle-core: operate: ")
