"""The demo: its world is whole and its flaws are there to be found."""

import gzip
import json
from datetime import timedelta

import pytest
from django.core.management import CommandError, call_command
from django.utils import timezone

from spindle_bench.stand.world import MOTORS, PROPELLER_FACTORS
from spindle_core.reduction.kinds import KINDS
from spindle_core.run.typed_cells import LATER
from spindle_server.demo import catalogue, loading, simulated_runs
from spindle_server.motor_file.selectors import motor_file, motor_for_file
from spindle_server.motors.models import MotorModel
from spindle_server.photos.models import Photo
from spindle_server.runs.later import still_owed
from spindle_server.runs.models import Run
from spindle_server.runs.sheets import Block, SheetRow, look
from spindle_server.teardown.models import Observation

DRIFT = "Ostrel Drift 2206 1900"
FLAWS = ("hot_start", "pack_sag", "tare_drift", "lost_rpm", "limit_cut")


def test_every_demo_motor_and_propeller_has_its_truth():
    names = {f"{m.maker} {m.name} {m.size_code} {m.kv:g}" for m in catalogue.MOTORS}
    assert names == set(MOTORS)
    props = {f"{maker} {d:g}x{p:g}x{b}" for maker, d, p, b, _ in catalogue.PROPELLERS}
    assert props == set(PROPELLER_FACTORS)
    for run in simulated_runs.RUNS:
        assert run.motor in names
        assert run.propeller in props


def test_three_motors_are_put_through_every_kind_of_run():
    """Readings off a sheet and logs without a propeller come from elsewhere."""
    everything = set(KINDS) - {"readings", "no_load"}
    for motor in simulated_runs.TOLD_WHOLE:
        theirs = [run for run in simulated_runs.RUNS if run.motor == motor]
        assert {run.profile["kind"] for run in theirs} == everything
        assert [run.profile["kind"] for run in theirs if run.by_hand] == ["steps"]


def test_the_flaws_are_there_to_be_found(db, monkeypatch, settings, tmp_path):
    """The five flawed runs and one clean one, played and reduced for real."""
    settings.PHOTOS = tmp_path / "photos"
    chosen = [r for r in simulated_runs.RUNS if r.flaw in FLAWS] + [simulated_runs.RUNS[0]]
    by_hand = [r for r in simulated_runs.RUNS if " Pale " in r.motor and not r.flaw][:2]
    chosen += [r for r in by_hand if r not in chosen]
    monkeypatch.setattr(loading, "RUNS", tuple(chosen))
    logins = loading.load_demo(lambda text: None)
    assert {login["username"] for login in logins} == {"ilse", "tomas", "reader", "admin"}
    assert len({login["password"] for login in logins}) == 4
    found = {}
    played = Run.objects.filter(kind="steps").order_by("started_at")
    for run, demo in zip(played, chosen, strict=True):
        codes = {w["code"] for w in run.reduction.result["warnings"]}
        found[demo.flaw] = (codes, run)
    assert "warm_start" in found["hot_start"][0]
    assert "tare_drift" in found["tare_drift"][0]
    assert "lost_rpm" in found["lost_rpm"][0]
    assert found["limit_cut"][1].end.outcome == "limit"
    # Every run of the story is of its own day; none is of the day on which it was loaded.
    assert not Run.objects.filter(started_at__gte=timezone.now() - timedelta(days=1)).exists()
    volts = [p["voltage_v"]["value"] for p in found["pack_sag"][1].reduction.result["points"]]
    assert volts[0] - volts[-1] > 0.8
    assert not found[""][0] & {"warm_start", "tare_drift", "lost_rpm"}
    look_at_the_slips()
    look_at_the_motors()


def look_at_the_slips():
    """The two slips of the motor that was reviewed by hand are there, and are found."""
    of_three = Run.objects.filter(kind="readings").exclude(sample__motor__name="Pale")
    assert {run.sample.motor.name for run in of_three} == {"Sable", "Drift", "No. 4"}
    first, second = Run.objects.filter(kind="readings", sample__motor__name="Pale").order_by(
        "started_at"
    )
    assert first.header["readings_are"] == "held"
    assert second.header["readings_are"] == "maxima"
    codes = []
    for run in (first, second):
        typed = json.loads(gzip.decompress(bytes(run.source_file.gzip)))
        day = timezone.localtime(run.started_at).date()
        rows = [_row(cells) for cells in typed["rows"]]
        block = Block(rows, maxima=typed["readings_are"] == "maxima")
        [looks] = look(blocks=[block], stand=run.stand, day=day)
        codes.append({found.code for one in looks for found in one.findings})
        assert run.inherited
    # The second evening went a little beyond the ESC, and says why.
    assert codes == [{"off_curve"}, {"not_reset", "overrun"}]
    assert second.overrun_reason
    [owed] = still_owed()
    assert (owed.run, owed.clip, owed.time_code) == (second, "clip 3", "04:12")


def _row(cells):
    return SheetRow({k: LATER if isinstance(v, dict) else v for k, v in cells.items()}, cells)


def look_at_the_motors():
    """What a reviewer finds in the demo's intake and teardown, motor by motor."""
    files = {
        motor.full_name: motor_file(motor_for_file(motor.pk).get())
        for motor in MotorModel.objects.all()
    }
    assert all(2 <= len(file["motor"].samples.all()) <= 3 for file in files.values())

    def off(name, quantity):
        return next(r for r in files[name]["against_claims"] if r["quantity"] == quantity)

    lite = off("Ostrel Drift Lite 2205 2420", "kv_rpm_per_v")
    assert lite["deviation_pct"]["value"] == pytest.approx(-6, abs=0.8)
    assert lite["resolved"]
    assert abs(off(DRIFT, "kv_rpm_per_v")["deviation_pct"]["value"]) < 2

    points = {name: " ".join(file["open_points"]) for name, file in files.items()}
    assert "Sample B: dry or rough bearing" in points["Ostrel Drift Lite 2205 2420"]
    assert "burnt winding" in points["Quillmoor Sable 2105.5 2650"]
    assert "never written down" in points["Fennick & Daw Teal 1404 4100"]
    assert "Only one sample weighed" in points[DRIFT]
    remarks = {name: {r.code: r.state for r in file["remarks"]} for name, file in files.items()}
    assert remarks["Ostrel Drift Lite 2205 2420"]["sources_differ"] == "odd"
    assert remarks["Ostrel Drift Lite 2205 2420"]["magnet_grade"] == "odd"
    sources = {
        name: {row["lead_from"] for row in file["masses"]["samples"]}
        for name, file in files.items()
    }
    assert "two weighings" in sources["Quillmoor Sable 2105.5 1950"]
    assert "off-cut" in sources["Brackwater No. 4 2306 1800"]
    assert "gauge" in sources["Hollin Pale 2807 1250"]
    box = files["Quillmoor Sable 2105.5 1950"]["parcels"][0]["findings"]
    assert any(item.state == "missing" and "winding" in item.message for item in box)
    assert Photo.objects.count() == 18
    assert {row.status for row in Observation.objects.all()} == {
        "measured",
        "observed",
        "same_as",
        "inferred",
        "ordinal",
        "could_not_tell",
    }


def test_demo_data_never_enters_a_real_bench(db, settings):
    settings.DEMO = False
    with pytest.raises(CommandError):
        call_command("load_demo")
