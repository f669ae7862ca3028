"""Reads thousands of files that went wrong, and tells which of them made a reader stumble."""

from __future__ import annotations

import json
import random
import time
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path

from spindle_core.errors import CoreError
from spindle_core.formats.bench_log import BenchLog
from spindle_core.formats.foreign.dialect import read_sheet
from spindle_core.formats.foreign.proposal import preamble_facts, previews, propose, to_ask
from spindle_core.formats.foreign.reader import read_foreign
from spindle_core.formats.foreign.tables import as_text_table
from spindle_core.formats.log_files import read_log
from spindle_core.formats.result_json import reduction_to_json
from spindle_core.reduction import reduce_trace

from .corpus import CORPUS
from .mutations import mutated

WITHIN_S = 2.0
MOST_KEPT = 40
"""Files that got further than others, to begin from next."""


@dataclass
class Told:
    """How many files were read and refused, and what stumbled: (seed, place, what)."""

    read: int = 0
    refused: Counter[str] = field(default_factory=Counter)
    stumbled: list[tuple[int, str, str]] = field(default_factory=list)
    slowest_s: float = 0.0


def understood(name: str, data: bytes) -> Iterator[BenchLog]:
    """The runs in a file as the import sees them: a bench log, or a stranger's table."""
    try:
        yield read_log(name, data)
    except CoreError:
        text = as_text_table(name, data)
        sheet = read_sheet(text)
        mapping = propose(sheet)
        to_ask(mapping, previews(sheet, mapping))
        preamble_facts(sheet.preamble)
        yield from read_foreign(text, mapping)


def take(name: str, data: bytes) -> int:
    """Read and reduce everything in a file; how many runs it holds.

    :raises CoreError: the file is at fault. :raises ValueError: a result that is not finite.
    """
    runs = 0
    for log in understood(name, data):
        runs += 1
        try:
            reduction = reduce_trace(log.trace())
        except CoreError:
            continue
        json.dumps(reduction_to_json(reduction), allow_nan=False).encode()
    return runs


def file_of(suffix: str, seed: int, grown: list[bytes]) -> bytes:
    """The file of a seed."""
    rng = random.Random(f"{suffix}/{seed}")
    return mutated(rng, suffix, rng.choice([*CORPUS[suffix], *grown]))


def run(suffix: str, count: int, first: int = 0, keep: Path | None = None) -> Told:
    """Read so many files of a format that went wrong; the corpus grows by those that got far.

    :param keep: where files that made a reader stumble, or took too long, are put.
    """
    told, grown = Told(), []
    seen: set[str] = set()
    for seed in range(first, first + count):
        data = file_of(suffix, seed, grown)
        began = time.process_time()
        try:
            take(f"x{suffix}", data)
        except CoreError as error:
            told.refused[error.code] += 1
            new = error.code
        except Exception as problem:
            told.stumbled.append(
                (seed, _place(problem), f"{type(problem).__name__}: {problem}"[:160])
            )
            new = ""
            if keep is not None:
                _put(keep, f"{seed}{suffix}", data)
        else:
            told.read += 1
            new = f"read {len(data) // 512}"
        spent_s = time.process_time() - began
        told.slowest_s = max(told.slowest_s, spent_s)
        if keep is not None and spent_s > WITHIN_S:
            _put(keep, f"slow-{seed}{suffix}", data)
        if new and new not in seen and len(grown) < MOST_KEPT and len(data) < 200_000:
            seen.add(new)
            grown.append(data)
    return told


def _put(folder: Path, name: str, data: bytes) -> None:
    folder.mkdir(parents=True, exist_ok=True)
    (folder / name).write_bytes(data)


def _place(problem: Exception) -> str:
    trace = problem.__traceback__
    last = ""
    while trace is not None:
        path = trace.tb_frame.f_code.co_filename
        if "spindle_core" in path:
            last = f"{path.rpartition('spindle_core/')[2]}:{trace.tb_lineno}"
        trace = trace.tb_next
    return last
