"""Whole files to begin from, small ones of every format."""

from __future__ import annotations

import io
import json
from collections.abc import Mapping

import numpy as np
import pyarrow as pa
import pyarrow.parquet as pq
from openpyxl import Workbook

from spindle_core.formats.bench_log import BenchLog, read_bench_log, write_bench_log
from spindle_core.formats.log_files import write_log

SUFFIXES = (".csv", ".json", ".parquet", ".xlsx")


def _bench_log(kind: str = "steps") -> BenchLog:
    levels = [0, 30, 60, 100, 0]
    throttle = np.repeat(np.array(levels, dtype=float), 20)
    rng = np.random.default_rng(3)
    time_s = np.arange(throttle.size) * 0.1
    channels = {
        "throttle_pct": throttle,
        "thrust_gf": 12.0 * throttle + rng.normal(scale=1.0, size=throttle.size),
        "voltage_v": 16.0 - 0.002 * throttle,
        "current_a": 0.3 * throttle,
        "speed_rpm": 250.0 * throttle,
    }
    header = {
        "kind": kind,
        "motor": "Ostrel Drift 2206 1900",
        "sample": "A",
        "air_temp_c": "21",
        "propeller": "Wickett 5.1x4.2x3",
        "nominal_voltage_v": "16",
    }
    return read_bench_log(write_bench_log(header, time_s, channels, {"note": ("",) * 100}))


HEADS = ("Time (ms)", "Throttle %", "Thrust (g)", "Voltage [V]", "Current [A]", "RPM")


def _rows() -> list[tuple[float, ...]]:
    log = _bench_log()
    columns = [
        log.time_s * 1000,
        *(
            log.channels[name]
            for name in ("throttle_pct", "thrust_gf", "voltage_v", "current_a", "speed_rpm")
        ),
    ]
    return [tuple(round(float(v), 3) for v in row) for row in zip(*columns, strict=True)]


def _foreign(suffix: str) -> bytes:
    rows = _rows()
    if suffix == ".csv":
        head = "# logger: Bench box\nMotor;Drift 2206\n" + ";".join(HEADS)
        lines = [";".join(f"{v:.3f}".replace(".", ",") for v in row) for row in rows]
        return "\r\n".join([head, *lines]).encode()
    if suffix == ".json":
        return json.dumps([dict(zip(HEADS, row, strict=True)) for row in rows]).encode()
    if suffix == ".parquet":
        sink = io.BytesIO()
        columns = dict(zip(HEADS, map(list, zip(*rows, strict=True)), strict=True))
        pq.write_table(pa.table(columns), sink)
        return sink.getvalue()
    book = Workbook()
    book.active.append(HEADS)
    for row in rows:
        book.active.append(row)
    sink = io.BytesIO()
    book.save(sink)
    return sink.getvalue()


def whole(suffix: str) -> list[bytes]:
    """Files of a format that can be read: our own of two kinds, and a stranger's."""
    own = [write_log(f"x{suffix}", _bench_log(kind)) for kind in ("steps", "no_load")]
    return [*own, _foreign(suffix)]


CORPUS: Mapping[str, list[bytes]] = {suffix: whole(suffix) for suffix in SUFFIXES}
