"""Torque over speed as JSON."""

from __future__ import annotations

from rest_framework import serializers

from spindle_server.compare.serializers import numbers_in
from spindle_server.runs.stated import NamedFigureSerializer


class AskedTorqueSerializer(serializers.Serializer):
    """A motor, and propellers and voltages where others than it was run with are meant."""

    motor = serializers.IntegerField()
    propellers = serializers.CharField(
        required=False, default="", allow_blank=True, max_length=80, help_text="Numbers."
    )
    voltages = serializers.CharField(
        required=False, default="", allow_blank=True, max_length=80, help_text="In V."
    )

    def validate_propellers(self, text: str) -> tuple[int, ...]:
        """Propeller numbers."""
        return numbers_in(text, int, "propellers")

    def validate_voltages(self, text: str) -> tuple[float, ...]:
        """Voltages."""
        found = numbers_in(text, float, "voltages")
        if any(not 0 < volts <= 100 for volts in found):
            raise serializers.ValidationError("Voltages lie between 0 and 100 V.")
        return found


class TorqueLineSerializer(serializers.Serializer):
    """A line of the chart."""

    name = serializers.CharField()
    speed_rpm = serializers.ListField(child=serializers.FloatField())
    torque_nm = serializers.ListField(child=serializers.FloatField())


class MotorLineSerializer(TorqueLineSerializer):
    """What the motor gives at a voltage."""

    voltage_v = serializers.FloatField()


class LoadLineSerializer(TorqueLineSerializer):
    """What a propeller asks for; ``estimated``: from its geometry, never identified."""

    propeller = serializers.IntegerField()
    estimated = serializers.BooleanField()


class MeetingSerializer(serializers.Serializer):
    """Where a propeller's load meets the motor's line."""

    propeller = serializers.IntegerField()
    propeller_name = serializers.CharField()
    voltage_v = serializers.FloatField()
    figures = NamedFigureSerializer(many=True)


class MeasuredTorqueSerializer(serializers.Serializer):
    """Torque that a run logged: speed, torque, scatter of torque."""

    run = serializers.IntegerField()
    kind = serializers.CharField()
    sample = serializers.CharField()
    propeller_name = serializers.CharField(allow_blank=True)
    nominal_voltage_v = serializers.FloatField(allow_null=True)
    points = serializers.ListField(child=serializers.ListField(child=serializers.FloatField()))


class ChartPropellerSerializer(serializers.Serializer):
    """A propeller whose load is drawn."""

    propeller = serializers.IntegerField()
    name = serializers.CharField()


class TorqueChartSerializer(serializers.Serializer):
    """Torque over speed of one motor; ``reason`` says why no line is drawn."""

    motor = serializers.IntegerField()
    motor_name = serializers.CharField()
    voltages = serializers.ListField(child=serializers.FloatField())
    propellers = ChartPropellerSerializer(many=True)
    rests_on = serializers.CharField(allow_blank=True)
    estimated = serializers.BooleanField()
    motor_lines = MotorLineSerializer(many=True)
    load_lines = LoadLineSerializer(many=True)
    meetings = MeetingSerializer(many=True)
    measured = MeasuredTorqueSerializer(many=True)
    reason = serializers.CharField(allow_blank=True)
