"""Values with uncertainty, and values that are absent.

A :class:`Measured` carries its value, its standard uncertainty (k = 1) split into named
components, the number of runs behind it and how it was obtained. Components are *signed*
first-order contributions: two figures that share a component (the same load cell's gain, say)
share its name, so that the shared part cancels in a difference and adds in a sum, as it does on
the bench. What was not measured is :class:`Absent` with a reason code, never 0.

Method: law of propagation of uncertainty, JCGM 100:2008 (GUM), section 5.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from enum import StrEnum
from functools import lru_cache

from spindle_core.errors import QuantityError


class Origin(StrEnum):
    """How a figure was obtained. The order is from the best evidence to the weakest."""

    MEASURED = "measured"
    DERIVED = "derived"
    ESTIMATED = "estimated"
    CLAIMED = "claimed"


_ORDER = list(Origin)

ASSUMED = "assumed"
"""Kinds that begin so stand for what nobody declared."""


WHOLE = ("calibration", "assumed_calibration", "gravity", "assumed_offset", "assumed_resistance")
"""Kinds that move every reading of a channel alike, or every kV of a motor."""


MISSED_ALIKE = (
    "interpolation",
    "assumed_interpolation",
    "span",
    "resistance",
    "assumed_resistance",
)
"""Kinds that need no source to be the same in every run of a thing: what lies between plateaus that
were the same each time, or beside them, and a resistance that was taken for all of them."""


_WHOLE_OF = tuple(f"{kind}@" for kind in WHOLE)


@lru_cache(maxsize=65536)
def moves_all(key: str) -> bool:
    """Whether a component, by its key, moves every reading of a channel alike."""
    return key.startswith(_WHOLE_OF) or key in WHOLE


def component(kind: str, source: str) -> str:
    """The key of a component: ``kind@source``."""
    return f"{kind}@{source}"


def kind_of(key: str) -> str:
    """The kind in a component's key, ``calibration`` of ``calibration@stand 3/thrust_gf``."""
    return key.partition("@")[0]


@lru_cache(maxsize=65536)
def source_of(key: str) -> str:
    """The source in a component's key; empty where it has none and is shared with nobody."""
    return key.partition("@")[2]


@dataclass(frozen=True, slots=True)
class Absent:
    """A figure that is not there. ``reason`` is a stable code, ``note`` a phrase for a person."""

    reason: str
    note: str = ""


@dataclass(frozen=True, slots=True)
class Measured:
    """A value with its uncertainty.

    ``components`` maps ``kind@source`` (see :func:`component`) to the signed standard contribution,
    in the unit of ``value``. ``n`` counts runs (not samples, bursts or cycles); ``samples`` counts
    the samples averaged within them where that is known.
    """

    value: float
    components: Mapping[str, float] = field(default_factory=dict)
    n: int = 1
    origin: Origin = Origin.MEASURED
    samples: int | None = None

    def __post_init__(self) -> None:
        if not math.isfinite(self.value):
            raise QuantityError(f"A figure must be finite, got {self.value}.", code="not_finite")
        if self.n < 1:
            raise QuantityError(f"A figure needs at least one run, got n = {self.n}.")
        # Made by the ten thousand: who is to blame is only looked for where somebody is.
        if not all(map(math.isfinite, self.components.values())):
            name = next(k for k, part in self.components.items() if not math.isfinite(part))
            raise QuantityError(f"Uncertainty component {name!r} is not finite.")

    @property
    def u(self) -> float:
        """Combined standard uncertainty (k = 1), in the unit of the value."""
        return math.hypot(*self.components.values()) if self.components else 0.0

    @property
    def relative_u(self) -> float:
        """u ÷ |value|; infinite at 0."""
        return math.inf if self.value == 0 else self.u / abs(self.value)

    @property
    def assumed(self) -> bool:
        """Whether a part of u was assumed, because nobody declared it."""
        return any(key.startswith(ASSUMED) for key in self.components)

    def component(self, kind: str) -> float:
        """Size of all components of a kind together; 0 when the figure has none."""
        return math.hypot(*(v for key, v in self.components.items() if kind_of(key) == kind))

    @property
    def scatter(self) -> float:
        """u without what moves a whole channel alike: its gain and its offset."""
        return math.hypot(*[v for k, v in self.components.items() if not moves_all(k)])

    def scaled(self, factor: float) -> Measured:
        """The figure times an exact number."""
        parts = {key: factor * part for key, part in self.components.items()}
        return Measured(factor * self.value, parts, self.n, self.origin, self.samples)

    def with_component(self, name: str, contribution: float) -> Measured:
        """The same figure with one more component; one it already has is an error."""
        if name in self.components:
            raise QuantityError(f"The figure already has a component {name!r}.")
        # Not by replace(), which takes three times as long: this is done by the ten thousand.
        parts = {**self.components, name: contribution}
        return Measured(self.value, parts, self.n, self.origin, self.samples)


Figure = Measured | Absent
"""A figure is known with its uncertainty, or absent with its reason."""


