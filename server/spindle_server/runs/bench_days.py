"""Beginning a bench day, and changing it with or without the runs that took from it."""

from __future__ import annotations

import datetime
from typing import Any

from django.utils import timezone

from spindle_server.accounts.models import Role, User
from spindle_server.errors import ConflictError, ServiceError
from spindle_server.motors.dates import in_the_future
from spindle_server.records.versions import locked, write_fields
from spindle_server.records.writes import writes
from spindle_server.rig.bench_day import given_by
from spindle_server.rig.models import BenchDay
from spindle_server.runs.models import Run
from spindle_server.runs.reducing import reduce_run


@writes(Role.REVIEWER)
def put_day(
    *,
    actor: User | None,
    day: datetime.date,
    base: int | None = None,
    with_runs: bool | None = None,
    **values: Any,
) -> BenchDay:
    """Begin a day, or change it from version ``base``.

    :param with_runs: whether runs that took their air or ESC from the day change with it. It has
        to be said once there are such runs.
    :raises ServiceError: a day in the future, or runs are touched and nobody said what becomes
        of them.
    """
    if in_the_future(day):
        message = "The day lies in the future."
        raise ServiceError(message, code="future", fields={"day": [message]})
    row = BenchDay.objects.select_for_update().filter(day=day).first()
    if row is None:
        row = BenchDay(day=day, **values)
        row.save()
        return row
    if base is None and any(getattr(row, name) != value for name, value in values.items()):
        raise ConflictError(
            f"{day} was begun already. Look at what stands there, then change it.",
            code="begun_already",
        )
    before = given_by(row)
    write_fields(row, values, base=base)
    after = given_by(row)
    changed = {name for name in before.keys() | after.keys() if before.get(name) != after.get(name)}
    touched = [run for run in runs_of(day) if changed & set(run.inherited)]
    if touched and with_runs is None:
        named = ", ".join(str(run.pk) for run in touched[:12])
        more = f" and {len(touched) - 12} more" if len(touched) > 12 else ""
        raise ServiceError(
            f"{len(touched)} of the day's runs took this from it: {named}{more}. Say whether they "
            "change with it.",
            code="touches_runs",
        )
    for run in touched if with_runs else ():
        _follow(run, after)
    return row


def _follow(run: Run, given: dict[str, Any]) -> None:
    """What a run took from its day becomes what the day says now; its figures are made anew."""
    row = locked(Run, run.pk)
    values = {name: given.get(name, _nothing(name)) for name in row.inherited}
    if write_fields(row, values, base=row.version):
        reduce_run(row)


def _nothing(name: str) -> str | None:
    return "" if name == "command_source" else None


def runs_of(day: datetime.date) -> list[Run]:
    """The day's runs, the first one first."""
    begin = timezone.make_aware(datetime.datetime.combine(day, datetime.time.min))
    until = begin + datetime.timedelta(days=1)
    rows = Run.objects.filter(started_at__gte=begin, started_at__lt=until)
    return list(rows.order_by("started_at", "pk"))


def touched_by(day: BenchDay) -> list[int]:
    """Runs that took something from the day."""
    return [run.pk for run in runs_of(day.day) if run.inherited]
