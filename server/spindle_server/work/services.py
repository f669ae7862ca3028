"""Asking for long work, and asking it to stop."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from contextlib import contextmanager, suppress
from typing import Any

from django.db import transaction

from spindle_server.accounts.models import Role, User
from spindle_server.errors import ConflictError
from spindle_server.records.writes import writes
from spindle_server.work.doing import GaveWayError
from spindle_server.work.models import ACTIVE, LongWork

GOES_ON: dict[str, Any] = {}
"""Work that goes on by itself after its process died, by title; whoever has some adds its task."""


@writes(Role.REVIEWER)
def ask_for(*, actor: User | None, title: str, task: Any) -> LongWork:
    """A piece of long work, done by ``task`` (a task that takes the work's number) as soon as the
    process for it is free.

    :raises ConflictError: the same is waiting or running already.
    """
    if LongWork.objects.filter(title=title, state__in=ACTIVE).exists():
        raise ConflictError(f"“{title}” is being done already.", code="at_work")
    work = LongWork(title=title, asked_by=actor)
    work.save()
    # Only what is on record may be taken up.
    transaction.on_commit(lambda: task.enqueue(work.pk))
    return work


@contextmanager
def gives_way(pk: int, task: Any) -> Iterator[None]:
    """Work that lets others go first takes its place behind them."""
    try:
        yield
    except GaveWayError:
        task.enqueue(pk)
        raise


def go_on(titles: Iterable[str]) -> list[str]:
    """Ask again for what was lost and goes on by itself; returns what did."""
    known = [title for title in titles if title in GOES_ON]
    for title in known:
        with suppress(ConflictError):
            ask_for(actor=None, title=title, task=GOES_ON[title])
    return known


@writes(Role.REVIEWER)
def stop_work(*, actor: User, work: LongWork) -> LongWork:
    """Ask it to stop at its next step; what is done stays.

    :raises ConflictError: it has ended.
    """
    row = LongWork.objects.select_for_update().get(pk=work.pk)
    if row.state not in ACTIVE:
        raise ConflictError("It has ended already.", code="ended")
    row.stop_asked = True
    row.save(update_fields=["stop_asked"])
    return row
