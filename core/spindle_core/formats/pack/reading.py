"""Reading a pack that came from elsewhere: nothing in it is believed that was not checked."""

from __future__ import annotations

import hashlib
import io
import json
import math
import zipfile
import zlib
from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from importlib import resources
from pathlib import PurePosixPath
from typing import Any, Final, NoReturn

from spindle_core.errors import LogFormatError
from spindle_core.formats.bench_log import BenchLog, read_bench_log
from spindle_core.formats.pack.errors import PackError

FORMAT: Final = "bench-pack/1"
INDEX_PATH: Final = "pack.json"
SCHEMA_PATH: Final = "bench-pack-1.schema.json"
CHECKSUMS_PATH: Final = "checksums.sha256"

MOST_FILES: Final = 5_000
LARGEST_EXPANDED_BYTES: Final = 800_000_000
LARGEST_INDEX_BYTES: Final = 20_000_000
LONGEST_WHOLE: Final = 15


@lru_cache(maxsize=1)
def schema_bytes() -> bytes:
    """The published schema of the index (JSON Schema 2020-12), as it lies in every pack."""
    return resources.files(__package__).joinpath(SCHEMA_PATH).read_bytes()


@dataclass(frozen=True, slots=True)
class DataPack:
    """A pack that was checked: its index, and the bytes of the files that the index lists."""

    index: Mapping[str, Any]
    _data: bytes

    @property
    def size_bytes(self) -> int:
        """Of the archive."""
        return len(self._data)

    def read(self, path: str) -> bytes:
        """The bytes of a listed file, which are those that its checksum stands for.

        :raises PackError: it is not listed, is not there or is not what was packed.
        """
        listed = next((one for one in self.index["files"] if one["path"] == path), None)
        if listed is None:
            raise PackError("it is not in the list of files", code="not_listed", where=path)
        with _opened(self._data) as packed:
            data = _read(packed, path)
        _check(listed, data)
        return data

    def log(self, run: Mapping[str, Any]) -> BenchLog:
        """The bench log of one of the index's runs.

        :raises PackError: it cannot be read as one.
        """
        path = run["log"]
        try:
            return read_bench_log(self.read(path))
        except LogFormatError as error:
            raise PackError(error.describe(path), code="bad_log") from error


def read_pack(data: bytes) -> DataPack:
    """Check a pack whole: the archive, the index against its schema, every checksum.

    :raises PackError: with where in it and what was expected.
    """
    with _opened(data) as packed:
        names = _checked_names(packed)
        if INDEX_PATH not in names:
            raise PackError(
                "there is no index", code="no_index", where=INDEX_PATH, expected="a data pack"
            )
        index = _index(_read(packed, INDEX_PATH))
        _check_references(index)
        for listed in index["files"]:
            _check(listed, _read(packed, listed["path"]))
    return DataPack(index, data)


def _opened(data: bytes) -> zipfile.ZipFile:
    try:
        return zipfile.ZipFile(io.BytesIO(data))
    except (zipfile.BadZipFile, ValueError, OSError) as error:
        raise PackError(
            "this is no ZIP archive, or it is not whole", code="not_zip", expected="a data pack"
        ) from error


def _checked_names(packed: zipfile.ZipFile) -> set[str]:
    listed = packed.infolist()
    # Of a pack that was cut short, a workbook in it may be taken for the whole archive.
    if min((one.header_offset for one in listed), default=0) != 0:
        raise PackError(
            "this archive is not whole, or something stands before it",
            code="not_zip",
            expected="a data pack",
        )
    if len(listed) > MOST_FILES:
        raise PackError(
            f"it holds {len(listed)} files", code="too_many", expected=f"at most {MOST_FILES}"
        )
    if sum(one.file_size for one in listed) > LARGEST_EXPANDED_BYTES:
        raise PackError(
            "it unpacks to too much",
            code="too_large",
            expected=f"at most {LARGEST_EXPANDED_BYTES / 1e6:.0f} MB",
        )
    names: set[str] = set()
    for one in listed:
        path = PurePosixPath(one.filename)
        if path.is_absolute() or ".." in path.parts or "\\" in one.filename:
            raise PackError("this path leaves the pack", code="bad_path", where=one.filename[:80])
        if one.filename in names:
            raise PackError("this file is there twice", code="twice", where=one.filename[:80])
        names.add(one.filename)
    return names


