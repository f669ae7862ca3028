"""Fits that follow their runs, predictions that are kept, and what comes of them."""

from dataclasses import replace

import numpy as np
import pytest
from django.core.management import call_command
from django.db import OperationalError

from spindle_core.errors import CoreError
from spindle_server.identification import knowing, rebuilding
from spindle_server.identification.models import Identified, KeptEvidence
from spindle_server.identification.rebuilding import fit_stale
from spindle_server.motors.models import MotorModel, Sample
from spindle_server.motors.services import put_claim, take_in_motor
from spindle_server.runs import reducing
from spindle_server.runs.models import PredictedFigure, Reduction
from spindle_server.runs.reducing import reduce_run
from spindle_server.runs.services import review_run
from spindle_server.runs.signals import evidence_settled, many_reductions
from spindle_server.work.models import LongWork

from .seasons import summary_of


def review(run, people, callbacks, what, reason=""):
    with callbacks(execute=True):
        return review_run(
            actor=people["reviewer"], run=run, review=what, reason=reason, base=run.version
        )


def test_an_accepted_pair_identifies_motor_and_propeller(season, rig, api):
    assert Identified.objects.count() == 0
    bare, loaded = season(propeller=False), season()
    row = Identified.objects.get(sample=rig["samples"][0])
    assert (row.stale, row.why_not) == (False, "")
    assert row.runs == [bare.pk, loaded.pk]
    # The made-up Sable measures 0.992 of its label and 0.9 of the usual resistance times 0.94.
    assert row.kv_rpm_per_v == pytest.approx(1950 * 0.992, rel=0.01)
    answer = api.get(f"/api/v1/motors/{rig['motor'].pk}/identified/").json()
    first, second = answer["samples"]
    assert [f["name"] for f in first["figures"]][:3] == [
        "kv_rpm_per_v",
        "resistance_ohm",
        "no_load_current_a",
    ]
    assert first["figures"][0]["figure"]["value"] == pytest.approx(row.kv_rpm_per_v)
    assert first["figures"][0]["figure"]["origin"] == "derived"
    assert second["figures"] == []
    assert second["why_not"] == "No run of this sample is accepted."
    model = {f["name"]: f["figure"] for f in answer["model"]}
    assert model["kv_rpm_per_v"]["n"] == 1
    assert model["kv_rpm_per_v"]["assumed"] is True
    assert "label 1,950 rpm/V" in answer["prior"]["words"]
    prop = api.get(f"/api/v1/propellers/{rig['propeller'].pk}/identified/").json()
    assert prop["runs"] == [loaded.pk]
    ct = next(f for f in prop["figures"] if f["name"] == "ct")["figure"]
    # 4 % above what geometry suggests, 0.189.
    assert ct["value"] == pytest.approx(0.189 * 1.04, rel=0.02)
    assert prop["prior"][0]["figure"]["value"] == pytest.approx(0.189, abs=0.001)
    [row] = api.get("/api/v1/propellers/identified/").json()
    cp = next(f for f in prop["figures"] if f["name"] == "cp")["figure"]
    assert row["ct"] == ct
    # CT^1.5 ÷ (√(π/2)·CP), and CP·D⁵ of 5.1 in, in millionths of m⁵.
    assert row["merit"]["value"] == pytest.approx(
        ct["value"] ** 1.5 / 1.2533 / cp["value"], rel=1e-3
    )
    assert 0 < row["merit"]["u"] < 0.1 * row["merit"]["value"]
    assert row["load_1e6_m5"]["value"] == pytest.approx(1e6 * cp["value"] * 0.12954**5)
    assert row["load_1e6_m5"]["u"] == pytest.approx(1e6 * cp["u"] * 0.12954**5)


def test_a_run_nobody_accepted_teaches_nothing(season, rig):
    season(propeller=False, accept=False)
    assert not Identified.objects.exists()
    assert knowing.sample_known(rig["samples"][0]).basis == "guessed"


def test_a_rejected_run_is_taken_out_again(season, rig, people, django_capture_on_commit_callbacks):
    season(propeller=False)
    loaded = season()
    assert Identified.objects.get(sample=rig["samples"][0]).kv_rpm_per_v is not None
    review(loaded, people, django_capture_on_commit_callbacks, "rejected", "the nut was loose")
    row = Identified.objects.get(sample=rig["samples"][0])
    assert row.kv_rpm_per_v is None
    assert loaded.pk not in row.runs
    assert Identified.objects.get(propeller=rig["propeller"]).fit is None
    known = knowing.sample_known(rig["samples"][0])
    assert known.basis == "partly"


