"""Quoting another bench: checked, counted apart, held against ours, and never taken for ours."""

import json
from http import HTTPStatus

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import IntegrityError, transaction

from spindle_server.demo.no_load_runs import bare_shaft
from spindle_server.demo.stand_logs import recorded_file
from spindle_server.errors import ConflictError, ServiceError
from spindle_server.motors.services import take_in_motor
from spindle_server.other_benches.evidence import check_against
from spindle_server.other_benches.models import OtherBench, QuotedPack
from spindle_server.other_benches.opening import open_pack, quoted_path
from spindle_server.other_benches.services import Ours, put_aside, quote_pack, say_ours
from spindle_server.publish.services import publish
from spindle_server.runs.models import Run, SummaryFigure
from spindle_server.runs.ran import evidence_revision
from spindle_server.runs.services import import_log
from spindle_server.verdict.models import Verdict

from .pack_steps import THEIRS, as_theirs, keys_of, own_pack, packed


@pytest.fixture(scope="module")
def packed_once(common_house):
    return packed(common_house)


@pytest.fixture
def data(packed_once, house):
    return packed_once


@pytest.fixture(scope="module")
def a_tenth_too_much(packed_once):
    """Another bench's, whose cell shows it."""
    return as_theirs(packed_once, scale=1.10)


@pytest.fixture
def theirs(a_tenth_too_much, house):
    return a_tenth_too_much


def ours_of(data, rig, **samples):
    motor, propeller = keys_of(data)
    return Ours(
        motors={motor: rig["motor"].pk},
        samples={f"{motor}/{mark}": pk for mark, pk in samples.items()},
        propellers={propeller: rig["propeller"].pk},
    )


def quoted(people, data, ours):
    return quote_pack(actor=people["reviewer"], name="their.zip", data=data, ours=ours)


def of(check, condition, name):
    return next(one for one in check.offsets if (one.condition, one.name) == (condition, name))


def test_what_is_known_here_is_proposed(rig, theirs):
    motor, propeller = keys_of(theirs)
    opened = open_pack("their.zip", theirs)
    assert opened.motors == {motor: rig["motor"].pk}
    assert opened.propellers == {propeller: rig["propeller"].pk}
    assert not QuotedPack.objects.exists()


def test_names_are_matched_whatever_their_capitals_and_never_by_half(rig, data):
    def renamed(name):
        return as_theirs(data, change=lambda index: index["motors"][0].update(full_name=name))

    motor, _ = keys_of(data)
    assert open_pack("x", renamed("QUILLMOOR sable 2105.5  1950")).motors[motor] == rig["motor"].pk
    assert open_pack("x", renamed("Quillmoor Sable 2105.5")).motors[motor] is None


def test_it_is_kept_with_its_grade_and_its_bytes(people, rig, theirs):
    pack = quoted(people, theirs, ours_of(theirs, rig))
    assert (pack.bench.name, pack.edition, pack.licence) == (THEIRS, 1, "CC BY 4.0")
    assert pack.grade_line.startswith("Thin evidence")
    assert quoted_path(pack.digest).read_bytes() == theirs
    assert pack.runs.count() == 3
    assert not pack.runs.exclude(remarks=[]).exists()


def test_it_counts_nowhere_as_ours(api, people, rig, theirs):
    before = (Run.objects.count(), SummaryFigure.objects.count(), evidence_revision())
    verdict = Verdict.objects.get()
    told = api.get(f"/api/v1/verdicts/{verdict.pk}/").json()["figures"]
    quoted(people, theirs, ours_of(theirs, rig))
    assert before == (Run.objects.count(), SummaryFigure.objects.count(), evidence_revision())
    assert api.get(f"/api/v1/verdicts/{verdict.pk}/").json()["figures"] == told


def test_a_cell_that_shows_too_much_is_found(people, rig, theirs):
    pack = quoted(people, theirs, ours_of(theirs, rig))
    check = check_against(pack.bench)
    thrust = of(check, "full", "thrust_gf").delta
    assert thrust.delta_pct == pytest.approx(10.0, abs=0.01)
    assert str(thrust.outcome) == "different"
    assert of(check, "full", "current_a").delta.delta_pct == pytest.approx(0.0, abs=1e-6)
    full = next(one for one in check.held if (one.condition, one.name) == ("full", "thrust_gf"))
    assert (full.ours.runs, full.theirs.runs) == (3, 3)
    assert (full.ours.samples, full.theirs.samples) == (2, 2)


def test_the_same_name_of_a_stand_lets_nothing_cancel(people, rig, data):
    """Their log names the very stand that ours does; it is another one all the same."""
    ours = ours_of(data, rig, A=rig["samples"][0].pk)
    pack = quoted(people, as_theirs(data), ours)
    full = next(
        one
        for one in check_against(pack.bench).held
        if (one.condition, one.name) == ("full", "thrust_gf")
    )
    assert full.one_sample
    own = full.ours.figure.component("assumed_calibration") or full.ours.figure.component(
        "calibration"
    )
    assert own > 0
    assert full.delta.delta.u >= 1.4 * own


