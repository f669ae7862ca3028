"""What a pack has left: said once, and then followed run by run."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

import numpy as np

from spindle_core.errors import QuantityError
from spindle_core.figures.arrays import Floats
from spindle_core.figures.measured import Absent, Figure, Measured, Origin

USED_SHARE: Final = 0.8
"""How much of a pack is used before it is charged again: usual practice; its maker comes first."""

METER_RELATIVE_U: Final = 0.02
"""Standard u of a charge that was summed up from a current meter of which nothing is asked here."""

METER_PART: Final = "assumed_calibration@current meter"

CAPACITY_HALF_WIDTH: Final = 0.1
"""What is printed on a pack may be off by so much of itself either way: assumed."""

CAPACITY_PART: Final = "assumed_capacity@label"

MAH_PER_AS: Final = 1000.0 / 3600.0


class Charge(StrEnum):
    """How a pack stands."""

    FULL = "full"
    PART_USED = "part_used"
    CHARGING = "charging"
    RESTING = "resting"
    UNKNOWN = "unknown"


WORDS: Final = {
    Charge.FULL: "full",
    Charge.PART_USED: "part used",
    Charge.CHARGING: "on the charger",
    Charge.RESTING: "resting",
    Charge.UNKNOWN: "nobody said how it stands",
}


def charge_taken(time_s: Floats, current_a: Floats) -> Figure:
    """The charge that a run took [mAh], by the trapezoidal rule; what flows back counts against it.

    Between samples that are missing the current is drawn straight; what it may have been there,
    up to the largest that was seen, is in u.

    :param time_s: (n,), rising.
    :param current_a: (n,), NaN where no sample is.
    :raises QuantityError: arrays of different length, or time that runs back.
    """
    if time_s.shape != current_a.shape:
        raise QuantityError("Time and current have one length.")
    if time_s.size and (not np.isfinite(time_s).all() or (np.diff(time_s) < 0).any()):
        raise QuantityError("Time rises from sample to sample.", code="time_not_rising")
    seen = np.isfinite(current_a)
    if seen.sum() < 2:
        return Absent("no_current", "no current was recorded")
    time, amps = time_s[seen], current_a[seen]
    taken = float(np.trapezoid(amps, time)) * MAH_PER_AS
    steps = np.diff(time)
    # A step over missing samples lies between two seen ones that are no neighbours.
    over = np.diff(np.flatnonzero(seen)) > 1
    blind = float(steps[over].sum()) + float(time[0] - time_s[0]) + float(time_s[-1] - time[-1])
    missed = blind * float(np.abs(amps).max()) * MAH_PER_AS / math.sqrt(3.0)
    parts = {METER_PART: METER_RELATIVE_U * abs(taken)}
    if missed > 0:
        parts["gap@run"] = missed
    return Measured(taken, parts, n=1, origin=Origin.ESTIMATED)


@dataclass(frozen=True, slots=True)
class PackNow:
    """A pack as it stands. ``used_mah`` since it was full; ``left_mah`` until the usual share of
    it is used. ``may_run``: nothing that is known speaks against a run."""

    state: Charge
    used_mah: Figure
    left_mah: Figure
    may_run: bool
    words: str


NOT_KNOWN: Final = Absent("not_known", "how much was used before is not known")


def pack_now(
    said: Charge,
    taken: Sequence[Figure],
    *,
    capacity_mah: float | None,
    used_before_mah: float | None = None,
) -> PackNow:
    """How a pack stands that somebody said something of, after the runs that came since.

    :param taken: what each of these runs took [mAh].
    :param used_before_mah: what was used when it was said; None where nobody said.
    :raises QuantityError: a capacity or a use that cannot be.
    """
    if capacity_mah is not None and not capacity_mah > 0:
        raise QuantityError("A capacity is above 0 mAh.")
    if used_before_mah is not None and not used_before_mah >= 0:
        raise QuantityError("What was used is 0 mAh or more.", code="used_mah")
    state = said
    if taken and said is not Charge.UNKNOWN:
        # Whoever ran it took it off the charger.
        state = Charge.PART_USED
    used = _used(said, taken, used_before_mah)
    left: Figure
    if capacity_mah is None:
        left = Absent("no_capacity", "its capacity is not known")
    elif isinstance(used, Absent):
        left = used
    else:
        usable = USED_SHARE * capacity_mah
        label = CAPACITY_HALF_WIDTH * usable / math.sqrt(3.0)
        parts = {**used.components, CAPACITY_PART: label}
        left = Measured(usable - used.value, parts, n=used.n, origin=Origin.ESTIMATED)
    empty = isinstance(left, Measured) and left.value <= left.u
    may_run = state not in (Charge.CHARGING, Charge.RESTING) and not empty
    return PackNow(state, used, left, may_run, _words(state, used, capacity_mah, empty))


def _used(said: Charge, taken: Sequence[Figure], before_mah: float | None) -> Figure:
    if said is Charge.UNKNOWN or (said is Charge.CHARGING and (taken or before_mah is None)):
        # What a charger had put back when it was taken off nobody knows.
        return NOT_KNOWN
    begun = 0.0 if said is Charge.FULL and before_mah is None else before_mah
    if begun is None:
        return NOT_KNOWN
    parts: dict[str, float] = {}
    total = begun
    for number, one in enumerate(taken):
        if isinstance(one, Absent):
            return Absent(one.reason, f"what a run since then took is not known: {one.note}")
        total += one.value
        for name, value in one.components.items():
            # One meter errs alike in all of them; what was missed differs from run to run.
            key = name if name == METER_PART else f"{name} {number}"
            parts[key] = parts.get(key, 0.0) + value
    return Measured(total, parts, n=max(1, len(taken)), origin=Origin.ESTIMATED)


def _words(state: Charge, used: Figure, capacity_mah: float | None, empty: bool) -> str:
    said = WORDS[state]
    if state is Charge.PART_USED and isinstance(used, Measured) and capacity_mah is not None:
        said += f", about {100.0 * used.value / capacity_mah:.0f} % of it"
    return f"{said}: charge it first" if empty else said
