"""What share of the supply's voltage the motor saw."""

from __future__ import annotations

import math

FULL_THROTTLE_PCT = 99.0
"""From here on an ESC passes the supply through, whatever its curve below."""

SMALLEST_PCT = 2.0
"""Below this a throttle, or a duty in percent, tells nothing about a motor that turns."""


def known_duty(
    *, duty: float | None, throttle_pct: float | None, esc_linear: bool | None
) -> float | None:
    """Duty (0–1] as far as it is known, or None.

    A logged ``duty`` stands for itself. Full throttle [%] is a duty of 1; below it the throttle
    is the duty only where the ESC is declared to be linear. NaN counts as not logged.
    """
    if duty is not None and math.isfinite(duty):
        return duty if SMALLEST_PCT / 100.0 < duty <= 1.0 else None
    if throttle_pct is None or not math.isfinite(throttle_pct):
        return None
    if throttle_pct >= FULL_THROTTLE_PCT:
        return 1.0
    return throttle_pct / 100.0 if esc_linear and throttle_pct > SMALLEST_PCT else None
