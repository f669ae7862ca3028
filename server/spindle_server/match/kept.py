"""The match of a craft, and as it is answered, kept as long as nothing that it rests on changes."""

from __future__ import annotations

import json
from typing import Any

from django.utils import timezone
from rest_framework.renderers import JSONRenderer

from spindle_server.match.known import bench_state
from spindle_server.match.models import Craft
from spindle_server.match.said import match_json
from spindle_server.match.selectors import Match, match_of
from spindle_server.match.serializers import CraftMatchSerializer
from spindle_server.records.kept import kept, kept_whole


def rests_on(row: Craft) -> tuple[Any, ...]:
    """What the match of a craft depends on."""
    return (row.pk, row.version, bench_state(), timezone.localdate())


def matched_now(row: Craft) -> Match:
    """The match."""
    return kept_whole("matched", rests_on(row), lambda: match_of(row))


def match_now(row: Craft) -> dict[str, Any]:
    """The match with its words, as JSON says it."""

    def made() -> dict[str, Any]:
        answer = CraftMatchSerializer(match_json(matched_now(row))).data
        plain: dict[str, Any] = json.loads(JSONRenderer().render(answer))
        return plain

    return kept("match", rests_on(row), made)
