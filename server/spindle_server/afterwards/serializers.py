"""Flights, letters and follow-ups as JSON."""

from __future__ import annotations

from typing import Any

from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from spindle_core.errors import CoreError
from spindle_core.formats.strict_json import JsonFaultError, strict_json
from spindle_server.afterwards.models import LETTER_STATES, Flight, FollowUp, Letter
from spindle_server.afterwards.selectors import WEAR_HOURS
from spindle_server.afterwards.services import core_flight
from spindle_server.afterwards.tables import FIELDS
from spindle_server.motors.models import Sample
from spindle_server.runs.stated import StatedFigureSerializer, figure_json


class FlightSerializer(serializers.ModelSerializer):
    """A flight with what was foreseen of it."""

    version = serializers.IntegerField(required=False)
    craft_name = serializers.CharField(source="craft.name", read_only=True)
    motor_name = serializers.CharField(source="motor.full_name", default="", read_only=True)
    propeller_name = serializers.CharField(source="propeller.full_name", default="", read_only=True)
    marks = serializers.SerializerMethodField()
    samples = serializers.PrimaryKeyRelatedField(
        many=True, queryset=Sample.objects.all(), required=False
    )
    predicted_min = serializers.SerializerMethodField()
    error_pct = serializers.SerializerMethodField()
    power_w = serializers.SerializerMethodField()
    capacity_mah = serializers.FloatField(required=False, allow_null=True)
    cells = serializers.IntegerField(required=False, allow_null=True, min_value=1, max_value=16)
    usable_pct = serializers.FloatField(read_only=True)
    minutes = serializers.FloatField(min_value=0.01, max_value=600)
    hover_share_pct = serializers.FloatField(
        required=False, allow_null=True, min_value=0, max_value=100
    )
    mass_g = serializers.FloatField(required=False, allow_null=True, min_value=1, max_value=100_000)
    distance_m = serializers.FloatField(required=False, allow_null=True, min_value=0)
    motor_temp_c = serializers.FloatField(
        required=False, allow_null=True, min_value=-60, max_value=400
    )
    air_temp_c = serializers.FloatField(
        required=False, allow_null=True, min_value=-60, max_value=60
    )

    class Meta:
        model = Flight
        fields = [
            "id",
            "version",
            "craft",
            "craft_name",
            "flown_on",
            "minutes",
            "capacity_mah",
            "cells",
            "usable_pct",
            "motor",
            "motor_name",
            "propeller",
            "propeller_name",
            "samples",
            "marks",
            "put_back_mah",
            "mass_g",
            "distance_m",
            "wind",
            "hover_share_pct",
            "motor_temp_c",
            "air_temp_c",
            "impressions",
            "flown_by",
            "struck_reason",
            "rests_on",
            "predicted_min",
            "error_pct",
            "power_w",
        ]
        read_only_fields = ["rests_on"]

    def get_marks(self, flight: Flight) -> list[str]:
        """Marks of the samples that flew."""
        return [sample.mark for sample in flight.samples.all()]

    def _figure(self, flight: Flight, name: str) -> dict[str, Any]:
        try:
            return figure_json(getattr(core_flight(flight), name))
        except CoreError as error:
            return {
                "value": None,
                "u": None,
                "n": None,
                "origin": "",
                "reason": error.message,
                "assumed": False,
            }

    @extend_schema_field(StatedFigureSerializer)
    def get_predicted_min(self, flight: Flight) -> dict[str, Any]:
        """Minutes that were foreseen with the energy that was flown."""
        return self._figure(flight, "predicted_minutes")

    @extend_schema_field(StatedFigureSerializer)
    def get_error_pct(self, flight: Flight) -> dict[str, Any]:
        """(flown − foreseen) ÷ foreseen."""
        return self._figure(flight, "error_pct")

    @extend_schema_field(StatedFigureSerializer)
    def get_power_w(self, flight: Flight) -> dict[str, Any]:
        """What it drew on average."""
        return self._figure(flight, "power_w")


