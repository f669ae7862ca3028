"""Making a pack: the same parts give the same bytes."""

from __future__ import annotations

import hashlib
import io
import json
import zipfile
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any, BinaryIO, Final

from spindle_core.formats.pack.reading import (
    CHECKSUMS_PATH,
    FORMAT,
    INDEX_PATH,
    SCHEMA_PATH,
    schema_bytes,
)

STORED: Final = (".parquet", ".jpg", ".xlsx")
"""Endings of what is packed already."""

EPOCH: Final = (1980, 1, 1, 0, 0, 0)
"""The day of every file in the archive: when it was written says nothing of what is in it."""


@dataclass(frozen=True, slots=True)
class PackedFile:
    """A file of the pack; ``what`` says what it is, for the index."""

    path: str
    data: bytes
    what: str


def write_pack(target: BinaryIO, index: Mapping[str, Any], parts: Iterable[PackedFile]) -> None:
    """Write a pack.

    :param target: where it goes, a file that can be sought. :param index: everything that the index
        says but its format and the list of files. :param parts: in the order that they are to have;
        read one after the other, so that they need not all be there at once.
    """
    listed: list[dict[str, Any]] = []
    with zipfile.ZipFile(target, "w") as packed:

        def put(path: str, data: bytes) -> str:
            info = zipfile.ZipInfo(path, EPOCH)
            info.external_attr = 0o644 << 16
            # Else it says on which system it was made.
            info.create_system = 3
            stored = path.endswith(STORED)
            info.compress_type = zipfile.ZIP_STORED if stored else zipfile.ZIP_DEFLATED
            packed.writestr(info, data, compresslevel=None if stored else 6)
            return hashlib.sha256(data).hexdigest()

        schema = PackedFile(SCHEMA_PATH, schema_bytes(), "JSON Schema of the index")
        for part in (*parts, schema):
            digest = put(part.path, part.data)
            listed.append(
                {"path": part.path, "sha256": digest, "bytes": len(part.data), "what": part.what}
            )
        whole = {"format": FORMAT, **index, "files": listed}
        text = json.dumps(whole, ensure_ascii=False, indent=1, allow_nan=False)
        own = put(INDEX_PATH, text.encode())
        lines = [*((one["path"], one["sha256"]) for one in listed), (INDEX_PATH, own)]
        put(CHECKSUMS_PATH, "".join(f"{digest}  {path}\n" for path, digest in lines).encode())


def pack_bytes(index: Mapping[str, Any], parts: Iterable[PackedFile]) -> bytes:
    """The same in memory, for a small one."""
    sink = io.BytesIO()
    write_pack(sink, index, parts)
    return sink.getvalue()
