"""Proposing, publishing, withdrawing; and freezing comparisons."""

from __future__ import annotations

import json
from contextlib import suppress
from typing import Any

from django.utils import timezone
from django.utils.text import slugify

from spindle_server.accounts.models import Role, User
from spindle_server.compare.asking import AskedComparison
from spindle_server.compare.selectors import compared
from spindle_server.compare.serializers import ComparisonSerializer
from spindle_server.errors import ConflictError, ServiceError
from spindle_server.photos.models import Photo
from spindle_server.publish.drawing import draw_worker
from spindle_server.publish.freezing import content_of, digest_of, drawings_of
from spindle_server.publish.models import (
    Edition,
    EditionPack,
    Proposal,
    Publication,
    PublishedPhoto,
    PublishingRules,
    Snapshot,
)
from spindle_server.publish.pack_tasks import make_packs
from spindle_server.publish.packing import frozen_pack
from spindle_server.records.versions import locked, refuse_stale, write_fields
from spindle_server.records.writes import writes
from spindle_server.runs.models import Run
from spindle_server.verdict.looking import Looking
from spindle_server.verdict.models import Verdict
from spindle_server.verdict.selectors import judged
from spindle_server.work.services import ask_for


@writes(Role.EDITOR)
def freeze_comparison(*, actor: User, title: str, asked: AskedComparison) -> Snapshot:
    """A frozen copy of a comparison; rejected runs cannot be published."""
    comparison = compared(asked)
    rejected = Run.objects.filter(pk__in=asked.runs, review="rejected").order_by("pk").first()
    if rejected is not None:
        raise ServiceError(
            f"Run {rejected.pk} was rejected; leave it out or accept it first.", code="rejected_run"
        )
    # Through the serializer, so that what is kept is JSON of the shape that readers get.
    content = json.loads(json.dumps(ComparisonSerializer(comparison).data))
    row = Snapshot(title=title.strip(), content=content, frozen_by=actor)
    row.save()
    return row


def rules() -> PublishingRules:
    """How the bench publishes; its defaults until somebody says otherwise."""
    return PublishingRules.objects.first() or PublishingRules()


@writes(Role.EDITOR)
def change_rules(*, actor: User, values: dict[str, Any], base: int | None) -> PublishingRules:
    """Another name, address, licence, or whether a second pair of eyes is wanted."""
    row, _ = PublishingRules.objects.select_for_update().get_or_create(only=1)
    write_fields(row, values, base=base)
    return row


@writes(Role.REVIEWER)
def propose(*, actor: User, verdict: Verdict, note: str = "") -> Proposal:
    """Hold a verdict for ready, as it stands now.

    :raises ServiceError: something blocks it.
    """
    _refuse_blocked(verdict, Looking(verdict))
    row, _ = Proposal.objects.update_or_create(
        verdict=verdict,
        defaults={"version": verdict.version, "note": note.strip(), "proposed_by": actor},
    )
    return row


def _refuse_blocked(verdict: Verdict, looking: Looking) -> None:
    _, _, found = judged(verdict, looking)
    blocking = [one for one in found if one.blocks]
    if blocking:
        more = f" And {len(blocking) - 1} more." if len(blocking) > 1 else ""
        raise ServiceError(f"{blocking[0].message}{more}", code="not_ready")


