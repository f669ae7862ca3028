"""The command line of the launcher, and how test results are counted."""

import contextlib
import os
import re
import signal
import subprocess
import sys
import threading

import pytest

from spindle_ops import checks, cli, processes
from spindle_ops.checks import Tally
from spindle_ops.child import RESTARTS_IN_A_MINUTE, Child
from spindle_ops.instance import CHECKOUT, Instance
from spindle_ops.leftovers import record
from spindle_ops.problem import Problem


def test_help_names_every_command(capsys):
    with pytest.raises(SystemExit) as stop:
        cli.main(["--help"])
    assert stop.value.code == 0
    said = capsys.readouterr().out
    for command in ("demo", "start", "stop", "test", "shots", "plots", "seed", "matrix"):
        assert f"./spindle {command}" in said


def test_a_problem_is_one_sentence_without_a_traceback(monkeypatch, capsys):
    def fail(options):
        raise Problem("Port 8137 is in use.")

    monkeypatch.setattr(cli, "_run", fail)
    assert cli.main(["demo"]) == 1
    assert capsys.readouterr().err == "spindle: Port 8137 is in use.\n"


def test_a_full_disk_anywhere_is_one_sentence(monkeypatch, capsys):
    def fail(options):
        raise OSError(28, "No space left on device", "/x/y")

    monkeypatch.setattr(cli, "_run", fail)
    assert cli.main(["demo"]) == 1
    assert capsys.readouterr().err == "spindle: No space left on device (/x/y).\n"


def test_an_unusable_port(tmp_path, capsys):
    assert cli.main(["demo", "--port", "80", "--folder", str(tmp_path)]) == 1
    assert "1024 to 65000" in capsys.readouterr().err


def test_seeding_goes_to_a_folder_of_its_own(monkeypatch, tmp_path, capsys):
    """With everything heavy replaced: which instance, which command, in which order."""
    order = []

    @contextlib.contextmanager
    def database_alone(instance):
        order.append(("database", instance.folder, instance.demo))
        yield
        order.append(("stopped",))

    monkeypatch.setattr(cli, "database_alone", database_alone)
    for name in ("debian_packages", "python_packages"):
        monkeypatch.setattr(cli.setup, name, lambda *a, **k: None)
    monkeypatch.setattr(cli.setup, "show_manage", lambda instance, *words: order.append(words))
    assert cli.main(["seed", "--size", "small", "--time", "--folder", str(tmp_path / "s")]) == 0
    assert order == [
        ("database", tmp_path / "s", False),
        ("seed_bench", "--size", "small", "--time", "--keep", str(tmp_path / "s" / "times.json")),
        ("stopped",),
    ]
    assert f"./spindle start --folder {tmp_path / 's'}" in capsys.readouterr().out


def test_a_command_that_fails_is_named(tmp_path, monkeypatch):
    monkeypatch.setattr(cli.setup, "PYTHON", "/bin/false")
    instance = Instance("start", tmp_path, 23300, demo=False)
    instance.prepare()
    with pytest.raises(Problem, match="'seed_bench' failed"):
        cli.setup.show_manage(instance, "seed_bench")


def test_stopping_when_nothing_runs(tmp_path, capsys):
    assert cli.main(["stop", "--folder", str(tmp_path)]) == 0
    assert "Nothing is running" in capsys.readouterr().out


def test_stopping_ends_what_a_killed_launcher_left(tmp_path, capsys):
    left = subprocess.Popen([sys.executable, "-c", "import time; time.sleep(60)"])
    instance = Instance("x", tmp_path, 23400, demo=False)
    instance.run.mkdir(parents=True, exist_ok=True)
    record(instance.children_file, {"database": left.pid})
    reaper = threading.Thread(target=left.wait)
    reaper.start()
    assert cli.main(["stop", "--folder", str(tmp_path)]) == 0
    reaper.join(10)
    assert "killed launcher" in capsys.readouterr().out
    assert left.returncode == -signal.SIGTERM


def test_stopping_leaves_a_stranger_with_a_reused_process_id_alone(tmp_path, capsys):
    (tmp_path / "spindle.pid").write_text("1 http://127.0.0.1:8137/")
    assert cli.main(["stop", "--folder", str(tmp_path)]) == 0
    assert "Nothing is running" in capsys.readouterr().out


def test_the_simulated_stands_patience(monkeypatch):
    assert processes.stand_patience() == []
    monkeypatch.setenv("SPINDLE_STAND_HEARTBEAT_MS", "800")
    assert processes.stand_patience() == ["--heartbeat-ms", "800"]
    for wrong in ("100", "1001", "fast"):
        monkeypatch.setenv("SPINDLE_STAND_HEARTBEAT_MS", wrong)
        with pytest.raises(Problem, match="300 to 1000"):
            processes.stand_patience()


