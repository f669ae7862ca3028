"""One figure that was stated, and what is true."""

from __future__ import annotations

from dataclasses import dataclass

K_95 = 1.96


@dataclass(frozen=True, slots=True)
class Case:
    """One figure of one bench day: what was stated and what is true, in the figure's unit."""

    figure: str
    value: float
    u: float
    truth: float

    @property
    def inside(self) -> bool:
        """Whether the stated 95 % interval holds the truth."""
        return abs(self.value - self.truth) <= K_95 * self.u
