"""Noting what went wrong with the gear."""

from __future__ import annotations

from typing import Any

from spindle_server.accounts.models import Role, User
from spindle_server.errors import ServiceError
from spindle_server.motors.dates import in_the_future
from spindle_server.records.versions import locked, write_fields
from spindle_server.records.writes import writes
from spindle_server.rig.models import GEAR, GearIncident


@writes(Role.REVIEWER)
def note_gear_incident(*, actor: User | None, **values: Any) -> GearIncident:
    """Something that went wrong with one thing of the rig; what is destroyed is retired.

    :raises ServiceError: of nothing or of several things, or a day in the future.
    """
    named = [name for name in GEAR if values.get(name) is not None]
    if len(named) != 1:
        message = "Say which one it was: an ESC, a supply, a propeller or a stand."
        raise ServiceError(message, code="which", fields={"thing": [message]})
    if in_the_future(values["happened_on"]):
        message = "The date lies in the future."
        raise ServiceError(message, code="future", fields={"happened_on": [message]})
    incident = GearIncident(noted_by=actor, **values)
    incident.save()
    if incident.destroyed and not incident.thing.retired:
        thing = locked(type(incident.thing), incident.thing.pk)
        write_fields(thing, {"retired": True}, base=thing.version)
    return incident
