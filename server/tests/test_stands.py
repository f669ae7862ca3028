"""Stands: unknown is allowed, geometry has dates, calibrations and check masses."""

import datetime

import pytest

from spindle_core.run.stand import ASSUMED_REPEATABILITY
from spindle_server.rig.models import Stand
from spindle_server.rig.stands import geometry_of, stand_of, thrust_u_on
from spindle_server.runs.as_core import compared_run
from spindle_server.runs.models import Run
from spindle_server.runs.reducing import is_stale, reduce_run

LOADS = [{"mass_g": m, "reading_g": m, "going": g} for g in ("up", "down") for m in (0, 500, 1000)]
DAY = datetime.date(2026, 10, 5)


def send(api, method, path, **body):
    return getattr(api, method)(f"/api/v1/{path}", body, format="json")


@pytest.fixture
def scale(api, db):
    return send(api, "post", "stands/", name="Kitchen scale", kind="inverted").json()


def test_a_stand_that_nobody_knows_assumes_aloud(api, scale):
    assert (scale["repeatability_rel"], scale["thrust_u_rel"]) == (None, None)
    assert "±1 %" in scale["assumed_words"]
    core = stand_of(Stand.objects.get(), DAY)
    assert (core.repeatability, dict(core.calibration)) == (0.0, {})
    send(
        api,
        "post",
        f"stands/{scale['id']}/instruments/",
        channel="thrust_gf",
        kind="kitchen_scale",
        step=1.0,
    )
    assert "kitchen scale" in api.get(f"/api/v1/stands/{scale['id']}/").json()["assumed_words"]
    core = stand_of(Stand.objects.get(), DAY)
    assert core.instruments["thrust_gf"] == "kitchen_scale"
    assert core.resolution["thrust_gf"] == 1.0


def test_an_unknown_repeatability_is_assumed_in_a_comparison(api, rig, record):
    run = record()
    Stand.objects.filter(pk=rig["stand"].pk).update(repeatability_rel=None)
    core = compared_run(Run.objects.select_related("stand", "reduction").get(pk=run.pk))
    assert (core.repeatability, core.repeat_kind) == (ASSUMED_REPEATABILITY, "assumed_repeat")
    said = api.get("/api/v1/compare/", {"runs": f"{run.pk}"}).json()["remarks"]
    assert any("Yard stand, whose repeatability nobody declared" in text for text in said)


def test_geometry_has_dates_and_past_readings_keep_theirs(api, scale):
    path = f"stands/{scale['id']}/states/"
    weights = [{"name": "plate", "mass_g": 131}, {"name": "clamp", "mass_g": 92}]
    first = send(api, "post", path, valid_from="2026-09-01", weights=weights)
    assert first.status_code == 201, first.json()
    assert (first.json()["added_g"], first.json()["ratio"]) == (223.0, 1.0)
    lever = {"motor_arm_mm": 168, "scale_arm_mm": 112}
    second = send(api, "post", path, valid_from="2026-10-01", weights=[], **lever).json()
    assert second["ratio"] == pytest.approx(2 / 3)
    stand = Stand.objects.get()
    assert geometry_of(stand, datetime.date(2026, 8, 31)).added_g == 0.0
    assert geometry_of(stand, datetime.date(2026, 9, 30)).added_g == 223.0
    assert geometry_of(stand, datetime.date(2026, 10, 1)).added_g == 0.0
    assert geometry_of(stand, datetime.date(2026, 10, 1)).lever.ratio == pytest.approx(2 / 3)


def test_a_state_of_the_same_day_is_changed_by_who_read_it_only(api, scale):
    path = f"stands/{scale['id']}/states/"
    made = send(api, "post", path, valid_from="2026-10-01", weights=[{"name": "a", "mass_g": 5}])
    blind = send(api, "post", path, valid_from="2026-10-01", weights=[])
    assert (blind.status_code, blind.json()["code"]) == (409, "changed_meanwhile")
    read = send(
        api, "post", path, valid_from="2026-10-01", version=made.json()["version"], weights=[]
    )
    assert (read.status_code, read.json()["added_g"], read.json()["version"]) == (201, 0.0, 2)


