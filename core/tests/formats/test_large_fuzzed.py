"""Thousands of damaged files read block by block: what is read whole is read the same, and what is
refused whole is refused."""

import os

import numpy as np
import pytest

from spindle_core.errors import CoreError
from spindle_core.formats.foreign.dialect import read_sheet
from spindle_core.formats.foreign.proposal import propose
from spindle_core.formats.foreign.reader import foreign_rows
from spindle_core.formats.large_log import (
    OneRun,
    line_blocks,
    log_block,
    log_head,
    parquet_block,
    parquet_shape,
)
from spindle_core.formats.log_files import read_log

from ..fuzzing.running import file_of

EACH = int(os.environ.get("SPINDLE_FUZZ", "300"))


STRICTER = ("long_line", "not_text")
"""A row that fills a block of 1,500 bytes, and zero bytes further on than a small file is looked
at for them."""


def in_blocks(data, mapping=None):
    """A text log read in many blocks; None where it is refused, no samples where a block has to be
    stricter than a file."""
    run, parts = OneRun(50), []
    try:
        head = log_head(data + b"\n", mapping)
        pieces = [data[at : at + 700] for at in range(0, len(data), 700)]
        for block, line in line_blocks(pieces, head, 1500):
            parts += run.take(log_block(head, block, line, mapping), line)
    except CoreError as error:
        return [] if error.code in STRICTER else None
    rest = run.rest()
    return parts + ([rest] if rest else [])


def at_once(read, *of):
    try:
        return read(*of)
    except CoreError:
        return None


def same(whole, parts):
    if whole is None or whole.kind == "readings" or whole.time_s.size == 0:
        return not parts
    if np.isinf(np.concatenate([whole.time_s, *whole.channels.values()])).any():
        return parts is None
    if not parts:
        return parts is not None
    time = np.concatenate([part.time_s for part in parts])
    return np.array_equal(time, whole.time_s) and all(
        np.array_equal(
            np.concatenate([part.channels[name] for part in parts]), values, equal_nan=True
        )
        for name, values in whole.channels.items()
    )


def differing(seeds):
    found = []
    for seed in seeds:
        data = file_of(".csv", seed, [])
        whole = at_once(read_log, "x.csv", data)
        if not same(whole, in_blocks(data)):
            found.append(seed)
    return found


def test_a_damaged_bench_log_is_read_alike():
    assert differing(range(EACH)) == []


def test_a_damaged_strangers_file_is_read_alike():
    found = []
    for seed in range(EACH):
        data = file_of(".csv", seed, [])
        try:
            mapping = propose(read_sheet(data))
        except CoreError:
            continue
        whole = at_once(foreign_rows, data, mapping)
        if not same(whole, in_blocks(data, mapping)):
            found.append(seed)
    assert found == []


@pytest.mark.filterwarnings("ignore")
def test_no_damaged_parquet_makes_the_reader_of_groups_stumble(tmp_path):
    read = 0
    path = tmp_path / "x.parquet"
    for seed in range(EACH):
        data = file_of(".parquet", seed, [])
        path.write_bytes(data)
        whole = at_once(read_log, "x.parquet", data)
        try:
            shape = parquet_shape(len(data), data)
            run, parts = OneRun(50), []
            for group, rows in enumerate(shape.group_rows):
                if rows:
                    parts += run.take(parquet_block(str(path), group), group)
            rest = run.rest()
            parts += [rest] if rest else []
        except CoreError:
            parts = None
        if parts:
            read += 1
            # What is only told of the whole (its extra columns) may refuse it there.
            assert whole is None or same(whole, parts), seed
    assert read > 0.02 * EACH
