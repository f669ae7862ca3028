"""Reduction of a run made of throttle plateaus to one point per plateau.

Thrust and torque are tared with the zeros before and after the run, single wild samples are set
aside and listed, each plateau is trimmed to its settled part and averaged, and u of each mean
allows for the autocorrelation of sampled noise.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from spindle_core.autocorrelation import standard_error_of_mean
from spindle_core.errors import ReductionError
from spindle_core.measured import Absent, Measured, propagate, ratio
from spindle_core.outliers import Outlier, outlier_mask
from spindle_core.plateau import Plateau, Plateaus, find_plateaus, least_dropped_s, settle
from spindle_core.quantities import CHANNELS
from spindle_core.reduction.result import Figure, Point, Reduction, Remark
from spindle_core.reduction.steps_summary import summarise
from spindle_core.tare import Tare, find_tare
from spindle_core.trace import Floats, Trace

POWER_MISMATCH = 0.02
"""A meter's own power further than this from V × A is flagged."""

WARM_START_K = 5.0
"""A motor this much above the air at the start is called warm."""


@dataclass
class _Work:
    """The trace while it is being cleaned; collects what has to be said about it."""

    trace: Trace
    plateaus: Plateaus
    channels: dict[str, Floats]
    tares: dict[str, Tare]
    warnings: list[Remark]
    outliers: list[Outlier]

    def warn(self, code: str, message: str) -> None:
        self.warnings.append(Remark(code, message))


def reduce(trace: Trace) -> Reduction:
    """Points per plateau and the summary of a ``steps`` run.

    :raises ReductionError: nothing in the trace tells where the plateaus are, or there is none.
    """
    found = find_plateaus(trace)
    if found is None:
        raise ReductionError(
            "No throttle, speed, current, power or thrust was logged; plateaus cannot be found.",
            code="no_guide_channel",
        )
    if not found.plateaus:
        raise ReductionError(
            "No plateau of at least 1.5 s at constant throttle was found.", code="no_plateau"
        )
    work = _prepare(trace, found)
    points = tuple(_point(work, plateau) for plateau in found.plateaus)
    _say_what_was_seen(work, points)
    summary = summarise(points, work.tares["thrust_gf"], tared=work.tares["thrust_gf"].present)
    return Reduction("steps", points, summary, tuple(work.warnings), tuple(work.outliers))


def _prepare(trace: Trace, found: Plateaus) -> _Work:
    channels = {name: values.copy() for name, values in trace.channels.items()}
    work = _Work(trace, found, channels, {}, [], [])
    _mask_lost_speed(work)
    _mask_impossible(work)
    for name in channels:
        if name not in ("throttle_pct", "duty"):
            _mask_outliers(work, name)
    for name in ("thrust_gf", "torque_nm"):
        samples = channels.get(name)
        if samples is None:
            work.tares[name] = Tare(None, None)
            continue
        tare = find_tare(trace.time_s, samples, at_rest=found.at_rest)
        work.tares[name] = tare
        channels[name] = tare.apply(trace.time_s, samples)
    return work


def _mask_impossible(work: _Work) -> None:
    """Values no sensor of such a bench can mean are masked and counted."""
    counts = {}
    for name, samples in work.channels.items():
        channel = CHANNELS[name]
        wrong = (samples < channel.low) | (samples > channel.high)
        if name not in ("throttle_pct", "speed_rpm") and wrong.any():
            counts[name] = int(wrong.sum())
            samples[wrong] = np.nan
    if counts:
        listed = ", ".join(f"{name} {count}" for name, count in counts.items())
        work.warn("impossible_samples", f"Physically impossible samples left out: {listed}.")


