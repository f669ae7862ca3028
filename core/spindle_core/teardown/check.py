"""Whether an observation is one the vocabulary allows."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Final

from spindle_core.errors import VocabularyError
from spindle_core.teardown.findings import air_gap_mm
from spindle_core.teardown.vocabulary import ATTRIBUTES
from spindle_core.teardown.words import Attribute, Ordinal, Status

TAKEN_OVER = (Status.SAME_AS, Status.INFERRED)

NESTED: Final = (
    ("stator_diameter", "magnet_inner_diameter"),
    ("shaft_inner_diameter", "bearing_outer_diameter"),
    ("shaft_diameter", "bearing_outer_diameter"),
    ("magnet_inner_diameter", "bell_outer_diameter"),
    ("hub_diameter", "stator_diameter"),
    ("shaft_diameter", "bell_outer_diameter"),
    ("mount_circle", "base_diameter"),
    ("mount_circle_second", "base_diameter"),
    ("prop_hole_circle", "bell_outer_diameter"),
    ("stator_height", "body_height"),
    ("body_height", "total_height"),
    ("shaft_free_length", "total_height"),
)
"""(what lies inside or is the shorter, what lies around it or is the longer)."""


def check_together(key: str, value: float, others: Mapping[str, float]) -> None:
    """Numbers that contradict each other: a stator wider than its magnets, a shaft thicker than
    its bearing, holes outside the base.

    :param others: the other numbers of the sample by attribute [mm].
    :raises VocabularyError: they cannot be one motor's.
    """
    for inside, outside in NESTED:
        if key not in (inside, outside):
            continue
        other = others.get(outside if key == inside else inside)
        if other is None:
            continue
        small, large = (value, other) if key == inside else (other, value)
        if (inside, outside) == NESTED[0]:
            air_gap_mm(large, small)
        elif small >= large:
            labels = (ATTRIBUTES[inside].label, ATTRIBUTES[outside].label)
            raise VocabularyError(
                f"{labels[0]} ({small:g} mm) must be below: {labels[1].lower()} ({large:g} mm).",
                code="does_not_fit",
            )


def check_observation(
    key: str,
    status: Status,
    *,
    choice: str | None = None,
    value: float | None = None,
    ordinal: str | None = None,
) -> Attribute:
    """Whether an observation is one the vocabulary allows; returns its attribute.

    :param ordinal: ``less``, ``same`` or ``more`` than the reference sample.
    :raises VocabularyError: with what is wrong and what would be right.
    """
    attribute = ATTRIBUTES.get(key)
    if attribute is None:
        raise VocabularyError(f"{key!r} is not in the vocabulary.", code="unknown_attribute")
    if status is Status.ORDINAL:
        _check_ordinal(attribute, choice, value, ordinal)
        return attribute
    if ordinal is not None:
        raise VocabularyError(f"{attribute.label}: 'less' or 'more' needs a reference sample.")
    if status in (Status.COULD_NOT_TELL, Status.NOT_LOOKED):
        if choice is not None or value is not None:
            raise VocabularyError(
                f"{attribute.label}: 'could not tell' and 'not looked at' carry no answer."
            )
        return attribute
    if attribute.is_number:
        _check_number(attribute, status, choice, value)
    else:
        _check_choice(attribute, status, choice, value)
    return attribute


def _check_ordinal(
    attribute: Attribute, choice: str | None, value: float | None, ordinal: str | None
) -> None:
    if choice is not None or value is not None:
        raise VocabularyError(f"{attribute.label}: compared with a sample, it carries no answer.")
    if not attribute.ordinal_words:
        raise VocabularyError(
            f"{attribute.label} has no less and more; answer it itself.", code="no_order"
        )
    if ordinal not in set(Ordinal):
        raise VocabularyError(f"{attribute.label}: less, same or more?", code="ordinal")


def _check_number(
    attribute: Attribute, status: Status, choice: str | None, value: float | None
) -> None:
    if choice is not None or value is None:
        raise VocabularyError(f"{attribute.label}: give a number.", code="number_needed")
    if status not in TAKEN_OVER and attribute.integer != (status is Status.OBSERVED):
        kind = "counted (observed)" if attribute.integer else "measured"
        raise VocabularyError(f"{attribute.label} is {kind}.", code="wrong_status")
    if not attribute.low <= value <= attribute.high:
        raise VocabularyError(
            f"{attribute.label}: {value:g} {attribute.unit} is outside {attribute.low:g} to "
            f"{attribute.high:g} {attribute.unit}; check the unit.",
            code="out_of_range",
        )
    if attribute.integer and value != int(value):
        raise VocabularyError(f"{attribute.label} is a whole number.", code="whole_number")
    if attribute.key == "pole_count" and int(value) % 2:
        raise VocabularyError("Magnets come in pairs: the count must be even.", code="odd_poles")
    if attribute.key == "slot_count" and int(value) % 3:
        raise VocabularyError(
            "A three-phase stator has a multiple of three slots.", code="slots_not_by_three"
        )


def _check_choice(
    attribute: Attribute, status: Status, choice: str | None, value: float | None
) -> None:
    if status not in (Status.OBSERVED, *TAKEN_OVER) or value is not None:
        raise VocabularyError(f"{attribute.label} is observed.", code="wrong_status")
    if choice not in {item.key for item in attribute.choices}:
        allowed = ", ".join(item.key for item in attribute.choices)
        raise VocabularyError(f"{attribute.label}: choose one of {allowed}.", code="choice")
