"""Other benches as JSON."""

from __future__ import annotations

from typing import Any

from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from spindle_core.formats.strict_json import JsonFaultError, strict_json
from spindle_server.other_benches.models import OtherBench, QuotedPack
from spindle_server.other_benches.opening import Opened
from spindle_server.other_benches.selectors import pack_remarks
from spindle_server.other_benches.services import NEW, Ours
from spindle_server.runs.stated import NamedFigureSerializer, StatedFigureSerializer

LARGEST_OURS = 100_000


@extend_schema_field(OpenApiTypes.STR)
class OursField(serializers.Field):
    """Which of its motors, samples and propellers are ours, as JSON: ``{"motors": {key: number},
    "samples": {"key/mark": number}, "propellers": {key: number}}``; a motor may be ``"new"``."""

    def to_internal_value(self, data: Any) -> Ours:
        """An object of objects of numbers."""
        found = data
        if isinstance(data, str):
            if len(data) > LARGEST_OURS:
                raise serializers.ValidationError("This is too much.")
            try:
                found = strict_json(data)
            except JsonFaultError as error:
                raise serializers.ValidationError("This is no JSON.") from error
        if not isinstance(found, dict):
            raise serializers.ValidationError("This is an object of what is ours.")
        parts: dict[str, dict[str, Any]] = {}
        for name in ("motors", "samples", "propellers"):
            part = found.get(name, {})
            allowed = (NEW,) if name == "motors" else ()
            if not isinstance(part, dict) or not all(
                one is None or (type(one) is int and one > 0) or one in allowed
                for one in part.values()
            ):
                raise serializers.ValidationError(f"{name}: numbers of ours, or null.")
            parts[name] = part
        return Ours(**parts)

    def to_representation(self, value: Any) -> str:
        """Not given out."""
        return ""


class LookSerializer(serializers.Serializer):
    """A pack to look into."""

    file = serializers.FileField(max_length=200)


class QuotePackSerializer(serializers.Serializer):
    """A pack to keep, and what in it is ours."""

    file = serializers.FileField(max_length=200)
    ours = OursField()


class KnownThingSerializer(serializers.Serializer):
    """Something in a pack, and which of ours it seems to be."""

    key = serializers.CharField()
    full_name = serializers.CharField()
    samples = serializers.ListField(child=serializers.CharField())
    runs = serializers.IntegerField()
    ours = serializers.IntegerField(allow_null=True)


class LookedSerializer(serializers.Serializer):
    """What a pack is, before it is kept."""

    bench_name = serializers.CharField()
    address = serializers.CharField()
    subject = serializers.CharField()
    edition = serializers.IntegerField()
    issued_on = serializers.DateField()
    sentence = serializers.CharField()
    licence = serializers.CharField()
    grade_label = serializers.CharField()
    grade_line = serializers.CharField()
    disclosure = serializers.ListField(child=serializers.CharField())
    runs = serializers.IntegerField()
    size_bytes = serializers.IntegerField()
    motors = KnownThingSerializer(many=True)
    propellers = KnownThingSerializer(many=True)


def looked(opened: Opened) -> dict[str, Any]:
    """What :class:`LookedSerializer` gives out."""
    index = opened.pack.index
    issued = index["publication"]
    runs = index["runs"]
    return {
        "bench_name": index["bench"]["name"],
        "address": index["bench"]["address"],
        "subject": issued["subject"],
        "edition": issued["edition"],
        "issued_on": opened.issued_on,
        "sentence": issued["sentence"],
        "licence": index["licence"],
        "grade_label": index["grade"]["label"],
        "grade_line": index["grade"]["line"],
        "disclosure": index["disclosure"],
        "runs": len(runs),
        "size_bytes": opened.size_bytes,
        "motors": [
            {
                "key": one["key"],
                "full_name": one["full_name"],
                "samples": [sample["mark"] for sample in one["samples"]],
                "runs": sum(run["motor"] == one["key"] for run in runs),
                "ours": opened.motors[one["key"]],
            }
            for one in index["motors"]
        ],
        "propellers": [
            {
                "key": one["key"],
                "full_name": one["full_name"],
                "samples": [],
                "runs": sum(run["propeller"] == one["key"] for run in runs),
                "ours": opened.propellers[one["key"]],
            }
            for one in index["propellers"]
        ],
    }


class QuotedSampleSerializer(serializers.Serializer):
    """A sample of another bench, and the same one of ours."""

    mark = serializers.CharField()
    ours = serializers.IntegerField(source="ours_id", allow_null=True)
    ours_mark = serializers.CharField(source="ours.mark", default="")


class QuotedMotorSerializer(serializers.Serializer):
    """A motor of a pack, and which of ours it is."""

    key = serializers.CharField()
    full_name = serializers.CharField()
    ours = serializers.IntegerField(source="ours_id", allow_null=True)
    ours_name = serializers.CharField(source="ours.full_name", default="")
    samples = QuotedSampleSerializer(many=True)


class QuotedPropellerSerializer(serializers.Serializer):
    """A propeller of a pack, and which of ours it is."""

    key = serializers.CharField()
    full_name = serializers.CharField()
    ours = serializers.IntegerField(source="ours_id", allow_null=True)
    ours_name = serializers.CharField(source="ours.full_name", default="")


