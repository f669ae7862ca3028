"""The bench's adapters: what is measured of them, and what a fit makes of it."""

import pytest

from spindle_server.rig.models import Adapter

from .intake_steps import measure
from .test_driving import send

COLLET = {
    "name": "Collet",
    "kind": "collet",
    "least_mm": 2.9,
    "most_mm": 3.2,
    "stud_mm": 5.0,
    "free_length_mm": 13.0,
}


def test_a_collet_is_added_changed_retired_and_put_back(api, db):
    made = send(api, "post", "adapters/", **COLLET).json()
    assert (made["grip_mm"], made["nut_mm"]) == (None, None)
    path = f"adapters/{made['id']}/"
    known = send(api, "patch", path, grip_mm=8, nut_mm=5, version=1).json()
    assert (known["grip_mm"], known["version"]) == (8.0, 2)
    stale = send(api, "patch", path, grip_mm=9, version=1)
    assert (stale.status_code, stale.json()["code"]) == (409, "changed_meanwhile")
    assert send(api, "patch", path, retired=True, version=2).json()["retired"] is True
    assert Adapter.objects.get().history.count() == 3
    again = send(api, "post", "adapters/", **COLLET)
    assert (again.status_code, again.json()["code"]) == (409, "name_taken")


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"most_mm": 2.8}, "most_mm"),
        ({"least_mm": None}, "least_mm"),
        ({"stud_mm": None}, "stud_mm"),
        ({"outer_mm": 8.0}, "outer_mm"),
        ({"kind": "ring"}, "inner_mm"),
        ({"name": "  "}, "name"),
        ({"least_mm": "thin"}, "least_mm"),
        ({"nut_mm": -1}, "nut_mm"),
        ({"kind": "glue"}, "kind"),
    ],
)
def test_what_does_not_belong_or_contradicts_is_refused_at_its_field(api, db, change, field):
    answer = send(api, "post", "adapters/", **{**COLLET, **change})
    assert answer.status_code == 400
    assert field in answer.json()["fields"]
    assert not Adapter.objects.exists()


def test_a_collet_of_one_diameter_and_a_ring_without_a_wall(api, db):
    assert send(api, "post", "adapters/", **{**COLLET, "most_mm": 2.9}).status_code == 201
    ring = {"kind": "ring", "name": "R", "inner_mm": 5.0, "outer_mm": 5.0, "height_mm": 3.0}
    assert "outer_mm" in send(api, "post", "adapters/", **ring).json()["fields"]


@pytest.fixture
def fit(api, rig):
    """The fit of the rig's motor, whose shaft is a pin of 3 mm, with a propeller of 5 mm bore."""
    measure(rig["samples"][0], shaft_diameter=3.0, shaft_free_length=9.0)
    propeller = rig["propeller"]
    send(
        api,
        "patch",
        f"propellers/{propeller.pk}/",
        bore_mm=5.0,
        hub_thickness_mm=6.0,
        version=propeller.version,
    )
    return lambda: api.get(f"/api/v1/motors/{rig['motor'].pk}/fit/").json()


def test_a_fit_tries_the_adapters_of_the_bench_and_not_those_retired(api, fit):
    assert fit()["propellers"][0]["outcome"] == "impossible"
    made = send(api, "post", "adapters/", **{**COLLET, "grip_mm": 8.0, "nut_mm": 5.0}).json()
    found = fit()
    row = found["propellers"][0]
    assert (found["adapters_at_hand"], row["adapter"], row["outcome"]) == (1, "Collet", "good")
    assert row["on"]["diameter_mm"] == 5.0
    send(api, "patch", f"adapters/{made['id']}/", retired=True, version=1)
    assert (fit()["adapters_at_hand"], fit()["propellers"][0]["adapter"]) == (0, "")


def test_a_ring_of_the_bench_serves_as_one_of_the_box(api, fit):
    send(
        api,
        "post",
        "adapters/",
        name="3 to 5",
        kind="ring",
        inner_mm=3.01,
        outer_mm=4.99,
        height_mm=5.0,
    )
    row = fit()["propellers"][0]
    assert [ring["outer_mm"] for ring in row["rings"]] == [4.99]
    assert (row["outcome"], row["on"]["diameter_mm"]) == ("good", 3.0)


def test_a_shaft_on_the_mounting_side_is_told_with_what_the_arm_takes(api, rig, fit):
    measure(rig["samples"][0], shaft_side="base")
    send(api, "post", "adapters/", **{**COLLET, "grip_mm": 5.0, "nut_mm": 5.0})
    found = fit()
    row = found["propellers"][0]
    assert found["shaft"]["side"] == "base"
    # 9 mm less an arm of 4 mm: the collet still has its 5 mm.
    assert (row["adapter"], row["outcome"]) == ("Collet", "caution")
    assert "5.0 mm are left behind an arm of 4 mm" in row["findings"][0]["message"]
    thick = api.get(f"/api/v1/motors/{rig['motor'].pk}/fit/?arm_thickness_mm=9").json()
    assert thick["propellers"][0]["outcome"] == "impossible"
    assert thick["propellers"][0]["on"] is None