def child(tmp_path, code):
    return Child("helper", [sys.executable, "-c", code], {}, tmp_path / "log")


def test_a_process_that_ends_is_started_again_and_then_given_up(tmp_path, capsys):
    made = child(tmp_path, "raise SystemExit(3)")
    made.start()
    for _ in range(RESTARTS_IN_A_MINUTE):
        made.process.wait()
        made.revive()
    made.process.wait()
    with pytest.raises(Problem, match="ends again and again"):
        made.revive()
    assert "status 3" in capsys.readouterr().out


def test_a_process_that_does_not_listen_is_ended_all_the_same(tmp_path):
    made = child(
        tmp_path,
        "import signal, time; signal.signal(signal.SIGTERM, signal.SIG_IGN);"
        "print('up', flush=True); time.sleep(60)",
    )
    made.start()
    while "up" not in (tmp_path / "log").read_text():
        assert made.process.poll() is None
    made.stop(within_s=0.1)
    assert made.process is None


def test_counting_results(tmp_path):
    junit = tmp_path / "a.xml"
    junit.write_text(
        '<testsuites><testsuite tests="10" failures="1" errors="1" skipped="2"/></testsuites>'
    )
    vitest = tmp_path / "b.json"
    vitest.write_text('{"numPassedTests": 70, "numFailedTests": 3}')
    tally = Tally()
    tally.add_junit(junit)
    tally.add_vitest(vitest)
    tally.add_junit(tmp_path / "missing.xml")
    assert (tally.passed, tally.failed) == (76, 5)


# Lanes


def step(name, lane, code):
    return checks.Step(name, lane, [sys.executable, "-c", code])


BAD = "import sys; print('first', flush=True); print('second', file=sys.stderr); sys.exit(3)"


def played(monkeypatch, steps, capsys):
    monkeypatch.setattr(checks, "_steps", lambda: steps)
    tally = checks.Tally()
    for lane in dict.fromkeys(one.lane for one in steps):
        checks._lane(lane, steps, dict(os.environ), tally)
    return tally, capsys.readouterr().out


def test_a_failed_step_is_named_and_what_it_printed_is_in_one_piece(monkeypatch, capsys):
    steps = [
        step("good", "python", "print('all well')"),
        step("bad", "web", BAD),
        step("late", "web", "print('after')"),
    ]
    tally, said = played(monkeypatch, steps, capsys)
    assert tally.broken == ["bad"]
    assert said.index("all well") < said.index("first") < said.index("second")
    assert said.index("second") < said.index("FAILED") < said.index("── late")


def test_a_step_says_what_it_and_its_children_took_of_the_processor(monkeypatch, capsys):
    busy = "import time\nwhile time.process_time() < 0.4: pass"
    through = f"import subprocess, sys; subprocess.run([sys.executable, '-c', {busy!r}])"
    steps = [
        step("busy", "python", busy),
        step("through another", "python", through),
        step("waits", "python", "import time; time.sleep(0.6)"),
    ]
    _, said = played(monkeypatch, steps, capsys)
    took = [float(one) for one in re.findall(r" s, ([\d.]+) s of processor", said)]
    assert len(took) == 3
    assert min(took[:2]) >= 0.4 > took[2]


def test_a_step_that_is_killed_has_failed(monkeypatch, capsys):
    killed = "import os, signal; print('begun', flush=True); os.kill(os.getpid(), signal.SIGKILL)"
    tally, said = played(monkeypatch, [step("killed", "python", killed)], capsys)
    assert tally.broken == ["killed"]
    assert said.index("begun") < said.index("FAILED")


def test_building_sets_up_all_that_a_start_needs(monkeypatch):
    """Whoever runs the unit cannot install Debian's packages; who builds beforehand can."""
    asked = []
    for name in ("debian_packages", "python_packages", "front_end"):
        note = lambda *a, name=name, **k: asked.append((name, k))  # noqa: E731
        monkeypatch.setattr(cli.setup, name, note)
    assert cli.main(["build"]) == 0
    assert asked == [
        ("debian_packages", {}),
        ("python_packages", {"testing": False}),
        ("front_end", {}),
    ]


def meets(folder, own, other):
    """A step that ends well only where the other one is played at the same time."""
    return (
        "import pathlib, sys, time\n"
        f"folder = pathlib.Path({str(folder)!r})\n"
        f"(folder / {own!r}).touch()\n"
        "until = time.monotonic() + 3\n"
        f"while not (folder / {other!r}).exists():\n"
        "    if time.monotonic() > until: sys.exit(1)\n"
        "    time.sleep(0.01)\n"
    )


