"""Claims held against each other while they are typed: what fits, what does not, what lacks."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from spindle_core.errors import QuantityError
from spindle_core.intake.claim_quantities import CLAIMS, EXPECTED
from spindle_core.intake.claims import EMPTY_V, FULL_V, check_ratings
from spindle_core.motor.size_code import Basis, SizeCode, propose_basis
from spindle_core.motor.temperature_ceiling import enamel_limit, magnet_limit_c

SAME_CLAIM = 0.02
"""Two sources within this relative distance say the same."""

MOST_COPPER_SHARE = 0.4
"""A rating that turns more of its power into heat in the copper alone is no working point."""

MOST_NO_LOAD_SHARE = 0.12


@dataclass(frozen=True, slots=True)
class Claimed:
    """One claim: a value in the unit of its quantity, or words, and who says so."""

    quantity: str
    value: float | None
    words: str
    source: str


@dataclass(frozen=True, slots=True)
class ClaimRemark:
    """What the claims say of each other. ``state``: ``fits``, ``odd`` or ``missing``."""

    code: str
    state: str
    message: str


def check_claims(claims: Sequence[Claimed], *, size: SizeCode | None = None) -> list[ClaimRemark]:
    """Everything that can be said of the claims before anything is measured.

    :param size: the size code on its basis, held against the claimed mass.
    """
    values: dict[str, float] = {}
    for claim in claims:
        if claim.value is not None:
            values.setdefault(claim.quantity, claim.value)
    return [
        *_ratings(values),
        *_reversed(values),
        *_copper(values),
        *_no_load(values),
        *_sources(claims),
        *_words(claims),
        *_size(values, size),
        *_missing(claims),
    ]


def _ratings(values: dict[str, float]) -> list[ClaimRemark]:
    power, current = values.get("max_power_w"), values.get("max_current_a")
    most = values.get("cells_max") or values.get("cells_min")
    if power is None or current is None:
        return []
    implied = power / current
    text = f"Rated power ÷ rated current implies {implied:.2f} V"
    if most is None:
        return [
            ClaimRemark(
                "implied_voltage", "fits", f"{text}; no cell count is claimed to hold it against."
            )
        ]
    low, high = EMPTY_V * (values.get("cells_min") or most), FULL_V * most
    inside = low <= implied <= high
    where = "inside" if inside else "outside"
    remarks = [
        ClaimRemark(
            "implied_voltage",
            "fits" if inside else "odd",
            f"{text}, {where} the {low:.1f} to {high:.1f} V of the claimed cells.",
        )
    ]
    nominal = check_ratings(rated_power_w=power, rated_current_a=current, cells=int(most)).nominal
    bound = f"{current:g} A bind" if nominal.binds == "current" else f"{power:g} W bind"
    then = (
        f"{nominal.power_w:.0f} W" if nominal.binds == "current" else f"{nominal.current_a:.1f} A"
    )
    remarks.append(
        ClaimRemark(
            "binding",
            "fits",
            f"On {most:g} cells at {nominal.voltage_v:.1f} V the {bound}, at {then}.",
        )
    )
    return remarks


def _reversed(values: dict[str, float]) -> list[ClaimRemark]:
    found = []
    for low, high, unit in (("cells_min", "cells_max", ""), ("prop_min_in", "prop_max_in", " in")):
        least, most = values.get(low), values.get(high)
        if least is not None and most is not None and least > most:
            text = (
                f"{CLAIMS[low].label} ({least:g}{unit}) above {CLAIMS[high].label.lower()} "
                f"({most:g}{unit}): one of them is wrong."
            )
            found.append(ClaimRemark(f"{low}_reversed", "odd", text))
    return found


def _copper(values: dict[str, float]) -> list[ClaimRemark]:
    current, power = values.get("max_current_a"), values.get("max_power_w")
    resistance = values.get("resistance_mohm")
    if current is None or power is None or resistance is None:
        return []
    loss = current**2 * resistance / 1000.0
    share = loss / power
    state = "odd" if share > MOST_COPPER_SHARE else "fits"
    return [
        ClaimRemark(
            "copper_loss",
            state,
            f"At {current:g} A the claimed {resistance:g} mΩ turn {loss:.0f} W into heat, "
            f"{100 * share:.0f} % of the rated power.",
        )
    ]


def _no_load(values: dict[str, float]) -> list[ClaimRemark]:
    idle, current = values.get("no_load_current_a"), values.get("max_current_a")
    if idle is None or current is None or idle <= MOST_NO_LOAD_SHARE * current:
        return []
    return [
        ClaimRemark(
            "no_load",
            "odd",
            f"A no-load current of {idle:g} A is much beside a rating of {current:g} A; check "
            "which is which.",
        )
    ]


def _sources(claims: Sequence[Claimed]) -> list[ClaimRemark]:
    """The same thing claimed differently in two places."""
    found = []
    for quantity, known in CLAIMS.items():
        said = [claim for claim in claims if claim.quantity == quantity]
        for other in said[1:]:
            first = said[0]
            if known.words:
                differs = first.words.strip().lower() != other.words.strip().lower()
                texts = (first.words, other.words)
            else:
                a, b = first.value or 0.0, other.value or 0.0
                differs = abs(a - b) > SAME_CLAIM * max(abs(a), abs(b))
                texts = (f"{a:g} {known.unit}", f"{b:g} {known.unit}")
            if differs:
                text = f"{known.label}: {texts[0]} by {first.source}, {texts[1]} by {other.source}."
                found.append(ClaimRemark("sources_differ", "odd", text))
    return found


def _words(claims: Sequence[Claimed]) -> list[ClaimRemark]:
    found = []
    for claim in claims:
        text = claim.words.strip()
        if claim.quantity == "magnet_grade" and text:
            try:
                limit = magnet_limit_c(text)
            except QuantityError as error:
                found.append(ClaimRemark("magnet_grade", "odd", error.message))
            else:
                said = f"Magnets {text.upper()} hold to about {limit:g} °C."
                found.append(ClaimRemark("magnet_grade", "fits", said))
        if claim.quantity == "enamel_class" and text:
            try:
                name, limit = enamel_limit(text)
            except QuantityError as error:
                found.append(ClaimRemark("enamel_class", "odd", error.message))
            else:
                said = f"{name[0].upper()}{name[1:]} is rated {limit:g} °C."
                found.append(ClaimRemark("enamel_class", "fits", said))
    return found


def _size(values: dict[str, float], size: SizeCode | None) -> list[ClaimRemark]:
    mass = values.get("mass_g")
    if size is None or mass is None or size.basis is not Basis.STATOR:
        return []
    if propose_basis(size, mass) is Basis.STATOR:
        return []
    return [
        ClaimRemark(
            "basis_by_mass",
            "odd",
            f"A stator of {size.diameter_mm:g} × {size.height_mm:g} mm weighs more than the "
            f"whole motor's claimed {mass:g} g: the code may be the outer can's.",
        )
    ]


def _missing(claims: Sequence[Claimed]) -> list[ClaimRemark]:
    there = {claim.quantity for claim in claims}
    names = [CLAIMS[key].label.lower() for key in EXPECTED if key not in there]
    if not names:
        return []
    return [ClaimRemark("missing", "missing", f"Not written down: {', '.join(names)}.")]
