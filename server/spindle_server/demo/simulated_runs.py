"""The runs of the demo: what each is, and how the simulated stand plays it."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from typing import Any

import numpy as np

from spindle_bench.delivery import Segment
from spindle_bench.plan import RunPlan
from spindle_bench.rehearsal import rehearse
from spindle_bench.stand.device import SimulatedStand
from spindle_bench.states import RunEnd
from spindle_core.formats.trace_parquet import encode_segment

SEASON_BEGINS = datetime(2026, 10, 5, 9, 0, tzinfo=UTC)
STEPS: dict[str, Any] = {
    "kind": "steps",
    "levels_pct": [10.0, 20.0, 30.0, 40.0, 50.0, 60.0, 70.0, 80.0, 90.0, 100.0],
    "dwell_s": 2.0,
    "ramp_pct_per_s": 60.0,
}
OTHER_KINDS: tuple[dict[str, Any], ...] = (
    {"kind": "ramp", "sweep_pct_per_s": 8.0},
    {"kind": "peak", "pause_s": 6.0},
    {"kind": "hold", "targets_gf": [250.0, 500.0, 800.0], "dwell_s": 3.0},
    {"kind": "response", "cycles": 6},
    {
        "kind": "flywheel",
        "inertia_kg_mm2": 62.0,
        "rated_speed_rpm": 24_000.0,
        "duty_pct": 60.0,
        "spin_ups": 1,
        "spin_up_to_rpm": 12_000.0,
    },
    {"kind": "soak", "level_pct": 60.0, "load_s": 40.0, "watch_s": 60.0},
)
"""What a motor whose story is told whole is put through besides plateaus."""

BY_HAND: dict[str, Any] = {
    "kind": "steps",
    "levels_pct": [20.0, 40.0, 60.0, 80.0],
    "dwell_s": 3.0,
    "ramp_pct_per_s": 60.0,
}
LAST_DAY: tuple[dict[str, Any], ...] = (
    {"kind": "direction"},
    BY_HAND,
    {"kind": "soak", "level_pct": 60.0, "load_s": 60.0, "watch_s": 60.0},
)


@dataclass(frozen=True, slots=True)
class DemoRun:
    """One run of the demo. ``flaw`` is what the product must catch in it."""

    motor: str
    sample: str
    propeller: str
    supply: str
    flaw: str = ""
    review: str = "accepted"
    current_limit_a: float = 50.0
    profile: dict[str, Any] = field(default_factory=lambda: dict(STEPS))
    rate_hz: float = 100.0
    by_hand: bool = False


_PSU, _HIGH = "Supply 16 V", "Supply 24 V"
_BIG, _MID, _TWO = "Wickett 5.1x4.2x3", "Wickett 5x3.6x3", "Wickett 5.1x3.1x2"
_SABLE, _SABLE_FAST = "Quillmoor Sable 2105.5 1950", "Quillmoor Sable 2105.5 2650"
_DRIFT, _LITE = "Ostrel Drift 2206 1900", "Ostrel Drift Lite 2205 2420"
_FOUR, _TEAL = "Brackwater No. 4 2306 1800", "Fennick & Daw Teal 1505 3600"
_TEAL_SMALL = "Fennick & Daw Teal 1404 4100"
TOLD_WHOLE = (_SABLE, _DRIFT, _FOUR)
"""Motors that are put through every kind of run."""
_PALE, _PALE_FAST = "Hollin Pale 2807 1250", "Hollin Pale 2807 1480"

RUNS: tuple[DemoRun, ...] = (
    DemoRun(_SABLE, "A", _BIG, _PSU),
    DemoRun(_SABLE, "A", _BIG, _PSU),
    DemoRun(_SABLE, "A", _BIG, _PSU, "hot_start"),
    DemoRun(_SABLE, "A", _MID, _PSU),
    DemoRun(_SABLE, "A", _TWO, _PSU),
    DemoRun(_SABLE, "B", _BIG, _PSU),
    # One day, one air: the two motors that perform the same, beside each other.
    DemoRun(_DRIFT, "A", _BIG, _PSU),
    DemoRun(_DRIFT, "A", _BIG, _PSU),
    DemoRun(_DRIFT, "A", _BIG, _PSU),
    DemoRun(_FOUR, "A", _BIG, _PSU),
    DemoRun(_FOUR, "A", _BIG, _PSU),
    DemoRun(_FOUR, "B", _BIG, _PSU),
    DemoRun(_DRIFT, "A", _MID, _PSU),
    DemoRun(_DRIFT, "A", _TWO, _PSU),
    DemoRun(_DRIFT, "A", _BIG, "Pack 4-3", "pack_sag", review=""),
    DemoRun(_FOUR, "A", _MID, _PSU, "tare_drift", review=""),
    DemoRun(_LITE, "A", _BIG, _PSU),
    DemoRun(_LITE, "A", _MID, _PSU, "lost_rpm", review=""),
    DemoRun(_LITE, "B", _MID, _PSU, review=""),
    DemoRun(_SABLE_FAST, "A", _TWO, _PSU),
    DemoRun(_SABLE_FAST, "A", _BIG, _PSU, "limit_cut", review="", current_limit_a=34.0),
    DemoRun(_TEAL, "A", "Sallow 3x3x3", _PSU),
    DemoRun(_TEAL_SMALL, "A", "Sallow 3x3x3", _PSU),
    DemoRun(_PALE, "A", "Corran 6.1x4.4x3", _HIGH),
    DemoRun(_PALE, "A", "Corran 7x3.8x3", _HIGH),
    DemoRun(_PALE_FAST, "A", "Corran 6.1x4.4x3", _HIGH),
)


RUNS += tuple(
    DemoRun(
        motor,
        "A",
        _MID,
        _PSU,
        # A standing wheel draws more than a propeller does.
        current_limit_a=54.0,
        profile=profile,
        rate_hz=20.0 if profile["kind"] == "soak" else 100.0,
    )
    for motor in TOLD_WHOLE
    for profile in OTHER_KINDS
)

# The last day: mounted again, seen to pull the right way, flown from the transmitter that will fly
# them, and soaked once more, to see whether the first soak told how they warm.
RUNS += tuple(
    DemoRun(
        motor,
        "A",
        _MID,
        _PSU,
        profile=profile,
        rate_hz=20.0 if profile["kind"] == "soak" else 50.0,
        by_hand=profile is BY_HAND,
    )
    for motor in TOLD_WHOLE
    for profile in LAST_DAY
)


@dataclass(frozen=True, slots=True)
class Air:
    """The workshop's air at one run."""

    temp_c: float
    pressure_hpa: float
    humidity_pct: float


