"""A pack of a made-up bench, from logs with known truth."""

import io
import json
import zipfile

from runs import plateau_run

from spindle_core.formats.bench_log import BenchLog
from spindle_core.formats.pack.parts import log_path, parts_of, result_path
from spindle_core.formats.pack.writing import pack_bytes
from spindle_core.formats.result_json import reduction_to_json
from spindle_core.reduction import reduce_trace

HEADER = {
    "kind": "steps", "motor": "Ostrel Drift 2206 1900", "sample": "X", "stand": "Old beam",
    "thrust_gf_calibration_pct": "0.8", "repeatability_pct": "1.0", "nominal_voltage_v": "16",
    "air_temp_c": "21", "air_pressure_hpa": "1002",
}  # fmt: skip


def a_log(seed=1, **header):
    trace = plateau_run(levels=(30, 60, 100), rate_hz=20.0, seed=seed)
    return BenchLog({**HEADER, **header}, trace.time_s, trace.channels)


def listed(number, **changed):
    return {
        "number": number, "motor": "m1", "sample": "X", "propeller": "p1", "supply": "psu",
        "nominal_voltage_v": 16.0, "stand": "s1", "kind": "steps", "on": "2026-09-12",
        "origin": "Live on the bench", "review": "accepted", "review_reason": "",
        "log": log_path(number), "result": result_path(number), **changed,
    }  # fmt: skip


FIGURE = {"value": 1890.0, "u": 12.0, "n": 3, "origin": "measured", "assumed": False}
ABSENT = {"absent": "not_run", "note": "no run without a propeller"}


def an_index(runs, **changed):
    return {
        "bench": {"name": "Lower Quay bench", "address": ""},
        "publication": {
            "kind": "motor", "subject": "Ostrel Drift 2206 1900", "slug": "ostrel-drift",
            "edition": 2, "issued_on": "2026-09-20", "sentence": "It pulls.",
            "corrections": [
                {"edition": 2, "on": "2026-09-20", "changed": "The mass.", "why": "Weighed anew."}
            ],
        },
        "licence": "CC BY 4.0",
        "grade": {"label": "Fair", "line": "2 runs.", "missing": ["more samples"]},
        "disclosure": ["Bought."],
        "motors": [
            {
                "key": "m1", "maker": "Ostrel", "name": "Drift",
                "full_name": "Ostrel Drift 2206 1900", "size_code": "2206",
                "kv_label_rpm_per_v": 1900.0,
                "claims": [{"quantity": "mass_g", "value": 33.0, "words": "", "source": "label"}],
                "figures": {"kv_rpm_per_v": FIGURE, "resistance_ohm": ABSENT},
                "samples": [{"mark": "X", "figures": {"kv_rpm_per_v": FIGURE}}],
            }
        ],
        "propellers": [
            {"key": "p1", "full_name": "Wickett 5x3.6x3", "diameter_in": 5.0, "pitch_in": 3.6,
             "blades": 3, "figures": {}}
        ],
        "stands": [{"key": "s1", "name": "Old beam"}],
        "runs": runs,
        "teardown": [
            {"motor": "m1", "sample": "X", "attribute": "bell", "label": "=Bell", "said": "tight",
             "value": None, "u": None, "unit": ""}
        ],
        "photos": [],
        **changed,
    }  # fmt: skip


def a_pack(logs=None, index=None, tamper=None):
    """A pack of one run, or of the logs that are given by number."""
    logs = {7: a_log()} if logs is None else logs
    index = index or an_index([listed(number) for number in logs])
    results = {n: reduction_to_json(reduce_trace(log.trace())) for n, log in logs.items()}
    if tamper:
        tamper(results)
    parts = parts_of(index, results, logs.__getitem__, verdict={"sentence": "It pulls."},
                     verdict_text="It pulls.\n")  # fmt: skip
    return pack_bytes(index, parts)


def changed_file(pack, path, change):
    """The pack with one file changed and everything else, checksums too, as it was."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(pack)) as old, zipfile.ZipFile(out, "w") as new:
        for info in old.infolist():
            data = old.read(info)
            new.writestr(info.filename, change(data) if info.filename == path else data)
    return out.getvalue()


def changed_index(pack, change):
    """The pack with its index changed."""

    def rewritten(data):
        index = json.loads(data)
        told = change(index)
        return json.dumps(index if told is None else told).encode()

    return changed_file(pack, "pack.json", rewritten)
