"""A run whose throttle is in somebody's hand: what they are asked next, and whether they did it.

The hand is read from the throttle where the device says it, otherwise from what follows it: speed,
current, power or thrust. A position counts once it was held without a gap for as long as a plateau
is to last, by the measure by which plateaus are found afterwards
(:mod:`spindle_core.reduction.plateau`); what is only read from the data is believed to be at rest
at the begin, and that is said.
"""

from __future__ import annotations

import math
from collections import deque
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum
from typing import Final

import numpy as np

from spindle_core.errors import QuantityError

Sample = Mapping[str, float | None]

GUIDES: Final = ("throttle_pct", "speed_rpm", "current_a", "power_w", "thrust_gf")
"""What tells where the hand is, the best first."""

STEADY_S: Final = 0.5
"""What stayed within its tolerance for so long is a position, not a passage."""

LEAST_SEEN: Final = 3
"""Fewer readings show no position, however slowly a device prints."""

LONGEST_GAP_S: Final = 2.5
"""Longer without a reading, and nobody knows whether it was held meanwhile."""

REST_PCT: Final = 0.5
REST_RPM: Final = 60.0
REST_SHARE: Final = 0.03
LEVEL_SHARE: Final = 0.02
THROTTLE_WITHIN_PCT: Final = 0.5
NOISE_FACTOR: Final = 4.0
ASKED_WITHIN_PCT: Final = 4.0
"""So far from what was asked a hand may be: where it is read, what it held is what counts."""

APART_SHARE: Final = 0.05
"""A position that was asked for anew lies at least this share of the last one away from it."""


class Phase(StrEnum):
    """What is asked of the hand."""

    REST_FIRST = "rest_first"
    MOVE = "move"
    HOLD = "hold"
    BACK = "back"
    REST_LAST = "rest_last"
    DONE = "done"


@dataclass(frozen=True, slots=True)
class Prompt:
    """What is asked now: ``at`` counts positions from 0, ``of`` is how many there are; ``held_s``
    of ``hold_s`` are through; ``guide`` is what tells where the hand is, empty while nothing does.
    """

    phase: Phase
    asked_pct: float | None
    at: int
    of: int
    held_s: float
    hold_s: float
    guide: str
    says: str


