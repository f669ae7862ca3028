"""Three files as other people's loggers and spreadsheets write them; all of them made up."""

from __future__ import annotations

import numpy as np

RATE_HZ = 20
STEPS_PCT = (0, 0, 30, 50, 75, 100, 0, 0)
HOLD_S = 3.0


def stranger_files() -> dict[str, bytes]:
    """File name → bytes."""
    return {
        "garage-logger-0412.csv": _garage(),
        "evenings.csv": _table_of_points(),
        "two-runs.txt": _two_runs(),
    }


def _course(full: float, power: float, seed: int) -> np.ndarray:
    """Samples of a quantity over the steps, with a little noise."""
    rng = np.random.default_rng(seed)
    share = np.repeat(np.array(STEPS_PCT) / 100.0, int(HOLD_S * RATE_HZ))
    return full * share**power + rng.normal(0.0, 0.002 * full, share.size)


def _garage() -> bytes:
    """Ounces, milliamperes, degrees Fahrenheit, electrical speed; times in ms from switch-on."""
    thrust, amps = _course(41.6, 1.8, 1), _course(26_100.0, 2.2, 2)
    volts, speed = 16.7 - _course(1.5, 2.2, 3), np.maximum(0.0, _course(180_000.0, 0.85, 4))
    warm = 70.0 + np.cumsum(np.maximum(0.0, amps)) / 600_000.0
    throttle = 1000.0 + np.repeat(np.array(STEPS_PCT) * 10.0, int(HOLD_S * RATE_HZ))
    lines = [
        "# Motor: Ostrel Drift 2206 1900",
        "# Prop: Wickett 5.1x4.2x3",
        "# Logged in the garage, autumn",
        "Millis,Signal (us),Pull (oz),Current (mA),Pack (V),eRPM,Case temp (F)",
    ]
    lines += [
        f"{83_000 + 50 * i},{throttle[i]:.0f},{thrust[i]:.2f},{amps[i]:.0f},{volts[i]:.2f},"
        f"{speed[i]:.0f},{warm[i]:.1f}"
        for i in range(thrust.size)
    ]
    return ("\n".join(lines) + "\n").encode()


def _table_of_points() -> bytes:
    """A reviewer's own spreadsheet, with a decimal comma, cells left empty where they repeat."""
    rows = [
        "Motor;Prop;Pack;Throttle;Thrust (g);Amps;Volts",
        "Sable 2105.5 1950;Wickett 5x3.6x3;4S;50;372;5,8;16,3",
        ";;;75;701;13,1;15,8",
        ";;;100;1094;24,8;15,2",
        "Teal 1505 3600;Aldous 3x2x3;4S;50;148;3,9;16,4",
        ";;;100;412;14,6;15,7",
    ]
    return ("\r\n".join(rows) + "\r\n").encode("cp1252")


def _two_runs() -> bytes:
    """Two runs in one file with a pause between; a load whose unit nobody wrote."""
    one = _course(1.18, 1.8, 5)
    rest = np.zeros(int(15 * RATE_HZ))
    load = np.concatenate([one, rest, 0.97 * one])
    amps = np.concatenate([_course(26.1, 2.2, 6), rest, 0.96 * _course(26.1, 2.2, 7)])
    lines = ["seconds\tload\tcurrent"]
    lines += [
        f"{i / RATE_HZ:.2f}\t{load[i]:.3f}\t{max(0.0, amps[i]):.1f}" for i in range(load.size)
    ]
    return ("\n".join(lines) + "\n").encode()
