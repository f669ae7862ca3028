"""JSON from outside: text that is text, numbers that are numbers, nested as deep as somebody
would, or it is refused with its place."""

from __future__ import annotations

import json
import math
from collections.abc import Mapping
from typing import Any, Final

from spindle_core.errors import CoreError

DEEPEST: Final = 40
"""Levels of lists and objects; the prose of a verdict takes nine."""

LONGEST_INTEGER: Final = 40
"""Digits; nothing here is counted in so many."""


class JsonFaultError(CoreError):
    """JSON that is none, is too deep, or holds what no text or number can be.

    ``line`` and ``character`` where they are known, counted from 1.
    """

    code = "not_json"

    def __init__(self, message: str, line: int | None = None, character: int | None = None) -> None:
        super().__init__(message)
        self.line = line
        self.character = character


def strict_json(text: str | bytes) -> Any:
    """What stands in a JSON text.

    :raises JsonFaultError: no JSON, more than :data:`DEEPEST` levels, a number that is none or too
        large for one (NaN, 1e999), or half a character (a lone surrogate), which neither a
        database nor an answer can hold.
    """
    try:
        found = json.loads(
            text, parse_constant=_refuse_constant, parse_int=_integer, parse_float=_float
        )
    except RecursionError as error:
        raise JsonFaultError(f"it is nested deeper than {DEEPEST} levels") from error
    except UnicodeDecodeError as error:
        raise JsonFaultError("it is not UTF-8") from error
    except json.JSONDecodeError as error:
        where = f"line {error.lineno}, character {error.colno}"
        raise JsonFaultError(f"{error.msg} in {where}", error.lineno, error.colno) from error
    _check(found, 0)
    return found


def _refuse_constant(word: str) -> Any:
    raise JsonFaultError(f"{word} is no number")


def _integer(digits: str) -> int:
    if len(digits) > LONGEST_INTEGER:
        raise JsonFaultError(f"a number of {len(digits)} digits is too long")
    return int(digits)


def _float(text: str) -> float:
    number = float(text)
    if not math.isfinite(number):
        raise JsonFaultError(f"{text[:40]} is too large")
    return number


def _check(found: Any, depth: int) -> None:
    if depth > DEEPEST:
        raise JsonFaultError(f"it is nested deeper than {DEEPEST} levels")
    if isinstance(found, str):
        _check_text(found)
    elif isinstance(found, Mapping):
        for key, value in found.items():
            _check_text(key)
            _check(value, depth + 1)
    elif isinstance(found, list):
        for value in found:
            _check(value, depth + 1)


def _check_text(text: str) -> None:
    try:
        text.encode()
    except UnicodeEncodeError as error:
        raise JsonFaultError(f"it holds half a character, {text[error.start]!a}") from error
