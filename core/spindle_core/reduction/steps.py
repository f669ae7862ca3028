"""Reduction of a run made of throttle plateaus to one point per plateau.

Thrust and torque are tared with the zeros before and after the run, single wild samples are set
aside and listed, each plateau is trimmed to its settled part and averaged, and u of each mean
allows for the autocorrelation of sampled noise.
"""

from __future__ import annotations

import numpy as np

from spindle_core.errors import ReductionError
from spindle_core.figures.measured import Absent, Figure, Measured
from spindle_core.figures.quantities import CHANNELS
from spindle_core.reduction import cleaning
from spindle_core.reduction.cleaning import Cleaning
from spindle_core.reduction.figures import derived, mean_of, power_of
from spindle_core.reduction.plateau import Plateau, Plateaus, find_plateaus, least_dropped_s, settle
from spindle_core.reduction.result import Point, Reduction
from spindle_core.reduction.thrust_summary import summarise
from spindle_core.run.tare import Tare
from spindle_core.run.trace import Trace


def reduce(trace: Trace) -> Reduction:
    """Points per plateau and the summary of a ``steps`` run.

    :raises ReductionError: nothing in the trace tells where the plateaus are, or there is none.
    """
    work, points, found = plateau_points(trace)
    say_all(work, points, found)
    tare = work.tares.get("thrust_gf", Tare(None, None))
    summary = summarise(points, tare, tared=work.tared)
    return Reduction("steps", points, summary, tuple(work.warnings), tuple(work.outliers))


def plateau_points(trace: Trace) -> tuple[Cleaning, tuple[Point, ...], Plateaus]:
    """The cleaned trace, a point per plateau and where the plateaus lie.

    :raises ReductionError: nothing in the trace tells where the plateaus are, or there is none.
    """
    work = cleaning.begin(trace)
    found = find_plateaus(work.trace)
    if found is None:
        raise ReductionError(
            "No throttle, speed, current, power or thrust was logged; plateaus cannot be found.",
            code="no_guide_channel",
        )
    if not found.plateaus:
        raise ReductionError(
            "No plateau of at least 1.5 s at constant throttle was found.", code="no_plateau"
        )
    # The jump onto the plateau is no outlier, and its samples are never averaged.
    spans = [_averaged_at_most(work.trace, plateau) for plateau in found.plateaus]
    heads = [
        (plateau.start, first)
        for plateau, (first, _) in zip(found.plateaus, spans, strict=True)
        if first > plateau.start
    ]
    cleaning.mask_lost_speed(work, spans, level=True, heads=heads)
    cleaning.mask_outliers(work, spans)
    cleaning.tare(work, found.at_rest)
    named = found.guide == "throttle_pct"
    return work, tuple(plateau_point(work, p, named=named) for p in found.plateaus), found


def _averaged_at_most(trace: Trace, plateau: Plateau) -> tuple[int, int]:
    span = trace.time_s[plateau.start : plateau.stop] - trace.time_s[plateau.start]
    first = plateau.start + int(np.searchsorted(span, least_dropped_s(float(span[-1]))))
    return first, plateau.stop


def plateau_point(work: Cleaning, plateau: Plateau, *, named: bool) -> Point:
    """The means of a plateau's settled part, from tared channels.

    :param named: whether the plateau's level is a throttle [%].
    """
    watched = [work.channels[name] for name in ("speed_rpm", "thrust_gf") if name in work.channels]
    used = settle(work.trace, plateau, watched)
    part = slice(used.start, used.stop)
    figures: dict[str, Figure] = {}
    if named:
        figures["throttle_pct"] = Measured(plateau.level, samples=used.stop - used.start)
    else:
        figures["throttle_pct"] = Absent("not_logged", "throttle was not logged")
    for name in CHANNELS:
        if name not in ("throttle_pct", "power_w"):
            figures[name] = mean_of(work, name, part)
    figures["power_w"] = power_of(work, part)
    figures.update(derived(figures))
    times = work.trace.time_s
    return Point(
        figures,
        start_s=float(times[plateau.start]),
        used_from_s=float(times[used.start]),
        end_s=float(times[plateau.stop - 1]),
        settled=used.settled,
    )


def say_all(work: Cleaning, points: tuple[Point, ...], found: Plateaus) -> None:
    """The remarks a reviewer needs before using the points of plateaus."""
    if found.guide != "throttle_pct":
        work.warn(
            "plateaus_from_data", f"No throttle was logged; plateaus were found in {found.guide}."
        )
    _say_unsettled(work, points)
    cleaning.say_outliers(work)
    cleaning.say_end(work, found.at_rest)
    cleaning.say_warm_start(work)


def _say_unsettled(work: Cleaning, points: tuple[Point, ...]) -> None:
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
