"""What readers get: editions that never change, their pages and folders, and what was withdrawn."""

import io
import json
import re
from copy import deepcopy

import pytest
from django.core.management import CommandError, call_command
from django.utils import timezone
from pypdf import PdfReader

from spindle_server.compare.services import save_comparison
from spindle_server.motors.parcels import change_parcel
from spindle_server.publish.exporting import MANIFEST, export
from spindle_server.publish.models import Edition, Publication
from spindle_server.publish.packs import make_waiting
from spindle_server.publish.readers import Site
from spindle_server.publish.services import publish
from spindle_server.runs.models import Run
from spindle_server.runs.services import review_run
from spindle_server.verdict.models import Verdict

from .verdict_steps import a_rival, issue, prose, publishable, ready_verdict, write


@pytest.fixture(scope="module")
def first_edition(common_house):
    """A verdict that nothing blocks, and the answer when it was published."""
    ready = ready_verdict(common_house)
    answer = issue(common_house.client("editor"), ready)
    assert answer.status_code == 201, answer.json()
    return ready, answer.json()


@pytest.fixture
def ready(first_edition, house):
    return deepcopy(first_edition[0])


@pytest.fixture
def published(first_edition, house):
    return deepcopy(first_edition[1])


@pytest.fixture
def rival(people, rig, record):
    """A motor that takes a tenth more current for the same thrust."""
    return a_rival(people, rig, record)


def page(client, path=""):
    return client.get(f"/read/{path}")


def begun_on(api, people, motor):
    """A first look at another motor that nothing blocks."""
    row = api.post("/api/v1/verdicts/", {"motor": motor.pk}, format="json").json()
    write(api, row, sections={"for_whom": prose("For somebody.")})
    return publishable(api, people, row)


FOLDER = "motors/quillmoor-sable-21055-1950"


def test_an_edition_never_changes(as_role, api, people, ready, published):
    before = page(as_role(None), f"{FOLDER}/").content
    run = Run.objects.first()
    review_run(actor=people["reviewer"], run=run, review="rejected", reason="x", base=run.version)
    write(api, ready, sections={"limits": prose("None.")})
    assert page(as_role(None), f"{FOLDER}/").content == before


def test_a_correction_is_listed_on_top_and_the_old_edition_stays(as_role, api, ready, published):
    editor, reader = as_role("editor"), as_role(None)
    assert issue(editor, ready).json()["code"] == "nothing_changed"
    write(api, ready, sections={"limits": prose("It got hot.")})
    assert issue(editor, ready).json()["fields"] == {"changed": ["Say what changed."]}
    assert issue(editor, ready, changed="Limits.").json()["fields"] == {
        "why": ["Say why it changed."]
    }
    told = issue(editor, ready, changed="Limits: heat.", why="It was left out.", correction=True)
    assert [one["path"] for one in told.json()["editions"]] == [
        f"/read/{FOLDER}/",
        f"/read/{FOLDER}/edition-1.html",
    ]
    now = page(reader, f"{FOLDER}/").content.decode()
    assert now.index("Corrections") < now.index("<h1>")
    assert "Limits: heat." in now
    assert "It got hot." in now
    old = page(reader, f"{FOLDER}/edition-1.html").content.decode()
    assert "It got hot." not in old
    assert "Edition 2</a> stands now" in old
    feed = page(reader, "feed.xml").content.decode()
    assert feed.index("Correction: Quillmoor") < feed.index("New: Quillmoor")


def test_a_withdrawn_page_says_so_and_nothing_else(as_role, published):
    editor = as_role("editor")
    at = f"/api/v1/publications/{published['id']}/withdrawal/"
    body = {"reason": " ", "version": published["version"]}
    assert editor.post(at, body, format="json").json()["code"] == "no_reason"
    stale = {"reason": "the samples were mixed up", "version": 99}
    assert editor.post(at, stale, format="json").status_code == 409
    body["reason"] = "the samples were mixed up"
    assert editor.post(at, body, format="json").status_code == 200
    reader = as_role(None)
    text = page(reader, f"{FOLDER}/").content.decode()
    assert "the samples were mixed up" in text
    assert "gf" not in re.sub(r"<header.*?</header>|<footer.*?</footer>", "", text, flags=re.S)
    for gone in ("runs.html", "runs.csv", "page.pdf", "edition-1.html"):
        assert page(reader, f"{FOLDER}/{gone}").status_code == 404
    assert "Quillmoor" not in page(reader).content.decode()
    again = {**body, "version": published["version"] + 1}
    assert editor.post(at, again, format="json").json()["code"] == "withdrawn"


def test_a_withdrawn_page_comes_back_as_a_new_edition(as_role, ready, published):
    editor = as_role("editor")
    editor.post(
        f"/api/v1/publications/{published['id']}/withdrawal/",
        {"reason": "a doubt", "version": published["version"]},
        format="json",
    )
    told = issue(editor, ready, changed="Nothing: the doubt was unfounded.", why="It was checked.")
    assert told.json()["withdrawn_at"] is None
    assert page(as_role(None), f"{FOLDER}/").status_code == 200


