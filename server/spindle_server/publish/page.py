"""What a page is made of: a publication with its editions, and what its template is told."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from django.db.models import Prefetch, QuerySet
from django.template.loader import render_to_string

from spindle_server.publish.models import Edition, EditionPack, Publication
from spindle_server.publish.services import rules

FOLDERS = {"motor": "motors", "comparison": "comparisons", "cohort": "cohorts"}


@dataclass(frozen=True)
class Shown:
    """A publication as it is shown: its editions, the newest first, without what they say."""

    publication: Publication
    editions: list[Edition]

    @property
    def newest(self) -> Edition:
        """The edition that stands."""
        return self.editions[0]

    @property
    def folder(self) -> str:
        """Where its pages lie."""
        return f"{FOLDERS[self.newest.kind]}/{self.publication.slug}"

    @property
    def withdrawn(self) -> bool:
        """Whether it was taken back."""
        return self.publication.withdrawn_at is not None


def shown(rows: QuerySet[Publication]) -> list[Shown]:
    light = Edition.objects.defer("content", "drawings", "pack__frozen").select_related(
        "published_by", "pack"
    )
    found = rows.prefetch_related(Prefetch("editions", light)).order_by("slug")
    return [Shown(row, editions) for row in found if (editions := list(row.editions.all()))]


def whole(edition: Edition) -> Edition:
    """An edition with what it says; not kept, since there may be thousands."""
    rows = Edition.objects.select_related("published_by", "pack").defer("pack__frozen")
    return rows.get(pk=edition.pk)


def _licence(edition: Edition) -> str:
    """Under which an edition was published; '' where nobody said, or of one without data."""
    row: EditionPack | None = getattr(edition, "pack", None)
    return row.licence if row is not None else ""


def page_context(one: Shown, light: Edition) -> dict[str, Any]:
    edition = whole(light)
    return {
        **_said(edition),
        "one": one,
        "licence": _licence(edition),
        "corrections": [row for row in one.editions if row.correction],
        "newer": None if edition.pk == one.newest.pk else one.newest,
    }


def draft_page(edition: Edition, blocked: int) -> str:
    """The page of an edition that nobody issued.

    :param blocked: how many things stand in its way.
    """
    context = {**_said(edition), "rules": rules(), "up": "/read/", "draft": True}
    return render_to_string("readers/page.html", {**context, "blocked": blocked})


def _motor_pages(content: dict[str, Any]) -> dict[int, str]:
    """Of the motors of a ranking, those that have a page: motor → its folder."""
    if "ranking" not in content:
        return {}
    listed = [row["motor"] for row in content["ranking"]["rows"]]
    rows = Publication.objects.filter(
        verdict__motor__in=listed, withdrawn_at__isnull=True, editions__isnull=False
    ).distinct()
    return {
        motor: f"{FOLDERS['motor']}/{slug}"
        for motor, slug in rows.values_list("verdict__motor", "slug")
    }


def _said(edition: Edition) -> dict[str, Any]:
    """What a page says, ready for its template."""
    content, drawings = edition.content, edition.drawings
    steps: dict[str, list[dict[str, Any]]] = {}
    for row in content["teardown"]:
        steps.setdefault(row["step"], []).append(row)
    return {
        "edition": edition,
        "content": content,
        "motor_pages": _motor_pages(content),
        "charts": [
            {"key": key, **drawings[key]}
            for key in drawings
            if drawings[key].get("reading") is not None
        ],
        "cutaway": drawings.get("cutaway"),
        "teardown": list(steps.items()),
    }
