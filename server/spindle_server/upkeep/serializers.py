"""What the page *Upkeep* is told."""

from __future__ import annotations

from rest_framework import serializers

from spindle_server.upkeep.judging import ACT, NOTE


class AmissSerializer(serializers.Serializer):
    """Something amiss."""

    level = serializers.ChoiceField([ACT, NOTE])
    about = serializers.CharField()
    sentence = serializers.CharField()


class ProcessSerializer(serializers.Serializer):
    """A process. ``silent_s`` null: it is not asked, since it answers nobody while it works."""

    name = serializers.CharField()
    running = serializers.BooleanField()
    answers = serializers.BooleanField()
    silent_s = serializers.FloatField(allow_null=True)
    restarts = serializers.IntegerField()


class DiskSerializer(serializers.Serializer):
    """The disk of the record; below ``least_bytes`` it is nearly full."""

    free_bytes = serializers.IntegerField()
    total_bytes = serializers.IntegerField()
    least_bytes = serializers.IntegerField()


class SizeSerializer(serializers.Serializer):
    """How much of the disk something takes."""

    what = serializers.CharField()
    bytes = serializers.IntegerField()


class LastBackupSerializer(serializers.Serializer):
    """The newest backup."""

    at = serializers.DateTimeField()
    path = serializers.CharField()
    bytes = serializers.IntegerField()
    took_s = serializers.FloatField()


class BackupsSerializer(serializers.Serializer):
    """Daily backups. ``to`` blank: none are asked for."""

    to = serializers.CharField(allow_blank=True)
    at = serializers.CharField()
    last = LastBackupSerializer(allow_null=True)
    amiss = serializers.CharField(allow_blank=True)


class OnItsWaySerializer(serializers.Serializer):
    """What the bench holds that is not on record yet."""

    state = serializers.CharField()
    simulated = serializers.BooleanField()
    link = serializers.BooleanField()
    waiting_runs = serializers.IntegerField()
    delivery_problem = serializers.CharField(allow_blank=True)
    aside = serializers.IntegerField()


class ClockSerializer(serializers.Serializer):
    """The web process's time, and how far the database is ahead of it [s]."""

    server_at = serializers.DateTimeField()
    database_ahead_s = serializers.FloatField()


class VersionsSerializer(serializers.Serializer):
    """What runs."""

    core = serializers.CharField()
    database = serializers.CharField()


class UpkeepSerializer(serializers.Serializer):
    """How the installation stands. Null: nothing looked, or nothing answered."""

    findings = AmissSerializer(many=True)
    seen_at = serializers.DateTimeField(allow_null=True)
    folder = serializers.CharField(allow_blank=True)
    parts = ProcessSerializer(many=True)
    disk = DiskSerializer(allow_null=True)
    sizes = SizeSerializer(many=True)
    backups = BackupsSerializer(allow_null=True)
    bench = OnItsWaySerializer(allow_null=True)
    clock = ClockSerializer()
    versions = VersionsSerializer()