@dataclass(slots=True)
class HandFollower:
    """Follows a hand through positions [%], each held for ``dwell_s``, from rest to rest.

    It has no clock: it is told the time [s] with each sample.

    :raises QuantityError: no positions, or times that are not above 0.
    """

    levels_pct: Sequence[float]
    dwell_s: float
    rest_s: float
    guide: str = ""
    phase: Phase = Phase.REST_FIRST
    at: int = 0
    _seen: deque[tuple[float, float]] = field(default_factory=deque)
    _steps: deque[float] = field(default_factory=lambda: deque(maxlen=40))
    _since_s: float | None = None
    _level: float = 0.0
    _rest: float = 0.0
    _highest: float = 0.0
    _before: float | None = None
    _last: tuple[float, float] | None = None
    _speed_rpm: float | None = None
    _now_s: float = 0.0

    def __post_init__(self) -> None:
        good = self.levels_pct and all(0 < level <= 100 for level in self.levels_pct)
        if not good or not (self.dwell_s > 0 and self.rest_s > 0):
            raise QuantityError(
                "Positions are above 0 and at most 100 %, each held for some time.", code="by_hand"
            )

    # ---- what is seen ---------------------------------------------------------------------------

    def see(self, time_s: float, sample: Sample) -> None:
        """Take in one sample; a reading that is missing or no finite number is none."""
        if self.phase is Phase.DONE:
            return
        self._now_s = time_s
        speed = _finite(sample.get("speed_rpm"))
        self._speed_rpm = speed if speed is not None else self._speed_rpm
        if not self.guide:
            self.guide = next((n for n in GUIDES if _finite(sample.get(n)) is not None), "")
        value = _finite(sample.get(self.guide)) if self.guide else None
        if value is None:
            return
        if self._last is not None and not 0 < time_s - self._last[0] <= LONGEST_GAP_S:
            self._forget()
        if self._last is not None:
            self._steps.append(abs(value - self._last[1]))
        self._last = (time_s, value)
        self._seen.append((time_s, value))
        while len(self._seen) > LEAST_SEEN and time_s - self._seen[0][0] > STEADY_S:
            self._seen.popleft()
        self._hold(time_s, value)
        self._go_on(time_s)

    def _forget(self) -> None:
        self._seen.clear()
        self._steps.clear()
        self._since_s = None
        self._last = None

    def _hold(self, time_s: float, value: float) -> None:
        """Begin or break the stretch that is held."""
        if self._since_s is not None:
            if abs(value - self._level) <= self._tolerance:
                return
            # One wild reading is none: the median of the last few says whether the hand moved.
            near = [one for _, one in list(self._seen)[-5:]]
            if abs(float(np.median(near)) - self._level) <= self._tolerance:
                return
            self._since_s = None
            self._seen = deque([(time_s, value)])
            return
        values = [one for _, one in self._seen]
        if len(values) < LEAST_SEEN or self._seen[-1][0] - self._seen[0][0] < 0.8 * STEADY_S:
            return
        level = float(np.median(values))
        spread = max(abs(one - level) for one in values)
        if spread <= self._tolerance:
            self._since_s, self._level = self._seen[0][0], level

    @property
    def _tolerance(self) -> float:
        """How far the guide may wander while it is held."""
        noise = NOISE_FACTOR * float(np.median(self._steps)) if self._steps else 0.0
        if self.guide == "throttle_pct":
            return max(THROTTLE_WITHIN_PCT, noise)
        values = [one for _, one in self._seen]
        reached = max([self._highest, *values]) - self._rest
        return max(LEVEL_SHARE * reached, noise, 1e-9)

    def _held_s(self, time_s: float) -> float:
        return 0.0 if self._since_s is None else time_s - self._since_s

    @property
    def at_rest(self) -> bool:
        """Whether the guide says that nothing is driven; False where nothing tells, or no more."""
        if self._last is None or self._now_s - self._last[0] > LONGEST_GAP_S:
            return False
        if self._speed_rpm is not None and self._speed_rpm >= REST_RPM:
            return False
        value = self._last[1]
        if self.guide == "throttle_pct":
            return value < REST_PCT
        if self.guide == "speed_rpm":
            return value < REST_RPM
        if self.phase is Phase.REST_FIRST:
            return True  # there is nothing yet to hold it against
        return value < self._rest + REST_SHARE * (self._highest - self._rest)

    # ---- what is asked --------------------------------------------------------------------------

    def _go_on(self, time_s: float) -> None:
        held = self._held_s(time_s)
        if self.phase is Phase.REST_FIRST:
            if self.at_rest and held >= self.rest_s:
                self._rest = self._highest = self._level
                self._next(Phase.MOVE)
        elif self.phase is Phase.MOVE:
            if self._since_s is not None and self._is_new(self._level):
                self.phase = Phase.HOLD
                self._highest = max(self._highest, self._level)
        elif self.phase is Phase.HOLD:
            if self._since_s is None:
                self.phase = Phase.MOVE
            elif held >= self.dwell_s:
                self._before = self._level
                self.at += 1
                self._next(Phase.MOVE if self.at < len(self.levels_pct) else Phase.BACK)
        elif self.phase is Phase.BACK:
            if self.at_rest and self._since_s is not None:
                self.phase = Phase.REST_LAST
        elif self.phase is Phase.REST_LAST:
            if self._since_s is None or not self.at_rest:
                self.phase = Phase.BACK
            elif held >= self.rest_s:
                self.phase = Phase.DONE

    def _next(self, phase: Phase) -> None:
        """What was held is through; the next one is held anew."""
        self.phase = phase
        self._since_s = None
        self._seen.clear()

    def _is_new(self, level: float) -> bool:
        """Whether this is the position that was asked for, as far as the guide can tell."""
        if self.at_rest:
            return False
        if self.guide == "throttle_pct":
            return abs(level - self.levels_pct[self.at]) <= ASKED_WITHIN_PCT
        if level - self._rest <= REST_SHARE * max(self._highest - self._rest, 1e-9):
            return False
        if self._before is None or self.levels_pct[self.at] == self.levels_pct[self.at - 1]:
            return True
        return abs(level - self._before) > max(
            APART_SHARE * abs(self._before - self._rest), 2.0 * self._tolerance
        )

    @property
    def done(self) -> bool:
        """Whether every position was held, and the rest after it."""
        return self.phase is Phase.DONE

    @property
    def held_pct(self) -> float | None:
        """The position that is held [%]: read where the throttle is read, otherwise what was asked;
        None while the hand is on its way or at rest."""
        if self.phase is not Phase.HOLD:
            return None
        if self.guide == "throttle_pct":
            return round(self._level, 1)
        return self.levels_pct[self.at]

    def prompt(self, time_s: float | None = None) -> Prompt:
        """What is asked at this time [s]; that of the last sample where none is given."""
        now = time_s if time_s is not None else (self._last[0] if self._last else 0.0)
        resting = self.phase in (Phase.REST_FIRST, Phase.REST_LAST)
        wanted = self.rest_s if resting else self.dwell_s
        counts = self.phase in (Phase.REST_FIRST, Phase.HOLD, Phase.REST_LAST)
        held = min(wanted, self._held_s(now)) if counts and (not resting or self.at_rest) else 0.0
        asked = self.levels_pct[self.at] if self.phase in (Phase.MOVE, Phase.HOLD) else None
        return Prompt(
            self.phase, asked, self.at, len(self.levels_pct), held, wanted, self.guide, self._says()
        )

    def _says(self) -> str:
        if not self.guide:
            return "Nothing is read that would tell where the hand is."
        match self.phase:
            case Phase.REST_FIRST:
                return "Throttle at zero: the zero before." if self.at_rest else "Throttle to zero."
            case Phase.MOVE:
                return self._says_move()
            case Phase.HOLD:
                return f"Hold {self.levels_pct[self.at]:g} %."
            case Phase.BACK:
                return "Throttle to zero, slowly."
            case Phase.REST_LAST:
                return "Leave it at zero: the zero after."
            case _:
                return "Done: every position was held. Unplug before you reach in."

    def _says_move(self) -> str:
        asked = self.levels_pct[self.at]
        if self._since_s is None or self.at_rest:
            return f"Move to {asked:g} % and hold."
        if self.guide == "throttle_pct":
            way = "further" if self._level < asked else "back"
            return f"That is {self._level:.0f} %; {way} to {asked:g} %."
        return f"That is the last position still; move to {asked:g} % and hold."


def _finite(value: float | None) -> float | None:
    return None if value is None or not math.isfinite(value) else value


NEAR_SHARE: Final = 0.85
"""From here on a hand is warned."""

FLOOR_SHARE: Final = 1.03
AHEAD_S: Final = 1.0
"""Who moves a lever needs about a second: what would pass the limit by then is near it now."""

Nearness = str


def nearing(
    value: float, limit: float, *, slope_per_s: float = 0.0, below: bool = False
) -> Nearness:
    """Whether a reading is ``near`` its limit, ``beyond`` it, or neither (empty).

    :param value: the reading, by its size; ``limit`` in the same unit, above 0.
    :param slope_per_s: how fast it moves [its unit per second]; no finite number counts as 0.
    :param below: the limit is a floor.
    """
    slope = slope_per_s if math.isfinite(slope_per_s) else 0.0
    ahead = value + AHEAD_S * slope
    if below:
        if value < limit:
            return "beyond"
        return "near" if value <= FLOOR_SHARE * limit or ahead < limit else ""
    if value > limit:
        return "beyond"
    return "near" if value >= NEAR_SHARE * limit or ahead > limit else ""
