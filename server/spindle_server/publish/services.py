"""Freezing."""

from __future__ import annotations

import json

from spindle_server.accounts.models import Role, User
from spindle_server.compare.asking import AskedComparison
from spindle_server.compare.selectors import compared
from spindle_server.compare.serializers import ComparisonSerializer
from spindle_server.errors import ServiceError
from spindle_server.publish.models import Snapshot
from spindle_server.records.writes import writes
from spindle_server.runs.models import Run


@writes(Role.EDITOR)
def freeze_comparison(*, actor: User, title: str, asked: AskedComparison) -> Snapshot:
    """A frozen copy of a comparison; rejected runs cannot be published."""
    comparison = compared(asked)
    rejected = Run.objects.filter(pk__in=asked.runs, review="rejected").order_by("pk").first()
    if rejected is not None:
        raise ServiceError(
            f"Run {rejected.pk} was rejected; leave it out or accept it first.", code="rejected_run"
        )
    # Through the serializer, so that what is kept is JSON of the shape that readers get.
    content = json.loads(json.dumps(ComparisonSerializer(comparison).data))
    row = Snapshot(title=title.strip(), content=content, frozen_by=actor)
    row.save()
    return row
