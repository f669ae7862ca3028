"""Readers' pages: a folder of files that stands on any web server, and by itself under /read/.

Every file follows from what is published and from nothing else: the same editions give the same
bytes, wherever and whenever they are made. Links are relative.
"""

from __future__ import annotations

import hashlib
import json
import re
from collections.abc import Iterator
from functools import cached_property, lru_cache
from pathlib import Path
from typing import Any

from django.conf import settings
from django.template.loader import render_to_string
from django.utils.feedgenerator import Atom1Feed

from spindle_core.publish.grade import Grade
from spindle_server.papers import page_pdf, table_csv
from spindle_server.photos.services import photo_path
from spindle_server.publish.models import Edition, EditionPack, Publication, PublishedPhoto
from spindle_server.publish.packs import pack_path
from spindle_server.publish.page import Shown, page_context, shown, whole
from spindle_server.publish.services import rules

PER_PAGE = 200
ASSETS = Path(__file__).parent / "readers_assets"
HTML = "text/html; charset=utf-8"
TYPES = {
    ".html": HTML,
    ".css": "text/css; charset=utf-8",
    ".js": "text/javascript; charset=utf-8",
    ".json": "application/json",
    ".csv": "text/csv; charset=utf-8",
    ".xml": "application/atom+xml; charset=utf-8",
    ".woff2": "font/woff2",
    ".jpg": "image/jpeg",
    ".pdf": "application/pdf",
    ".zip": "application/zip",
}


@lru_cache(maxsize=1)
def fonts() -> dict[str, Path]:
    """The fonts that ship with the application, by the names that the pages have for them."""
    found = {}
    for weight, style in ((400, "normal"), (700, "normal"), (400, "italic")):
        pattern = f"assets/b612-latin-{weight}-{style}-*.woff2"
        for path in sorted(Path(settings.WEB_BUILD).glob(pattern))[:1]:
            found[f"assets/b612-{weight}-{style}.woff2"] = path
    return found


