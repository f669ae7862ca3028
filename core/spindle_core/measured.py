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

from spindle_core.errors import QuantityError


class Origin(StrEnum):
    """How a figure was obtained. The order is from the best evidence to the weakest."""

    MEASURED = "measured"
    DERIVED = "derived"
    ESTIMATED = "estimated"
    CLAIMED = "claimed"


_ORDER = list(Origin)


@dataclass(frozen=True, slots=True)
class Absent:
    """A figure that is not there. ``reason`` is a stable code, ``note`` a phrase for a person."""

    reason: str
    note: str = ""


@dataclass(frozen=True, slots=True)
class Measured:
    """A value with its uncertainty.

    ``components`` maps a component's name to its signed standard contribution, in the unit of
    ``value``. ``n`` counts runs (not samples); ``samples`` counts the samples averaged within
    them where that is known.
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
        for name, contribution in self.components.items():
            if not math.isfinite(contribution):
                raise QuantityError(f"Uncertainty component {name!r} is not finite.")

    @property
    def u(self) -> float:
        """Combined standard uncertainty (k = 1), in the unit of the value."""
        return math.hypot(*self.components.values()) if self.components else 0.0

    @property
    def relative_u(self) -> float:
        """u ÷ |value|; infinite at 0."""
        return math.inf if self.value == 0 else self.u / abs(self.value)

    def component(self, name: str) -> float:
        """Size of one component's contribution; 0 when the figure does not depend on it."""
        return abs(self.components.get(name, 0.0))

    def with_component(self, name: str, contribution: float) -> Measured:
        """The same figure with one more component; a name it already has is an error."""
        if name in self.components:
            raise QuantityError(f"The figure already has a component {name!r}.")
        return replace(self, components={**self.components, name: contribution})


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
        for name, contribution in item.components.items():
            components[name] = components.get(name, 0.0) + slope * contribution
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


def mean_of_repeats(values: Sequence[float], *, component: str = "repeat") -> Measured:
    """Mean of repeated runs with u = s/√n; needs at least two.

    GUM 4.2: type A evaluation.
    """
    count = len(values)
    if count < 2:
        raise QuantityError(f"A spread needs at least two repeats, got {count}.", code="too_few")
    mean = math.fsum(values) / count
    spread = sample_standard_deviation(values)
    return Measured(mean, {component: spread / math.sqrt(count)}, n=count)


def sample_standard_deviation(values: Sequence[float]) -> float:
    """s with n − 1 in the divisor, in the unit of the values."""
    count = len(values)
    if count < 2:
        raise QuantityError(f"A spread needs at least two values, got {count}.", code="too_few")
    mean = math.fsum(values) / count
    return math.sqrt(math.fsum((value - mean) ** 2 for value in values) / (count - 1))
