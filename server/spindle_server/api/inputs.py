"""What a request says, checked by a serializer."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any

from drf_spectacular.utils import OpenApiParameter
from rest_framework.request import Request
from rest_framework.serializers import BaseSerializer, ListSerializer, Serializer, ValidationError


def typed(
    request: Request, serializer: type[BaseSerializer], row: object | None = None
) -> dict[str, Any]:
    """The body's values. Where it changes a ``row``, what is not sent stays as it is.

    :raises ValidationError: with a message beside each field at fault.
    """
    data = serializer(row, data=request.data, partial=row is not None)
    refuse_unknown(data, request.data)
    data.is_valid(raise_exception=True)
    return dict(data.validated_data)


def refuse_unknown(serializer: Any, sent: Any) -> None:
    """What a write does not know is refused, not dropped in silence.

    :raises ValidationError: with the name of each field that there is not.
    """
    strange = list(_unknown(serializer, sent, ""))
    if strange:
        raise ValidationError({name: ["This is not known here."] for name in strange})


def _unknown(serializer: Any, sent: Any, path: str) -> Iterator[str]:
    if isinstance(serializer, ListSerializer):
        for at, one in enumerate(sent if isinstance(sent, list) else ()):
            yield from _unknown(serializer.child, one, f"{path}{at}.")
    elif isinstance(serializer, Serializer) and isinstance(sent, Mapping):
        fields = serializer.fields
        for name in sent:
            # What is only read is sent back by whoever changes a row that they read.
            if name not in fields:
                yield f"{path}{name}"
            else:
                yield from _unknown(fields[name], sent[name], f"{path}{name}.")


DIGITS = 18
"""More than any number of a row has."""


def whole(text: str) -> int | None:
    """A number of a row from an address; None where the text is none, such as "²"."""
    return int(text) if text.isascii() and text.isdigit() and len(text) <= DIGITS else None


def typed_from(
    request: Request, serializer: type[BaseSerializer], row: object | None = None
) -> tuple[dict[str, Any], int | None]:
    """The body's values, and the version they were made from (None: it names none)."""
    values = typed(request, serializer, row)
    return values, values.pop("version", None)


def asked(request: Request, serializer: type[BaseSerializer]) -> dict[str, Any]:
    """The values of the address's query.

    :raises ValidationError: with a message beside each field at fault.
    """
    data = serializer(data=request.query_params)
    data.is_valid(raise_exception=True)
    return dict(data.validated_data)


VERSION = OpenApiParameter("version", int, description="The version that was read.")


def asked_version(request: Request) -> int | None:
    """The version named in the address's query, for writes without a body."""
    return whole(request.query_params.get("version", ""))
