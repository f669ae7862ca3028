"""Folders, ports, locks and secrets of an installation; one sentence when something is off."""

import os
import shutil
import socket
import stat
from collections import namedtuple

import pytest

from spindle_ops.instance import Instance, check_ports, free_port
from spindle_ops.problem import Problem
from spindle_ops.processes import stand_command, stands_told


@pytest.fixture
def instance(tmp_path):
    made = Instance("demo", tmp_path / "demo", free_port(), demo=True)
    made.prepare()
    return made


def test_secrets_are_made_once_and_private(instance):
    first = instance.secrets()
    assert instance.secrets() == first
    path = instance.folder / "secrets.json"
    assert stat.S_IMODE(path.stat().st_mode) == 0o600
    assert len(first["secret_key"]) > 40
    assert first["database"] != first["secret_key"]


def test_damaged_secrets_are_not_replaced(instance):
    (instance.folder / "secrets.json").write_text("{")
    with pytest.raises(Problem, match="damaged"):
        instance.secrets()


def test_a_port_in_use_is_named_with_a_way_out(instance):
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", instance.stand_port))
        taken.listen()
        with pytest.raises(Problem, match=f"Port {instance.stand_port}.*--port"):
            check_ports(instance)
    check_ports(instance)


def test_a_second_launcher_is_told_where_the_first_is(instance):
    held = instance.lock()
    instance.pid_file.write_text(f"123 {instance.address}")
    with pytest.raises(Problem, match=f"running .* at {instance.address}"):
        instance.lock()
    held.close()
    instance.lock().close()


def test_a_full_disk_is_said_before_anything_is_written(instance, monkeypatch):
    usage = namedtuple("usage", "total used free")
    monkeypatch.setattr(shutil, "disk_usage", lambda path: usage(1, 1, 5_000_000))
    with pytest.raises(Problem, match="Only 5 MB are free"):
        instance.prepare()


def test_a_missing_right_is_said(tmp_path, monkeypatch):
    blocked = tmp_path / "file"
    blocked.write_text("")
    with pytest.raises(Problem, match="Cannot write"):
        Instance("demo", blocked / "demo", 9000, demo=True).prepare()


def test_a_long_path_keeps_its_sockets_short(tmp_path):
    deep = Instance("demo", tmp_path / ("d" * 120), 9000, demo=True)
    assert len(str(deep.database_socket)) < 100
    assert str(os.getuid()) in str(deep.run)


def test_the_environment_holds_what_the_processes_need(instance, monkeypatch):
    monkeypatch.setenv("PYTHONDONTWRITEBYTECODE", "1")
    environment = instance.environment()
    assert environment["SPINDLE_DEMO"] == "1"
    assert environment["SPINDLE_VAR"] == str(instance.folder)
    assert "PYTHONDONTWRITEBYTECODE" not in environment


def test_the_simulated_stand_is_the_usual_one(tmp_path):
    made = Instance("x", tmp_path, 8137, demo=False)
    [stand] = made.stand_ports
    assert "spindle_bench.stand.server" in stand_command(stand)
    assert stands_told(made) == ["--stand=8138=simulated stand"]
