"""Runs: delivered once, reduced, reviewed, exported, imported."""

import csv
import io

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import call_command
from django.db import IntegrityError, transaction

import spindle_core
from spindle_bench.delivery import Segment
from spindle_bench.errors import BenchError
from spindle_bench.states import stopped_by
from spindle_core.formats.bench_log import read_bench_log, write_bench_log
from spindle_core.formats.log_files import write_log
from spindle_core.reduction import reduce_trace
from spindle_server.bench.services import plan_run
from spindle_server.errors import ServiceError
from spindle_server.runs.as_core import air_density
from spindle_server.runs.models import Reduction, Run, SourceFile, TraceSegment
from spindle_server.runs.models import RunEnd as EndRow
from spindle_server.runs.selectors import shape_point
from spindle_server.runs.store import DatabaseRunStore
from spindle_server.runs.tasks import REBUILD, rebuild_stale
from spindle_server.work.models import LongWork


def detail(api, run):
    return api.get(f"/api/v1/runs/{run.pk}/").json()


def test_a_delivered_run_has_figures(api, record):
    shown = detail(api, record())
    points = shown["result"]["points"]
    assert [round(p["figures"]["throttle_pct"]["value"]) for p in points] == [30, 60, 100]
    assert points[2]["figures"]["thrust_gf"]["value"] == pytest.approx(1200, abs=1)
    assert points[2]["figures"]["torque_nm"] is None
    assert shown["outcome"] == "completed"
    assert shown["air_density_kg_per_m3"] == pytest.approx(1.182, abs=0.003)
    assert shown["stale"] is False
    assert shown["result"]["absent"]["top_end_ratio"]["reason"] == "too_few_points"


def test_delivering_twice_stores_once(record, rig, people):
    run = record()
    store = DatabaseRunStore()
    assert store.stored_rows(str(run.uid)) == (1, 1200)
    store.end_run(str(run.uid), {"outcome": "fault", "code": "x", "reason": "again"})
    assert EndRow.objects.get(run=run).outcome == "completed"
    segment = TraceSegment.objects.get(run=run)
    again = Segment(0, 0, 10, 0.0, 1.0, bytes(segment.parquet))
    with pytest.raises(BenchError, match="ended"):
        store.add_segment(str(run.uid), again)
    EndRow.objects.all().delete()
    with pytest.raises(IntegrityError), transaction.atomic():
        store.add_segment(str(run.uid), again)


def test_there_is_one_end_record(record):
    run = record()
    with pytest.raises(IntegrityError), transaction.atomic():
        EndRow.objects.create(run=run, outcome="completed", code="x", reason="x")


def test_a_stopped_run_keeps_its_data_and_reason(api, record):
    run = record(end=stopped_by("Tomas"))
    shown = detail(api, run)
    assert (shown["outcome"], shown["end_reason"]) == ("stopped", "Stopped by Tomas.")
    assert shown["end_by"] == "Tomas"
    limits = {row["name"]: row for row in shown["limits"]}
    assert (limits["motor_temp_c"]["state"], limits["motor_temp_c"]["limit"]) == ("on", 90)
    assert (limits["power_w"]["state"], limits["power_w"]["off_by"]) == ("off", "reviewer")
    assert len(shown["result"]["points"]) == 3


def test_reviewing(api, record):
    run = record()
    address = f"/api/v1/runs/{run.pk}/"
    refused = api.patch(address, {"review": "rejected", "version": 1}, format="json")
    assert refused.status_code == 400
    assert "review_reason" in refused.json()["fields"]
    body = {"review": "rejected", "review_reason": "prop slipped", "version": 1}
    assert api.patch(address, body, format="json").json()["review"] == "rejected"
    stale = api.patch(address, {"review": "accepted", "version": 1}, format="json")
    assert (stale.status_code, stale.json()["current"]["values"]["review"]) == (409, "rejected")
    taken_back = api.patch(address, {"review": "", "version": 2}, format="json").json()
    assert (taken_back["review"], taken_back["review_reason"]) == ("", "")
    assert [h.review for h in run.history.all()] == ["", "rejected", ""]
    with pytest.raises(IntegrityError), transaction.atomic():
        Run.objects.filter(pk=run.pk).update(review="rejected", review_reason="")


