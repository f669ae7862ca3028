"""The matrix against the scalar solution, its limits, and what it proposes to run."""

import math
from dataclasses import replace

import numpy as np
import pytest
from known_things import exactly, motor, propeller, supply

from spindle_core.compare.bounds import Standing
from spindle_core.figures.measured import Absent, Measured
from spindle_core.model.operating_point import Motor, Propeller, solve
from spindle_core.planning.arrays import at_thrust, operate
from spindle_core.planning.known import KnownMotor
from spindle_core.planning.matrix import (
    MUCH_TAUGHT,
    Feed,
    PlannedMotor,
    PropellerColumn,
    cells_of,
    matrix,
)
from spindle_core.planning.next_run import (
    ASKED,
    MEASURED,
    Belief,
    choices,
    minutes_of,
    proposal,
    sensitivities,
)
from spindle_core.planning.predict import predict
from spindle_core.planning.study import GOAL, NOISE, study

AIR = exactly(1.19)
UNKNOWN = Absent("no_kv", "the motor has no kV on its label and was never run")


def rows(*known, **limits):
    return [PlannedMotor(i, f"motor {i}", one, **limits) for i, one in enumerate(known)]


def columns(*known):
    return [PropellerColumn(i, f"propeller {i}", one) for i, one in enumerate(known)]


MOTORS = (motor(ohm=0.085, idle=1.0, warming=2e-5), motor(kv=2400.0, ohm=0.07, idle=1.4))
PROPS = (propeller(), propeller(ct=0.13, cp=0.07), propeller(ct_exponent=0.05, cp_exponent=-0.08))


def made(feed=None, limits=None, motors=MOTORS, props=PROPS, **more):
    return matrix(
        rows(*motors, **(limits or {})),
        columns(*props),
        feed or Feed(supply(16.0, 0.004)),
        AIR,
        common_thrust_gf=400.0,
        **more,
    )


def test_every_cell_is_the_scalar_solution():
    found = made()
    for i, one in enumerate(MOTORS):
        for j, prop in enumerate(PROPS):
            alone = predict(one, prop, supply(16.0, 0.004), AIR, warmed=0.8).figures
            for name in ("thrust_gf", "current_a", "power_w", "speed_rpm", "efficiency_g_per_w"):
                assert found.figures[name][i, j] == pytest.approx(alone[name].value, rel=2e-4)
            for name in ("thrust_gf", "current_a"):
                # Exact inputs: the model's own share is left, without the case's doubt.
                assert found.u[name][i, j] <= alone[name].relative_u * 1.001


def test_the_worked_point_from_arrays():
    cells = cells_of(rows(motor()), columns(propeller()), supply(22.2), 1.225)
    point = operate(cells)
    assert float(point["speed_rpm"][0, 0]) == pytest.approx(28_575, abs=1)
    half = operate(cells, 0.5)
    assert float(half["current_a"][0, 0]) == pytest.approx(8.252, abs=0.001)


def test_at_a_thrust_is_the_duty_that_gives_it():
    cells = cells_of(rows(*MOTORS), columns(*PROPS), supply(16.0, 0.004), 1.19)
    found = at_thrust(cells, 400.0)
    back = operate(cells, found["duty"], warmed=1.0)
    assert np.allclose(back["thrust_gf"], 400.0, rtol=2e-3)
    assert np.allclose(back["power_w"], found["power_w"], rtol=4e-3)
    assert np.isnan(at_thrust(cells, 5000.0)["duty"]).all()
    assert np.isnan(at_thrust(cells, 5000.0)["efficiency_g_per_w"]).all()


def test_beyond_a_limit_it_says_up_to_which_throttle():
    found = made(limits={"most_current_a": 15.0})
    heavy = found.figures["current_a"][0, 0]
    assert heavy > 15.0
    assert found.nearness["rated current"][0, 0] == pytest.approx(heavy / 15.0)
    assert found.limit_names[found.tightest[0, 0]] == "rated current"
    duty = found.most_throttle[0, 0]
    at = predict(MOTORS[0], PROPS[0], supply(16.0, 0.004), AIR, duty=float(duty), warmed=0.8)
    assert at.figures["current_a"].value == pytest.approx(15.0, rel=1e-3)
    # Without any limit full throttle is free.
    free = made()
    assert free.most_throttle[0, 1] == pytest.approx(1.0, abs=1e-4)
    assert np.isfinite(free.nearness["tip speed"]).all()


