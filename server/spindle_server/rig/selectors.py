"""Reading the rig."""

from __future__ import annotations

from spindle_server.rig.models import Declaration


def declaration() -> Declaration:
    """What the bench declares; its defaults until somebody says otherwise."""
    return Declaration.objects.first() or Declaration()
