"""What goes wrong with files: on the way, in an editor, in another program, or on purpose."""

from __future__ import annotations

import io
import json
import random
import zipfile
from collections.abc import Callable
from typing import Any

import pyarrow as pa
import pyarrow.parquet as pq

Mutation = Callable[[random.Random, bytes], bytes]

WORDS = (
    b"\r", b"\n\r", b"\x00", b"\xff\xfe", b"\xed\xa0\x80", b"\xef\xbb\xbf", b'"',
    b'""', b";", b",", b"\t",
    b"NaN", b"-inf", b"1e999", b"1e308", b"-1e308", b"1e-320", b"9" * 400, b"0x10", b"1,5",
    b"1.2.3",
    b"=1+1", b"=cmd|'/c calc'!A0", b"# format: bench-log/99\n", b"# kind: flywheel\n", b"# kind:\n",
    b"# thrust_gf_lag_s: 1e300\n", b"# inertia_kg_mm2: 1e-300\n", b"time_s", b"\xc2\xb2",
    b"\xe2\x80\x93",
    b"x" * 140_000, b'"' + b"y," * 70_000, b"\n" * 3000, b"{}", b"[]", b"null", b"true", b"-",
    b"+", b".",
    b"\\ud800", b"\\u0000", b"1900-01-00", b"24:61:61", b"12:00:00", b"2026-10-05T25:00:00Z",
)  # fmt: skip


def flip(rng: random.Random, data: bytes) -> bytes:
    """A few bytes are others."""
    made = bytearray(data)
    for _ in range(rng.choice((1, 1, 2, 8, 40))):
        made[rng.randrange(len(made))] = rng.randrange(256)
    return bytes(made)


def cut(rng: random.Random, data: bytes) -> bytes:
    """It ends too early, begins too late, or lacks a piece."""
    a, b = sorted((rng.randrange(len(data)), rng.randrange(len(data) + 1)))
    return rng.choice((data[:a], data[b:], data[:a] + data[b:]))


def repeat(rng: random.Random, data: bytes) -> bytes:
    """A piece stands twice, or elsewhere."""
    a = rng.randrange(len(data))
    piece = data[a : a + rng.randrange(1, 4000)]
    at = rng.randrange(len(data))
    return data[:at] + piece * rng.choice((1, 1, 2, 30)) + data[at:]


def word(rng: random.Random, data: bytes) -> bytes:
    """Something stands where nobody expects it, or instead of something."""
    at = rng.randrange(len(data) + 1)
    return data[:at] + rng.choice(WORDS) + data[at + rng.choice((0, 0, 1, 5)) :]


def _cells(data: bytes) -> tuple[bytes, list[bytes]]:
    separator = max((b",", b";", b"\t"), key=data.count)
    return separator, data.split(b"\n")


def cell(rng: random.Random, data: bytes) -> bytes:
    """Cells of a table are others, a column at a time."""
    separator, lines = _cells(data)
    column, what = rng.randrange(8), rng.choice(WORDS)
    share = rng.choice((0.02, 0.3, 1.0))
    for at, line in enumerate(lines):
        parts = line.split(separator)
        if column < len(parts) and rng.random() < share and at > rng.choice((0, 8)):
            parts[column] = what if len(what) < 1000 else what[:40]
            lines[at] = separator.join(parts)
    return b"\n".join(lines)


def row(rng: random.Random, data: bytes) -> bytes:
    """Rows are shuffled, doubled, all the same, or of another length."""
    separator, lines = _cells(data)
    at = rng.randrange(len(lines))
    how = rng.randrange(6)
    if how == 0:
        rng.shuffle(lines)
    elif how == 1:
        lines[at:at] = [lines[at]] * rng.choice((1, 50))
    elif how == 2:
        lines = [*lines[: at + 1], *[lines[at]] * (len(lines) - at)]
    elif how == 3:
        lines[at] = lines[at].rpartition(separator)[0]
    elif how == 4:
        lines[at] += separator + b"7"
    else:
        del lines[:at]
    return b"\n".join(lines)


NODES: tuple[Any, ...] = (
    None, True, -1, 0, 10**30, 1e308, -0.0, "", "x", "NaN", "\ud800", [], {}, [None], [[1]],
    {"a": 1},
    "9" * 5000, [1, "x"], [10**400], float("nan"), float("inf"),
)  # fmt: skip


def node(rng: random.Random, data: bytes) -> bytes:
    """A part of a JSON is something else, is gone or is nested without end."""
    try:
        found = json.loads(data)
    except (ValueError, RecursionError):
        return word(rng, data)
    if rng.random() < 0.03:
        return b'{"header":' * 5_000 + data
    place = found
    for _ in range(rng.randrange(1, 4)):
        if isinstance(place, dict) and place:
            key = rng.choice(list(place))
        elif isinstance(place, list) and place:
            key = rng.randrange(len(place))
        else:
            break
        if rng.random() < 0.5 or not isinstance(place[key], dict | list):
            if rng.random() < 0.2 and isinstance(place, dict):
                del place[key]
            else:
                place[key] = rng.choice(NODES)
            break
        place = place[key]
    return json.dumps(found).encode()


