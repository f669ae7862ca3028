"""Which of a campaign's supplies is meant."""

from __future__ import annotations

from rest_framework.exceptions import NotFound

from spindle_server.plan.models import Campaign
from spindle_server.rig.models import Supply


def supply_of(campaign: Campaign, wanted: str) -> Supply:
    """The supply that is asked for, the first where none is.

    :raises NotFound: the campaign does not name it, or names none.
    """
    supplies = list(campaign.supplies.all())
    found = next((one for one in supplies if str(one.pk) == wanted), None)
    if found is None and (wanted or not supplies):
        raise NotFound("The campaign does not name this supply.")
    return found or supplies[0]
