"""How a motor warms, from its soaks."""

import math

import pytest

from spindle_core.figures.measured import Absent, Measured
from spindle_core.identification.heat import HEAT, USUAL_SCATTER, heat_figures


def soak(value, u=0.2, **more):
    return {"rise_k_per_kj": Measured(value, {"energy": u}), **more}


def test_without_a_soak_everything_is_absent_and_says_so():
    found = heat_figures([])
    assert tuple(found) == HEAT
    assert all(isinstance(one, Absent) and one.reason == "no_soak" for one in found.values())


def test_one_soak_is_not_believed_to_its_own_last_digit():
    figure = heat_figures([soak(10.0)])["rise_k_per_kj"]
    assert figure.n == 1
    assert figure.value == 10.0
    assert figure.u == pytest.approx(math.hypot(0.2, 10.0 * USUAL_SCATTER))
    assert "assumed_soak_scatter" in figure.components


def test_two_that_differ_by_more_than_usual_count_by_what_they_show():
    figure = heat_figures([soak(8.0, 0.0), soak(12.0, 0.0)])["rise_k_per_kj"]
    assert (figure.value, figure.n) == (10.0, 2)
    assert figure.u == pytest.approx(math.sqrt(8.0) / math.sqrt(2))


def test_two_that_agree_by_luck_keep_the_usual_scatter():
    figure = heat_figures([soak(10.0, 0.0), soak(10.0, 0.0)])["rise_k_per_kj"]
    assert figure.u == pytest.approx(10.0 * USUAL_SCATTER / math.sqrt(2))


def test_three_show_their_own():
    figure = heat_figures([soak(9.0, 0.0), soak(10.0, 0.0), soak(11.0, 0.0)])["rise_k_per_kj"]
    assert figure.u == pytest.approx(1.0 / math.sqrt(3))
    assert "assumed_soak_scatter" not in figure.components


def test_what_all_share_does_not_shrink():
    figures = [soak(10.0, 0.0) for _ in range(4)]
    shared = [{"rise_k_per_kj": Measured(10.0, {"gain@stand": 0.5})} for _ in range(4)]
    assert heat_figures(figures)["rise_k_per_kj"].u == pytest.approx(0.0)
    assert heat_figures(shared)["rise_k_per_kj"].u == pytest.approx(0.5)


def test_what_no_soak_tells_is_absent_with_its_reason_and_the_rest_is_there():
    missing = {"case_k_per_w": Absent("loss_unknown", "needs torque and speed")}
    found = heat_figures([soak(10.0, **missing), soak(11.0)])
    assert found["case_k_per_w"].reason == "loss_unknown"
    assert found["case_time_constant_s"].reason == "not_told"
    assert found["rise_k_per_kj"].n == 2


@pytest.mark.parametrize("value", [0.0, -3.0])
def test_a_case_that_cooled_under_load_is_no_heat_figure(value):
    assert isinstance(heat_figures([soak(value)])["rise_k_per_kj"], Absent)
