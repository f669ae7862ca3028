"""Runs as JSON."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from spindle_bench.limits import states
from spindle_core.formats.result_json import reduction_to_json
from spindle_core.reduction.kinds import KINDS
from spindle_server.motors.models import Sample
from spindle_server.rig.models import Propeller, Stand, Supply
from spindle_server.runs.as_core import air_density
from spindle_server.runs.limit_states import LimitStateSerializer
from spindle_server.runs.models import KIND_CHOICES, REVIEW_CHOICES, Run, SummaryFigure
from spindle_server.runs.reducing import is_stale
from spindle_server.runs.selectors import shape_point


class FigureSerializer(serializers.Serializer):
    """A figure: value, standard uncertainty (k = 1) and number of runs."""

    value = serializers.FloatField()
    u = serializers.FloatField()
    n = serializers.IntegerField()
    assumed = serializers.BooleanField(required=False, help_text="A part of u was assumed.")


class RunWarningSerializer(serializers.Serializer):
    """A warning of the reduction."""

    code = serializers.CharField()
    message = serializers.CharField()


class AbsentSerializer(serializers.Serializer):
    """Why a figure is absent."""

    reason = serializers.CharField()
    note = serializers.CharField(allow_blank=True)


class PointSerializer(serializers.Serializer):
    """One stretch of a run: its figures by name (null where absent, with the reason), yes-or-no
    marks such as ``reached``, and the part that was averaged.
    """

    figures = serializers.DictField(child=FigureSerializer(allow_null=True))
    marks = serializers.DictField(child=serializers.BooleanField())
    absent = serializers.DictField(child=AbsentSerializer())
    start_s = serializers.FloatField()
    used_from_s = serializers.FloatField()
    end_s = serializers.FloatField()
    settled = serializers.BooleanField()


class OutlierSerializer(serializers.Serializer):
    """A sample that was left out of a mean."""

    channel = serializers.CharField()
    time_s = serializers.FloatField()
    value = serializers.FloatField()


class ResultSerializer(serializers.Serializer):
    """A reduced run."""

    points = PointSerializer(many=True)
    summary = serializers.DictField(child=FigureSerializer(allow_null=True))
    absent = serializers.DictField(child=AbsentSerializer())
    warnings = RunWarningSerializer(many=True)
    outliers = OutlierSerializer(many=True)


THRUST_NAMES = ("max_thrust_gf", "burst_thrust_gf", "targets_reached")
"""A run with one of these has points that can be read at equal thrust."""


class HeadlineSerializer(serializers.Serializer):
    """A summary figure by name; without a value, the reason."""

    name = serializers.CharField()
    value = serializers.FloatField(allow_null=True)
    u = serializers.FloatField(allow_null=True)
    n = serializers.IntegerField(allow_null=True)
    assumed = serializers.BooleanField()
    reason = serializers.CharField(allow_blank=True)


def headline_of(row: SummaryFigure) -> dict[str, Any]:
    """A stored figure in the API's shape."""
    return {
        "name": row.name,
        "value": row.value,
        "u": row.u,
        "n": row.n,
        "assumed": row.assumed,
        "reason": row.absent_note or row.absent_reason,
    }


def shape_result(stored: dict[str, Any]) -> dict[str, Any]:
    """A stored result in the API's shape: figures apart from the place of a point."""
    return {**stored, "points": [shape_point(point) for point in stored["points"]]}


