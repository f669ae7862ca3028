"""The bench's time zone: chosen once, never by accident another."""

import pytest

from spindle_ops import zone
from spindle_ops.instance import Instance, free_port
from spindle_ops.problem import Problem
from spindle_ops.zone import choose_zone, first_zone, machine_zone, zone_of


@pytest.fixture
def machine(tmp_path, monkeypatch):
    """A machine that says nothing, in files of its own."""
    monkeypatch.delenv("TZ", raising=False)
    return tmp_path / "timezone", tmp_path / "localtime"


def test_a_machine_says_it_by_a_name_a_link_or_its_environment(machine, monkeypatch):
    name, link = machine
    assert machine_zone(name, link) == "UTC"
    link.symlink_to("/usr/share/zoneinfo/Asia/Tokyo")
    assert machine_zone(name, link) == "Asia/Tokyo"
    name.write_text("Europe/Oslo\n")
    assert machine_zone(name, link) == "Europe/Oslo"
    monkeypatch.setenv("TZ", ":America/Lima")
    assert machine_zone(name, link) == "America/Lima"


@pytest.mark.parametrize("said", ["", "Europe/Nowhere", "../../etc/passwd", "/etc/passwd", "\0"])
def test_what_is_no_zone_is_utc(machine, said):
    name, link = machine
    name.write_text(said)
    assert machine_zone(name, link) == "UTC"


@pytest.mark.parametrize(
    "text", ["", "Oslo", "Europe", "europe/nowhere", "../UTC", "/etc/passwd", " UTC", "UTC\n", "\0"]
)
def test_what_is_none_is_refused_and_nothing_kept(tmp_path, text):
    with pytest.raises(Problem, match="Europe/Oslo or UTC"):
        choose_zone(tmp_path, text)
    assert not (tmp_path / zone.FILE).exists()


def test_a_new_bench_has_the_machines_and_keeps_it(tmp_path, monkeypatch):
    monkeypatch.setattr(zone, "machine_zone", lambda: "Europe/Oslo")
    folder = tmp_path / "new"
    instance = Instance("start", folder, free_port(), demo=False)
    instance.prepare()
    assert instance.environment()["SPINDLE_TIME_ZONE"] == "Europe/Oslo"
    monkeypatch.setattr(zone, "machine_zone", lambda: "Asia/Tokyo")
    instance.prepare()
    assert zone_of(folder) == "Europe/Oslo"
    choose_zone(folder, "Pacific/Chatham")
    assert instance.environment()["SPINDLE_TIME_ZONE"] == "Pacific/Chatham"


@pytest.mark.parametrize("left", ["migrated", "mariadb"])
def test_a_bench_from_before_goes_on_in_utc(tmp_path, monkeypatch, left):
    """Its runs would move to other days, and to other states of the stand."""
    monkeypatch.setattr(zone, "machine_zone", lambda: "Asia/Tokyo")
    (tmp_path / left).mkdir()
    first_zone(tmp_path, demo=False)
    assert zone_of(tmp_path) == "UTC"


def test_a_demo_is_the_same_everywhere(tmp_path, monkeypatch):
    monkeypatch.setattr(zone, "machine_zone", lambda: "Asia/Tokyo")
    first_zone(tmp_path, demo=True)
    assert zone_of(tmp_path) == "UTC"
