"""The demo: its world is whole and its flaws are there to be found."""

import pytest
from django.core.management import CommandError, call_command

from spindle_bench.stand.world import MOTORS, PROPELLER_FACTORS
from spindle_server.demo import catalogue, loading, simulated_runs
from spindle_server.runs.models import Run

FLAWS = ("hot_start", "pack_sag", "tare_drift", "lost_rpm", "limit_cut")


def test_every_demo_motor_and_propeller_has_its_truth():
    names = {f"{m.maker} {m.name} {m.size_code} {m.kv:g}" for m in catalogue.MOTORS}
    assert names == set(MOTORS)
    props = {f"{maker} {d:g}x{p:g}x{b}" for maker, d, p, b in catalogue.PROPELLERS}
    assert props == set(PROPELLER_FACTORS)
    for run in simulated_runs.RUNS:
        assert run.motor in names
        assert run.propeller in props


def test_the_flaws_are_there_to_be_found(db, monkeypatch):
    """The five flawed runs and one clean one, played and reduced for real."""
    chosen = [r for r in simulated_runs.RUNS if r.flaw in FLAWS] + [simulated_runs.RUNS[0]]
    monkeypatch.setattr(loading, "RUNS", tuple(chosen))
    logins = loading.load_demo(lambda text: None)
    assert {login["username"] for login in logins} == {"ilse", "tomas", "reader", "admin"}
    assert len({login["password"] for login in logins}) == 4
    found = {}
    for run, demo in zip(Run.objects.order_by("started_at"), chosen, strict=True):
        codes = {w["code"] for w in run.reduction.result["warnings"]}
        found[demo.flaw] = (codes, run)
    assert "warm_start" in found["hot_start"][0]
    assert "tare_drift" in found["tare_drift"][0]
    assert "lost_rpm" in found["lost_rpm"][0]
    assert found["limit_cut"][1].end.outcome == "limit"
    volts = [p["voltage_v"]["value"] for p in found["pack_sag"][1].reduction.result["points"]]
    assert volts[0] - volts[-1] > 0.8
    assert not found[""][0] & {"warm_start", "tare_drift", "lost_rpm"}


def test_demo_data_never_enters_a_real_bench(db, settings):
    settings.DEMO = False
    with pytest.raises(CommandError):
        call_command("load_demo")
