"""A motor on each of its propellers, from its runs."""

import pytest

from spindle_server.rig.services import add_propeller
from spindle_server.runs.models import Run
from spindle_server.runs.services import review_run


def asked(api, rig):
    answer = api.get(f"/api/v1/motors/{rig['motor'].pk}/performance/")
    assert answer.status_code == 200
    return answer.json()


def test_a_motor_without_a_run_has_no_performance(api, rig):
    assert asked(api, rig) == {"common_thrust_gf": None, "propellers": [], "heat": []}


def test_like_runs_are_one_row_at_one_thrust(api, rig, record, people):
    record(1.0)
    record(1.02)
    other = add_propeller(
        actor=people["reviewer"], maker="Corran", diameter_in=4.0, pitch_in=3.0, blades=2
    )
    rig["propeller"] = other
    record(0.9)
    found = asked(api, rig)
    assert [row["propeller"] for row in found["propellers"]] == [
        "Corran 4x3x2",
        "Wickett 5.1x4.2x3",
    ]
    corran, wickett = found["propellers"]
    assert (len(corran["runs"]), len(wickett["runs"])) == (1, 2)
    assert wickett["nominal_voltage_v"] == 16.0
    assert wickett["largest_thrust_gf"]["value"] == pytest.approx(1200, rel=0.01)
    # One run carries what a run of this stand scatters by: 0.5 % at least.
    assert corran["largest_thrust_gf"]["u"] >= 0.005 * 1190
    assert 0 < found["common_thrust_gf"] <= 720
    # 12 gf and 0.3 A per percent at 16 V: 2.5 gf/W, a ninth more for the lighter one.
    assert wickett["efficiency_g_per_w"]["value"] == pytest.approx(2.5 / 1.01, rel=0.02)
    assert corran["efficiency_g_per_w"]["value"] == pytest.approx(2.5 / 0.9, rel=0.02)
    assert len(corran["curve"]["thrust_gf"]) == len(corran["curve"]["efficiency_g_per_w"]) > 10


def test_a_rejected_run_and_one_without_figures_do_not_count(api, rig, record, people):
    kept, bad, empty = record(1.0), record(3.0), record(1.0)
    review_run(
        actor=people["reviewer"],
        run=bad,
        review="rejected",
        reason="prop slipped",
        base=bad.version,
    )
    empty.reduction.result, empty.reduction.error = None, "It could not be reduced."
    empty.reduction.save()
    Run.objects.filter(pk=kept.pk).update(supply=None, nominal_voltage_v=None)
    (row,) = asked(api, rig)["propellers"]
    assert (row["runs"], row["supply"], row["nominal_voltage_v"]) == ([kept.pk], "", None)


def test_its_queries_do_not_grow_with_its_runs(api, rig, record, django_assert_max_num_queries):
    for _ in range(2):
        record(1.0)
    with django_assert_max_num_queries(6):
        asked(api, rig)
    for _ in range(4):
        record(1.0)
    with django_assert_max_num_queries(6):
        assert len(asked(api, rig)["propellers"][0]["runs"]) == 4
