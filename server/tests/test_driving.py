"""Packs that are a name, resistances that are assumed, ESCs, and what is changed or retired."""

import pytest

from spindle_server.motors.services import take_in_motor
from spindle_server.rig.models import Esc, Supply


def send(api, method, path, **body):
    return getattr(api, method)(f"/api/v1/{path}", body, format="json")


def test_a_name_is_enough_for_a_pack_and_what_needs_its_cells_is_absent(api, db):
    pack = send(api, "post", "supplies/", name="Old one", kind="pack").json()
    absent = ("nominal_voltage_v", "open_circuit_v", "floor_v", "limit_a", "assumed_ohm")
    assert [pack[name] for name in absent] == [None] * 5
    assert pack["chemistry"] == "lipo"
    known = send(
        api, "patch", f"supplies/{pack['id']}/", cells=4, capacity_mah=1500, rate_c=60, version=1
    ).json()
    assert known["nominal_voltage_v"] == pytest.approx(14.8)
    assert known["floor_v"] == pytest.approx(13.2)
    assert known["limit_a"] == pytest.approx(90.0)
    assert known["assumed_ohm"] == pytest.approx(0.018)
    assert "assumed from 4 cells" in known["assumed_words"]
    measured = send(api, "patch", f"supplies/{pack['id']}/", resistance_ohm=0.012, version=2).json()
    assert (measured["assumed_ohm"], measured["assumed_words"]) == (None, "")


@pytest.mark.parametrize(
    ("chemistry", "full", "floor"),
    [("lipo", 16.8, 13.2), ("lihv", 17.4, 13.2), ("liion", 16.8, 11.2), ("life", 14.4, 10.4)],
)
def test_volts_of_a_pack_are_those_of_its_chemistry(api, db, chemistry, full, floor):
    pack = send(api, "post", "supplies/", name="x", kind="pack", cells=4, chemistry=chemistry)
    assert pack.json()["open_circuit_v"] == pytest.approx(full)
    assert pack.json()["floor_v"] == pytest.approx(floor)


@pytest.mark.parametrize(
    ("nominal", "floor"), [(14.8, 11.84), (16.0, 12.8), (22.2, 17.76), (13.37, 10.7)]
)
def test_the_floor_of_a_supply_has_digits_that_can_be_typed(api, db, nominal, floor):
    psu = send(api, "post", "supplies/", name="x", kind="psu", nominal_voltage_v=nominal)
    assert psu.json()["floor_v"] == floor


def test_a_bench_supply_keeps_nothing_of_a_pack(api, db):
    psu = send(
        api, "post", "supplies/", name="x", kind="psu", nominal_voltage_v=16, cells=4, rate_c=50
    ).json()
    assert (psu["cells"], psu["rate_c"], psu["chemistry"]) == (None, None, "")
    pack = send(api, "post", "supplies/", name="y", kind="pack", cells=4, trip_a=30).json()
    assert (pack["trip_a"], pack["limit_a"]) == (None, None)


def test_a_supply_is_renamed_retired_and_put_back_with_its_history(api, rig):
    pk = rig["supply"].pk
    retired = send(api, "patch", f"supplies/{pk}/", retired=True, version=1).json()
    assert (retired["retired"], retired["version"], retired["trip_a"]) == (True, 2, 55.0)
    stale = send(api, "patch", f"supplies/{pk}/", name="Big one", version=1)
    assert (stale.status_code, stale.json()["code"]) == (409, "changed_meanwhile")
    back = send(api, "patch", f"supplies/{pk}/", retired=False, name=" Big one ", version=2).json()
    assert (back["retired"], back["name"]) == (False, "Big one")
    named = [row.name for row in Supply.objects.get(pk=pk).history.all()]
    assert named == ["Big one", "Supply 16 V", "Supply 16 V"]


def test_a_name_that_another_has_is_refused_on_change_too(api, rig):
    made = send(api, "post", "supplies/", name="Two", kind="pack").json()
    taken = send(api, "patch", f"supplies/{made['id']}/", name="Supply 16 V", version=1)
    assert (taken.status_code, taken.json()["code"]) == (409, "name_taken")
    own = send(api, "patch", f"supplies/{made['id']}/", name="Two", note="left shelf", version=1)
    assert own.status_code == 200


