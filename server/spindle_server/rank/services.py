"""Keeping weights by name, and rankings as they stand."""

from __future__ import annotations

from typing import Any

from django.db import IntegrityError, transaction

from spindle_core.rank.scoring import PRESETS
from spindle_server.accounts.models import Role, User
from spindle_server.errors import ServiceError
from spindle_server.rank.judging import Asked
from spindle_server.rank.models import KeptRanking, OwnWeights
from spindle_server.rank.selectors import as_content, ranking
from spindle_server.records.versions import locked, refuse_stale
from spindle_server.records.writes import writes


@writes(Role.REVIEWER)
def keep_weights(*, actor: User, name: str, weights: dict[str, float]) -> OwnWeights:
    """Weights under a name that no other has and no preset is called.

    :raises ServiceError: a name that is taken, or weights that weigh nothing.
    """
    called = name.strip()
    if sum(weights.values()) <= 0:
        message = "Give at least one criterion a weight above 0."
        raise ServiceError(message, code="no_weight", fields={"weights": [message]})
    message = f"There are weights named {called} already."
    taken = ServiceError(message, code="name_taken", fields={"name": [message]})
    if called.lower() in PRESETS:
        raise taken
    row = OwnWeights(name=called, weights=weights, made_by=actor)
    try:
        with transaction.atomic():
            row.save()
    except IntegrityError as error:
        if not OwnWeights.objects.filter(name=called).exists():
            raise
        raise taken from error
    return row


@writes(Role.REVIEWER)
def drop_weights(*, actor: User, kept: OwnWeights, base: int | None) -> None:
    """Drop weights; rankings that were kept with them stay as they are."""
    row = locked(OwnWeights, kept.pk)
    refuse_stale(row, base, ["name", "weights"])
    row.delete()


@writes(Role.REVIEWER)
def keep_ranking(*, actor: User, title: str, asked: Asked, said: dict[str, Any]) -> KeptRanking:
    """The ranking as it stands now, computed anew.

    :param said: what was asked, as an address says it.
    :raises ServiceError: nobody is ranked.
    """
    result = ranking(asked)
    if not any(row["place"] for row in result["rows"]):
        message = "Nobody is ranked: there is nothing to keep."
        raise ServiceError(message, code="nobody_ranked", fields={"title": [message]})
    # The load that was used is part of the question: more runs under another must not change it.
    fixed = {**said, "load": result["load"]} if result["load"] else said
    row = KeptRanking(title=title.strip(), asked=fixed, content=as_content(result), kept_by=actor)
    row.save()
    return row
