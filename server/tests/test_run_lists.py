"""Runs found, filtered, ordered and paged by the database, from figures kept as rows."""

from copy import deepcopy

import pytest
from django.db import IntegrityError, connection, transaction
from django.test.utils import CaptureQueriesContext

from spindle_core.figures.measured import Measured
from spindle_core.formats.result_json import figure_from_json
from spindle_core.reduction import KINDS
from spindle_server.motors.services import take_in_motor
from spindle_server.rig.services import add_propeller
from spindle_server.runs.as_core import figure_of
from spindle_server.runs.models import Run, SummaryFigure
from spindle_server.runs.reducing import reduce_run
from spindle_server.runs.services import review_run


def listed(api, query=""):
    answer = api.get(f"/api/v1/runs/?{query}")
    assert answer.status_code == 200, answer.json()
    return [row["id"] for row in answer.json()["results"]]


def set_figure(run, name, value):
    SummaryFigure.objects.filter(run=run, name=name).delete()
    reason = "" if value is not None else "not_logged"
    u = None if value is None else 0.5
    SummaryFigure.objects.create(run=run, name=name, value=value, u=u, absent_reason=reason)


def test_the_rows_are_the_summary_of_the_stored_result(record):
    run = record()
    stored = run.reduction.result["summary"]
    rows = {row.name: row for row in run.figures.all()}
    assert set(rows) == set(stored)
    for name, item in stored.items():
        figure = figure_of(rows[name])
        if item is None:
            assert rows[name].absent_reason == run.reduction.result["absent"][name]["reason"]
            continue
        kept = figure_from_json(item)
        assert isinstance(figure, Measured)
        assert (figure.value, dict(figure.components), figure.n) == (
            kept.value,
            dict(kept.components),
            kept.n,
        )
        assert figure.u == pytest.approx(rows[name].u)
    assert run.reduction.warning_count == len(run.reduction.result["warnings"])


def test_reducing_again_leaves_no_figure_of_before(record):
    run = record()
    set_figure(run, "max_thrust_gf", 9.0)
    set_figure(run, "of_an_earlier_core", 1.0)
    reduce_run(run)
    names = [row.name for row in run.figures.all()]
    assert "of_an_earlier_core" not in names
    assert run.figures.get(name="max_thrust_gf").value > 100


def test_a_figure_is_there_or_says_why_not(record):
    run = record()
    for wrong in ({"value": None}, {"value": 1.0, "absent_reason": "not_logged"}):
        with pytest.raises(IntegrityError), transaction.atomic():
            SummaryFigure.objects.create(run=run, name="x", **wrong)


def test_a_list_shows_the_headline_of_each_kind_and_loads_no_whole_result(api, record):
    run = record()
    set_figure(run, "max_current_a", None)
    with CaptureQueriesContext(connection) as asked:
        row = api.get("/api/v1/runs/").json()["results"][0]
    assert [figure["name"] for figure in row["headline"]] == list(KINDS["steps"].headline)
    current = row["headline"][1]
    assert (current["value"], current["reason"]) == (None, "not_logged")
    assert row["comparable"] is True
    said = " ".join(query["sql"] for query in asked.captured_queries)
    assert "`result`" not in said
    assert "`components`" not in said


def test_ordered_by_a_figure_the_runs_without_it_come_last_either_way(api, record):
    low, none, high = record(), record(), record()
    for run, value in ((low, 100.0), (none, None), (high, 900.0)):
        set_figure(run, "max_thrust_gf", value)
    assert listed(api, "order=max_thrust_gf") == [low.pk, high.pk, none.pk]
    assert listed(api, "order=-max_thrust_gf") == [high.pk, low.pk, none.pk]
    none.figures.filter(name="max_thrust_gf").delete()
    assert listed(api, "order=-max_thrust_gf") == [high.pk, low.pk, none.pk]
    assert listed(api, "order=number") == [low.pk, none.pk, high.pk]
    assert api.get("/api/v1/runs/?order=password").status_code == 400