def _read(packed: zipfile.ZipFile, path: str) -> bytes:
    try:
        info = packed.getinfo(path)
    except KeyError:
        raise PackError("it is listed and is not there", code="missing", where=path) from None
    try:
        with packed.open(info) as file:
            # One byte more than it says it has: a lie about the size does not fill the memory.
            data = file.read(info.file_size + 1)
    except (zipfile.BadZipFile, zlib.error, RuntimeError, NotImplementedError, EOFError) as error:
        raise PackError("it cannot be unpacked", code="damaged", where=path) from error
    if len(data) != info.file_size:
        raise PackError("it is not as long as it says", code="damaged", where=path)
    return data


def _check(listed: Mapping[str, Any], data: bytes) -> None:
    if hashlib.sha256(data).hexdigest() != listed["sha256"] or len(data) != listed["bytes"]:
        raise PackError(
            "its checksum is another than the index says; it was changed after it was packed",
            code="checksum",
            where=listed["path"],
        )


def _no_constant(text: str) -> NoReturn:
    raise ValueError(f"{text} is no number")


def _finite(text: str) -> float:
    """A number that a float holds: ``1e999`` would be read as infinite."""
    value = float(text)
    if not math.isfinite(value):
        raise ValueError(f"{text[:20]} is no finite number")
    return value


def _whole(text: str) -> int:
    if len(text) > LONGEST_WHOLE:
        raise ValueError(f"{text[:20]}… is too large a number")
    return int(text)


def _index(data: bytes) -> dict[str, Any]:
    if len(data) > LARGEST_INDEX_BYTES:
        raise PackError(f"{len(data)} bytes are too many", code="too_large", where=INDEX_PATH)
    try:
        index = json.loads(data, parse_constant=_no_constant, parse_float=_finite, parse_int=_whole)
    except (ValueError, RecursionError) as error:
        raise PackError(f"it is no JSON: {error}", code="not_json", where=INDEX_PATH) from error
    declared = index.get("format") if isinstance(index, dict) else None
    if declared != FORMAT:
        raise PackError(
            f"format {declared!r} is not known here",
            code="unknown_format",
            where=INDEX_PATH,
            expected=FORMAT,
        )
    # The validator takes longer to import than a log to reduce.
    from jsonschema import Draft202012Validator

    validator = Draft202012Validator(json.loads(schema_bytes()))
    fault = next(iter(validator.iter_errors(index)), None)
    if fault is not None:
        place = "/".join(str(part) for part in fault.absolute_path) or "at its top"
        raise PackError(
            f"{place}: {fault.message[:160]}",
            code="schema",
            where=INDEX_PATH,
            expected="what its schema asks for",
        )
    assert isinstance(index, dict)
    return index


def _check_references(index: Mapping[str, Any]) -> None:
    """What the schema cannot say: that what is referred to is there, and once."""
    files = [one["path"] for one in index["files"]]
    keys = {
        name: [one["key"] for one in index[name]] for name in ("motors", "propellers", "stands")
    }
    numbers = [run["number"] for run in index["runs"]]
    for what, found in (("files", files), *keys.items(), ("runs", numbers)):
        if len(set(found)) < len(found):
            raise PackError(f"{what} are listed twice", code="twice", where=INDEX_PATH)
    samples = {
        (motor["key"], sample["mark"]) for motor in index["motors"] for sample in motor["samples"]
    }
    for at, run in enumerate(index["runs"]):
        missing = [
            f"{name} {run[one]!r}"
            for one, name in (("propeller", "propellers"), ("stand", "stands"))
            if run[one] is not None and run[one] not in keys[name]
        ]
        if (run["motor"], run["sample"]) not in samples:
            missing.append(f"sample {run['sample']!r} of {run['motor']!r}")
        missing += [f"file {run[one]!r}" for one in ("log", "result") if run[one] not in files]
        if missing:
            raise PackError(
                f"runs/{at} refers to {missing[0]}, which is not in it",
                code="reference",
                where=INDEX_PATH,
            )
