"""Statements proposed from figures: each keeps what it rests on, and is worded by its evidence.

What was not resolved is said to be so; what one sample showed is not said of a model; a claim is
quoted as one and nothing is concluded from it; what was only reached beyond a rating is not said
at all. The wording is a proposal, the evidence stays linked whatever a person makes of it.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum

from spindle_core.compare.bench_table import FULL, BenchRow
from spindle_core.compare.delta import DEFAULT_MARGIN, K_90, K_95, Outcome, compare
from spindle_core.figures.measured import Absent, Figure, Measured, Origin
from spindle_core.publish.quotes import (
    WITHIN_RATING,
    Found,
    Quote,
    QuoteKind,
    is_stale,
    seen_of,
    stated,
)


class SpeaksFor(StrEnum):
    """What a statement speaks for."""

    FOR = "for"
    AGAINST = "against"
    NEITHER = "neither"


Part = str | Quote


@dataclass(frozen=True, slots=True)
class Statement:
    """A proposed sentence.

    ``rests_on``: every figure it was worded by, those that do not stand in it too. ``strength``:
    the difference ÷ half of its 95 % interval, 1 where it is only just real; None where nothing
    is judged. ``caveat``: what a reader has to know beside it.
    """

    key: str
    section: str
    side: SpeaksFor
    parts: tuple[Part, ...]
    rests_on: Mapping[Quote, Found]
    strength: float | None = None
    caveat: str = ""

    @property
    def text(self) -> str:
        """The sentence with its figures as they were when it was made."""
        return "".join(
            part if isinstance(part, str) else stated(part, seen_of(self.rests_on[part]))
            for part in self.parts
        )

    def stale(self, now: Mapping[Quote, Found]) -> tuple[Quote, ...]:
        """What changed or went since; empty while the sentence still holds."""
        gone = Found(Absent("gone", "it is no longer there"))
        return tuple(
            quote
            for quote, found in self.rests_on.items()
            if is_stale(seen_of(found), now.get(quote, gone))
        )


def weakest_first(statements: Iterable[Statement]) -> list[Statement]:
    """In the order in which somebody should check them: what is only just real comes first, what
    judges nothing last."""
    return sorted(statements, key=lambda one: (one.strength is None, one.strength or 0.0, one.key))


def refusal(found: Found) -> Absent | None:
    """Why nothing may be concluded from a figure; None where something may."""
    if isinstance(found.figure, Absent):
        return found.figure
    if found.claimed:
        return Absent("claimed", "a claim is no measurement: quote it as one")
    if found.beyond:
        return Absent("beyond_rating", "it was only reached beyond a rating")
    return None


def who(samples: int) -> str:
    """Of whom something is said: of a model only where several samples of it were run."""
    return "it" if samples != 1 else "the one sample tested"


def found_in(row: BenchRow, name: str) -> Found:
    """A figure of the bench's table as a quoted one."""
    one = row.figures.get(name)
    if one is None:
        return Found(Absent("not_read", "it is not read under this condition"))
    if isinstance(one, Absent):
        return Found(one)
    runs = tuple(int(run.removeprefix("run ")) for run in row.runs)
    return Found(one.figure, one.samples, runs, held_back=row.held_back)


def quote_of(row: BenchRow, name: str, condition: str) -> Quote:
    """A figure of the bench's table as a quote."""
    return Quote(QuoteKind.READ, row.motor, name, row.load, condition, row.level or 0.0)


NOTHING = Found(Absent("not_measured", "it was not measured"))


@dataclass(frozen=True, slots=True)
class SubjectMotor:
    """What is known of a motor when a verdict on it is written.

    ``full`` and ``hover``: its rows of the bench's table at full throttle and at a thrust.
    ``claims``: quantity → (value, source). ``measured``: constants by name. ``records``: section →
    entries of the file in words.
    """

    key: str
    full: Sequence[BenchRow] = ()
    hover: Sequence[BenchRow] = ()
    label_kv_rpm_per_v: float | None = None
    claims: Mapping[str, tuple[float, str]] = field(default_factory=dict)
    measured: Mapping[str, Found] = field(default_factory=dict)
    price: Found = NOTHING
    currency: str = ""
    price_words: str = ""
    lead_length_mm: float | None = None
    overruns: int = 0
    records: Mapping[str, Sequence[str]] = field(default_factory=dict)


def of_motor(known: SubjectMotor) -> list[Statement]:
    """Everything that may be said of a motor by itself, in the order of the sections."""
    found = [*_by_propeller(known, FULL), *_by_propeller(known, "thrust_gf")]
    found += _limits(known)
    found += _records(known)
    found += [
        one for one in (label(known), _mass(known), _price(known)) if isinstance(one, Statement)
    ]
    return found


