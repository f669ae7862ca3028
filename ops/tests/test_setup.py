"""Setting up: what is missing is said or installed, what is there is left alone."""

import subprocess
import sys
import time

import pytest

from spindle_ops import processes, setup
from spindle_ops.instance import Instance
from spindle_ops.problem import Problem


@pytest.fixture
def ran(monkeypatch):
    """Commands instead of their effects."""
    commands = []
    monkeypatch.setattr(setup, "run", lambda command, problem, **_: commands.append(command))
    return commands


def test_nothing_is_installed_when_all_is_there(monkeypatch, ran):
    monkeypatch.setattr(setup, "_installed", lambda name: True)
    setup.debian_packages(("gcc",))
    assert ran == []


@pytest.mark.parametrize(("prefix", "first"), [([], "apt-get"), (["sudo", "-n"], "sudo")])
def test_only_what_is_missing_is_installed(monkeypatch, ran, prefix, first):
    monkeypatch.setattr(setup, "_installed", lambda name: name == "gcc")
    monkeypatch.setattr(setup, "_as_root", lambda: prefix)
    monkeypatch.setattr(setup.shutil, "which", lambda name: f"/usr/bin/{name}")
    setup.debian_packages(("gcc", "mariadb-server"))
    assert ran[0][0] == first
    assert ran[1][-1] == "mariadb-server"
    assert "gcc" not in ran[1]


def test_without_root_the_command_to_run_is_named(monkeypatch, ran):
    monkeypatch.setattr(setup, "_installed", lambda name: False)
    monkeypatch.setattr(setup, "_as_root", lambda: None)
    monkeypatch.setattr(setup.shutil, "which", lambda name: f"/usr/bin/{name}")
    with pytest.raises(Problem, match="sudo apt-get install mariadb-server"):
        setup.debian_packages(("mariadb-server",))
    assert ran == []


def test_on_another_system_the_packages_are_named(monkeypatch):
    monkeypatch.setattr(setup, "_installed", lambda name: False)
    monkeypatch.setattr(setup.shutil, "which", lambda name: None)
    with pytest.raises(Problem, match="package manager"):
        setup.debian_packages(("mariadb-server",))


def test_a_failing_step_shows_its_last_lines():
    command = [sys.executable, "-c", "print('a'); print('the reason'); raise SystemExit(4)"]
    with pytest.raises(Problem, match=r"Step failed: a \| the reason"):
        setup.run(command, "Step failed")
    with pytest.raises(Problem, match="disk is full"):
        setup.run([sys.executable, "-c", "raise SystemExit('No space left on device')"], "Step")
    with pytest.raises(Problem, match="No such file"):
        setup.run(["/no/such/program"], "Step")


def test_a_step_tells_how_far_it_is_while_it_runs(tmp_path):
    seen = tmp_path / "seen"
    script = (
        "import pathlib, time\n"
        "print('  demo: half', flush=True)\n"
        f"while not pathlib.Path({str(seen)!r}).exists():\n"
        "    time.sleep(0.01)\n"
        "print('whole')"
    )
    told = []

    def tell(line):
        told.append(line)
        seen.touch()

    setup.run([sys.executable, "-c", script], "Step failed", tell=tell)
    assert told == ["  demo: half", "whole"]


def test_a_step_whose_teller_breaks_is_ended_with_it():
    def tell(line):
        raise KeyboardInterrupt

    begun = time.monotonic()
    with pytest.raises(KeyboardInterrupt):
        setup.run(
            [sys.executable, "-c", "import time; print(1, flush=True); time.sleep(60)"],
            "Step failed",
            tell=tell,
        )
    assert time.monotonic() - begun < 30.0


def test_only_progress_of_the_demo_is_shown(capsys):
    for line in ('{"level": "info", "message": "a write"}', "  demo: 9 motors", "demo: no"):
        processes._tell_progress(line)
    assert capsys.readouterr().out == "  9 motors\n"


@pytest.mark.parametrize(
    ("said", "version"), [("v20.19.4", (20, 19)), ("v9.1.0", (9, 1)), ("nonsense", (0, 0))]
)
def test_node_versions(monkeypatch, said, version):
    done = subprocess.CompletedProcess([], 0, stdout=said)
    monkeypatch.setattr(setup.subprocess, "run", lambda *a, **k: done)
    assert setup._node_version("/usr/bin/node") == version
    assert setup._node_version(None) == (0, 0)


def test_an_old_node_is_replaced_by_the_wheels(monkeypatch, ran, tmp_path):
    monkeypatch.setattr(setup, "_node_version", lambda node: (18, 0))
    monkeypatch.setattr(setup, "VENV", tmp_path)
    environment = setup.node_environment()
    assert environment["PATH"].startswith(str(tmp_path / "bin"))
    assert "requirements-node.lock" in str(ran[0][-1])


def test_a_new_enough_node_is_used(monkeypatch, ran):
    monkeypatch.setattr(setup, "_node_version", lambda node: (22, 1))
    monkeypatch.setattr(setup.shutil, "which", lambda name: f"/usr/bin/{name}")
    assert setup.node_environment() == {}
    assert ran == []


def test_a_digest_changes_with_content_and_name(monkeypatch, tmp_path):
    monkeypatch.setattr(setup, "CHECKOUT", tmp_path)
    first = tmp_path / "a"
    first.write_text("1")
    before = setup.digest([first])
    first.write_text("2")
    assert setup.digest([first]) != before
    renamed = first.rename(tmp_path / "b")
    assert setup.digest([renamed]) not in (before, None)


