"""How far a motor may be loaded: the heaviest propeller below its limits, the lightest above them.

Loads are ordered by how much of the tightest limit full throttle uses. What ran is known; what did
not is taken for below or above only where its prediction is so by two of its standard u. Between
the two lies what has to be tried, the lightest first, so that each step is the smallest one.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from spindle_core.errors import QuantityError
from spindle_core.figures.said import figure

SURE: Final = 2.0
"""A prediction counts where it lies so many of its standard u off the limit."""


class LimitSide(StrEnum):
    """On which side of the limit a load lies."""

    BELOW = "below"
    ABOVE = "above"
    UNSURE = "unsure"


@dataclass(frozen=True, slots=True)
class Rung:
    """One propeller on the motor. ``used``: share of the tightest limit at full throttle, 1 at the
    limit, NaN where nothing is predicted; ``used_u``: its standard u, in the same terms.

    ``ran``: a run reached full throttle and was not cut; ``cut``: a run was ended by a limit.
    """

    key: int
    name: str
    used: float
    used_u: float
    ran: bool = False
    cut: bool = False
    may_mount: bool = True

    def __post_init__(self) -> None:
        if self.used < 0 or self.used_u < 0:
            raise QuantityError("A share of a limit and its u are 0 or more.")

    @property
    def side(self) -> LimitSide | None:
        """Where it lies; None where nothing is predicted and nothing ran."""
        if self.cut:
            return LimitSide.ABOVE
        if self.ran:
            return LimitSide.BELOW
        if not math.isfinite(self.used):
            return None
        # A prediction without any u is no certainty: there is none of that kind.
        if not math.isfinite(self.used_u):
            return LimitSide.UNSURE
        if self.used + SURE * self.used_u <= 1.0:
            return LimitSide.BELOW
        return LimitSide.ABOVE if self.used - SURE * self.used_u > 1.0 else LimitSide.UNSURE

    @property
    def load(self) -> float:
        """Its place among the loads, as foreseen: a run tells its side, not its load."""
        if math.isfinite(self.used):
            return self.used
        return 1.0 if self.ran or self.cut else math.inf


@dataclass(frozen=True, slots=True)
class Bracket:
    """What encloses the limit. ``tried``: both were run. ``next``: the rung to run next, None where
    nothing between them is left to try."""

    below: Rung | None
    above: Rung | None
    next: Rung | None
    words: str

    @property
    def tried(self) -> bool:
        """Whether both ends were run and not only predicted."""
        return bool(self.below and self.above and self.below.ran and self.above.cut)


def bracket(rungs: Sequence[Rung]) -> Bracket:
    """What encloses a motor's limit among propellers."""
    sides = {id(rung): rung.side for rung in rungs}
    known = sorted(
        (rung for rung in rungs if sides[id(rung)] is not None), key=lambda r: (r.load, r.key)
    )
    # What ran tells more than what is foreseen of lighter ones.
    heaviest = max((rung.load for rung in known if rung.ran and not rung.cut), default=-math.inf)
    above = next(
        (
            rung
            for rung in known
            if sides[id(rung)] is LimitSide.ABOVE and (rung.cut or rung.load > heaviest)
        ),
        None,
    )
    under = [rung for rung in known if sides[id(rung)] is LimitSide.BELOW]
    if above is not None and above.cut:
        # What was cut tells more than what is foreseen of heavier ones.
        under = [rung for rung in under if rung.ran or rung.load <= above.load]
    below = under[-1] if under else None
    trials = [
        rung
        for rung in known
        if rung.may_mount
        and not (rung.ran or rung.cut)
        and (sides[id(rung)] is LimitSide.UNSURE or rung is below)
        and (above is None or not above.cut or rung.load < above.load)
        and not any(other.ran and other.load >= rung.load for other in known)
    ]
    chosen = trials[0] if trials else None
    return Bracket(below, above, chosen, _words(below, above, chosen, len(known)))


def _words(below: Rung | None, above: Rung | None, chosen: Rung | None, known: int) -> str:
    if not known:
        return "Nothing can be predicted of any of these propellers on it."
    parts = []
    if below is not None:
        how = "ran" if below.ran else "is foreseen to run"
        parts.append(f"{below.name} {how} at full throttle below every limit{_share(below)}")
    else:
        parts.append("no propeller here is known to run below every limit at full throttle")
    if above is not None:
        how = "was cut by a limit" if above.cut else "is foreseen to pass one"
        parts.append(f"{above.name} {how}{_share(above)}")
    else:
        parts.append("none is known to pass one")
    said = "; ".join(parts)
    said = said[0].upper() + said[1:] + "."
    if chosen is not None:
        return f"{said} Next: {chosen.name}{_share(chosen)}, the smallest step that tells more."
    return f"{said} Nothing between them is left to try."


def _share(rung: Rung) -> str:
    if not math.isfinite(rung.used):
        return ""
    u = 100.0 * rung.used_u if math.isfinite(rung.used_u) else None
    return f" (~{figure(100.0 * rung.used, u, '%')} of the tightest)"
