"""Synthetic runs with known truth, from arithmetic independent of the reduction."""

import numpy as np

from spindle_core.trace import Trace


def plateau_run(
    levels=(20, 40, 60, 80, 100), *, rate_hz=200.0, rest_s=4.0, dwell_s=3.0, seed=1,
    zero_before=12.0, zero_after=12.0, noise_gf=2.0, correlation=0.0, time_constant_s=0.06,
    volts=16.0,
):  # fmt: skip
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
    return Trace(time, channels)
