"""What was carried out under a key, for a day."""

from __future__ import annotations

from django.conf import settings
from django.db import models


class CarriedOut(models.Model):
    """A write that was answered.

    ``key`` is made up by the sender for one intention and sent again with every further try of it;
    ``asked`` is a SHA-256 of what was sent, so that a key stands for one request only.
    """

    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    key = models.CharField(max_length=64, db_collation="utf8mb4_bin")
    asked = models.CharField(max_length=64)
    status = models.PositiveSmallIntegerField(null=True)
    answer = models.TextField(blank=True)
    at = models.DateTimeField(auto_now_add=True, db_index=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["person", "key"], name="key_stands_for_one_request")
        ]

    def __str__(self) -> str:
        return f"{self.key}: {self.status}"