def test_kv_of_a_bare_shaft_is_corrected_once_r_is_known(season, rig, api):
    bare = season(propeller=False)

    def kv():
        summary = Reduction.objects.get(run=bare).result["summary"]
        return summary["kv_rpm_per_v"]

    # Nobody has run it yet under load: what is usual for its size and kV, with its wide u.
    first = kv()
    assert "assumed_resistance" in first["components"]
    warnings = Reduction.objects.get(run=bare).result["warnings"]
    [said] = [w["message"] for w in warnings if w["code"] == "resistance_assumed"]
    assert "what is usual for its size and kV" in said
    season()
    corrected = kv()
    assert abs(first["value"] - corrected["value"]) < 2 * first["u"]
    assert first["components"]["assumed_resistance"] > 0.001 * corrected["value"]
    row = Identified.objects.get(sample=rig["samples"][0])
    assert corrected["value"] == pytest.approx(row.kv_rpm_per_v, rel=0.003)
    assert corrected["assumed"] is True  # the meters of this stand are assumed, R no more
    assert "assumed_resistance" not in corrected["components"]
    detail = api.get(f"/api/v1/runs/{bare.pk}/").json()
    assert detail["stale"] is False


def words_of(run):
    found = [w["message"] for w in summary_of(run)["warnings"] if w["code"] == "resistance_assumed"]
    return " ".join(found)


def test_kv_is_corrected_with_what_the_other_samples_show_until_its_own_is_known(season, rig, api):
    other = season(propeller=False, sample=1)
    season(propeller=False)
    assert "usual for its size" in words_of(other)
    season()  # sample A now has a resistance of its own
    assert "that of another sample of the model" in words_of(other)
    assert api.get(f"/api/v1/runs/{other.pk}/").json()["stale"] is False
    theirs = Identified.objects.get(sample=rig["samples"][0])
    kv = summary_of(other)["summary"]["kv_rpm_per_v"]
    # As uncertain as the next sample of a model is, not as the one that was measured.
    drop = kv["value"] * 0.9 * theirs.resistance_u_ohm / 16.0
    assert kv["components"]["assumed_resistance"] > 1.5 * drop
    season(sample=1, seed=5)
    assert words_of(other) == ""


def test_a_claimed_resistance_comes_before_what_is_usual(
    season, rig, people, django_capture_on_commit_callbacks
):
    with django_capture_on_commit_callbacks(execute=True):
        put_claim(
            actor=people["reviewer"],
            motor=rig["motor"],
            quantity="resistance_mohm",
            source="the maker's page",
            value=62.0,
        )
    assert "what its maker claims" in words_of(season(propeller=False))


def test_many_runs_reduced_again_are_fitted_once_and_by_who_reduces_them(
    season, rig, monkeypatch, django_capture_on_commit_callbacks
):
    """Each by itself would read all runs of its propeller again, for every run of it."""
    runs = [season(propeller=False), season(), season(seed=7)]
    fitted = []
    own = rebuilding._rebuild
    monkeypatch.setattr(rebuilding, "_rebuild", lambda pk: fitted.append(pk) or own(pk))
    with django_capture_on_commit_callbacks(execute=True), many_reductions():
        for run in runs:
            reduce_run(run)
    assert fitted == []
    assert Identified.objects.filter(stale=True).count() == 2
    told = []

    class Progress:
        def of(self, total, unit):
            told.append((total, unit))

        def step(self, done):
            told.append(done)

    evidence_settled.send(None, progress=Progress())
    assert len(fitted) == 2
    assert told == [(1, "samples"), 1, (1, "propellers"), 1]
    assert not Identified.objects.filter(stale=True).exists()
    # And again at once, each by itself.
    with django_capture_on_commit_callbacks(execute=True):
        reduce_run(runs[1])
    assert len(fitted) == 4


def test_who_reviews_a_run_does_not_wait_for_all_that_a_new_core_left(
    season, rig, people, monkeypatch, django_capture_on_commit_callbacks
):
    run = season(propeller=False, accept=False)
    others = [
        Identified(sample=Sample.objects.create(motor=run.sample.motor, mark=f"Z{k}"), stale=True)
        for k in range(rebuilding.LEFT_BY_A_FAILURE + 1)
    ]
    Identified.objects.bulk_create(others)
    review(run, people, django_capture_on_commit_callbacks, "accepted")
    assert Identified.objects.get(sample=run.sample).stale is False
    assert Identified.objects.filter(stale=True).count() == len(others)
    Identified.objects.filter(pk=Identified.objects.filter(stale=True).last().pk).delete()
    run.refresh_from_db()
    review(run, people, django_capture_on_commit_callbacks, "rejected", "the nut was loose")
    assert not Identified.objects.filter(stale=True).exists()


