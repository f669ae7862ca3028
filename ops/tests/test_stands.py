"""The stands of an installation, as they are said and as they are started."""

import pytest

from spindle_ops.health import Act, Watch
from spindle_ops.instance import Instance
from spindle_ops.problem import Problem
from spindle_ops.processes import stand_command, stands_told
from spindle_ops.stands import MOST, stand_ports

DRIVER = ["-m", "spindle_bench.driver.process"]


@pytest.mark.parametrize(
    ("stand", "command"),
    [
        ("serial:/dev/ttyACM0", ["--device", "/dev/ttyACM0", "--baud", "115200"]),
        ("serial:/dev/ttyUSB1@921600", ["--device", "/dev/ttyUSB1", "--baud", "921600"]),
    ],
)
def test_a_stand_on_a_serial_port_is_driven(stand, command):
    [made] = stand_ports([stand], 8137)
    assert stand_command(made)[1:] == [*DRIVER, *command, "--port", "8138"]
    assert made.words == f"serial stand {made.device}"


def test_a_device_that_prints_is_read_through_its_mapping(tmp_path):
    mapping = tmp_path / "my club, old.json"
    mapping.write_text("{}")
    [made] = stand_ports([f"printed:/dev/ttyUSB0@9600,{mapping}"], 8137)
    command = stand_command(made)
    assert command[command.index("--printed") + 1] == str(mapping)
    assert command[command.index("--baud") + 1] == "9600"
    assert made.words == "printing device /dev/ttyUSB0"


def test_a_mapping_is_found_from_another_folder_too(tmp_path, monkeypatch):
    (tmp_path / "club.json").write_text("{}")
    monkeypatch.chdir(tmp_path)
    [made] = stand_ports(["printed:/dev/ttyUSB0,club.json"], 8137)
    assert made.anywhere == f"printed:/dev/ttyUSB0@115200,{tmp_path / 'club.json'}"
    monkeypatch.chdir("/")
    [again] = stand_ports([made.anywhere], 8137)
    assert stand_command(again) == stand_command(made)
    assert stand_ports(["simulated"], 8137)[0].anywhere == "simulated"


@pytest.mark.parametrize(
    "stand",
    [
        *("", "real", "Simulated", "serial:", "serial:COM3", "serial:/dev/x,m.json"),
        *("serial:/dev/x@", "serial:/dev/x@fast", "serial:/d@9"),
        "serial:/dev/x@\u0661\u0662\u0660\u0660",
        *("printed:/dev/x", "printed:/dev/x,", "printed:x,m.json", "printed:/dev/x,/no/m.json"),
    ],
)
def test_a_stand_that_is_none_is_refused_in_a_sentence(tmp_path, stand):
    with pytest.raises(Problem, match=r"stand is 'simulated'|baud rate|mapping .* is not there"):
        Instance("x", tmp_path, 8137, demo=False, stands=(stand,))


def test_several_have_ports_that_nothing_else_has(tmp_path):
    said = ("simulated", "serial:/dev/ttyACM0", "serial:/dev/ttyACM1@9600")
    made = Instance("x", tmp_path, 8137, demo=False, stands=said)
    ports = [one.port for one in made.stand_ports]
    assert len({made.port, made.database_port, made.door_port, *ports}) == 6
    assert made.stand_port == ports[0] == 8138
    assert stands_told(made)[1] == f"--stand={ports[1]}=serial stand /dev/ttyACM0"


@pytest.mark.parametrize(
    "said",
    [
        (),
        ("simulated", "simulated"),
        ("serial:/dev/x", "serial:/dev/x@9600"),
        tuple(f"serial:/dev/x{n}" for n in range(MOST + 1)),
    ],
)
def test_too_many_or_the_same_twice_are_refused(said):
    with pytest.raises(Problem, match=r"named twice|knows 1 to"):
        stand_ports(said, 8137)


@pytest.mark.parametrize("said", ["simulated", "serial:/dev/ttyACM0"])
def test_a_stand_that_does_not_answer_is_told_of_whatever_its_name(said):
    [stand] = stand_ports([said], 8137)
    watch = Watch(stand.words, seen=True, answered=0.0, in_vain=9)
    assert watch.judge(1.9) is Act.NOTHING
    assert watch.judge(2.1) is Act.TELL
    assert "cut the supply by hand" in watch.sentence(2.1)