def test_a_sample_that_travelled_is_read_as_one(people, rig, data):
    ours = ours_of(data, rig, A=rig["samples"][0].pk)
    pack = quoted(people, as_theirs(data), ours)
    check = check_against(pack.bench)
    assert {one.one_sample for one in check.held} == {True}
    assert {(one.ours.runs, one.theirs.runs) for one in check.held} == {(2, 2)}


def test_without_a_propeller_speed_over_volts_is_held(api, people, rig, data):
    """Runs of no propeller count in no ranking, and here they tell volts and revolutions apart."""
    supply = rig["supply"]
    for sample in rig["samples"]:
        import_log(
            actor=people["reviewer"],
            name=f"{sample.mark}.csv",
            data=recorded_file(bare_shaft(sample, supply)),
            sample=sample,
            supply=supply,
            stand=rig["stand"],
        )
    verdict = Verdict.objects.get()
    publish(
        actor=people["editor"], verdict=verdict, base=verdict.version, changed="kV.", why="Run."
    )
    pack = own_pack()
    sent = as_theirs(pack)
    row = quoted(people, sent, ours_of(sent, rig))
    told = of(check_against(row.bench), "no_load", "kv_raw_rpm_per_v")
    assert told.delta.delta_pct == pytest.approx(0.0, abs=1e-9)
    assert told.delta.u_pct > 0.5


def test_only_the_newest_edition_counts_and_none_that_was_put_aside(people, rig, data):
    def edition(number):
        return lambda index: index["publication"].update(edition=number)

    first = as_theirs(data, scale=1.5, change=edition(1))
    second = as_theirs(data, scale=1.0, change=edition(2))
    old = quoted(people, first, ours_of(first, rig))
    new = quoted(people, second, ours_of(second, rig))
    assert old.bench == new.bench
    assert of(check_against(old.bench), "full", "thrust_gf").delta.delta_pct == pytest.approx(0.0)
    new = put_aside(actor=people["reviewer"], pack=new, reason="a mistake", base=new.version)
    assert of(check_against(old.bench), "full", "thrust_gf").delta.delta_pct == pytest.approx(50.0)
    put_aside(actor=people["reviewer"], pack=old, reason="this too", base=old.version)
    assert check_against(old.bench).held == ()


def test_what_was_said_to_be_ours_can_be_said_anew(people, rig, theirs):
    motor, propeller = keys_of(theirs)
    pack = quoted(people, theirs, ours_of(theirs, rig, A=rig["samples"][0].pk))
    actor = people["reviewer"]
    other = take_in_motor(actor=actor, maker="Ostrel", name="Drift", size_code="2206")
    moved = say_ours(actor=actor, pack=pack, ours=Ours(motors={motor: other.pk}), base=pack.version)
    # The sample was one of the motor that it was thought to be.
    assert not moved.motors.get().samples.exclude(ours=None).exists()
    assert check_against(pack.bench).held == ()
    with pytest.raises(ConflictError):
        say_ours(actor=actor, pack=pack, ours=Ours(motors={motor: None}), base=pack.version)
    back = say_ours(
        actor=actor,
        pack=moved,
        base=moved.version,
        ours=Ours(motors={motor: rig["motor"].pk}, propellers={propeller: None}),
    )
    # On a propeller that only bears the same name by their word, it is the name that counts.
    assert back.propellers.get().ours is None
    assert check_against(pack.bench).held


def test_the_same_file_and_the_same_edition_come_once(people, rig, data, theirs):
    quoted(people, theirs, ours_of(theirs, rig))
    with pytest.raises(ConflictError, match="quoted already"):
        quoted(people, theirs, ours_of(theirs, rig))
    again = as_theirs(data, scale=1.2)
    with pytest.raises(ConflictError, match="Ask them which stands"):
        quoted(people, again, ours_of(again, rig))
    assert QuotedPack.objects.count() == 1
    assert not quoted_path(open_pack("x", again).digest).exists()


def test_a_bench_is_known_again_by_its_name_whatever_its_capitals(people, rig, data):
    one = as_theirs(data)
    other = as_theirs(
        data, bench=THEIRS.upper(), change=lambda index: index["publication"].update(edition=2)
    )
    for pack in (one, other):
        quoted(people, pack, ours_of(pack, rig))
    assert OtherBench.objects.count() == 1
    with pytest.raises(IntegrityError), transaction.atomic():
        OtherBench.objects.create(name=THEIRS.lower())


def test_a_figure_that_does_not_follow_from_its_log_is_told(api, people, rig, data):
    praised = as_theirs(data, praise=1.2)
    pack = quoted(people, praised, ours_of(praised, rig))
    told = api.get(f"/api/v1/quoted-packs/{pack.pk}/").json()["remarks"]
    assert len(told) == 3
    assert told[0]["remarks"][0].startswith("max_thrust_gf: they state 1,44")
    # What counts is what the log gives.
    assert of(check_against(pack.bench), "full", "thrust_gf").delta.delta_pct == pytest.approx(0.0)