def test_a_reduction_is_stale_when_the_core_or_the_inputs_changed(api, record, monkeypatch):
    run = record()
    monkeypatch.setattr(spindle_core, "__version__", "9.9")
    assert detail(api, run)["stale"] is True
    rebuilt = api.post(f"/api/v1/runs/{run.pk}/reduction/").json()
    assert (rebuilt["stale"], rebuilt["core_version"]) == (False, "9.9")
    TraceSegment.objects.filter(run=run).update(digest="0" * 64)
    assert detail(api, run)["stale"] is True


def test_a_trace_that_cannot_be_reduced_is_kept_with_the_reason(api, record):
    run = record()
    Run.objects.filter(pk=run.pk).update(kind="flywheel")
    answer = api.post(f"/api/v1/runs/{run.pk}/reduction/")
    assert answer.status_code == 400
    assert "inertia_kg_mm2" in Reduction.objects.get(run=run).error
    assert detail(api, run)["result"] is None
    assert TraceSegment.objects.filter(run=run).exists()


def test_the_exported_log_gives_the_same_figures(api, record):
    run = record()
    answer = api.get(f"/api/v1/runs/{run.pk}/bench-log.csv")
    assert "attachment" in answer["Content-Disposition"]
    log = read_bench_log(answer.content)
    assert log.header["motor"] == "Quillmoor Sable 2105.5 1950"
    assert log.number("air_pressure_hpa") == 1002.0
    again = reduce_trace(log.trace())
    stored = detail(api, run)["result"]["points"]
    for point, kept in zip(again.points, stored, strict=True):
        assert point.value("thrust_gf") == pytest.approx(kept["figures"]["thrust_gf"]["value"])


def test_points_as_csv_have_a_u_beside_each_figure(api, record):
    lines = api.get(f"/api/v1/runs/{record().pk}/points.csv").content.decode().splitlines()
    head = lines[0].split(",")
    assert head[4:8] == ["throttle_pct", "u_throttle_pct", "thrust_gf", "u_thrust_gf"]
    row = dict(zip(head, lines[3].split(","), strict=True))
    assert float(row["thrust_gf"]) == pytest.approx(1200, abs=1)
    assert float(row["u_thrust_gf"]) > 0
    assert row["torque_nm"] == ""


def test_a_thinned_trace_loses_no_peak(api, record):
    run = record()
    whole = api.get(f"/api/v1/runs/{run.pk}/trace/?points=6000").json()
    thin = api.get(f"/api/v1/runs/{run.pk}/trace/?points=100").json()
    assert whole["thinned"] is False
    assert thin["thinned"] is True
    assert len(thin["time_s"]) == 100
    for pick in (max, min):
        assert pick(thin["channels"]["thrust_gf"]) == pick(whole["channels"]["thrust_gf"])


def test_listing_runs_takes_constant_queries(api, record, django_assert_num_queries):
    for _ in range(6):
        record()
    with django_assert_num_queries(4):  # count, numbers, runs, their headline figures
        assert len(api.get("/api/v1/runs/").json()["results"]) == 6


def upload(data, name="log.csv"):
    return {"file": SimpleUploadedFile(name, data, content_type="text/csv")}


def test_a_preview_shows_what_was_understood_and_stores_nothing(api, rig, log_bytes):
    answer = api.post("/api/v1/imports/preview/", upload(log_bytes), format="multipart")
    seen = answer.json()
    assert (seen["kind"], seen["row_count"]) == ("steps", 1200)
    assert seen["rate_hz"] == pytest.approx(100.0)
    columns = {c["name"]: c for c in seen["columns"]}
    assert columns["thrust_gf"]["unit"] == "gf"
    assert columns["thrust_gf"]["highest"] == pytest.approx(1203, abs=3)
    assert seen["sample"] == rig["samples"][1].pk
    assert seen["propeller"] == rig["propeller"].pk
    assert len(seen["result"]["points"]) == 3
    assert not Run.objects.exists()


def test_an_imported_log_gives_the_figures_of_a_live_run(api, rig, record, log_bytes):
    live = detail(api, record())["result"]
    body = {
        **upload(log_bytes),
        "sample": rig["samples"][1].pk,
        "propeller": rig["propeller"].pk,
        "stand": rig["stand"].pk,
    }
    made = api.post("/api/v1/imports/", body, format="multipart")
    assert made.status_code == 201
    run = made.json()
    assert run["origin"] == "import"
    assert run["header"]["weather"] == "drizzle"
    assert run["result"]["points"] == live["points"]
    assert run["result"]["summary"] == live["summary"]
    source = api.get(f"/api/v1/runs/{run['id']}/source.csv")
    assert source.content == log_bytes


