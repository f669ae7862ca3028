"""The files of a pack, one after the other."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterable, Iterator, Mapping
from typing import Any

from spindle_core.formats.bench_log import BenchLog, write_bench_log
from spindle_core.formats.bench_log_parquet import write_bench_log_parquet
from spindle_core.formats.pack.about import readme
from spindle_core.formats.pack.tables import Results, table_csv, table_parquet, tables_of, workbook
from spindle_core.formats.pack.writing import PackedFile


def log_path(number: int) -> str:
    """Where the log of a run lies."""
    return f"logs/run-{number}.csv"


def result_path(number: int) -> str:
    """Where its result lies."""
    return f"results/run-{number}.json"


def parts_of(
    index: Mapping[str, Any],
    results: Results,
    log_of: Callable[[int], BenchLog],
    *,
    verdict: Mapping[str, Any],
    verdict_text: str,
    photos: Iterable[tuple[str, bytes]] = (),
) -> Iterator[PackedFile]:
    """Every file but the index, its schema and the checksums.

    :param log_of: the log of a run by its number; asked for one after the other.
    :param verdict: what the bench says, as JSON data; ``verdict_text`` the same to read.
    :param photos: path, as the index lists it, and bytes.
    """
    tables = tables_of(index, results)
    yield PackedFile("README.md", readme(index, tables).encode(), "What this is and how to read it")
    yield PackedFile("verdict.txt", verdict_text.encode(), "What the bench says, to read")
    yield PackedFile("verdict.json", _json(verdict), "What the bench says, with its figures")
    for table in tables:
        yield PackedFile(f"{table.name}.csv", table_csv(table), table.what)
        yield PackedFile(f"{table.name}.parquet", table_parquet(table), table.what)
    yield PackedFile("tables.xlsx", workbook(tables), "The tables as sheets of a workbook")
    for run in index["runs"]:
        number = run["number"]
        yield PackedFile(result_path(number), _json(results[number]), f"Result of run {number}")
    for run in index["runs"]:
        number = run["number"]
        log = log_of(number)
        text = write_bench_log(log.header, log.time_s, log.channels, log.extra)
        path = log_path(number)
        yield PackedFile(path, text, f"Log of run {number}")
        columns = path.replace(".csv", ".parquet")
        yield PackedFile(columns, write_bench_log_parquet(log), f"Log of run {number}, in columns")
    for path, data in photos:
        yield PackedFile(path, data, "Photo")


def _json(data: Mapping[str, Any]) -> bytes:
    return json.dumps(data, ensure_ascii=False, indent=1, allow_nan=False).encode()
