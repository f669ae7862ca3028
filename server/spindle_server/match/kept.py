"""The match of a craft as it is answered, kept as long as nothing that it rests on changes."""

from __future__ import annotations

import hashlib
import json
from typing import Any

from django.core.cache import cache
from django.utils import timezone
from rest_framework.renderers import JSONRenderer

from spindle_server.match.known import KEPT_S, identified_state
from spindle_server.match.models import Craft
from spindle_server.match.selectors import match_json, match_of
from spindle_server.match.serializers import CraftMatchSerializer
from spindle_server.runs.ran import evidence_revision


def match_now(row: Craft) -> dict[str, Any]:
    """The match with its words, as JSON says it."""
    rests_on = repr(
        (row.pk, row.version, evidence_revision(), identified_state(), timezone.localdate())
    )
    key = f"match:{hashlib.sha256(rests_on.encode()).hexdigest()}"
    kept: dict[str, Any] | None = cache.get(key)
    if kept is None:
        answer = CraftMatchSerializer(match_json(match_of(row))).data
        kept = json.loads(JSONRenderer().render(answer))
        cache.set(key, kept, KEPT_S)
    assert kept is not None
    return kept
