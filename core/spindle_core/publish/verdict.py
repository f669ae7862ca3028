"""Statements made from figures: they keep what they were made from, and go stale with it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from spindle_core.compare.delta import Delta, Outcome
from spindle_core.figures.measured import Absent, Figure, Measured


@dataclass(frozen=True, slots=True)
class Statement:
    """A sentence and the figures it rests on: key → (value, u) at the time it was made."""

    text: str
    rests_on: Mapping[str, tuple[float, float]]

    def is_stale(self, now: Mapping[str, Figure]) -> tuple[str, ...]:
        """Keys of figures that changed or went; empty while the sentence still holds.

        :param now: the figures as they are, by the same keys.
        """
        changed = []
        for key, (value, u) in self.rests_on.items():
            figure = now.get(key)
            if not isinstance(figure, Measured) or (figure.value, figure.u) != (value, u):
                changed.append(key)
        return tuple(changed)


def strongest_point(name: str, figures: Mapping[str, Figure]) -> Statement | Absent:
    """What the motor does at most, from ``max_thrust_gf`` and ``max_current_a``."""
    thrust, current = figures.get("max_thrust_gf"), figures.get("max_current_a")
    if not isinstance(thrust, Measured):
        return Absent("not_measured", "no maximum thrust")
    text = f"{name} pulls {thrust.value:.0f} ± {2 * thrust.u:.0f} gf"
    rests = {"max_thrust_gf": (thrust.value, thrust.u)}
    if isinstance(current, Measured):
        text += f" at {current.value:.1f} A"
        rests["max_current_a"] = (current.value, current.u)
    runs = "one run" if thrust.n == 1 else f"{thrust.n} runs"
    return Statement(f"{text} ({runs}).", rests)


def label_statement(name: str, label_kv: float, measured: Figure) -> Statement | Absent:
    """How the label's kV stands against the measured one."""
    if not isinstance(measured, Measured):
        return Absent("not_measured", "kV was not measured")
    off = 100.0 * (measured.value / label_kv - 1.0)
    u = 100.0 * measured.u / label_kv
    if abs(off) <= 1.96 * u:
        said = f"agrees with its label of {label_kv:.0f} rpm/V"
    else:
        side = "faster" if off > 0 else "slower"
        said = f"is {abs(off):.1f} % {side} than its label of {label_kv:.0f} rpm/V"
    return Statement(f"{name} {said}.", {"kv_rpm_per_v": (measured.value, measured.u)})


def comparison_statement(
    candidate: str, baseline: str, what: str, delta: Delta, *, key: str
) -> Statement:
    """One comparison in words; what was not resolved is said to be so."""
    if delta.outcome is Outcome.DIFFERENT:
        more = "more" if delta.delta_pct > 0 else "less"
        said = f"{candidate} takes {abs(delta.delta_pct):.1f} % {more} {what} than {baseline}"
    elif delta.outcome is Outcome.EQUIVALENT:
        said = f"{candidate} and {baseline} take the same {what} within the bench's margin"
    else:
        said = (
            f"{candidate} and {baseline} cannot be told apart in {what} "
            f"({delta.delta_pct:+.1f} ± {delta.half_width_pct:.1f} %)"
        )
    return Statement(f"{said}.", {key: (delta.delta.value, delta.delta.u)})
