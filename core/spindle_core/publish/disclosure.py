"""Who paid for what: how each motor came, links that pay, and who may gain from the verdict.

Nothing is published while any of it is unsaid: a reader takes silence for independence.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum


class Links(StrEnum):
    """Whether a link on the page pays who wrote it."""

    UNKNOWN = "unknown"
    NONE = "none"
    SOME = "some"


class Gain(StrEnum):
    """Whether anybody at the bench gains from how the verdict turns out."""

    UNKNOWN = "unknown"
    NOBODY = "nobody"
    SOMEBODY = "somebody"


OBTAINED_WORDS = {
    "bought": "bought by the bench",
    "loaned": "on loan, to be returned",
    "given": "given free of charge",
    "sponsored": "paid for by a sponsor",
    "own_design": "the bench's own design",
    "early": "sent before it was on sale",
}

MATTERS = frozenset({"loaned", "given", "sponsored", "own_design", "early"})
"""Ways of coming by a motor that a reader would want to know first."""


@dataclass(frozen=True, slots=True)
class Came:
    """How samples of a motor came. ``obtained``: ``unknown`` where nobody noted it."""

    motor: str
    samples: tuple[str, ...]
    obtained: str
    giver: str = ""


@dataclass(frozen=True, slots=True)
class UsedPart:
    """Something that was used and is named on the page. ``pays``: whether its link pays; None
    where nobody said."""

    name: str
    link: str = ""
    pays: bool | None = None


@dataclass(frozen=True, slots=True)
class Disclosure:
    """What the reader is told, and what is still unsaid; ``matters``: it bears on the verdict."""

    lines: tuple[str, ...]
    missing: tuple[str, ...]
    matters: bool


def disclose(
    came: Sequence[Came],
    links: Links,
    links_text: str,
    gain: Gain,
    gain_text: str,
    parts: Sequence[UsedPart] = (),
) -> Disclosure:
    """The disclosure of a page.

    :param came: every sample that was used, none left out. :param parts: named on the page.
    """
    lines, missing = [], []
    for one in came:
        marks = f"sample{'s' if len(one.samples) > 1 else ''} {', '.join(one.samples)}"
        if one.obtained not in OBTAINED_WORDS:
            missing.append(f"how {one.motor}, {marks}, came to the bench")
            continue
        giver = f", from {one.giver}" if one.giver else ""
        lines.append(f"{one.motor}, {marks}: {OBTAINED_WORDS[one.obtained]}{giver}.")
    if links is Links.UNKNOWN:
        missing.append("whether any link on the page pays")
    elif links is Links.NONE:
        lines.append("No link on this page pays anybody here.")
    elif not links_text.strip():
        missing.append("which links pay, and whom")
    else:
        lines.append(f"Links that pay: {_sentence(links_text)}")
    for part in parts:
        if part.link and part.pays is None:
            missing.append(f"whether the link to {part.name} pays")
        elif part.link and part.pays and links is Links.NONE:
            missing.append(f"that the link to {part.name} pays: above it says that none does")
    if gain is Gain.UNKNOWN:
        missing.append("whether anybody here gains from the verdict")
    elif gain is Gain.NOBODY:
        lines.append("Nobody at the bench gains from how this turns out.")
    elif not gain_text.strip():
        missing.append("who gains, and how")
    else:
        lines.append(f"Who may gain: {_sentence(gain_text)}")
    matters = (
        any(one.obtained in MATTERS for one in came) or links is Links.SOME or gain is Gain.SOMEBODY
    )
    return Disclosure(tuple(lines), tuple(missing), matters)


def _sentence(text: str) -> str:
    text = text.strip()
    return text if text.endswith((".", "!", "?")) else f"{text}."