def test_strangers_get_exactly_what_is_published(as_role, published):
    reader = as_role(None)
    make_waiting()
    listed = list(Site().paths())
    assert f"{FOLDER}/page.pdf" in listed
    assert f"{FOLDER}/edition-1-data.zip" in listed
    for path in listed:
        answer = page(reader, path)
        assert answer.status_code == 200, path
        assert "default-src 'none'" in answer["Content-Security-Policy"]
    for path in (
        "nothing",
        "motors/",
        "motors/other/",
        f"{FOLDER}/edition-1.html",
        f"{FOLDER}/edition-0.html",
        f"{FOLDER}/edition-2-data.zip",
        f"{FOLDER}/edition-x-data.zip",
        "edition-1-data.zip",
        f"{FOLDER}/edition-x.html",
        "list-1.html",
        "list-2.html",
        "list-02.html",
        "photos/x.jpg",
        "../settings.py",
        "assets/../readers.py",
        f"{FOLDER}/../../index.html",
        "%2e%2e/settings.py",
        "index.html/",
        "motors/quillmoor-sable-21055-1950/%00",
    ):
        assert page(reader, path).status_code == 404, path
    assert reader.get("/read").status_code == 302
    assert reader.post("/read/").status_code == 405
    assert reader.get("/api/v1/publications/").status_code in (401, 403)


def test_what_people_wrote_is_text(as_role, published):
    text = page(as_role(None), f"{FOLDER}/").content.decode()
    assert "A plain &lt;b&gt;motor&lt;/b&gt;." in text
    scripts = re.findall(r"<script[^>]*>", text)
    assert all("src=" in one or "application/json" in one for one in scripts)


def test_a_page_that_did_not_change_is_not_sent_again(as_role, published):
    first = page(as_role(None), f"{FOLDER}/")
    again = as_role(None).get(f"/read/{FOLDER}/", headers={"If-None-Match": first["ETag"]})
    assert again.status_code == 304
    # A correction is seen at once, and a page that was not there yet when it is.
    assert first["Cache-Control"] == "public, no-cache"
    assert page(as_role(None), "motors/later/")["Cache-Control"] == "no-store"
    photo_or_font = next(path for path in Site().paths() if path.endswith(".woff2"))
    assert "max-age=86400" in page(as_role(None), photo_or_font)["Cache-Control"]


def test_figures_stand_in_both_units_with_their_u(as_role, published):
    text = page(as_role(None), f"{FOLDER}/").content.decode()
    assert '<span class="gf">1,200 ± 24\u2009gf</span>' in text
    assert '<span class="newton">11.77 ± 0.23\u2009N</span>' in text


def test_charts_and_cutaway_are_drawn_and_small(published):
    drawings = Edition.objects.get().drawings
    assert list(drawings) == ["thrust", "efficiency", "cutaway"]
    assert all(len(one["svg"]) <= 25_000 for one in drawings.values())
    reading = drawings["thrust"]["reading"]
    assert reading["x"] == [0, 100]
    assert reading["series"][0]["y"][-1] == pytest.approx(1200, rel=0.01)
    assert (reading["x_unit"], reading["y_unit"]) == ("%", "gf")


def test_a_paper_can_be_printed(as_role, published):
    answer = page(as_role(None), f"{FOLDER}/page.pdf")
    assert answer["Content-Type"] == "application/pdf"
    pages = PdfReader(io.BytesIO(answer.content)).pages
    text = "\n".join(one.extract_text() for one in pages)
    assert "Quillmoor Sable 2105.5 1950" in text
    assert "1,200 ± 24" in text
    assert f"1 / {len(pages)}" in text
    assert answer.content == page(as_role(None), f"{FOLDER}/page.pdf").content


def test_two_of_one_name_have_two_addresses(as_role, people, published, record, rival):
    saved = save_comparison(
        actor=people["reviewer"],
        name="Quillmoor Sable 2105.5 1950",
        asked={"runs": ",".join(str(run.pk) for run in Run.objects.all()), "by": "model"},
    )
    row = Verdict.objects.create(
        comparison=saved,
        sentence="Alike.",
        links="none",
        gains="nobody",
        sections={"same": prose("Alike.")},
    )
    parcel = rival.parcels.get()
    change_parcel(actor=people["reviewer"], parcel=parcel, base=parcel.version, obtained="loaned")
    edition = publish(actor=people["editor"], verdict=row, base=row.version)
    assert edition.publication.slug == "quillmoor-sable-21055-1950-2"
    text = page(as_role(None), "comparisons/quillmoor-sable-21055-1950-2/").content.decode()
    assert text.index("Disclosure") < text.index("<h1>")
    assert text.count("Claimed and measured:") == 2
    assert json.loads(page(as_role(None), "search.json").content)[0]["kind"] == "comparison"