def warming(value, u, **more):
    """A motor whose winding warms so, as well as that is known."""
    return replace(motor(ohm=0.085, idle=1.0, **more), warming_ohm_per_a2=exactly(value, u))


def alone(one, prop=PROPS[0], **more):
    """A matrix of one cell."""
    return made(motors=(one,), props=(prop,), **more)


def test_u_of_each_figure_is_that_of_the_scalar_prediction():
    """Inputs with u of every kind: what arrays say is as unsure as what one cell says alone."""
    unsure = warming(2e-5, 6e-6, u_kv=30.0, u_ohm=0.004, u_idle=0.1)
    feed = Feed(supply(16.0, 0.004), (("Supply", 30.0),))
    found = alone(unsure, feed=feed, limits={"most_power_w": 420.0, "most_winding_c": 155.0})
    one = predict(unsure, PROPS[0], supply(16.0, 0.004), AIR, warmed=0.8).figures
    for name in ("speed_rpm", "power_w", "efficiency_g_per_w"):
        # The scalar one doubts the case of the run as well.
        assert found.u[name][0, 0] == pytest.approx(one[name].relative_u, rel=0.12), name
    used, u = found.nearness, found.nearness_u
    of = {"Supply": "current_a", "rated power": "power_w", "tip speed": "speed_rpm"}
    for limit, figure in of.items():
        assert u[limit][0, 0] / used[limit][0, 0] == pytest.approx(found.u[figure][0, 0]), limit


def test_heat_is_as_unsure_as_what_warms_and_as_the_case():
    """Of the winding above its case: its own warming, and twice the current. Of the ceiling: the
    case besides, which is assumed, and nothing of the air's temperature."""
    limits = {"most_winding_c": 155.0}
    surely, hardly = (alone(warming(2e-5, u), limits=limits) for u in (0.0, 1e-5))
    rise = surely.winding_rise_k[0, 0]
    assert surely.winding_rise_u_k[0, 0] == pytest.approx(0.04 * rise)
    # Half of what it warms is not known, less what a colder one draws more.
    assert 0.3 * rise < hardly.winding_rise_u_k[0, 0] < 0.5 * rise
    for found in (surely, hardly):
        whole = math.hypot(found.winding_rise_u_k[0, 0], 8.0) / 155.0
        assert found.nearness_u["winding"][0, 0] == pytest.approx(whole)
    # One that was never seen to warm may warm all the same.
    cold = alone(warming(0.0, 1e-5))
    assert cold.winding_rise_k[0, 0] == 0.0
    assert cold.winding_rise_u_k[0, 0] > 0.3 * rise


def test_at_the_common_thrust_it_is_unsure_even_where_a_worse_one_would_not_give_it():
    """gf/W goes about with 1/CP, whose u is 7 %. A CP that is so much higher asks for more than
    full throttle at 98 % of the largest thrust."""
    shy = propeller(u_cp=0.01)
    top = float(alone(MOTORS[0]).figures["thrust_gf"][0, 0])
    worse = cells_of(rows(MOTORS[0]), columns(propeller(cp=0.155)), supply(16.0, 0.004), 1.19)
    assert np.isnan(at_thrust(worse, 0.98 * top)["duty"]).all()
    for share in (0.6, 0.98):
        one = matrix(
            rows(MOTORS[0]),
            columns(shy),
            Feed(supply(16.0, 0.004)),
            AIR,
            common_thrust_gf=share * top,
        )
        value = one.at_common["efficiency_g_per_w"][0, 0]
        assert 0.06 < one.common_u_g_per_w[0, 0] / value < 0.13, share


