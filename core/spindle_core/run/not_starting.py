"""A motor that does not start: what to look at, in which order, and what each finding suggests.

From what is looked at without touching anything to what takes the motor off. The propeller is off
for all of it. A finding that settles the matter names what to do before the next try; one that
does not leads on. Where nothing helps, what was found is kept as an incident.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

from spindle_core.errors import QuantityError


@dataclass(frozen=True, slots=True)
class PossibleFinding:
    """What may be found. ``suggests`` empty: nothing is amiss here, look on. ``incident``: as what
    it is kept where nothing helps, by the words of incidents."""

    key: str
    words: str
    suggests: str = ""
    incident: str = "other"


@dataclass(frozen=True, slots=True)
class Look:
    """One thing to look at, and how."""

    key: str
    question: str
    how: str
    findings: tuple[PossibleFinding, ...]


BEFORE: Final = (
    "Propeller off, supply off, and wait until the ESC is dark before you touch a wire. A current "
    "limit of a few amperes keeps a shorted winding from burning while you look."
)

_OK: Final = "ok"

_ALL: Final = (
    Look(
        "signal",
        "Does the ESC get a signal?",
        "With the supply on it beeps or lights up after the signal comes.",
        (
            PossibleFinding(_OK, "it beeps as its maker says"),
            PossibleFinding(
                "beeps_on",
                "it goes on beeping, as without a signal",
                "Check the signal lead, its ground and the stand's output; then try again.",
            ),
            PossibleFinding(
                "dark",
                "nothing at all",
                "Check the supply, its plug and its fuse, and the ESC's own supply of the signal "
                "side; then try again.",
                "esc_failure",
            ),
        ),
    ),
    Look(
        "arming",
        "Does it arm?",
        "At zero throttle it gives its second tones within a few seconds.",
        (
            PossibleFinding(_OK, "yes"),
            PossibleFinding(
                "not_low",
                "no, the first tones only",
                "Its zero lies below the stand's: teach the ESC the stand's range, or lower the "
                "stand's zero, as its maker says; then try again.",
            ),
        ),
    ),
    Look(
        "range",
        "Does it know this throttle range?",
        "Give 10 to 15 % for two seconds and listen.",
        (
            PossibleFinding(_OK, "it answers, but does not turn"),
            PossibleFinding(
                "no_answer",
                "it does not answer at all",
                "Teach it the range again, top first; then try again.",
            ),
        ),
    ),
    Look(
        "phases",
        "Are the three phases there, and alike?",
        "Supply off. Measure between each two of the three motor wires.",
        (
            PossibleFinding(_OK, "three alike, under an ohm"),
            PossibleFinding(
                "open",
                "one is open",
                "Look at plugs, solder and the wires where they leave the winding; a broken wire "
                "turns by jerks and gets hot. Do not run it before it is mended.",
                "broken_part",
            ),
            PossibleFinding(
                "apart",
                "one differs clearly",
                "A shorted turn: it draws a large current at once. Do not run it again.",
                "burnt_winding",
            ),
            PossibleFinding(
                "to_bell",
                "there is contact from a wire to the bell or the mount",
                "The winding touches the iron, often by a mounting screw that is too long. Take it "
                "off the stand; run it only after it was found.",
                "burnt_winding",
            ),
        ),
    ),
    Look(
        "supply",
        "Does the supply hold its voltage?",
        "Watch the volts while it tries.",
        (
            PossibleFinding(_OK, "yes"),
            PossibleFinding(
                "dips",
                "it drops or trips",
                "Its limit is below what the start takes, or its leads are thin: raise the limit "
                "within what motor and ESC bear, or take a charged pack; then try again.",
            ),
        ),
    ),
    Look(
        "limits",
        "Is it one of the limits here?",
        "The end record of the last run names what ended it.",
        (
            PossibleFinding(_OK, "no"),
            PossibleFinding(
                "no_speed",
                "no speed signal was seen in time",
                "It may turn where the sensor does not see it: check the sensor and the count of "
                "poles before you give it longer.",
            ),
            PossibleFinding(
                "current",
                "the current limit ended it",
                "If it turned, the limit is low for its start. If it did not, look at the phases "
                "and the bearing before you raise it.",
            ),
        ),
    ),
    Look(
        "bearing",
        "Does it turn freely by hand?",
        "Supply off, wires apart: wires that touch brake it.",
        (
            PossibleFinding(_OK, "yes, with the usual cogging"),
            PossibleFinding(
                "rubs",
                "it rubs or grates",
                "Look for a screw that reaches the winding, a chip on a magnet, a bent bell; then "
                "try again.",
                "broken_part",
            ),
            PossibleFinding(
                "stuck",
                "it does not turn",
                "A seized bearing or a loose magnet. Do not force it under power.",
                "seized",
            ),
        ),
    ),
)

LOOKS: Final[dict[str, Look]] = {look.key: look for look in _ALL}
"""Everything that is looked at, in its order."""

WITHOUT_RESULT: Final = "It does not start, and nothing was found"


def kept_as(found: Mapping[str, str]) -> tuple[str, str]:
    """Kind and words of the incident that what was found is kept as.

    The kind is that of the last finding that names one: what was looked at later lies deeper.

    :param found: look → finding, in any order.
    :raises QuantityError: with ``code`` naming the look: a look or a finding that is none.
    """
    for key, value in found.items():
        look = LOOKS.get(key)
        if look is None or value not in {one.key for one in look.findings}:
            raise QuantityError(f"{value!r} is nothing that can be found at {key!r}.", code=key)
    kind, told = "other", []
    for key, look in LOOKS.items():
        chosen = next((one for one in look.findings if one.key == found.get(key)), None)
        if chosen is None:
            continue
        told.append(f"{look.question} {chosen.words[0].upper()}{chosen.words[1:]}.")
        if chosen.suggests and chosen.incident != "other":
            kind = chosen.incident
    said = WITHOUT_RESULT
    if any(found.get(key) != _OK for key in found):
        said = "It does not start"
    return kind, f"{said}. {' '.join(told)}".strip()