def air_of(index: int) -> Air:
    """A cool workshop: 17–26 °C, 985–1,020 hPa; steady within a day."""
    day = np.random.default_rng(900 + index // 6)
    return Air(
        temp_c=round(float(day.uniform(17.5, 25.5)), 1),
        pressure_hpa=round(float(day.uniform(987, 1018)), 1),
        humidity_pct=round(float(day.uniform(38, 62)), 0),
    )


def started_at(index: int) -> datetime:
    """When run number ``index`` was made: six a day, forty minutes apart."""
    return SEASON_BEGINS + timedelta(days=3 * (index // 6), minutes=40 * (index % 6))


@dataclass(frozen=True, slots=True)
class Played:
    """A run as it was recorded: its channels, all its samples in one segment, and its end."""

    plan: RunPlan
    channels: list[str]
    segment: Segment
    end: RunEnd


def play(job: tuple[int, str, RunPlan]) -> Played:
    """Let the simulated stand play one run. Runs in a worker process; touches no database."""
    index, flaw, plan = job
    rng = np.random.default_rng(4000 + index)
    stand = SimulatedStand(seed=7000 + index)
    stand.sensors.thrust_gain = 1.003 * (1.0 + 0.004 * float(rng.standard_normal()))
    if flaw == "tare_drift":
        stand.sensors.thrust_drift_gf_per_s = 0.9
    if flaw == "lost_rpm":
        stand.sensors.fail("lost_rpm", 17.2, 17.5)
    bench = rehearse(plan, stand, start_c=49.0 if flaw == "hot_start" else None, seed=index)
    kept = bench.recorder
    times, rows = np.array(kept.times_s), np.array(kept.rows, dtype=float)
    columns = {name: np.ascontiguousarray(rows[:, i]) for i, name in enumerate(kept.channels)}
    parquet = encode_segment(times, columns)
    segment = Segment(0, 0, times.size, float(times[0]), float(times[-1]), parquet)
    return Played(plan, kept.channels, segment, kept.ends[0])
