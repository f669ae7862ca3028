"""Other people's files as JSON."""

from __future__ import annotations

import json
from typing import Any

from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from spindle_core.formats.strict_json import JsonFaultError, strict_json
from spindle_server.imports.inbox import is_large
from spindle_server.imports.models import InboxFile, KnownMapping, LargeFile
from spindle_server.imports.names import Belongs, words_of
from spindle_server.imports.opening import OpenedRun
from spindle_server.motors.models import Sample
from spindle_server.rig.models import Propeller, Stand, Supply
from spindle_server.runs.stored_files import PART_BYTES

LARGEST_MAPPING = 200_000


def from_json(text: Any) -> Any:
    """What a field of a form holds as JSON.

    :raises ValidationError: it holds none, or too much.
    """
    if not isinstance(text, str) or len(text) > LARGEST_MAPPING:
        raise serializers.ValidationError("This is no JSON, or too much of it.")
    try:
        return strict_json(text)
    except JsonFaultError as error:
        raise serializers.ValidationError("This is no JSON.") from error


@extend_schema_field(OpenApiTypes.STR)
class MappingField(serializers.Field):
    """A mapping as JSON, as the core writes it."""

    def to_internal_value(self, data: Any) -> dict[str, Any]:
        """An object."""
        found = from_json(data)
        if not isinstance(found, dict):
            raise serializers.ValidationError("A mapping is an object.")
        return found

    def to_representation(self, value: Any) -> str:
        """As JSON."""
        return json.dumps(value)


class OpenSerializer(serializers.Serializer):
    """A file to look at, with the mapping as somebody has corrected it."""

    file = serializers.FileField(max_length=200)
    mapping = MappingField(required=False, default=None)


class OneBelongsSerializer(serializers.Serializer):
    """Whose a run is."""

    sample = serializers.PrimaryKeyRelatedField(
        queryset=Sample.objects.all(), required=False, allow_null=True, default=None
    )
    propeller = serializers.PrimaryKeyRelatedField(
        queryset=Propeller.objects.all(), required=False, allow_null=True, default=None
    )
    supply = serializers.PrimaryKeyRelatedField(
        queryset=Supply.objects.all(), required=False, allow_null=True, default=None
    )


@extend_schema_field(OpenApiTypes.STR)
class BelongsField(serializers.Field):
    """A list as JSON: whose each run is, or one for all."""

    def to_internal_value(self, data: Any) -> list[Belongs]:
        """Known samples, propellers and supplies."""
        rows = OneBelongsSerializer(data=from_json(data), many=True)
        rows.is_valid(raise_exception=True)
        return [Belongs(**row) for row in rows.validated_data]

    def to_representation(self, value: Any) -> str:
        """As JSON; never asked for."""
        return json.dumps([str(one) for one in value])


class StoreSerializer(serializers.Serializer):
    """A file to store as runs."""

    file = serializers.FileField(max_length=200)
    mapping = MappingField()
    belongs = BelongsField()
    stand = serializers.PrimaryKeyRelatedField(
        queryset=Stand.objects.all(), required=False, allow_null=True, default=None
    )
    note = serializers.CharField(required=False, default="", allow_blank=True, max_length=4000)
    save_as = serializers.CharField(required=False, default="", allow_blank=True, max_length=80)


class OpenedColumnSerializer(serializers.Serializer):
    """A column: what it was taken for, why, what is asked, what it holds and would give."""

    name = serializers.CharField()
    channel = serializers.CharField(allow_blank=True)
    unit = serializers.CharField(allow_blank=True)
    negate = serializers.BooleanField()
    certainty = serializers.FloatField(allow_null=True)
    why = serializers.CharField(allow_blank=True)
    ask = serializers.CharField(allow_blank=True)
    names = serializers.CharField(allow_blank=True)
    low = serializers.FloatField(allow_null=True)
    high = serializers.FloatField(allow_null=True)
    samples = serializers.ListField(child=serializers.CharField())
    trace = serializers.ListField(child=serializers.FloatField(allow_null=True))
    others = serializers.ListField(child=serializers.ListField(child=serializers.CharField()))


class OpenedRunSerializer(serializers.Serializer):
    """A run in the file, with whose it seems to be."""

    kind = serializers.CharField(source="log.kind")
    row_count = serializers.IntegerField()
    duration_s = serializers.SerializerMethodField()
    called = serializers.SerializerMethodField()
    sample = serializers.IntegerField(source="belongs.sample.pk", default=None, allow_null=True)
    propeller = serializers.IntegerField(
        source="belongs.propeller.pk", default=None, allow_null=True
    )
    supply = serializers.IntegerField(source="belongs.supply.pk", default=None, allow_null=True)
    needs_propeller = serializers.BooleanField()
    points = serializers.IntegerField(allow_null=True)
    best = serializers.DictField(child=serializers.FloatField())
    warnings = serializers.ListField(child=serializers.CharField())
    problem = serializers.CharField(allow_blank=True)

    def get_duration_s(self, run: OpenedRun) -> float | None:
        """From the first to the last row; null where rows have an order and no time, or were not
        all looked at."""
        if run.log.kind == "readings" or run.rows is not None:
            return None
        return float(run.log.time_s[-1] - run.log.time_s[0])

    @extend_schema_field(serializers.DictField(child=serializers.CharField(allow_blank=True)))
    def get_called(self, run: OpenedRun) -> dict[str, str]:
        """What the file calls its sample, propeller and supply."""
        return words_of(run.log.header)


