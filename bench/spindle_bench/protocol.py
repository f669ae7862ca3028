"""The stand's line protocol, version 1: newline-delimited JSON (docs/stand-protocol.md)."""

from __future__ import annotations

import json
from typing import Any, Final

from spindle_bench.errors import ProtocolError

VERSION: Final = "stand/1"
HEARTBEAT_LIMIT_S: Final = 0.300
"""An armed stand that hears nothing for this long cuts the throttle by itself."""

LONGEST_LINE: Final = 1_000_000

Message = dict[str, Any]


def encode(message: Message) -> bytes:
    """One message as a line. Missing readings are null, never NaN."""
    return json.dumps(message, separators=(",", ":"), allow_nan=False).encode() + b"\n"


def decode(line: bytes) -> Message:
    """One line as a message.

    :raises ProtocolError: not a JSON object with a ``type``.
    """
    if len(line) > LONGEST_LINE:
        raise ProtocolError("A line of the stand protocol is too long.")
    try:
        message = json.loads(line)
    except ValueError as error:
        raise ProtocolError(f"Not a JSON line: {line[:80]!r}.") from error
    if not isinstance(message, dict) or not isinstance(message.get("type"), str):
        raise ProtocolError("A message is a JSON object with a 'type'.")
    return message