def _by_propeller(known: SubjectMotor, condition: str) -> list[Statement]:
    """The strongest propeller of each supply, or the thriftiest at a thrust."""
    full = condition == FULL
    name, also = ("thrust_gf", "current_a") if full else ("efficiency_g_per_w", "power_w")
    groups: dict[tuple[str, float], list[BenchRow]] = {}
    for row in known.full if full else known.hover:
        if isinstance(row.figure(name), Measured):
            groups.setdefault((row.load.supply, row.load.voltage_v), []).append(row)
    found = []
    for (supply, volts), rows in sorted(groups.items()):
        on = f"{volts:g} V {supply}".strip() if volts > 0 else supply or "an unknown supply"
        ordered = sorted(rows, key=lambda row: -_value(row.figure(name)))
        said = _one_propeller(ordered, on, name, also, condition)
        if said is not None:
            found.append(said)
    return found


def _one_propeller(
    ordered: Sequence[BenchRow], on: str, name: str, also: str, condition: str
) -> Statement | None:
    best = ordered[0]
    quote = quote_of(best, name, condition)
    rests = {quote: found_in(best, name)}
    if refusal(rests[quote]) is not None:
        return None
    tail: list[Part] = []
    beside = quote_of(best, also, condition)
    rests[beside] = found_in(best, also)
    if isinstance(rests[beside].figure, Measured):
        tail = [" at " if condition == FULL else " for ", beside]
    subject = who(rests[quote].samples)
    begin = f"On {on} "
    at = f" at {quote.level:g} gf"
    if condition == FULL:
        held_back = any(row.held_back for row in ordered[:2])
        at = f" {WITHIN_RATING}" if held_back else ""
    does = "pulls" if condition == FULL else "gives"
    strength: float | None = None
    if len(ordered) == 1:
        parts: list[Part] = [
            f"{begin}with the {best.load.propeller}, the only propeller tried there, {subject} "
            f"{does} ",
            quote,
            *tail,
            f"{at}.",
        ]
    else:
        second = ordered[1]
        other = quote_of(second, name, condition)
        rests[other] = found_in(second, name)
        delta = compare(_measured(best.figure(name)), _measured(second.figure(name)))
        if delta.outcome is Outcome.DIFFERENT:
            most = "is the strongest" if condition == FULL else "is the thriftiest"
            strength = abs(delta.delta_pct) / delta.half_width_pct if delta.half_width_pct else None
            parts = [
                f"{begin}the {best.load.propeller} {most} of {len(ordered)}: {subject} {does} ",
                quote,
                *tail,
                f"{at}.",
            ]
        else:
            parts = [
                f"{begin}nobody could tell the {best.load.propeller} and the "
                f"{second.load.propeller} apart{at}: ",
                quote,
                " and ",
                other,
                ".",
            ]
    return Statement(
        f"{name}@{condition}/{on}",
        "propellers",
        SpeaksFor.NEITHER,
        tuple(parts),
        rests,
        strength,
        _caveat(rests.values()),
    )


def _measured(figure: Figure) -> Measured:
    assert isinstance(figure, Measured)
    return figure


def _value(figure: Figure) -> float:
    return _measured(figure).value


def _caveat(found: Iterable[Found]) -> str:
    """What was assumed in u, and how little it rests on."""
    listed = [one for one in found if isinstance(one.figure, Measured)]
    said = []
    if any(one.samples == 1 for one in listed):
        said.append("one sample")
    if any(one.runs and len(one.runs) == 1 for one in listed):
        said.append("one run")
    if any(one.figure.assumed for one in listed if isinstance(one.figure, Measured)):
        said.append("a part of u is assumed")
    return ", ".join(said)


RATED: Mapping[str, str] = {
    "max_current_a": "most current run through",
    "max_power_w": "most power put into",
}
"""Ratings, and what was done to the motor in their terms."""


def _limits(known: SubjectMotor) -> list[Statement]:
    found = []
    for name, most in RATED.items():
        reached = known.measured.get(name, NOTHING)
        if not isinstance(reached.figure, Measured):
            continue
        quote = Quote(QuoteKind.CONSTANT, known.key, name)
        rests = {quote: reached}
        parts: list[Part] = [f"The {most} {who(reached.samples)} was ", quote]
        if name in known.claims:
            claim, rests[claim] = _claim(known, name)
            parts += ["; it is rated for ", claim]
        else:
            parts.append("; no rating was found")
        found.append(
            Statement(
                f"limit/{name}",
                "limits",
                SpeaksFor.NEITHER,
                (*parts, "."),
                rests,
                None,
                _caveat([reached]),
            )
        )
    if known.overruns:
        found.append(_record(known, "limits", overrun_words(known.overruns)))
    for name, begin in (
        ("continuous_power_w", "By its own warming it would stand "),
        ("sustained_motor_temp_c", "Held at load, its case came to "),
    ):
        reached = known.measured.get(name, NOTHING)
        if isinstance(reached.figure, Measured):
            quote = Quote(QuoteKind.CONSTANT, known.key, name)
            end = " for good." if name == "continuous_power_w" else "."
            found.append(
                Statement(
                    f"heat/{name}",
                    "limits",
                    SpeaksFor.NEITHER,
                    (begin, quote, end),
                    {quote: reached},
                    None,
                    _caveat([reached]),
                )
            )
    return found


