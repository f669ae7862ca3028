"""Response: the speed after each jump up, laid over each other."""

from __future__ import annotations

from dataclasses import dataclass, field

from spindle_bench.buckets import Bucket
from spindle_bench.live.picture import Row

MOST_CYCLES = 6
LONGEST_S = 1.0


@dataclass(slots=True)
class Cycles:
    """The first second after each jump up, a series a cycle; the newest cycles are kept."""

    shape: str = "cycles"
    _cycles: dict[str, list[Row]] = field(default_factory=dict)
    _begun_s: float = 0.0

    def see(self, bucket: Bucket) -> None:
        """A cycle begins where its label does."""
        if not bucket.label.endswith(": high"):
            return
        name = bucket.label.removesuffix(": high")
        if name not in self._cycles:
            self._begun_s = bucket.begin_s
            kept = list(self._cycles.items())[-MOST_CYCLES + 1 :]
            self._cycles = {**dict(kept), name: []}
        speed = bucket.mean("speed_rpm")
        since_s = bucket.begin_s - self._begun_s
        if speed is not None and since_s <= LONGEST_S:
            self._cycles[name].append(Row(since_s, {"speed_rpm": speed}, name))

    def rows(self) -> list[Row]:
        """The newest cycles."""
        return [row for rows in self._cycles.values() for row in rows]

    def says(self) -> str:
        """How many there are."""
        return f"{len(self._cycles)} jumps laid over each other." if len(self._cycles) > 1 else ""
