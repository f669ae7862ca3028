"""The long form of a verdict: prose in sections, with figures that stand in it by reference.

A closed schema: paragraphs and lists of text, strong or slanted, and figures by their number. No
mark-up is stored, so none can be injected; what is not known here is refused where it stands.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Final

from spindle_core.errors import CoreError

MOST_NODES: Final = 600
MOST_TEXT: Final = 20_000
MARKS: Final = ("bold", "italic")


class DocumentError(CoreError):
    """Prose that is not of the schema."""

    code = "document"


@dataclass(frozen=True, slots=True)
class Section:
    """A heading of the long form, and what belongs under it."""

    key: str
    title: str
    asks: str


OF_A_MOTOR: Final = (
    Section("for_whom", "For whom", "Who should buy it, who should not, and why?"),
    Section("propellers", "Propellers", "Which propeller on which voltage?"),
    Section("limits", "Limits", "What did it stand, beside what it is rated for?"),
    Section("made_of", "What it is made of", "What did the teardown show?"),
    Section("faults", "Faults", "What was wrong, on how many samples?"),
    Section("costs", "What it costs", "In money, and in grams?"),
    Section("open", "What stays open", "What was not tested?"),
    Section("would_change", "What would change this", "Which result would turn the verdict?"),
)

OF_A_COMPARISON: Final = (
    Section("differs", "What differs", "Which differences are real, and how large?"),
    Section("same", "What nobody could tell apart", "Where are they the same?"),
    Section("for_whom", "Which for whom", "Who takes which?"),
    Section("open", "What stays open", "What was not tested?"),
    Section("would_change", "What would change this", "Which result would turn the verdict?"),
)

OF_A_COHORT: Final = (
    Section("differs", "Who stands where", "Which places are sure, and what decides them?"),
    Section("same", "What nobody could tell apart", "Which places are ties?"),
    Section("for_whom", "Which for whom", "Who takes which?"),
    Section("open", "What stays open", "What was not tested?"),
    Section("would_change", "What would change this", "Which run or weight would turn it?"),
)

Node = Mapping[str, Any]


def checked_document(doc: object) -> dict[str, Any]:
    """A section's prose, rebuilt from what the schema knows.

    :param doc: ``{"type": "doc", "content": […]}`` as an editor holds it.
    :raises DocumentError: another node, mark or attribute than the schema's, or too much of it.
    """
    counted = [0, 0]
    node = _node(doc, "the document")
    if node.get("type") != "doc":
        raise DocumentError("Prose is a document of paragraphs and lists.")
    blocks = [_block(child, counted) for child in _children(node, "the document")]
    if counted[0] > MOST_NODES or counted[1] > MOST_TEXT:
        raise DocumentError(
            f"A section holds {MOST_TEXT:,} characters in {MOST_NODES} pieces at most; move some "
            "of it to another.",
            code="too_long",
        )
    return {"type": "doc", "content": blocks}


EMPTY: Final[Mapping[str, Any]] = {"type": "doc", "content": []}


def _node(value: object, where: str) -> Node:
    if not isinstance(value, dict) or not isinstance(value.get("type"), str):
        raise DocumentError(f"A piece of {where} has no type.")
    return value


def _children(node: Node, where: str) -> list[Node]:
    content = node.get("content", [])
    if not isinstance(content, list):
        raise DocumentError(f"What is in {where} must be a list.")
    return [_node(child, where) for child in content]


def _block(node: Node, counted: list[int]) -> dict[str, Any]:
    counted[0] += 1
    kind = node["type"]
    if kind == "paragraph":
        inline = [_inline(child, counted) for child in _children(node, "a paragraph")]
        return {"type": kind, "attrs": {"rests_on": _rests_on(node)}, "content": inline}
    if kind == "bulletList":
        items = []
        for item in _children(node, "a list"):
            if item["type"] != "listItem":
                raise DocumentError(f"A list holds points, not {item['type']!r}.")
            inner = _children(item, "a point")
            if any(one["type"] != "paragraph" for one in inner):
                raise DocumentError("A point of a list holds paragraphs.")
            items.append({"type": "listItem", "content": [_block(one, counted) for one in inner]})
        return {"type": kind, "content": items}
    raise DocumentError(f"Prose holds paragraphs and lists, not {kind!r}.")


def _rests_on(node: Node) -> list[int]:
    attrs = node.get("attrs") or {}
    numbers = attrs.get("rests_on", []) if isinstance(attrs, dict) else None
    if not isinstance(numbers, list) or any(not _is_number(one) for one in numbers):
        raise DocumentError("A paragraph rests on figures, named by their numbers.")
    return list(dict.fromkeys(numbers))


def _is_number(value: object) -> bool:
    return isinstance(value, int) and not isinstance(value, bool) and value > 0


def _inline(node: Node, counted: list[int]) -> dict[str, Any]:
    counted[0] += 1
    if node["type"] == "figure":
        attrs = node.get("attrs")
        pk = attrs.get("figure") if isinstance(attrs, dict) else None
        if not _is_number(pk):
            raise DocumentError("A figure in prose is named by its number.")
        return {"type": "figure", "attrs": {"figure": pk}}
    if node["type"] != "text":
        raise DocumentError(f"A paragraph holds text and figures, not {node['type']!r}.")
    text = node.get("text")
    if not isinstance(text, str) or not text:
        raise DocumentError("A piece of text is empty.")
    if any("\ud800" <= char <= "\udfff" for char in text) or "\x00" in text:
        raise DocumentError("A piece of text holds a character that is none.")
    counted[1] += len(text)
    marks = node.get("marks") or []
    if not isinstance(marks, list):
        raise DocumentError("Marks of a text are a list.")
    names = [_node(mark, "a text")["type"] for mark in marks]
    unknown = [name for name in names if name not in MARKS]
    if unknown:
        raise DocumentError(f"Text can be {' or '.join(MARKS)}, not {unknown[0]!r}.")
    kept: dict[str, Any] = {"type": "text", "text": text}
    if names:
        kept["marks"] = [{"type": name} for name in MARKS if name in names]
    return kept


def paragraphs(doc: Node) -> Iterator[Node]:
    """The paragraphs of a checked document, those of lists too, in their order."""
    for block in doc.get("content", []):
        if block["type"] == "paragraph":
            yield block
        else:
            for item in block["content"]:
                yield from item["content"]


def is_empty(doc: Node) -> bool:
    """Whether nothing stands in it."""
    return not any(
        child["type"] == "figure" or child["text"].strip()
        for paragraph in paragraphs(doc)
        for child in paragraph.get("content", [])
    )


def figures_in(doc: Node) -> list[int]:
    """Numbers of the figures that stand in it or that its paragraphs rest on, each once."""
    return list(dict.fromkeys(pk for one in paragraphs(doc) for pk in figures_of(one)))


def figures_of(paragraph: Node) -> list[int]:
    """The same of one paragraph."""
    standing = [
        child["attrs"]["figure"]
        for child in paragraph.get("content", [])
        if child["type"] == "figure"
    ]
    return [*standing, *paragraph["attrs"]["rests_on"]]


def plain_text(doc: Node, figures: Mapping[int, str]) -> str:
    """The prose as text, a line per paragraph, with each figure as ``figures`` says it."""
    lines = []
    for block in doc.get("content", []):
        points = block["content"] if block["type"] == "bulletList" else [{"content": [block]}]
        mark = "\N{BULLET} " if block["type"] == "bulletList" else ""
        for point in points:
            text = " ".join(line_of(one, figures) for one in point["content"])
            lines.append(mark + text)
    return "\n".join(lines)


def line_of(paragraph: Node, figures: Mapping[int, str]) -> str:
    """One paragraph as text."""
    return "".join(
        child["text"] if child["type"] == "text" else figures.get(child["attrs"]["figure"], "?")
        for child in paragraph.get("content", [])
    )


_TYPED: Final = re.compile(
    r"(?<![\w.,])[+\u2212-]?\d[\d,]*(?:\.\d+)?[\s\u2009\u00a0]*"
    r"(?:gf(?:/W)?|g/W|grams?|g|A|amps?|W|watts?|rpm(?:/V)?|kV|°C|K|N·m|Nm|N|%|mΩ|mAh|per cent)"
    r"(?![\w/])"
)


def typed_figures(text: str) -> list[str]:
    """Figures that were typed into prose by hand: nothing tells when these grow stale.

    Sizes and voltages, which name a motor or a propeller, are not meant.
    """
    return [found.group().strip() for found in _TYPED.finditer(text)]


def typed_in(doc: Node, levels: Mapping[int, str] | None = None) -> list[str]:
    """The same of a document.

    :param levels: figure → the level it was read at, in words such as ``500 gf``: beside the
        figure that is no figure of its own.
    """
    at = levels or {}
    return [
        found
        for paragraph in paragraphs(doc)
        for child in paragraph.get("content", [])
        if child["type"] == "text"
        for found in typed_figures(child["text"])
        if _bare(found) not in {_bare(at.get(pk, "")) for pk in figures_of(paragraph)}
    ]


def _bare(text: str) -> str:
    return re.sub(r"[\s\u2009\u00a0,]", "", text)


Part = str | int
"""A piece of a sentence: text, or a figure by its number."""


def paragraph_of(parts: Sequence[Part], rests_on: Sequence[int] = ()) -> dict[str, Any]:
    """A paragraph from text and figures."""
    content: list[dict[str, Any]] = [
        {"type": "text", "text": part}
        if isinstance(part, str)
        else {"type": "figure", "attrs": {"figure": part}}
        for part in parts
        if part != ""
    ]
    return {"type": "paragraph", "attrs": {"rests_on": list(rests_on)}, "content": content}
