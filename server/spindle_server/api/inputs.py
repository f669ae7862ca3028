"""What a request says, checked by a serializer."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import OpenApiParameter
from rest_framework.request import Request
from rest_framework.serializers import BaseSerializer


def typed(
    request: Request, serializer: type[BaseSerializer], row: object | None = None
) -> dict[str, Any]:
    """The body's values. Where it changes a ``row``, what is not sent stays as it is.

    :raises ValidationError: with a message beside each field at fault.
    """
    data = serializer(row, data=request.data, partial=row is not None)
    data.is_valid(raise_exception=True)
    return dict(data.validated_data)


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
    text = request.query_params.get("version", "")
    return int(text) if text.isdigit() else None
