"""Several packs as one supply: what follows from them, and what is refused."""

import pytest

from spindle_server.rig.models import Supply

from .test_driving import send


@pytest.fixture
def packs(api, db):
    known = {"kind": "pack", "cells": 3, "rate_c": 50}
    first = send(api, "post", "supplies/", name="A", capacity_mah=1300, **known).json()
    second = send(api, "post", "supplies/", name="B", capacity_mah=2600, **known).json()
    return first, second


def join(api, way, *rows, **more):
    body = {"name": f"{way} of {len(rows)}", "kind": "pack", "joined": way, **more}
    return send(api, "post", "supplies/", packs=[row["id"] for row in rows], **body)


def test_in_series_cells_add_and_the_smallest_limits(api, packs):
    whole = join(api, "series", *packs).json()
    assert (whole["cells"], whole["capacity_mah"]) == (6, 1300.0)
    assert whole["limit_a"] == pytest.approx(65.0)
    assert whole["limited_by"] == "A"
    assert whole["floor_v"] == pytest.approx(19.8)
    assert [one["name"] for one in whole["packs"]] == ["A", "B"]
    # Nobody measured a resistance: it is assumed of the whole, and said.
    assert whole["resistance_ohm"] is None
    assert "assumed from 6 cells of 1300 mAh" in whole["assumed_words"]


def test_in_parallel_they_share_by_their_resistance(api, packs):
    for row, ohm in zip(packs, (0.012, 0.012), strict=True):
        send(api, "patch", f"supplies/{row['id']}/", resistance_ohm=ohm, version=1)
    whole = join(api, "parallel", *packs).json()
    assert (whole["cells"], whole["capacity_mah"]) == (3, 3900.0)
    assert whole["resistance_ohm"] == pytest.approx(0.006)
    # Half of the current each: the small one (65 A) is at its limit at 130 A of the whole.
    assert whole["limit_a"] == pytest.approx(130.0)
    assert whole["limited_by"] == "A"


def test_a_limit_that_one_pack_does_not_say_is_nobodys(api, packs):
    silent = send(
        api, "post", "supplies/", name="C", kind="pack", cells=3, capacity_mah=1300
    ).json()
    whole = join(api, "series", packs[0], silent).json()
    assert (whole["limit_a"], whole["limited_by"]) == (None, "")


@pytest.mark.parametrize(
    ("way", "change", "said"),
    [
        ("parallel", {"cells": 4}, "Packs of different cells must not be connected in parallel"),
        ("series", {"chemistry": "liion"}, "different chemistry"),
        ("series", {"cells": None}, "Of B the cells or the capacity are not known"),
    ],
)
def test_what_must_not_be_joined_is_refused_beside_the_packs(api, packs, way, change, said):
    send(api, "patch", f"supplies/{packs[1]['id']}/", version=1, **change)
    answer = join(api, way, *packs)
    assert answer.status_code == 400
    assert said in answer.json()["fields"]["packs"][0]
    assert Supply.objects.count() == 2


def test_what_is_no_pack_or_there_twice_or_joined_itself_is_refused(api, packs):
    psu = send(api, "post", "supplies/", name="P", kind="psu", nominal_voltage_v=16).json()
    assert "packs" in join(api, "series", packs[0], psu).json()["fields"]
    assert "packs" in join(api, "series", packs[0], packs[0]).json()["fields"]
    assert "packs" in join(api, "series", packs[0]).json()["fields"]
    assert "packs" in join(api, "series", packs[0], {"id": 99_999}).json()["fields"]
    whole = join(api, "series", *packs).json()
    assert "is joined itself" in join(api, "parallel", whole, packs[0], name="x").json()["message"]
    without = send(api, "post", "supplies/", name="y", kind="pack", packs=[packs[0]["id"]])
    assert "joined" in without.json()["fields"]
    bench = send(
        api, "post", "supplies/", name="z", kind="psu", nominal_voltage_v=16, joined="series"
    )
    assert "joined" in bench.json()["fields"]


@pytest.mark.parametrize("typed", [{"cells": 8}, {"resistance_ohm": 0.01}, {"rate_c": 90}])
def test_what_follows_is_not_typed_neither_now_nor_later(api, packs, typed):
    assert next(iter(typed)) in join(api, "series", *packs, **typed).json()["fields"]
    whole = join(api, "series", *packs).json()
    late = send(api, "patch", f"supplies/{whole['id']}/", version=1, **typed)
    assert (late.status_code, list(late.json()["fields"])) == (400, list(typed))
    packs_again = send(api, "patch", f"supplies/{whole['id']}/", version=1, packs=[1, 2])
    assert packs_again.status_code == 400


def test_a_change_of_a_pack_reaches_what_it_is_joined_into(api, packs):
    whole = join(api, "series", *packs).json()
    send(api, "patch", f"supplies/{packs[0]['id']}/", cells=4, version=1)
    row = Supply.objects.get(pk=whole["id"])
    assert (row.cells, row.nominal_voltage_v, row.version) == (7, pytest.approx(25.9), 2)
    # Words do not: its version stays.
    send(api, "patch", f"supplies/{packs[0]['id']}/", note="swollen?", version=2)
    assert Supply.objects.get(pk=whole["id"]).version == 2


def test_a_pack_cannot_lose_what_the_whole_needs_until_that_is_retired(api, packs):
    whole = join(api, "series", *packs).json()
    path = f"supplies/{packs[0]['id']}/"
    lost = send(api, "patch", path, cells=None, version=1)
    assert lost.status_code == 400
    assert "Retire that one first" in lost.json()["message"]
    assert Supply.objects.get(pk=packs[0]["id"]).cells == 3
    retired = send(api, "patch", f"supplies/{whole['id']}/", retired=True, version=1)
    assert retired.json()["retired"] is True
    assert send(api, "patch", path, cells=None, version=1).status_code == 200
    # It comes back only when it can be reckoned again, and then as its packs are now.
    back = send(api, "patch", f"supplies/{whole['id']}/", retired=False, version=2)
    assert back.status_code == 400
    send(api, "patch", path, cells=4, version=2)
    back = send(api, "patch", f"supplies/{whole['id']}/", retired=False, version=2)
    assert back.json()["cells"] == 7
