"""Saying how a pack stands."""

from __future__ import annotations

from django.utils import timezone

from spindle_server.accounts.models import Role, User
from spindle_server.errors import ServiceError
from spindle_server.records.versions import locked
from spindle_server.records.writes import writes
from spindle_server.rig.models import PackSaid, Supply


@writes(Role.REVIEWER)
def say_pack(
    *, actor: User | None, supply: Supply, state: str, used_mah: float | None = None
) -> PackSaid:
    """The last word on a pack; whoever speaks last is heard, and every word stays in its history.

    :raises ServiceError: no pack, one that is joined of others, or more used than it holds.
    """
    pack = locked(Supply, supply.pk)
    if pack.kind != "pack":
        raise _refused("state", "Only a pack is charged; this is a bench supply.")
    if pack.joined:
        raise _refused("state", f"{pack.name} is joined: say it of its packs.")
    if used_mah is not None and pack.capacity_mah and used_mah > pack.capacity_mah:
        raise _refused("used_mah", f"It holds {pack.capacity_mah:g} mAh.")
    if used_mah is not None and state == "full":
        raise _refused("used_mah", "Of a full pack nothing is used.")
    row = PackSaid.objects.select_for_update().filter(supply=pack).first()
    row = row or PackSaid(supply=pack, version=0)
    row.state, row.used_mah = state, used_mah
    row.said_at, row.said_by = timezone.now(), actor
    row.version += 1
    row.save()
    return row


def _refused(field: str, said: str) -> ServiceError:
    return ServiceError(said, code="pack", fields={field: [said]})