def test_a_fit_that_rests_on_many_runs_is_not_made_while_somebody_waits(
    season, rig, people, monkeypatch, django_capture_on_commit_callbacks
):
    monkeypatch.setattr(rebuilding, "MANY_RUNS", 1)
    asked = []
    monkeypatch.setattr(type(fit_stale), "enqueue", lambda self, pk: asked.append(pk))
    season(seed=1)
    season(seed=2)
    propeller = Identified.objects.get(propeller=rig["propeller"])
    assert (len(propeller.runs), propeller.stale, asked) == (2, False, [])
    before = propeller.fit
    third = season(accept=False, seed=3)
    review(third, people, django_capture_on_commit_callbacks, "accepted")
    propeller.refresh_from_db()
    # What it was serves until it is made again, and says that it will be.
    assert (propeller.stale, propeller.fit, len(propeller.runs)) == (True, before, 2)
    [work] = LongWork.objects.filter(title=rebuilding.FIT)
    assert asked == [work.pk]
    # Another review meanwhile asks for nothing more, and loses nothing.
    third.refresh_from_db()
    review(third, people, django_capture_on_commit_callbacks, "rejected", "the nut was loose")
    assert asked == [work.pk]
    fit_stale.func(work.pk)
    propeller.refresh_from_db()
    assert (propeller.stale, len(propeller.runs)) == (False, 2)
    work.refresh_from_db()
    assert work.state == "done"
    assert not Identified.objects.filter(stale=True).exists()


def test_a_kept_fit_is_not_made_from_the_samples_again(season, rig, monkeypatch):
    bare, loaded = season(propeller=False), season()
    assert KeptEvidence.objects.filter(run__in=[bare, loaded]).count() == 2
    before = Identified.objects.get(sample=rig["samples"][0]).fit

    def refuse(run):
        raise AssertionError("the samples were read again")

    monkeypatch.setattr(rebuilding, "run_trace", refuse)
    Identified.objects.update(stale=True)
    assert rebuilding.rebuild_stale() == 2
    assert Identified.objects.get(sample=rig["samples"][0]).fit == before


def test_what_a_run_says_is_kept_as_it_is_reduced_and_its_first_fit_reads_no_samples(
    season, rig, people, monkeypatch, django_capture_on_commit_callbacks
):
    runs = [season(propeller=False, accept=False), season(accept=False)]
    assert KeptEvidence.objects.filter(run__in=runs).count() == 2

    def refuse(run):
        raise AssertionError("the samples were read again")

    monkeypatch.setattr(rebuilding, "run_trace", refuse)
    for run in runs:
        review(run, people, django_capture_on_commit_callbacks, "accepted")
    fit = Identified.objects.get(sample=rig["samples"][0])
    assert (fit.stale, fit.why_not, len(fit.runs)) == (False, "", 2)
    # And it is what the samples themselves say.
    monkeypatch.undo()
    KeptEvidence.objects.all().delete()
    Identified.objects.update(stale=True)
    rebuilding.rebuild_stale()
    assert Identified.objects.get(pk=fit.pk).fit == fit.fit
    assert KeptEvidence.objects.filter(run__in=runs).count() == 2


def test_a_run_that_cannot_be_reduced_any_more_keeps_nothing_of_what_it_said(season, monkeypatch):
    run = season()
    monkeypatch.setattr(reducing, "reduce_trace", lambda trace: 1 / 0)
    reduce_run(run)
    assert not KeptEvidence.objects.filter(run=run).exists()


@pytest.mark.parametrize("problem", [CoreError("no blocks"), ZeroDivisionError()])
def test_what_a_run_says_that_cannot_be_told_is_no_fault_of_its_reduction(
    season, monkeypatch, problem
):
    def breaks(*args):
        raise problem

    monkeypatch.setattr(rebuilding, "evidence_of", breaks)
    run = season()
    run.refresh_from_db()
    assert run.reduction.error == ""
    assert not KeptEvidence.objects.exists()
    # The fit, which needs it, says so.
    assert Identified.objects.get(sample=run.sample).why_not


