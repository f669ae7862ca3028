"""Bodies of requests as JSON that the core takes, or refused."""

from __future__ import annotations

from typing import Any

from rest_framework.exceptions import ParseError
from rest_framework.parsers import JSONParser

from spindle_core.formats.strict_json import JsonFaultError, strict_json


class Json(JSONParser):
    """Bodies of requests."""

    def parse(self, stream: Any, media_type: str | None = None, parser_context: Any = None) -> Any:
        """The body's value.

        :raises ParseError: it is no JSON that this takes.
        """
        try:
            return strict_json(stream.read())
        except JsonFaultError as error:
            raise ParseError(f"The body is no JSON: {error}.") from error
