"""Freezing."""

from __future__ import annotations

from spindle_server.accounts.models import Role, User
from spindle_server.compare.selectors import compared
from spindle_server.compare.serializers import ComparisonSerializer
from spindle_server.errors import ServiceError
from spindle_server.publish.models import Snapshot
from spindle_server.records.writes import writes


@writes(Role.EDITOR)
def freeze_comparison(
    *, actor: User, title: str, runs: list[int], baseline: int | None, thrusts_gf: list[float]
) -> Snapshot:
    """A frozen copy of a comparison; rejected runs cannot be published."""
    comparison = compared(runs, baseline, thrusts_gf)
    rejected = [run.pk for run in comparison["runs"] if run.review == "rejected"]
    if rejected:
        raise ServiceError(
            f"Run {rejected[0]} was rejected; leave it out or accept it first.", code="rejected_run"
        )
    content = ComparisonSerializer(comparison).data
    row = Snapshot(title=title.strip(), content=content, frozen_by=actor)
    row.save()
    return row
