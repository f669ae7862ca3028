"""Whose label a measured kV belongs to."""

from spindle_core.figures.measured import Measured
from spindle_core.planning.mix_up import mixed_up

PALE = {"Pale 1480": 1480.0}


def kv(value, u=5.0):
    return Measured(value, {"fit": u})


def test_a_kv_nearer_to_the_other_wind_asks():
    assert mixed_up(kv(1472.0), 1250.0, PALE) == "Pale 1480"
    assert mixed_up(kv(1250.0), 1480.0, {"Pale 1250": 1250.0, "Pale 900": 900.0}) == "Pale 1250"


def test_a_label_that_is_merely_optimistic_does_not():
    assert mixed_up(kv(1300.0), 1250.0, PALE) is None
    assert mixed_up(kv(1340.0), 1250.0, PALE) is None  # 7 % off, still nearer to its own
    assert mixed_up(kv(1290.0), 1250.0, {"odd": 1295.0}) is None  # within what labels are worth


def test_a_kv_that_is_hardly_known_accuses_nobody():
    assert mixed_up(kv(1472.0, u=90.0), 1250.0, PALE) is None


def test_nothing_to_compare_with():
    assert mixed_up(kv(1472.0), None, PALE) is None
    assert mixed_up(kv(1472.0), 1250.0, {}) is None
