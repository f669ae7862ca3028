"""Soaks: how a motor warms, what that needs to be known, and what is expected of the next."""

from spindle_core.planning.hindsight import look_back
from spindle_server.identification.knowing import expected
from spindle_server.identification.soaks import soaks_before_next
from spindle_server.motors.services import put_claim
from spindle_server.runs.as_core import figure_of
from spindle_server.runs.reducing import reduce_run

from .seasons import soaked, summary_of


def test_soaks_tell_how_each_sample_warms(season, rig, people, api):
    url = f"/api/v1/motors/{rig['motor'].pk}/identified/"
    assert [one["soaks"] for one in api.get(url).json()["samples"]] == [[], []]
    runs = [soaked(rig, people, seed) for seed in (1, 2)]
    first, second = api.get(url).json()["samples"]
    assert first["soaks"] == [run.pk for run in runs]
    assert second["soaks"] == []
    heat = {one["name"]: one["figure"] for one in first["heat"]}
    rise = heat["rise_k_per_kj"]
    assert (rise["n"], rise["assumed"]) == (2, True)
    # Two that agree are not believed closer than soaks usually do.
    assert rise["u"] >= 0.08 * rise["value"] / 2**0.5
    absent = {one["name"]: one["figure"]["reason"] for one in second["heat"]}
    assert absent["rise_k_per_kj"] == "no soak of it is accepted"


def test_a_soak_without_torque_is_told_what_the_sample_loses(
    season, rig, people, api, django_capture_on_commit_callbacks
):
    with django_capture_on_commit_callbacks(execute=True):
        run = soaked(rig, people, 1, torque=False)
    before = summary_of(run)["summary"]
    assert before["case_k_per_w"] is None
    season(propeller=False)
    season()
    after = summary_of(run)["summary"]
    assert after["case_k_per_w"]["value"] > 0
    assert "assumed_copper" in " ".join(after["case_k_per_w"]["components"])
    assert after["rise_k"]["value"] == before["rise_k"]["value"]
    assert api.get(f"/api/v1/runs/{run.pk}/").json()["stale"] is False
    # No enamel is claimed: no power is called continuous.
    assert after["continuous_power_w"] is None
    claim = {"source": "the maker's page", "words": "class H"}
    put_claim(actor=people["reviewer"], motor=rig["motor"], quantity="enamel_class", **claim)
    assert api.get(f"/api/v1/runs/{run.pk}/").json()["stale"] is True
    reduce_run(run)
    assert summary_of(run)["summary"]["continuous_power_w"]["value"] > 0


def foreseen(rig, load_s, sample=0, level_pct=60.0):
    course = [(0.0, level_pct, 1.0), (level_pct, level_pct, load_s)] if load_s else []
    return expected(
        kind="soak",
        sample=rig["samples"][sample],
        propeller=rig["propeller"],
        supply=rig["supply"],
        esc=None,
        density_kg_per_m3=1.19,
        highest_pct=level_pct,
        course=course,
    )


def test_a_soak_is_expected_from_those_before_it(season, rig, people):
    season(propeller=False)
    season()
    first, words = foreseen(rig, 60.0)
    assert first["energy_kj"].value > 0
    assert first["rise_k"].reason == "no_soak"
    assert "identified from 2 runs" in words
    soaked(rig, people, 1)
    for load_s, level_pct in ((60.0, 60.0), (120.0, 60.0), (45.0, 75.0)):
        made, _ = foreseen(rig, load_s, level_pct=level_pct)
        run = soaked(rig, people, 30 + int(load_s), load_s=load_s, level_pct=level_pct)
        measured = {row.name: figure_of(row) for row in run.figures.all()}
        misses = {miss.name: miss for miss in look_back(made, measured)}
        assert set(misses) == {"energy_kj", "rise_k"}
        assert abs(misses["rise_k"].z) < 2.5, (load_s, level_pct, misses)
        assert abs(misses["energy_kj"].z) < 2.5, (load_s, level_pct, misses)
        run.delete()


def test_another_sample_is_expected_to_warm_like_its_model_until_it_was_soaked(season, rig, people):
    season(propeller=False)
    season()
    soaked(rig, people, 1)
    like = foreseen(rig, 60.0, sample=1)[0]["rise_k"]
    assert like.value > 10
    assert like.component("assumed_other_sample") > 0.05 * like.value
    soaked(rig, people, 2, sample=1)
    soaked(rig, people, 3, sample=1)
    known = soaks_before_next(rig["samples"][1]).rise_k_per_kj
    assert (known.n, known.component("assumed_other_sample")) == (2, 0.0)


def test_a_soak_to_a_temperature_is_not_foretold(season, rig, people):
    season(propeller=False)
    soaked(rig, people, 1)
    figures, _ = foreseen(rig, None)
    assert {one.reason for one in figures.values()} == {"open_end"}
