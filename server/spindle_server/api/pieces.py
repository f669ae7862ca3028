"""Answers that are sent as they are made, and are never in memory whole."""

from __future__ import annotations

from collections.abc import AsyncIterator, Iterator
from typing import Any

from asgiref.sync import sync_to_async
from django.http import StreamingHttpResponse

_NO_MORE = object()


class PiecesResponse(StreamingHttpResponse):
    """Pieces from an ordinary iterator. Django's own class collects them all before it sends the
    first when the server is an asynchronous one."""

    async def __aiter__(self) -> AsyncIterator[Any]:
        """One piece after the other, each made where the request's own work is done."""
        pieces: Iterator[Any] = iter(self)

        def following() -> Any:
            return next(pieces, _NO_MORE)

        while (piece := await sync_to_async(following)()) is not _NO_MORE:
            yield piece
