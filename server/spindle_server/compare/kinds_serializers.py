"""Runs of the other kinds, and all motors at one kV, as JSON."""

from __future__ import annotations

from rest_framework import serializers

from spindle_core.planning.at_one_kv import FIGURES as KV_FIGURES
from spindle_server.compare.table_serializers import TableDeltaSerializer
from spindle_server.runs.stated import NamedFigureSerializer, StatedFigureSerializer


class AskedKindSerializer(serializers.Serializer):
    """Which kind of run, held against which row."""

    kind = serializers.CharField(required=False, default="", allow_blank=True, max_length=20)
    baseline = serializers.CharField(required=False, default="", allow_blank=True, max_length=200)


class ClaimedSerializer(serializers.Serializer):
    """What somebody says; quoted beside the measurement, never in it."""

    value = serializers.FloatField()
    source = serializers.CharField()


class KindCellSerializer(serializers.Serializer):
    """A figure of a row, its difference and what is claimed."""

    name = serializers.CharField()
    figure = StatedFigureSerializer()
    samples = serializers.IntegerField(allow_null=True)
    runs = serializers.IntegerField(allow_null=True)
    delta = TableDeltaSerializer(allow_null=True)
    claimed = ClaimedSerializer(many=True)


class KindRowSerializer(serializers.Serializer):
    """A motor under a load."""

    key = serializers.CharField()
    motor = serializers.IntegerField()
    motor_name = serializers.CharField()
    load = serializers.CharField()
    runs = serializers.ListField(child=serializers.IntegerField())
    baseline = serializers.BooleanField()
    off_label_pct = StatedFigureSerializer(allow_null=True)
    cells = KindCellSerializer(many=True)


class ListedKindSerializer(serializers.Serializer):
    """A kind of run of which there are some."""

    kind = serializers.CharField()
    label = serializers.CharField()


class KindTableSerializer(serializers.Serializer):
    """Runs of one kind over the whole bench."""

    kinds = ListedKindSerializer(many=True)
    kind = serializers.CharField(allow_blank=True)
    figures = serializers.ListField(child=serializers.CharField())
    rows = KindRowSerializer(many=True)
    more = serializers.IntegerField(help_text="Motors with fewer runs that are not shown.")


class AskedKvSerializer(serializers.Serializer):
    """At which kV, on which propeller and voltage, against whom."""

    kv_rpm_per_v = serializers.FloatField(
        required=False, allow_null=True, default=None, min_value=10.0, max_value=30_000.0
    )
    propeller = serializers.IntegerField(required=False, allow_null=True, default=None)
    voltage_v = serializers.FloatField(
        required=False, allow_null=True, default=None, min_value=1.0, max_value=100.0
    )
    reference = serializers.IntegerField(required=False, allow_null=True, default=None)
    figure = serializers.ChoiceField(list(KV_FIGURES), required=False, default="thrust_gf")


class OneKvRowSerializer(serializers.Serializer):
    """A motor as it is and rewound, and what its difference is made of."""

    motor = serializers.IntegerField()
    motor_name = serializers.CharField()
    rests_on = serializers.CharField()
    kv_rpm_per_v = StatedFigureSerializer()
    resistance_ohm = StatedFigureSerializer()
    km_nm_per_sqrt_w = StatedFigureSerializer()
    as_it_is = NamedFigureSerializer(many=True)
    rewound = NamedFigureSerializer(many=True)
    total_pct = StatedFigureSerializer()
    design_pct = StatedFigureSerializer()
    winding_pct = StatedFigureSerializer()
    said = serializers.CharField(allow_blank=True)


class OneKvSerializer(serializers.Serializer):
    """Identified motors at one kV; ``reason`` where there is nothing to say."""

    kv_rpm_per_v = serializers.FloatField(allow_null=True)
    propeller = serializers.IntegerField(allow_null=True)
    propeller_name = serializers.CharField(allow_blank=True)
    voltage_v = serializers.FloatField(allow_null=True)
    figure = serializers.CharField()
    figures = serializers.ListField(child=serializers.CharField())
    reference = serializers.IntegerField(allow_null=True)
    rows = OneKvRowSerializer(many=True)
    reason = serializers.CharField(allow_blank=True)