def test_a_limit_that_may_be_passed_is_told_from_one_that_is_kept():
    free = alone(MOTORS[0])
    current, u = (float(part["current_a"][0, 0]) for part in (free.figures, free.u))

    def held(most_a):
        return alone(MOTORS[0], limits={"most_current_a": most_a}).held(0, 0)["rated current"]

    assert held(current * (1 + 3 * u)) is Standing.KEPT
    assert held(current * (1 + u)) is held(current * (1 - u)) is Standing.NOT_TOLD
    assert held(current * (1 - 4 * u)) is Standing.BROKEN
    # A limit that nobody set is none that is kept; of what is not known nothing is.
    assert set(free.held(0, 0)) == {"tip speed"}
    assert alone(UNKNOWN).held(0, 0) == {}


def test_what_an_unsure_input_may_stop_is_wholly_in_doubt():
    stops = alone(motor(ohm=0.085, idle=1.0, u_ohm=40.0))
    assert stops.u["thrust_gf"][0, 0] >= 1.0
    assert stops.held(0, 0)["tip speed"] is Standing.NOT_TOLD


def test_the_tightest_of_several_limits_binds():
    feed = Feed(supply(16.0, 0.004), (("ESC Tarn", 20.0), ("Supply", 55.0)))
    found = made(feed, {"most_current_a": 26.0, "most_power_w": 420.0, "most_winding_c": 155.0})
    assert found.limit_names[found.tightest[0, 0]] == "ESC Tarn"
    assert set(found.limit_names) == {
        "rated current",
        "rated power",
        "ESC Tarn",
        "Supply",
        "winding",
        "tip speed",
    }
    hot = made(limits={"most_winding_c": 45.0})
    assert hot.limit_names[hot.tightest[0, 0]] == "winding"
    assert hot.most_throttle[0, 0] < 1.0


def test_what_is_not_known_is_absent_with_its_reason():
    found = made(motors=(MOTORS[0], UNKNOWN))
    assert np.isnan(found.figures["thrust_gf"][1]).all()
    assert found.why_not[1, 0] == UNKNOWN.note
    assert (0, 0) not in found.why_not
    assert np.isfinite(found.figures["thrust_gf"][0]).all()


def test_a_motor_that_cannot_turn_is_nan_and_stops_nobody():
    stuck = motor(ohm=8.0, idle=6.0)
    found = made(motors=(MOTORS[0], stuck))
    assert np.isnan(found.figures["current_a"][1]).all()
    assert np.isfinite(found.figures["current_a"][0]).all()


def test_u_of_a_fit_moves_kv_and_r_together():
    def known(sign):
        return KnownMotor(
            Measured(1900.0, {"fit@A": 40.0}),
            Measured(0.085, {"fit@A": sign * 0.006}),
            exactly(1.0),
            0.0,
            exactly(0.0),
            4.0,
            MOTORS[0].basis,
            "",
        )

    together, against = made(motors=(known(1), known(-1))).u["current_a"][:, 0]
    # A higher kV with a higher R gives nearly the same current; with a lower R it does not.
    assert together < 0.6 * against


def test_what_a_cell_would_teach():
    wide = made(props=(propeller(u_ct=0.03, u_cp=0.02), propeller()))
    assert wide.taught[0, 0] > MUCH_TAUGHT > wide.taught[0, 1]


# ---- what to run next ----------------------------------------------------------------------------


def bench(motors=3, props=3):
    made_motors = [motor(kv=1800.0 + 60 * i, ohm=0.085, idle=1.0) for i in range(motors)]
    made_props = [propeller(ct=0.15 + 0.02 * j, cp=0.08 + 0.02 * j) for j in range(props)]
    cells = cells_of(rows(*made_motors), columns(*made_props), supply(16.0, 0.004), 1.19)
    return sensitivities(cells)


def belief(known, kv=0.05, ohm=0.25, idle=0.4, ct=0.15, cp=0.15):
    spread = [kv, ohm, idle] * known.motors + [ct, cp] * known.propellers
    return Belief(np.zeros(known.size), np.diag(np.square(spread)))


EVERY = np.ones((3, 3), dtype=bool)


def asked(known, own, **more):
    return choices(own, known, **{"may_run": EVERY, "wanted": EVERY, "noise": NOISE, **more})


