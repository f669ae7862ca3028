"""The stand's line protocol, version 1: newline-delimited JSON (docs/stand-protocol.md).

What comes from a stand is checked here, before anything believes it: a line that is no JSON
object, a number that is not finite, a row that is a cell short.
"""

from __future__ import annotations

import json
import math
from collections.abc import Mapping
from typing import Any, Final, NoReturn, TypeGuard

from spindle_bench.errors import ProtocolError

VERSION: Final = "stand/1"
HEARTBEAT_LIMIT_S: Final = 0.300
"""An armed stand that hears nothing for this long cuts the throttle by itself."""

LONGEST_HEARTBEAT_S: Final = 1.0
"""A stand that would wait longer than this for a silent owner is not armed."""

LONGEST_LINE: Final = 1_000_000
MOST_CHANNELS: Final = 64

Message = dict[str, Any]


def encode(message: Message) -> bytes:
    """One message as a line. Missing readings are null, never NaN."""
    return json.dumps(message, separators=(",", ":"), allow_nan=False).encode() + b"\n"


def _no_constant(text: str) -> NoReturn:
    raise ProtocolError(f"{text} is no number; a missing reading is null.")


def _finite(text: str) -> float:
    value = float(text)
    if not math.isfinite(value):
        raise ProtocolError(f"{text[:20]} is too large for a number.")
    return value


def decode(line: bytes) -> Message:
    """One line as a message.

    :raises ProtocolError: not a JSON object with a ``type``, or a number that is not finite.
    """
    if len(line) > LONGEST_LINE:
        raise ProtocolError("A line of the stand protocol is too long.")
    try:
        message = json.loads(line, parse_constant=_no_constant, parse_float=_finite)
    except (ValueError, RecursionError) as error:
        raise ProtocolError(f"Not a JSON line: {line[:80]!r}.") from error
    if not isinstance(message, dict) or not isinstance(message.get("type"), str):
        raise ProtocolError("A message is a JSON object with a 'type'.")
    return message


def is_number(value: object) -> TypeGuard[float]:
    """A finite number; true and false are none, nor is a whole number beyond all floats."""
    if type(value) is float:
        return math.isfinite(value)
    if not isinstance(value, int | float) or isinstance(value, bool):
        return False
    try:
        return math.isfinite(value)
    except OverflowError:
        return False


def is_whole(value: object) -> TypeGuard[int]:
    """A whole number; true and false are none."""
    return isinstance(value, int) and not isinstance(value, bool)


def says_zero(reply: Message) -> bool:
    """The read-back on which a throttle is called zero: disarmed, and nothing applied.

    False is no number, though it equals 0.
    """
    pct = reply.get("throttle_pct")
    return reply["type"] == "status" and reply.get("armed") is False and is_number(pct) and pct == 0


def check_hello(message: Message) -> Message:
    """A hello whose channels and limits can be worked with.

    :raises ProtocolError: another version, or something missing or impossible.
    """
    if message.get("type") == "refused":
        raise ProtocolError(str(message.get("message") or "The stand refused.")[:200])
    if message.get("type") != "hello" or message.get("protocol") != VERSION:
        raise ProtocolError(f"The stand does not speak {VERSION}.")
    channels = message.get("channels")
    if not isinstance(channels, list) or not 1 <= len(channels) <= MOST_CHANNELS:
        raise ProtocolError("The stand's hello names no channels.")
    names = [channel.get("name") if isinstance(channel, dict) else None for channel in channels]
    if not all(isinstance(name, str) and name for name in names) or len(set(names)) < len(names):
        raise ProtocolError("A channel in the stand's hello has no name, or another's.")
    limits = message.get("limits", {})
    if not isinstance(limits, Mapping) or not all(
        is_number(value) and value > 0 for value in limits.values()
    ):
        raise ProtocolError("A limit in the stand's hello is no number above 0.")
    return message


def drives(hello: Mapping[str, Any]) -> bool:
    """Whether a stand commands a throttle; one that only reads says ``drives`` false."""
    return hello.get("drives", True) is True


def declared_heartbeat_s(hello: Mapping[str, Any]) -> float | None:
    """How long the stand waits for a silent owner [s]; None when it does not say it sensibly."""
    value = hello.get("heartbeat_ms")
    return float(value) / 1000.0 if is_number(value) and value > 0 else None


def check_samples(message: Message, channels: int) -> None:
    """Samples whose times are numbers and whose rows have a cell per channel.

    :raises ProtocolError: otherwise; nothing of such a message is believed.
    """
    times, rows = message.get("t_s"), message.get("rows")
    if not isinstance(times, list) or not isinstance(rows, list) or len(times) != len(rows):
        raise ProtocolError("A samples message needs as many times as rows.")
    for time_s, row in zip(times, rows, strict=True):
        if not is_number(time_s):
            raise ProtocolError(f"A sample's time is {time_s!r}.")
        if not isinstance(row, list) or len(row) != channels:
            cells = len(row) if isinstance(row, list) else 0
            raise ProtocolError(f"A row has {cells} cells where the stand has {channels} channels.")
        for value in row:
            if value is not None and not is_number(value):
                raise ProtocolError(f"A reading is {str(value)[:20]!r}; a missing one is null.")
