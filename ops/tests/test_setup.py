"""Setting up: what is missing is said or installed, what is there is left alone."""

import subprocess
import sys

import pytest

from spindle_ops import setup
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
