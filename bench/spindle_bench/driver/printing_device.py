"""A simulated device that only prints: thrust, current, speed and voltage, and a hand on the stick.

``spindle-printing-device --port /tmp/device`` prints ten lines a second on a pseudo-terminal or a
cable while somebody, played by ``--hand``, moves the throttle. Nobody can command it.
"""

from __future__ import annotations

import argparse
import os
import random
import sys
import time
from collections.abc import Sequence

NAMES = "ms;Load g;I;rpm;U"
EVERY_S = 0.1
ZERO_G = 31.0
SETTLES_IN_S = 0.15


def wanted_pct(at_s: float, hand: Sequence[tuple[float, float]]) -> float:
    """Where the hand is at this time [s]: positions [%], each with how long it stays there [s]."""
    for pct, seconds in hand:
        if at_s < seconds:
            return pct
        at_s -= seconds
    return 0.0


def printed(at_s: float, pct: float, rng: random.Random) -> str:
    """One line: a motor that follows the throttle [%] by a plain curve, in the device's units."""
    share = pct / 100.0
    amps = 26.0 * share**2.2
    load_g = ZERO_G + 1180.0 * share**1.9 + rng.gauss(0.0, 0.6)
    rpm = 27_500.0 * share + (rng.gauss(0.0, 15.0) if share else 0.0)
    volts = 16.4 - 0.02 * amps
    return f"{at_s * 1000:.0f};{load_g:.1f};{max(0.0, amps):.2f};{max(0.0, rpm):.0f};{volts:.2f}"


def read_hand(text: str) -> list[tuple[float, float]]:
    """``0x4 30x5 60x5``: positions [%] and how long [s].

    :raises ValueError: it is written otherwise.
    """
    pairs = [part.split("x") for part in text.split()]
    return [(float(pct), float(seconds)) for pct, seconds in pairs]


def main(arguments: Sequence[str] | None = None) -> int:
    """Print until the port is gone."""
    parser = argparse.ArgumentParser(
        prog="spindle-printing-device", description="A device that only prints numbers."
    )
    parser.add_argument("--port", required=True, help="a serial port or pseudo-terminal")
    parser.add_argument("--hand", default="0x60", help="such as '0x6 30x5 60x5 0x6'")
    parser.add_argument("--seed", type=int, default=1)
    options = parser.parse_args(arguments)
    hand, rng = read_hand(options.hand), random.Random(options.seed)  # noqa: S311
    try:
        line = os.open(options.port, os.O_WRONLY | os.O_NOCTTY)
    except OSError as error:
        sys.stderr.write(f"spindle-printing-device: {options.port}: {error.strerror}\n")
        return 1
    begun, pct, number = time.monotonic(), 0.0, 0
    try:
        os.write(line, f"{NAMES}\n".encode())
        while True:
            at_s = number * EVERY_S
            pct += (wanted_pct(at_s, hand) - pct) * min(1.0, EVERY_S / SETTLES_IN_S)
            pct = 0.0 if pct < 0.2 else pct
            os.write(line, f"{printed(at_s, pct, rng)}\n".encode())
            number += 1
            time.sleep(max(0.0, begun + number * EVERY_S - time.monotonic()))
    except OSError:
        return 0  # the port is gone
    finally:
        os.close(line)


if __name__ == "__main__":
    raise SystemExit(main())
