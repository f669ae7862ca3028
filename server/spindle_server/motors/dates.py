"""Dates that people write: the day of the event where they are."""

from __future__ import annotations

import datetime

from django.utils import timezone


def in_the_future(day: datetime.date | None) -> bool:
    """Whether a day has begun nowhere on Earth yet; the server's own day may lag the writer's."""
    return day is not None and day > timezone.now().date() + datetime.timedelta(days=1)