def test_a_supply_without_volts_cannot_be_set_to_none(api, rig):
    answer = send(api, "patch", f"supplies/{rig['supply'].pk}/", nominal_voltage_v=None, version=1)
    assert "nominal_voltage_v" in answer.json()["fields"]


def test_an_esc_by_its_name_and_what_is_found_out_later(api, db):
    esc = send(api, "post", "escs/", name="Tarn 45").json()
    assert (esc["rated_a"], esc["linear"], esc["settings"]) == (None, None, {})
    known = send(
        api,
        "patch",
        f"escs/{esc['id']}/",
        rated_a=45,
        burst_a=55,
        linear=False,
        settings={"timing": "16°"},
        version=1,
    ).json()
    assert (known["linear"], known["settings"]) == (False, {"timing": "16°"})
    assert Esc.objects.get().history.count() == 2
    less = send(api, "patch", f"escs/{esc['id']}/", burst_a=40, version=2)
    assert "burst_a" in less.json()["fields"]
    again = send(api, "post", "escs/", name="Tarn 45")
    assert (again.status_code, again.json()["code"]) == (409, "name_taken")


def test_a_propeller_by_its_diameter_alone(api, db):
    made = send(api, "post", "propellers/", maker="Any", name="T-cut", diameter_in=1.575).json()
    assert (made["pitch_in"], made["blades"]) == (None, None)
    assert made["full_name"] == "Any T-cut 1.575 in"
    twice = send(api, "post", "propellers/", maker="Any", name="T-cut", diameter_in=1.575)
    assert (twice.status_code, twice.json()["code"]) == (409, "propeller_exists")
    known = send(api, "patch", f"propellers/{made['id']}/", blades=4, version=1).json()
    assert known["full_name"] == "Any T-cut 1.575 in, 4 blades"


def test_what_ran_keeps_its_geometry(api, rig, record):
    record()
    pk = rig["propeller"].pk
    refused = send(api, "patch", f"propellers/{pk}/", pitch_in=4.5, version=1)
    assert (refused.status_code, refused.json()["code"]) == (400, "was_run")
    kept = send(api, "patch", f"propellers/{pk}/", retired=True, condition="nicked", version=1)
    assert (kept.status_code, kept.json()["retired"]) == (200, True)


def test_two_propellers_do_not_become_one(api, rig):
    other = send(
        api, "post", "propellers/", maker="Wickett", diameter_in=5.1, pitch_in=4.5, blades=3
    ).json()
    refused = send(api, "patch", f"propellers/{other['id']}/", pitch_in=4.2, version=1)
    assert (refused.status_code, refused.json()["code"]) == (409, "propeller_exists")


def test_what_a_way_of_writing_can_mean_beside_the_motor_in_hand(api, rig):
    small = take_in_motor(
        actor=None,
        maker="Ostrel",
        name="Mite",
        size_code="1103",
        size_basis="stator",
        kv_label_rpm_per_v=8000,
        sample_marks=["A"],
    )
    read = lambda **query: api.get("/api/v1/propellers/readings/", query).json()  # noqa: E731
    both = read(text="2540", motor=small.pk)
    assert [(row["diameter_in"], row["fits"]) for row in both] == [(25.0, False), (2.5, True)]
    # A size off another basis tells no stator.
    can = take_in_motor(
        actor=None,
        maker="Ostrel",
        name="Can",
        size_code="1104",
        size_basis="outer_can",
        kv_label_rpm_per_v=7000,
        sample_marks=["A"],
    )
    assert [row["fits"] for row in read(text="2540", motor=can.pk)] == [None, None]
    assert [row["fits"] for row in read(text="2540")] == [None, None]
    assert read(text="51423")[0]["there"] == "Wickett 5.1x4.2x3"
    assert read(text="5143")[0]["there"] == ""
    assert "write diameter" in read(text="big")["fields"]["text"][0]
    assert [row["fits"] for row in read(text="2540", motor="nan")] == [None, None]
