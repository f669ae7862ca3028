"""A device to read: what the firmware of a stand on a serial port must do, in one file.

``spindle-reference-device --port /dev/pts/3`` plays it on a pseudo-terminal or a cable. A real one
does the same in its main loop, with an ADC where this has a model. It trusts nobody: armed and
without a word from its partner for 300 ms it cuts by itself, however alive the computer seems.
"""

from __future__ import annotations

import argparse
import json
import math
import os
import sys
import time
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any, NoReturn

HEARTBEAT_MS = 300
RATE_HZ = 100.0
LONGEST_LINE = 1000
CHANNELS = (
    ("throttle_pct", "%"),
    ("thrust_gf", "gf"),
    ("voltage_v", "V"),
    ("current_a", "A"),
    ("speed_rpm", "rpm"),
    ("motor_temp_c", "°C"),
)
OWN_LIMITS = {"current_a": 60.0, "thrust_gf": 4000.0, "motor_temp_c": 110.0}
SPOOL_S = 0.08

Message = dict[str, Any]


@dataclass
class Device:
    """The state of the firmware: little enough to see that it is safe."""

    armed: bool = False
    throttle_pct: float = 0.0
    heard_s: float = 0.0
    last_seq: int = -1
    streaming: bool = False
    rate_hz: float = RATE_HZ
    zero_gf: float = 0.0
    speed_share: float = 0.0
    case_c: float = 24.0
    last_cut: Message | None = None
    out: list[Message] = field(default_factory=list)

    # ---- safety: the heart; write it first and test it without a computer -----------------------

    def cut(self, code: str, message: str) -> None:
        """Output off. In firmware: the ESC's signal to its stop value, at once, in this call."""
        self.throttle_pct, self.armed = 0.0, False
        self.last_cut = {"code": code, "message": message, "by": ""}
        self.out.append({"type": "event", **self.last_cut})

    def watch_partner(self, now_s: float) -> None:
        """Called in every turn of the loop, or by a hardware watchdog."""
        silent_ms = 1000.0 * (now_s - self.heard_s)
        if self.armed and silent_ms > HEARTBEAT_MS:
            self.cut("link_lost", f"No command for {silent_ms:.0f} ms while armed; throttle cut.")

    def watch_limits(self, values: dict[str, float]) -> None:
        """The device's own limits end a run whatever the computer says."""
        for name, most in OWN_LIMITS.items():
            if self.armed and values[name] > most:
                self.cut("own_limit", f"{name} {values[name]:.1f} is above {most:g}; throttle cut.")

    # ---- commands --------------------------------------------------------------------------------

    def handle(self, message: Message, now_s: float) -> Message:
        """Answer one command. A stop is obeyed whatever its number; all else must be newer."""
        kind, seq = message.get("type"), message.get("seq")
        if kind == "hello":
            # A partner that begins anew begins its numbers anew, and finds the motor off.
            self.last_seq = -1
            if self.armed:
                self.cut("new_partner", "A new partner said hello; throttle cut.")
            return self.hello()
        if kind in ("stop", "disarm"):
            self.throttle_pct, self.armed = 0.0, False
            return {"type": "ack", "seq": seq, "by": message.get("by") or ""}
        if not isinstance(seq, int) or seq <= self.last_seq:
            return {
                "type": "refused",
                "seq": seq,
                "code": "stale",
                "message": "Not a newer number.",
            }
        self.last_seq, self.heard_s = seq, now_s
        problem = self.obey(str(kind), message)
        if kind == "status" and not problem:
            return self.status(seq)
        if problem:
            return {"type": "refused", "seq": seq, "code": problem, "message": problem}
        return {"type": "ack", "seq": seq}

    def obey(self, kind: str, message: Message) -> str:
        """Do it; a code where it cannot be done."""
        if kind == "arm":
            self.armed, self.throttle_pct = True, 0.0
        elif kind == "throttle":
            pct = message.get("pct")
            if not self.armed:
                return "not_armed"
            if isinstance(pct, bool) or not isinstance(pct, int | float) or not 0 <= pct <= 100:
                return "bad_value"
            self.throttle_pct = float(pct)
        elif kind == "heartbeat":
            return "" if self.armed else "not_armed"
        elif kind == "tare":
            if self.armed or self.speed_share > 0.01:
                return "turning"
            self.zero_gf = self.thrust_gf()
        elif kind == "rate":
            rate = message.get("rate_hz")
            if isinstance(rate, bool) or not isinstance(rate, int | float) or not 1 <= rate <= 500:
                return "bad_value"
            self.rate_hz = float(rate)
        elif kind == "stream":
            self.streaming = message.get("on") is True
        elif kind != "status":
            return "unknown_type"
        return ""

    def hello(self) -> Message:
        """What the device is."""
        return {
            "type": "hello",
            "protocol": "stand/1",
            "stand": "reference device",
            "simulated": True,
            "channels": [{"name": name, "unit": unit} for name, unit in CHANNELS],
            "rate_hz": self.rate_hz,
            "highest_rate_hz": 500,
            "limits": OWN_LIMITS,
            "heartbeat_ms": HEARTBEAT_MS,
            "capabilities": [],
        }

    def status(self, seq: int) -> Message:
        """The read-back: what is really applied."""
        return {
            "type": "status",
            "seq": seq,
            "armed": self.armed,
            "throttle_pct": self.throttle_pct,
            "speed_rpm": round(self.values()["speed_rpm"], 1),
            "last_cut": self.last_cut,
        }

    # ---- a motor, where a device has its ADC -----------------------------------------------------

    def step(self, seconds: float) -> None:
        """The model: speed follows throttle, copper warms the case."""
        self.speed_share += (self.throttle_pct / 100.0 - self.speed_share) * (
            1.0 - math.exp(-seconds / SPOOL_S)
        )
        self.case_c += seconds * (0.5 * self.speed_share**4 * 4.0 - (self.case_c - 24.0) / 140.0)

    def thrust_gf(self) -> float:
        """Thrust before tare, with the cell's offset."""
        return 7.0 + 1150.0 * self.speed_share**2

    def values(self) -> dict[str, float]:
        """One reading of every channel."""
        share = self.speed_share
        current = 30.0 * share**2.7
        return {
            "throttle_pct": self.throttle_pct,
            "thrust_gf": self.thrust_gf() - self.zero_gf,
            "voltage_v": 16.0 - 0.004 * current,
            "current_a": current,
            "speed_rpm": 26_000.0 * share if share > 0.002 else 0.0,
            "motor_temp_c": self.case_c,
        }