def inside(rng: random.Random, data: bytes) -> bytes:
    """A part of a packed workbook is damaged, gone or doubled; the archive around it is whole."""
    try:
        packed = zipfile.ZipFile(io.BytesIO(data))
        parts = {one.filename: packed.read(one) for one in packed.infolist()}
    except Exception:
        return flip(rng, data)
    if not parts:
        return data
    name = rng.choice(list(parts))
    how = rng.randrange(5)
    if how == 0:
        del parts[name]
    elif parts[name]:
        change = rng.choice((flip, cut, repeat, word, _tag))
        parts[name] = change(rng, parts[name])
    sink = io.BytesIO()
    with zipfile.ZipFile(sink, "w", zipfile.ZIP_DEFLATED) as written:
        for path, content in parts.items():
            written.writestr(path, content)
    return sink.getvalue()


TAGS = (
    (b't="n"', b't="b"'), (b't="n"', b't="e"'), (b't="n"', b't="s"'), (b't="n"', b't="d"'),
    (b"<v>", b"<v>1e999"), (b"<v>", b"<v>x"), (b"<v>", b"<v></v><v>"),
    (b'r="A1"', b'r="XFE99999999"'),
    (b"<f>", b"<f>="), (b"<row ", b'<row r="0" '), (b"<sheetData>", b"<sheetData/><sheetData>"),
    (b'count="', b'count="-'), (b"utf-8", b"utf-16"), (b"<si>", b"<si><r>"),
    (b'r="B2"', b'r="B0"'),
    (b"<?xml", b'<!DOCTYPE x [<!ENTITY a "aaaa">]><?xml'), (b'sheetId="1"', b'sheetId="x"'),
    (b'<c r="A2"', b'<c r="2A"'), (b"Override", b"Overide"), (b'Id="rId1"', b'Id="rId9"'),
)  # fmt: skip


def _tag(rng: random.Random, data: bytes) -> bytes:
    old, new = rng.choice(TAGS)
    return data.replace(old, new, rng.choice((1, 1_000_000)))


def table(rng: random.Random, data: bytes) -> bytes:
    """A Parquet file that is whole and holds something else: types, names, metadata, nothing."""
    try:
        found = pq.read_table(io.BytesIO(data))
        names = found.column_names
    except Exception:
        return flip(rng, data)
    if not names:
        return data
    at, size = rng.randrange(len(names)), found.num_rows
    odd = rng.choice(
        (
            lambda: pa.array(["x"] * size),
            lambda: pa.array([b"\xff"] * size, pa.binary()),
            lambda: pa.array([[1.0]] * size),
            lambda: pa.array([{"a": 1}] * size),
            lambda: pa.array([None] * size, pa.null()),
            lambda: pa.array([1e308] * size),
            lambda: pa.array([float("nan")] * size),
            lambda: pa.array([2**62] * size),
            lambda: pa.array([0] * size, pa.timestamp("ns")),
            lambda: pa.array([0] * size, pa.duration("s")),
            lambda: pa.array(["1"] * size).dictionary_encode(),
            lambda: pa.array([True] * size),
        )
    )()
    how = rng.randrange(6)
    if how == 0:
        found = found.append_column(names[at], odd)
    elif how == 1:
        found = found.set_column(at, rng.choice((names[at], "time_s", "", "\u00e9" * 300)), odd)
    elif how == 2:
        found = found.slice(0, rng.choice((0, 1, 2)))
    elif how == 3:
        found = found.select(names[:at])
    elif how == 4:
        said = rng.choice((b"", b"{", b"[]", b"null", b'{"format": 1}', b'{"header": []}',
                           b'{"header": {"kind": 5}}', b"\xff"))  # fmt: skip
        found = found.replace_schema_metadata({b"bench-log": said})
    else:
        found = found.set_column(at, names[at], odd)
    sink = io.BytesIO()
    try:
        pq.write_table(found, sink)
    except pa.ArrowException:
        return flip(rng, data)
    return sink.getvalue()


OF_ANY: tuple[Mutation, ...] = (flip, cut, repeat, word)
OF: dict[str, tuple[Mutation, ...]] = {
    ".csv": (*OF_ANY, cell, cell, row, row),
    ".json": (*OF_ANY, node, node, node, node),
    ".parquet": (flip, cut, table, table, table),
    ".xlsx": (flip, cut, inside, inside, inside, inside),
}


def mutated(rng: random.Random, suffix: str, data: bytes) -> bytes:
    """The file after one or several things went wrong with it."""
    for _ in range(rng.choice((1, 1, 1, 2, 4))):
        if data:
            data = rng.choice(OF[suffix])(rng, data)
    return data