@pytest.mark.parametrize(
    ("body", "field"),
    [
        ({"motor_arm_mm": 168}, "scale_arm_mm"),
        ({"scale_arm_mm": 112}, "motor_arm_mm"),
        ({"motor_arm_mm": 0, "scale_arm_mm": 112}, "motor_arm_mm"),
        ({"weights": [{"name": "a", "mass_g": -1}]}, "weights"),
        ({"weights": [{"name": "a", "mass_g": 1}, {"name": "a", "mass_g": 2}]}, "weights"),
        ({"weights": [{"name": "", "mass_g": 1}]}, "weights"),
        ({"valid_from": "2199-01-01"}, "valid_from"),
        ({"step_g": 0}, "step_g"),
        ({"rest_g": "x"}, "rest_g"),
    ],
)
def test_a_geometry_that_cannot_be_names_its_field(api, scale, body, field):
    body = {"valid_from": "2026-10-01", "weights": [], **body}
    answer = send(api, "post", f"stands/{scale['id']}/states/", **body)
    assert answer.status_code == 400
    assert any(name.startswith(field) for name in answer.json()["fields"])
    assert not Stand.objects.get().states.exists()


def test_a_calibration_is_the_stands_u_from_its_day_on(api, rig):
    stand = rig["stand"]
    path = f"stands/{stand.pk}/calibrations/"
    made = send(
        api,
        "post",
        path,
        valid_from="2026-10-05",
        loads=LOADS,
        step_g=0.1,
        masses_relative_u=0.0005,
        remind_on="2026-12-01",
    )
    assert made.status_code == 201, made.json()
    fit = made.json()["fit"]
    assert fit["gain"] == pytest.approx(1.0)
    assert len(fit["residuals_gf"]) == 6
    relative_u = made.json()["relative_u"]
    assert 0.0005 <= relative_u < 0.001
    stand = Stand.objects.get(pk=stand.pk)
    assert thrust_u_on(stand, datetime.date(2026, 10, 4)) == 0.008
    assert thrust_u_on(stand, DAY) == relative_u
    assert stand_of(stand, DAY).calibration["thrust_gf"] == relative_u
    row = api.get(f"/api/v1/stands/{stand.pk}/").json()
    assert (row["calibrated_on"], row["remind_on"]) == ("2026-10-05", "2026-12-01")
    mistake = {"struck_reason": "hung the wrong weight", "version": 1}
    struck = send(api, "patch", f"calibrations/{made.json()['id']}/", **mistake)
    assert struck.json()["struck_reason"] == "hung the wrong weight"
    assert thrust_u_on(Stand.objects.get(pk=stand.pk), DAY) == 0.008


def test_the_later_of_two_calibrations_counts_whatever_was_typed_first(api, rig):
    path = f"stands/{rig['stand'].pk}/calibrations/"
    for day, mass_u in (("2026-10-05", 0.01), ("2026-09-01", 0.02), ("2026-10-05", 0.03)):
        send(api, "post", path, valid_from=day, loads=LOADS, step_g=0.1, masses_relative_u=mass_u)
    stand = Stand.objects.get(pk=rig["stand"].pk)
    assert thrust_u_on(stand, datetime.date(2026, 9, 2)) == pytest.approx(0.02, rel=0.01)
    assert thrust_u_on(stand, DAY) == pytest.approx(0.03, rel=0.01)


def test_figures_of_runs_before_a_calibration_stay_and_those_after_are_stale(api, rig, record):
    run = record()
    before = reduce_run(run)
    assert not is_stale(before)
    path = f"stands/{rig['stand'].pk}/calibrations/"
    today = Run.objects.get().started_at.date()
    later = today + datetime.timedelta(days=1)
    u = lambda: run.figures.get(name="max_thrust_gf").u  # noqa: E731
    old = u()
    kept = send(api, "post", path, valid_from=f"{later}", loads=LOADS, step_g=0.1)
    assert kept.status_code == 201, kept.json()
    before.refresh_from_db()
    before.run = Run.objects.get()
    assert not is_stale(before)
    send(api, "post", path, valid_from=f"{today}", loads=LOADS, step_g=0.1, masses_relative_u=0.05)
    before.run = Run.objects.get()
    assert is_stale(before)
    reduce_run(Run.objects.get())
    assert u() > 3 * old


