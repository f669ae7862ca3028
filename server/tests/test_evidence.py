"""Claims held against measurements, peers, open points: figures that people will quote."""

import datetime
import math

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from spindle_core.figures.measured import Absent, Measured
from spindle_core.intake.peers import peers
from spindle_server.board.selectors import board
from spindle_server.demo.no_load_runs import bare_shaft
from spindle_server.demo.stand_logs import recorded_file
from spindle_server.motor_file.evidence import against_claims, measured_figures
from spindle_server.motor_file.neighbours import nearest, traits_of
from spindle_server.motor_file.open_points import OpenPoints
from spindle_server.motors.models import MotorModel
from spindle_server.motors.services import add_sample, put_claim, take_in_motor
from spindle_server.motors.weighing import add_weighing
from spindle_server.runs.models import Run
from spindle_server.runs.services import import_log, review_run
from spindle_server.teardown.services import record_observation


@pytest.fixture
def no_load(rig, people):
    """Imports a no-load log of a sample, from the simulated stand."""

    def make(sample=0, *, stand=True):
        chosen = rig["samples"][sample]
        return import_log(
            actor=people["reviewer"],
            name=f"no-load-{sample}.csv",
            data=recorded_file(bare_shaft(chosen, rig["supply"])),
            sample=chosen,
            supply=rig["supply"],
            stand=rig["stand"] if stand else None,
        )

    return make


def figures(rig):
    return measured_figures(rig["motor"], [])


def test_kv_is_the_mean_of_samples_with_the_stands_calibration(rig, no_load):
    runs = [no_load(0), no_load(1)]
    found = figures(rig)["kv_rpm_per_v"]
    each = [run.reduction.result["summary"]["kv_rpm_per_v"]["value"] for run in runs]
    raw = [run.reduction.result["summary"]["kv_raw_rpm_per_v"]["value"] for run in runs]
    assert sum(each) > sum(raw)
    assert found.figure.value == pytest.approx(sum(each) / 2)
    assert found.rests_on == "2 samples, 2 runs, corrected for I·R with an assumed R"
    # Nobody declared volt meter and tachometer: 1 % and 0.1 % are assumed, and do not shrink.
    assumed = math.hypot(0.01, 0.001) / math.sqrt(3) * found.figure.value
    assert found.figure.assumed
    assert found.figure.component("assumed_calibration") == pytest.approx(assumed, rel=0.01)
    assert found.figure.u == pytest.approx(
        math.hypot(
            assumed, abs(each[0] - each[1]) / 2, found.figure.component("assumed_resistance")
        ),
        rel=0.05,
    )
    (row,) = against_claims(rig["motor"], figures(rig))
    assert row["said"] == 1950
    assert row["deviation_pct"]["value"] == pytest.approx(
        100 * (found.figure.value / 1950 - 1), abs=1e-9
    )


def test_a_run_of_no_stand_keeps_its_assumed_accuracy(rig, no_load):
    no_load(0, stand=False)
    no_load(1, stand=False)
    found = figures(rig)["kv_rpm_per_v"].figure
    assert found.component("assumed_calibration") == pytest.approx(
        math.hypot(0.01, 0.001) / math.sqrt(3) * found.value, rel=0.01
    )


def test_thrust_holds_its_calibration_once(rig, record):
    run = record()
    stored = run.reduction.result["summary"]["max_thrust_gf"]
    found = figures(rig)["max_thrust_gf"].figure
    assert found.u == pytest.approx(stored["u"])
    assert found.component("calibration") == pytest.approx(
        rig["stand"].calibration_rel * found.value
    )


def test_a_rating_is_no_prediction(rig, record):
    """A motor that was run to 60 % of its rated current does not differ from it by −40 %."""
    record()
    top = figures(rig)["max_current_a"].figure
    rated = round(top.value / 0.6, 1)
    put_claim(actor=None, motor=rig["motor"], quantity="max_current_a", value=rated, source="box")
    row = next(
        row
        for row in against_claims(rig["motor"], figures(rig))
        if row["quantity"] == "max_current_a"
    )
    assert row["reached_pct"]["value"] == pytest.approx(60.0, abs=0.5)
    assert row["deviation_pct"]["value"] is None
    assert row["resolved"] is False


