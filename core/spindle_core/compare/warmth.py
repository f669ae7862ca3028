"""How warm motors got, and whether that may be compared.

A final temperature says something of two motors only where both began equally warm, were loaded
equally long and often, and nothing was run in between. Where that is not so the comparison is
refused, with the reason; what nobody noted is said.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from itertools import pairwise

from spindle_core.figures.measured import Absent, Figure, Measured, difference
from spindle_core.reduction.plateau import REST_BELOW_PCT
from spindle_core.reduction.result import Point

LIKE_START_K = 3.0
"""Starts (and airs) further apart than this are not alike."""

LIKE_SPAN = 0.10
"""Times under load further apart than this share of the longer are not alike."""

COOLED_AFTER_S = 600.0
"""A pause of this long counts as time to cool: four usual time constants of a case [s]."""

BEFORE, AFTER, AIR = "motor_temp_before_c", "motor_temp_c", "ambient_temp_c"


@dataclass(frozen=True, slots=True)
class Warmed:
    """One run's warmth: the motor before and after [°C], what lies between [K], the air [°C].

    ``span_s``: from the first to the last of its points [s], None where rows have no times.
    ``readings``: under throttle, up to the last temperature. ``runs_before``: of this sample,
    since it could cool.
    """

    key: str
    before: Figure
    after: Figure
    rise: Figure
    air_c: float | None = None
    span_s: float | None = None
    readings: int = 0
    runs_before: int = 0


@dataclass(frozen=True, slots=True)
class WarmthCompared:
    """Runs in their order. ``refused``: why they are not compared, '' where they are; ``unknown``:
    what nobody noted and is taken to be alike. ``against``: rise above that of the first [K]."""

    runs: tuple[Warmed, ...]
    refused: str = ""
    unknown: tuple[str, ...] = field(default=())
    against: tuple[Measured, ...] = field(default=())


def warmed(
    key: str,
    points: Sequence[Point],
    *,
    start_rise_k: float | None = None,
    air_c: float | None = None,
    timed: bool = True,
    runs_before: int = 0,
) -> Warmed | None:
    """What a run's points say of its warmth; None where the motor's temperature was never read.

    :param start_rise_k: of a log, the motor above the air when it began [K].
    :param air_c: of the day [°C], where the run has no thermometer in the air.
    :param timed: whether the points' times are real; those of typed rows are only an order.
    """
    ordered = sorted(points, key=lambda point: point.start_s)
    read = [at for at, point in enumerate(ordered) if _measured(point, AFTER)]
    begun = next((f for point in ordered if (f := _measured(point, BEFORE))), None)
    if not read and begun is None:
        return None
    airs = [f for point in ordered if (f := _measured(point, AIR))]
    air = airs[0].value if airs else air_c
    before: Figure = begun or Absent("not_read", "how warm it was before was not read")
    if begun is None and start_rise_k is not None and air is not None:
        before = Measured(air + start_rise_k, airs[0].components if airs else {})
    last = read[-1] if read else len(ordered) - 1
    after = ordered[last].figures.get(AFTER) if read else None
    if after is None:
        after = Absent("not_read", "how warm it was after was not read")
    rise: Figure = Absent("not_read", "needs the motor's temperature before and after")
    if isinstance(before, Measured) and isinstance(after, Measured):
        rise = difference(after, before)
    return Warmed(
        key,
        before,
        after,
        rise,
        air_c=air,
        span_s=ordered[last].end_s - ordered[0].start_s if timed else None,
        readings=sum(_loaded(point) for point in ordered[: last + 1]),
        runs_before=runs_before,
    )


def compare_warmth(runs: Sequence[Warmed]) -> WarmthCompared:
    """The rises against that of the first run, or why they are not compared."""
    listed = tuple(runs)
    refused = _unlike(listed)
    if refused:
        return WarmthCompared(listed, refused)
    rises = [run.rise for run in listed if isinstance(run.rise, Measured)]
    unknown = []
    if any(run.span_s is None for run in listed):
        unknown.append("how long each was loaded")
    if any(run.air_c is None for run in listed):
        unknown.append("how warm the air was")
    return WarmthCompared(
        listed, "", tuple(unknown), tuple(difference(rise, rises[0]) for rise in rises)
    )


def _unlike(runs: tuple[Warmed, ...]) -> str:
    """Why final temperatures are not compared; the first reason found, '' where there is none."""
    if len(runs) < 2:
        return "Of fewer than two runs the motor's temperature was read."
    if any(isinstance(run.after, Absent) for run in runs):
        return "Of one run the temperature after it was not read."
    if any(isinstance(run.before, Absent) for run in runs):
        return "How warm the motor was before was not read of each run: a rise cannot be told."
    starts = [run.before.value for run in runs if isinstance(run.before, Measured)]
    if max(starts) - min(starts) > LIKE_START_K:
        return f"They did not begin equally warm: {_listed(starts, '°C')}."
    airs = [run.air_c for run in runs if run.air_c is not None]
    if airs and max(airs) - min(airs) > LIKE_START_K:
        return f"The air was not equally warm: {_listed(airs, '°C')}."
    counts = [run.runs_before for run in runs]
    if len(set(counts)) > 1:
        return (
            "Not as many runs went before without time to cool: "
            f"{_listed([float(count) for count in counts], '')}."
        )
    spans = [run.span_s for run in runs if run.span_s is not None]
    if spans and max(spans) - min(spans) > LIKE_SPAN * max(spans):
        return f"They were not loaded equally long: {_listed(spans, 's')}."
    readings = [run.readings for run in runs]
    if len(set(readings)) > 1 and len(spans) < len(runs):
        return (
            "Not as many readings were taken under throttle before it: "
            f"{_listed([float(count) for count in readings], '')}."
        )
    return ""


def _listed(values: Sequence[float], unit: str) -> str:
    """Different values, the smallest first: "24 and 41 °C"."""
    shown = list(dict.fromkeys(f"{value:.0f}" for value in sorted(values)))
    if len(shown) == 1:
        shown = [f"{value:.1f}" for value in (min(values), max(values))]
    words = " and ".join([", ".join(shown[:-1]), shown[-1]])
    return f"{words} {unit}".rstrip()


def _measured(point: Point, name: str) -> Measured | None:
    figure = point.figures.get(name)
    return figure if isinstance(figure, Measured) else None


def _loaded(point: Point) -> bool:
    throttle = point.value("throttle_pct")
    return throttle is None or throttle >= REST_BELOW_PCT


def runs_before(
    starts_s: Sequence[float], ends_s: Sequence[float], *, cooled_after_s: float
) -> list[int]:
    """How many runs of one sample went before each without time to cool.

    :param starts_s: in their order [s]; ``ends_s``: of the same runs.
    :param cooled_after_s: a pause of this long begins anew [s].
    """
    counts = [0] * len(starts_s)
    for at, (before, now) in enumerate(pairwise(range(len(starts_s))), start=1):
        paused = starts_s[now] - ends_s[before]
        counts[at] = 0 if paused >= cooled_after_s else counts[at - 1] + 1
    return counts