class RunRemarkSerializer(serializers.Serializer):
    """A run whose log gives another figure than its bench states."""

    number = serializers.IntegerField()
    remarks = serializers.ListField(child=serializers.CharField())


class QuotedPackSerializer(serializers.ModelSerializer):
    """A pack that was quoted."""

    bench_name = serializers.CharField(source="bench.name", read_only=True)
    imported_by_name = serializers.CharField(
        source="imported_by.shown_name", default="", read_only=True
    )
    counts = serializers.SerializerMethodField()
    run_count = serializers.IntegerField(read_only=True)
    motors = QuotedMotorSerializer(many=True, read_only=True)
    propellers = QuotedPropellerSerializer(many=True, read_only=True)
    remarks = serializers.SerializerMethodField()
    disclosure = serializers.ListField(child=serializers.CharField(), read_only=True)

    class Meta:
        model = QuotedPack
        fields = [
            "id",
            "version",
            "bench",
            "bench_name",
            "kind",
            "subject",
            "edition",
            "issued_on",
            "sentence",
            "licence",
            "grade_label",
            "grade_line",
            "disclosure",
            "size_bytes",
            "file_name",
            "put_aside",
            "imported_by_name",
            "imported_at",
            "counts",
            "run_count",
            "motors",
            "propellers",
            "remarks",
        ]
        read_only_fields = fields

    def get_counts(self, pack: QuotedPack) -> bool:
        """Whether it is the newest edition and was not put aside."""
        counted: set[int] = self.context.get("counted", set())
        return pack.pk in counted

    @extend_schema_field(RunRemarkSerializer(many=True))
    def get_remarks(self, pack: QuotedPack) -> list[dict[str, Any]]:
        """Runs whose log gives other figures than are stated."""
        return pack_remarks(pack)


class ChangePackSerializer(serializers.Serializer):
    """Say anew what is ours, or put a pack aside."""

    ours = OursField(required=False)
    put_aside = serializers.CharField(max_length=240, allow_blank=True, required=False)
    version = serializers.IntegerField(required=False)


class OffsetSerializer(serializers.Serializer):
    """What one figure differs by over all that both benches ran; theirs against ours."""

    condition = serializers.CharField()
    name = serializers.CharField()
    offset_pct = serializers.FloatField()
    u_pct = serializers.FloatField()
    half_width_pct = serializers.FloatField()
    outcome = serializers.CharField()
    loads = serializers.IntegerField()
    motors = serializers.IntegerField()
    assumed = serializers.BooleanField()


class OfBenchSerializer(serializers.Serializer):
    """A figure of one bench, on how many samples and runs it rests."""

    figure = StatedFigureSerializer()
    samples = serializers.IntegerField()
    runs = serializers.IntegerField()


class HeldSerializer(serializers.Serializer):
    """One figure of one motor under one load, read by both."""

    motor = serializers.IntegerField()
    motor_name = serializers.CharField()
    load = serializers.CharField()
    condition = serializers.CharField()
    at = serializers.FloatField(allow_null=True)
    name = serializers.CharField()
    ours = OfBenchSerializer()
    theirs = OfBenchSerializer()
    offset_pct = serializers.FloatField()
    u_pct = serializers.FloatField()
    half_width_pct = serializers.FloatField()
    outcome = serializers.CharField()
    one_sample = serializers.BooleanField()


class TheirsOnlySerializer(serializers.Serializer):
    """A load that only they ran."""

    motor = serializers.IntegerField()
    motor_name = serializers.CharField()
    load = serializers.CharField()


class BenchCheckSerializer(serializers.Serializer):
    """Two benches held against each other."""

    offsets = OffsetSerializer(many=True)
    held = HeldSerializer(many=True)
    theirs_only = TheirsOnlySerializer(many=True)


class OtherBenchSerializer(serializers.ModelSerializer):
    """A bench that is not this one."""

    pack_count = serializers.IntegerField(read_only=True)
    motor_count = serializers.IntegerField(read_only=True)
    version = serializers.IntegerField(required=False)

    class Meta:
        model = OtherBench
        fields = ["id", "version", "name", "address", "note", "pack_count", "motor_count"]
        read_only_fields = ["name", "address"]


class OtherBenchDetailSerializer(serializers.Serializer):
    """A bench with its packs, held against this one."""

    bench = OtherBenchSerializer()
    packs = QuotedPackSerializer(many=True)
    check = BenchCheckSerializer()


class QuotedLoadSerializer(serializers.Serializer):
    """What another bench got of a motor under a load, at full throttle."""

    load = serializers.CharField()
    samples = serializers.IntegerField()
    runs = serializers.IntegerField()
    figures = NamedFigureSerializer(many=True)


class QuotedEvidenceSerializer(serializers.Serializer):
    """What one pack says of a motor."""

    bench = serializers.IntegerField(source="pack.bench_id")
    bench_name = serializers.CharField(source="pack.bench.name")
    subject = serializers.CharField(source="pack.subject")
    edition = serializers.IntegerField(source="pack.edition")
    issued_on = serializers.DateField(source="pack.issued_on")
    sentence = serializers.CharField(source="pack.sentence")
    licence = serializers.CharField(source="pack.licence")
    grade_label = serializers.CharField(source="pack.grade_label")
    grade_line = serializers.CharField(source="pack.grade_line")
    figures = NamedFigureSerializer(many=True)
    loads = QuotedLoadSerializer(many=True)
    offsets = OffsetSerializer(many=True)
