"""Publishing: who may, what blocks it, and what an edition says."""

import signal
from copy import deepcopy

import pytest

from spindle_server.errors import ServiceError
from spindle_server.motors.services import change_motor, take_in_motor
from spindle_server.publish import drawing
from spindle_server.publish.drawing import DrawWorker, draw_worker
from spindle_server.publish.models import Edition, Publication
from spindle_server.runs.models import Run
from spindle_server.runs.services import review_run
from spindle_server.verdict.models import Verdict
from spindle_server.vocabulary.serializers import WordsSerializer
from spindle_server.vocabulary.words import vocabulary

from .verdict_steps import begun, issue, prose, ready_verdict, url, with_thrust, write


@pytest.fixture(scope="module")
def ready_once(common_house):
    return ready_verdict(common_house)


@pytest.fixture
def ready(ready_once, house):
    """A verdict that nothing blocks."""
    return deepcopy(ready_once)


def page(client, path=""):
    return client.get(f"/read/{path}")


FOLDER = "motors/quillmoor-sable-21055-1950"


def test_nothing_published_is_an_empty_index(db, client):
    assert "Nothing is published yet." in client.get("/read/").content.decode()
    assert client.get("/read/feed.xml").content.startswith(b"<?xml")


def test_what_blocks_it_is_said(as_role, api, house):
    verdict = begun(house)
    with_thrust(api, verdict)
    for client, path in ((as_role("editor"), "publication"), (api, "proposal")):
        answer = client.post(url(verdict, path), {"version": 2}, format="json")
        assert answer.status_code in (400, 409)
    answer = issue(as_role("editor"), verdict)
    assert (answer.status_code, answer.json()["code"]) == (400, "not_ready")
    assert answer.json()["message"].startswith("Write the one sentence. And 3 more.")
    assert not Publication.objects.exists()


def test_editors_publish_and_reviewers_propose(as_role, api, ready):
    assert issue(api, ready).status_code == 403
    proposed = api.post(url(ready, "proposal"), {"note": "have a look"}, format="json").json()
    assert proposed["proposal"]["note"] == "have a look"
    assert proposed["proposal"]["since_changed"] is False
    write(api, ready, gains="somebody", gains_text="us")
    now = api.get(url(ready, "publication")).json()
    assert now["proposal"]["since_changed"] is True
    told = issue(as_role("editor"), ready).json()
    assert told["proposal"] is None
    assert [one["number"] for one in told["editions"]] == [1]
    assert told["path"] == f"/read/{FOLDER}/"


def test_a_stale_figure_blocks_until_a_word_is_said(as_role, api, people, ready):
    run = Run.objects.first()
    review_run(actor=people["reviewer"], run=run, review="rejected", reason="x", base=run.version)
    assert issue(as_role("editor"), ready).json()["code"] == "not_ready"
    figure = api.get(url(ready)).json()["figures"][0]["id"]
    api.patch(url(ready, "figures", figure), {"word": "only one run fewer"}, format="json")
    assert issue(as_role("editor"), ready).status_code == 201
    text = page(as_role(None), f"{FOLDER}/").content.decode()
    assert "since then 1,200 ± 30\u2009gf; only one run fewer" in text


def test_what_somebody_else_changed_is_not_published_unread(as_role, api, ready):
    version = Verdict.objects.get(pk=ready["id"]).version
    write(api, ready, sections={"open": prose("Everything.")})
    answer = as_role("editor").post(url(ready, "publication"), {"version": version}, format="json")
    assert answer.status_code == 409


def test_a_second_pair_of_eyes(as_role, ready):
    editor = as_role("editor")
    editor.patch("/api/v1/publishing-rules/", {"second_eyes": True, "version": 1}, format="json")
    assert issue(editor, ready).json()["code"] == "alone"
    editor.post(url(ready, "proposal"), {}, format="json")
    assert issue(editor, ready).json()["code"] == "alone"
    as_role("reviewer").post(url(ready, "proposal"), {}, format="json")
    write(as_role("reviewer"), ready, sections={"open": prose("Much.")})
    assert issue(editor, ready).json()["code"] == "changed_since"
    as_role("reviewer").post(url(ready, "proposal"), {}, format="json")
    assert issue(editor, ready).status_code == 201


def test_the_first_edition_is_no_correction(as_role, ready):
    issue(as_role("editor"), ready, correction=True)
    assert Edition.objects.get().correction is False


