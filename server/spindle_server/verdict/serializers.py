"""Verdicts as JSON."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from spindle_core.compare.bench_table import Load
from spindle_core.publish.quotes import Quote, QuoteKind
from spindle_server.verdict.models import GAINS, LINKS, QUOTE_KINDS, VERDICT_KINDS


class VerdictSectionSerializer(serializers.Serializer):
    """A section: its heading, the question it answers, and its prose in the core's schema."""

    key = serializers.CharField()
    title = serializers.CharField()
    asks = serializers.CharField()
    prose = serializers.JSONField()


class VerdictFigureSerializer(serializers.Serializer):
    """A figure in prose: what it was when somebody stood by it, and what it is."""

    id = serializers.IntegerField()
    kind = serializers.ChoiceField(QUOTE_KINDS)
    words = serializers.CharField()
    stated = serializers.CharField()
    now = serializers.CharField(allow_blank=True)
    why_absent = serializers.CharField(allow_blank=True)
    stale = serializers.BooleanField()
    moved = serializers.BooleanField(help_text="By more than its 95 % interval.")
    word = serializers.CharField(allow_blank=True)
    n = serializers.IntegerField(allow_null=True)
    n_now = serializers.IntegerField(allow_null=True)
    samples = serializers.IntegerField(allow_null=True)
    runs = serializers.ListField(child=serializers.IntegerField())
    outcome = serializers.CharField(allow_blank=True)
    assumed = serializers.BooleanField()
    seen_at = serializers.DateTimeField()
    seen_by_name = serializers.CharField(allow_blank=True)


class DisclosureSerializer(serializers.Serializer):
    """What readers are told of who paid for what, and what is still unsaid."""

    lines = serializers.ListField(child=serializers.CharField())
    missing = serializers.ListField(child=serializers.CharField())
    matters = serializers.BooleanField()


class BenchGradeSerializer(serializers.Serializer):
    """How far the evidence carries, and what would raise it."""

    grade = serializers.CharField()
    line = serializers.CharField()
    missing = serializers.ListField(child=serializers.CharField())


class ObstacleSerializer(serializers.Serializer):
    """Something that stands in the way of publishing, or is only said."""

    code = serializers.CharField()
    message = serializers.CharField()
    section = serializers.CharField(allow_blank=True)
    figure = serializers.IntegerField(allow_null=True)
    blocks = serializers.BooleanField()
    word_lifts = serializers.BooleanField()


MOST_PARTS = 24


class VerdictHeadSerializer(serializers.Serializer):
    """What a verdict is of, and its sentence."""

    id = serializers.IntegerField()
    version = serializers.IntegerField()
    subject = serializers.CharField()
    motor = serializers.IntegerField(allow_null=True)
    comparison = serializers.IntegerField(allow_null=True)
    ranking = serializers.IntegerField(allow_null=True)
    kind = serializers.ChoiceField(VERDICT_KINDS)
    runs = serializers.ListField(child=serializers.IntegerField())
    sentence = serializers.CharField(allow_blank=True)
    sentence_version = serializers.IntegerField(allow_null=True)


PARTS = [
    ("motor", "Motor"),
    ("propeller", "Propeller"),
    ("adapter", "Adapter"),
    ("esc", "ESC"),
    ("supply", "Supply"),
    ("stand", "Stand"),
    ("other", "Other"),
]


class UsedPartSerializer(serializers.Serializer):
    """Something that was used: its name, where it is sold, since when that is known, whether the
    link pays."""

    what = serializers.ChoiceField(PARTS)
    name = serializers.CharField(max_length=120)
    link = serializers.URLField(max_length=300, allow_blank=True, default="")
    noted_on = serializers.DateField(allow_null=True, default=None)
    pays = serializers.BooleanField(allow_null=True, default=None)

    def validate_link(self, link: str) -> str:
        """An address of the web, since readers follow it."""
        if link and not link.startswith(("https://", "http://")):
            raise serializers.ValidationError("A link begins with https:// or http://.")
        return link


class GearUsedSerializer(serializers.Serializer):
    """What runs were made with, to be named."""

    what = serializers.ChoiceField(PARTS)
    name = serializers.CharField()


class VerdictSerializer(VerdictHeadSerializer):
    """A whole verdict."""

    asked = serializers.DictField(
        child=serializers.CharField(),
        help_text="What the kept ranking asks, as an address says it.",
    )
    sections = VerdictSectionSerializer(many=True)
    figures = VerdictFigureSerializer(many=True)
    links = serializers.ChoiceField(LINKS)
    links_text = serializers.CharField(allow_blank=True)
    gains = serializers.ChoiceField(GAINS)
    gains_text = serializers.CharField(allow_blank=True)
    parts = UsedPartSerializer(many=True)
    gear = GearUsedSerializer(many=True)
    disclosure = DisclosureSerializer()
    grade = BenchGradeSerializer()
    obstacles = ObstacleSerializer(many=True)


class VerdictStateSerializer(VerdictHeadSerializer):
    """How a verdict stands."""

    stale = serializers.IntegerField()
    blocked = serializers.IntegerField()
    matters = serializers.BooleanField()
    grade = serializers.CharField()
    changed_at = serializers.DateTimeField()


