"""Typed readings as JSON."""

from __future__ import annotations

from typing import Any

from django.utils import timezone
from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from spindle_core.errors import CoreError
from spindle_core.model.pack import PACK_STATES
from spindle_core.reduction.sheet import COLUMNS, MOST_ROWS
from spindle_core.run.typed_cells import LATER, WAYS, TypedCell, said
from spindle_server.motors.models import Sample
from spindle_server.rig.models import Propeller, Stand, Supply
from spindle_server.runs.models import LaterCell
from spindle_server.runs.sheets import Block, SheetRow

MOST_BLOCKS = 40
LARGEST = 1e6
LATER_WAY, CLIP = "later", "clip"

CELL = {
    "oneOf": [
        {"type": "number"},
        {
            "type": "object",
            "properties": {
                **{
                    way: {"type": "array", "items": {"type": "number"}, "maxItems": 2}
                    for way in WAYS
                },
                LATER_WAY: {"type": "string"},
            },
            "additionalProperties": False,
        },
        {"type": "string"},
    ]
}


@extend_schema_field({"type": "object", "additionalProperties": CELL})
class RowField(serializers.Field):
    """A row: column → number, or what is said instead of one: ``{"about": [40]}``,
    ``{"between": [890, 910]}``, ``{"later": "clip 3 at 04:12"}``. An empty cell is not there.
    ``clip`` is where the whole row can be seen."""

    def to_representation(self, value: SheetRow) -> Any:
        """As it was typed."""
        return dict(value.raw)

    def to_internal_value(self, data: Any) -> SheetRow:
        """Only columns of a sheet, only numbers that can be."""
        if not isinstance(data, dict):
            raise serializers.ValidationError("A row is a set of cells by column.")
        cells: dict[str, float | TypedCell] = {}
        later: dict[str, str] = {}
        clip = ""
        for name, value in data.items():
            if name == CLIP and isinstance(value, str):
                clip = value.strip()[:160]
            elif name not in COLUMNS:
                raise serializers.ValidationError(f"{name} is no column of a sheet.")
            elif isinstance(value, dict) and list(value) == [LATER_WAY]:
                later[name] = str(value[LATER_WAY])[:160]
                cells[name] = LATER
            else:
                cells[name] = _cell(name, value)
        return SheetRow(cells, data, later, clip)


def _cell(name: str, value: Any) -> float | TypedCell:
    way, numbers = None, [value]
    if isinstance(value, dict) and len(value) == 1:
        [(way, numbers)] = value.items()
    if not isinstance(numbers, list) or not all(map(_is_number, numbers)):
        raise serializers.ValidationError(f"{name}: a cell is a number, or says less than one.")
    if way is None:
        return float(numbers[0])
    try:
        return said(way, [float(number) for number in numbers])
    except CoreError as error:
        raise serializers.ValidationError(f"{name}: {error.message}") from error


def _is_number(value: Any) -> bool:
    is_one = isinstance(value, int | float) and not isinstance(value, bool)
    return is_one and -LARGEST <= value <= LARGEST


class LookedAtBlockSerializer(serializers.Serializer):
    """A block of a sheet while it is typed."""

    rows = serializers.ListField(child=RowField(), max_length=MOST_ROWS)
    maxima = serializers.BooleanField(default=False)
    averaged = serializers.BooleanField(default=False)
    wanted = serializers.ListField(
        child=serializers.ChoiceField(COLUMNS), required=False, default=list
    )
    sample = serializers.PrimaryKeyRelatedField(
        queryset=Sample.objects.select_related("motor__maker"),
        required=False,
        allow_null=True,
        default=None,
    )
    propeller = serializers.PrimaryKeyRelatedField(
        queryset=Propeller.objects.select_related("maker"),
        required=False,
        allow_null=True,
        default=None,
    )
    supply = serializers.PrimaryKeyRelatedField(
        queryset=Supply.objects.all(), required=False, allow_null=True, default=None
    )

    def to_internal_value(self, data: Any) -> Any:
        """As the sheet's terms have it."""
        return Block(**super().to_internal_value(data))


class BlockSerializer(LookedAtBlockSerializer):
    """A block to keep as a run."""

    note = serializers.CharField(required=False, default="", allow_blank=True, max_length=4000)
    purpose = serializers.CharField(required=False, default="", allow_blank=True, max_length=120)
    overrun_reason = serializers.CharField(
        required=False, default="", allow_blank=True, max_length=200
    )
    pack_state = serializers.ChoiceField(
        list(PACK_STATES.items()), required=False, default="", allow_blank=True
    )
    pack_rest_v = serializers.FloatField(
        required=False, allow_null=True, default=None, min_value=0.5, max_value=120
    )
    noticed = serializers.DictField(required=False, default=dict)


class LookedAtSerializer(serializers.Serializer):
    """A sheet to look at while it is typed."""

    blocks = serializers.ListField(child=LookedAtBlockSerializer(), max_length=MOST_BLOCKS)
    day = serializers.DateField(default=timezone.localdate)
    stand = serializers.PrimaryKeyRelatedField(
        queryset=Stand.objects.all(), required=False, allow_null=True, default=None
    )


class NewSheetSerializer(LookedAtSerializer):
    """A sheet to keep as runs."""

    blocks = serializers.ListField(child=BlockSerializer(), min_length=1, max_length=MOST_BLOCKS)


class CellFindingSerializer(serializers.Serializer):
    """What is wrong with a cell. ``impossible``: it cannot be true beside the others; ``owed``: it
    was not read yet."""

    field = serializers.CharField()
    code = serializers.CharField()
    message = serializers.CharField()
    impossible = serializers.BooleanField()
    owed = serializers.BooleanField()


class RowLookSerializer(serializers.Serializer):
    """What a row means; null where it cannot be told."""

    thrust_gf = serializers.FloatField(allow_null=True)
    power_w = serializers.FloatField(allow_null=True)
    efficiency_g_per_w = serializers.FloatField(allow_null=True)
    rise_k = serializers.FloatField(allow_null=True)
    burst = serializers.IntegerField(allow_null=True)
    bursts = serializers.IntegerField(allow_null=True)
    mean_thrust_gf = serializers.FloatField(allow_null=True)
    spread_gf = serializers.FloatField(allow_null=True)
    ready_s = serializers.FloatField(
        allow_null=True, help_text="From the reading until the case is near the air again [s]."
    )
    findings = CellFindingSerializer(many=True)


class BlockLookSerializer(serializers.Serializer):
    """What the rows of a block mean."""

    rows = RowLookSerializer(many=True)


class LaterCellSerializer(serializers.ModelSerializer):
    """A cell that is read later, from footage."""

    motor = serializers.IntegerField(source="run.sample.motor_id", read_only=True)
    motor_name = serializers.CharField(source="run.sample.motor.full_name", read_only=True)
    head = serializers.CharField(read_only=True)

    class Meta:
        model = LaterCell
        fields = [
            "id",
            "run",
            "row",
            "channel",
            "head",
            "motor",
            "motor_name",
            "clip",
            "time_code",
            "value",
            "read_by",
            "read_at",
            "dropped_reason",
            "version",
        ]


class ReadLaterSerializer(serializers.Serializer):
    """A value that was read from footage, or why it never will be."""

    value = serializers.FloatField(required=False, allow_null=True, default=None)
    dropped_reason = serializers.CharField(
        required=False, default="", allow_blank=True, max_length=200
    )
    version = serializers.IntegerField(required=False)