def test_evidence_is_made_again_when_a_run_is_reduced_again(
    season, rig, django_capture_on_commit_callbacks
):
    season(propeller=False)
    loaded = season()
    KeptEvidence.objects.filter(run=loaded).update(blocks={"columns": [], "rows": []})
    with django_capture_on_commit_callbacks(execute=True):
        reduce_run(loaded)
    assert KeptEvidence.objects.get(run=loaded).blocks["rows"]
    assert Identified.objects.get(sample=rig["samples"][0]).stale is False


def test_a_rebuild_that_breaks_is_no_fault_of_the_review(
    season, people, monkeypatch, caplog, django_capture_on_commit_callbacks
):
    run = season(propeller=False, accept=False)

    def away(pk):
        raise OperationalError("Lock wait timeout exceeded")

    monkeypatch.setattr(rebuilding, "_rebuild", away)
    review(run, people, django_capture_on_commit_callbacks, "accepted")
    run.refresh_from_db()
    assert run.review == "accepted"
    assert Identified.objects.get(sample=run.sample).stale is True
    assert "Lock wait timeout" in caplog.text
    monkeypatch.undo()
    call_command("identify_stale")
    assert Identified.objects.get(sample=run.sample).stale is False


def test_a_fit_that_breaks_leaves_the_run_accepted(season, rig, monkeypatch, caplog):
    def broken(*args):
        raise ZeroDivisionError("unforeseen")

    monkeypatch.setattr(rebuilding, "identify_motor", broken)
    run = season(propeller=False)
    run.refresh_from_db()
    assert run.review == "accepted"
    row = Identified.objects.get(sample=rig["samples"][0])
    assert "ZeroDivisionError" in row.why_not
    assert "could not be fitted" in caplog.text


def test_what_an_earlier_core_fitted_is_fitted_again(season, rig):
    season(propeller=False)
    season()
    Identified.objects.filter(propeller__isnull=False).delete()
    Identified.objects.update(core_version="0.0", kv_rpm_per_v=1.0)
    call_command("identify_stale")
    assert Identified.objects.get(sample=rig["samples"][0]).kv_rpm_per_v > 1900
    assert Identified.objects.get(propeller=rig["propeller"]).fit is not None


def test_runs_without_torque_use_the_motor_that_is_known(season, rig):
    season(propeller=False)
    season(torque=False)
    row = Identified.objects.get(propeller=rig["propeller"])
    # CP of the made-up Wickett: 2 % above geometry's 0.119.
    assert row.fit["cp"]["value"] == pytest.approx(0.119 * 1.02, rel=0.03)


def test_the_siblings_stand_in_and_the_label_moves(season, rig, people):
    season(propeller=False)
    season()
    other = knowing.sample_known(rig["samples"][1])
    assert other.basis == "siblings"
    assert other.words == "as A of the same model"
    learnt = knowing.experience()
    assert len(learnt.labels) == 1
    assert learnt.labels[0][1] == pytest.approx(np.log(0.992), abs=0.008)


def test_an_expectation_is_asked_for_before_anything_spins(season, rig, api):
    asked = {"sample": rig["samples"][0].pk, "propeller": rig["propeller"].pk}
    asked |= {"supply": rig["supply"].pk}
    before = api.get("/api/v1/expectation/", asked).json()
    thrust = {f["name"]: f["figure"] for f in before["figures"]}["max_thrust_gf"]
    assert thrust["origin"] == "estimated"
    assert "label" in before["rests_on"]
    season(propeller=False)
    season()
    after = api.get("/api/v1/expectation/", asked).json()
    sure = {f["name"]: f["figure"] for f in after["figures"]}["max_thrust_gf"]
    assert sure["u"] < 0.3 * thrust["u"]
    assert "identified from 2 runs" in after["rests_on"]
    low = api.get("/api/v1/expectation/", {**asked, "highest_pct": 50}).json()
    assert {f["figure"]["value"] for f in low["figures"]} == {None}
    assert "ESC declared linear" in low["rests_on"]
    held = api.get("/api/v1/expectation/", {**asked, "kind": "hold"}).json()
    assert held["figures"] == []
    assert "no figure is predicted" in held["rests_on"]
    bare = api.get("/api/v1/expectation/", {**asked, "kind": "no_load"}).json()
    assert [f["name"] for f in bare["figures"]] == ["kv_raw_rpm_per_v", "no_load_current_a"]


