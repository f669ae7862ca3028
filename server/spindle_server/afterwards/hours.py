"""Hours and starts of samples: on the bench from their recordings, in the air from flights."""

from __future__ import annotations

import datetime
from collections.abc import Iterable
from dataclasses import dataclass, field

from django.db.models import Max, Min
from django.utils import timezone

from spindle_server.afterwards.models import Flight
from spindle_server.runs.models import Run, TraceSegment


@dataclass(slots=True)
class Used:
    """What a sample was used. ``untimed``: runs that were typed, of which nobody knows the time.

    ``log``: day and hours of every run and flight, as it went on.
    """

    bench_h: float = 0.0
    bench_starts: int = 0
    flown_h: float = 0.0
    flown_starts: int = 0
    untimed: int = 0
    log: list[tuple[datetime.date, float]] = field(default_factory=list)

    @property
    def hours(self) -> float:
        """Altogether."""
        return self.bench_h + self.flown_h

    @property
    def starts(self) -> int:
        """Altogether."""
        return self.bench_starts + self.flown_starts

    def until(self, day: datetime.date) -> float:
        """Hours up to a day, which counts with it."""
        return sum(hours for on, hours in self.log if on <= day)


def used(samples: Iterable[int]) -> dict[int, Used]:
    """Sample → what it was used; three queries. A rejected run has turned the motor too."""
    found = {pk: Used() for pk in samples}
    runs = {
        pk: (sample, timezone.localtime(at).date(), origin)
        for pk, sample, at, origin in Run.objects.filter(sample__in=found)
        .order_by("started_at", "pk")
        .values_list("pk", "sample", "started_at", "origin")
    }
    lengths = {
        run: max(0.0, end - begin)
        for run, begin, end in TraceSegment.objects.filter(run__sample__in=found)
        .order_by()
        .values("run")
        .annotate(begin=Min("begin_s"), end=Max("end_s"))
        .values_list("run", "begin", "end")
    }
    for pk, (sample, day, origin) in runs.items():
        one = found[sample]
        one.bench_starts += 1
        if origin == "typed":
            one.untimed += 1
            continue
        hours = lengths.get(pk, 0.0) / 3600.0
        one.bench_h += hours
        one.log.append((day, hours))
    flights = (
        Flight.objects.filter(samples__in=found, struck_reason="")
        .order_by("flown_on", "pk")
        .values_list("samples", "flown_on", "minutes")
    )
    for sample, day, minutes in flights:
        if sample not in found:
            continue
        one = found[sample]
        one.flown_starts += 1
        one.flown_h += minutes / 60.0
        one.log.append((day, minutes / 60.0))
    for one in found.values():
        one.log.sort()
    return found
