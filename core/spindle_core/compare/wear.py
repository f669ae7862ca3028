"""A sample against itself: what hours of use have done to it.

The first runs of a sample under a load stand against those made after so many hours more. Sample,
propeller and stand are the same, so that what samples differ by and the stand's gains cancel; what
is left is wear, and whatever else changed between.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from spindle_core.compare.bench_table import FULL, Load, RanRun, read_under
from spindle_core.compare.delta import DEFAULT_MARGIN, Delta, compare, is_told
from spindle_core.compare.measured_run import CURVE_KINDS
from spindle_core.compare.of_models import of_sample
from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Figure, Measured

AT_FULL = ("thrust_gf", "current_a", "vibration_g")
UNLOADED = ("kv_raw_rpm_per_v", "no_load_current_a")
"""A bearing that dries shows in the current without a propeller before it shows anywhere else."""


@dataclass(frozen=True, slots=True)
class Used:
    """A run with the hours that its sample had been used before it [h]."""

    run: RanRun
    hours: float


@dataclass(frozen=True, slots=True)
class Worn:
    """One figure of a sample under a load, first and now; ``runs``: how many on either side."""

    sample: str
    load: Load
    name: str
    first: Measured
    now: Measured
    hours: float
    runs: tuple[int, int]
    delta: Delta


def wear(runs: Sequence[Used], least_hours: float, *, margin: float = DEFAULT_MARGIN) -> list[Worn]:
    """Every figure that was read both at first and at least so many hours of use later.

    ``first``: runs made before a tenth of these hours had passed since the first under the load.

    :param least_hours: of use between them, above 0.
    """
    if not least_hours > 0:
        raise QuantityError("Wear needs hours of use between its runs.", code="hours")
    groups: dict[tuple[str, Load, bool], list[Used]] = {}
    for one in runs:
        curve = one.run.kind in CURVE_KINDS
        if curve or one.run.kind == "no_load":
            groups.setdefault((one.run.sample, one.run.load, curve), []).append(one)
    found = []
    for (sample, load, curve), group in groups.items():
        begun = min(one.hours for one in group)
        first = [one for one in group if one.hours - begun < 0.1 * least_hours]
        now = [one for one in group if one.hours - begun >= least_hours]
        for name in AT_FULL if curve else UNLOADED:
            was, later = _read(first, name, curve), _read(now, name, curve)
            if not was or not later or not is_told(_mean(was, name)):
                continue
            before, after = _mean(was, f"{name}/first"), _mean(later, f"{name}/now")
            between = min(one.hours for one in now) - begun
            found.append(
                Worn(
                    sample,
                    load,
                    name,
                    before,
                    after,
                    between,
                    (len(was), len(later)),
                    compare(after, before, margin=margin),
                )
            )
    return found


def _read(group: Sequence[Used], name: str, curve: bool) -> list[Measured]:
    figures: list[Figure] = [
        read_under(one.run.core, name, FULL, None)
        if curve
        else one.run.summary.get(name, Absent("not_measured", "no run tells it"))
        for one in group
    ]
    return [figure for figure in figures if isinstance(figure, Measured)]


def _mean(figures: Sequence[Measured], source: str) -> Measured:
    return of_sample(figures, source=f"wear/{source}")