def test_the_same_file_is_imported_once(api, rig, log_bytes):
    body = {"sample": rig["samples"][1].pk, "propeller": rig["propeller"].pk}
    first = api.post("/api/v1/imports/", {**upload(log_bytes), **body}, format="multipart")
    again = api.post("/api/v1/imports/", {**upload(log_bytes), **body}, format="multipart")
    assert again.status_code == 409
    assert str(first.json()["id"]) in again.json()["message"]
    assert SourceFile.objects.count() == 1


def flywheel_log():
    """0.06 N·m on 60 kg·mm² from rest for 2 s: 1,000 rad/s²."""
    time = np.arange(0, 6.0, 0.005)
    spinning = np.clip(time - 2.0, 0.0, 2.0)
    channels = {
        "throttle_pct": np.where((time > 2.0) & (time < 4.0), 100.0, 0.0),
        "speed_rpm": spinning * 1000.0 * 30.0 / np.pi,
    }
    return write_bench_log({"kind": "flywheel", "inertia_kg_mm2": 60.0}, time, channels)


def test_an_imported_flywheel_run_is_reduced_with_the_inertia_of_its_log(api, rig):
    body = {
        **upload(flywheel_log()),
        "sample": rig["samples"][0].pk,
        "propeller": rig["propeller"].pk,
    }
    run = api.post("/api/v1/imports/", body, format="multipart").json()
    assert run["reduction_error"] == ""
    assert run["result"]["summary"]["peak_torque_nm"]["value"] == pytest.approx(0.06, rel=5e-3)
    again = api.post(f"/api/v1/runs/{run['id']}/reduction/").json()
    assert again["result"]["summary"] == run["result"]["summary"]
    rows = list(
        csv.DictReader(
            io.StringIO(api.get(f"/api/v1/runs/{run['id']}/points.csv").content.decode())
        )
    )
    assert float(rows[5]["torque_nm"]) == pytest.approx(0.06, rel=0.02)
    assert rows[5]["thrust_gf"] == ""


@pytest.mark.parametrize("ending", ["json", "parquet", "xlsx"])
def test_a_log_in_another_format_gives_the_same_run(api, rig, ending):
    log = read_bench_log(flywheel_log())
    content = write_log(f"x.{ending}", log)
    file = SimpleUploadedFile(f"spin-up.{ending}", content)
    body = {"file": file, "sample": rig["samples"][0].pk, "propeller": rig["propeller"].pk}
    run = api.post("/api/v1/imports/", body, format="multipart").json()
    assert run["result"]["summary"]["peak_torque_nm"]["value"] == pytest.approx(0.06, rel=5e-3)
    answer = api.get(f"/api/v1/runs/{run['id']}/source.csv")
    assert answer.content == content
    assert answer["Content-Disposition"].endswith(f'source.{ending}"')


def test_a_humidity_that_was_not_noted_counts_as_half(record):
    run = record()
    run.air_humidity_pct = 50.0
    half = air_density(run)
    run.air_humidity_pct = None
    assert air_density(run) == pytest.approx(half)
    run.air_humidity_pct = 0.0
    assert air_density(run) > half
    run.air_pressure_hpa = None
    assert air_density(run) is None


def test_points_show_marks_and_why_a_figure_is_absent():
    figure = {"value": 1.0, "u": 0.1, "n": 1}
    shaped = shape_point(
        {
            "power_w": figure,
            "current_a": None,
            "reached": False,
            "settled": True,
            "start_s": 1.0,
            "used_from_s": 1.5,
            "end_s": 3.0,
            "absent": {"current_a": {"reason": "not_logged", "note": "was not logged"}},
        }
    )
    assert shaped["figures"] == {"power_w": figure, "current_a": None}
    assert shaped["marks"] == {"reached": False}
    assert shaped["absent"]["current_a"]["reason"] == "not_logged"
    assert shaped["settled"] is True


def test_a_stands_calibration_counts_in_the_summary_of_its_runs(api, record):
    run = record()
    result = Run.objects.get(pk=run.pk).reduction.result
    parts = result["summary"]["max_thrust_gf"]["components"]
    expected = run.stand.calibration_rel * result["summary"]["max_thrust_gf"]["value"]
    assert parts[f"calibration@stand {run.stand.pk}/thrust_gf"] == pytest.approx(expected)


