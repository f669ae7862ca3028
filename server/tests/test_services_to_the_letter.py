"""Services at their edges: what a change of one word or number in them would do."""

from types import SimpleNamespace

import pytest

from spindle_core.figures.measured import Absent
from spindle_server.motor_file.fit import carrier_of
from spindle_server.motor_file.masses import figure_json
from spindle_server.motors.models import Parcel
from spindle_server.motors.parcels import parcel_price

from .intake_steps import file_of, send, weigh


def test_a_cell_says_how_far_it_is_from_the_first_run(api, record):
    runs = [record(), record(1.1, sample=1)]
    found = api.get("/api/v1/compare/", {"runs": ",".join(str(run.pk) for run in runs)}).json()
    cells = [row["cells"] for row in found["rows"] if row["name"] == "current_a"]
    reached = [pair for pair in cells if all(cell["value"] is not None for cell in pair)]
    assert reached
    for first, second in reached:
        assert (first["delta"], first["delta_pct"]) == (None, None)
        assert second["delta_pct"] == pytest.approx(10.0, abs=1.5)
        assert second["delta"] == pytest.approx(second["value"] - first["value"])


def known(**answers):
    return SimpleNamespace(
        number=lambda key, sample: answers.get(key), choice=lambda key, sample: answers.get(key, "")
    )


def _shaft_of(known, arm_mm=4.0):
    return carrier_of(known, None, arm_mm).shaft


def test_a_shaft_without_nut_and_washer_keeps_its_whole_length():
    bare = _shaft_of(known(shaft_diameter=5.0, shaft_free_length=14.0))
    assert (bare.nut_mm, bare.washer_mm) == (0.0, 0.0)
    both = _shaft_of(
        known(shaft_diameter=5.0, shaft_free_length=14.0, nut_height=4.0, washer_height=1.0)
    )
    assert (both.nut_mm, both.washer_mm) == (4.0, 1.0)
    # Two screws hold the propeller: a nut that was measured takes no room.
    screws = known(
        shaft_diameter=5.0, shaft_free_length=14.0, nut_height=4.0, prop_hold="two_screws"
    )
    assert _shaft_of(screws).nut_mm == 0.0
    for half in (known(shaft_free_length=14.0), known(shaft_diameter=5.0)):
        assert carrier_of(half, None, 4.0).missing == "Measure the shaft and its free length."
    # A shaft that ends flush is known: nothing sticks out.
    flush = carrier_of(known(shaft_diameter=5.0, shaft_free_length=0.0), None, 4.0)
    assert (flush.shaft, flush.missing) == (None, "")


def test_a_shaft_on_the_mounting_side_is_shorter_by_the_arm_and_has_no_screws_beside_it():
    answers = {"shaft_diameter": 5.0, "shaft_free_length": 14.0, "prop_hole_circle": 12.0}
    below = carrier_of(known(shaft_side="base", **answers), None, 4.0)
    assert (below.shaft.free_length_mm, below.seat.hole_circle_mm) == (10.0, None)
    assert [one.code for one in below.findings] == ["below_the_mount"]
    both = carrier_of(known(shaft_side="both", **answers), None, 4.0)
    assert (both.shaft.free_length_mm, both.seat.hole_circle_mm) == (14.0, 12.0)
    assert both.findings == []


def test_what_is_absent_is_assumed_by_nobody():
    assert figure_json(Absent("not_weighed", "nobody weighed it")) == {
        "value": None,
        "u": None,
        "n": None,
        "origin": "",
        "reason": "nobody weighed it",
        "assumed": False,
    }


def test_leads_that_were_not_shortened_took_nothing(api, rig):
    sample = rig["samples"][0]
    weigh(api, sample, 30.0, lead_length_mm=60)
    for length, kind in ((60, "leads_cut"), (80, "leads_cut"), (40, "connectors_on")):
        send(
            api,
            "post",
            f"samples/{sample.pk}/preparations/",
            kind=kind,
            lead_length_mm=length,
            done_on="2026-10-02",
        )
    row = file_of(api, rig["motor"])["masses"]["samples"][0]
    assert not any("took" in text for text in row["remarks"])


@pytest.mark.parametrize(("inner", "status"), [(5.0, 400), (5.1, 400), (4.9, 201)])
def test_an_inside_as_wide_as_the_outside_is_none(api, rig, inner, status):
    parcel = rig["motor"].parcels.first() or Parcel.objects.create(motor=rig["motor"])
    answer = send(
        api,
        "post",
        f"parcels/{parcel.pk}/parts/",
        kind="adapter",
        count=1,
        inner_mm=inner,
        outer_mm=5.0,
    )
    assert answer.status_code == status


@pytest.mark.parametrize(
    ("facts", "guessed", "said"),
    [
        ({"price_status": "guessed"}, True, "shipping not known"),
        ({"price_status": "known", "shipping": "free"}, False, "free shipping"),
        ({"shipping": "extra"}, False, "shipping extra, amount not noted"),
        ({"shipping": "extra", "shipping_amount": 4.0}, False, "with its share of the shipping"),
    ],
)
def test_a_price_says_what_it_is_made_of(facts, guessed, said):
    parcel = Parcel(price_amount=80.0, price_currency="EUR", set_size=4, **facts)
    price = parcel_price(parcel)
    assert price["guessed"] is guessed
    assert said in price["basis"]


def test_a_second_first_answer_is_refused_where_one_word_of_it_differs(api, rig):
    path = f"samples/{rig['samples'][0].pk}/teardown/"
    first = {"attribute": "magnet_shape", "status": "observed", "choice": "flat", "note": "seen"}
    assert send(api, "put", path, **first).status_code == 200
    assert send(api, "put", path, **first).status_code == 200
    other = send(api, "put", path, **{**first, "note": "felt"})
    assert (other.status_code, other.json()["code"]) == (409, "changed_meanwhile")


def test_distances_of_peers_have_two_decimals(api, rig):
    for name, size in (("Reed", "2106"), ("Sedge", "2106.5")):
        send(
            api,
            "post",
            "motors/",
            maker="Tarnwick",
            name=name,
            size_code=size,
            kv_label_rpm_per_v=1871,
            sample_marks=["A"],
        )
    peers = file_of(api, rig["motor"])["peers"]
    distances = [peer["distance"] for peer in peers]
    assert distances
    assert any(round(value, 1) != value for value in distances)
    assert all(round(value, 2) == value for value in distances)
