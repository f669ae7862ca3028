"""A run sheet at the bench: its steps as they were taken there, and which of them are done.

A run is done when the bench made it: looked at are runs since the sheet was taken, of its sample,
propeller and supply, that nobody rejected. What comes before a run that is done is done too: nobody
mounts a propeller after its run.
"""

from __future__ import annotations

from collections import Counter
from typing import Any

from spindle_bench.states import Outcome
from spindle_server.accounts.models import Role, User
from spindle_server.errors import ServiceError
from spindle_server.motors.models import Merged
from spindle_server.plan.models import Campaign, DaySheet, SheetTick
from spindle_server.plan.run_sheets import sheet_of
from spindle_server.records.versions import locked, write_fields
from spindle_server.records.writes import writes
from spindle_server.rig.models import Supply
from spindle_server.runs.models import Run

CAME_THROUGH = (Outcome.COMPLETED, Outcome.GAVE_UP, Outcome.LIMIT)
"""How a run ends that need not be made again: what was stopped or failed is still to be run."""


def sheet_in_use() -> DaySheet | None:
    """The sheet that was taken to the bench last and is not put away."""
    rows = DaySheet.objects.filter(put_away=False).select_related("campaign", "supply", "taken_by")
    return rows.prefetch_related("ticks").first()


@writes(Role.REVIEWER)
def take_sheet(*, actor: User, campaign: Campaign, supply: Supply, drift: str) -> DaySheet:
    """Take what is still to run to the bench; the one that is there is put away.

    :raises ServiceError: nothing is left to run.
    """
    made = sheet_of(campaign, supply, drift)
    if not made["steps"]:
        raise ServiceError(
            f"Nothing is left to run on {supply.name}.", code="nothing_to_run", fields={}
        )
    # Of two who take one at once the later finds the other's.
    for other in DaySheet.objects.select_for_update().filter(put_away=False):
        other.put_away = True
        other.version += 1
        other.save()
    row = DaySheet(
        campaign=campaign,
        supply=supply,
        drift=drift,
        steps=made["steps"],
        reference=made["reference"],
        taken_by=actor,
    )
    row.save()
    return row


@writes(Role.REVIEWER)
def tick_step(*, actor: User, sheet: DaySheet, step: int, done: bool) -> DaySheet:
    """Tick a step or take its tick away.

    :raises ServiceError: no such step, a sheet that was put away, or a tick taken from a run that
        was made.
    """
    row = locked(DaySheet, sheet.pk)
    if row.put_away:
        raise _refused("This sheet was put away.")
    if not 0 <= step < len(row.steps):
        raise _refused(f"The sheet has {len(row.steps)} steps.")
    tick = SheetTick.objects.filter(sheet=row, step=step).first()
    if done and tick is None:
        SheetTick(sheet=row, step=step, ticked_by=actor).save()
    elif not done:
        if tick is not None:
            tick.delete()
        if steps_done(row)[step]:
            raise _refused("It is done by a run that the bench made; reject that run instead.")
    return row


@writes(Role.REVIEWER)
def put_away(*, actor: User, sheet: DaySheet, base: int | None) -> DaySheet:
    """Put a sheet away; it stays in the record."""
    row = locked(DaySheet, sheet.pk)
    write_fields(row, {"put_away": True}, base=base)
    return row


def steps_now(sheet: DaySheet) -> list[dict[str, Any]]:
    """The steps with the propellers' numbers of today: one that became part of another since is
    found under that one's. What they are called stays as it was taken to the bench."""
    named = {step["propeller"] for step in sheet.steps if step["propeller"] is not None}
    became = dict(
        Merged.objects.filter(thing="propeller", gone__in=named).values_list("gone", "stays")
    )
    return [
        {**step, "propeller": became.get(step["propeller"], step["propeller"])}
        for step in sheet.steps
    ]


def steps_done(sheet: DaySheet) -> list[bool]:
    """Which steps are done, in their order."""
    steps = steps_now(sheet)
    made: Counter[tuple[int, int | None]] = Counter(
        Run.objects.filter(
            origin="bench",
            started_at__gte=sheet.taken_at,
            supply=sheet.supply_id,
            end__outcome__in=CAME_THROUGH,
            sample__in={step["sample"] for step in steps},
        )
        .exclude(review="rejected")
        .exclude(kind="direction")
        .order_by()
        .values_list("sample", "propeller")
    )
    ticked = {tick.step for tick in SheetTick.objects.filter(sheet=sheet)}
    found = [False] * len(steps)
    for place, step in enumerate(steps):
        cell = (step["sample"], step["propeller"])
        if place in ticked:
            found[place] = True
            if step["kind"] == "run" and made[cell]:
                # The run that was ticked may be one of those that the bench made.
                made[cell] -= 1
        elif step["kind"] == "run" and made[cell]:
            made[cell] -= 1
            found[place] = True
    last = _last_run(sheet, found)
    for place, step in enumerate(sheet.steps):
        if step["kind"] != "run" and place < last:
            found[place] = True
    return found


def _last_run(sheet: DaySheet, found: list[bool]) -> int:
    """The place of the last run that is done; -1 where none is."""
    runs = [i for i, step in enumerate(sheet.steps) if step["kind"] == "run" and found[i]]
    return max(runs, default=-1)


def sheet_json(sheet: DaySheet) -> dict[str, Any]:
    """A sheet with what is done of it, and the place of the first step that is not."""
    done = steps_done(sheet)
    steps = [{**step, "done": on} for step, on in zip(steps_now(sheet), done, strict=True)]
    return {
        "id": sheet.pk,
        "version": sheet.version,
        "campaign": sheet.campaign_id,
        "title": sheet.campaign.title,
        "supply": sheet.supply_id,
        "supply_name": sheet.supply.name,
        "taken_at": sheet.taken_at,
        "taken_by": sheet.taken_by.shown_name if sheet.taken_by else "",
        "put_away": sheet.put_away,
        "reference": sheet.reference,
        "steps": steps,
        "next": next((i for i, on in enumerate(done) if not on), None),
    }


def _refused(said: str) -> ServiceError:
    return ServiceError(said, code="day_sheet", fields={"step": [said]})
