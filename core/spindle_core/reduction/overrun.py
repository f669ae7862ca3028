"""Points beyond what a motor is rated for: kept and marked, and barred from recommendations."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from spindle_core.figures.measured import Measured
from spindle_core.reduction.result import Point

_LABELS = {
    "current_a": ("current", "A"),
    "power_w": ("power", "W"),
    "motor_temp_c": ("temperature", "°C"),
    "thrust_gf": ("thrust", "gf"),
    "speed_rpm": ("speed", "rpm"),
    "voltage_v": ("voltage", "V"),
}


@dataclass(frozen=True, slots=True)
class Overrun:
    """Why a point is an overrun, and for how long it lasted [s].

    ``justification``: the words that let it be recommended nevertheless; '' bars it.
    """

    point: int
    reasons: tuple[str, ...]
    seconds: float
    justification: str = ""

    @property
    def barred(self) -> bool:
        """Whether the point stays out of recommendations and rankings."""
        return not self.justification.strip()


def overruns(
    points: Sequence[Point],
    limits: Mapping[str, float],
    *,
    smoke_at_s: float | None = None,
    justifications: Mapping[int, str] | None = None,
) -> list[Overrun]:
    """Every point beyond a declared rating or kill limit, or after a note of smell or smoke.

    A figure counts as beyond its limit when it exceeds it by more than its own u.

    :param limits: figure name → limit [unit by name].
    :param smoke_at_s: time of the note [s]; all points ending later are overruns.
    :param justifications: point number → words.
    """
    found = []
    for number, point in enumerate(points):
        reasons = [
            f"{_LABELS.get(name, (name, ''))[0]} {figure.value:.4g} above "
            f"{limit:g} {_LABELS.get(name, ('', ''))[1]}".rstrip()
            for name, limit in limits.items()
            if isinstance(figure := point.figures.get(name), Measured)
            and figure.value > limit + figure.u
        ]
        if smoke_at_s is not None and point.end_s >= smoke_at_s:
            reasons.append("after a note of smell or smoke")
        if reasons:
            words = (justifications or {}).get(number, "")
            found.append(Overrun(number, tuple(reasons), point.end_s - point.start_s, words))
    return found


def recommendable(points: Sequence[Point], found: Sequence[Overrun]) -> list[Point]:
    """The points that may be recommended and ranked."""
    barred = {overrun.point for overrun in found if overrun.barred}
    return [point for number, point in enumerate(points) if number not in barred]
