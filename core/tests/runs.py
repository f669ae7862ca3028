"""Synthetic runs with known truth, from arithmetic independent of the reduction."""

import numpy as np

from spindle_core.figures.quantities import CHANNELS
from spindle_core.run.stand import Stand
from spindle_core.run.trace import Trace

EXACT = Stand(calibration=dict.fromkeys(CHANNELS, 0.0), gravity_m_per_s2=9.80665, name="exact")
"""A stand whose meters somebody declared exact: what is left of u is the run's own scatter."""


def plateau_run(
    levels=(20, 40, 60, 80, 100),
    *,
    rate_hz=200.0,
    rest_s=4.0,
    dwell_s=3.0,
    seed=1,
    zero_before=12.0,
    zero_after=12.0,
    noise_gf=2.0,
    correlation=0.0,
    time_constant_s=0.06,
    volts=16.0,
    stand=EXACT,
):
    """A ``steps`` trace: thrust 12·throttle gf above its zero, current 0.3·throttle A."""
    step = 1.0 / rate_hz
    schedule = [(0.0, rest_s), *((float(level), dwell_s) for level in levels), (0.0, rest_s)]
    throttle = np.concatenate([np.full(round(t * rate_hz), level) for level, t in schedule])
    time = np.arange(throttle.size) * step
    settled = np.empty_like(throttle)
    value, alpha = 0.0, 1.0 - np.exp(-step / time_constant_s)
    for i, target in enumerate(throttle):
        value += alpha * (target - value)
        settled[i] = value
    rng = np.random.default_rng(seed)
    white = rng.normal(size=throttle.size)
    noise = np.empty_like(white)
    state = 0.0
    for i, kick in enumerate(white):
        state = correlation * state + np.sqrt(1 - correlation**2) * kick
        noise[i] = state
    zero = np.interp(time, [rest_s / 2, time[-1] - rest_s / 2], [zero_before, zero_after])
    current = 0.3 * settled + rng.normal(scale=0.02, size=time.size)
    channels = {
        "throttle_pct": throttle,
        "thrust_gf": 12.0 * settled + zero + noise_gf * noise,
        "voltage_v": volts - 0.01 * current + rng.normal(scale=0.005, size=time.size),
        "current_a": current,
        "speed_rpm": 250.0 * settled + rng.normal(scale=8.0, size=time.size),
    }
    return Trace(time, channels, stand=stand)


def lagging(values, step_s, lag_s):
    """A first-order sensor's reading of ``values``."""
    if not lag_s:
        return values.copy()
    share = 1.0 - np.exp(-step_s / lag_s)
    out, now = np.empty_like(values), values[0]
    for i, value in enumerate(values):
        now += share * (value - now)
        out[i] = now
    return out


def sweep_thrust_gf(throttle_pct):
    """The curve a swept motor follows: 12·θ·(0.5 + θ/200) gf, 1200 gf at 100 %."""
    return 12.0 * throttle_pct * (0.5 + throttle_pct / 200.0)


def sweep_run(
    *,
    rate_hz=200.0,
    up_s=20.0,
    down=False,
    watch_s=4.0,
    rest_s=3.0,
    lag_s=0.08,
    noise_gf=1.0,
    jitter_s=0.0,
    seed=1,
    **facts,
):
    """A ``ramp`` from 0 to 100 %, its thrust and torque seen through a first-order lag."""
    rng = np.random.default_rng(seed)
    step = 1.0 / rate_hz
    total = rest_s + up_s * (2 if down else 1) + watch_s
    time = np.arange(round(total * rate_hz)) * step
    corners = [0.0, rest_s, rest_s + up_s]
    levels = [0.0, 0.0, 100.0]
    if down:
        corners, levels = [*corners, rest_s + 2 * up_s, total], [*levels, 0.0, 0.0]
    else:
        corners, levels = [*corners, rest_s + up_s + 1e-6, total], [*levels, 0.0, 0.0]
    throttle = np.interp(time, corners, levels)
    current = 0.003 * throttle**2
    channels = {
        "throttle_pct": throttle,
        "thrust_gf": lagging(sweep_thrust_gf(throttle), step, lag_s) + 12.0,
        "speed_rpm": lagging(2000.0 * np.sqrt(throttle), step, lag_s),
        "voltage_v": 16.0 - 0.01 * current,
        "current_a": current,
    }
    for name, sigma in (
        ("thrust_gf", noise_gf),
        ("speed_rpm", 8.0),
        ("voltage_v", 0.005),
        ("current_a", 0.02),
    ):
        channels[name] = channels[name] + rng.normal(scale=sigma, size=time.size)
    if jitter_s:
        time = np.sort(time + rng.uniform(-jitter_s, jitter_s, time.size))
        time -= time[0]
    return Trace(time, channels, "ramp", **{"stand": EXACT, **facts})