def test_filtered_by_what_a_run_is_and_how_it_stands(api, rig, record, people):
    first, second = record(), record()
    review_run(
        actor=people["reviewer"], run=first, review="rejected", reason="slipped", base=first.version
    )
    assert listed(api, "state=waiting") == [second.pk]
    assert listed(api, "state=rejected") == [first.pk]
    assert set(listed(api, "state=completed")) == {first.pk, second.pk}
    assert listed(api, "state=recording") == []
    assert set(listed(api, "kind=steps")) == {first.pk, second.pk}
    assert listed(api, "kind=soak") == []
    assert api.get("/api/v1/runs/?kind=dance").status_code == 400
    other = take_in_motor(actor=None, maker="Hollin", name="Pale", size_code="2807")
    assert listed(api, f"motor={other.pk}") == []
    assert set(listed(api, f"motor={rig['motor'].pk}")) == {first.pk, second.pk}
    day = f"{first.started_at:%Y-%m-%d}"
    assert first.pk in listed(api, f"day={day}")
    assert listed(api, "day=1999-01-01") == []
    assert api.get("/api/v1/runs/?day=09/19/2026").status_code == 400


@pytest.mark.parametrize(
    ("words", "found"),
    [
        ("quill", True),
        ("WICKETT sable", True),
        ("sable wickett steps", True),
        ("1950", True),
        ("5.1", True),
        ("5,1", True),
        ("A", True),
        ("pale", False),
        ("1951", False),
        ("sable pale", False),
        ("supply", True),
        ("%", False),
    ],
)
def test_found_by_words_in_any_order(api, record, words, found):
    run = record()
    assert (listed(api, f"search={words.replace('%', '%25')}") == [run.pk]) is found


@pytest.mark.parametrize("word", ["nan", "inf", "1e30", "-1", "1e400", "9" * 300, "'", "\\"])
def test_a_word_that_no_run_can_be_finds_nothing_and_breaks_nothing(api, record, word):
    record()
    assert api.get("/api/v1/runs/", {"search": word}).json()["results"] == []


def test_a_novel_is_no_search(api, record, django_assert_max_num_queries):
    record()
    with django_assert_max_num_queries(40):
        assert listed(api, "search=" + "+".join(["sable", "SABLE"] * 150)) != []
        many = " ".join(f"word{number}" for number in range(9))
        refused = api.get("/api/v1/runs/", {"search": many})
    assert refused.status_code == 400
    assert "at most 8 words" in refused.json()["fields"]["search"][0]


def test_a_run_is_found_by_its_number(api, record):
    run, other = record(), record()
    assert run.pk in listed(api, f"search={run.pk}")
    assert other.pk not in listed(api, f"search={run.pk}")


def test_paged_with_the_same_queries_however_many(api, record, django_assert_num_queries):
    for _ in range(5):
        record()
    with django_assert_num_queries(4):  # count, numbers, runs, their headline figures
        answer = api.get("/api/v1/runs/?page_size=2&page=2&order=-max_thrust_gf").json()
    assert (answer["count"], len(answer["results"])) == (5, 2)
    first = api.get("/api/v1/runs/?page_size=2&order=-max_thrust_gf").json()
    assert not {r["id"] for r in first["results"]} & {r["id"] for r in answer["results"]}


def test_by_propeller_a_bare_run_comes_last(api, rig, record):
    with_prop = record()
    small = add_propeller(actor=None, maker="Corran", diameter_in=3.0, pitch_in=2.0, blades=3)
    smaller = record()
    Run.objects.filter(pk=smaller.pk).update(propeller=small)
    bare = record()
    Run.objects.filter(pk=bare.pk).update(propeller=None, kind="no_load")
    assert listed(api, "order=propeller") == [smaller.pk, with_prop.pk, bare.pk]


def test_the_vocabulary_names_whatever_a_screen_may_show(api, record):
    told = api.get("/api/v1/vocabulary/").json()
    names = {quantity["name"] for quantity in told["quantities"]}
    assert {row.name for row in record().figures.all()} <= names
    assert [kind["key"] for kind in told["run_kinds"]] == list(KINDS)
    dwell = next(one for one in told["run_kinds"][0]["parameters"] if one["name"] == "dwell_s")
    assert (dwell["low"], dwell["default"], dwell["unit"]) == (1.5, [3.0], "s")
    assert {limit["name"] for limit in told["limits"] if not limit["can_be_off"]} == {"current_a"}
    assert all(limit["unwatched"] for limit in told["limits"] if limit["can_be_off"])
    assert {one["key"] for one in told["choices"]["turning"]} == {"cw", "ccw", "unknown"}
    assert all(item["text"] for item in told["checklist"])


