"""Every failure in every state of the bench, each cell against what was written down before."""

import re

import pytest

from spindle_bench.matrix.cells import Cell, a_plan, play
from spindle_bench.matrix.expected import EXPECTED, STATES
from spindle_bench.matrix.house import House
from spindle_bench.matrix.table import false_trips, markdown


@pytest.mark.parametrize("state", STATES)
@pytest.mark.parametrize("failure", EXPECTED)
def test_each_cell(failure, state, tmp_path):
    outcome = play(failure, state, tmp_path)
    assert outcome.wrong == ()


def test_the_table_names_every_failure_and_holds_every_process_in_every_length():
    for process in ("web", "agent", "stand", "door", "database"):
        for how in ("killed", "frozen 1 s", "frozen 5 s", "frozen 30 s"):
            assert f"{process} {how}" in EXPECTED
    for cells in EXPECTED.values():
        for words in cells:
            assert re.fullmatch(
                r"quiet|stays|goes on|disarms [\d.]+|cut [\d.]+( \w+)+|stopped [\d.]+( \w+)?"
                r"|starts once|one arms",
                words,
            )


@pytest.mark.parametrize(
    ("failure", "spoil", "says"),
    [
        ("samples lost", "tick", "the throttle did not come to zero"),
        ("samples NaN", "malformed", "it ended as no_samples"),
        ("disk full", "_record", "it ended as completed"),
    ],
)
def test_the_table_would_show_a_watch_that_is_missing(tmp_path, monkeypatch, failure, spoil, says):
    """A table that cannot fail shows nothing."""
    cell = Cell(failure, "running", House(tmp_path), a_plan("run-1"))
    cell.bring_about()
    monkeypatch.setattr(type(cell.house.engine), spoil, lambda *ignored, **also: None)
    monkeypatch.setattr(
        "spindle_bench.matrix.cells.EXPECTED",
        {failure: ("", "", "cut 0.5 bad_lines recording", "")},
    )
    cell.house.stand.heartbeat_limit_s = 1e9
    cell.strike()
    cell.hold()
    assert any(says in wrong for wrong in cell.wrong)


def test_the_table_is_printed_a_failure_a_row(tmp_path):
    outcomes = [play("disk full", state, tmp_path / state) for state in STATES]
    rows = {outcome.failure for outcome in outcomes}
    text = markdown(
        [
            *outcomes,
            *(
                type(outcomes[0])(failure, state, "quiet")
                for failure in EXPECTED
                if failure not in rows
                for state in STATES
            ),
        ]
    )
    assert len(text.splitlines()) == len(EXPECTED) + 2
    assert "`recording`" in text


def test_half_an_hour_at_the_bench_without_a_false_trip():
    runs, tripped = false_trips(0.5, seed=3)
    assert runs > 20
    assert tripped == []
