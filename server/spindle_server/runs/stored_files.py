"""Files that imported runs came from: large ones in parts, none of them held whole."""

from __future__ import annotations

import gzip
import hashlib
from collections.abc import Iterator

import pyarrow as pa
from django.db.models import Sum

from spindle_server.errors import ConflictError, ServiceError
from spindle_server.runs.models import SourceFile, StoredFile, StoredPart

PART_BYTES = 8_000_000
"""A part has so many bytes, but the last."""

_ZSTD = pa.Codec("zstd", compression_level=1)


def parts_of(size: int) -> int:
    """How many parts a file of ``size`` bytes comes in."""
    return -(-size // PART_BYTES)


def keep_part(file: StoredFile, index: int, data: bytes) -> None:
    """Keep one part. The same again changes nothing.

    :raises ServiceError: there is no such part, or it has another size.
    :raises ConflictError: another part of this number is here.
    """
    parts = parts_of(file.size)
    if not 0 <= index < parts:
        raise ServiceError(f"The file has {parts} parts, from 0 on.", code="no_such_part")
    expected = PART_BYTES if index < parts - 1 else file.size - index * PART_BYTES
    if len(data) != expected:
        raise ServiceError(
            f"Part {index} has {len(data):,} bytes; it should have {expected:,}.", code="part_size"
        )
    digest = hashlib.sha256(data).hexdigest()
    part, new = StoredPart.objects.get_or_create(
        file=file,
        index=index,
        defaults={"size": len(data), "digest": digest, "zstd": bytes(_ZSTD.compress(data))},
    )
    if not new and part.digest != digest:
        raise ConflictError(
            f"Another part {index} of this file is here; it is not the file that it was. Drop what "
            "came so far, and begin again.",
            code="another_part",
        )


def bytes_here(file: StoredFile) -> int:
    """How much of a file has come."""
    return file.parts.aggregate(size=Sum("size"))["size"] or 0


def pieces_of(file: StoredFile) -> Iterator[bytes]:
    """A file's bytes, part by part.

    :raises ServiceError: a part is not what it was.
    """
    for index in range(parts_of(file.size)):
        part = StoredPart.objects.filter(file=file, index=index).first()
        data = b"" if part is None else _unpacked(part)
        if part is None or hashlib.sha256(data).hexdigest() != part.digest:
            raise ServiceError(f"Part {index} of the file is gone or damaged.", code="part_gone")
        yield data


def _unpacked(part: StoredPart) -> bytes:
    try:
        return bytes(_ZSTD.decompress(part.zstd, part.size, asbytes=True))
    except OSError:
        # Not what was packed; its digest tells.
        return b""


def source_pieces(source: SourceFile) -> Iterator[bytes]:
    """The file a run came from, byte for byte, in pieces."""
    if source.stored is None:
        yield gzip.decompress(bytes(source.gzip))
    else:
        yield from pieces_of(source.stored)
