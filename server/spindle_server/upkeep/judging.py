"""What is amiss with an installation, in sentences; no database and no files."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any

UNSEEN_AFTER_S = 60.0
"""The launcher looks around every quarter of a minute."""

OFTEN = 3
CLOCKS_APART_S = 2.0

ACT, NOTE = "act", "note"


@dataclass(frozen=True, slots=True)
class Finding:
    """Something amiss. ``level``: ``act`` where something has to be done, ``note`` where it may."""

    level: str
    about: str
    sentence: str


def findings(
    seen: Mapping[str, Any] | None,
    bench: Mapping[str, Any] | None,
    now: datetime,
    database_ahead_s: float,
    copy: str = "",
) -> list[Finding]:
    """Everything amiss, what has to be done first.

    :param seen: what the launcher saw (``upkeep.json``); None where it left nothing.
    :param bench: what the bench holds; None where the agent does not answer.
    :param now: the time of this process, aware.
    :param copy: what is amiss with the copy for reading.
    """
    found: list[Finding] = []
    if seen is None:
        found.append(
            Finding(
                NOTE,
                "launcher",
                "Nobody looks after disk, logs and daily backups: that does ./spindle start, "
                "which was not what started this.",
            )
        )
    else:
        found += [*_launcher(seen, now), *_parts(seen), *_room(seen), *_backups(seen)]
    found += _bench(bench)
    if abs(database_ahead_s) > CLOCKS_APART_S:
        side = "ahead of" if database_ahead_s > 0 else "behind"
        found.append(
            Finding(
                ACT,
                "clock",
                f"The database's clock is {abs(database_ahead_s):.0f} s {side} the web process's: "
                "they are two machines, or one whose clock was just set.",
            )
        )
    if copy:
        said = f"The copy for reading {copy}; pages are read from the database itself meanwhile."
        found.append(Finding(ACT, "reading copy", said))
    return sorted(found, key=lambda one: one.level != ACT)


def _launcher(seen: Mapping[str, Any], now: datetime) -> list[Finding]:
    ago = (now - datetime.fromisoformat(seen["at"])).total_seconds()
    if abs(ago) <= UNSEEN_AFTER_S:
        return []
    if ago < 0:
        said = "in the future: the clock of this machine was set back since"
    else:
        said = f"{_ago(ago)} ago, though it looks every quarter of a minute: it may hang"
    return [Finding(ACT, "launcher", f"The launcher last looked around {said}.")]


def _ago(seconds: float) -> str:
    if seconds < 120:
        return f"{seconds:.0f} s"
    return f"{seconds / 60:.0f} min" if seconds < 7200 else f"{seconds / 3600:.0f} h"


def _parts(seen: Mapping[str, Any]) -> list[Finding]:
    found = []
    for part in seen["parts"]:
        name, silent = part["name"], part["silent_s"]
        if not part["answers"]:
            since = "" if silent is None else f" for {silent:.0f} s"
            what = "has not answered" if part["running"] else "has not been running"
            found.append(Finding(ACT, name, f"The {name} {what}{since}."))
        if part["restarts"] >= OFTEN:
            found.append(
                Finding(
                    NOTE,
                    name,
                    f"The {name} was started again {part['restarts']} times since the launcher "
                    "began; its log says why.",
                )
            )
    return found


def _room(seen: Mapping[str, Any]) -> list[Finding]:
    disk = seen["disk"]
    if disk["free_bytes"] >= disk["least_bytes"]:
        return []
    return [
        Finding(
            ACT,
            "disk",
            f"Only {disk['free_bytes'] / 1e9:.1f} GB of {disk['total_bytes'] / 1e9:.0f} GB are "
            "free: make room before runs, photos and backups find none.",
        )
    ]


def _backups(seen: Mapping[str, Any]) -> list[Finding]:
    kept = seen["backups"]
    if kept["amiss"]:
        return [Finding(ACT, "backups", kept["amiss"])]
    if kept["to"]:
        same = "The daily backups lie on the disk of the record itself: one that fails takes both."
        return [Finding(NOTE, "backups", same)] if kept["same_disk"] else []
    if kept["last"] is None:
        return [
            Finding(
                ACT,
                "backups",
                "Nothing was ever backed up: one disk that fails takes everything with it.",
            )
        ]
    return [Finding(NOTE, "backups", "Nothing is backed up by itself; the last one was by hand.")]


def _bench(bench: Mapping[str, Any] | None) -> list[Finding]:
    if bench is None:
        return [Finding(ACT, "bench", "The bench agent does not answer: nothing can be run.")]
    found = []
    waiting, aside = bench["waiting_runs"], bench["aside"]
    if bench["delivery_problem"]:
        runs = f"{waiting} run{'' if waiting == 1 else 's'}"
        found.append(
            Finding(
                ACT, "bench", f"{runs} cannot be brought to the record: {bench['delivery_problem']}"
            )
        )
    if aside:
        runs = "1 run lies" if aside == 1 else f"{aside} runs lie"
        found.append(
            Finding(ACT, "bench", f"{runs} aside, whole on disk but not on record; see the Bench.")
        )
    return found
