"""Which run teaches most per minute about what a campaign asks.

Linear-Gaussian design of experiments (Chaloner and Verdinelli 1995, Statist. Sci. 10, 273;
A-optimality): what is believed of each motor (ln kV, ln R, ln I0) and each propeller (ln CT, ln CP)
is a joint normal; a run at full throttle measures thrust, current and speed of its cell, each known
to depend on them; the run whose measurement takes most variance out of the figures asked for, per
minute of bench time, is next.

Taking the best each time is short-sighted in principle; following the first few choices to their
end was tried and saved a tenth of a percent of the minutes, at forty times the work.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from spindle_core.figures.arrays import Floats
from spindle_core.planning.arrays import Cells, operate

PER_MOTOR = ("kv", "ohm", "idle_a")
PER_PROPELLER = ("ct", "cp")
MEASURED = ("thrust_gf", "current_a", "speed_rpm")
ASKED = ("thrust_gf", "current_a")
NUDGE = 1e-3
RUN_MINUTES = 1.5
COOL_MINUTES = 2.5
PROPELLER_SWAP_MINUTES = 2.0
MOTOR_SWAP_MINUTES = 6.0


@dataclass(slots=True)
class Belief:
    """A joint normal over the logarithms of all constants; ``covariance`` (n, n).

    ``mean`` is the deviation from the cells the sensitivities were taken at, (n,).
    """

    mean: Floats
    covariance: Floats

    def learn(self, design: Floats, seen: Floats, noise: Floats) -> None:
        """Condition on measurements ``seen`` = design · x + noise (variances)."""
        gain = self.covariance @ design.T
        inner = design @ gain + np.diag(noise)
        step = np.linalg.solve(inner, gain.T).T
        self.mean = self.mean + step @ (seen - design @ self.mean)
        self.covariance = self.covariance - step @ gain.T
        self.covariance = 0.5 * (self.covariance + self.covariance.T)


@dataclass(frozen=True, slots=True)
class Sensitivities:
    """d ln(figure) ÷ d ln(constant) of every cell: figure → (motors, propellers, 5)."""

    by_figure: dict[str, Floats]
    motors: int
    propellers: int

    def places(self, i: int, j: int) -> list[int]:
        """Where the five constants of a cell stand in the joint normal."""
        first = len(PER_MOTOR) * i
        second = len(PER_MOTOR) * self.motors + len(PER_PROPELLER) * j
        return [first, first + 1, first + 2, second, second + 1]

    @property
    def size(self) -> int:
        """How many constants there are."""
        return len(PER_MOTOR) * self.motors + len(PER_PROPELLER) * self.propellers

    def design(self, i: int, j: int, figures: Sequence[str]) -> Floats:
        """Rows of the design matrix of one cell, shape (figures, n)."""
        found = np.zeros((len(figures), self.size))
        for row, name in enumerate(figures):
            found[row, self.places(i, j)] = self.by_figure[name][i, j]
        return found


def sensitivities(cells: Cells, warmed: float = 0.8) -> Sensitivities:
    """How thrust, current and speed of every cell go with the constants, by small nudges."""
    base = operate(cells, warmed=warmed)
    shape = base["thrust_gf"].shape
    found = {name: np.zeros((*shape, 5)) for name in MEASURED}
    for place, part in enumerate((*PER_MOTOR, *PER_PROPELLER)):
        moved = operate(
            cells.changed(**{part: getattr(cells, part) * (1.0 + NUDGE)}), warmed=warmed
        )
        for name in MEASURED:
            found[name][..., place] = np.log(moved[name] / base[name]) / np.log1p(NUDGE)
    return Sensitivities(found, *shape)


@dataclass(frozen=True, slots=True)
class RunChoice:
    """A run that may be next: its cell, what it takes off the asked figures' mean variance (share
    of it), how long it takes [min], and the first per the second."""

    motor: int
    propeller: int
    takes_off: float
    minutes: float

    @property
    def per_minute(self) -> float:
        """Share of the variance per minute."""
        return self.takes_off / self.minutes


def minutes_of(i: int, j: int, mounted: tuple[int, int] | None) -> float:
    """Bench time of a run in a cell after what is mounted [min]; a fresh mounting is cool."""
    if mounted is None or mounted[0] != i:
        return MOTOR_SWAP_MINUTES + RUN_MINUTES
    if mounted[1] != j:
        return PROPELLER_SWAP_MINUTES + RUN_MINUTES
    return COOL_MINUTES + RUN_MINUTES


def choices(
    belief: Belief,
    known: Sensitivities,
    *,
    may_run: np.ndarray,
    wanted: np.ndarray,
    noise: Floats,
    mounted: tuple[int, int] | None = None,
) -> list[RunChoice]:
    """Every cell that may be run, the one that teaches most per minute first.

    :param may_run: (motors, propellers), whether a cell can be run at all.
    :param wanted: the cells whose thrust and current are asked for.
    :param noise: variances of one run's thrust, current and speed, relative.
    """
    asked = [known.design(i, j, ASKED) for i, j in np.argwhere(wanted)]
    if not asked:
        return []
    answer = np.concatenate(asked)
    spread = belief.covariance @ answer.T
    before = float(np.einsum("ij,ji->", answer, spread))
    if before <= 0:
        return []
    found = []
    for i, j in np.argwhere(may_run):
        places = known.places(int(i), int(j))
        design = np.stack([known.by_figure[name][i, j] for name in MEASURED])
        if not np.isfinite(design).all():
            continue
        inner = design @ belief.covariance[np.ix_(places, places)] @ design.T + np.diag(noise)
        toward = design @ spread[places]
        off = float(np.sum(toward * np.linalg.solve(inner, toward)))
        found.append(RunChoice(int(i), int(j), off / before, minutes_of(int(i), int(j), mounted)))
    return sorted(found, key=lambda one: -one.per_minute)


def proposal(
    belief: Belief,
    known: Sensitivities,
    *,
    goal: float,
    may_run: np.ndarray,
    wanted: np.ndarray,
    noise: Floats,
    mounted: tuple[int, int] | None = None,
) -> RunChoice | None:
    """The run to make next; None where every asked figure is known within ``goal`` already, or
    nothing may be run.

    :param goal: relative u (k = 1) that thrust and current of every wanted cell are to reach.
    """
    if not wanted.any() or _left(belief, known, wanted) <= goal:
        return None
    listed = choices(belief, known, may_run=may_run, wanted=wanted, noise=noise, mounted=mounted)
    return listed[0] if listed else None


def _left(belief: Belief, known: Sensitivities, wanted: np.ndarray) -> float:
    """The largest relative u among the asked figures."""
    answer = np.concatenate([known.design(i, j, ASKED) for i, j in np.argwhere(wanted)])
    variances = np.einsum("ij,jk,ik->i", answer, belief.covariance, answer)
    return float(np.sqrt(np.nanmax(variances)))