class LetterSerializer(serializers.ModelSerializer):
    """What somebody wrote."""

    version = serializers.IntegerField(required=False)
    motor_name = serializers.CharField(source="motor.full_name", default="", read_only=True)
    propeller_name = serializers.CharField(source="propeller.full_name", default="", read_only=True)
    supply_name = serializers.CharField(source="supply.name", default="", read_only=True)
    state = serializers.SerializerMethodField()
    campaign_title = serializers.CharField(source="campaign.title", default="", read_only=True)

    class Meta:
        model = Letter
        fields = [
            "id",
            "version",
            "kind",
            "text",
            "person",
            "received_on",
            "motor",
            "motor_name",
            "craft_words",
            "propeller_words",
            "propeller",
            "propeller_name",
            "supply",
            "supply_name",
            "readers",
            "wanted_by",
            "temp_c",
            "failure",
            "campaign",
            "campaign_title",
            "answer",
            "answered_on",
            "declined",
            "state",
        ]
        read_only_fields = ["answered_on"]
        extra_kwargs = {"readers": {"min_value": 1, "max_value": 10_000}}

    @extend_schema_field(serializers.ChoiceField(LETTER_STATES))
    def get_state(self, letter: Letter) -> str:
        """How it stands today."""
        return letter.state(timezone.localdate())


class FollowUpSerializer(serializers.ModelSerializer):
    """An open point that waits."""

    version = serializers.IntegerField(required=False)
    motor_name = serializers.CharField(source="motor.full_name", read_only=True)
    done = serializers.BooleanField(required=False, write_only=True)

    class Meta:
        model = FollowUp
        fields = [
            "id",
            "version",
            "motor",
            "motor_name",
            "text",
            "trigger",
            "due_on",
            "after_hours",
            "hours_then",
            "done_on",
            "done_note",
            "done",
            "noted_at",
        ]
        read_only_fields = ["hours_then", "done_on", "noted_at"]


class FollowUpStateSerializer(serializers.Serializer):
    """A follow-up, and whether its trigger has come."""

    row = FollowUpSerializer()
    due = serializers.BooleanField()
    hours = serializers.FloatField(help_text="Of the motor's most used sample.")


class SchoolSerializer(serializers.Serializer):
    """What a school of flight current makes of the flights."""

    key = serializers.CharField()
    words = serializers.CharField()
    factor = StatedFigureSerializer()
    error_pct = StatedFigureSerializer()
    rms_pct = serializers.FloatField()
    refuted = serializers.BooleanField()
    fits = serializers.BooleanField()


class FlightPairSerializer(serializers.Serializer):
    """Two kinds of flight that differ in one thing."""

    factor = serializers.CharField()
    values = serializers.ListField(child=serializers.CharField())
    flights = serializers.ListField(child=serializers.IntegerField())
    minutes = StatedFigureSerializer(many=True)
    power_w = StatedFigureSerializer(many=True)
    minutes_delta_pct = serializers.FloatField()
    minutes_u_pct = serializers.FloatField()
    minutes_outcome = serializers.CharField()
    power_delta_pct = serializers.FloatField()
    power_u_pct = serializers.FloatField()
    power_outcome = serializers.CharField()
    unknown = serializers.ListField(child=serializers.CharField())


class FlownSerializer(serializers.Serializer):
    """What the flights of a craft say together."""

    counted = serializers.IntegerField()
    error_pct = StatedFigureSerializer()
    schools = SchoolSerializer(many=True)
    says = serializers.CharField()
    pairs = FlightPairSerializer(many=True)


class UsedSerializer(serializers.Serializer):
    """Hours and starts of a sample."""

    sample = serializers.IntegerField()
    mark = serializers.CharField()
    bench_h = serializers.FloatField()
    bench_starts = serializers.IntegerField()
    flown_h = serializers.FloatField()
    flown_starts = serializers.IntegerField()
    untimed = serializers.IntegerField(help_text="Typed runs, of which nobody knows the time.")


class TimelineEntrySerializer(serializers.Serializer):
    """Something that befell a motor."""

    on = serializers.DateField()
    kind = serializers.CharField()
    words = serializers.CharField()
    mark = serializers.CharField(allow_blank=True)
    hours = serializers.FloatField(allow_null=True, help_text="That the sample had then.")
    note = serializers.CharField(allow_blank=True)
    destroyed = serializers.BooleanField()
    incident = serializers.IntegerField(allow_null=True)
    sample = serializers.IntegerField(allow_null=True)


