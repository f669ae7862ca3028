"""Runs that a process keeps as the core takes them: never other than what is stored."""

import pytest
from django.db import OperationalError, ProgrammingError, connection, connections
from django.test.utils import CaptureQueriesContext

from spindle_core.compare.table import run_curve
from spindle_core.figures.measured import Measured
from spindle_server.motors.models import Claim
from spindle_server.rig.models import Propeller, Stand
from spindle_server.runs import taken
from spindle_server.runs.ahead import ahead
from spindle_server.runs.models import LaterCell, Reduction, Run
from spindle_server.runs.ran import counted_runs, evidence_of, ratings_of
from spindle_server.runs.reducing import reduce_run
from spindle_server.runs.taken import ran_run, ran_runs


@pytest.fixture(autouse=True)
def empty(monkeypatch):
    monkeypatch.setattr(taken, "_taken", type(taken._taken)())


def ran(run):
    [(row, one)] = ran_runs(Run.objects.filter(pk=run.pk))
    assert row.pk == run.pk
    return one


def top_of(one):
    return one.core.points[-1].figures["thrust_gf"].value


def results_read(ask):
    with CaptureQueriesContext(connection) as made:
        ask()
    return sum("runs_reduction`.`result`" in one["sql"] for one in made.captured_queries)


def test_what_is_known_is_not_read_again_and_its_curves_stay(record):
    runs = [record(), record(1.1)]
    rows = Run.objects.order_by("pk")
    assert results_read(lambda: ran_runs(rows)) == 1
    first = [one for _, one in ran_runs(rows)]
    line = run_curve(first[0].core, "thrust_gf", "power_w")
    assert results_read(lambda: ran_runs(rows)) == 0
    again = [one for _, one in ran_runs(rows)]
    assert [one.core.key for one in again] == [f"run {run.pk}" for run in runs]
    assert run_curve(again[0].core, "thrust_gf", "power_w") is line
    assert again == first


def test_one_of_many_that_is_reduced_again_is_read_again_alone(record):
    runs = [record(1.0 + 0.1 * k) for k in range(3)]
    rows = Run.objects.order_by("pk")
    before = [one for _, one in ran_runs(rows)]
    LaterCell.objects.create(run=runs[1], row=1, channel="speed_rpm", value=1234.0)
    reduce_run(runs[1])
    with CaptureQueriesContext(connection) as made:
        after = [one for _, one in ran_runs(rows)]
    asked = [one["sql"] for one in made.captured_queries if "`result`" in one["sql"]]
    assert len(asked) == 1
    assert f"IN ({runs[1].pk})" in asked[0]
    assert after[0].core is before[0].core
    assert after[1].core is not before[1].core
    stored = Reduction.objects.get(run=runs[1]).result["points"][0]["speed_rpm"]
    read = after[1].core.points[0].figures["speed_rpm"]
    assert isinstance(read, Measured)
    assert read.value == stored["value"]


def test_one_run_and_many_are_the_same(record):
    run = record()
    whole = Run.objects.select_related(
        "sample", "propeller__maker", "supply", "stand", "reduction"
    ).prefetch_related("figures")
    assert ran_run(whole.get(pk=run.pk)) == ran(run)
    assert ran_run(whole.get(pk=run.pk)).core is ran(run).core


def test_a_stand_that_repeats_worse_is_believed_at_once(record, rig):
    run = record()
    assert ran(run).core.repeatability == pytest.approx(rig["stand"].repeatability_rel)
    Stand.objects.filter(pk=rig["stand"].pk).update(repeatability_rel=0.07)
    assert ran(run).core.repeatability == 0.07
    Stand.objects.filter(pk=rig["stand"].pk).update(repeatability_rel=None)
    assert ran(run).core.repeat_kind == "assumed_repeat"


def test_what_is_mounted_is_as_it_is_called_now(record, rig):
    run = record()
    before = ran(run).load.propeller
    Propeller.objects.filter(pk=rig["propeller"].pk).update(name="Renamed")
    assert "Renamed" not in before
    assert "Renamed" in ran(run).load.propeller


