"""Pages that are read by a copy of the database: never older than what anybody wrote before, while
the copy follows, while it is late, and while it is away."""

import time

import pytest

from e2e.application import running, wait_for
from e2e.person import Person
from e2e.primary_and_copy import HOST, primary_and_copy
from spindle_ops.elsewhere import PASSWORD

WRITTEN = 25


@pytest.fixture(scope="module")
def servers():
    with primary_and_copy() as pair:
        yield pair


@pytest.fixture(scope="module")
def bench(servers):
    primary, copy = servers
    with pytest.MonkeyPatch.context() as patch:
        patch.setenv(PASSWORD, primary.password)
        options = ("--database", f"{HOST}:{primary.port}", "--reading", f"{HOST}:{copy.port}")
        with running("start", "reading", *options) as application:
            yield application


@pytest.fixture
def person(bench):
    return Person(bench, "admin")


def propellers(person):
    status, body = person.ask("GET", "propellers/?page_size=200")
    assert status == 200, body
    return {one["maker"] for one in body["results"]}


def add(person, name):
    status, body = person.ask("POST", "propellers/", {"maker": name, "diameter_in": 5})
    assert status == 201, body


def by_the_copy(copy, person):
    """Whether a page is read by the copy now."""
    before = copy.selects()
    propellers(person)
    return copy.selects() - before > 3


def test_who_wrote_reads_it_and_the_copy_was_asked(servers, person):
    primary, copy = servers
    wait_for(lambda: by_the_copy(copy, person), 20, "the copy is read")
    asked, wrote = copy.selects(), primary.selects()
    for number in range(WRITTEN):
        add(person, f"Follower {number}")
        assert f"Follower {number}" in propellers(person)
    for _ in range(20):
        propellers(person)
    assert copy.selects() - asked > 3 * (WRITTEN + 20) * 0.8
    # A page asks the database itself how far it has come, and Django greets it; no more.
    before = primary.selects()
    for _ in range(20):
        propellers(person)
    assert primary.selects() - before <= 2 * 20 + 4, wrote


def test_a_copy_that_is_late_is_not_believed(servers, person):
    _, copy = servers
    copy.sql("STOP SLAVE SQL_THREAD")
    try:
        for number in range(5):
            add(person, f"Late {number}")
            begun = time.monotonic()
            assert f"Late {number}" in propellers(person)
            assert time.monotonic() - begun < 2
        amiss = person.ask("GET", "upkeep/")[1]["findings"]
        assert any("copy for reading is more than" in one["sentence"] for one in amiss), amiss
    finally:
        copy.sql("START SLAVE SQL_THREAD")
    wait_for(lambda: by_the_copy(copy, person), 20, "the copy is read again")


def test_a_copy_that_dies_stops_nobody(servers, person):
    _, copy = servers
    wait_for(lambda: by_the_copy(copy, person), 20, "the copy is read")
    copy.kill()
    for number in range(5):
        assert "Late 4" in propellers(person)
        add(person, f"Alone {number}")
        assert f"Alone {number}" in propellers(person)
    amiss = person.ask("GET", "upkeep/")[1]["findings"]
    assert any("copy for reading does not answer" in one["sentence"] for one in amiss), amiss
    copy.start()
    wait_for(lambda: by_the_copy(copy, person), 30, "the copy is read again")
    assert "Alone 4" in propellers(person)


def test_nothing_is_ever_written_to_the_copy(servers, bench):
    primary, copy = servers
    tables = [row[0] for row in primary.sql("USE spindle", "SHOW TABLES")]
    assert len(tables) > 100
    wanted = "CHECKSUM TABLE " + ", ".join(f"spindle.`{name}`" for name in tables)
    wait_for(lambda: primary.sql(wanted) == copy.sql(wanted), 20, "alike, table by table")
    assert "read-only" not in (bench.folder / "log" / "web.log").read_text()