def test_a_rejected_run_does_not_count(rig, record, people):
    record(1.0)
    second = record(1.2)
    before = figures(rig)["max_current_a"]
    assert before.rests_on == "highest of 2 runs"
    review_run(
        actor=people["reviewer"], run=second, review="rejected", reason="prop slipped", base=1
    )
    after = figures(rig)["max_current_a"]
    assert after.rests_on == "highest of 1 run"
    assert after.figure.value < before.figure.value


def test_what_was_not_measured_says_why(rig):
    found = figures(rig)
    assert found["kv_rpm_per_v"].figure == Absent("not_measured", "no run without a propeller")
    assert found["mass_g"].figure.note == "no sample was weighed"


def test_samples_that_differ_widen_the_mean(rig):
    weighed = lambda *masses: [Measured(mass, {"u": 0.02}) for mass in masses]  # noqa: E731
    same = measured_figures(rig["motor"], weighed(25.0, 25.0))
    apart = measured_figures(rig["motor"], weighed(24.5, 25.5))
    assert same["mass_g"].figure.u == pytest.approx(0.02 / math.sqrt(2))
    assert apart["mass_g"].figure.u == pytest.approx(0.5)
    assert apart["mass_g"].figure.n == 2


def test_a_no_load_run_needs_no_propeller_and_others_do(api, rig, no_load, log_bytes):
    run = no_load(0)
    assert run.propeller is None
    listed = api.get(f"/api/v1/runs/{run.pk}/").json()
    assert listed["propeller_name"] == "no propeller"
    assert listed["propeller"] is None
    log = api.get(f"/api/v1/runs/{run.pk}/bench-log.csv").content.decode()
    assert "# propeller:" not in log
    steps = {"file": SimpleUploadedFile("steps.csv", log_bytes), "sample": rig["samples"][0].pk}
    refused = api.post("/api/v1/imports/", steps)
    assert refused.status_code == 400
    assert "propeller" in refused.json()["fields"]
    assert Run.objects.count() == 1


# Peers


@pytest.mark.parametrize("kv", [900.0, 1900.0, 2600.0])
def test_peers_found_by_the_database_are_those_of_the_whole_bench(db, kv):
    """The filter on kV leaves none out that the distance would let in."""
    for index in range(40):
        take_in_motor(
            actor=None,
            maker="Ostrel",
            name=f"D{index}",
            size_code=f"2{index % 4 + 1}0{index % 3 + 5}",
            kv_label_rpm_per_v=700 + 60 * index,
            price_amount=12 + index / 2,
            price_currency="EUR",
        )
    traits = {"stator_volume_mm3": 2281.0, "kv_rpm_per_v": kv, "price": 20.0}
    whole = {
        str(motor.pk): traits_of(
            motor.size_code,
            motor.size_basis,
            motor.kv_label_rpm_per_v,
            None,
            motor.parcels.get().price_amount,
        )
        for motor in MotorModel.objects.all()
    }
    expected = [int(peer.name) for peer in peers(traits, whole)]
    assert [row["motor"] for row in nearest(traits, currency="EUR")] == expected


def test_a_motor_without_kv_has_peers_by_size_and_mass(db):
    for name, mass in (("Light", 20.0), ("Near", 30.0)):
        motor = take_in_motor(actor=None, maker="Ostrel", name=name, size_code="2206")
        put_claim(actor=None, motor=motor, quantity="mass_g", value=mass, source="box")
    found = nearest({"stator_volume_mm3": 2281.0, "mass_g": 31.0})
    assert [row["full_name"] for row in found] == ["Ostrel Near 2206"]
    assert found[0]["compared"] == ["stator_volume_mm3", "mass_g"]


# Open points


def gaps(motor):
    points = OpenPoints(motor.pk)
    points.look_closer([motor.pk])
    return points.gaps(motor.pk, motor.samples.count())