class RunSerializer(serializers.ModelSerializer):
    """A run in a list."""

    motor = serializers.IntegerField(source="sample.motor_id", read_only=True)
    motor_name = serializers.CharField(source="sample.motor.full_name", read_only=True)
    sample_mark = serializers.CharField(source="sample.mark", read_only=True)
    propeller_name = serializers.CharField(read_only=True)
    supply_name = serializers.SerializerMethodField()
    supply_kind = serializers.SerializerMethodField()
    stand_name = serializers.SerializerMethodField()
    esc_name = serializers.SerializerMethodField()
    operator_name = serializers.SerializerMethodField()
    kind = serializers.ChoiceField(KIND_CHOICES)
    outcome = serializers.SerializerMethodField()
    end_reason = serializers.SerializerMethodField()
    end_code = serializers.SerializerMethodField()
    end_by = serializers.SerializerMethodField()
    headline = serializers.SerializerMethodField()
    comparable = serializers.SerializerMethodField()
    warning_count = serializers.SerializerMethodField()

    class Meta:
        model = Run
        fields = [
            "id",
            "uid",
            "kind",
            "origin",
            "motor",
            "motor_name",
            "sample",
            "sample_mark",
            "propeller",
            "propeller_name",
            "supply_name",
            "supply_kind",
            "stand_name",
            "esc_name",
            "operator_name",
            "nominal_voltage_v",
            "started_at",
            "review",
            "review_reason",
            "version",
            "outcome",
            "end_reason",
            "end_code",
            "end_by",
            "headline",
            "comparable",
            "warning_count",
        ]

    def get_supply_name(self, run: Run) -> str:
        """The supply's name, empty when not noted."""
        return run.supply.name if run.supply else ""

    def get_supply_kind(self, run: Run) -> str:
        """psu, pack or empty."""
        return run.supply.kind if run.supply else ""

    def get_stand_name(self, run: Run) -> str:
        """The stand's name, empty when not noted."""
        return run.stand.name if run.stand else ""

    def get_esc_name(self, run: Run) -> str:
        """The ESC's name, empty when not noted."""
        return run.esc.name if run.esc else ""

    def get_operator_name(self, run: Run) -> str:
        """Who ran or imported it."""
        return run.operator.shown_name if run.operator else ""

    def get_outcome(self, run: Run) -> str:
        """How it ended; empty while it is still running."""
        return run.end.outcome if hasattr(run, "end") else ""

    def get_end_reason(self, run: Run) -> str:
        """Why it ended."""
        return run.end.reason if hasattr(run, "end") else ""

    def get_end_code(self, run: Run) -> str:
        """The stable code of the end."""
        return run.end.code if hasattr(run, "end") else ""

    def get_end_by(self, run: Run) -> str:
        """Who stopped it, if a person did."""
        return run.end.by if hasattr(run, "end") else ""

    @extend_schema_field(HeadlineSerializer(many=True))
    def get_headline(self, run: Run) -> list[dict[str, Any]]:
        """The figures that tell one run of its kind from another, in their order."""
        rows = {row.name: row for row in run.figures.all()}
        return [headline_of(rows[name]) for name in KINDS[run.kind].headline if name in rows]

    def get_comparable(self, run: Run) -> bool:
        """Whether it has points with thrust."""
        return any(row.name in THRUST_NAMES and row.value is not None for row in run.figures.all())

    def get_warning_count(self, run: Run) -> int:
        """How many warnings the reduction has."""
        return run.reduction.warning_count if hasattr(run, "reduction") else 0


class RunDetailSerializer(RunSerializer):
    """A run with its figures."""

    result = serializers.SerializerMethodField()
    reduction_error = serializers.SerializerMethodField()
    stale = serializers.SerializerMethodField()
    limits = serializers.SerializerMethodField()
    core_version = serializers.SerializerMethodField()
    air_density_kg_per_m3 = serializers.SerializerMethodField()
    source_file_name = serializers.SerializerMethodField()

    class Meta(RunSerializer.Meta):
        fields = [
            *RunSerializer.Meta.fields,
            "air_temp_c",
            "air_pressure_hpa",
            "air_humidity_pct",
            "air_density_kg_per_m3",
            "command_source",
            "inherited",
            "rate_hz",
            "channels",
            "purpose",
            "note",
            "noticed",
            "overrun_reason",
            "header",
            "limits",
            "page_grace_s",
            "by_hand",
            "guard_off_by",
            "result",
            "reduction_error",
            "stale",
            "core_version",
            "source_file_name",
        ]

    @extend_schema_field(LimitStateSerializer(many=True))
    def get_limits(self, run: Run) -> list[dict[str, Any]]:
        """The limits it ran under, with who chose that one is off; none for an imported log."""
        if not run.limits:
            return []
        return states(run.limits, run.limits_off, {}, None)

    @extend_schema_field(ResultSerializer(allow_null=True))
    def get_result(self, run: Run) -> dict[str, Any] | None:
        """The figures, null when there are none (yet)."""
        stored = run.reduction.result if hasattr(run, "reduction") else None
        return None if stored is None else ResultSerializer(shape_result(stored)).data

    def get_reduction_error(self, run: Run) -> str:
        """Why there are no figures."""
        return run.reduction.error if hasattr(run, "reduction") else ""

    def get_stale(self, run: Run) -> bool:
        """Whether the figures should be rebuilt."""
        return hasattr(run, "reduction") and is_stale(run.reduction)

    def get_core_version(self, run: Run) -> str:
        """The core that made the figures."""
        return run.reduction.core_version if hasattr(run, "reduction") else ""

    def get_air_density_kg_per_m3(self, run: Run) -> float | None:
        """Computed from the air noted with the run."""
        return air_density(run)

    def get_source_file_name(self, run: Run) -> str:
        """The imported file's name."""
        return run.source_file.name if hasattr(run, "source_file") else ""


