"""Comparisons kept by name as JSON."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from spindle_server.compare.models import SavedComparison
from spindle_server.compare.selectors import AXES, DRAWN_OVER
from spindle_server.compare.serializers import AskedComparisonSerializer


class ChartMarkSerializer(serializers.Serializer):
    """A place on a chart with a text; x in the unit of its axis."""

    x_name = serializers.ChoiceField(AXES)
    y_name = serializers.ChoiceField(DRAWN_OVER)
    x = serializers.FloatField(min_value=0.0, max_value=1e6)
    text = serializers.CharField(max_length=80)


MOST_MARKS = 20


ASKED_NAMES = ("runs", "by", "baseline", "against", "condition", "levels", "axes", "correct")


class NewSavedComparisonSerializer(serializers.Serializer):
    """A comparison to keep: its address's query, and marks on its charts."""

    name = serializers.CharField(max_length=120)
    asked = serializers.DictField(child=serializers.CharField(max_length=2000, allow_blank=True))
    marks = ChartMarkSerializer(many=True, required=False)
    note = serializers.CharField(max_length=2000, allow_blank=True, required=False)

    def validate_asked(self, asked: dict[str, str]) -> dict[str, str]:
        """A question that can be asked."""
        kept = {name: text for name, text in asked.items() if name in ASKED_NAMES and text}
        AskedComparisonSerializer(data=kept).is_valid(raise_exception=True)
        return kept

    def validate_marks(self, marks: list[dict[str, Any]]) -> list[dict[str, Any]]:
        """Not more than a chart can carry."""
        if len(marks) > MOST_MARKS:
            raise serializers.ValidationError(f"{MOST_MARKS} marks at most.")
        return [dict(mark) for mark in marks]


class ChangedComparisonSerializer(NewSavedComparisonSerializer):
    """Changes to a kept comparison, made from a version."""

    version = serializers.IntegerField(required=False)


class SavedComparisonSerializer(serializers.ModelSerializer):
    """A comparison kept by name."""

    asked = serializers.DictField(child=serializers.CharField())
    marks = ChartMarkSerializer(many=True)
    saved_by_name = serializers.CharField(source="saved_by.shown_name", default="")

    class Meta:
        model = SavedComparison
        fields = ["id", "name", "asked", "marks", "note", "saved_by_name", "saved_at", "version"]
