"""What a gram and a price buy, and what a size lets one expect."""

import pytest

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Measured
from spindle_core.rank.mass_and_money import choosing, per, size_trend


def figure(value, u=0.01, key="x"):
    return Measured(value, {f"s@{key}{value}": u * value})


def test_a_trend_over_size_and_who_stands_above_it():
    volumes = {"a": 1000.0, "b": 2000.0, "c": 3000.0, "d": 4000.0, "e": 2500.0}
    # T = 20·V^0.5, and one a tenth above.
    thrusts = {name: figure(20.0 * v**0.5) for name, v in volumes.items()}
    flat = size_trend(volumes, thrusts)
    assert flat.exponent == pytest.approx(0.5)
    assert flat.a == pytest.approx(20.0)
    assert flat.scatter_pct == pytest.approx(0.0, abs=1e-9)
    better = size_trend(volumes, {**thrusts, "e": figure(1.1 * 1000.0)})
    assert max(better.residual_pct, key=lambda n: better.residual_pct[n].value) == "e"
    # The others pull the trend up with them: less than the whole 10 %.
    assert 5.0 < better.residual_pct["e"].value < 10.0
    assert better.residual_pct["e"].u == pytest.approx(1.0, abs=0.1)
    assert better.scatter_pct > 0


@pytest.mark.parametrize(
    ("volumes", "figures", "reason"),
    [
        ({"a": 1.0, "b": 2.0, "c": 3.0}, "all", "too_few_motors"),
        ({"a": 1.0, "b": 2.0, "c": 3.0, "d": 4.0}, "abc", "too_few_motors"),
        ({"a": 2.0, "b": 2.0, "c": 2.0, "d": 2.0}, "all", "one_size"),
    ],
)
def test_no_trend_of_too_few_or_of_one_size(volumes, figures, reason):
    known = {n: figure(10.0) for n in volumes if figures == "all" or n in figures}
    assert size_trend(volumes, known).reason == reason


def test_no_stator_is_empty():
    with pytest.raises(QuantityError, match="above 0"):
        size_trend({"a": 0.0}, {})


def test_per_gram_and_per_price():
    thrust = figure(1200.0)
    assert per(thrust, Measured(30.0)).value == pytest.approx(40.0)
    assert per(thrust, Absent("given", "it cost nothing")).note == "it cost nothing"
    assert per(Absent("not_run"), Measured(30.0)).reason == "not_run"
    assert isinstance(per(thrust, Measured(0.0)), Absent)


def test_choose_a_b_only_if_c_never():
    thrust = {"A": figure(1300.0), "B": figure(1200.0), "C": figure(1000.0)}
    mass = {"A": figure(33.0, 0.001), "B": figure(30.0, 0.001), "C": figure(34.0, 0.001)}
    price = {"A": figure(24.0, 0.0), "B": figure(20.0, 0.0), "C": figure(25.0, 0.0)}
    found = choosing(thrust, mass, price)
    assert found.left == ("A", "B")
    (never,) = found.beaten
    assert never.worse == "C"
    (step,) = found.steps
    # 4 for 8.3 % of thrust, and no gram saved.
    assert (step.dearer, step.cheaper, step.extra) == ("A", "B", pytest.approx(4.0))
    assert step.per_percent_gained.value == pytest.approx(4.0 / (100 * (1300 / 1200 - 1)))
    assert step.per_gram_saved.reason == "no_saving"


def test_twins_beat_nobody_and_what_has_no_price_is_judged_by_the_rest():
    thrust = {"A": figure(1000.0), "B": figure(1000.0, key="y"), "C": figure(800.0)}
    mass = {"A": figure(30.0, 0.001), "B": figure(30.0, 0.001, "y"), "C": figure(36.0, 0.001)}
    found = choosing(thrust, mass, {"A": figure(20.0, 0.0)})
    assert set(found.left) == {"A", "B"}
    assert [one.worse for one in found.beaten] == ["C"]
    assert found.steps == ()
