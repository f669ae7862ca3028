"""What of the checklist is asked before a run, from what the same person confirmed today."""

from __future__ import annotations

from collections.abc import Sequence

from django.utils import timezone

from spindle_bench.look_around import Asked, Confirmed, Mounted, asked_for
from spindle_bench.plan import RunPlan
from spindle_server.accounts.models import Role, User
from spindle_server.bench.models import LookAround
from spindle_server.records.writes import writes
from spindle_server.runs.models import RunEnd

CUT = ("limit", "fault", "interrupted")


def asked_of(
    person: User,
    mounted: Mounted,
    *,
    limits_off: Sequence[str],
    page_grace_s: float,
    guard_off: bool = False,
    by_hand: bool = False,
) -> Asked:
    """What this person has to confirm before this run."""
    last = _last_today(person)
    before = None
    if last is not None:
        before = Confirmed(Mounted(**last.mounted), frozenset(last.items))
    return asked_for(
        mounted,
        before,
        limits_off=limits_off,
        page_grace_s=page_grace_s,
        guard_off=guard_off,
        by_hand=by_hand,
        after_fault=last is not None and _was_cut(last),
    )


def _last_today(person: User) -> LookAround | None:
    # A day begins at midnight where the bench stands.
    now = timezone.localtime()
    begin = now.replace(hour=0, minute=0, second=0, microsecond=0)
    return LookAround.objects.filter(operator=person, at__gte=begin).first()


def _was_cut(last: LookAround) -> bool:
    return RunEnd.objects.filter(run__uid=last.run_id, outcome__in=CUT).exists()


@writes(Role.REVIEWER)
def keep(*, actor: User, plan: RunPlan, mounted: Mounted, confirmed: Sequence[str]) -> None:
    """Keep what was confirmed for a run that is armed."""
    last = _last_today(actor)
    before = set(last.items) if last is not None and not _was_cut(last) else set()
    LookAround.objects.create(
        operator=actor,
        mounted={
            "sample": mounted.sample,
            "load": mounted.load,
            "supply": mounted.supply,
            "stand": mounted.stand,
            "kind": mounted.kind,
        },
        items=sorted({*confirmed, *before}),
        run_id=plan.run_id,
    )