def test_sensitivities_are_derivatives_of_logarithms():
    known = bench(1, 1)
    one = Motor(1800.0, 0.085, 1.0), Propeller(5.1, 0.15, 0.08)
    more = Motor(1801.8, 0.085, 1.0)
    at = {"voltage_v": 16.0, "density_kg_per_m3": 1.19, "pack_resistance_ohm": 0.004}
    slope = math.log(solve(more, one[1], **at).current_a / solve(*one, **at).current_a) / math.log(
        1.001
    )
    assert known.by_figure["current_a"][0, 0, 0] == pytest.approx(slope, rel=1e-2)
    # Thrust goes with CT as 1, by definition.
    assert known.by_figure["thrust_gf"][0, 0, 3] == pytest.approx(1.0, rel=1e-6)


def test_learning_takes_variance_out_and_never_puts_it_in():
    known = bench()
    own = belief(known)
    before = own.covariance.copy()
    design = known.design(0, 0, MEASURED)
    own.learn(design, design @ np.zeros(known.size), NOISE)
    assert (np.diag(own.covariance) <= np.diag(before) + 1e-12).all()
    assert np.linalg.eigvalsh(own.covariance).min() > -1e-12
    # What shares nothing with the run is as unknown as before.
    assert own.covariance[6, 6] == before[6, 6]


def test_what_is_mounted_comes_before_a_swap_and_a_repeat_last():
    assert minutes_of(0, 0, (0, 0)) < minutes_of(0, 1, (0, 0)) + 1
    assert minutes_of(0, 1, (0, 0)) < minutes_of(1, 0, (0, 0))
    known = bench()
    own = belief(known)
    design = known.design(0, 0, MEASURED)
    own.learn(design, design @ np.zeros(known.size), NOISE)
    best = asked(known, own, mounted=(0, 0))[0]
    assert (best.motor, best.propeller) != (0, 0)
    assert 0 < best.takes_off < 1


def test_a_cell_that_may_not_be_run_is_never_proposed():
    known = bench()
    may = EVERY.copy()
    may[0] = False
    may[:, 1] = False
    found = asked(known, belief(known), may_run=may)
    assert {(c.motor, c.propeller) for c in found} == {(1, 0), (1, 2), (2, 0), (2, 2)}
    assert asked(known, belief(known), may_run=~EVERY) == []
    assert asked(known, belief(known), wanted=~EVERY) == []


def test_only_what_is_asked_for_counts():
    known = bench()
    wanted = np.zeros((3, 3), dtype=bool)
    wanted[2, 2] = True
    best = asked(known, belief(known), wanted=wanted)[0]
    assert (best.motor, best.propeller) == (2, 2)


def test_nothing_is_proposed_once_everything_is_known():
    known = bench()
    sure = belief(known, 1e-4, 1e-4, 1e-4, 1e-4, 1e-4)
    ask = {"may_run": EVERY, "wanted": EVERY, "noise": NOISE}
    assert proposal(sure, known, goal=GOAL, **ask) is None
    assert proposal(belief(known), known, goal=GOAL, **ask) is not None


def test_a_motor_of_which_nothing_is_known_does_not_stop_the_others():
    cells = cells_of(rows(MOTORS[0], UNKNOWN), columns(*PROPS[:2]), supply(16.0, 0.004), 1.19)
    known = sensitivities(cells)
    every = np.ones((2, 2), dtype=bool)
    wanted = every.copy()
    wanted[1] = False
    own = belief(known)
    found = choices(own, known, may_run=every, wanted=wanted, noise=NOISE)
    assert {c.motor for c in found} == {0}
    assert len(ASKED) == 2


def test_the_proposals_save_bench_time_over_the_fixed_matrix():
    made_study = study(12, seed=3)
    assert made_study.share < 0.65
    assert all(walk.worst is not None and walk.worst < 4 * GOAL for walk in made_study.proposed)
    assert study(3, seed=3).proposed == study(3, seed=3).proposed
    # Where there is hardly a choice there is hardly anything to save, and it says so.
    assert study(6, seed=3, motors=2, propellers=3).share > 0.8
