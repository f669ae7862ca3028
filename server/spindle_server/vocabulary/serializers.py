"""The vocabulary as JSON."""

from __future__ import annotations

from rest_framework import serializers


class QuantitySerializer(serializers.Serializer):
    """A figure in words, with its unit."""

    name = serializers.CharField()
    label = serializers.CharField()
    unit = serializers.CharField(allow_blank=True)


class ParameterSerializer(serializers.Serializer):
    """A number that a kind of run is asked for; ``default`` null where somebody has to say it."""

    name = serializers.CharField()
    label = serializers.CharField()
    unit = serializers.CharField(allow_blank=True)
    low = serializers.FloatField()
    high = serializers.FloatField()
    many = serializers.BooleanField()
    optional = serializers.BooleanField()
    default = serializers.ListField(child=serializers.FloatField(), allow_null=True)


class RunKindSerializer(serializers.Serializer):
    """A kind of run."""

    key = serializers.CharField()
    label = serializers.CharField()
    commands = serializers.CharField()
    needs_propeller = serializers.BooleanField()
    played = serializers.BooleanField(help_text="The bench plays it.")
    headline = serializers.ListField(child=serializers.CharField())
    first_look = serializers.ListField(child=serializers.CharField())
    parameters = ParameterSerializer(many=True)


class LimitSerializer(serializers.Serializer):
    """A limit that a form asks for."""

    name = serializers.CharField()
    label = serializers.CharField()
    unit = serializers.CharField()
    low = serializers.FloatField()
    high = serializers.FloatField()
    can_be_off = serializers.BooleanField()
    unwatched = serializers.CharField(allow_blank=True)
    usual = serializers.FloatField(allow_null=True)


class EntryUnitSerializer(serializers.Serializer):
    """A unit that may be typed into a field: value = (typed − offset) × factor."""

    unit = serializers.CharField()
    name = serializers.CharField()
    factor = serializers.FloatField()
    offset = serializers.FloatField()
    spellings = serializers.ListField(child=serializers.CharField())


class CheckItemSerializer(serializers.Serializer):
    """What is confirmed before arming."""

    key = serializers.CharField()
    text = serializers.CharField()


class KindCheckItemSerializer(CheckItemSerializer):
    """What a kind of run adds to the checklist."""

    kind = serializers.CharField()


class WordSerializer(serializers.Serializer):
    """A key of the record and its word."""

    key = serializers.CharField()
    label = serializers.CharField()


class LogChannelSerializer(serializers.Serializer):
    """A channel that a column of a log can hold, with the units it may be written in."""

    name = serializers.CharField()
    label = serializers.CharField()
    units = serializers.ListField(child=serializers.CharField())


class NoticedSerializer(serializers.Serializer):
    """Something to notice of a run that is no figure: a number within a range, or a choice."""

    key = serializers.CharField()
    label = serializers.CharField()
    unit = serializers.CharField(allow_blank=True)
    low = serializers.FloatField()
    high = serializers.FloatField()
    choices = WordSerializer(many=True)


class WordsSerializer(serializers.Serializer):
    """Everything a screen needs in words."""

    version = serializers.CharField()
    quantities = QuantitySerializer(many=True)
    run_kinds = RunKindSerializer(many=True)
    limits = LimitSerializer(many=True)
    entry_units = EntryUnitSerializer(many=True)
    log_channels = LogChannelSerializer(many=True)
    noticed = NoticedSerializer(many=True)
    checklist = CheckItemSerializer(many=True)
    kind_checklist = KindCheckItemSerializer(many=True)
    chosen_checklist = CheckItemSerializer(many=True)
    page_grace_s = serializers.FloatField()
    longest_page_grace_s = serializers.FloatField()
    choices = serializers.DictField(child=WordSerializer(many=True))