def _mask_lost_speed(work: _Work) -> None:
    """A speed of 0 under throttle is a lost signal, not a stopped propeller."""
    speed = work.channels.get("speed_rpm")
    if speed is None:
        return
    for plateau in work.plateaus.plateaus:
        part = speed[plateau.start : plateau.stop]
        lost = part <= 0.0
        if lost.any() and not lost.all():
            begin = work.trace.time_s[plateau.start : plateau.stop][lost][0]
            work.warn(
                "lost_rpm",
                f"Speed was lost for {int(lost.sum())} samples from {begin:.2f} s; "
                "they are left out.",
            )
            part[lost] = np.nan


def _mask_outliers(work: _Work, name: str) -> None:
    samples = work.channels[name]
    times = work.trace.time_s
    for plateau in work.plateaus.plateaus:
        # The jump onto the plateau is no outlier, and its samples are never averaged.
        span = times[plateau.start : plateau.stop] - times[plateau.start]
        first = plateau.start + int(np.searchsorted(span, least_dropped_s(float(span[-1]))))
        part = samples[first : plateau.stop]
        mask = outlier_mask(part)
        for offset in np.flatnonzero(mask):
            time = float(times[first + offset])
            work.outliers.append(Outlier(name, time, float(part[offset])))
        part[mask] = np.nan


def _point(work: _Work, plateau: Plateau) -> Point:
    watched = [work.channels[name] for name in ("speed_rpm", "thrust_gf") if name in work.channels]
    used = settle(work.trace, plateau, watched)
    part = slice(used.start, used.stop)
    figures: dict[str, Figure] = {}
    if work.plateaus.guide == "throttle_pct":
        figures["throttle_pct"] = Measured(plateau.level, samples=used.stop - used.start)
    else:
        figures["throttle_pct"] = Absent("not_logged", "throttle was not logged")
    for name in CHANNELS:
        if name in ("throttle_pct", "power_w"):
            continue
        tare = work.tares.get(name)
        figures[name] = _mean(work.channels.get(name), part, tare.u if tare else 0.0)
    figures["power_w"] = _power(work, part)
    figures["efficiency_g_per_w"] = _quotient(figures["thrust_gf"], figures["power_w"], 1.0)
    shaft = _shaft_power(figures["torque_nm"], figures["speed_rpm"])
    figures["shaft_power_w"] = shaft
    figures["motor_esc_efficiency_pct"] = _quotient(shaft, figures["power_w"], 100.0)
    times = work.trace.time_s
    return Point(
        figures,
        start_s=float(times[plateau.start]),
        used_from_s=float(times[used.start]),
        end_s=float(times[plateau.stop - 1]),
        settled=used.settled,
    )


def _mean(samples: Floats | None, part: slice, tare_u: float) -> Figure:
    if samples is None:
        return Absent("not_logged", "the channel was not logged")
    valid = samples[part][np.isfinite(samples[part])]
    if valid.size < 2:
        return Absent("no_samples", "fewer than two samples in the used part")
    components = {"within_run": standard_error_of_mean(valid)}
    if tare_u:
        components["tare"] = tare_u
    return Measured(float(valid.mean()), components, samples=int(valid.size))


def _power(work: _Work, part: slice) -> Figure:
    """Mean of V·I (not mean V × mean I); a logged power where V or I is missing."""
    voltage, current = work.channels.get("voltage_v"), work.channels.get("current_a")
    logged = _mean(work.channels.get("power_w"), part, 0.0)
    if voltage is None or current is None:
        return logged
    computed = _mean(voltage * current, part, 0.0)
    if isinstance(computed, Absent):
        return logged
    if isinstance(logged, Measured) and computed.value > 0:
        off = logged.value / computed.value - 1.0
        if abs(off) > POWER_MISMATCH:
            work.warn(
                "power_mismatch",
                f"The meter's power is {100 * off:+.1f} % off volts × amps at "
                f"{float(work.trace.time_s[part.start]):.1f} s; volts × amps is used.",
            )
    return Measured(computed.value, computed.components, samples=computed.samples)


