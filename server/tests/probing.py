"""What somebody sends who means no good, or whose program is broken: every field and every query
word of the schema, each with values that nobody had in mind."""

from __future__ import annotations

import json
import math
from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import yaml

SCHEMA = Path(__file__).parents[1] / "openapi.yaml"
METHODS = ("get", "post", "put", "patch", "delete")
DEEP = json.loads("[" * 200 + "]" * 200)

IN_BODIES: tuple[Any, ...] = (
    None, "", " ", "\ud800", "a\udfffb", "\x00", "²", "x" * 20_000, "١٢", "NaN", "-0", "1e999",
    "2026-02-30", "0000-00-00", "9999-12-31T23:59:59Z", "=cmd()", "<script>", -1, 0, 2**31, 2**63,
    2**63 - 1, 10**400, -(10**400), 1e308, 0.1, True, [], {}, [None], ["\ud800"],
    [[]], [{}], {"": None}, {"a": {"b": []}},
    DEEP, {"type": "doc", "content": [{"type": "paragraph", "content": DEEP}]},
)  # fmt: skip
IN_QUERIES: tuple[str, ...] = (
    "", " ", "\ud800", "\x00", "²", "x" * 5_000, "١٢", "NaN", "inf", "-1", "0", "1.5", "1e999",
    str(2**63), str(10**30), "1" * 5_000, "2026-02-30", "a,b", ",", ",,1", "1,1", "||", "a|b|c",
    "'", "[]", "{}", "null", "true", "%", "\\", "../..", "a:b", "mass_g:nan", "max_thrust_gf:2",
    "1|2|3",
)  # fmt: skip
WHOLE_BODIES: tuple[Any, ...] = (None, [], [1], "text", 1, True, {}, {"\ud800": 1}, DEEP, [[[]]])


@dataclass(frozen=True)
class Operation:
    """One method of one address: its query words, and a plausible body."""

    method: str
    path: str
    queries: tuple[str, ...] = ()
    body: dict[str, Any] = field(default_factory=dict)
    is_json: bool = True


def operations() -> list[Operation]:
    """Everything that the schema offers."""
    schema = yaml.safe_load(SCHEMA.read_text())
    parts = schema["components"]["schemas"]
    found = []
    for path, methods in schema["paths"].items():
        for method in METHODS:
            said = methods.get(method)
            if said is None:
                continue
            listed = [*methods.get("parameters", []), *said.get("parameters", [])]
            queries = tuple(one["name"] for one in listed if one["in"] == "query")
            content = said.get("requestBody", {}).get("content", {})
            kind = next(iter(content), "application/json")
            body = _plausible(content[kind]["schema"], parts, 0) if content else {}
            found.append(
                Operation(method, path, queries, body if isinstance(body, dict) else {},
                          kind == "application/json")
            )  # fmt: skip
    return found


def _plausible(schema: dict[str, Any], parts: dict[str, Any], depth: int) -> Any:
    """A value that a schema allows, as far as that is easy."""
    if "$ref" in schema:
        return _plausible(parts[schema["$ref"].rpartition("/")[2]], parts, depth)
    for word in ("allOf", "oneOf", "anyOf"):
        if word in schema:
            return _plausible(schema[word][0], parts, depth)
    if "enum" in schema:
        return schema["enum"][0]
    kind = schema.get("type")
    kind = kind[0] if isinstance(kind, list) else kind
    if kind == "object" and depth < 5:
        named = schema.get("properties", {})
        return {name: _plausible(one, parts, depth + 1) for name, one in named.items()}
    if kind == "array":
        return [_plausible(schema["items"], parts, depth + 1)] if depth < 5 else []
    formats = {"date": "2026-10-05", "date-time": "2026-10-05T12:00:00Z", "uri": "https://a.example",
               "uuid": "00000000-0000-4000-8000-000000000000"}  # fmt: skip
    if kind == "string":
        return formats.get(schema.get("format", ""), "words")
    if kind in ("integer", "number"):
        low = schema.get("minimum", 1)
        return max(1, math.ceil(low)) if kind == "integer" else max(1.0, low)
    return {"boolean": False}.get(str(kind))


@dataclass(frozen=True)
class Probe:
    """What is sent to one operation, and in which field or word."""

    where: str
    query: dict[str, str] = field(default_factory=dict)
    body: Any = None


def probes(one: Operation) -> Iterator[Probe]:
    """Everything to be sent to it: as it should be, then one thing wrong at a time."""
    yield Probe("as it should be", body=one.body or None)
    for name in one.queries:
        for value in IN_QUERIES:
            yield Probe(f"?{name}", {name: value}, one.body or None)
    if one.method in ("get", "delete") or not one.is_json:
        return
    for whole in WHOLE_BODIES:
        yield Probe("body", body=whole)
    for path in _places(one.body):
        for bad in IN_BODIES:
            yield Probe(".".join(map(str, path)), body=_with(one.body, path, bad))


def _places(body: Any, path: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    inner = body.items() if isinstance(body, dict) else enumerate(body)
    for key, value in inner:
        yield (*path, key)
        if isinstance(value, dict | list):
            yield from _places(value, (*path, key))


def _with(body: Any, path: tuple[Any, ...], value: Any) -> Any:
    made = body.copy()
    made[path[0]] = value if len(path) == 1 else _with(body[path[0]], path[1:], value)
    return made
