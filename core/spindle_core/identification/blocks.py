"""Short stretches at known duty: the evidence a motor's constants are fitted to.

A plateau at full throttle is cut into blocks of half a second, because the winding warms within
seconds: the blocks of one plateau share their load but not their temperature, and that is what
separates resistance from heat.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from spindle_core.errors import ReductionError
from spindle_core.figures.arrays import Floats
from spindle_core.figures.autocorrelation import time_for_a_mean
from spindle_core.reduction import cleaning
from spindle_core.reduction.bursts import full_throttle_spans
from spindle_core.reduction.figures import hidden_by_rounding
from spindle_core.reduction.plateau import filled_forward, find_plateaus
from spindle_core.run.duty import known_duty
from spindle_core.run.stand import Stand
from spindle_core.run.trace import Trace

BLOCK_S = 0.5
FEWEST_SAMPLES = 8
SETTLE_S = 0.4
"""Time after the throttle was reached before a block begins: the rotor is still gaining speed."""

MOST_BLOCKS = 8
WINDING_TIMES_S = (1.0, 1.5, 2.2, 3.2, 4.6, 6.6, 10.0)
"""Winding-to-case time constants tried for the heat history [s]."""


@dataclass(frozen=True, slots=True)
class Block:
    """Means of a short stretch at duty ``duty``; u are within-run (k = 1).

    ``run`` numbers the run and ``source`` names it, ``plateau`` numbers the plateau in it.
    ``heat_a2s`` holds, for each of :data:`WINDING_TIMES_S`, the fading integral of the motor
    current squared [A²·s]. ``case_c`` is None where no temperature was logged.
    """

    run: int
    plateau: int
    no_load: bool
    duty: float
    voltage_v: float
    current_a: float
    speed_rpm: float
    u_voltage_v: float
    u_current_a: float
    u_speed_rpm: float
    torque_nm: float | None
    u_torque_nm: float
    heat_a2s: tuple[float, ...]
    case_c: float | None
    start_case_c: float | None
    stand: Stand
    source: str

    @property
    def motor_current_a(self) -> float:
        """Battery current ÷ duty [A] (synchronous PWM in continuous conduction)."""
        return self.current_a / self.duty


def stands_of(blocks: Sequence[Block]) -> dict[str, Stand]:
    """Run → the stand it was made on."""
    return {block.source: block.stand for block in blocks}


def blocks_of(trace: Trace, run: int = 0) -> list[Block]:
    """Blocks of one run at duty 1, at logged duty, or at throttle/100 of a linear ESC.

    A run without voltage, current and speed gives none.
    """
    if not all(trace.has(name) for name in ("voltage_v", "current_a", "speed_rpm")):
        return []
    if trace.kind == "readings":
        return _readings(trace, run)
    try:
        work = cleaning.begin(trace)
    except ReductionError:
        return []
    spans = _spans(work.trace)
    cleaning.mask_lost_speed(work, spans, level=True)
    cleaning.mask_outliers(work, spans)
    at_rest = cleaning.at_rest_by_command(work.trace)
    if at_rest is not None:
        cleaning.tare(work, at_rest)
    found = [
        block for number, span in enumerate(spans) for block in _blocks_in(work, run, number, span)
    ]
    heat = _heat_over(work, [part for part, _ in found])
    return [replace(block, heat_a2s=row) for (_, block), row in zip(found, heat, strict=True)]


def _spans(trace: Trace) -> list[tuple[int, int]]:
    """Stretches at known, constant duty, each from 0.4 s after it was reached."""
    found = find_plateaus(trace)
    duty_known = trace.has("duty") or bool(trace.facts.esc_linear)
    spans = [(p.start, p.stop) for p in found.plateaus] if found and duty_known else []
    covered = {start for start, _ in spans}
    spans += [span for span in full_throttle_spans(trace)[0] if span[0] not in covered]
    settled = []
    for start, stop in spans:
        first = int(np.searchsorted(trace.time_s, trace.time_s[start] + SETTLE_S))
        if stop - first >= 2:
            settled.append((first, stop))
    return settled


def _duty(trace: Trace, part: slice) -> float | None:
    """Known duty of a stretch; a log without throttle and duty has only full throttle in it."""

    def middle(name: str) -> float | None:
        return _median(trace.get(name)[part]) if trace.has(name) else None

    if not trace.has("duty") and not trace.has("throttle_pct"):
        return 1.0
    return known_duty(
        duty=middle("duty"), throttle_pct=middle("throttle_pct"), esc_linear=trace.facts.esc_linear
    )


def _median(samples: Floats) -> float:
    """Median of what is known, NaN where nothing is."""
    known = samples[np.isfinite(samples)]
    return float(np.median(known)) if known.size else math.nan


def _heat_over(work: cleaning.Cleaning, parts: Sequence[slice]) -> list[tuple[float, ...]]:
    """Means of the fading integrals of the motor current squared over stretches [A²·s]: of each
    stretch one for each of :data:`WINDING_TIMES_S`."""
    if not parts:
        return []
    trace = work.trace
    current = np.nan_to_num(filled_forward(work.channels["current_a"]), nan=0.0)
    if trace.has("duty"):
        duty = np.nan_to_num(filled_forward(trace.get("duty")), nan=1.0)
    elif trace.has("throttle_pct"):
        duty = filled_forward(trace.get("throttle_pct")) / 100.0
    else:
        duty = np.ones(current.size)
    # Only the history needs a motor current at unknown duty; throttle is near enough for it.
    squared = (current / np.clip(duty, 0.1, 1.0)) ** 2
    steps = np.diff(trace.time_s, prepend=trace.time_s[0])
    # One after the other: of an hour all seven would be a quarter of a gigabyte.
    means = []
    for constant in WINDING_TIMES_S:
        total = fading_integral(squared, steps, constant)
        means.append([float(total[part].mean()) for part in parts])
    return list(zip(*means, strict=True))


FADED = 8.0
"""Time constants that are summed at once; the sum of more would lose its digits."""


def fading_integral(values: Floats, steps_s: Floats, constant_s: float) -> Floats:
    """The integral of ``values`` over time, what lies back fading with ``constant_s``, shape (n,).

    Exact for values that are constant within each step: now ← now·f + τ·(1 − f)·value with
    f = exp(−step/τ).

    :param values, steps_s: shape (n,); ``steps_s`` is the time from the sample before [s], never
        below 0.
    """
    ages = np.cumsum(steps_s / constant_s)
    gains = -constant_s * np.expm1(-steps_s / constant_s) * values
    total = np.empty(values.size)
    now, first = 0.0, 0
    while first < values.size:
        before = ages[first - 1] if first else 0.0
        # At least one, however long its step is.
        stop = max(first + 1, int(np.searchsorted(ages, before + FADED, side="right")))
        age = ages[first:stop] - before
        if stop == first + 1:
            total[first] = now * math.exp(-age[0]) + gains[first]
        else:
            total[first:stop] = np.exp(-age) * (now + np.cumsum(gains[first:stop] * np.exp(age)))
        now, first = float(total[stop - 1]), stop
    return total


def _blocks_in(
    work: cleaning.Cleaning, run: int, plateau: int, span: tuple[int, int]
) -> list[tuple[slice, Block]]:
    """The blocks of one stretch without their heat, each with its samples."""
    trace, (start, stop) = work.trace, span
    step_s = max(trace.step_s, 1e-6)
    length = max(FEWEST_SAMPLES, round(BLOCK_S / step_s), math.ceil((stop - start) / MOST_BLOCKS))
    scatter = {
        name: _scatter(work.channels[name][start:stop])
        for name in ("voltage_v", "current_a", "speed_rpm", "torque_nm")
        if name in work.channels
    }
    blocks = []
    for first in range(start, stop - min(length, stop - start) + 1, length):
        part = slice(first, min(first + length, stop))
        duty = _duty(trace, part)
        means = {name: _mean(work.channels[name][part], u) for name, u in scatter.items()}
        main = [means[name] for name in ("voltage_v", "current_a", "speed_rpm")]
        if duty is None or any(mean is None for mean in main):
            continue
        (volts, u_v), (amps, u_i), (speed, u_n) = (mean for mean in main if mean is not None)
        if speed <= 0 or volts <= 0:
            continue
        torque = means.get("torque_nm")
        case = work.channels.get("motor_temp_c")
        block = Block(
            run,
            plateau,
            trace.kind == "no_load",
            duty,
            volts,
            amps,
            speed,
            u_v,
            u_i,
            u_n,
            None if torque is None else torque[0],
            0.0 if torque is None else torque[1],
            (),
            _finite_mean(case, part),
            _start_case(trace),
            trace.stand,
            trace.run,
        )
        blocks.append((part, block))
    return blocks


def _scatter(samples: Floats) -> tuple[float, float]:
    """Standard deviation about a straight line and autocorrelation time of a stretch."""
    valid = samples[np.isfinite(samples)]
    if valid.size < 4:
        return 0.0, 1.0
    x = np.arange(valid.size) - 0.5 * (valid.size - 1)
    rest = valid - valid.mean() - x * float(x @ valid) / float(x @ x)
    return float(rest.std(ddof=2)), time_for_a_mean(rest)


def _mean(samples: Floats, scatter: tuple[float, float]) -> tuple[float, float] | None:
    valid = samples[np.isfinite(samples)]
    if valid.size < 2:
        return None
    deviation, tau = scatter
    return float(valid.mean()), deviation * math.sqrt(min(tau, valid.size) / valid.size)


def _finite_mean(samples: Floats | None, part: slice) -> float | None:
    if samples is None:
        return None
    valid = samples[part][np.isfinite(samples[part])]
    return float(valid.mean()) if valid.size else None


def _start_case(trace: Trace) -> float | None:
    if not trace.has("motor_temp_c"):
        return None
    last = int(np.searchsorted(trace.time_s, trace.time_s[0] + 1.0, side="right"))
    return _finite_mean(trace.get("motor_temp_c"), slice(0, last))


def _readings(trace: Trace, run: int) -> list[Block]:
    """Rows of typed readings at known duty; no heat history is known of them."""
    digits = {
        name: hidden_by_rounding(samples[np.isfinite(samples)], trace.stand.resolution.get(name))
        for name in ("voltage_v", "current_a", "speed_rpm")
        if (samples := trace.get(name)) is not None
    }
    blocks = []
    for row in range(trace.size):
        part = slice(row, row + 1)
        values = [float(trace.get(name)[row]) for name in digits]
        if not all(math.isfinite(value) and value > 0 for value in values):
            continue
        duty = _duty(trace, part)
        if duty is None:
            continue
        volts, amps, speed = values
        blocks.append(
            Block(
                run,
                row,
                False,
                duty,
                volts,
                amps,
                speed,
                digits["voltage_v"],
                digits["current_a"],
                digits["speed_rpm"],
                None,
                0.0,
                (0.0,) * len(WINDING_TIMES_S),
                _finite_mean(trace.channels.get("motor_temp_c"), part),
                None,
                trace.stand,
                trace.named().run,
            )
        )
    return blocks
