"""``./spindle cluster``: the demo on three nodes of a Galera cluster behind HAProxy.

One node is killed in mid-run, and after it has rejoined another in mid-import; at the end two, so
that no majority is left. A line for each thing that is asked; 1 where one is not so. It installs
Debian's haproxy and rsync where they are missing; all of it runs on loopback, in a folder that is
thrown away.
"""

from __future__ import annotations

import os
import sys
import threading
import time
import uuid
from collections import Counter
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")
sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

import pytest
from playwright.sync_api import Page, expect, sync_playwright

from e2e.application import BROWSER, Application, running_demo, wait_for
from e2e.bench_steps import arm_and_start, set_up_run
from e2e.cluster_of_three import HOST, Cluster, cluster_of_three
from e2e.person import Person
from e2e.table import Table
from spindle_ops import setup
from spindle_ops.elsewhere import PASSWORD

IMPORTS, WRITERS, WEIGHINGS = 24, 6, 10

expect.set_options(timeout=20_000)


def form_of(name: str, data: bytes, **fields: object) -> tuple[bytes, str]:
    """A form with a file, and its content type."""
    edge = uuid.uuid4().hex
    parts = [
        f'--{edge}\r\nContent-Disposition: form-data; name="{key}"\r\n\r\n{value}\r\n'.encode()
        for key, value in fields.items()
    ]
    parts.append(
        f'--{edge}\r\nContent-Disposition: form-data; name="file"; filename="{name}"\r\n'
        "Content-Type: text/csv\r\n\r\n".encode()
    )
    return b"".join([*parts, data, f"\r\n--{edge}--\r\n".encode()]), (
        f"multipart/form-data; boundary={edge}"
    )


def count(cluster: Cluster, node: int, table: str) -> int:
    """Rows of a table as one node has them."""
    return int(cluster.nodes[node].sql(f"SELECT COUNT(*) FROM {table}")[0][0])  # noqa: S608


def alike(cluster: Cluster) -> int:
    """How many tables there are; every one has the same rows on all three nodes."""
    names = [row[0] for row in cluster.nodes[0].sql("SHOW TABLES")]
    wanted = "CHECKSUM TABLE " + ", ".join(f"`{name}`" for name in names)
    first, *others = [one.sql(wanted) for one in cluster.nodes]
    for other in others:
        differs = [mine[0] for mine, its in zip(first, other, strict=True) if mine != its]
        assert not differs, f"differ between nodes: {', '.join(differs)}"
    return len(names)


def read_after_write(demo: Application, cluster: Cluster) -> None:
    """Who wrote by one node reads it by whichever answers next."""
    person = Person(demo, "ilse")
    sample = person.ask("GET", "motors/")[1]["results"][0]["samples"][0]["id"]
    for number in range(40):
        body = {
            "mass_g": 30 + number / 100,
            "resolution_g": 0.01,
            "lead_length_mm": 60,
            "weighed_on": "2026-11-20",
        }
        status, made = person.insist(f"samples/{sample}/weighings/", body=body)
        assert status == 201, (status, made)
        struck = {"struck_reason": "A try.", "version": made["version"]}
        again = person.ask("PATCH", f"weighings/{made['id']}/", struck)
        assert again[0] == 200, (number, again)
    assert count(cluster, 0, "motors_weighing WHERE struck_reason = 'A try.'") == 40


def writes_that_meet(demo: Application, cluster: Cluster) -> str:
    """Several who change one motor and weigh one sample by different nodes at one time."""
    people = [Person(demo, "ilse") for _ in range(WRITERS)]
    motor = people[0].ask("GET", "motors/")[1]["results"][0]
    sample = motor["samples"][0]["id"]
    before = count(cluster, 0, "motors_weighing")
    gate = threading.Barrier(WRITERS)
    told: Counter[int] = Counter()

    def one(person: Person) -> None:
        gate.wait(20)
        for number in range(WEIGHINGS):
            body = {
                "mass_g": 31.0,
                "resolution_g": 0.01,
                "lead_length_mm": 60,
                "weighed_on": "2026-11-21",
            }
            told[person.insist(f"samples/{sample}/weighings/", body=body)[0]] += 1
            now = person.ask("GET", f"motors/{motor['id']}/")[1]
            words = {"note": f"by {id(person)}, {number}", "version": now["motor"]["version"]}
            status, _ = person.ask("PATCH", f"motors/{motor['id']}/", words)
            told[1000 + status] += 1

    with ThreadPoolExecutor(WRITERS) as pool:
        list(pool.map(one, people))
    wanted = WRITERS * WEIGHINGS
    assert told[201] == wanted, told
    assert count(cluster, 1, "motors_weighing") - before == wanted
    assert told[1200] + told[1409] == wanted, told
    changed = cluster.nodes[2].sql(
        f"SELECT version - {motor['version']} FROM motors_motormodel WHERE id = {motor['id']}"  # noqa: S608
    )
    assert int(changed[0][0]) == told[1200], (changed, told)
    again = sum(
        path.read_text().count("met another write") for path in demo.folder.glob("log/web.log*")
    )
    return f"{told[1200]} changes stood, {told[1409]} were told of another's, {again} made again"


