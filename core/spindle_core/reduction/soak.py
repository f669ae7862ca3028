"""Reduction of a constant load followed by a stop and a watch: how a motor warms and cools.

The case goes on warming after the stop, since the winding is hotter than the case. Rise, the
highest temperature after the stop and the slowest cooling time constant need only the case;
kelvin per watt and the winding's temperature need the loss to be known.
"""

from __future__ import annotations

import math

import numpy as np

from spindle_core.autocorrelation import integrated_autocorrelation_time
from spindle_core.errors import CoreError, ReductionError
from spindle_core.measured import Absent, Measured, Origin, difference
from spindle_core.nonlinear_fit import fit as fit_model
from spindle_core.plateau import REST_BELOW_PCT, filled_forward
from spindle_core.reduction import cleaning
from spindle_core.reduction.cleaning import Cleaning
from spindle_core.reduction.figures import mean_of_samples
from spindle_core.reduction.result import Figure, Point, Reduction
from spindle_core.thermal import rise_per_kilojoule
from spindle_core.thermal_network import NetworkFit, continuous_loss_w, fit_network
from spindle_core.trace import Bools, Floats, Trace

SHORTEST_WATCH_S = 20.0
PEAK_WINDOW_S = 1.0
MOST_SAMPLES_FITTED = 3000


def reduce(trace: Trace) -> Reduction:
    """Rise, after-rise and cooling of a ``soak`` run.

    :raises ReductionError: the case temperature was not logged, or the motor never ran.
    """
    if not trace.has("motor_temp_c"):
        raise ReductionError("A soak run needs motor_temp_c.", code="no_temperature")
    work = cleaning.begin(trace)
    cleaning.mask_outliers(work, [(0, work.trace.size)])
    moving = _moving(work)
    if not moving.any():
        raise ReductionError("The motor never ran in this log.", code="no_load_seen")
    stop = int(np.flatnonzero(moving)[-1]) + 1
    ambient = _ambient(work)
    at_stop = _case_at_stop(work, stop)
    peak, peak_after = _peak_after_stop(work, stop)
    summary: dict[str, Figure] = {
        "ambient_temp_c": ambient,
        "case_at_stop_c": at_stop,
        "rise_k": _minus(at_stop, ambient),
        "peak_after_stop_c": peak,
        "peak_after_stop_s": peak_after,
        "case_time_constant_s": _time_constant(work, stop, ambient),
    }
    summary.update(_energy(work, moving, summary["rise_k"]))
    summary.update(_network(work, moving, ambient))
    if stop >= work.trace.size:
        work.warn("ended_under_throttle", "The log ends at the stop: nothing was watched.")
    cleaning.say_outliers(work)
    time = work.trace.time_s
    first = int(np.argmax(moving))
    points = (
        Point(
            {"motor_temp_c": at_stop, "ambient_temp_c": ambient, "rise_k": summary["rise_k"]},
            float(time[first]), float(time[first]), float(time[stop - 1]), settled=True,
        ),
    )  # fmt: skip
    return Reduction("soak", points, summary, tuple(work.warnings), tuple(work.outliers))


def _moving(work: Cleaning) -> Bools:
    if work.trace.has("throttle_pct"):
        return filled_forward(work.trace.get("throttle_pct")) >= REST_BELOW_PCT
    for name in ("speed_rpm", "current_a", "power_w"):
        if work.trace.has(name):
            values = filled_forward(work.trace.get(name))
            return values > 0.1 * float(np.max(values))
    raise ReductionError(
        "No throttle, speed, current or power was logged; the stop cannot be found.",
        code="no_guide_channel",
    )


def _ambient(work: Cleaning) -> Figure:
    if work.trace.has("ambient_temp_c"):
        return mean_of_samples(work.channels["ambient_temp_c"])
    if work.trace.facts.air_temp_c is not None:
        # A room thermometer read once stands for the air at the motor to about 1 K.
        return Measured(work.trace.facts.air_temp_c, {"air": 1.0 / math.sqrt(3.0)})
    return Absent("air_unknown", "neither ambient_temp_c nor air_temp_c was given")


def _case_at_stop(work: Cleaning, stop: int) -> Figure:
    """The case where a line through its last second under load meets the stop [°C]."""
    time, case = work.trace.time_s, work.channels["motor_temp_c"]
    start = int(np.searchsorted(time, time[stop - 1] - 1.0))
    part = np.isfinite(case[start:stop])
    if part.sum() < 2:
        return Absent("no_samples", "no case temperature in the last second under load")
    x, y = (time[start:stop] - time[stop - 1])[part], case[start:stop][part]
    if x.size < 4:
        return mean_of_samples(y)
    slope, offset = np.polyfit(x, y, 1)
    rest = y - offset - slope * x
    u = 2.0 * float(rest.std(ddof=2)) / math.sqrt(x.size)
    return Measured(float(offset), {"within_run": u}, samples=int(x.size))


