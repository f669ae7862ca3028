"""Several runs in one file, cut at the idle time between them."""

from __future__ import annotations

import numpy as np

from spindle_core.figures.arrays import Floats

KEPT_IDLE_S = 4.0
"""Idle time left at both ends of each run, for the tare."""


def run_spans(
    time_s: Floats, channels: dict[str, Floats], *, idle_s: float
) -> list[tuple[int, int]]:
    """Samples (start, stop) of each run.

    A run is busy while throttle, current, speed or power is above 2 % of its largest; idle time
    of at least ``idle_s`` ends it, and so does a gap in time of that length. Up to 4 s of idle
    stay at each end. Without any of those channels the file is one run.

    :param time_s: shape (n,) [s].
    """
    busy = np.zeros(time_s.size, dtype=bool)
    known = False
    for name in ("throttle_pct", "current_a", "speed_rpm", "power_w"):
        values = channels.get(name)
        if values is None or not np.isfinite(values).any():
            continue
        top = float(np.nanpercentile(values, 99.5))
        if top > 0:
            busy |= np.nan_to_num(values, nan=0.0) > 0.02 * top
            known = True
    if not known or not busy.any():
        return [(0, time_s.size)]
    active = np.flatnonzero(busy)
    pauses = np.flatnonzero(np.diff(time_s[active]) >= idle_s)
    firsts = [int(active[0]), *(int(active[i + 1]) for i in pauses)]
    lasts = [*(int(active[i]) for i in pauses), int(active[-1])]
    spans = []
    for number, (first, last) in enumerate(zip(firsts, lasts, strict=True)):
        begin, end = time_s[first] - KEPT_IDLE_S, time_s[last] + KEPT_IDLE_S
        if number:
            begin = max(begin, 0.5 * (time_s[lasts[number - 1]] + time_s[first]))
        if number + 1 < len(firsts):
            end = min(end, 0.5 * (time_s[last] + time_s[firsts[number + 1]]))
        start = 0 if len(firsts) == 1 else int(np.searchsorted(time_s, begin))
        stop = time_s.size if len(firsts) == 1 else int(np.searchsorted(time_s, end, side="right"))
        spans.append((start, stop))
    return spans