def test_the_index_is_filtered_by_evidence_where_it_differs(as_role, api, people, published, rival):
    assert 'id="grade"' not in page(as_role(None)).content.decode()
    other = begun_on(api, people, rival)
    issue(as_role("editor"), other)
    Edition.objects.filter(subject=rival.full_name).update(grade="Solid evidence")
    text = page(as_role(None)).content.decode()
    options = re.findall(r"<option[^>]*>([^<]+)</option>", text)
    assert options == ["any", "Solid evidence", "Thin evidence"]
    rows = json.loads(page(as_role(None), "search.json").content)
    assert {one["name"]: one["grade"] for one in rows}[rival.full_name] == "Solid evidence"
    assert text.count('data-grade="Thin evidence"') == 1


def test_the_folder_is_the_same_bytes_and_only_what_changed_is_written(
    tmp_path, as_role, api, ready, published
):
    one, other = tmp_path / "one", tmp_path / "other"
    first = export(one, pdf=True)
    export(other, pdf=True)
    files = sorted(path.relative_to(one) for path in one.rglob("*") if path.is_file())
    assert first.files == first.written == len(files) - 1
    assert all((one / path).read_bytes() == (other / path).read_bytes() for path in files)
    again = export(one, pdf=True)
    assert (again.written, again.removed) == (0, 0)
    write(api, ready, sections={"limits": prose("It got hot.")})
    issue(as_role("editor"), ready, changed="Limits.", why="Left out.")
    changed = export(one, pdf=True)
    assert changed.removed == 0
    # The page, its paper, the old edition, the index, the feed; not the style, the fonts, the runs.
    assert 3 <= changed.written <= 6
    without = export(one)
    assert without.removed == 1
    assert not (one / FOLDER / "page.pdf").exists()


def test_links_of_the_folder_are_relative_and_lead_somewhere(tmp_path, published):
    export(tmp_path, pdf=True)
    for path in tmp_path.rglob("*.html"):
        for link in re.findall(r'(?:href|src)="([^"#]+)', path.read_text()):
            assert not link.startswith(("/", "http")), link
            assert (path.parent / link).resolve().exists(), f"{path}: {link}"


def test_a_folder_of_somebody_else_is_left_alone(tmp_path, published):
    (tmp_path / "thesis.txt").write_text("mine")
    with pytest.raises(CommandError, match="not published from here"):
        call_command("publish_pages", str(tmp_path))
    assert [one.name for one in tmp_path.iterdir()] == ["thesis.txt"]


def test_what_was_withdrawn_leaves_the_folder(tmp_path, as_role, published):
    export(tmp_path)
    as_role("editor").post(
        f"/api/v1/publications/{published['id']}/withdrawal/",
        {"reason": "a doubt", "version": published["version"]},
        format="json",
    )
    gone = export(tmp_path)
    # The sheet of runs as a page and as a table, and the data.
    assert gone.removed == 3
    assert (tmp_path / FOLDER / "index.html").exists()
    assert not (tmp_path / FOLDER / "runs.html").exists()
    assert "runs.html" not in (tmp_path / MANIFEST).read_text()


def test_a_long_index_has_pages(as_role, published, monkeypatch):
    monkeypatch.setattr("spindle_server.publish.readers.PER_PAGE", 1)
    first = Publication.objects.get()
    edition = first.editions.get()
    other = Verdict.objects.create(
        comparison=save_comparison(
            actor=None, name="x", asked={"runs": str(Run.objects.first().pk)}
        )
    )
    second = Publication.objects.create(verdict=other, slug="second")
    Edition.objects.create(
        publication=second,
        number=1,
        content=edition.content,
        digest="x",
        kind="motor",
        subject="Second",
        sentence="",
        grade="Thin evidence",
        published_by=edition.published_by,
        published_at=timezone.now(),
    )
    assert "list-2.html" in list(Site().paths())
    assert page(as_role(None), "list-2.html").status_code == 200
    assert page(as_role(None), "list-3.html").status_code == 404


def test_the_list_of_pages_and_the_rules(as_role, api, published):
    (row,) = api.get("/api/v1/publications/").json()["results"]
    assert (row["number"], row["corrections"], row["path"]) == (1, 0, f"/read/{FOLDER}/")
    editor = as_role("editor")
    rules = editor.patch(
        "/api/v1/publishing-rules/",
        {"bench_name": "Gannet Yard Bench", "address": "https://bench.example/pages", "version": 1},
        format="json",
    ).json()
    assert rules["version"] == 2
    feed = page(as_role(None), "feed.xml").content.decode()
    assert f"https://bench.example/pages/{FOLDER}/index.html" in feed
    assert api.patch("/api/v1/publishing-rules/", {}, format="json").status_code == 403
    wrong = {"address": "javascript:alert(1)", "version": 2}
    assert editor.patch("/api/v1/publishing-rules/", wrong, format="json").status_code == 400


def test_writing_the_pages_is_long_work(as_role, published):
    answer = as_role("editor").post("/api/v1/publications/export/", {}, format="json")
    assert answer.status_code == 202
    assert answer.json()["title"] == "Write the pages"
    assert as_role("reviewer").post("/api/v1/publications/export/").status_code == 403
