"""The signed pass of a page that is logged in; checked without any look-up.

``<payload>.<signature>``, both base64url; the payload is JSON ``{"name", "until"}``, the signature
HMAC-SHA256 with the installation's door key.
"""

from __future__ import annotations

import base64
import binascii
import hashlib
import hmac
import json
from dataclasses import dataclass
from typing import Final

from spindle_bench.errors import RefusedError
from spindle_bench.protocol import is_number

LASTS_S: Final = 12 * 3600.0
LONGEST_TOKEN: Final = 1000
LONGEST_NAME: Final = 80


@dataclass(frozen=True, slots=True)
class Pass:
    """Whose page it is, and until when it is let in [s since 1970]."""

    name: str
    until: float


def sign(name: str, *, key: str, now: float) -> str:
    """A token for a person's page, from now on for :data:`LASTS_S`. ``now``: s since 1970."""
    payload = json.dumps({"name": name[:LONGEST_NAME], "until": round(now + LASTS_S, 1)})
    text = _encode(payload.encode())
    return f"{text}.{_encode(_signature(text, key))}"


def verify(token: object, *, key: str, now: float) -> Pass:
    """The pass in a token.

    :raises RefusedError: not one of ours, or too old.
    """
    strange = RefusedError("This page is not known to the stop door; log in again.", code="token")
    if not isinstance(token, str) or len(token) > LONGEST_TOKEN or not key:
        raise strange
    text, _, signature = token.partition(".")
    try:
        given = base64.urlsafe_b64decode(signature + "=" * (-len(signature) % 4))
        if not hmac.compare_digest(given, _signature(text, key)):
            raise strange
        data = json.loads(base64.urlsafe_b64decode(text + "=" * (-len(text) % 4)))
    except (binascii.Error, ValueError, UnicodeEncodeError) as error:
        raise strange from error
    if not is_number(data.get("until")) or not isinstance(data.get("name"), str):
        raise strange
    if data["until"] <= now:
        raise RefusedError("This page was open for too long; log in again.", code="token_old")
    return Pass(data["name"], float(data["until"]))


def _encode(data: bytes) -> str:
    return base64.urlsafe_b64encode(data).rstrip(b"=").decode()


def _signature(text: str, key: str) -> bytes:
    return hmac.new(key.encode(), text.encode(), hashlib.sha256).digest()
