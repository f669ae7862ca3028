"""Results as JSON and back."""

import json

import pytest
from runs import plateau_run

from spindle_core.figures.measured import Absent, Measured
from spindle_core.figures.quantities import CHANNELS
from spindle_core.formats.result_json import (
    figure_from_json,
    figure_to_json,
    points_from_json,
    reduction_to_json,
    warnings_from_json,
)
from spindle_core.reduction import reduce_trace
from spindle_core.reduction.kinds import RUN_KINDS


def test_a_result_survives_json_and_gives_the_same_points():
    reduction = reduce_trace(plateau_run(zero_after=60.0))
    stored = json.loads(json.dumps(reduction_to_json(reduction), allow_nan=False))
    points = points_from_json(stored)
    for point, kept in zip(points, reduction.points, strict=True):
        assert point.value("thrust_gf") == kept.value("thrust_gf")
        assert point.figures["thrust_gf"].u == pytest.approx(kept.figures["thrust_gf"].u)
        assert point.used_from_s == kept.used_from_s
        assert isinstance(point.figures["torque_nm"], Absent)
    assert [w.code for w in warnings_from_json(stored)] == ["tare_drift"]


def test_an_absent_figure_is_null_and_its_reason_stands_apart():
    assert figure_to_json(Absent("not_logged")) is None
    stored = reduction_to_json(reduce_trace(plateau_run()))
    assert stored["summary"]["top_end_ratio"] is None
    assert stored["absent"]["top_end_ratio"]["note"]


def test_components_are_kept():
    figure = Measured(5.0, {"within_run": 0.3, "tare": 0.4}, n=3)
    back = figure_from_json(figure_to_json(figure))
    assert (back.value, back.u, back.n) == (5.0, pytest.approx(0.5), 3)
    assert back.component("tare") == 0.4


def test_channels_carry_their_unit_in_their_name():
    for name, channel in CHANNELS.items():
        assert channel.low < channel.high
        if channel.unit:
            suffix = {
                "gf": "gf",
                "N·m": "nm",
                "V": "v",
                "A": "a",
                "W": "w",
                "rpm": "rpm",
                "°C": "c",
                "g": "g",
                "%": "pct",
            }[channel.unit]
            assert name.endswith(f"_{suffix}")
    assert "steps" in RUN_KINDS
    assert len(set(RUN_KINDS)) == 10