@pytest.mark.parametrize(
    ("said", "field"),
    [
        ({"motors": 999_999}, "motors"),
        ({"samples": 999_999}, "samples"),
        ({"propellers": 999_999}, "propellers"),
        ({"samples": "other"}, "samples"),
    ],
)
def test_what_is_not_ours_is_refused_and_nothing_is_kept(people, rig, theirs, said, field):
    motor, propeller = keys_of(theirs)
    other = take_in_motor(actor=people["reviewer"], maker="Ostrel", name="Drift", size_code="2206")
    ((name, value),) = said.items()
    value = other.samples.get().pk if value == "other" else value
    key = {"motors": motor, "samples": f"{motor}/A", "propellers": propeller}[name]
    parts = {"motors": {motor: rig["motor"].pk}, name: {key: value}}
    with pytest.raises(ServiceError) as refused:
        quoted(people, theirs, Ours(**parts))
    assert next(iter(refused.value.fields)).startswith(field)
    assert not QuotedPack.objects.exists()


def test_a_rejected_run_of_theirs_counts_in_nothing(people, rig, data):
    def reject(index):
        index["runs"][0].update(review="rejected", review_reason="hot")

    pack = as_theirs(data, change=reject)
    row = quoted(people, pack, ours_of(pack, rig))
    assert row.runs.filter(review="rejected").count() == 1
    full = next(one for one in check_against(row.bench).held if one.condition == "full")
    assert full.theirs.runs == 2


def test_by_the_screens_way(api, as_role, rig, theirs):
    def upload(path, client=api, **more):
        file = SimpleUploadedFile("their.zip", theirs, "application/zip")
        return client.post(path, {"file": file, **more}, format="multipart")

    assert upload("/api/v1/quoted-packs/look/", as_role("reader")).status_code == 403
    seen = upload("/api/v1/quoted-packs/look/").json()
    assert seen["bench_name"] == THEIRS
    assert seen["motors"][0]["ours"] == rig["motor"].pk
    assert seen["motors"][0]["samples"] == ["A", "B"]
    motor, propeller = keys_of(theirs)
    said = {"motors": {motor: rig["motor"].pk}, "propellers": {propeller: rig["propeller"].pk}}
    kept = upload("/api/v1/quoted-packs/", ours=json.dumps(said))
    assert kept.status_code == HTTPStatus.CREATED, kept.json()
    pack = kept.json()
    assert pack["counts"] is True
    assert pack["motors"][0]["ours_name"] == "Quillmoor Sable 2105.5 1950"
    again = upload("/api/v1/quoted-packs/", ours=json.dumps(said))
    assert again.status_code == HTTPStatus.CONFLICT
    bench = api.get(f"/api/v1/other-benches/{pack['bench']}/").json()
    assert bench["bench"]["pack_count"] == 1
    thrust = next(one for one in bench["check"]["offsets"] if one["name"] == "thrust_gf")
    assert thrust["offset_pct"] == pytest.approx(10, abs=0.01)
    (evidence,) = api.get(f"/api/v1/motors/{rig['motor'].pk}/quoted/").json()
    assert evidence["grade_line"].startswith("Thin evidence")
    assert evidence["loads"][0]["load"] == "Wickett 5.1x4.2x3, 16 V bench supply"
    aside = api.patch(
        f"/api/v1/quoted-packs/{pack['id']}/",
        {"put_aside": "their scale drifts", "version": pack["version"]},
        format="json",
    ).json()
    assert aside["counts"] is False
    assert api.get(f"/api/v1/motors/{rig['motor'].pk}/quoted/").json() == []
    file = api.get(f"/api/v1/quoted-packs/{pack['id']}/file/")
    assert b"".join(file.streaming_content) == theirs
    noted = api.patch(
        f"/api/v1/other-benches/{pack['bench']}/",
        {"note": "met in May", "version": 1},
        format="json",
    )
    assert noted.json()["bench"]["note"] == "met in May"


@pytest.mark.parametrize(
    "said",
    ['{"motors": {"a": true}}', '{"motors": []}', "[]", "{", '{"samples": {"a": "new"}}', "NaN"],
)
def test_ours_that_cannot_be_is_refused(api, theirs, said):
    file = SimpleUploadedFile("their.zip", theirs, "application/zip")
    answer = api.post("/api/v1/quoted-packs/", {"file": file, "ours": said}, format="multipart")
    assert answer.status_code == HTTPStatus.BAD_REQUEST
    assert "ours" in answer.json()["fields"]


def test_what_is_no_pack_is_refused_with_what_is_wrong(api):
    file = SimpleUploadedFile("log.csv", b"time_s\n0\n", "text/csv")
    answer = api.post("/api/v1/quoted-packs/look/", {"file": file}, format="multipart")
    assert answer.status_code == HTTPStatus.BAD_REQUEST
    assert "log.csv: this is no ZIP archive" in answer.json()["message"]
