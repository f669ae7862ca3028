"""Reduction of a constant load followed by a stop and a watch: how a motor warms and cools.

The case goes on warming after the stop, since the winding is hotter than the case. Rise, the
highest temperature after the stop and the slowest cooling time constant need only the case;
kelvin per watt and the winding's temperature need the loss to be known.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from spindle_core.errors import CoreError, ReductionError
from spindle_core.figures.arrays import Bools, Floats
from spindle_core.figures.autocorrelation import integrated_autocorrelation_time
from spindle_core.figures.measured import (
    Absent,
    Figure,
    Measured,
    Origin,
    component,
    difference,
    ratio,
)
from spindle_core.figures.nonlinear_fit import fit as fit_model
from spindle_core.model.thermal import rise_per_kilojoule
from spindle_core.model.thermal_network import (
    LARGEST_RELATIVE_U,
    NetworkFit,
    continuous_loss_w,
    fit_network,
)
from spindle_core.reduction import cleaning
from spindle_core.reduction.cleaning import Cleaning
from spindle_core.reduction.figures import hidden_by_rounding, mean_of_samples, power_gains
from spindle_core.reduction.plateau import REST_BELOW_PCT, filled_forward
from spindle_core.reduction.result import Point, Reduction
from spindle_core.reduction.soak_losses import Losses, motor_losses
from spindle_core.run.trace import Trace

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
    cleaning.tare(work, ~moving)
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
            float(time[first]),
            float(time[first]),
            float(time[stop - 1]),
            settled=True,
        ),
    )
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
        name = "ambient_temp_c"
        mean = mean_of_samples(work.channels[name], source=work.source(name))
        if isinstance(mean, Absent):
            return mean
        offsets = work.trace.stand.offsets(name, work.run)
        return replace(mean, components={**mean.components, **offsets})
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
    source, offsets = (
        work.source("motor_temp_c"),
        work.trace.stand.offsets("motor_temp_c", work.run),
    )
    if x.size < 4:
        mean = mean_of_samples(y, source=source)
        if isinstance(mean, Absent):
            return mean
        return replace(mean, components={**mean.components, **offsets})
    slope, offset = np.polyfit(x, y, 1)
    rest = y - offset - slope * x
    u = 2.0 * float(rest.std(ddof=2)) / math.sqrt(x.size)
    u = u or hidden_by_rounding(y, work.trace.stand.resolution.get("motor_temp_c"))
    parts = {component("within_run", source): u, **offsets}
    return Measured(float(offset), parts, samples=int(x.size))


def _minus(a: Figure, b: Figure) -> Figure:
    if isinstance(a, Absent):
        return a
    if isinstance(b, Absent):
        return b
    return difference(a, b)


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
    noise = noise or hidden_by_rounding(values, work.trace.stand.resolution.get("motor_temp_c"))
    u_s = max(u_s, work.trace.step_s / math.sqrt(12.0))
    offsets = work.trace.stand.offsets("motor_temp_c", work.run)
    source = work.source("motor_temp_c", "after the stop")
    return (
        Measured(float(smooth[top]), {component("within_run", source): noise, **offsets}),
        Measured(float(middle[top]), {component("within_run", f"{source} time"): u_s}),
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
    gains = {key: gain * energy for key, gain in power_gains(work).items()}
    figures: dict[str, Figure] = {"energy_kj": Measured(energy, gains, origin=Origin.DERIVED)}
    if isinstance(rise, Absent):
        figures["rise_k_per_kj"] = rise
        return figures
    per = rise_per_kilojoule(rise.value, energy)
    figures["rise_k_per_kj"] = (
        per if isinstance(per, Absent) else ratio(rise, Measured(energy, gains))
    )
    return figures


def _power(work: Cleaning) -> Floats | None:
    voltage, current = work.get("voltage_v"), work.get("current_a")
    if voltage is not None and current is not None:
        return filled_forward(voltage * current)
    logged = work.get("power_w")
    return None if logged is None else filled_forward(logged)


NETWORK = ("case_k_per_w", "winding_over_case_k_per_w", "winding_at_stop_c", "continuous_power_w")

MODEL_SHARE = 0.10
"""What two bodies for a motor of many may be off in the winding's rise over the case."""


def _network(work: Cleaning, moving: Bools, ambient: Figure) -> dict[str, Figure]:
    """K/W of case and winding and the continuous power, where the loss is known."""
    if isinstance(ambient, Absent):
        return dict.fromkeys(NETWORK, ambient)
    power = _power(work)
    losses = motor_losses(work, power, moving, ambient.value)
    if isinstance(losses, Absent):
        return dict.fromkeys(NETWORK, losses)
    case = filled_forward(work.channels["motor_temp_c"]) - ambient.value
    try:
        base = _fitted(work, case, losses, moving, (1.0, 1.0), None)
        fits = [base] + [
            _fitted(work, case, losses, moving, scale, base)
            for scale in ((1.0 + losses.u_copper, 1.0), (1.0, 1.0 + losses.u_rest))
        ]
    except CoreError as error:
        return dict.fromkeys(NETWORK, Absent(error.code, error.message))
    work.warn("loss_assumed", f"Heat of the motor, assumed and in u: {losses.assumed}.")
    return _network_figures(work, fits, losses, moving, ambient)


