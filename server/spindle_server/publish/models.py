"""What was published: verdicts as numbered editions that never change, and frozen comparisons."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from spindle_server.photos.models import Photo
from spindle_server.records.blobs import Bytes
from spindle_server.records.history import History
from spindle_server.records.versions import Versioned
from spindle_server.verdict.models import Verdict


class Snapshot(models.Model):
    """A comparison as it stood when an editor froze it. Never changed, only superseded."""

    title = models.CharField(max_length=120)
    content = models.JSONField()
    frozen_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+"
    )
    frozen_at = models.DateTimeField(auto_now_add=True)
    history = History(excluded_fields=["content"])

    class Meta:
        ordering = ["-frozen_at"]
        constraints = [
            models.CheckConstraint(condition=~models.Q(title=""), name="snapshot_has_a_title")
        ]

    def __str__(self) -> str:
        return self.title


class PublishingRules(Versioned):
    """What the bench declares once for all that it publishes.

    ``address``: where the pages will be found, for the feed; empty while nobody knows.
    ``second_eyes``: who publishes must not be who proposed.
    """

    only = models.PositiveSmallIntegerField(default=1, unique=True, editable=False)
    bench_name = models.CharField(max_length=80, default="A motor bench")
    address = models.URLField(max_length=200, blank=True)
    licence = models.CharField(max_length=120, blank=True)
    second_eyes = models.BooleanField(default=False)
    history = History()

    class Meta:
        constraints = [
            models.CheckConstraint(condition=models.Q(only=1), name="one_set_of_rules"),
            models.CheckConstraint(
                condition=~models.Q(bench_name=""), name="publishing_bench_has_a_name"
            ),
        ]

    def __str__(self) -> str:
        return "How the bench publishes"


class Proposal(models.Model):
    """A reviewer holds a verdict for ready, as it was at a version."""

    verdict = models.OneToOneField(Verdict, on_delete=models.CASCADE, related_name="proposal")
    version = models.PositiveIntegerField()
    note = models.CharField(max_length=240, blank=True)
    proposed_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+"
    )
    proposed_at = models.DateTimeField(auto_now=True)
    history = History()

    def __str__(self) -> str:
        return f"{self.verdict}, proposed"


class Publication(Versioned):
    """A verdict's page for readers, under an address that stays."""

    verdict = models.OneToOneField(Verdict, on_delete=models.PROTECT, related_name="publication")
    slug = models.SlugField(max_length=100, unique=True)
    withdrawn_reason = models.CharField(max_length=240, blank=True)
    withdrawn_at = models.DateTimeField(null=True, blank=True)
    history = History()

    class Meta:
        ordering = ["slug"]
        constraints = [
            models.CheckConstraint(
                condition=models.Q(withdrawn_at__isnull=True, withdrawn_reason="")
                | models.Q(withdrawn_at__isnull=False) & ~models.Q(withdrawn_reason=""),
                name="withdrawn_with_a_reason",
            )
        ]

    def __str__(self) -> str:
        return self.slug


class Edition(models.Model):
    """A publication as it stood on a day. Never changed; the next number supersedes it.

    ``content``: everything the page says; ``drawings`` what it shows. What an index needs of it
    stands beside, so that lists load neither. ``digest``: of what it says, to tell whether
    anything changed. ``correction``: something that had been said was wrong.
    """

    publication = models.ForeignKey(Publication, on_delete=models.PROTECT, related_name="editions")
    number = models.PositiveIntegerField()
    kind = models.CharField(max_length=12)
    subject = models.CharField(max_length=240)
    sentence = models.CharField(max_length=240)
    grade = models.CharField(max_length=40)
    content = models.JSONField()
    drawings = models.JSONField(default=dict)
    digest = models.CharField(max_length=64)
    changed = models.CharField(max_length=400, blank=True)
    why = models.CharField(max_length=400, blank=True)
    correction = models.BooleanField(default=False)
    published_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+"
    )
    published_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["publication", "-number"]
        constraints = [
            models.UniqueConstraint(fields=["publication", "number"], name="edition_is_numbered"),
            models.CheckConstraint(
                condition=models.Q(number=1) | ~models.Q(changed=""),
                name="later_edition_says_what_changed",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.publication}, edition {self.number}"


class EditionPack(models.Model):
    """The data behind an edition, for whoever wants to work with it.

    ``frozen``: everything of it but the samples of its runs, which never change, as JSON
    (compressed). The archive is made from it later, as long work: ``digest`` and ``size_bytes`` are
    empty until then, and ``problem`` says why it could not be made.
    """

    edition = models.OneToOneField(Edition, on_delete=models.CASCADE, related_name="pack")
    licence = models.CharField(max_length=120, blank=True)
    frozen = Bytes()
    digest = models.CharField(max_length=64, blank=True)
    size_bytes = models.PositiveBigIntegerField(null=True, blank=True)
    problem = models.CharField(max_length=300, blank=True)
    made_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["pk"]
        constraints = [
            models.CheckConstraint(
                condition=models.Q(digest="", size_bytes__isnull=True)
                | ~models.Q(digest="") & models.Q(size_bytes__isnull=False),
                name="pack_is_made_or_not",
            )
        ]

    def __str__(self) -> str:
        return f"data of {self.edition}"


class PublishedPhoto(models.Model):
    """A photo that an edition shows, under the name that readers' pages have for it."""

    edition = models.ForeignKey(Edition, on_delete=models.CASCADE, related_name="photos")
    photo = models.ForeignKey(Photo, on_delete=models.PROTECT, related_name="+")
    name = models.CharField(max_length=80)

    class Meta:
        ordering = ["edition", "pk"]
        constraints = [
            models.UniqueConstraint(fields=["edition", "photo"], name="photo_once_an_edition")
        ]

    def __str__(self) -> str:
        return self.name
