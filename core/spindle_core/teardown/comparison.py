"""Teardowns side by side: what is the same, what differs, what nobody knows."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent
from spindle_core.teardown.findings import Finding
from spindle_core.teardown.vocabulary import ATTRIBUTES
from spindle_core.teardown.words import Attribute, Status, Topic

FEWEST, MOST = 2, 4
RESOLVED_K = 1.96
"""Two numbers differ when their gap exceeds this many combined u (95 %)."""

KNOWN = (Status.MEASURED, Status.OBSERVED, Status.SAME_AS)
"""Answers that come from looking at the sample itself."""


@dataclass(frozen=True, slots=True)
class Seen:
    """One answer of one sample, as recorded; ``u`` in the attribute's unit, None when not noted."""

    status: Status
    choice: str = ""
    value: float | None = None
    u: float | None = None
    ordinal: str = ""
    reference: str = ""


@dataclass(frozen=True, slots=True)
class Row:
    """One attribute or derived figure across the samples.

    ``outcome``: ``same``, ``different``, ``unresolved`` (the numbers do not tell them apart, or
    their u was not noted), ``unknown`` (fewer than two samples were looked at).
    """

    key: str
    label: str
    step: str
    unit: str | None
    cells: tuple[Seen | Finding | None, ...]
    outcome: str


@dataclass(frozen=True, slots=True)
class Argument:
    """What a differing answer speaks for or against, per sample by its place."""

    topic: Topic
    column: int
    speaks_for: bool
    label: str
    answer: str
    suggests: str
    counterpoint: str


def compare_sheets(sheets: Sequence[Mapping[str, Seen]]) -> list[Row]:
    """Every attribute that at least one sample answers, in the order of the vocabulary.

    :raises QuantityError: fewer than two or more than four samples.
    """
    if not FEWEST <= len(sheets) <= MOST:
        raise QuantityError(f"Compare {FEWEST} to {MOST} samples, not {len(sheets)}.")
    rows = []
    for key, attribute in ATTRIBUTES.items():
        cells = tuple(sheet.get(key) for sheet in sheets)
        if any(cell is not None for cell in cells):
            rows.append(
                Row(
                    key,
                    attribute.label,
                    attribute.step,
                    attribute.unit,
                    cells,
                    _outcome(attribute, cells),
                )
            )
    return rows


def compare_findings(columns: Sequence[Sequence[Finding]]) -> list[Row]:
    """Derived figures side by side, by the name of the finding."""
    by_name = [{item.name: item for item in column} for column in columns]
    names = list(dict.fromkeys(item.name for column in columns for item in column))
    rows = []
    for name in names:
        cells = tuple(column.get(name) for column in by_name)
        one = next(cell for cell in cells if cell is not None)
        figures = [
            cell.figure
            for cell in cells
            if cell is not None and not isinstance(cell.figure, Absent)
        ]
        numbers = [(item.value, item.u if item.components else None) for item in figures]
        exact = one.unit == ""
        rows.append(
            Row(name, one.label, "Derived", one.unit, cells, _of_numbers(numbers, exact=exact))
        )
    return rows


def _outcome(attribute: Attribute, cells: Sequence[Seen | None]) -> str:
    known = [cell for cell in cells if cell is not None and cell.status in KNOWN]
    if len(known) < 2:
        return "unknown"
    if attribute.is_number:
        if any(cell.status is Status.SAME_AS for cell in known) and not attribute.integer:
            # By eye the same: no number of its own to hold against another.
            known = [cell for cell in known if cell.status is not Status.SAME_AS]
            if len(known) < 2:
                return "unresolved"
        numbers = [(cell.value or 0.0, cell.u) for cell in known]
        return _of_numbers(numbers, exact=attribute.integer)
    return "same" if len({cell.choice for cell in known}) == 1 else "different"


def _of_numbers(numbers: Sequence[tuple[float, float | None]], *, exact: bool) -> str:
    if len(numbers) < 2:
        return "unknown"
    values = [value for value, _ in numbers]
    if exact:
        return "same" if max(values) - min(values) < 1e-9 else "different"
    noted = [(value, u) for value, u in numbers if u is not None]
    for i, (a, u_a) in enumerate(noted):
        for b, u_b in noted[i + 1 :]:
            if abs(a - b) > RESOLVED_K * math.hypot(u_a, u_b):
                return "different"
    return "unresolved"


def arguments(rows: Sequence[Row]) -> list[Argument]:
    """What the differing answers suggest, topic by topic; a suggestion, not a finding."""
    found = []
    for row in rows:
        attribute = ATTRIBUTES.get(row.key)
        if attribute is None or row.outcome != "different":
            continue
        for column, cell in enumerate(row.cells):
            if not isinstance(cell, Seen) or cell.status not in KNOWN:
                continue
            choice = next((item for item in attribute.choices if item.key == cell.choice), None)
            if choice is None:
                continue
            for speaks_for, topics in ((True, choice.helps), (False, choice.costs)):
                found += [
                    Argument(
                        topic,
                        column,
                        speaks_for,
                        attribute.label,
                        choice.label,
                        choice.suggests,
                        attribute.counterpoint,
                    )
                    for topic in topics
                ]
    order = list(Topic)
    return sorted(found, key=lambda item: (order.index(item.topic), item.column))