def test_a_motor_of_which_nothing_is_known_is_said_so(rig, api):
    motor = MotorModel.objects.get(pk=rig["motor"].pk)
    motor.kv_label_rpm_per_v = None
    motor.save()
    asked = {"sample": rig["samples"][0].pk, "propeller": rig["propeller"].pk}
    found = api.get("/api/v1/expectation/", {**asked, "supply": rig["supply"].pk}).json()
    assert found["figures"] == []
    assert "no kV on its label" in found["rests_on"]


def test_what_was_expected_is_kept_with_the_run(season, rig, record, api):
    season(propeller=False)
    season()
    run = record()
    kept = {row.name: row for row in PredictedFigure.objects.filter(run=run)}
    assert set(kept) == {
        "max_thrust_gf",
        "max_current_a",
        "max_power_w",
        "efficiency_at_max_g_per_w",
    }
    assert "identified from 2 runs" in kept["max_thrust_gf"].rests_on
    answer = api.get(f"/api/v1/runs/{run.pk}/expected/").json()
    thrust = next(f for f in answer["figures"] if f["name"] == "max_thrust_gf")
    # The recorded columns give 1,200 gf, whatever the model says.
    assert thrust["measured"]["value"] == pytest.approx(1200, rel=0.01)
    off = 100 * (thrust["measured"]["value"] / thrust["predicted"]["value"] - 1)
    assert thrust["off_pct"] == pytest.approx(off)
    # What is learnt afterwards does not change what was expected.
    before = list(PredictedFigure.objects.filter(run=run).values_list("name", "value", "u"))
    season(seed=9)
    assert list(PredictedFigure.objects.filter(run=run).values_list("name", "value", "u")) == before
    nothing = api.get(f"/api/v1/runs/{season(seed=11).pk}/expected/").json()
    assert nothing == {"rests_on": "", "figures": []}


def test_nothing_that_breaks_in_a_prediction_keeps_a_run_from_being_made(
    record, monkeypatch, caplog
):
    def broken(*args, **kwargs):
        raise ZeroDivisionError("unforeseen")

    monkeypatch.setattr(knowing, "predict_run", broken)
    run = record()
    assert not run.predicted.exists()
    assert "nothing could be expected" in caplog.text


def test_hindsight_counts_accepted_runs_only(season, rig, record, people, api):
    season(propeller=False)
    season()
    runs = [record(seed) for seed in (1.0, 1.02)]
    assert api.get("/api/v1/hindsight/").json()["figures"] == []
    for run in runs:
        review_run(actor=people["reviewer"], run=run, review="accepted", base=run.version)
    found = {f["name"]: f for f in api.get("/api/v1/hindsight/").json()["figures"]}
    assert found["max_thrust_gf"]["count"] == 2
    assert found["max_thrust_gf"]["verdict"] == "too_few"
    assert {miss["run"] for miss in found["max_current_a"]["misses"]} == {run.pk for run in runs}


def test_samples_whose_label_was_mixed_up_are_asked_about(season, rig, people, api):
    season(propeller=False)
    season()
    motor = rig["motor"]
    row = Identified.objects.get(sample=rig["samples"][0])
    take_in_motor(
        actor=people["reviewer"],
        maker=motor.maker.name,
        name=motor.name,
        size_code="2105.5",
        kv_label_rpm_per_v=2650,
        sample_marks=["A"],
    )
    address = f"/api/v1/motors/{motor.pk}/identified/"
    assert api.get(address).json()["mix_up"] == []
    kv = {**row.fit["kv_rpm_per_v"], "value": 2600.0}
    Identified.objects.filter(pk=row.pk).update(fit={**row.fit, "kv_rpm_per_v": kv})
    asked = api.get(address).json()["mix_up"]
    assert len(asked) == 1
    assert "2,600 rpm/V" in asked[0]
    assert "2650" in asked[0]


def test_supplies_are_known_as_they_are_written_down(rig):
    supply = rig["supply"]
    known = knowing.supply_known(supply)
    assert (known.open_circuit_v.value, known.resistance_ohm.value) == (16.0, 0.004)
    supply.resistance_ohm = None
    guessed = knowing.supply_known(supply)
    assert guessed.resistance_ohm.value == 0.0
    supply.open_circuit_v = None
    assert knowing.supply_known(supply).reason == "no_cells"
    assert replace(known.open_circuit_v, n=1).u == pytest.approx(0.064)
