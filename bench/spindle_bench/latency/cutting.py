"""From the sample that is beyond a limit to the throttle that is zero, by the stand's own time."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from spindle_bench.latency.house import Keeping, a_run, house, until
from spindle_bench.limits import Limits
from spindle_bench.states import AT_REST

LIMIT_GF = 150.0


async def cut_times_ms(folder: Path, cuts: int, rate_hz: float) -> list[float]:
    """Let so many runs pass their thrust limit on the way up [ms each]."""
    found = []
    async with house(folder) as made:
        engine = made.agent.engine
        kept = Keeping(made.agent.spool)
        engine.recorder = kept
        for number in range(cuts):
            await until(lambda: engine.state in AT_REST, 60.0)
            limits = Limits(current_a=50.0, thrust_gf=LIMIT_GF)
            plan = a_run(f"cut-{number}", rate_hz, limits, levels_pct=[80.0], dwell_s=1.5)
            end = await made.run(plan)
            if end.code != "limit_thrust_gf":
                raise RuntimeError(f"A run that was to pass its limit ended otherwise: {end}")
            found.append(cut_ms(kept.times_s, kept.rows, engine.channels))
    return found


def cut_ms(
    times_s: Sequence[float], rows: Sequence[Sequence[float | None]], channels: Sequence[str]
) -> float:
    """From the first sample beyond the limit to the first whose applied throttle is 0 [ms].

    :raises ValueError: the rows hold no such pair.
    """
    thrust, throttle = channels.index("thrust_gf"), channels.index("throttle_pct")
    beyond = None
    for time_s, row in zip(times_s, rows, strict=True):
        value = row[thrust]
        if beyond is None and value is not None and abs(value) > LIMIT_GF:
            beyond = time_s
        if beyond is not None and row[throttle] == 0.0:
            return 1000.0 * (time_s - beyond)
    raise ValueError("no sample passed the limit, or the throttle never came to 0")