BAD_FILES = [
    (b"time_s,thrust_gf\n0,1\n1,x\n", "not_a_number", 3, "thrust_gf"),
    (b"time_s,thrust_gf\n0,1\n1\n", "short_row", 3, "thrust_gf"),
    (b"thrust_gf\n1\n", "no_time", 1, "time_s"),
    (b"time_s,thrust_gf\n2,1\n1,1\n", "time_backward", 3, "time_s"),
    (b"\xff\xfe\x00", "not_utf8", 1, "1"),
    (b"# kind: dance\ntime_s\n0\n", "unknown_kind", 1, "kind"),
]


@pytest.mark.parametrize(("data", "code", "line", "column"), BAD_FILES)
@pytest.mark.parametrize("address", ["/api/v1/imports/preview/", "/api/v1/imports/"])
def test_bad_files_say_line_and_column_and_store_nothing(
    api, rig, address, data, code, line, column
):
    body = upload(data)
    if not address.endswith("/preview/"):
        body |= {"sample": rig["samples"][0].pk, "propeller": rig["propeller"].pk}
    answer = api.post(address, body, format="multipart")
    assert answer.status_code == 400
    error = answer.json()
    assert (error["code"], error["where"]["line"], error["where"]["column"]) == (code, line, column)
    assert not Run.objects.exists()
    assert not SourceFile.objects.exists()


def test_a_log_without_plateaus_and_an_empty_upload(api, rig):
    flat = api.post(
        "/api/v1/imports/preview/", upload(b"time_s,throttle_pct\n0,0\n9,0\n"), format="multipart"
    )
    assert flat.json()["code"] == "no_plateau"
    assert api.post("/api/v1/imports/preview/", {}, format="multipart").status_code == 400


def test_a_file_that_is_too_large(api, rig, monkeypatch, log_bytes):
    monkeypatch.setattr("spindle_server.runs.services.LARGEST_FILE_BYTES", 1000)
    answer = api.post("/api/v1/imports/preview/", upload(log_bytes), format="multipart")
    assert answer.json()["code"] == "too_large"


def test_a_limit_above_the_supplys_trip_is_refused(rig, people):
    with pytest.raises(ServiceError) as caught:
        plan_run(
            actor=people["reviewer"],
            sample=rig["samples"][0],
            propeller=rig["propeller"],
            supply=rig["supply"],
            stand=rig["stand"],
            profile={"levels_pct": [50]},
            limits={"current_a": 60, "motor_temp_c": 90, "lost_rpm_s": 0.4},
            limits_off=["power_w", "thrust_gf", "speed_rpm", "vibration_g", "voltage_floor_v"],
        )
    assert caught.value.code == "above_trip"


def test_figures_of_an_earlier_core_are_made_again(record, capsys):
    """An update of the core changes u; figures that nobody made again would go on saying ± 0.06."""
    old, new = record(), record(1.1)
    stored = old.reduction.result["summary"]["max_thrust_gf"]
    Reduction.objects.filter(run=old).update(
        core_version="0.1.0", result={**old.reduction.result, "summary": {}}
    )
    call_command("reduce_stale")
    assert "1 of 1 runs" in capsys.readouterr().out
    made = Reduction.objects.get(run=old)
    assert made.core_version == Reduction.objects.get(run=new).core_version
    assert made.result["summary"]["max_thrust_gf"]["value"] == pytest.approx(stored["value"])
    call_command("reduce_stale")
    assert capsys.readouterr().out == ""


def test_a_large_bench_opens_before_all_of_its_figures_are_made_again(record, capsys):
    runs = [record(1.0 + 0.01 * k) for k in range(3)]
    Reduction.objects.update(core_version="0.1.0")
    call_command("reduce_stale", "--within-s", "0")
    said = capsys.readouterr().out
    assert "2 runs still have figures of an earlier version" in said
    assert Reduction.objects.get(run=runs[-1]).core_version == spindle_core.__version__
    work = LongWork.objects.get()
    assert (work.title, work.state) == (REBUILD, "waiting")
    # Started again before it was done: asked for once, and what it rests on waits for it.
    call_command("reduce_stale", "--within-s", "0")
    assert LongWork.objects.count() == 1
    call_command("identify_stale")
    assert "fitted again" not in capsys.readouterr().out
    rebuild_stale.func(work.pk)
    assert not Reduction.objects.exclude(core_version=spindle_core.__version__).exists()
    call_command("reduce_stale", "--within-s", "0")
    assert capsys.readouterr().out == ""


def test_a_comparison_says_which_figures_are_old(api, record):
    run = record()
    Reduction.objects.filter(run=run).update(core_version="0.1.0")
    found = api.get(f"/api/v1/compare/?runs={run.pk}").json()
    assert any("made by version 0.1.0" in remark for remark in found["remarks"])
