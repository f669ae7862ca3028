"""A model by its samples: no surer than samples are alike."""

import math
from dataclasses import replace

import pytest
from known_things import exactly, motor, propeller, supply

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Measured
from spindle_core.planning.at_one_kv import at_one_kv
from spindle_core.planning.known import SAMPLE_SPREAD, Foundation
from spindle_core.planning.model_motor import model_motor


def test_one_sample_stands_for_its_model_with_what_samples_usually_differ_by():
    found = model_motor("m", [motor(kv=1900.0, u_kv=5.0)])
    assert found.kv_rpm_per_v.value == 1900.0
    assert found.kv_rpm_per_v.u == pytest.approx(math.hypot(5.0, 1900.0 * SAMPLE_SPREAD["kv"]))
    assert found.kv_rpm_per_v.assumed
    assert found.words == "known"


def test_three_that_agree_are_surer_than_one_and_not_certain():
    found = model_motor("m", [motor(kv=1900.0) for _ in range(3)])
    one = model_motor("m", [motor(kv=1900.0)])
    assert 0 < found.kv_rpm_per_v.u < one.kv_rpm_per_v.u / math.sqrt(3) + 1e-9
    assert not found.kv_rpm_per_v.assumed
    assert (found.kv_rpm_per_v.n, found.words) == (3, "mean of 3 samples")


def test_samples_that_differ_by_more_than_usual_say_so():
    apart = model_motor("m", [motor(kv=1800.0), motor(kv=1900.0), motor(kv=2000.0)])
    assert apart.kv_rpm_per_v.value == pytest.approx(1900.0)
    shown = 100.0 / math.sqrt(3)
    assert 0.6 * shown < apart.kv_rpm_per_v.u < 1.2 * shown


def test_what_samples_share_does_not_shrink_with_their_number():
    gain = {"gain@stand": 10.0}
    samples = [replace(motor(), kv_rpm_per_v=Measured(1900.0, gain)) for _ in range(4)]
    assert model_motor("m", samples).kv_rpm_per_v.components["gain@stand"] == pytest.approx(10.0)


def test_the_weakest_sample_names_the_basis():
    guessed = replace(motor(), basis=Foundation.GUESSED)
    assert model_motor("m", [motor(), guessed]).basis is Foundation.GUESSED


@pytest.mark.parametrize("wrong", [[], [motor(kv=-1.0)], [motor(ohm=0.0)]])
def test_what_is_no_motor_is_refused(wrong):
    with pytest.raises(QuantityError):
        model_motor("m", wrong)


def test_two_models_of_one_sample_each_are_not_told_apart_by_what_samples_differ_by():
    # 1 % of kV between two samples says nothing of their models.
    a, b = (model_motor(n, [motor(kv=kv)]) for n, kv in (("a", 1900.0), ("b", 1919.0)))
    split = at_one_kv({"a": a, "b": b}, "a", 1900.0, propeller(), supply(16.0), exactly(1.225))
    total = split["b"].total_pct
    assert abs(total.value) < 2.0 * total.u
    bare = at_one_kv(
        {"a": motor(kv=1900.0), "b": motor(kv=1919.0)},
        "a",
        1900.0,
        propeller(),
        supply(16.0),
        exactly(1.225),
    )["b"].total_pct
    assert bare.u < 0.6 * total.u
