"""Adding to the rig."""

from __future__ import annotations

from django.db import transaction

from spindle_server.accounts.models import User
from spindle_server.errors import ConflictError
from spindle_server.history import save_as
from spindle_server.intake.models import Maker
from spindle_server.rig.models import Propeller


@transaction.atomic
def add_propeller(
    *, actor: User | None, maker: str, diameter_in: float, pitch_in: float, blades: int
) -> Propeller:
    """A propeller; its maker is created when it is new."""
    maker_row = Maker.objects.filter(name=maker.strip()).first()
    if maker_row is None:
        maker_row = Maker(name=maker.strip())
        save_as(maker_row, actor)
    propeller = Propeller(
        maker=maker_row, diameter_in=diameter_in, pitch_in=pitch_in, blades=blades
    )
    if Propeller.objects.filter(
        maker=maker_row, diameter_in=diameter_in, pitch_in=pitch_in, blades=blades
    ).exists():
        raise ConflictError(f"{propeller.full_name} is there already.", code="propeller_exists")
    save_as(propeller, actor)
    return propeller