def test_the_page_rests_on_its_sheet_of_runs(as_role, api, people, ready):
    run = Run.objects.order_by("-pk").first()
    review_run(
        actor=people["reviewer"], run=run, review="rejected", reason="loose screw", base=run.version
    )
    figure = api.get(url(ready)).json()["figures"][0]["id"]
    api.patch(url(ready, "figures", figure), {}, format="json")
    issue(as_role("editor"), ready)
    text = page(as_role(None), f"{FOLDER}/runs.html").content.decode()
    assert "rejected: loose screw" in text
    csv = page(as_role(None), f"{FOLDER}/runs.csv").content.decode().splitlines()
    assert len(csv) == 1 + Run.objects.count()
    assert csv[0].startswith("Run,Date,Kind")


def drawn_by_itself(asked, words):
    with draw_worker() as worker:
        return worker.draw(asked, words)


def test_what_is_drawn_has_no_markup_of_a_name():
    curve = {
        "x_name": "throttle_pct",
        "y_name": "thrust_gf",
        "x": [10, 100],
        "y": [50, 900],
        "u": [1, 5],
        "points": [[10, 50, 1]],
        "reason": "",
    }
    subject = {
        "key": 1,
        "motor": 1,
        "motor_name": "A",
        "samples": ["A"],
        "on": "16 V",
        "propeller_name": "W <script>alert(1)</script>",
        "setup": "",
        "started_at": "",
        "runs": [1],
        "drawn": True,
    }
    other = {**subject, "key": 2, "propeller_name": "W </script><img src=x>"}
    comparison = {"subjects": [subject, other], "curves": [[curve], [curve]]}
    (one,) = drawn_by_itself(
        [
            {
                "draw": "chart",
                "key": "k",
                "comparison": comparison,
                "x_name": "throttle_pct",
                "y_name": "thrust_gf",
            }
        ],
        WordsSerializer(vocabulary()).data,
    )
    assert "<script" not in one["svg"]
    assert "<img" not in one["svg"]


def test_what_cannot_be_drawn_is_said(settings, tmp_path):
    cutaway = [{"draw": "cutaway", "key": "k"}]
    with pytest.raises(ServiceError, match="could not be drawn: Nothing that can be drawn"):
        drawn_by_itself([{"draw": "poem", "key": "k"}], {"quantities": []})
    with pytest.raises(ServiceError, match="it was not begun"):
        DrawWorker().draw(cutaway, {})
    settings.NODE = str(tmp_path / "no-node")
    with pytest.raises(ServiceError, match="could not be drawn"):
        drawn_by_itself(cutaway, {})
    settings.DRAW_WORKER = tmp_path / "nothing.js"
    with pytest.raises(ServiceError, match="not built"):
        drawn_by_itself(cutaway, {})
    # Nothing is missed of a worker that has nothing to do.
    assert drawn_by_itself([], {}) == []


@pytest.fixture
def worker_that(settings, tmp_path):
    """A worker that does something else."""

    def does(script):
        settings.NODE, settings.DRAW_WORKER = "/bin/sh", tmp_path / "draw.sh"
        settings.DRAW_WORKER.write_text(script)

    return does


@pytest.mark.parametrize(
    ("script", "why"),
    [
        ("exit 1", "it stopped"),
        ("echo out of paper >&2; exit 3", "out of paper"),
        ("exec 0<&-; exit 0", "it stopped"),
        ("read line; echo '{}'", "it stopped"),
        ("exec sleep 60", "nothing came within 0.3 s"),
        ("while read line; do :; done", "nothing came within 0.3 s"),
    ],
)
def test_a_worker_that_fails_is_told_of_and_ended(worker_that, monkeypatch, script, why):
    worker_that(script)
    monkeypatch.setattr(drawing, "WITHIN_S", 0.3)
    long = [{"draw": "cutaway", "key": "k", "name": "x" * 300_000}]
    with draw_worker() as worker:
        process = worker._process
        for _ in range(2):
            # It is not asked again either, since an answer that comes late would be the next one's.
            with pytest.raises(ServiceError, match=f"could not be drawn.*{why}"):
                worker.draw(long, {})
        assert process.returncode is not None
        assert process.stdin.closed


def test_a_worker_that_has_nothing_to_draw_is_ended_at_once(worker_that):
    worker_that("exec sleep 60")
    begun = []

    def refused():
        with draw_worker() as worker:
            begun.append(worker._process)
            raise KeyError("refused meanwhile")

    with pytest.raises(KeyError):
        refused()
    assert begun[0].returncode == -signal.SIGKILL


