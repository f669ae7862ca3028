"""Whether the rotor is still: the evidence for *safe*, beside the throttle's read-back."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

STILL_BELOW_RPM: Final = 60.0
STILL_FOR_S: Final = 0.3
STALE_S: Final = 0.5


@dataclass(slots=True)
class Stillness:
    """Follows the speed signal. A signal that was lost under throttle is not believed at 0."""

    speed_rpm: float | None = None
    trusted: bool = True
    _seen: float = -1e9
    _slow_since: float | None = None

    def see(self, speed_rpm: float | None, now: float) -> None:
        """One reading of the speed [rpm]; None where there is none."""
        self.speed_rpm, self._seen = speed_rpm, now
        if speed_rpm is not None and speed_rpm >= STILL_BELOW_RPM:
            self.trusted = True
        if speed_rpm is None or speed_rpm >= STILL_BELOW_RPM:
            self._slow_since = None
        elif self._slow_since is None:
            self._slow_since = now

    def known(self, now: float) -> bool:
        """Whether the speed is known now."""
        return self.trusted and self.speed_rpm is not None and now - self._seen <= STALE_S

    def still(self, now: float) -> bool:
        """Whether the rotor has been still for a moment."""
        slow = self._slow_since
        return self.known(now) and slow is not None and now - slow >= STILL_FOR_S