def _fitted(
    work: Cleaning,
    case_rise_k: Floats,
    losses: Losses,
    moving: Bools,
    scale: tuple[float, float],
    near: NetworkFit | None,
) -> NetworkFit:
    return fit_network(
        work.trace.time_s,
        case_rise_k,
        copper_w=scale[0] * losses.copper_w,
        iron_w=scale[1] * losses.rest_w,
        moving=moving,
        copper_per_k=losses.copper_per_k,
        near=near,
    )


@dataclass(frozen=True, slots=True)
class _Hot:
    """What one fit says of the end of the load: temperatures [°C], K/W and W."""

    case_k_per_w: float
    winding_over_case_k_per_w: float
    winding_at_stop_c: float
    continuous_power_w: float | None


def _network_figures(
    work: Cleaning, fits: Sequence[NetworkFit], losses: Losses, moving: Bools, ambient: Measured
) -> dict[str, Figure]:
    """The figures of the first fit; the others say what the losses' own u does to them."""
    last = int(np.flatnonzero(moving)[-1])
    late = slice(max(0, last - max(5, moving.size // 50)), last + 1)
    case_c = float(np.nanmean(work.channels["motor_temp_c"][late]))
    power = _power(work)
    watts = None if power is None else float(np.mean(power[late]))
    scales = ((1.0, 1.0), (1.0 + losses.u_copper, 1.0), (1.0, 1.0 + losses.u_rest))
    found = [
        _hot(work, fit, losses, late, case_c, watts, ambient.value, scale)
        for fit, scale in zip(fits, scales, strict=True)
    ]
    base = found[0]
    first = fits[0]
    relative = {
        "case_k_per_w": first.relative_u("moving_w_per_k"),
        "winding_over_case_k_per_w": first.relative_u("between_w_per_k"),
        "continuous_power_w": math.hypot(
            first.relative_u("moving_w_per_k"), first.relative_u("between_w_per_k")
        ),
    }
    figures: dict[str, Figure] = {}
    for name in NETWORK:
        value = getattr(base, name)
        if value is None:
            figures[name] = (
                Absent("no_ceiling", "needs the winding's ceiling (winding_ceiling_c)")
                if work.trace.facts.winding_ceiling_c is None
                else Absent("loss_unknown", "no power at the end of the load")
            )
            continue
        above = base.winding_at_stop_c - case_c
        own = relative.get(name)
        fit_u = own * value if own is not None else relative["winding_over_case_k_per_w"] * above
        if fit_u > LARGEST_RELATIVE_U * abs(value if own is not None else value - ambient.value):
            figures[name] = Absent(
                "not_identified", "this run does not separate it from the others"
            )
            continue
        figures[name] = Measured(
            value,
            {
                component("fit", work.source(name)): fit_u,
                component("assumed_copper", work.source("copper")): getattr(found[1], name) - value,
                component("assumed_loss", work.source("rest")): getattr(found[2], name) - value,
                **_case_doubt(work, name, above, base, ambient.value),
            },
            origin=Origin.ESTIMATED,
        )
    return figures


def _case_doubt(
    work: Cleaning, name: str, above_k: float, base: _Hot, air_c: float
) -> dict[str, float]:
    """What the model and the sensor's own error add to a figure."""
    parts = {}
    stand = work.trace.stand
    if name == "winding_at_stop_c":
        parts[component("model", work.source(name))] = MODEL_SHARE * above_k
        parts |= stand.offsets("motor_temp_c", work.run)
    elif name == "case_k_per_w":
        # An offset between both sensors is taken for a rise.
        rise = max(base.winding_at_stop_c - above_k - air_c, 1.0)
        for channel, sign in (("motor_temp_c", 1.0), ("ambient_temp_c", -1.0)):
            for key, offset in stand.offsets(channel, work.run).items():
                parts[key] = sign * offset * base.case_k_per_w / rise
    return parts


def _hot(
    work: Cleaning,
    fit: NetworkFit,
    losses: Losses,
    late: slice,
    case_c: float,
    watts: float | None,
    air_c: float,
    scale: tuple[float, float],
) -> _Hot:
    """Where a fit puts the winding at the end of the load, and the power that reaches its ceiling.

    ``scale``: of copper's and of the rest's losses in this fit.
    """
    between, moving = fit.network.between_w_per_k, fit.network.moving_w_per_k
    cold = scale[0] * float(np.mean(losses.copper_w[late]))
    rest = scale[1] * float(np.mean(losses.rest_w[late]))
    # T_w = T_c + P(T_w)/G with P growing with the winding's own rise.
    per_k = losses.copper_per_k
    denominator = max(0.05, 1.0 - cold * per_k / between)
    winding_c = (case_c + cold * (1.0 - per_k * air_c) / between) / denominator
    ceiling = work.trace.facts.winding_ceiling_c
    continuous = None
    if ceiling is not None and watts is not None:
        hot = cold * (1.0 + per_k * (winding_c - air_c))
        total = hot + rest
        if total > 0 and ceiling > air_c:
            share = hot / total
            loss = continuous_loss_w(
                fit.network, ceiling_c=ceiling, ambient_c=air_c, copper_share=share
            )
            continuous = loss * watts / total
    return _Hot(1.0 / moving, 1.0 / between, winding_c, continuous)
