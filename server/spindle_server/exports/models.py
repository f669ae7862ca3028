"""An archive of runs that somebody asked for."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from spindle_server.runs.models import StoredFile
from spindle_server.work.models import LongWork


class RunExport(models.Model):
    """Runs as one archive; made by long work, kept for a while, then let go.

    ``runs``: their numbers, as they were found when it was asked for. ``stored`` null: it is not
    made yet, or was stopped.
    """

    runs = models.JSONField()
    with_logs = models.BooleanField(default=True)
    work = models.OneToOneField(LongWork, on_delete=models.CASCADE, related_name="+")
    stored = models.OneToOneField(
        StoredFile, on_delete=models.SET_NULL, null=True, blank=True, related_name="+"
    )
    asked_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    asked_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-pk"]

    @property
    def whole(self) -> bool:
        """Whether all of it is here."""
        return self.stored_id is not None and self.work.state == "done"

    def __str__(self) -> str:
        return self.work.title