def overrun_words(points: int) -> str:
    """The entry that says what was left out."""
    return f"{points} points beyond its rating are left out of every figure here"


def _claim(known: SubjectMotor, name: str) -> tuple[Quote, Found]:
    value, source = known.claims[name]
    quote = Quote(QuoteKind.CLAIM, known.key, name, text=source)
    return quote, Found(Measured(value, {}, origin=Origin.CLAIMED))


ON_FILE = Found(Measured(1.0, {}))
"""An entry of the file that is there."""

AGAINST = ("faults",)


def _record(known: SubjectMotor, section: str, text: str) -> Statement:
    quote = Quote(QuoteKind.RECORD, known.key, section, text=text)
    side = SpeaksFor.AGAINST if section in AGAINST else SpeaksFor.NEITHER
    return Statement(f"{section}/{text}", section, side, (quote, "."), {quote: ON_FILE})


def _records(known: SubjectMotor) -> list[Statement]:
    return [
        _record(known, section, text.rstrip("."))
        for section, texts in known.records.items()
        for text in texts
    ]


def label(known: SubjectMotor) -> Statement | Absent:
    """How the label's kV stands against the measured one."""
    kv = known.measured.get("kv_rpm_per_v", NOTHING)
    if known.label_kv_rpm_per_v is None:
        return Absent("no_label", "no kV is printed")
    if (refused := refusal(kv)) is not None:
        return refused
    figure = _measured(kv.figure)
    quote = Quote(QuoteKind.CONSTANT, known.key, "kv_rpm_per_v")
    off = 100.0 * (figure.value / known.label_kv_rpm_per_v - 1.0)
    half = 100.0 * K_95 * figure.u / known.label_kv_rpm_per_v
    differs = abs(off) > half
    claim = Quote(QuoteKind.CLAIM, known.key, "kv_rpm_per_v", text="label")
    subject = "It" if kv.samples != 1 else "The one sample tested"
    if differs:
        begin = f"{subject} turns {'faster' if off > 0 else 'slower'} than its label of "
    else:
        begin = f"{subject} agrees with its label of "
    parts: tuple[Part, ...] = (begin, claim, ": ", quote, ".")
    claimed = Found(Measured(known.label_kv_rpm_per_v, {}, origin=Origin.CLAIMED))
    return Statement(
        "label/kv_rpm_per_v",
        "made_of",
        SpeaksFor.AGAINST if differs else SpeaksFor.FOR,
        parts,
        {quote: kv, claim: claimed},
        abs(off) / half if half > 0 and differs else None,
        _caveat([kv]),
    )


def _mass(known: SubjectMotor) -> Statement | Absent:
    mass = known.measured.get("mass_g", NOTHING)
    if (refused := refusal(mass)) is not None:
        return refused
    quote = Quote(QuoteKind.CONSTANT, known.key, "mass_g")
    rests = {quote: mass}
    leads = "" if known.lead_length_mm is None else f" with {known.lead_length_mm:g} mm of leads"
    subject = "It" if mass.samples != 1 else "The one sample on the scale"
    parts: list[Part] = [f"{subject} weighs ", quote, leads]
    if "mass_g" in known.claims:
        claim, rests[claim] = _claim(known, "mass_g")
        parts += [", against ", claim]
    return Statement(
        "mass", "costs", SpeaksFor.NEITHER, (*parts, "."), rests, None, _caveat([mass])
    )


def _price(known: SubjectMotor) -> Statement | Absent:
    if isinstance(known.price.figure, Absent):
        return known.price.figure
    quote = Quote(QuoteKind.CONSTANT, known.key, "price", text=known.currency)
    words = f" ({known.price_words})" if known.price_words else ""
    guessed = known.price.figure.origin in (Origin.ESTIMATED, Origin.CLAIMED)
    begin = "It may cost " if guessed else "It costs "
    return Statement(
        "price",
        "costs",
        SpeaksFor.NEITHER,
        (begin, quote, f"{words}."),
        {quote: known.price},
        None,
        "guessed" if guessed else "",
    )


def strength_of(found: Found, margin: float = DEFAULT_MARGIN) -> float | None:
    """How far a difference in per cent is from being told otherwise; 1 is only just, None where
    it is not resolved."""
    if not isinstance(found.figure, Measured) or found.outcome == Outcome.UNRESOLVED:
        return None
    figure = found.figure
    if found.outcome == Outcome.EQUIVALENT:
        reach = abs(figure.value) + K_90 * figure.u
        return 100.0 * margin / reach if reach else None
    return abs(figure.value) / found.half_width if found.half_width else None