@pytest.fixture
def collecting(monkeypatch, tmp_path):
    """How often files were collected, with the command replaced; and a maker of instances."""
    asked = []

    def collect(instance, *words):
        asked.append(words[0])
        (instance.folder / "static" / "css").mkdir(parents=True, exist_ok=True)
        (instance.folder / "static" / "css" / "a.css").write_text(f"collected {len(asked)}")

    monkeypatch.setattr(setup, "manage", collect)
    monkeypatch.setattr(setup, "STATIC", tmp_path / "kept" / "collected")
    (tmp_path / "kept").mkdir()

    def serves(name, build):
        """What an instance serves once a build was given to it."""
        instance = Instance("x", tmp_path / name, 23_500, demo=False)
        setup.static_files(instance, build)
        return (tmp_path / name / "static" / "css" / "a.css").read_text()

    return asked, serves


def test_what_is_served_is_collected_once_for_all_instances_of_a_build(collecting):
    asked, serves = collecting
    assert [serves("one", "A"), serves("two", "A"), serves("one", "A")] == ["collected 1"] * 3
    # Another build is collected anew, and takes the place of the one before; none goes back to it.
    assert [serves("one", "B"), serves("two", "B")] == ["collected 2"] * 2
    assert serves("three", "A") == "collected 3"
    assert len(asked) == 3


def test_a_copy_that_was_broken_off_is_not_taken_for_whole(collecting, tmp_path, monkeypatch):
    _, serves = collecting
    serves("one", "A")
    (setup.STATIC / setup.STAMP).unlink()
    assert serves("two", "A") == "collected 2"

    def breaks(source, target, **how):
        target.mkdir(parents=True, exist_ok=True)
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(setup.shutil, "copytree", breaks)
    assert serves("three", "A") == "collected 3"
    assert sorted(one.name for one in setup.STATIC.parent.iterdir()) == ["collected"]


def test_a_checkout_that_cannot_be_written_to_collects_each_time(collecting, monkeypatch):
    _, serves = collecting
    monkeypatch.setattr(setup, "STATIC", setup.STATIC / "nowhere" / "collected")
    (setup.STATIC.parent.parent).write_text("a file where a folder should be")
    assert [serves("one", "A"), serves("two", "A")] == ["collected 1", "collected 2"]


def test_other_packages_are_collected_anew(collecting, monkeypatch, tmp_path):
    _, serves = collecting
    monkeypatch.setattr(setup, "CHECKOUT", tmp_path)
    (tmp_path / "requirements.lock").write_text("django==6.0")
    assert serves("one", "A") == "collected 1"
    (tmp_path / "requirements.lock").write_text("django==6.1")
    assert [serves("one", "A"), serves("two", "A")] == ["collected 2"] * 2


def _python(path, version, *, whole):
    """Something that answers as an interpreter of a version does, with or without the parts that
    Debian has in packages of their own."""
    include = path.parent / f"include-{path.name}"
    if whole:
        include.mkdir()
        (include / "Python.h").touch()
    path.write_text(
        "#!/bin/sh\n"
        'case "$2" in\n'
        f"*version_info*) echo {version} ;;\n"
        f"*sysconfig*) echo {include} ;;\n"
        f"*ensurepip*) exit {0 if whole else 1} ;;\n"
        "*) exit 2 ;;\n"
        "esac\n"
    )
    path.chmod(0o755)
    return str(path)


@pytest.mark.parametrize(
    ("version", "whole", "root", "systems"),
    [
        ("3 11", True, None, True),
        ("3 13", True, None, True),
        ("3 13", False, [], True),  # what is missing is installed
        ("3 13", False, ["sudo"], True),
        ("3 13", False, None, False),  # what is missing could not be
        ("3 9", True, [], False),
        ("2 7", True, [], False),
        ("", True, [], False),
    ],
)
def test_the_systems_python_is_taken_if_it_is_new_enough_and_can_be_had(
    monkeypatch, tmp_path, version, whole, root, systems
):
    of_the_system = _python(tmp_path / "system", version, whole=whole)
    monkeypatch.setattr(setup, "SYSTEMS_PYTHON", of_the_system)
    monkeypatch.setattr(setup, "_as_root", lambda: root)
    assert setup.interpreter() == (of_the_system if systems else sys.executable)


def test_without_a_python_of_the_system_this_one_is_taken(monkeypatch, tmp_path):
    monkeypatch.setattr(setup, "SYSTEMS_PYTHON", str(tmp_path / "nowhere"))
    assert setup.interpreter() == sys.executable


@pytest.mark.parametrize("whole", [True, False])
def test_parts_of_python_are_looked_for_in_the_one_that_is_taken(monkeypatch, tmp_path, whole):
    """One that was compiled by hand has them without Debian's packages; another's do not help."""
    monkeypatch.setattr(setup, "SYSTEMS_PYTHON", _python(tmp_path / "a", "3 12", whole=whole))
    monkeypatch.setattr(setup.sys, "executable", _python(tmp_path / "b", "3 12", whole=not whole))
    monkeypatch.setattr(setup, "_as_root", lambda: [])
    not_here = subprocess.CompletedProcess([], 1, stdout="")
    really = subprocess.run
    monkeypatch.setattr(
        setup.subprocess,
        "run",
        lambda command, **how: not_here if "dpkg" in command[0] else really(command, **how),
    )
    assert setup._installed("python3-venv") is whole
    assert setup._installed("python3-dev") is whole
    assert not setup._installed("gcc")


def test_the_environment_is_made_of_the_python_that_was_chosen(monkeypatch, ran, tmp_path):
    monkeypatch.setattr(setup, "VENV", tmp_path)
    monkeypatch.setattr(setup, "PYTHON", tmp_path / "bin" / "python")
    monkeypatch.setattr(setup, "interpreter", lambda: "/somewhere/python3")
    setup.python_packages(testing=False)
    assert ran[0] == ["/somewhere/python3", "-m", "venv", tmp_path]