class TraceSerializer(serializers.Serializer):
    """A trace for drawing."""

    time_s = serializers.ListField(child=serializers.FloatField())
    channels = serializers.DictField(
        child=serializers.ListField(child=serializers.FloatField(allow_null=True))
    )
    thinned = serializers.BooleanField()
    row_count = serializers.IntegerField()
    begin_s = serializers.FloatField()
    end_s = serializers.FloatField()


class TraceAskedSerializer(serializers.Serializer):
    """Which part of a trace, and how finely."""

    points = serializers.IntegerField(
        required=False, default=2400, help_text="At most so many points."
    )
    from_s = serializers.FloatField(required=False, default=None, help_text="Not before [s].")
    until_s = serializers.FloatField(required=False, default=None, help_text="Not after [s].")


class ReviewSerializer(serializers.Serializer):
    """Accept, reject, or take back."""

    review = serializers.ChoiceField(REVIEW_CHOICES, allow_blank=True)
    review_reason = serializers.CharField(
        max_length=200, required=False, default="", allow_blank=True
    )
    version = serializers.IntegerField(required=False)


class NoticedSerializer(serializers.Serializer):
    """What was noticed of a run, by the vocabulary's keys, and its note."""

    noticed = serializers.DictField(default=dict)
    note = serializers.CharField(required=False, default="", allow_blank=True, max_length=4000)
    version = serializers.IntegerField(required=False)


class LogFileSerializer(serializers.Serializer):
    """A log to look at."""

    file = serializers.FileField(max_length=200)


class ImportSerializer(LogFileSerializer):
    """A log to store, and what it belongs to."""

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
    note = serializers.CharField(required=False, default="", allow_blank=True, max_length=4000)


class ColumnSerializer(serializers.Serializer):
    """What was understood of one column."""

    name = serializers.CharField()
    label = serializers.CharField()
    unit = serializers.CharField(allow_blank=True)
    lowest = serializers.FloatField(allow_null=True)
    highest = serializers.FloatField(allow_null=True)
    missing = serializers.IntegerField()


class HeaderLineSerializer(serializers.Serializer):
    """One line of the preamble."""

    key = serializers.CharField()
    value = serializers.CharField(allow_blank=True)


class UnderstoodSerializer(serializers.Serializer):
    """What was understood of a log, before anything is stored."""

    file_name = serializers.CharField()
    kind = serializers.CharField()
    header = HeaderLineSerializer(many=True)
    columns = ColumnSerializer(many=True)
    carried_columns = serializers.ListField(child=serializers.CharField())
    row_count = serializers.IntegerField()
    duration_s = serializers.FloatField()
    rate_hz = serializers.FloatField(allow_null=True)
    sample = serializers.IntegerField(allow_null=True)
    propeller = serializers.IntegerField(allow_null=True)
    result = ResultSerializer()


def shape_reduction(reduction: Any) -> dict[str, Any]:
    """A fresh reduction in the API's shape."""
    return shape_result(reduction_to_json(reduction))
