"""Whether an observation is one the vocabulary allows."""

from __future__ import annotations

from spindle_core.errors import VocabularyError
from spindle_core.teardown.vocabulary import ATTRIBUTES
from spindle_core.teardown.words import Attribute, Status


def check_observation(
    key: str, status: Status, *, choice: str | None = None, value: float | None = None
) -> Attribute:
    """Whether an observation is one the vocabulary allows; returns its attribute.

    :raises VocabularyError: with what is wrong and what would be right.
    """
    attribute = ATTRIBUTES.get(key)
    if attribute is None:
        raise VocabularyError(f"{key!r} is not in the vocabulary.", code="unknown_attribute")
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


def _check_number(
    attribute: Attribute, status: Status, choice: str | None, value: float | None
) -> None:
    if choice is not None or value is None:
        raise VocabularyError(f"{attribute.label}: give a number.", code="number_needed")
    if attribute.integer != (status is Status.OBSERVED):
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
    if status is not Status.OBSERVED or value is not None:
        raise VocabularyError(f"{attribute.label} is observed.", code="wrong_status")
    if choice not in {item.key for item in attribute.choices}:
        allowed = ", ".join(item.key for item in attribute.choices)
        raise VocabularyError(f"{attribute.label}: choose one of {allowed}.", code="choice")