def _minus(a: Figure, b: Figure) -> Figure:
    if isinstance(a, Absent):
        return a
    if isinstance(b, Absent):
        return b
    own = Measured(b.value, {f"ambient_{name}": part for name, part in b.components.items()})
    return difference(a, own)


def _peak_after_stop(work: Cleaning, stop: int) -> tuple[Figure, Figure]:
    """Highest case temperature after the stop, smoothed over a second, and when it came."""
    time, case = work.trace.time_s, work.channels["motor_temp_c"]
    after = case[stop:]
    valid = np.isfinite(after)
    if valid.sum() < 3:
        missing = Absent("not_watched", "no case temperature after the stop")
        return missing, missing
    at, values = time[stop:][valid] - time[stop - 1], after[valid]
    width = max(1, round(PEAK_WINDOW_S / max(work.trace.step_s, 1e-6)))
    width = min(width, values.size)
    smooth = np.convolve(values, np.ones(width) / width, mode="valid")
    middle = np.convolve(at, np.ones(width) / width, mode="valid")
    top = int(np.argmax(smooth))
    noise = float(np.sqrt(0.5 * np.mean(np.diff(values) ** 2))) / math.sqrt(width)
    # Around a flat maximum many instants are within the noise of the highest.
    like_top = middle[smooth >= smooth[top] - 2.0 * noise]
    u_s = float(like_top.max() - like_top.min()) / math.sqrt(12.0)
    if top == smooth.size - 1:
        work.warn("still_warming", "The case was still warming when the log ended; watch longer.")
    return (
        Measured(float(smooth[top]), {"within_run": noise}),
        Measured(float(middle[top]), {"within_run": u_s}),
    )