class OpenedSerializer(serializers.Serializer):
    """A file that was looked at; nothing of it is stored."""

    file_name = serializers.CharField()
    bench_log = serializers.BooleanField()
    known_as = serializers.CharField(allow_blank=True)
    stored_as = serializers.IntegerField(allow_null=True)
    mapping = serializers.JSONField(allow_null=True)
    columns = OpenedColumnSerializer(many=True)
    preamble = serializers.ListField(child=serializers.CharField())
    runs = OpenedRunSerializer(many=True)
    asks = serializers.IntegerField()
    problem = serializers.CharField(allow_blank=True)
    large = serializers.BooleanField()


class LargeOpenSerializer(serializers.Serializer):
    """A part of a large file to look at: its beginning, of Parquet its end; or a file of the inbox,
    whose part is taken there."""

    part = serializers.FileField(max_length=200, required=False, default=None, allow_null=True)
    name = serializers.CharField(max_length=200, required=False, default="")
    size = serializers.IntegerField(min_value=1, required=False, default=None, allow_null=True)
    inbox = serializers.PrimaryKeyRelatedField(
        queryset=InboxFile.objects.all(), required=False, allow_null=True, default=None
    )
    mapping = MappingField(required=False, default=None)


class LargeAskSerializer(serializers.Serializer):
    """A large file that is to come, how it is read and whose run it is."""

    name = serializers.CharField(max_length=200)
    size = serializers.IntegerField(min_value=1)
    sameness = serializers.CharField(max_length=80)
    mapping = MappingField(required=False, allow_null=True, default=None)
    sample = serializers.PrimaryKeyRelatedField(queryset=Sample.objects.all())
    propeller = serializers.PrimaryKeyRelatedField(
        queryset=Propeller.objects.all(), required=False, allow_null=True, default=None
    )
    supply = serializers.PrimaryKeyRelatedField(
        queryset=Supply.objects.all(), required=False, allow_null=True, default=None
    )
    stand = serializers.PrimaryKeyRelatedField(
        queryset=Stand.objects.all(), required=False, allow_null=True, default=None
    )
    inbox = serializers.PrimaryKeyRelatedField(
        queryset=InboxFile.objects.all(), required=False, allow_null=True, default=None
    )
    note = serializers.CharField(required=False, default="", allow_blank=True, max_length=4000)
    save_as = serializers.CharField(required=False, default="", allow_blank=True, max_length=80)


class LargeFileSerializer(serializers.ModelSerializer):
    """A large file: what has come of it, what is made of it."""

    size = serializers.IntegerField(source="stored.size")
    here = serializers.SerializerMethodField(help_text="Bytes that have come.")
    part_bytes = serializers.SerializerMethodField()
    parts_here = serializers.SerializerMethodField()
    asked_by_name = serializers.SerializerMethodField()
    work_done = serializers.IntegerField(source="work.done", default=None, allow_null=True)
    work_total = serializers.IntegerField(source="work.total", default=None, allow_null=True)
    work_unit = serializers.CharField(source="work.unit", default="", allow_blank=True)

    class Meta:
        model = LargeFile
        fields = [
            "id",
            "name",
            "size",
            "here",
            "part_bytes",
            "parts_here",
            "state",
            "problem",
            "run",
            "work",
            "work_done",
            "work_total",
            "work_unit",
            "inbox",
            "asked_by_name",
            "begun_at",
        ]
        read_only_fields = fields

    def get_here(self, file: LargeFile) -> int:
        """How much of it the bench has; all of what lies in the inbox."""
        if file.inbox_id:
            return file.stored.size
        return sum(part.size for part in file.stored.parts.all())

    def get_part_bytes(self, file: LargeFile) -> int:
        """How large a part is, but the last."""
        return PART_BYTES

    def get_parts_here(self, file: LargeFile) -> list[int]:
        """Parts that have come, by their numbers."""
        return [part.index for part in file.stored.parts.all()]

    def get_asked_by_name(self, file: LargeFile) -> str:
        """Who asked for it."""
        return file.asked_by.shown_name if file.asked_by else ""


class KnownMappingSerializer(serializers.ModelSerializer):
    """A mapping that was kept."""

    class Meta:
        model = KnownMapping
        fields = ["id", "name", "mapping", "version"]


class InboxFileSerializer(serializers.ModelSerializer):
    """A file that waits in the inbox."""

    large = serializers.SerializerMethodField()

    class Meta:
        model = InboxFile
        fields = [
            "id",
            "name",
            "size",
            "noticed_at",
            "runs",
            "asks",
            "known_as",
            "problem",
            "large",
            "put_aside",
        ]
        read_only_fields = fields[:-1]

    @extend_schema_field(OpenApiTypes.BOOL)
    def get_large(self, row: InboxFile) -> bool:
        """Whether it is read block by block, from where it lies."""
        return is_large(row.size)