def run_through_a_death(cluster: Cluster, page: Page) -> str:
    """A node is killed while something turns; the run is on record, every row of it once."""
    before = {row[0] for row in cluster.nodes[1].sql("SELECT id FROM runs_run")}
    set_up_run(page, sample="Ostrel Drift 2206 1900 · A", levels="20, 40, 60, 40, 20")
    arm_and_start(page)
    page.wait_for_timeout(3000)
    cluster.nodes[0].kill()
    result = page.get_by_label("Result of the last run")
    expect(result.get_by_role("link", name="Run ")).to_be_visible(timeout=90_000)
    expect(result.get_by_role("heading")).to_contain_text("Completed")
    made = {row[0] for row in cluster.nodes[1].sql("SELECT id FROM runs_run")} - before
    assert len(made) == 1, made
    row = cluster.nodes[2].sql(
        "SELECT COUNT(*), MAX(`index`) + 1, SUM(row_count), MAX(first_row + row_count), "  # noqa: S608
        "(MAX(end_s) - MIN(begin_s)) * MAX(r.rate_hz) + 1 FROM runs_tracesegment s "
        f"JOIN runs_run r ON r.id = s.run_id WHERE run_id = {made.pop()}"
    )[0]
    parts, last, rows, end = (int(float(one)) for one in row[:4])
    assert parts == last, row
    assert rows == end, row
    assert abs(rows - float(row[4])) <= 0.01 * rows, row
    return f"{rows} rows in {parts} parts"


def imports_through_a_death(demo: Application, cluster: Cluster) -> str:
    """A node is killed while logs are imported; each is a run, none is two."""
    person = Person(demo, "ilse")
    runs = person.ask("GET", "runs/?kind=steps&state=accepted")[1]["results"]
    log = str(person.ask("GET", f"runs/{runs[0]['id']}/bench-log.csv")[1]).encode()
    before = count(cluster, 2, "runs_run")
    done: Counter[int] = Counter()

    def one(number: int) -> None:
        if number == IMPORTS // 3:
            cluster.nodes[1].kill()
        own = log.replace(b"\n", f"\n# note: log {number}\n".encode(), 1)
        form, kind = form_of(
            f"log-{number}.csv", own, sample=runs[0]["sample"], propeller=runs[0]["propeller"]
        )
        done[person.insist("imports/", form=form, kind=kind)[0]] += 1

    # Three at a time, so that some are under way wherever the node dies.
    with ThreadPoolExecutor(3) as pool:
        list(pool.map(one, range(IMPORTS)))
    # One whose first try was written and not answered is told that the file is there.
    assert done[201] + done[409] == IMPORTS, (done, person.tried)
    for node in (0, 2):
        assert count(cluster, node, "runs_run") - before == IMPORTS, (node, done)
    return f"{sum(person.tried.values()) - IMPORTS} tries were not answered"


def without_a_majority(demo: Application, cluster: Cluster, page: Page) -> str:
    """Two of three are killed: nothing is read or written, people are told; then they are back."""
    person = Person(demo, "ilse")
    rows = count(cluster, 2, "motors_weighing")
    cluster.nodes[0].kill()
    cluster.nodes[1].kill()
    wait_for(lambda: cluster.nodes[2].size() == 0, 30, "a node without a majority")
    begun = time.monotonic()
    status, said = person.ask("GET", "board/")
    took = time.monotonic() - begun
    assert status == 503, (status, said)
    assert said["code"] in ("database_away", "no_majority"), said
    assert took < 12, f"{took:.1f} s"
    page.goto(f"{demo.address}/board")
    expect(page.get_by_text("database").first).to_be_visible()
    with pytest.raises(AssertionError, match="1047"):
        cluster.nodes[2].sql("SELECT COUNT(*) FROM motors_weighing")
    for node in cluster.nodes[:2]:
        node.start()
    back = cluster.wait_for(3)
    wait_for(lambda: person.ask("GET", "board/")[0] == 200, 30, "an answer")
    assert count(cluster, 0, "motors_weighing") == rows
    return f"told after {took:.1f} s; together again {back:.1f} s after they were started"


def main() -> int:
    """Run it all; 1 where something is not as it should be."""
    setup.debian_packages(("haproxy", "rsync"))
    table = Table()

    def line(what: str, do: Callable[[], object]) -> None:
        with table.asked(what) as more:
            more(do())

    with cluster_of_three() as cluster:
        os.environ[PASSWORD] = cluster.password
        options = ("--database", f"{HOST}:{cluster.port}", "--workers", "2")
        with running_demo("cluster", *options) as demo, sync_playwright() as play:
            del os.environ[PASSWORD]
            browser = play.chromium.launch(**BROWSER)
            page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
            page.goto(f"{demo.address}/login")
            page.get_by_label("Name").fill("tomas")
            page.get_by_label("Password", exact=True).fill(demo.password("tomas"))
            page.get_by_role("button", name="Log in").click()
            page.get_by_role("heading", name="Board").wait_for()
            page.goto(f"{demo.address}/bench")
            line("the demo is alike on three, table by table", lambda: alike(cluster))
            line("who wrote reads it by whichever node", lambda: read_after_write(demo, cluster))
            line(
                "writes that meet lose and double nothing", lambda: writes_that_meet(demo, cluster)
            )
            line("a node dies in mid-run", lambda: run_through_a_death(cluster, page))
            line("it rejoins", lambda: (cluster.nodes[0].start(), cluster.wait_for(3))[1])
            line("another dies in mid-import", lambda: imports_through_a_death(demo, cluster))
            line("it rejoins", lambda: (cluster.nodes[1].start(), cluster.wait_for(3))[1])
            line("alike on three, table by table", lambda: alike(cluster))
            line("without a majority", lambda: without_a_majority(demo, cluster, page))
            line("alike on three once more", lambda: alike(cluster))
            browser.close()
    return table.end()


if __name__ == "__main__":
    sys.exit(main())
