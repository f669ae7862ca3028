"""What was done to a sample, or befell it, before a run: runs on either side are no repeats."""

from __future__ import annotations

import datetime
from collections.abc import Sequence

from django.utils import timezone

from spindle_server.motors.models import Incident, Preparation
from spindle_server.runs.models import Run


def changes_of(runs: Sequence[Run]) -> dict[int, str]:
    """Run → the last thing that was done to its sample or befell it before the run, in words;
    empty where nothing did. Two queries."""
    samples = {run.sample_id for run in runs}
    happened: dict[int, list[tuple[datetime.date, str]]] = {}
    for done in Preparation.objects.filter(sample__in=samples, struck_reason=""):
        happened.setdefault(done.sample_id, []).append((done.done_on, done.get_kind_display()))
    for incident in Incident.objects.filter(sample__in=samples, struck_reason=""):
        happened.setdefault(incident.sample_id, []).append(
            (incident.happened_on, incident.get_kind_display())
        )
    found = {}
    for run in runs:
        day = timezone.localtime(run.started_at).date()
        # On the day itself nobody knows which came first: it counts as before the run.
        before = [row for row in sorted(happened.get(run.sample_id, [])) if row[0] <= day]
        found[run.pk] = f"after: {before[-1][1].lower()}, {before[-1][0]:%d %b}" if before else ""
    return found