def propagate(
    function: Callable[..., float],
    inputs: Sequence[Measured],
    *,
    partials: Sequence[float] | None = None,
    origin: Origin = Origin.DERIVED,
) -> Measured:
    """First-order propagation of ``function(*values)``.

    ``partials`` are the derivatives at the values; without them central differences are taken,
    with a step of a tenth of each input's u (or 1e-6 of its value where u is 0). The result's
    origin is the weaker of ``origin`` and the inputs'; its n is the smallest n.
    """
    values = [item.value for item in inputs]
    if partials is None:
        partials = [_partial(function, values, i, inputs[i].u) for i in range(len(inputs))]
    components: dict[str, float] = {}
    for item, slope in zip(inputs, partials, strict=True):
        for key, contribution in item.components.items():
            part = slope * contribution
            known = components.get(key)
            if known is not None:
                # Without a source nobody knows that the two are one.
                part = known + part if source_of(key) else math.hypot(known, part)
            components[key] = part
    weakest = max([origin, *(item.origin for item in inputs)], key=_ORDER.index)
    return Measured(
        value=function(*values),
        components=components,
        n=min((item.n for item in inputs), default=1),
        origin=weakest,
    )


def _partial(
    function: Callable[..., float], values: Sequence[float], index: int, u: float
) -> float:
    step = 0.1 * u or 1e-6 * abs(values[index]) or 1e-9
    above, below = list(values), list(values)
    above[index] += step
    below[index] -= step
    return (function(*above) - function(*below)) / (2.0 * step)


def mean_of_figures(figures: Sequence[Measured]) -> Measured:
    """Mean of one figure over several runs; n is their sum.

    Parts that only one run carries shrink with their number, those that all share do not, nor do
    :data:`MISSED_ALIKE`.
    """
    if len(figures) == 1:
        return replace(figures[0], samples=None)
    share = 1.0 / len(figures)
    mean = propagate(
        lambda *values: math.fsum(values) * share,
        figures,
        partials=[share] * len(figures),
        origin=figures[0].origin,
    )
    count = sum(figure.n for figure in figures)
    parts = dict(mean.components)
    for key in parts:
        if kind_of(key) in MISSED_ALIKE and not source_of(key):
            parts[key] = share * math.fsum(abs(one.components.get(key, 0.0)) for one in figures)
    return Measured(mean.value, parts, count, mean.origin)


def apart_from(figures: Sequence[Measured]) -> float:
    """What the mean of figures of one thing scatters by, after their own u: not by what moves all
    of them, nor by what they all miss."""
    parts = (
        part
        for figure in figures
        for key, part in figure.components.items()
        if not moves_all(key) and kind_of(key) not in MISSED_ALIKE
    )
    return math.hypot(*parts) / len(figures)


def owned_by(figure: Measured, owner: str) -> Measured:
    """The figure with an owner for every part that named no source, so that two figures of one
    owner are known to share it.

    :raises QuantityError: an owner without a name.
    """
    if not owner:
        raise QuantityError("What owns a part of an uncertainty needs a name.")
    parts: dict[str, float] = {}
    for key, part in figure.components.items():
        owned = key if source_of(key) else component(kind_of(key), owner)
        parts[owned] = math.hypot(part, parts[owned]) if owned in parts else part
    return replace(figure, components=parts)


def difference(a: Measured, b: Measured) -> Measured:
    """a − b; shared components cancel to the extent that they are shared."""
    return propagate(lambda x, y: x - y, (a, b), partials=(1.0, -1.0))


def ratio(a: Measured, b: Measured) -> Measured | Absent:
    """a ÷ b, absent where b is 0."""
    if b.value == 0:
        return Absent("division_by_zero", "the divisor is 0")
    value = a.value / b.value
    return propagate(lambda x, y: x / y, (a, b), partials=(1.0 / b.value, -value / b.value))


def product(a: Measured, b: Measured) -> Measured:
    """a × b."""
    return propagate(lambda x, y: x * y, (a, b), partials=(b.value, a.value))


def mean_of_repeats(
    values: Sequence[float], *, resolution: float | None = None, component: str = "repeat"
) -> Measured:
    """Mean of repeated runs with u = s/√n; needs at least two.

    GUM 4.2: type A evaluation. Readings that agree to their last digit do not scatter by 0: s is
    at least what rounding hides.

    :param resolution: smallest step of a reading; the last written digit by default.
    """
    count = len(values)
    if count < 2:
        raise QuantityError(f"A spread needs at least two repeats, got {count}.", code="too_few")
    mean = math.fsum(values) / count
    spread = scatter_of(values, resolution=resolution)
    return Measured(mean, {component: spread / math.sqrt(count)}, n=count)


def scatter_of(values: Sequence[float], *, resolution: float | None = None) -> float:
    """s of repeated values, at least that of a rounding: resolution ÷ √12 [unit of the values].

    :param resolution: smallest step of a value; the last written digit by default.
    """
    step = last_digit(values) if resolution is None else resolution
    return max(sample_standard_deviation(values), step / math.sqrt(12.0))


MOST_DIGITS = 6


def last_digit(values: Sequence[float]) -> float:
    """The decimal step of numbers as they were written: 0.1 for 58.4, 61.2, 70.0.

    :param values: finite; six decimals are the finest that is looked for.
    """
    for digits in range(MOST_DIGITS):
        step = 10.0**-digits
        steps = [value / step for value in values]
        if all(abs(s - round(s)) < 1e-6 * abs(s) + 1e-7 for s in steps):
            return step
    return 10.0**-MOST_DIGITS


def sample_standard_deviation(values: Sequence[float]) -> float:
    """s with n − 1 in the divisor, in the unit of the values."""
    count = len(values)
    if count < 2:
        raise QuantityError(f"A spread needs at least two values, got {count}.", code="too_few")
    mean = math.fsum(values) / count
    return math.sqrt(math.fsum((value - mean) ** 2 for value in values) / (count - 1))