class Site:
    """Everything that is published, as files.

    ``pdf``, ``packs``: whether pages are offered as PDF and with their data.
    """

    def __init__(self, *, pdf: bool = True, packs: bool = True) -> None:
        self.rules = rules()
        self.pdf, self.packs = pdf, packs

    @cached_property
    def shown(self) -> list[Shown]:
        """Every publication; two queries, none of which loads a page."""
        return shown(Publication.objects.all())

    def at(self, folder: str) -> Shown | None:
        """The publication whose pages lie in a folder."""
        _, _, slug = folder.rpartition("/")
        found = shown(Publication.objects.filter(slug=slug))
        return next((one for one in found if one.folder == folder), None)

    @cached_property
    def listed(self) -> list[Shown]:
        """Those in the index: the newest first."""
        standing = [one for one in self.shown if not one.withdrawn]
        return sorted(
            standing, key=lambda one: (one.newest.published_at, one.publication.slug), reverse=True
        )

    @property
    def pages(self) -> int:
        """How many pages the index has."""
        return max(1, -(-len(self.listed) // PER_PAGE))

    def paths(self) -> Iterator[str]:
        """Every file, in an order that stays."""
        yield from ("index.html", *(f"list-{n}.html" for n in range(2, self.pages + 1)))
        yield from ("feed.xml", "search.json", "assets/readers.css", "assets/readers.js")
        yield from fonts()
        for one in self.shown:
            yield f"{one.folder}/index.html"
            if one.withdrawn:
                continue
            yield f"{one.folder}/runs.html"
            yield f"{one.folder}/runs.csv"
            for edition in one.editions[1:]:
                yield f"{one.folder}/edition-{edition.number}.html"
            if self.pdf:
                yield f"{one.folder}/page.pdf"
            for edition in one.editions if self.packs else ():
                if _made(edition) is not None:
                    yield f"{one.folder}/{pack_name(edition)}"
        standing = PublishedPhoto.objects.filter(edition__publication__withdrawn_at__isnull=True)
        names = standing.order_by().values_list("name", flat=True).distinct()
        yield from (f"photos/{name}" for name in sorted(names))

    def file(self, path: str) -> bytes | None:
        """What lies at a path; None where nothing does."""
        if path == "index.html":
            return self._index(1)
        if path == "feed.xml":
            return self._feed()
        if path == "search.json":
            return self._search()
        if path == "assets/readers.css":
            return b"".join(
                (ASSETS / name).read_bytes() for name in ("readers.css", "drawings.css")
            )
        if path == "assets/readers.js":
            return (ASSETS / "readers.js").read_bytes()
        if path in fonts():
            return fonts()[path].read_bytes()
        folder, _, name = path.rpartition("/")
        if not folder:
            return self._listed(name)
        if folder == "photos":
            return self._photo(name)
        one = self.at(folder)
        return None if one is None else self._of(one, name)

    def _of(self, one: Shown, name: str) -> bytes | None:
        if one.withdrawn:
            return self._page(one, one.newest, "withdrawn") if name == "index.html" else None
        if name == "index.html":
            return self._page(one, one.newest)
        if name == "page.pdf":
            return self._pdf(one)
        if name == "runs.html":
            return self._html("runs", 2, one=one, content=whole(one.newest).content)
        if name == "runs.csv":
            return table_csv(run_rows(whole(one.newest).content)).encode()
        if name.endswith(".zip"):
            path = self.pack_at(f"{one.folder}/{name}")
            return None if path is None else path.read_bytes()
        number = name.removeprefix("edition-").removesuffix(".html")
        older = next(
            (row for row in one.editions[1:] if f"edition-{row.number}.html" == name), None
        )
        return self._page(one, older) if number.isdigit() and older else None

    def pack_at(self, path: str) -> Path | None:
        """The archive that lies at a path; None where nothing does."""
        folder, _, name = path.rpartition("/")
        one = self.at(folder)
        if one is None or one.withdrawn:
            return None
        named = next((row for row in one.editions if pack_name(row) == name), None)
        made = None if named is None else _made(named)
        found = None if made is None else pack_path(made.digest)
        return found if found is not None and found.exists() else None

    def _listed(self, name: str) -> bytes | None:
        number = name.removeprefix("list-").removesuffix(".html")
        if name != f"list-{number}.html" or not number.isdigit():
            return None
        at = int(number)
        return self._index(at) if 2 <= at <= self.pages and str(at) == number else None

    def _html(self, template: str, depth: int, **context: Any) -> bytes:
        text = render_to_string(
            f"readers/{template}.html",
            {"rules": self.rules, "up": "../" * depth, "as_pdf": self.pdf, **context},
        )
        return text.encode()

    def _index(self, at: int) -> bytes:
        rows = self.listed[(at - 1) * PER_PAGE : at * PER_PAGE]
        pages = [
            {"number": n, "path": "index.html" if n == 1 else f"list-{n}.html"}
            for n in range(1, self.pages + 1)
        ]
        return self._html(
            "index",
            0,
            rows=rows,
            at=at,
            pages=pages if self.pages > 1 else [],
            count=len(self.listed),
            grades=self._grades(),
        )

    def _grades(self) -> list[str]:
        """Grades that something listed has, the best first."""
        there = {one.newest.grade for one in self.listed}
        return [grade.label for grade in reversed(Grade) if grade.label in there]

    def _page(self, one: Shown, edition: Edition, template: str = "page") -> bytes:
        context = page_context(one, edition)
        made = _made(edition) if self.packs else None
        if made is not None:
            context["data"] = {"path": pack_name(edition), "bytes": made.size_bytes}
        return self._html(template, 2, **context)

    def _pdf(self, one: Shown) -> bytes:
        context = page_context(one, one.newest)
        if context["cutaway"]:
            svg = context["cutaway"]["svg"]
            styled = re.sub(r"(<svg[^>]*>)", rf"\1<style>{_on_paper()}</style>", svg, count=1)
            context["cutaway"] = {**context["cutaway"], "svg": styled}
        body = render_to_string("readers/paper.html", {"rules": self.rules, "up": "", **context})
        style = (ASSETS / "paper.css").read_text()
        return page_pdf(f"<style>{style}</style>{body}")

    def _photo(self, name: str) -> bytes | None:
        row = (
            PublishedPhoto.objects.filter(
                name=name, edition__publication__withdrawn_at__isnull=True
            )
            .select_related("photo")
            .first()
        )
        try:
            return None if row is None else photo_path(row.photo, thumbnail=False).read_bytes()
        except FileNotFoundError:
            return None

    def _search(self) -> bytes:
        rows = [
            {
                "path": f"{one.folder}/index.html",
                "name": one.newest.subject,
                "said": one.newest.sentence,
                "kind": one.newest.kind,
                "grade": one.newest.grade,
            }
            for one in self.listed
        ]
        return json.dumps(rows, ensure_ascii=False, separators=(",", ":")).encode()

    def _feed(self) -> bytes:
        address = self.rules.address.rstrip("/") or "http://localhost"
        feed = Atom1Feed(
            title=self.rules.bench_name,
            link=f"{address}/index.html",
            description="",
            feed_url=f"{address}/feed.xml",
            feed_guid=f"{address}/",
            author_name=self.rules.bench_name,
        )
        editions = [(one, row) for one in self.listed for row in one.editions]
        editions.sort(key=lambda pair: (pair[1].published_at, pair[1].pk), reverse=True)
        for one, row in editions[:FEED_MOST]:
            link = f"{address}/{one.folder}/index.html"
            what = "Correction" if row.correction else "New" if row.number == 1 else "Changed"
            feed.add_item(
                title=f"{what}: {row.subject}",
                link=link,
                description=row.changed or row.sentence,
                unique_id=f"{link}#edition-{row.number}",
                pubdate=row.published_at,
                updateddate=row.published_at,
            )
        text: str = feed.writeString("utf-8")
        return text.encode()


FEED_MOST = 100


def pack_name(edition: Edition) -> str:
    """What the data of an edition are called beside its page."""
    return f"edition-{edition.number}-data.zip"


def _made(edition: Edition) -> EditionPack | None:
    """The data of an edition, where they are made."""
    row: EditionPack | None = getattr(edition, "pack", None)
    return row if row is not None and row.digest else None


@lru_cache(maxsize=1)
def _on_paper() -> str:
    """The style of a cutaway inside its drawing, where paper looks for it, with lines in the
    drawing's own unit: a tenth of a millimetre of the motor for a pixel."""
    text = (ASSETS / "drawings.css").read_text()
    rules = [
        line for line in text.splitlines() if not line.startswith((".cutaway {", ".cutaway svg"))
    ]
    scaled = re.sub(
        r"(stroke-width|stroke-dasharray): ([^;}]+)",
        lambda found: (
            f"{found[1]}: "
            + " ".join(f"{float(n) / 10:g}" for n in found[2].replace("px", "").split())
        ),
        "\n".join(rules),
    )
    return scaled.replace(".cutaway ", "").replace("vector-effect: non-scaling-stroke; ", "")


RUN_HEADS = (
    "Run",
    "Date",
    "Kind",
    "Motor",
    "Sample",
    "Load",
    "Stand",
    "From",
    "Review",
    "Reason",
    "Largest thrust, gf",
    "u, gf",
    "Largest current, A",
    "u, A",
    "Largest power, W",
    "u, W",
    "Best thrust per power, gf/W",
    "u, gf/W",
)


def run_rows(content: dict[str, Any]) -> list[list[Any]]:
    """Every run of an edition, a row each."""
    rows: list[list[Any]] = [list(RUN_HEADS)]
    for run in content["runs"]:
        row = [
            run["number"],
            run["on"],
            run["kind"],
            run["motor"],
            run["sample"],
            run["load"],
            run["stand"],
            run["origin"],
            run["review"],
            run["review_reason"],
        ]
        for one in run["figures"]:
            row += [one["value"], one["u"]]
        rows.append(row)
    return rows


def type_of(path: str) -> str:
    """The content type of a path."""
    return TYPES.get(Path(path).suffix, "application/octet-stream")


def etag_of(data: bytes) -> str:
    """What stands for these bytes."""
    return f'"{hashlib.sha256(data).hexdigest()[:32]}"'
