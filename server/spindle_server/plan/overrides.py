"""A proposed run that the reviewer does not want next: why, and what was set up in its place."""

from __future__ import annotations

from django.db.models import QuerySet

from spindle_server.accounts.models import Role, User
from spindle_server.errors import ServiceError
from spindle_server.motors.models import Sample
from spindle_server.plan.models import Campaign, Override
from spindle_server.records.versions import locked, write_fields
from spindle_server.records.writes import writes
from spindle_server.rig.models import Propeller, Supply


def overrides_of(campaign: Campaign) -> QuerySet[Override]:
    """What was decided against proposals of a campaign, the newest first."""
    return (
        Override.objects.filter(campaign=campaign)
        .select_related("decided_by", "supply")
        .select_related("sample__motor__maker", "propeller__maker")
        .select_related("chosen_sample__motor__maker", "chosen_propeller__maker")
    )


def passed_over(campaign: Campaign, supply: Supply) -> set[tuple[int, int]]:
    """Cells (sample, propeller) that are not to be proposed on a supply."""
    rows = Override.objects.filter(campaign=campaign, supply=supply, active=True)
    return set(rows.values_list("sample", "propeller"))


@writes(Role.REVIEWER)
def override(
    *,
    actor: User,
    campaign: Campaign,
    supply: Supply,
    sample: Sample,
    propeller: Propeller,
    reason: str,
    chosen_sample: Sample | None = None,
    chosen_propeller: Propeller | None = None,
) -> Override:
    """Pass over a proposed run, with the reason.

    :raises ServiceError: no reason, a cell that the campaign does not name, half of a cell or the
        proposed one as what is run in its place, or one that is passed over already.
    """
    # Two who pass over the same run at once leave one row.
    held = locked(Campaign, campaign.pk)
    reason = reason.strip()
    if not reason:
        raise _refused("reason", "Say why: whoever looks at it next year will ask.")
    if not held.supplies.filter(pk=supply.pk).exists():
        raise _refused("supply", "The campaign does not name this supply.")
    _refuse_strange(held, sample, propeller, "sample", "propeller")
    if (chosen_sample is None) != (chosen_propeller is None):
        raise _refused("chosen_propeller", "Name motor and propeller of what is run in its place.")
    if chosen_sample is not None and chosen_propeller is not None:
        _refuse_strange(held, chosen_sample, chosen_propeller, "chosen_sample", "chosen_propeller")
        if (chosen_sample.pk, chosen_propeller.pk) == (sample.pk, propeller.pk):
            raise _refused("chosen_sample", "This is the run that was proposed.")
    if (sample.pk, propeller.pk) in passed_over(held, supply):
        raise _refused("sample", "This run is passed over already.")
    row = Override(
        campaign=held,
        supply=supply,
        sample=sample,
        propeller=propeller,
        reason=reason,
        chosen_sample=chosen_sample,
        chosen_propeller=chosen_propeller,
        decided_by=actor,
    )
    row.save()
    return row


def _refuse_strange(
    campaign: Campaign, sample: Sample, propeller: Propeller, first: str, second: str
) -> None:
    if not campaign.samples.filter(pk=sample.pk).exists():
        raise _refused(first, "The campaign does not name this sample.")
    if not campaign.propellers.filter(pk=propeller.pk).exists():
        raise _refused(second, "The campaign does not name this propeller.")


@writes(Role.REVIEWER)
def change_override(*, actor: User, row: Override, active: bool, base: int | None) -> Override:
    """Take it back, so that the run is proposed again; or let it stand again."""
    held = locked(Override, row.pk)
    write_fields(held, {"active": active}, base=base)
    return held


def _refused(field: str, said: str) -> ServiceError:
    return ServiceError(said, code="override", fields={field: [said]})