def test_one_worker_draws_again_and_again_and_is_told_the_words_once(worker_that):
    worker_that(
        """n=0; while read line; do case "$line" in
            *'"words"'*) n=$((n + 1)); echo '{"drawn": true}' ;;
            *poem*) echo '{"fault": "no poems"}' ;;
            *) echo "{\\"svg\\": $(echo "$line" | wc -c), \\"told\\": $n}" ;;
        esac; done"""
    )
    one, long = {"draw": "chart", "key": "k"}, {"draw": "chart", "key": "k" * 200_000}
    with draw_worker() as worker:
        first = worker.draw([one, long], {"a": 1})
        with draw_worker() as inner:
            assert inner is worker
            assert inner.draw([one, long], {"a": 1}) == first
        with pytest.raises(ServiceError, match="no poems"):
            worker.draw([one, {"draw": "poem"}, one], {"a": 1})
        assert worker._process.poll() is None
        # What was answered to those before is not taken for the next.
        assert worker.draw([long], {"a": 1}) == first[1:]
        other = worker.draw([one], {"a": 2})
    assert [len(first), first[0]["told"], first[1]["told"]] == [2, 1, 1]
    assert other == [{**first[0], "told": 2}]
    with draw_worker() as fresh:
        assert fresh is not worker


def test_a_first_look_without_runs_says_what_was_not_tested(as_role, api, people):
    motor = take_in_motor(
        actor=people["reviewer"],
        maker="Hollin",
        name="Pale",
        size_code="2807",
        kv_label_rpm_per_v=1250,
        sample_marks=["A"],
        obtained="bought",
    )
    change_motor(
        actor=people["reviewer"], motor=motor, base=motor.version, verdict="Looks well made."
    )
    verdict = api.post("/api/v1/verdicts/", {"motor": motor.pk}, format="json").json()
    told = api.get(url(verdict, "proposals")).json()["statements"]
    key = next(one["key"] for one in told if "never run with a propeller" in one["text"])
    taken = api.post(url(verdict, "adopt"), {"key": key}, format="json").json()
    doc = {"type": "doc", "content": [taken["paragraph"]]}
    write(api, verdict, sections={"open": doc}, links="none", gains="nobody")
    assert issue(as_role("editor"), verdict).status_code == 201
    reader = as_role(None)
    text = page(reader, "motors/hollin-pale-2807-1250/").content.decode()
    assert "First look: nothing was run" in text
    assert "It was never run with a propeller" in text
    assert '<figure class="chart"' not in text
    for name in ("runs.html", "runs.csv", "page.pdf"):
        assert page(reader, f"motors/hollin-pale-2807-1250/{name}").status_code == 200


def test_what_was_used_is_named_with_links_that_say_whether_they_pay(as_role, api, ready):
    gear = api.get(url(ready)).json()["gear"]
    assert {"what": "propeller", "name": "Wickett 5.1x4.2x3"} in gear
    assert [one["what"] for one in gear] == ["motor", "propeller", "supply", "stand"]
    part = {"what": "propeller", "name": "Wickett <5.1>", "link": "https://shop.example/w?a=1&b=2"}
    write(api, ready, parts=[part])
    missing = api.get(url(ready)).json()["disclosure"]["missing"]
    assert missing == ["whether the link to Wickett <5.1> pays"]
    assert issue(as_role("editor"), ready).json()["code"] == "not_ready"
    paying = {**part, "pays": True, "noted_on": "2026-10-08"}
    write(api, ready, parts=[paying], links="some", links_text="the propeller's shop pays us")
    assert issue(as_role("editor"), ready).status_code == 201
    text = page(as_role(None), f"{FOLDER}/").content.decode()
    assert "Wickett &lt;5.1&gt;" in text
    assert 'href="https://shop.example/w?a=1&amp;b=2" rel="nofollow noopener sponsored"' in text
    assert "this link pays us" in text
    assert "noted 2026-10-08" in text


@pytest.mark.parametrize(
    "changed",
    [
        {"link": "javascript:alert(1)"},
        {"link": "ftp://shop.example/w"},
        {"link": "shop"},
        {"what": "wish"},
        {"name": ""},
        {"noted_on": "yesterday"},
        {"pays": "perhaps"},
    ],
)
def test_what_is_no_part_is_refused(api, ready, changed):
    part = {"what": "propeller", "name": "Wickett", "link": "", **changed}
    assert write(api, ready, parts=[part]).status_code == 400
    assert write(api, ready, parts=[{"what": "other", "name": "x"}] * 25).status_code == 400
    assert api.get(url(ready)).json()["parts"] == []
