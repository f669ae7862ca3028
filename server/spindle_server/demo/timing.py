"""How long every answer takes at the size that is in the database, and how that grows with it."""

from __future__ import annotations

import json
import statistics
import time
from collections.abc import Callable
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Any

from django.core.cache import cache
from django.db import connection
from rest_framework.test import APIClient

from spindle_server.accounts.models import Role, User
from spindle_server.demo.asked import ASKED, Picks, words_of
from spindle_server.garbage import settle
from spindle_server.runs.models import Run
from spindle_server.runs.ran import read_ahead

Say = Callable[[str], None]

RULER = "claim-quantities/"
"""Reads nothing of the record."""

BUDGET_MS = 150.0
COLD_MS = 1000.0
MOST_GROWTH = 1.5
NOTHING_MS = 10.0
"""Growth of what takes less is not judged: it is the machine's."""

COLD = (
    ("ranking", "rank/", ""),
    ("match", "craft/{craft}/match/", ""),
    ("comparison of many", "compare/", "by=model&runs={most_runs}"),
    ("the whole bench", "compare/bench/", ""),
    ("mass and money", "compare/mass/", ""),
)
"""Judgements whose first answer, with nothing kept, is timed too."""


@dataclass(frozen=True, slots=True)
class Timed:
    """One row of the table: milliseconds, and the fewest and most queries of a request.

    ``database_ms``: what the database takes for the same questions, with the way there and back.
    ``ruler_ms``: what an answer took in the same minute that reads nothing of the record. A machine
    that others are at is slower by the minute; growth is told against it.
    """

    median_ms: float
    p95_ms: float
    fewest: int
    most: int
    ruler_ms: float
    database_ms: float = 0.0


@dataclass(frozen=True, slots=True)
class _Asked:
    """One request."""

    took_ms: float
    queries: int
    database_ms: float


def time_all(
    say: Say,
    *,
    rounds: int = 30,
    number: int = 3,
    keep: Path | None = None,
    against: Path | None = None,
) -> dict[str, Timed]:
    """Ask everything ``rounds`` times, for other rows each time; the first time is not counted.

    :param keep: file to keep the table in. :param against: one that was kept at a smaller size;
        what grew by more than :data:`MOST_GROWTH` since, or makes more queries, is said.
    """
    picks = Picks(number)
    if len(picks.samples) < 4 or not picks.runs:
        say("Nothing to time: the record is empty.")
        return {}
    # As the web process does when it starts.
    began = time.perf_counter()
    runs = read_ahead()
    say(f"  {runs} runs read ahead in {1000.0 * (time.perf_counter() - began):.0f} ms")
    settle()
    client = APIClient(SERVER_NAME="127.0.0.1")
    client.force_authenticate(User(username="timing", role=Role.ADMINISTRATOR))
    for words, address, query in COLD:
        for when in ("the first of a process", "after a write"):
            # A write empties nothing; it makes everything that is kept that of an earlier record.
            cache.clear()
            took = _ask(client, picks, address, query, say).took_ms
            say(f"  {words}, {when}: {took:.0f} ms{_over(took, COLD_MS)}")
    before = _kept(against)
    say(
        f"{len(picks.motors)} motors, {len(picks.samples)} samples, {Run.objects.count()} runs, "
        f"{rounds} requests each; budget p95 {BUDGET_MS:g} ms"
    )
    found: dict[str, Timed] = {}
    for address, queries in ASKED.items():
        for query in queries:
            words = words_of(address, query)
            found[words] = _time(client, picks, address, query, rounds, say)
            say(_line(words, found[words], before.get(words)))
    over = [words for words, one in found.items() if one.p95_ms > BUDGET_MS]
    say(f"{len(found) - len(over)} of {len(found)} within the budget")
    if keep is not None:
        keep.write_text(json.dumps({words: asdict(one) for words, one in found.items()}, indent=1))
    return found


def _time(
    client: APIClient, picks: Picks, address: str, query: str, rounds: int, say: Say
) -> Timed:
    _ask(client, picks, address, query, say)
    asked, ruler = [], []
    for _ in range(rounds):
        asked.append(_ask(client, picks, address, query, say))
        ruler.append(_ask(client, picks, RULER, "", say).took_ms)
    took = sorted(one.took_ms for one in asked)
    counts = [one.queries for one in asked]
    at = min(rounds - 1, round(0.95 * rounds))
    return Timed(
        statistics.median(took),
        took[at],
        min(counts),
        max(counts),
        statistics.median(ruler),
        statistics.median(one.database_ms for one in asked),
    )


def _ask(client: APIClient, picks: Picks, address: str, query: str, say: Say) -> _Asked:
    """One request, with what the database took of it."""
    asked_s: list[float] = []

    def timed(execute: Callable[..., Any], *question: Any) -> Any:
        began = time.perf_counter()
        try:
            return execute(*question)
        finally:
            asked_s.append(time.perf_counter() - began)

    names = picks.one()
    path = (address if address.startswith("/") else f"/api/v1/{address}").format(**names)
    if query:
        path += "?" + query.format(**names)
    with connection.execute_wrapper(timed):
        began = time.perf_counter()
        answer = client.get(path)
        if answer.streaming:
            for _ in answer.streaming_content:  # type: ignore[attr-defined]
                pass
        took = 1000.0 * (time.perf_counter() - began)
    if answer.status_code != 200:
        say(f"{path}: status {answer.status_code}")
    return _Asked(took, len(asked_s), 1000.0 * sum(asked_s))


def _kept(path: Path | None) -> dict[str, Timed]:
    if path is None or not path.exists():
        return {}
    return {words: Timed(**row) for words, row in json.loads(path.read_text()).items()}


def _line(words: str, one: Timed, before: Timed | None) -> str:
    counts = f"{one.fewest}" if one.fewest == one.most else f"{one.fewest} to {one.most}"
    line = (
        f"  {words:<64} median {one.median_ms:6.1f} ms   p95 {one.p95_ms:6.1f} ms   "
        f"{counts} queries of {one.database_ms:.1f} ms{_over(one.p95_ms, BUDGET_MS)}"
    )
    if before is None:
        return line
    times = one.median_ms / one.ruler_ms / (before.median_ms / before.ruler_ms)
    line += f"   {times:.2f} ×"
    if times > MOST_GROWTH and one.median_ms > NOTHING_MS:
        line += "   grows"
    if one.most > before.most:
        line += f"   more queries than {before.most}"
    return line


def _over(took_ms: float, budget_ms: float) -> str:
    return "" if took_ms <= budget_ms else "   over the budget"
