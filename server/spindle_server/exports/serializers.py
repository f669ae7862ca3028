"""Archives as JSON."""

from __future__ import annotations

from rest_framework import serializers

from spindle_server.exports.models import RunExport


class RunExportSerializer(serializers.ModelSerializer):
    """An archive of runs; ``size_bytes`` null until it is made."""

    title = serializers.CharField(source="work.title")
    state = serializers.CharField(source="work.state")
    run_count = serializers.SerializerMethodField()
    size_bytes = serializers.SerializerMethodField()
    asked_by_name = serializers.SerializerMethodField()

    class Meta:
        model = RunExport
        fields = [
            "id",
            "work",
            "title",
            "state",
            "run_count",
            "with_logs",
            "size_bytes",
            "asked_by_name",
            "asked_at",
        ]

    def get_size_bytes(self, export: RunExport) -> int | None:
        """So large it is; null until all of it is here."""
        return export.stored.size if export.stored and export.whole else None

    def get_run_count(self, export: RunExport) -> int:
        """How many runs were meant."""
        return len(export.runs)

    def get_asked_by_name(self, export: RunExport) -> str:
        """Who asked for it."""
        return export.asked_by.shown_name if export.asked_by else ""


class NewExportSerializer(serializers.Serializer):
    """Which runs: those named, else all that the query's filters find."""

    runs = serializers.ListField(
        child=serializers.IntegerField(min_value=1),
        required=False,
        default=None,
        allow_null=True,
        max_length=5_000,
    )
    with_logs = serializers.BooleanField(required=False, default=True)
