"""Stored segments as a trace, with everything that was noted of the run."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from spindle_core.figures.arrays import Floats
from spindle_core.figures.quantities import CHANNELS
from spindle_core.formats.bench_log import BenchLog
from spindle_core.formats.trace_parquet import decode_segments
from spindle_core.run.trace import Trace
from spindle_server.runs.models import Run, TraceSegment


def read_trace(run: Run) -> tuple[Floats, dict[str, Floats]]:
    """Time [s] and channels of a run, every sample."""
    blobs = list(
        TraceSegment.objects.filter(run=run).order_by("index").values_list("parquet", flat=True)
    )
    return decode_segments([bytes(blob) for blob in blobs])


def run_header(run: Run) -> dict[str, Any]:
    """The preamble of a run's bench log: what is known of it, and what came with an import."""
    propeller = run.propeller
    own: dict[str, Any] = {
        "kind": run.kind,
        "motor": run.sample.motor.full_name,
        "sample": run.sample.mark,
        "propeller": propeller.full_name if propeller else None,
        "prop_diameter_in": propeller.diameter_in if propeller else None,
        "prop_pitch_in": propeller.pitch_in if propeller else None,
        "prop_blades": propeller.blades if propeller else None,
        "supply": run.supply.kind if run.supply else None,
        "stand": run.stand.name if run.stand else None,
        "nominal_voltage_v": run.nominal_voltage_v,
        "air_temp_c": run.air_temp_c,
        "air_pressure_hpa": run.air_pressure_hpa,
        "air_humidity_pct": run.air_humidity_pct,
    }
    carried = {key: value for key, value in run.header.items() if own.get(key) is None}
    return {**own, **carried}


def run_trace(run: Run) -> Trace:
    """The run for reduction: its known channels, its facts, and what its stand declares."""
    time_s, channels = read_trace(run)
    known = {name: values for name, values in channels.items() if name in CHANNELS}
    header = {key: str(value) for key, value in run_header(run).items() if value not in (None, "")}
    trace = replace(BenchLog(header, time_s, known).trace(), run=f"run {run.pk}")
    declared = trace.stand
    if run.stand is None:
        # A stand that only the file names is not known to be any of the bench's.
        return replace(trace, stand=replace(declared, name=""))
    return replace(
        trace,
        stand=replace(
            declared,
            name=f"stand {run.stand.pk}",
            calibration={"thrust_gf": run.stand.calibration_rel, **declared.calibration},
            repeatability=declared.repeatability or run.stand.repeatability_rel,
        ),
    )