def test_gaps_close_one_after_the_other(rig):
    motor, (first, second) = rig["motor"], rig["samples"]
    assert "No sample was weighed" in gaps(motor)
    on = datetime.date(2026, 10, 1)
    weigh = {"mass_g": 25.0, "resolution_g": 0.01, "weighed_on": on}
    add_weighing(actor=None, sample=first, **weigh)
    assert "Only one sample weighed" in gaps(motor)
    add_weighing(actor=None, sample=second, **weigh)
    for quantity, value in (
        ("max_current_a", 26),
        ("max_power_w", 420),
        ("cells_max", 4),
        ("mass_g", 24.8),
    ):
        put_claim(actor=None, motor=motor, quantity=quantity, value=value, source="box")
    assert gaps(motor) == []


def test_one_sample_is_a_gap_of_its_own(db):
    motor = take_in_motor(actor=None, maker="Ostrel", name="Solo", size_code="2206")
    assert any("Only one sample" in gap for gap in gaps(motor))
    add_sample(actor=None, motor=motor, mark="B")
    assert not any("Only one sample:" in gap for gap in gaps(motor))


def test_the_board_says_the_same_as_the_file_and_is_searched_by_words(rig, api):
    take_in_motor(
        actor=None, maker="Hollin", name="Pale", size_code="2807", kv_label_rpm_per_v=1250
    )
    record_observation(
        actor=None,
        sample=rig["samples"][0],
        attribute="free_spin",
        status="observed",
        choice="rubs",
    )
    rows = {row["id"]: row for row in board()["motors"]}
    file = api.get(f"/api/v1/motors/{rig['motor'].pk}/").json()
    assert [f"{gap}." for gap in rows[rig["motor"].pk]["gaps"]] == file["open_points"]
    assert rows[rig["motor"].pk]["next_act"] == "Settle the fault before it spins"
    found = api.get("/api/v1/board/?search=1250 holl").json()
    assert [row["full_name"] for row in found["motors"]] == ["Hollin Pale 2807 1250"]
    assert found["motor_count"] == 1
    assert board(most=1)["motor_count"] == 2
    assert len(board(most=1)["motors"]) == 1
    held = api.get(f"/api/v1/board/?search=pale&in_hand={rig['motor'].pk}").json()["in_hand"]
    assert (held["full_name"], held["observations"]) == ("Quillmoor Sable 2105.5 1950", 1)
    assert api.get("/api/v1/board/?in_hand=x").json()["in_hand"] is None


def test_a_fault_taken_over_by_eye_is_a_fault_here_too(rig):
    first, second = rig["samples"]
    record_observation(
        actor=None, sample=first, attribute="crash_marks", status="observed", choice="yes"
    )
    record_observation(
        actor=None, sample=second, attribute="crash_marks", status="same_as", reference=first
    )
    faults = OpenPoints(rig["motor"].pk).faults[rig["motor"].pk]
    assert faults == [
        "Sample A: marks of a crash or of tools",
        "Sample B: marks of a crash or of tools",
    ]


def test_peers_are_compared_by_the_mass_that_was_weighed(rig):
    """A box that claims 20 g of a motor that weighs 30 g: it is a peer of a motor of 31 g."""
    motor, sample = rig["motor"], rig["samples"][0]
    put_claim(actor=None, motor=motor, quantity="mass_g", value=20.0, source="box")
    traits = {"kv_rpm_per_v": motor.kv_label_rpm_per_v, "mass_g": 31.0}
    (claimed,) = nearest(traits) or [{"mass_weighed": False, "traits": {"mass_g": 20.0}}]
    assert not claimed["mass_weighed"]
    for mass, nut in ((30.2, False), (29.8, False), (33.0, True)):
        add_weighing(
            actor=None,
            sample=sample,
            mass_g=mass,
            resolution_g=0.01,
            nut_on=nut,
            connectors_on=False,
            lead_length_mm=60.0,
            weighed_on=datetime.date(2026, 10, 1),
        )
    (weighed,) = nearest(traits)
    assert weighed["mass_weighed"]
    assert weighed["traits"]["mass_g"] == pytest.approx(30.0)