class Line:
    """The cable: a file descriptor without waiting."""

    def __init__(self, descriptor: int) -> None:
        self.descriptor = descriptor
        self.rest = b""
        os.set_blocking(descriptor, False)

    def read(self) -> list[bytes]:
        """Whole lines that have come; one that never ends is thrown away."""
        try:
            self.rest += os.read(self.descriptor, 4096)
        except (BlockingIOError, InterruptedError):
            return []
        *lines, self.rest = self.rest.split(b"\n")
        self.rest = self.rest[-LONGEST_LINE:]
        return [line for line in lines if line.strip()]

    def write(self, message: Message) -> None:
        """Send a line; a full cable loses it rather than stopping the loop."""
        line = json.dumps(message, separators=(",", ":")).encode() + b"\n"
        try:
            os.write(self.descriptor, line)
        except (BlockingIOError, InterruptedError):
            return


def turn(device: Device, line: Line, now_s: float) -> None:
    """One turn of the main loop: hear, guard, answer."""
    for raw in line.read():
        try:
            message = json.loads(raw)
        except ValueError:
            continue  # noise on the cable is no command
        if isinstance(message, dict):
            line.write(device.handle(message, now_s))
    device.watch_partner(now_s)
    out, device.out = device.out, []
    for event in out:
        line.write(event)


def run(device: Device, line: Line) -> NoReturn:
    """The main loop."""
    begun = last = time.monotonic()
    while True:
        now = time.monotonic()
        turn(device, line, now)
        if now - last >= 1.0 / device.rate_hz:
            device.step(now - last)
            values = device.values()
            device.watch_limits(values)
            if device.streaming:
                row = [round(values[name], 3) for name, _ in CHANNELS]
                line.write({"type": "samples", "t_s": [round(now - begun, 4)], "rows": [row]})
            last = now
        time.sleep(0.001)


def main(arguments: Sequence[str] | None = None) -> int:
    """Play the device on a port until told to end."""
    parser = argparse.ArgumentParser(
        prog="spindle-reference-device", description="A stand's device to read, on a serial port."
    )
    parser.add_argument("--port", required=True, help="a serial port or pseudo-terminal")
    options = parser.parse_args(arguments)
    try:
        descriptor = os.open(options.port, os.O_RDWR | os.O_NOCTTY)
    except OSError as error:
        sys.stderr.write(f"spindle-reference-device: {options.port}: {error.strerror}\n")
        return 1
    try:
        run(Device(), Line(descriptor))
    except (KeyboardInterrupt, OSError):
        return 0
    finally:
        os.close(descriptor)


if __name__ == "__main__":
    raise SystemExit(main())
