"""Data packs of what is published: whole, frozen, the same bytes, and only for what stands."""

import io
import json
import zipfile
from copy import deepcopy
from http import HTTPStatus

import numpy as np
import pytest

from spindle_core.formats.pack.quoting import quoted_runs
from spindle_core.formats.pack.reading import read_pack
from spindle_server.publish.exporting import export
from spindle_server.publish.models import EditionPack
from spindle_server.publish.packs import make, make_waiting, pack_path
from spindle_server.publish.services import publish, withdraw
from spindle_server.rig.models import Stand
from spindle_server.rig.stands import change_stand, put_instrument
from spindle_server.runs.models import LaterCell, Run, TraceSegment
from spindle_server.runs.services import review_run
from spindle_server.verdict.models import Verdict
from spindle_server.work.models import LongWork

from .verdict_steps import ready_verdict, write

FOLDER = "motors/quillmoor-sable-21055-1950"


@pytest.fixture(scope="module")
def ready_once(common_house):
    return ready_verdict(common_house)


@pytest.fixture
def ready(ready_once, house):
    return deepcopy(ready_once)


@pytest.fixture
def edition(people, ready):
    """Its first edition, under a licence of its own."""
    return issue(people, ready, licence="CC BY 4.0")


def issue(people, verdict, **values):
    row = Verdict.objects.get(pk=verdict["id"])
    return publish(actor=people["editor"], verdict=row, base=row.version, **values)


def made():
    """The newest archive, read and checked."""
    make_waiting()
    row = EditionPack.objects.order_by("-pk")[0]
    assert row.problem == ""
    return read_pack(pack_path(row.digest).read_bytes())


def test_all_of_it_is_in_the_pack(edition):
    pack = made()
    index = pack.index
    assert index["licence"] == "CC BY 4.0"
    assert index["publication"]["edition"] == 1
    assert [motor["full_name"] for motor in index["motors"]] == ["Quillmoor Sable 2105.5 1950"]
    assert [run["number"] for run in index["runs"]] == [
        one["number"] for one in edition.content["runs"]
    ]
    assert [sample["mark"] for sample in index["motors"][0]["samples"]] == ["A", "B"]
    text = pack.read("verdict.txt").decode()
    assert "A plain <b>motor</b>." in text
    assert "It pulls 1,200" in text
    assert "ru" in pack.read("README.md").decode()


def test_its_logs_give_the_figures_that_it_states(edition):
    """To the last digit and with the same u, on another bench."""
    runs = list(quoted_runs(made(), "Theirs"))
    assert len(runs) == 3
    for run in runs:
        assert run.remarks == ()
        stated = Run.objects.get(pk=run.listed["number"]).figures.get(name="max_thrust_gf")
        figure = run.reduction.summary["max_thrust_gf"]
        assert figure.value == pytest.approx(stated.value, rel=1e-12)
        assert figure.u == pytest.approx(stated.u, rel=1e-9)


def test_what_the_stand_declares_goes_with_it(people, rig, ready):
    """Without it whoever reduces the log assumes other meters, and gets another u."""
    stand = Stand.objects.get(pk=rig["stand"].pk)
    change_stand(
        actor=people["reviewer"],
        stand=stand,
        base=stand.version,
        repeatability_rel=0.004,
        calibration_rel=0.003,
    )
    put_instrument(
        actor=people["reviewer"],
        stand=stand,
        channel="current_a",
        kind="watt_meter",
        relative_u=0.021,
        step=0.01,
    )
    issue(people, ready)
    (run, *_) = quoted_runs(made(), "Theirs")
    assert run.repeatability == pytest.approx(0.004)
    current = run.reduction.summary["max_current_a"]
    assert current.component("calibration") == pytest.approx(0.021 * current.value, rel=0.05)


def test_the_same_edition_gives_the_same_bytes(edition):
    make_waiting()
    row = EditionPack.objects.get()
    first = pack_path(row.digest).read_bytes()
    pack_path(row.digest).unlink()
    make(row)
    assert pack_path(row.digest).read_bytes() == first


def test_it_is_as_it_was_when_it_was_published(people, rig, edition, record):
    """A run that came later, a review that was taken back and a cell read from footage since."""
    run = Run.objects.order_by("pk")[0]
    review_run(actor=people["reviewer"], run=run, review="rejected", reason="x", base=run.version)
    record(1.3)
    row = run.segments.first()
    LaterCell.objects.create(run=run, row=1, channel="motor_temp_c", value=99.0)
    assert row is not None
    pack = made()
    assert len(pack.index["runs"]) == 3
    assert {one["review"] for one in pack.index["runs"]} == {""}
    assert "motor_temp_c" not in pack.log(pack.index["runs"][0]).channels


def test_what_was_read_from_footage_before_is_laid_over_the_recording(people, ready):
    run = Run.objects.order_by("pk")[0]
    LaterCell.objects.create(run=run, row=2, channel="motor_temp_c", value=61.5)
    issue(people, ready)
    pack = made()
    listed = next(one for one in pack.index["runs"] if one["number"] == run.pk)
    temperature = pack.log(listed).channels["motor_temp_c"]
    assert temperature[1] == 61.5
    assert np.isnan(temperature[0])


