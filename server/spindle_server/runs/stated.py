"""One figure as JSON, wherever it is stated: value, u, origin, or why it is not there."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from spindle_core.figures.measured import Absent, Figure


class StatedFigureSerializer(serializers.Serializer):
    """A figure with its origin; null with the reason where it is absent."""

    value = serializers.FloatField(allow_null=True)
    u = serializers.FloatField(allow_null=True)
    n = serializers.IntegerField(allow_null=True)
    origin = serializers.CharField(allow_blank=True)
    reason = serializers.CharField(allow_blank=True)
    assumed = serializers.BooleanField(help_text="A part of u was assumed.")


class NamedFigureSerializer(serializers.Serializer):
    """A figure by its name with unit."""

    name = serializers.CharField()
    figure = StatedFigureSerializer()


def named(figures: dict[str, Figure]) -> list[dict[str, Any]]:
    """Figures by name, in their order."""
    return [{"name": name, "figure": figure_json(figure)} for name, figure in figures.items()]


def figure_json(figure: Figure) -> dict[str, Any]:
    """A figure with its origin, or null with the reason."""
    if isinstance(figure, Absent):
        return {
            "value": None,
            "u": None,
            "n": None,
            "origin": "",
            "reason": figure.note,
            "assumed": False,
        }
    return {
        "value": figure.value,
        "u": figure.u or None,
        "n": figure.n,
        "origin": str(figure.origin),
        "reason": "",
        "assumed": figure.assumed,
    }