@writes(Role.EDITOR)
def publish(
    *,
    actor: User,
    verdict: Verdict,
    base: int | None,
    changed: str = "",
    why: str = "",
    correction: bool = False,
    licence: str | None = None,
) -> Edition:
    """A new edition of a verdict's page, frozen, numbered and dated.

    :param base: version of the verdict that the editor read. :param changed: what changed against
        the edition before; the first needs none. :param correction: something said was wrong.
    :param licence: of its data; the bench's by default.
    :raises ServiceError: something blocks it, nothing changed, or nobody else looked at it.
    """
    row = locked(Verdict, verdict.pk)
    refuse_stale(row, base, ["sections", "sentence"])
    with draw_worker() as worker:
        # Everything is read once: what stands in the way, and what is said, drawn and frozen.
        looking = Looking(row)
        _refuse_blocked(row, looking)
        _refuse_alone(row, actor)
        publication = Publication.objects.select_for_update().filter(verdict=row).first()
        if publication is None:
            publication = Publication(verdict=row, slug=_slug(row.subject))
            publication.save()
        last = publication.editions.first()
        content = json.loads(json.dumps(content_of(row, looking)))
        digest = digest_of(content)
        if last is not None:
            _refuse_unsaid(last, digest, changed, why)
        drawings = drawings_of(row, looking, worker)
    edition = Edition(
        publication=publication,
        number=1 if last is None else last.number + 1,
        kind=content["kind"],
        subject=content["subject"],
        sentence=content["sentence"],
        grade=content["grade"]["label"],
        content=content,
        drawings=drawings,
        digest=digest,
        changed=changed.strip(),
        why=why.strip(),
        correction=correction and last is not None,
        published_by=actor,
    )
    edition.save()
    for one in content["photos"]:
        photo = Photo.objects.get(pk=one["photo"])
        PublishedPhoto(edition=edition, photo=photo, name=one["name"]).save()
    bench = rules()
    chosen = bench.licence if licence is None else licence.strip()
    frozen = frozen_pack(edition, bench, chosen, looking)
    EditionPack(edition=edition, licence=chosen, frozen=frozen).save()
    if publication.withdrawn_at is not None:
        publication.withdrawn_at, publication.withdrawn_reason = None, ""
        publication.version += 1
        publication.save()
    Proposal.objects.filter(verdict=row).delete()
    return edition


@writes(Role.EDITOR)
def ask_for_packs(*, actor: User) -> None:
    """Have the data packs that wait made, as long work; where that is asked for already, once is
    enough."""
    with suppress(ConflictError):
        ask_for(actor=actor, title="Make the data packs", task=make_packs)


def draft_of(verdict: Verdict, seen_by: User) -> tuple[Edition, int]:
    """The edition that would be published now, not stored, and how many things stand in its way.

    :raises ServiceError: its drawings cannot be made.
    """
    with draw_worker() as worker:
        looking = Looking(verdict)
        _, _, found = judged(verdict, looking)
        content = json.loads(json.dumps(content_of(verdict, looking)))
        drawings = drawings_of(verdict, looking, worker)
    last = Edition.objects.filter(publication__verdict=verdict).only("number").first()
    edition = Edition(
        number=1 if last is None else last.number + 1,
        kind=content["kind"],
        subject=content["subject"],
        sentence=content["sentence"],
        content=content,
        drawings=drawings,
        published_by=seen_by,
        published_at=timezone.now(),
    )
    return edition, sum(one.blocks for one in found)


def _refuse_alone(verdict: Verdict, actor: User) -> None:
    """Whether a second pair of eyes was wanted and there was none."""
    if not rules().second_eyes:
        return
    proposal = Proposal.objects.filter(verdict=verdict).first()
    if proposal is None or proposal.proposed_by_id == actor.pk:
        raise ServiceError(
            "This bench wants a second pair of eyes: somebody else has to propose it.", code="alone"
        )
    if proposal.version != verdict.version:
        raise ServiceError(
            "It was changed after it was proposed; have it proposed again.", code="changed_since"
        )


def _refuse_unsaid(last: Edition, digest: str, changed: str, why: str) -> None:
    if last.digest == digest and last.publication.withdrawn_at is None:
        raise ServiceError("Nothing that readers see has changed.", code="nothing_changed")
    for name, text, message in (
        ("changed", changed, "Say what changed."),
        ("why", why, "Say why it changed."),
    ):
        if not text.strip():
            raise ServiceError(message, code="unsaid", fields={name: [message]})


def _slug(subject: str) -> str:
    """An address that no other page has."""
    base = slugify(subject)[:90] or "page"
    taken = set(Publication.objects.filter(slug__startswith=base).values_list("slug", flat=True))
    names = [base, *(f"{base}-{number}" for number in range(2, len(taken) + 3))]
    return next(name for name in names if name not in taken)


@writes(Role.EDITOR)
def withdraw(
    *, actor: User, publication: Publication, reason: str, base: int | None
) -> Publication:
    """Take a page back; its address stays and says so.

    :raises ServiceError: no reason, or it is withdrawn already.
    """
    if not reason.strip():
        message = "Say why it is withdrawn."
        raise ServiceError(message, code="no_reason", fields={"reason": [message]})
    row = locked(Publication, publication.pk)
    refuse_stale(row, base, ["withdrawn_reason"])
    if row.withdrawn_at is not None:
        raise ServiceError("It is withdrawn already.", code="withdrawn")
    row.withdrawn_at, row.withdrawn_reason = timezone.now(), reason.strip()
    row.version += 1
    row.save()
    return row
