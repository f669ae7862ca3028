"""Peak: a bar a burst, with mean and spread."""

from __future__ import annotations

import re
from dataclasses import dataclass, field

from spindle_bench.buckets import Bucket, means_of
from spindle_bench.live.picture import Row
from spindle_core.planning.underway import spread_so_far

AFTER_S = 0.5
"""A burst is read from this long after it is reached."""

_BURST = re.compile(r"burst (\d+) of \d+")


@dataclass(slots=True)
class Bursts:
    """A bar a burst: mean from half a second after full throttle was reached."""

    shape: str = "bars"
    _bursts: dict[int, list[Bucket]] = field(default_factory=dict)

    def see(self, bucket: Bucket) -> None:
        """Only what is commanded full, by its label, is read."""
        number = _BURST.fullmatch(bucket.label)
        if number is not None:
            self._bursts.setdefault(int(number[1]), []).append(bucket)

    def rows(self) -> list[Row]:
        """The bursts so far."""
        found = []
        for number, buckets in self._bursts.items():
            read = [one for one in buckets if one.begin_s - buckets[0].begin_s >= AFTER_S]
            if read:
                found.append(Row(number, means_of(read), f"burst {number}"))
        return found

    def says(self) -> str:
        """Mean and spread of thrust."""
        thrusts = [row.values["thrust_gf"] for row in self.rows() if "thrust_gf" in row.values]
        spread = spread_so_far(thrusts)
        if spread is None:
            return ""
        text = f"{spread.n} bursts, mean {spread.mean:,.0f} gf"
        if spread.n == 1:
            text = f"First burst {spread.mean:,.0f} gf"
        return f"{text}, spread {spread.s:.1f} gf." if spread.s is not None else f"{text}."