class NewVerdictSerializer(serializers.Serializer):
    """What a verdict is of: one of the three."""

    motor = serializers.IntegerField(required=False, allow_null=True)
    comparison = serializers.IntegerField(required=False, allow_null=True)
    ranking = serializers.IntegerField(required=False, allow_null=True)


class ChangedVerdictSerializer(serializers.Serializer):
    """Changes to a verdict, made from a version; sections that are not named stay."""

    version = serializers.IntegerField(required=False)
    sentence = serializers.CharField(max_length=240, allow_blank=True, required=False)
    sentence_version = serializers.IntegerField(required=False, allow_null=True)
    sections = serializers.DictField(child=serializers.JSONField(), required=False)
    order_seen = serializers.BooleanField(
        required=False, help_text="Of a cohort: stand by the prose as its motors stand now."
    )
    links = serializers.ChoiceField(LINKS, required=False)
    links_text = serializers.CharField(max_length=400, allow_blank=True, required=False)
    gains = serializers.ChoiceField(GAINS, required=False)
    gains_text = serializers.CharField(max_length=400, allow_blank=True, required=False)
    parts = UsedPartSerializer(many=True, required=False)

    def validate_parts(self, parts: list[dict[str, Any]]) -> list[dict[str, Any]]:
        """As they are stored; not more than a page can name."""
        if len(parts) > MOST_PARTS:
            raise serializers.ValidationError(f"{MOST_PARTS} parts at most.")
        return [
            {**part, "noted_on": part["noted_on"].isoformat() if part["noted_on"] else None}
            for part in parts
        ]


class QuoteSerializer(serializers.Serializer):
    """A figure by what it is."""

    kind = serializers.ChoiceField(QUOTE_KINDS)
    of = serializers.CharField(max_length=20, allow_blank=True)
    name = serializers.CharField(max_length=40, allow_blank=True)
    propeller = serializers.CharField(max_length=120, allow_blank=True, required=False, default="")
    supply = serializers.CharField(max_length=40, allow_blank=True, required=False, default="")
    voltage_v = serializers.FloatField(min_value=0.0, max_value=200.0, required=False, default=0.0)
    condition = serializers.CharField(max_length=20, allow_blank=True, required=False, default="")
    level = serializers.FloatField(min_value=0.0, max_value=1e6, required=False, default=0.0)
    against = serializers.CharField(max_length=20, allow_blank=True, required=False, default="")
    text = serializers.CharField(max_length=240, allow_blank=True, required=False, default="")


def quote_from(values: dict[str, Any]) -> Quote:
    """A quote as a request names it."""
    return Quote(
        QuoteKind(values["kind"]),
        values["of"],
        values["name"],
        Load(values["propeller"], values["supply"], values["voltage_v"]),
        values["condition"],
        values["level"],
        values["against"],
        values["text"],
    )


class QuotableSerializer(serializers.Serializer):
    """A figure that can be put into the prose."""

    quote = QuoteSerializer()
    words = serializers.CharField()
    stated = serializers.CharField()
    samples = serializers.IntegerField(allow_null=True)
    beyond = serializers.BooleanField(help_text="Only reached beyond a rating.")


class StandingSerializer(serializers.Serializer):
    """Stand by a figure as it is now, or let the old one stand with a word on why."""

    word = serializers.CharField(max_length=240, allow_blank=True, required=False)


class EvidenceSerializer(serializers.Serializer):
    """A figure that a statement rests on."""

    words = serializers.CharField()
    stated = serializers.CharField()
    runs = serializers.ListField(child=serializers.IntegerField())


class StatementSerializer(serializers.Serializer):
    """A proposed statement."""

    key = serializers.CharField()
    section = serializers.CharField()
    side = serializers.ChoiceField(["for", "against", "neither"])
    text = serializers.CharField()
    strength = serializers.FloatField(allow_null=True, help_text="1: only just real.")
    caveat = serializers.CharField(allow_blank=True)
    taken = serializers.BooleanField(help_text="Its section says it already.")
    evidence = EvidenceSerializer(many=True)


class RivalSerializer(serializers.Serializer):
    """A motor that this one can be held against."""

    id = serializers.IntegerField()
    full_name = serializers.CharField()


class ProposalsSerializer(serializers.Serializer):
    """What may be said, the weakest first."""

    against = serializers.IntegerField(allow_null=True)
    rivals = RivalSerializer(many=True)
    sentences = serializers.ListField(child=serializers.CharField())
    statements = StatementSerializer(many=True)


class AskedProposalsSerializer(serializers.Serializer):
    """Against which motor."""

    against = serializers.IntegerField(required=False, allow_null=True, default=None)


class AdoptSerializer(AskedProposalsSerializer):
    """A proposed statement by its key."""

    key = serializers.CharField(max_length=400)


class AdoptedSerializer(serializers.Serializer):
    """A statement as a paragraph, with the figures it brought."""

    paragraph = serializers.JSONField()
    figures = VerdictFigureSerializer(many=True)


class SpokenSectionSerializer(serializers.Serializer):
    """Lines of one section, and how long they take."""

    title = serializers.CharField()
    lines = serializers.ListField(child=serializers.CharField())
    seconds = serializers.FloatField()


class SpeakingNotesSerializer(serializers.Serializer):
    """A verdict as it is spoken."""

    subject = serializers.CharField()
    seconds = serializers.FloatField()
    sections = SpokenSectionSerializer(many=True)
