"""How well repeated runs agree, figure by figure, and what one run scatters by."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from spindle_core.compare.measured_run import CURVE_KINDS, MeasuredRun, like_runs, points_of
from spindle_core.compare.tops import to_the_top
from spindle_core.figures.measured import Measured
from spindle_core.figures.repeats import PooledSpread, Spread, pooled_spread, spread_of_repeats

NOT_REPEATED = ("tare_drift_gf", "bursts", "cycles")
"""Figures that describe a run, not its motor."""


@dataclass(frozen=True, slots=True)
class RepeatRow:
    """One figure over the runs that repeat each other."""

    kind: str
    motor: str
    propeller: str
    voltage: str
    figure: str
    runs: tuple[str, ...]
    spread: Spread


def repeats_table(runs: Sequence[MeasuredRun]) -> list[RepeatRow]:
    """A row per figure of every group of two or more like runs."""
    rows = []
    for (kind, motor, propeller, voltage), group in like_runs(runs).items():
        # What a run to part throttle reached is no repeat of what the others did.
        group = to_the_top(group, points_of) if kind in CURVE_KINDS else group
        if len(group) < 2:
            continue
        repeatability = max(run.trace.stand.repeatability for run in group)
        for name in group[0].reduction.summary:
            values = [
                figure.value
                for run in group
                if isinstance(figure := run.reduction.summary.get(name), Measured)
            ]
            if name in NOT_REPEATED or name.endswith("_lag_s") or len(values) < 2:
                continue
            spread = spread_of_repeats(values, repeatability=repeatability)
            names = tuple(run.name for run in group)
            rows.append(RepeatRow(kind, motor, propeller, voltage, name, names, spread))
    return rows


def scatter_of_one_run(runs: Sequence[MeasuredRun]) -> PooledSpread | None:
    """Relative s of one run, pooled over all like runs' maximum thrust; None without repeats."""
    groups = [
        [
            figure.value
            for run in to_the_top(group, points_of)
            if isinstance(figure := run.reduction.summary.get("max_thrust_gf"), Measured)
        ]
        for key, group in like_runs(runs).items()
        if key[0] in CURVE_KINDS
    ]
    return pooled_spread(groups)