@pytest.mark.parametrize(("at_once", "broken"), [(2, []), (1, ["this"])])
def test_a_lane_plays_as_many_steps_at_once_as_it_may(
    monkeypatch, tmp_path, capsys, at_once, broken
):
    monkeypatch.setattr(checks, "AT_ONCE", {"wide": at_once})
    steps = [
        step("this", "wide", meets(tmp_path, "a", "b")),
        step("that", "wide", meets(tmp_path, "b", "a")),
    ]
    tally, _ = played(monkeypatch, steps, capsys)
    assert tally.broken == broken


def test_every_step_is_in_a_lane_of_a_stage_and_clocks_are_watched_in_the_last():
    lanes = [lane for stage in checks.STAGES for lane in stage]
    steps = checks._steps()
    assert {one.lane for one in steps} == set(lanes)
    assert len({one.name for one in steps}) == len(steps)
    last = {one.name: one for one in steps if one.lane in checks.STAGES[-1]}
    assert set(last) == {"bench", "motors", "judgements", "pages"}
    # No more than three go at a time, two browsers at most; the pages stand behind what turns,
    # where a run is cut when its own page does not answer in time.
    assert len(checks.STAGES[-1]) == 3
    # What turns stands first in its lane.
    assert next(iter(last)) == "motors"
    assert last["motors"].lane == last["judgements"].lane == "clocks"
    assert not set(checks.STAGES[-1]) & set(checks.AT_ONCE)
    assert [name for name, one in last.items() if "nice" in one.command] == ["pages"]
    # The demo with which three of them begin is made before.
    assert next(one for one in steps if one.name == "demo").lane in checks.STAGES[0]


def test_the_longest_step_goes_before_those_beside_it():
    beside = [one for one in checks._steps() if one.lane == "calm"]
    assert [one.name for one in beside if one.command[: len(checks.BEHIND)] != checks.BEHIND] == [
        "server"
    ]


def test_every_folder_of_tests_belongs_to_one_step():
    asked = [part for one in checks._steps() for part in one.command]
    for folder in ("core/tests", "ops/tests", "server/tests", "bench/tests", "e2e"):
        assert asked.count(folder) == 1, folder


def test_what_one_step_leaves_out_another_plays_with_a_database_of_its_own():
    asked = [part for one in checks._steps() for part in one.command]
    left_out = [part.removeprefix("--ignore=") for part in asked if part.startswith("--ignore=")]
    assert left_out
    for path in left_out:
        assert (CHECKOUT / path).exists(), path
        assert asked.count(path) == 1, path
    demos = [part for part in asked if part.startswith("SPINDLE_DEMO=")]
    assert len(demos) == len(set(demos)) == 2
    names = [part for part in asked if part.startswith("SPINDLE_TEST_DB_NAME=")]
    assert len(names) == len(set(names)) == 1
    # What the account of the tests may make and drop.
    assert names[0].split("=")[1].startswith("test_spindle")
    assert names[0] != "SPINDLE_TEST_DB_NAME=test_spindle"


def test_a_step_that_is_not_there_is_refused():
    with pytest.raises(Problem, match="no step 'pytest'"):
        checks.run_checks(["pytest"])


def test_files_are_dropped_whole_and_none_is_written_over(tmp_path, capsys):
    logs = tmp_path / "logs"
    logs.mkdir()
    (logs / "a.csv").write_text("1")
    (logs / "b.csv").write_text("2")
    inbox = tmp_path / "home" / "inbox"
    assert cli.drop_into_inbox([logs, logs / "a.csv"], [inbox]) == 0
    assert {p.name: p.read_text() for p in inbox.iterdir()} == {
        "a.csv": "1",
        "b.csv": "2",
        "a-2.csv": "1",
    }
    assert "3 files dropped" in capsys.readouterr().out


def test_what_cannot_be_dropped_is_said(tmp_path):
    (tmp_path / "empty").mkdir()
    for paths, inboxes, words in (
        ([tmp_path / "nowhere.csv"], [tmp_path], "is not there"),
        ([tmp_path / "empty"], [tmp_path], "no file"),
        ([tmp_path], [], "Nothing runs"),
    ):
        with pytest.raises(Problem, match=words):
            cli.drop_into_inbox(paths, inboxes)


def test_the_agent_is_asked_to_end_first_and_long_work_holds_nothing_up(tmp_path):
    instance = Instance("demo", tmp_path / "home", 19_937, demo=True)
    instance.prepare()
    whole = processes.Supervisor(instance)
    stopped = []
    for child in whole.children:
        child.stop = lambda within_s, name=child.name: stopped.append((name, within_s))
    whole.database.stop = lambda: stopped.append(("database", 0.0))
    whole.stop()
    assert stopped[0] == ("bench agent", 10.0)
    assert ("long work", 2.0) in stopped
    assert stopped[-1][0] == "database"
    assert len(stopped) == len(whole.children) + 1