@pytest.mark.parametrize(
    ("body", "field", "said"),
    [
        ({"loads": LOADS[:2]}, "loads", "3 different masses"),
        ({"loads": [{**load, "reading_g": 7} for load in LOADS]}, "loads", "nothing reaches"),
        ({"loads": [{**load, "reading_g": -load["mass_g"]} for load in LOADS]}, "loads", "other"),
        ({"loads": [{"mass_g": "x", "reading_g": 1}]}, "loads", ""),
        ({"loads": []}, "loads", ""),
        ({"step_g": 0}, "step_g", ""),
        ({"valid_from": "2199-01-01"}, "valid_from", "future"),
        ({"remind_on": "2026-10-05"}, "remind_on", "after"),
    ],
)
def test_what_is_no_calibration_is_not_kept(api, scale, body, field, said):
    whole = {"valid_from": "2026-10-05", "loads": LOADS, "step_g": 1, **body}
    answer = send(api, "post", f"stands/{scale['id']}/calibrations/", **whole)
    assert answer.status_code == 400
    named = {name: text for name, text in answer.json()["fields"].items() if name.startswith(field)}
    assert named
    assert said in str(named)
    assert not Stand.objects.get().calibrations.exists()


def test_loads_are_looked_at_without_being_kept(api, scale):
    rows = [{**load, "reading_g": 1.03 * load["mass_g"]} for load in LOADS]
    tried = send(api, "post", f"stands/{scale['id']}/calibration-trial/", loads=rows, step_g=1)
    assert tried.json()["gain"] == pytest.approx(1.03)
    assert any("3 % too much" in text for text in tried.json()["remarks"])
    assert not Stand.objects.get().calibrations.exists()


def test_a_check_mass_is_judged_by_what_counted_on_its_day(api, rig):
    path = f"stands/{rig['stand'].pk}/checks/"
    noon = "2026-10-05T12:00:00Z"
    near = send(api, "post", path, mass_g=500, reading_g=506, step_g=1, checked_at=noon).json()
    assert (near["difference_gf"], near["moved"]) == (6.0, False)
    far = send(api, "post", path, mass_g=500, reading_g=509, step_g=1, checked_at=noon).json()
    assert far["moved"]
    assert api.get(f"/api/v1/stands/{rig['stand'].pk}/").json()["last_check"]["id"] == far["id"]
    struck = {"struck_reason": "fan was on", "version": 1}
    send(api, "patch", f"mass-checks/{far['id']}/", **struck)
    assert api.get(f"/api/v1/stands/{rig['stand'].pk}/").json()["last_check"]["id"] == near["id"]


@pytest.mark.parametrize(
    ("body", "field"),
    [
        ({"mass_g": 0}, "mass_g"),
        ({"reading_g": None}, "reading_g"),
        ({"step_g": -1}, "step_g"),
        ({"checked_at": "2199-01-01T00:00:00Z"}, "checked_at"),
    ],
)
def test_what_is_no_check_names_its_field(api, scale, body, field):
    whole = {"mass_g": 500, "reading_g": 500, "step_g": 1, **body}
    answer = send(api, "post", f"stands/{scale['id']}/checks/", **whole)
    assert answer.status_code == 400
    assert field in answer.json()["fields"]


def test_an_instrument_is_one_a_channel_and_versioned(api, scale):
    path = f"stands/{scale['id']}/instruments/"
    meter = {"channel": "current_a", "kind": "watt_meter", "keeps": "maxima", "range_to": 150}
    first = send(api, "post", path, **meter).json()
    assert "±2 %" in first["assumed_words"]
    blind = send(api, "post", path, **{**meter, "range_to": 100})
    assert blind.status_code == 409
    known = send(api, "post", path, **{**meter, "relative_u": 0.004}, version=1).json()
    assert (known["id"], known["assumed_words"]) == (first["id"], "")
    assert stand_of(Stand.objects.get(), DAY).calibration == {"current_a": 0.004}
    wrong = send(api, "post", path, channel="luck", kind="watt_meter")
    assert "channel" in wrong.json()["fields"]


def test_a_stand_is_changed_retired_and_put_back(api, rig):
    path = f"stands/{rig['stand'].pk}/"
    unknown = send(api, "patch", path, repeatability_rel=None, version=1).json()
    assert (unknown["repeatability_rel"], unknown["calibration_rel"]) == (None, 0.008)
    assert send(api, "patch", path, retired=True, version=1).status_code == 409
    assert send(api, "patch", path, retired=True, version=2).json()["retired"]
    assert not send(api, "patch", path, retired=False, version=3).json()["retired"]
    assert Stand.objects.get().history.count() == 4