def test_pages_by_a_figure_go_on_where_the_figure_ends(api, record):
    runs = [record() for _ in range(7)]
    for number, run in enumerate(runs):
        set_figure(run, "max_thrust_gf", 100.0 * number if number < 4 else None)
    runs[6].figures.filter(name="max_thrust_gf").delete()
    pages = [listed(api, f"order=max_thrust_gf&page_size=3&page={page}") for page in (1, 2, 3)]
    having = [run.pk for run in runs[:4]]
    without = [run.pk for run in runs[:3:-1]]
    assert [pk for page in pages for pk in page] == [*having, *without]
    down = [listed(api, f"order=-max_thrust_gf&page_size=3&page={page}") for page in (1, 2, 3)]
    assert [pk for page in down for pk in page] == [*having[::-1], *without]
    assert listed(api, "order=max_thrust_gf&kind=soak") == []
    one = f"order=max_thrust_gf&search={runs[5].pk}"
    assert runs[5].pk in listed(api, one)
    assert api.get("/api/v1/runs/?order=max_thrust_gf&page_size=3&page=4").status_code == 404


# Many runs in one list


@pytest.fixture(scope="module")
def runs_in_no_order(common_house):
    """Of two motors and three samples on two propellers and on none."""
    rig = common_house.rig
    actor = common_house.people["reviewer"]
    other = take_in_motor(
        actor=actor,
        maker="Brackwater",
        name="No. 4",
        size_code="2306",
        kv_label_rpm_per_v=1800,
        sample_marks=["A"],
    )
    rig["samples"] += list(other.samples.all())
    first = rig["propeller"]
    small = add_propeller(actor=actor, maker="Corran", diameter_in=4.0, pitch_in=3.0, blades=2)
    for sample, propeller in (
        (0, first),
        (2, small),
        (1, small),
        (0, small),
        (2, first),
        (1, first),
    ):
        rig["propeller"] = propeller
        common_house.record(sample=sample)
    bare = common_house.record(sample=0)
    bare.kind, bare.propeller = "no_load", None
    bare.save()
    return list(Run.objects.order_by("pk").select_related("sample__motor__maker", "propeller"))


@pytest.fixture
def many(runs_in_no_order, house):
    return deepcopy(runs_in_no_order)


def paged(api, query, size):
    found, page = [], 1
    while True:
        answer = api.get(f"/api/v1/runs/?{query}&page={page}&page_size={size}").json()
        found += [row["id"] for row in answer["results"]]
        if answer["next"] is None:
            assert answer["count"] == len(found)
            return found
        page += 1


def of_motor(run):
    return (run.sample.motor.maker.name, run.sample.motor.name, run.sample.mark)


def of_propeller(run):
    return (run.propeller.diameter_in, run.propeller.pitch_in, run.propeller.maker.name)


@pytest.mark.parametrize("size", [1, 2, 3, 50])
@pytest.mark.parametrize("down", [False, True])
@pytest.mark.parametrize(
    ("order", "key"),
    [("motor", of_motor), ("propeller", of_propeller), ("kind", lambda run: run.kind)],
)
def test_ordered_by_what_they_are_of_on_pages_of_any_size(api, many, size, down, order, key):
    rated = [run for run in many if order != "propeller" or run.propeller]
    wanted = sorted(sorted(rated, key=lambda run: -run.pk), key=key, reverse=down)
    if down:  # a sort that is turned round turns the equal ones round too
        wanted = sorted(
            wanted, key=lambda run: ([key(one) for one in wanted].index(key(run)), -run.pk)
        )
    wanted += [run for run in reversed(many) if run not in wanted]
    found = paged(api, f"order={'-' if down else ''}{order}", size)
    assert found == [run.pk for run in wanted]


def test_ordered_and_filtered_at_once(api, many):
    own = [run for run in many if of_motor(run)[0] == "Brackwater"]
    motor = own[0].sample.motor_id
    assert paged(api, f"order=propeller&motor={motor}", 1) == [
        run.pk for run in sorted(own, key=lambda run: (of_propeller(run), -run.pk))
    ]
    bare = [run.pk for run in many if run.propeller is None]
    assert paged(api, "order=propeller&kind=no_load", 1) == bare
    assert paged(api, "order=-supply", 2) == [run.pk for run in reversed(many)]
    assert paged(api, "order=motor&kind=soak", 2) == []


def test_an_order_asks_as_often_however_many_there_are(api, many, record):
    for order in ("motor", "propeller", "-max_thrust_gf"):
        counts = set()
        for size in (1, 3, 50):
            with CaptureQueriesContext(connection) as asked:
                api.get(f"/api/v1/runs/?order={order}&page_size={size}")
            counts.add(len(asked))
        assert max(counts) - min(counts) <= 2, (order, counts)
