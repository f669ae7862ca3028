"""Publishing as JSON."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from spindle_server.publish.models import (
    Edition,
    EditionPack,
    Proposal,
    Publication,
    PublishingRules,
)
from spindle_server.publish.readers import pack_name


class EditionSerializer(serializers.ModelSerializer):
    """An edition without what it says."""

    published_by_name = serializers.CharField(source="published_by.shown_name", read_only=True)
    path = serializers.SerializerMethodField()
    licence = serializers.SerializerMethodField()
    data_path = serializers.SerializerMethodField()
    data_bytes = serializers.SerializerMethodField()
    data_problem = serializers.SerializerMethodField()

    class Meta:
        model = Edition
        fields = [
            "number",
            "published_at",
            "published_by_name",
            "changed",
            "why",
            "correction",
            "path",
            "licence",
            "data_path",
            "data_bytes",
            "data_problem",
        ]

    def _pack(self, edition: Edition) -> EditionPack | None:
        found: EditionPack | None = getattr(edition, "pack", None)
        return found

    def get_data_path(self, edition: Edition) -> str:
        """Where its data pack lies; '' while there is none."""
        pack = self._pack(edition)
        folder: str = self.context["folder"]
        made = pack is not None and pack.digest
        return f"/read/{folder}/{pack_name(edition)}" if made else ""

    def get_data_bytes(self, edition: Edition) -> int | None:
        """How large that is."""
        pack = self._pack(edition)
        return None if pack is None else pack.size_bytes

    def get_data_problem(self, edition: Edition) -> str:
        """Why it could not be made."""
        pack = self._pack(edition)
        return "" if pack is None else pack.problem

    def get_licence(self, edition: Edition) -> str:
        """Under which it was published."""
        pack = self._pack(edition)
        return "" if pack is None else pack.licence

    def get_path(self, edition: Edition) -> str:
        """Where readers find it."""
        folder: str = self.context["folder"]
        newest = edition.number == self.context["newest"]
        return f"/read/{folder}/" if newest else f"/read/{folder}/edition-{edition.number}.html"


class ProposalSerializer(serializers.ModelSerializer):
    """A verdict that a reviewer holds for ready."""

    proposed_by_name = serializers.CharField(source="proposed_by.shown_name", read_only=True)
    since_changed = serializers.SerializerMethodField()

    class Meta:
        model = Proposal
        fields = ["note", "proposed_by_name", "proposed_at", "since_changed"]

    def get_since_changed(self, proposal: Proposal) -> bool:
        """Whether the verdict was changed after it."""
        return proposal.version != proposal.verdict.version


class PublishedSerializer(serializers.Serializer):
    """What became of a verdict: its proposal, its page and the page's editions."""

    id = serializers.IntegerField(allow_null=True, help_text="Of the publication.")
    version = serializers.IntegerField(allow_null=True)
    path = serializers.CharField(allow_blank=True)
    withdrawn_reason = serializers.CharField(allow_blank=True)
    withdrawn_at = serializers.DateTimeField(allow_null=True)
    editions = EditionSerializer(many=True)
    proposal = ProposalSerializer(allow_null=True)
    second_eyes = serializers.BooleanField()


class ProposeSerializer(serializers.Serializer):
    """A word to the editor, if any."""

    note = serializers.CharField(max_length=240, allow_blank=True, required=False, default="")


class PublishSerializer(serializers.Serializer):
    """A new edition, of the verdict as it was read."""

    version = serializers.IntegerField(required=False)
    changed = serializers.CharField(max_length=400, allow_blank=True, required=False, default="")
    why = serializers.CharField(max_length=400, allow_blank=True, required=False, default="")
    correction = serializers.BooleanField(required=False, default=False)
    licence = serializers.CharField(
        max_length=120,
        allow_blank=True,
        required=False,
        allow_null=True,
        default=None,
        help_text="Of its data; null: the bench's.",
    )


class WithdrawSerializer(serializers.Serializer):
    """Why a page is taken back."""

    reason = serializers.CharField(max_length=240, allow_blank=True)
    version = serializers.IntegerField(required=False)


class PublishedPageSerializer(serializers.Serializer):
    """A page in the list of what is published."""

    verdict = serializers.IntegerField()
    subject = serializers.CharField()
    path = serializers.CharField()
    number = serializers.IntegerField()
    published_at = serializers.DateTimeField()
    corrections = serializers.IntegerField()
    withdrawn_reason = serializers.CharField(allow_blank=True)


class PublishingRulesSerializer(serializers.ModelSerializer):
    """How the bench publishes."""

    version = serializers.IntegerField(required=False)

    class Meta:
        model = PublishingRules
        fields = ["bench_name", "address", "licence", "second_eyes", "version"]


def published_page(publication: Publication, newest: Edition, folder: str) -> dict[str, Any]:
    """A row of the list."""
    return {
        "verdict": publication.verdict_id,
        "subject": newest.subject,
        "path": f"/read/{folder}/",
        "number": newest.number,
        "published_at": newest.published_at,
        "corrections": sum(row.correction for row in publication.editions.all()),
        "withdrawn_reason": publication.withdrawn_reason,
    }