def test_a_rejected_run_is_in_it_with_its_reason(people, ready):
    run = Run.objects.order_by("pk")[0]
    review_run(actor=people["reviewer"], run=run, review="rejected", reason="hot", base=run.version)
    Verdict.objects.get(pk=ready["id"]).figures.update(word="one run fewer")
    issue(people, ready)
    reviews = {one["number"]: one for one in made().index["runs"]}
    assert reviews[run.pk]["review_reason"] == "hot"


def test_each_edition_keeps_its_own(as_role, api, people, ready, edition):
    make_waiting()
    write(api, ready, gains="somebody", gains_text="us")
    issue(people, ready, changed="who gains", why="asked", correction=True)
    assert made().index["publication"]["corrections"][0]["changed"] == "who gains"
    anyone = as_role(None)
    for number in (1, 2):
        answer = anyone.get(f"/read/{FOLDER}/edition-{number}-data.zip")
        assert answer.status_code == HTTPStatus.OK
        with zipfile.ZipFile(io.BytesIO(b"".join(answer.streaming_content))) as packed:
            index = json.loads(packed.read("pack.json"))
        assert index["publication"]["edition"] == number
    licences = [row.licence for row in EditionPack.objects.order_by("pk")]
    assert licences == ["CC BY 4.0", ""]


def test_the_page_offers_it_once_it_is_made(as_role, edition):
    anyone = as_role(None)
    path = f"/read/{FOLDER}/edition-1-data.zip"
    assert "data.zip" not in anyone.get(f"/read/{FOLDER}/").content.decode()
    assert anyone.get(path).status_code == HTTPStatus.NOT_FOUND
    make_waiting()
    page = anyone.get(f"/read/{FOLDER}/").content.decode()
    assert 'href="edition-1-data.zip"' in page
    assert "CC BY 4.0" in page
    answer = anyone.get(path)
    assert answer["Content-Disposition"] == 'attachment; filename="edition-1-data.zip"'
    again = anyone.get(path, headers={"if-none-match": answer["ETag"]})
    assert again.status_code == HTTPStatus.NOT_MODIFIED


def test_what_is_withdrawn_offers_nothing(as_role, people, edition):
    make_waiting()
    publication = edition.publication
    withdraw(
        actor=people["editor"], publication=publication, reason="wrong", base=publication.version
    )
    answer = as_role(None).get(f"/read/{FOLDER}/edition-1-data.zip")
    assert answer.status_code == HTTPStatus.NOT_FOUND


def test_the_folder_holds_it_unless_it_is_not_wanted(tmp_path, edition):
    export(tmp_path / "with")
    (packed,) = (tmp_path / "with").rglob("*.zip")
    assert read_pack(packed.read_bytes()).index["publication"]["edition"] == 1
    export(tmp_path / "without", packs=False)
    assert not list((tmp_path / "without").rglob("*.zip"))
    page = (tmp_path / "without" / FOLDER / "index.html").read_text()
    assert "data.zip" not in page
    assert "page.pdf" not in page


def test_samples_that_are_gone_are_said_and_hold_up_no_other(people, api, ready, edition):
    write(api, ready, gains="somebody", gains_text="us")
    TraceSegment.objects.filter(run=Run.objects.order_by("pk")[0]).delete()
    make_waiting()
    row = EditionPack.objects.get()
    assert "are gone" in row.problem
    assert row.digest == ""
    assert make_waiting() == 0


def test_writing_the_folder_tries_again_what_could_not_be_made(tmp_path, edition):
    EditionPack.objects.update(problem="The disk was full.")
    assert make_waiting() == 0
    export(tmp_path / "pages")
    row = EditionPack.objects.get()
    assert row.problem == ""
    assert row.digest


def test_what_an_import_carried_along_does_not_become_public(people, ready):
    run = Run.objects.order_by("pk")[0]
    run.header = {**run.header, "operator": "Ana Lund", "esc_linear": "yes"}
    run.save()
    issue(people, ready)
    make_waiting()
    data = pack_path(EditionPack.objects.get().digest).read_bytes()
    with zipfile.ZipFile(io.BytesIO(data)) as packed:
        assert not any(b"Ana Lund" in packed.read(name) for name in packed.namelist())
    listed = next(one for one in made().index["runs"] if one["number"] == run.pk)
    header = made().log(listed).header
    assert header["esc_linear"] == "yes"
    assert "thrust_gf_instrument" in header or "stand" in header


def test_publishing_asks_for_it_as_long_work(as_role, ready):
    version = Verdict.objects.get(pk=ready["id"]).version
    answer = as_role("editor").post(
        f"/api/v1/verdicts/{ready['id']}/publication/",
        {"version": version, "licence": "CC0 1.0"},
        format="json",
    )
    assert answer.status_code == HTTPStatus.CREATED
    assert LongWork.objects.get().title == "Make the data packs"
    assert EditionPack.objects.get().licence == "CC0 1.0"