def test_a_point_beyond_a_rating_is_left_out_of_the_judgement_and_not_of_what_is_kept(record, rig):
    run = record()
    whole = ran(run)
    count, top = len(whole.core.points), top_of(whole)
    # Read before the rating is known, so that its curve stands.
    assert run_curve(whole.core, "thrust_gf", "power_w").span[1] == pytest.approx(top)
    current = whole.core.points[-1].figures["current_a"].value
    Claim.objects.create(
        motor=rig["motor"], quantity="max_current_a", value=0.9 * current, source="label"
    )
    motors = [rig["motor"].pk]
    evidence = evidence_of(counted_runs(motors), ratings_of(motors))
    [judged] = evidence.runs
    assert len(judged.core.points) < count
    assert run_curve(judged.core, "thrust_gf", "power_w").span[1] < 0.99 * top
    assert judged.summary["max_thrust_gf"].value < 0.99 * top
    assert len(ran(run).core.points) == count
    assert ran(run).summary["max_thrust_gf"].value == pytest.approx(top)


def test_what_is_left_within_a_rating_is_kept_with_its_curves_until_anything_of_it_changes(
    record, rig
):
    record()
    motors = [rig["motor"].pk]

    def judged(share):
        Claim.objects.filter(motor=rig["motor"]).delete()
        Claim.objects.create(
            motor=rig["motor"], quantity="max_current_a", value=share * current, source="label"
        )
        evidence = evidence_of(counted_runs(motors), ratings_of(motors))
        return evidence.runs[0].core, evidence.overruns

    run = Run.objects.get()
    current = ran(run).core.points[-1].figures["current_a"].value
    first, beyond = judged(0.9)
    assert first.held_back
    assert beyond == {str(rig["motor"].pk): len(ran(run).core.points) - len(first.points)}
    again, told = judged(0.9)
    assert again is first
    assert told == beyond
    # Another limit is another question, and one that bars nothing leaves the run whole.
    tighter, more = judged(0.5)
    assert len(tighter.points) < len(first.points)
    assert sum(more.values()) > sum(beyond.values())
    whole, none = judged(1.5)
    assert whole is ran(run).core
    assert not whole.held_back
    assert none == {}
    # A run that was reduced again is another run.
    LaterCell.objects.create(run=run, row=1, channel="speed_rpm", value=1234.0)
    reduce_run(run)
    anew, _ = judged(0.9)
    assert anew is not first
    assert anew.held_back


def test_a_process_reads_ahead_what_judgements_rest_on_and_survives_where_it_cannot(
    record, monkeypatch, caplog
):
    runs = [record(), record(1.1)]
    monkeypatch.setattr(connections, "close_all", lambda: None)
    ahead()
    assert sorted(taken._taken) == [run.pk for run in runs]
    assert results_read(lambda: ran_runs(Run.objects.all())) == 0

    answers = iter([OperationalError("it is away"), ProgrammingError("no such table"), 7])
    monkeypatch.setattr("spindle_server.runs.ahead.AGAIN_S", 0.0)

    def later():
        answer = next(answers)
        if isinstance(answer, Exception):
            raise answer
        return answer

    monkeypatch.setattr("spindle_server.runs.ahead.read_ahead", later)
    with caplog.at_level("INFO"):
        ahead()
    assert next(answers, "all were asked for") == "all were asked for"
    assert "could not" not in caplog.text
    # It does not ask for ever, and a fault of its own ends nothing else.
    monkeypatch.setattr("spindle_server.runs.ahead.GIVEN_UP_S", 0.0)
    monkeypatch.setattr("spindle_server.runs.ahead.read_ahead", raising(OperationalError("away")))
    ahead()
    assert "the database did not answer" in caplog.text
    monkeypatch.setattr("spindle_server.runs.ahead.read_ahead", raising(ValueError("odd")))
    ahead()
    assert "could not read ahead" in caplog.text


def raising(problem):
    def ask():
        raise problem

    return ask


def test_no_more_are_kept_than_a_process_may(record, monkeypatch):
    monkeypatch.setattr(taken, "MOST_KEPT", 2)
    monkeypatch.setattr(taken, "READ_AT_ONCE", 2)
    runs = [record(1.0 + 0.1 * k) for k in range(3)]
    found = ran_runs(Run.objects.order_by("pk"))
    assert [round(top_of(one)) for _, one in found] == [round(ran_run_top(run)) for run in runs]
    assert list(taken._taken) == [run.pk for run in runs[1:]]


def ran_run_top(run):
    return Reduction.objects.get(run=run).result["points"][-1]["thrust_gf"]["value"]