class WornSerializer(serializers.Serializer):
    """A figure of a sample, first and now."""

    mark = serializers.CharField()
    load = serializers.CharField()
    name = serializers.CharField()
    first = StatedFigureSerializer()
    now = StatedFigureSerializer()
    hours = serializers.FloatField()
    runs = serializers.ListField(child=serializers.IntegerField())
    delta_pct = serializers.FloatField()
    u_pct = serializers.FloatField()
    outcome = serializers.CharField()


class FailureCountSerializer(serializers.Serializer):
    """How often readers report a failure."""

    words = serializers.CharField()
    count = serializers.IntegerField()


class ReportCountSerializer(serializers.Serializer):
    """Readers' reports, counted apart from what was seen here."""

    count = serializers.IntegerField()
    failures = FailureCountSerializer(many=True)


class AskedAfterwardsSerializer(serializers.Serializer):
    """After how many hours of use a sample is held against its first runs."""

    wear_hours = serializers.FloatField(
        required=False, default=WEAR_HOURS, min_value=0.05, max_value=10_000.0
    )


class AfterwardsSerializer(serializers.Serializer):
    """Everything after the bench of one motor."""

    samples = UsedSerializer(many=True)
    timeline = TimelineEntrySerializer(many=True)
    wear_hours = serializers.FloatField()
    worn = WornSerializer(many=True)
    flights = FlightSerializer(many=True)
    letters = LetterSerializer(many=True)
    reports = ReportCountSerializer()
    follow_ups = FollowUpStateSerializer(many=True)


class WaitingSerializer(serializers.Serializer):
    """What came due, and what nobody answered."""

    due = FollowUpStateSerializer(many=True)
    due_count = serializers.IntegerField()
    requests = LetterSerializer(many=True)
    request_count = serializers.IntegerField()
    unanswered = LetterSerializer(many=True)
    unanswered_count = serializers.IntegerField()


class EraseSerializer(serializers.Serializer):
    """Whose name is erased."""

    name = serializers.CharField(max_length=80)


class ErasedSerializer(serializers.Serializer):
    """What became of it."""

    changed = serializers.IntegerField()
    mentioned = serializers.ListField(
        child=serializers.IntegerField(), help_text="Letters whose words still hold it."
    )


@extend_schema_field(OpenApiTypes.STR)
class ColumnsField(serializers.Field):
    """The field of each column as JSON: a list, '' for a column that is left out."""

    def to_internal_value(self, data: Any) -> list[str]:
        """A list of words."""
        try:
            found = strict_json(data) if isinstance(data, str) and len(data) < 20_000 else None
        except JsonFaultError:
            found = None
        if not isinstance(found, list) or not all(isinstance(one, str) for one in found):
            raise serializers.ValidationError("This is a list of fields as JSON.")
        return found

    def to_representation(self, value: Any) -> str:
        """Not given out."""
        return ""


class LookTableSerializer(serializers.Serializer):
    """A table to look at."""

    file = serializers.FileField(max_length=200)
    of = serializers.ChoiceField(list(FIELDS))


class NoteTableSerializer(serializers.Serializer):
    """A table to note, with what each column is."""

    file = serializers.FileField(max_length=200)
    of = serializers.ChoiceField(list(FIELDS))
    columns = ColumnsField()


class TableFieldSerializer(serializers.Serializer):
    """What a column may hold."""

    name = serializers.CharField()
    title = serializers.CharField()
    needed = serializers.BooleanField()


class LookedTableSerializer(serializers.Serializer):
    """Heads, the first rows, and what the columns seem to hold."""

    heads = serializers.ListField(child=serializers.CharField(allow_blank=True))
    first = serializers.ListField(
        child=serializers.ListField(child=serializers.CharField(allow_blank=True))
    )
    rows = serializers.IntegerField()
    proposed = serializers.ListField(child=serializers.CharField(allow_blank=True))
    choices = TableFieldSerializer(many=True)


class NotedTableSerializer(serializers.Serializer):
    """How many rows were noted."""

    noted = serializers.IntegerField()
