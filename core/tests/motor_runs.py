"""Runs of a motor whose constants are known, made from the closed operating point."""

import numpy as np
from runs import EXACT

from spindle_core.model.operating_point import Motor, Propeller, solve
from spindle_core.run.facts import RunFacts
from spindle_core.run.trace import Trace

MOTOR = Motor(1900.0, 0.085, 0.5, 2.4e-5)
WARM_PER_A2S = 6.0e-6
"""Ω of warming per A²·s of fading heat (3 s) [Ω/(A²·s)]."""

PROPS = {"light": Propeller(5.0, 0.16, 0.09), "heavy": Propeller(5.1, 0.21, 0.145)}


def loaded_run(
    propeller=None,
    *,
    volts=16.0,
    kind="steps",
    levels=(40, 70, 100),
    dwell_s=2.5,
    rate_hz=200.0,
    seed=1,
    warming=0.0,
    gains=None,
    torque=False,
    rho=1.19,
    noise=1.0,
    stand=EXACT,
    **facts,
):
    """Plateaus of throttle (duty = throttle/100), with the winding warming as it runs."""
    rng = np.random.default_rng(seed)
    step = 1.0 / rate_hz
    prop = PROPS.get(propeller, Propeller(1.0, 1e-9, 1e-9))
    rows, heat = [], 0.0
    for level, seconds in [(0, 2.0), *((level, dwell_s) for level in levels), (0, 2.5)]:
        for _ in range(round(seconds * rate_hz)):
            current = 0.0
            if level:
                motor = Motor(
                    MOTOR.kv_rpm_per_v,
                    MOTOR.resistance_ohm + warming * heat,
                    MOTOR.no_load_current_a,
                    MOTOR.no_load_slope_a_per_rpm,
                )
                point = solve(motor, prop, voltage_v=volts, duty=level / 100, density_kg_per_m3=rho)
                current = point.motor_current_a
                rows.append(
                    (
                        level,
                        point.thrust_gf,
                        point.current_a,
                        point.speed_rpm,
                        point.shaft_power_w / (point.speed_rpm * np.pi / 30),
                    )
                )
            else:
                rows.append((0, 0.0, 0.0, 0.0, 0.0))
            heat = heat * np.exp(-step / 3.0) + 3.0 * (1 - np.exp(-step / 3.0)) * current**2
    throttle, thrust, amps, speed, shaft = np.array(rows).T
    gains = gains or {}
    size = throttle.size
    turning = speed > 0
    channels = {
        "throttle_pct": throttle,
        "voltage_v": volts * (1 + gains.get("voltage_v", 0)) + noise * rng.normal(0, 0.004, size),
        "current_a": amps * (1 + gains.get("current_a", 0)) + noise * rng.normal(0, 0.02, size),
        "speed_rpm": turning
        * (speed * (1 + gains.get("speed_rpm", 0)) + noise * rng.normal(0, 10, size)),
    }
    if propeller:
        channels["thrust_gf"] = thrust * (1 + gains.get("thrust_gf", 0)) + noise * rng.normal(
            0, 1, size
        )
    if torque:
        channels["torque_nm"] = shaft + noise * rng.normal(0, 2e-4, size)
    known = {"motor": "Sable", "sample": "A"}
    if propeller:
        known |= {"propeller": propeller, "prop_diameter_in": prop.diameter_in}
    # Air of exactly the density the points were solved at: dry, 288.15 K, p = ρ·R·T.
    known |= {
        "air_temp_c": 15.0,
        "air_pressure_hpa": rho * 287.055 * 288.15 / 100,
        "air_humidity_pct": 0.0,
    }
    return Trace(
        np.arange(size) * step, channels, kind, facts=RunFacts(**{**known, **facts}), stand=stand
    )


def no_load_run(volts=16.0, **options):
    """Full throttle without a propeller."""
    return loaded_run(None, volts=volts, kind="no_load", levels=(100,), **options)