def _time_constant(work: Cleaning, stop: int, ambient: Figure) -> Figure:
    """Slowest time constant of the cooling: the sum of two exponentials towards the air."""
    time, case = work.trace.time_s[stop:], work.channels["motor_temp_c"][stop:]
    valid = np.isfinite(case)
    if isinstance(ambient, Absent):
        return ambient
    if valid.sum() < 20 or time[-1] - time[0] < SHORTEST_WATCH_S:
        return Absent("not_watched", f"needs {SHORTEST_WATCH_S:g} s of watching after the stop")
    at, rise = time[valid] - time[0], case[valid] - ambient.value
    stride = max(1, at.size // MOST_SAMPLES_FITTED)
    at, rise = at[::stride], rise[::stride]
    if rise.max() < 3.0:
        return Absent("too_cool", "the case was less than 3 K above the air")
    return _slowest(work, at, rise, ambient.u)


def _slowest(work: Cleaning, at: Floats, rise: Floats, u_ambient_k: float) -> Figure:
    span = float(at[-1])
    height = float(rise.max())

    def residuals(p: Floats) -> Floats:
        slow, fast = math.exp(p[2]), math.exp(p[2] + p[3])
        model: Floats = p[0] * np.exp(-at / slow) + p[1] * np.exp(-at / fast) - rise
        return model

    low = np.array([0.0, -3.0 * height, math.log(0.05 * span), math.log(0.01)])
    high = np.array([5.0 * height, 3.0 * height, math.log(20.0 * span), math.log(0.7)])
    first = np.array([height, -0.2 * height, math.log(max(0.5 * span, 30.0)), math.log(0.1)])
    found = fit_model(residuals, first, low=low, high=high, scale=[height, height, 1.0, 1.0])
    tau_s = math.exp(found.values[2])
    rest = found.residuals
    spread = float(rest @ rest) / max(1, rest.size - 4) * integrated_autocorrelation_time(rest)
    u_log = math.sqrt(max(0.0, spread * float(found.inverse[2, 2])))
    # An error of the air's temperature bends the tail: dln τ ≈ u ÷ the rise that is left.
    left = max(0.5, float(rise[-max(1, rise.size // 20) :].mean()))
    if tau_s > 2.0 * span:
        work.warn(
            "watch_short",
            f"The case was watched for {span:.0f} s, its time constant is about {tau_s:.0f} s; "
            "watch longer for a surer figure.",
        )
    return Measured(
        tau_s, {"fit": tau_s * u_log, "air": tau_s * u_ambient_k / left}, origin=Origin.DERIVED
    )


def _energy(work: Cleaning, moving: Bools, rise: Figure) -> dict[str, Figure]:
    """Electrical energy of the load [kJ] and the rise per kilojoule."""
    power = _power(work)
    if power is None:
        missing = Absent("not_logged", "power, or voltage and current, was not logged")
        return {"energy_kj": missing, "rise_k_per_kj": missing}
    energy = float(np.trapezoid(np.where(moving, power, 0.0), work.trace.time_s)) / 1000.0
    figures: dict[str, Figure] = {"energy_kj": Measured(energy, origin=Origin.DERIVED)}
    if isinstance(rise, Absent):
        figures["rise_k_per_kj"] = rise
        return figures
    per = rise_per_kilojoule(rise.value, energy)
    figures["rise_k_per_kj"] = (
        per
        if isinstance(per, Absent)
        else Measured(per, {"within_run": rise.u / energy}, origin=Origin.DERIVED)
    )
    return figures


def _power(work: Cleaning) -> Floats | None:
    voltage, current = work.get("voltage_v"), work.get("current_a")
    if voltage is not None and current is not None:
        return filled_forward(voltage * current)
    logged = work.get("power_w")
    return None if logged is None else filled_forward(logged)


def _losses(work: Cleaning, moving: Bools) -> tuple[Floats, Floats] | Absent:
    """Loss in the copper and the rest [W], shape (n,) each, where the log tells them."""
    power, current = _power(work), work.get("current_a")
    torque, speed = work.get("torque_nm"), work.get("speed_rpm")
    facts = work.trace.facts
    copper = np.zeros(moving.size)
    if facts.resistance_ohm is not None and current is not None:
        copper = filled_forward(current) ** 2 * facts.resistance_ohm * moving
    if torque is not None and speed is not None and power is not None:
        shaft = filled_forward(torque) * filled_forward(speed) * math.pi / 30.0
        total = np.maximum(power - shaft, 0.0) * moving
        if facts.resistance_ohm is None:
            return total, np.zeros(moving.size)
        return np.minimum(copper, total), np.maximum(total - copper, 0.0)
    if facts.resistance_ohm is not None and facts.no_load_current_a is not None:
        voltage = work.get("voltage_v")
        if current is not None and voltage is not None:
            return copper, filled_forward(voltage) * facts.no_load_current_a * moving
    return Absent("loss_unknown", "needs torque and speed, or resistance and no-load current")


def _network(work: Cleaning, moving: Bools, ambient: Figure) -> dict[str, Figure]:
    """K/W of case and winding and the continuous power, where the loss is known."""
    names = ("case_k_per_w", "winding_over_case_k_per_w", "winding_at_stop_c", "continuous_power_w")
    losses = _losses(work, moving)
    if isinstance(losses, Absent):
        return dict.fromkeys(names, losses)
    if isinstance(ambient, Absent):
        return dict.fromkeys(names, ambient)
    copper, iron = losses
    case = filled_forward(work.channels["motor_temp_c"]) - ambient.value
    try:
        fit = fit_network(work.trace.time_s, case, copper_w=copper, iron_w=iron, moving=moving)
    except CoreError as error:
        return dict.fromkeys(names, Absent(error.code, error.message))
    return _network_figures(work, fit, copper, iron, moving, ambient.value)


def _network_figures(
    work: Cleaning, fit: NetworkFit, copper: Floats, iron: Floats, moving: Bools, ambient_c: float
) -> dict[str, Figure]:
    case, between = (_inverse(fit.figure(name)) for name in ("moving_w_per_k", "between_w_per_k"))
    last = int(np.flatnonzero(moving)[-1])
    late = slice(max(0, last - max(5, moving.size // 50)), last + 1)
    winding_loss = float(np.mean(copper[late]))
    at_stop = float(np.nanmean(work.channels["motor_temp_c"][late]))
    winding: Figure = between
    if isinstance(between, Measured):
        winding = Measured(
            at_stop + winding_loss * between.value, {"fit": winding_loss * between.u},
            origin=Origin.ESTIMATED,
        )  # fmt: skip
    return {
        "case_k_per_w": case,
        "winding_over_case_k_per_w": between,
        "winding_at_stop_c": winding,
        "continuous_power_w": _continuous(work, fit, copper, iron, late, ambient_c),
    }


def _continuous(
    work: Cleaning, fit: NetworkFit, copper: Floats, iron: Floats, late: slice, ambient_c: float
) -> Figure:
    """Electrical power at this load's loss share that just reaches the winding's ceiling [W]."""
    ceiling = work.trace.facts.winding_ceiling_c
    if ceiling is None:
        return Absent("no_ceiling", "needs the winding's ceiling (winding_ceiling_c)")
    figures = [fit.figure(name) for name in ("moving_w_per_k", "between_w_per_k")]
    for figure in figures:
        if isinstance(figure, Absent):
            return figure
    power = _power(work)
    total = float(np.mean((copper + iron)[late]))
    if power is None or total <= 0:
        return Absent("loss_unknown", "no loss at the end of the load")
    share = float(np.mean(copper[late])) / total
    loss = continuous_loss_w(
        fit.network, ceiling_c=ceiling, ambient_c=ambient_c, copper_share=share
    )
    relative = math.hypot(*(f.relative_u for f in figures if isinstance(f, Measured)))
    value = loss * float(np.mean(power[late])) / total
    return Measured(value, {"fit": relative * value}, origin=Origin.ESTIMATED)


def _inverse(figure: Figure) -> Figure:
    if isinstance(figure, Absent):
        return figure
    value = 1.0 / figure.value
    return Measured(value, {"fit": figure.relative_u * value}, origin=Origin.DERIVED)
