"""The other pages of Compare over the API: groups of columns, other kinds, one kV, money."""

import csv
import io
from functools import partial

import pytest

from spindle_server.compare import kinds, one_kv
from spindle_server.identification.models import Identified
from spindle_server.match.models import Craft
from spindle_server.motors.models import Weighing
from spindle_server.motors.services import put_claim, take_in_motor
from spindle_server.rig.services import add_propeller
from spindle_server.runs import ran
from spindle_server.runs.models import Run, SummaryFigure


@pytest.fixture
def two(rig, people, record):
    """Two motors on one propeller; the second is thriftier."""
    motor = take_in_motor(
        actor=people["reviewer"],
        maker="Ostrel",
        name="Drift",
        size_code="2206",
        kv_label_rpm_per_v=1900,
        sample_marks=["A"],
    )
    rig["samples"] += list(motor.samples.all())
    record(1.0)
    record(0.9, sample=2)
    return rig["motor"], motor


def get(api, path, **query):
    answer = api.get(f"/api/v1/compare/{path}", query)
    assert answer.status_code == 200, answer.json()
    return answer.json()


def cell(row, name, group=None):
    return next(
        one for one in row["cells"] if one["name"] == name and group in (None, one.get("group"))
    )


def weigh(motor, mass_g):
    Weighing.objects.create(
        sample=motor.samples.first(),
        mass_g=mass_g,
        lead_length_mm=60,
        resolution_g=0.1,
        weighed_on="2026-10-05",
    )


# Groups of columns


def test_conditions_stand_side_by_side(api, two):
    found = get(api, "bench/", also="thrust_gf@600;throttle_pct")
    assert [one["condition"] for one in found["groups"]] == ["full", "thrust_gf", "throttle_pct"]
    assert [one["level"] for one in found["groups"]] == [None, 600.0, 50.0]
    row = found["rows"][0]
    assert cell(row, "power_w", 0)["figure"]["value"] > cell(row, "power_w", 1)["figure"]["value"]
    assert row["levels"] == [None, 600.0, 50.0]
    # The counts are over all groups: thriftier at full, at 600 gf and at half throttle.
    second = found["rows"][1]
    assert second["better"] + second["worse"] > 3
    text = api.get("/api/v1/compare/bench.csv", {"also": "thrust_gf@600"}).content.decode()
    heads = next(csv.reader(io.StringIO(text.lstrip("\ufeff"))))
    assert "Power (W) (full throttle)" in heads
    assert "Power (W) (at 600 gf)" in heads


@pytest.mark.parametrize(
    "also", ["luck", "thrust_gf@x", "thrust_gf@-5", "thrust_gf@nan", "full;full;full;full;full"]
)
def test_groups_that_are_none(api, two, also):
    answer = api.get("/api/v1/compare/bench/", {"also": also})
    assert answer.status_code == 400
    assert "also" in answer.json()["fields"]


def test_each_motor_at_its_own_rating(api, people, two):
    first, second = two
    put_claim(
        actor=people["reviewer"], motor=first, quantity="max_current_a", value=20.0, source="box"
    )
    found = get(api, "bench/", condition="rating")
    rows = {row["motor"]: row for row in found["rows"]}
    assert found["groups"][0]["words"] == "each at its rated current"
    assert (rows[first.pk]["levels"], rows[second.pk]["levels"]) == ([20.0], [None])
    assert cell(rows[first.pk], "thrust_gf")["figure"]["value"] > 0
    missing = cell(rows[second.pk], "thrust_gf")["figure"]
    assert (missing["value"], missing["reason"]) == (None, "it has no level of its own")


def test_the_hover_of_a_craft_swaps_the_motors_own_mass_in(api, people, two):
    first, _ = two
    craft = Craft.objects.create(
        name="Five inch",
        layout="multirotor",
        motors=4,
        cells=4,
        capacity_mah=1300,
        items=[{"name": "the rest", "mass_g": 480.0, "count": 1, "basis": "weighed"}],
    )
    unweighed = get(api, "bench/", condition="hover", craft=craft.pk)
    assert {row["levels"][0] for row in unweighed["rows"]} == {None}
    weigh(first, 30.0)
    found = get(api, "bench/", condition="hover", craft=craft.pk)
    assert found["craft_listed"] == [{"craft": craft.pk, "name": "Five inch"}]
    rows = {row["motor"]: row for row in found["rows"]}
    (level,) = rows[first.pk]["levels"]
    # 480 g and four motors of 30 g, on four motors.
    assert level == pytest.approx(150.0, abs=6.0)
    assert get(api, "bench/", condition="hover", craft=999)["groups"][0]["words"] == (
        "hover of a craft"
    )


def test_motors_shown_to_be_the_same_are_named(api, rig, people, record):
    twin = take_in_motor(
        actor=people["reviewer"],
        maker="Ostrel",
        name="Twin",
        size_code="2206",
        kv_label_rpm_per_v=1900,
        sample_marks=["A"],
    )
    rig["samples"] += list(twin.samples.all())
    rig["stand"].repeatability_rel = 0.0005
    rig["stand"].save()
    record(1.0)
    record(1.0, sample=2)
    # With one sample each, what samples differ by keeps them from being called the same.
    assert get(api, "bench/")["same"] == []


