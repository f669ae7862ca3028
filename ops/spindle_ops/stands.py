"""The stands that an installation knows: simulated, on a serial port, or one that only prints.

``simulated``, ``serial:PORT[@BAUD]`` or ``printed:PORT[@BAUD],MAPPING.json``. Each is a process
with a port of its own; the bench drives one at a time.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from spindle_ops.problem import Problem

USUAL_BAUD = 115_200
MOST = 8
WHAT = (
    "A stand is 'simulated', 'serial:/dev/…' (with @BAUD where it is not 115200), or "
    "'printed:/dev/…,MAPPING.json' for a device that only prints numbers"
)


@dataclass(frozen=True)
class StandPort:
    """One stand: ``said`` as it was written, which is its key; ``port`` where it is offered."""

    said: str
    port: int
    device: str = ""
    baud: int = USUAL_BAUD
    mapping: Path | None = None

    @property
    def simulated(self) -> bool:
        """Whether it is the simulated one."""
        return not self.device

    @property
    def words(self) -> str:
        """What it is called on a screen."""
        if self.simulated:
            return "simulated stand"
        return f"{'printing device' if self.mapping else 'serial stand'} {self.device}"

    @property
    def anywhere(self) -> str:
        """As it is written where another folder is the working one."""
        if self.mapping is None:
            return self.said
        return f"printed:{self.device}@{self.baud},{self.mapping}"

    def command(self, python: str) -> list[str]:
        """How its process is started, but for how patient a simulated one is."""
        at = ["--port", str(self.port)]
        if self.simulated:
            return [python, "-m", "spindle_bench.stand.server", *at]
        driver = [python, "-m", "spindle_bench.driver.process", "--device", self.device]
        printed = ["--printed", str(self.mapping)] if self.mapping else []
        return [*driver, "--baud", str(self.baud), *printed, *at]


def stand_ports(said: Sequence[str], port: int) -> tuple[StandPort, ...]:
    """The stands at an installation whose page is at ``port``, the first one first.

    :raises Problem: one that is none, the same twice, or too many.
    """
    if not 1 <= len(said) <= MOST:
        raise Problem(f"An installation knows 1 to {MOST} stands, got {len(said)}.")
    # The page's port is followed by the first stand's, the database's and the door's.
    ports = [port + 1, *(port + 3 + number for number in range(1, len(said)))]
    found = tuple(_read(one, at) for one, at in zip(said, ports, strict=True))
    devices = [one.device for one in found]
    for device in devices:
        if devices.count(device) > 1:
            raise Problem(f"The stand {device or 'simulated'!r} is named twice.")
    return found


def _read(said: str, port: int) -> StandPort:
    if said == "simulated":
        return StandPort(said, port)
    kind, _, rest = said.partition(":")
    rest, comma, path = rest.partition(",")
    device, _, baud = rest.rpartition("@") if "@" in rest else (rest, "", str(USUAL_BAUD))
    known = (kind == "serial" and not comma) or (kind == "printed" and bool(path))
    # Digits of other scripts are digits to Python, and no baud rate.
    if not known or not device.startswith("/") or not (baud.isascii() and baud.isdigit()):
        raise Problem(f"{WHAT}; got {said!r}.")
    if not 1200 <= int(baud) <= 4_000_000:
        raise Problem(f"A baud rate is 1200 to 4000000, got {baud}.")
    mapping = Path(path).expanduser().resolve() if path else None
    if mapping is not None and not mapping.is_file():
        raise Problem(f"The mapping {mapping} is not there; `spindle-core propose` makes one.")
    return StandPort(said, port, device, int(baud), mapping)