def _quotient(top: Figure, bottom: Figure, scale: float) -> Figure:
    if isinstance(top, Absent):
        return top
    if isinstance(bottom, Absent):
        return bottom
    if bottom.value <= 0:
        return Absent("no_power", "the electrical power is not above 0 W")
    quotient = ratio(top, _renamed(bottom, "power"))
    if isinstance(quotient, Absent):
        return quotient
    parts = {name: scale * part for name, part in quotient.components.items()}
    return Measured(scale * quotient.value, parts, origin=quotient.origin)


def _renamed(figure: Measured, prefix: str) -> Measured:
    """The scatter of two channels is independent, so their components must not share a name."""
    parts = {f"{prefix}_{name}": part for name, part in figure.components.items()}
    return Measured(figure.value, parts, n=figure.n, origin=figure.origin)


def _shaft_power(torque: Figure, speed: Figure) -> Figure:
    if isinstance(torque, Absent):
        return torque
    if isinstance(speed, Absent):
        return speed
    per_rpm = 2.0 * math.pi / 60.0
    return propagate(
        lambda m, n: m * n * per_rpm,
        (torque, _renamed(speed, "speed")),
        partials=(speed.value * per_rpm, torque.value * per_rpm),
    )


def _say_what_was_seen(work: _Work, points: tuple[Point, ...]) -> None:
    if work.plateaus.guide != "throttle_pct":
        work.warn(
            "plateaus_from_data",
            f"No throttle was logged; plateaus were found in {work.plateaus.guide}.",
        )
    _say_tare(work)
    _say_unsettled(work, points)
    if work.outliers:
        by_channel: dict[str, int] = {}
        for outlier in work.outliers:
            by_channel[outlier.channel] = by_channel.get(outlier.channel, 0) + 1
        labels = {name: CHANNELS[name].label.lower() for name in by_channel}
        listed = ", ".join(f"{by_channel[name]} of {labels[name]}" for name in sorted(by_channel))
        total = len(work.outliers)
        were = "1 sample was" if total == 1 else f"{total} samples were"
        work.warn("outliers", f"{were} left out as outliers: {listed}.")
    if not work.plateaus.at_rest[-1]:
        work.warn("ended_under_throttle", "The log ends before the throttle was back at 0.")
    _say_warm_start(work)


def _say_unsettled(work: _Work, points: tuple[Point, ...]) -> None:
    """One remark for all plateaus whose means are those of something still moving."""
    names = []
    for point in points:
        level = point.value("throttle_pct")
        if not point.settled:
            names.append(f"{point.start_s:.1f} s" if level is None else f"{level:.0f} %")
    if names:
        those = "plateau" if len(names) == 1 else f"{len(names)} plateaus"
        work.warn(
            "unsettled",
            f"Still changing when it ended: the {those} at {', '.join(names)}. Dwell longer, or "
            "start cooler; the means there are not steady values.",
        )


def _say_tare(work: _Work) -> None:
    if "thrust_gf" not in work.channels:
        return
    tare = work.tares["thrust_gf"]
    if not tare.present:
        work.warn("tare_missing", "No zero throttle in the log: thrust is as the stand gave it.")
        return
    drift = tare.drift()
    if isinstance(drift, Measured):
        largest = float(np.nanmax(np.abs(work.channels["thrust_gf"])))
        if abs(drift.value) > max(3.0 * drift.u, 0.005 * largest):
            work.warn(
                "tare_drift",
                f"The zero moved by {drift.value:+.1f} gf during the run; "
                "it was taken out as a straight line.",
            )


def _say_warm_start(work: _Work) -> None:
    first_second = work.trace.time_s <= work.trace.time_s[0] + 1.0
    rises = (work.trace.get("motor_temp_c") - work.trace.get("ambient_temp_c"))[first_second]
    rises = rises[np.isfinite(rises)]
    if rises.size and float(np.median(rises)) > WARM_START_K:
        work.warn(
            "warm_start",
            f"The motor was {float(np.median(rises)):.0f} K above the air at the start; a cold "
            "motor would draw and give slightly more.",
        )