def test_of_a_motors_propellers_the_envelope_names_the_best(api, people, rig, record):
    light = record(0.8)
    rig["propeller"] = add_propeller(
        actor=people["reviewer"], maker="Corran", diameter_in=4.0, pitch_in=3.0, blades=2
    )
    heavy = record(1.3)
    answer = api.get("/api/v1/compare/", {"runs": f"{light.pk},{heavy.pk}", "by": "repeats"}).json()
    (stretch,) = answer["envelope"]
    assert stretch["best"] == [light.pk]
    marks = {row["propeller_name"]: row["marks"] for row in get(api, "bench/")["rows"]}
    assert "its thriftiest propeller" in marks["Wickett 5.1x4.2x3"]


# Other kinds


def no_load(run: Run, kv: float):
    """Make a recorded run into one without a propeller that gave this kV."""
    run.kind, run.propeller = "no_load", None
    run.save()
    SummaryFigure.objects.filter(run=run).delete()
    SummaryFigure.objects.create(
        run=run,
        name="kv_rpm_per_v",
        value=kv,
        u=5.0,
        n=1,
        origin="measured",
        components={"within_run": 5.0},
    )


def test_kv_of_every_motor_against_its_label(api, two):
    first, second = two
    for run, kv in zip(Run.objects.order_by("pk"), (1911.0, 1900.0), strict=True):
        no_load(run, kv)
    found = get(api, "tests/")
    assert found["kinds"] == [{"kind": "no_load", "label": found["kinds"][0]["label"]}]
    rows = {row["motor"]: row for row in found["rows"]}
    assert rows[first.pk]["off_label_pct"]["value"] == pytest.approx(-2.0)
    kv = cell(rows[first.pk], "kv_rpm_per_v")
    assert kv["claimed"] == [{"value": 1950.0, "source": "label"}]
    assert kv["figure"]["value"] == 1911.0
    assert cell(rows[second.pk], "no_load_current_a")["figure"]["reason"]
    held = get(api, "tests/", baseline=rows[second.pk]["key"])
    delta = cell({r["motor"]: r for r in held["rows"]}[first.pk], "kv_rpm_per_v")["delta"]
    assert delta["delta_pct"] == pytest.approx(100 * (1911 / 1900 - 1))
    text = api.get("/api/v1/compare/tests.csv").content.decode()
    assert "1950 (label)" in text


def test_of_a_large_bench_those_with_most_runs_are_shown(api, two, monkeypatch):
    monkeypatch.setattr(kinds, "motors_with_runs", partial(ran.motors_with_runs, most=1))
    for run, kv in zip(Run.objects.order_by("pk"), (1911.0, 1900.0), strict=True):
        no_load(run, kv)
    found = get(api, "tests/")
    assert len(found["rows"]) == 1
    assert found["more"] == 1


def test_only_the_runs_of_the_asked_kind_are_read(api, two, rig):
    runs = list(Run.objects.order_by("pk"))
    for run, kv in zip(runs, (1911.0, 1900.0), strict=True):
        no_load(run, kv)
    Run.objects.filter(pk=runs[1].pk).update(
        kind="soak", propeller=runs[0].propeller_id or rig["propeller"].pk
    )
    found = get(api, "tests/", kind="no_load")
    assert {one["kind"] for one in found["kinds"]} == {"no_load", "soak"}
    assert [row["motor"] for row in found["rows"]] == [two[0].pk]


def test_at_one_kv_asks_as_often_however_many_are_identified(api, two, monkeypatch):
    for motor in two:
        for sample in motor.samples.all():
            Identified.objects.create(sample=sample, kv_rpm_per_v=1900.0, fit=None, why_not="x")
    asked = []
    real = one_kv.samples_known
    monkeypatch.setattr(
        one_kv, "samples_known", lambda rows, learnt: asked.append(len(rows)) or real(rows, learnt)
    )
    # None of them is identified enough: every sample is looked at, all of them in one go.
    assert get(api, "one-kv/")["reason"] == "fewer than two motors are identified"
    assert asked == [3]


def test_an_empty_bench_has_no_tests_and_no_kv(api, db):
    assert get(api, "tests/") == {"kinds": [], "kind": "", "figures": [], "rows": [], "more": 0}
    assert get(api, "one-kv/")["reason"] == "fewer than two motors are identified"
    assert get(api, "mass/")["rows"] == []


# Mass and money


def test_mass_and_money_with_what_is_not_known(api, people, two):
    first, second = two
    weigh(first, 33.0)
    found = get(api, "mass/", baseline=first.pk)
    rows = {row["motor"]: row for row in found["rows"]}
    assert rows[first.pk]["baseline"]
    own = rows[first.pk]
    per_gram = cell(own, "thrust_per_gram")["figure"]
    thrust, mass = (cell(own, name)["figure"] for name in ("max_thrust_gf", "mass_g"))
    assert per_gram["value"] == pytest.approx(thrust["value"] / mass["value"])
    assert per_gram["u"] > 0
    assert cell(own, "price")["figure"]["reason"] == "no price on record"
    assert cell(rows[second.pk], "thrust_per_gram")["figure"]["value"] is None
    assert cell(rows[second.pk], "max_thrust_gf")["delta"]["outcome"] in (
        "equivalent",
        "unresolved",
    )
    assert own["volume_mm3"] is not None
    assert "needs 4 motors" in found["trend_words"]
    text = api.get("/api/v1/compare/mass.csv").content.decode()
    assert "Quillmoor Sable" in text


def test_a_load_that_is_none_is_refused(api, two):
    assert api.get("/api/v1/compare/mass/", {"load": "rubbish"}).status_code == 400
