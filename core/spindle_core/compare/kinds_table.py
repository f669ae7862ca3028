"""What runs of the other kinds say over the whole bench: kV, torque, response, heat, bursts."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence

from spindle_core.compare.bench_table import BenchRow, Load, RanRun
from spindle_core.compare.delta import with_repeat
from spindle_core.compare.of_models import between_samples_of, of_model
from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Figure, Measured, propagate

OF_KIND: Mapping[str, tuple[str, ...]] = {
    "no_load": ("kv_rpm_per_v", "kv_raw_rpm_per_v", "no_load_current_a"),
    "flywheel": (
        "peak_torque_nm",
        "speed_at_peak_torque_rpm",
        "zero_torque_speed_rpm",
        "falling_nm_per_krpm",
        "spin_up_time_s",
    ),
    "response": ("accel_rpm_per_s", "decel_rpm_per_s", "rise_time_s", "fall_time_s", "dead_time_s"),
    "soak": ("rise_k", "rise_k_per_kj", "case_time_constant_s", "continuous_power_w"),
    "peak": (
        "burst_thrust_gf",
        "sustained_thrust_gf",
        "held_pct",
        "burst_current_a",
        "sustained_current_a",
    ),
}
"""Kind of run → its figures, in the order of a table; some are made of others here."""

DERIVED_FROM: Mapping[str, tuple[str, str]] = {
    "held_pct": ("sustained_thrust_gf", "burst_thrust_gf"),
    "falling_nm_per_krpm": ("peak_torque_nm", "zero_torque_speed_rpm"),
}


def listed(kinds: Collection[str]) -> list[str]:
    """Those of some kinds that have a table, in the order of :data:`OF_KIND`."""
    return [kind for kind in OF_KIND if kind in kinds]


def kinds_table(runs: Sequence[RanRun], kind: str) -> list[BenchRow]:
    """Every motor under every load of runs of a kind, means over samples and runs.

    :raises QuantityError: a kind that has no such table.
    """
    if kind not in OF_KIND:
        raise QuantityError(f"Kinds with a table are {', '.join(OF_KIND)}.", code="kind")
    groups: dict[tuple[str, Load], list[RanRun]] = {}
    for run in runs:
        if run.kind == kind:
            groups.setdefault((run.motor, run.load), []).append(run)
    read = {
        name: {key: _by_sample(group, name) for key, group in groups.items()}
        for name in OF_KIND[kind]
    }
    pooled = {
        name: between_samples_of(
            samples for samples in cells.values() if not isinstance(samples, Absent)
        )
        for name, cells in read.items()
    }
    rows = []
    for (motor, load), group in groups.items():
        figures = {}
        for name in OF_KIND[kind]:
            samples = read[name][motor, load]
            figures[name] = (
                samples
                if isinstance(samples, Absent)
                else of_model(f"{motor}/{load.words}/{kind}", name, samples, pooled[name])
            )
        rows.append(BenchRow(motor, load, figures, tuple(run.core.key for run in group)))
    return sorted(rows, key=lambda row: (row.load, row.motor))


def _by_sample(group: Sequence[RanRun], name: str) -> dict[str, list[Measured]] | Absent:
    found: dict[str, list[Measured]] = {}
    missing: Absent | None = None
    for run in group:
        figure = _of_run(run, name)
        if isinstance(figure, Absent):
            missing = missing or figure
        else:
            found.setdefault(run.sample, []).append(figure)
    return found or missing or Absent("not_measured", "no run tells it")


def _of_run(run: RanRun, name: str) -> Figure:
    if name in DERIVED_FROM:
        parts = [run.summary.get(needed) for needed in DERIVED_FROM[name]]
        known = [part for part in parts if isinstance(part, Measured)]
        if len(known) < len(parts):
            missing = next((part for part in parts if isinstance(part, Absent)), None)
            return missing or Absent("not_measured", "the run does not tell it")
        figure: Figure = _derived(run, name, known)
    else:
        figure = run.summary.get(name) or Absent("not_measured", "the run does not tell it")
    if isinstance(figure, Absent):
        return figure
    core = run.core
    return with_repeat(
        figure, core.repeatability, source=f"{core.key}/{name}", kind=core.repeat_kind
    )


def _derived(run: RanRun, name: str, parts: Sequence[Measured]) -> Figure:
    if name == "held_pct":
        sustained, burst = parts
        if burst.value <= 0:
            return Absent("not_measured", "the burst gave no thrust")
        return propagate(lambda a, b: 100.0 * a / b, [sustained, burst])
    torque, zero = parts
    peak_at = run.summary.get("speed_at_peak_torque_rpm")
    if not isinstance(peak_at, Measured) or zero.value <= peak_at.value:
        return Absent("not_measured", "the falling part was not measured")
    # The straight line of the falling part ends without torque; per thousand rpm.
    return propagate(lambda t, z, p: -1000.0 * t / (z - p), [torque, zero, peak_at])


def against_label(measured: Figure, label: float | None) -> Figure:
    """How far a measured value stands from what the label says [%]; the label has no u."""
    if isinstance(measured, Absent):
        return measured
    if label is None or label <= 0:
        return Absent("no_label", "nothing is printed on it")
    return propagate(lambda value: 100.0 * (value / label - 1.0), [measured])
