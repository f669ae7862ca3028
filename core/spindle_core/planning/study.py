"""Is the proposed order worth following? Simulated campaigns, each walked twice.

A campaign is over when every asked cell's thrust and current are known within a goal. The same
truth is walked by the proposals of :mod:`spindle_core.planning.next_run` and by a fixed matrix, row
by row; what counts is the bench time of each. Seeded, so that the figures in the docs can be made
again.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from spindle_core.figures.arrays import Floats
from spindle_core.planning.arrays import Cells
from spindle_core.planning.next_run import (
    ASKED,
    MEASURED,
    Belief,
    Sensitivities,
    minutes_of,
    proposal,
    sensitivities,
)

GOAL = 0.02
"""Thrust and current of every asked cell known within this (relative, k = 1)."""

NOISE = np.array([0.006, 0.008, 0.002]) ** 2
PRIOR = {"kv": 0.05, "ohm": 0.25, "idle_a": 0.4, "ct": 0.15, "cp": 0.15}
MOST_RUNS = 400


@dataclass(frozen=True, slots=True)
class Walk:
    """One campaign by one way: minutes and runs until the goal, and the largest error at its end
    (relative), None where the goal was not reached."""

    minutes: float
    runs: int
    worst: float | None


@dataclass(frozen=True, slots=True)
class Study:
    """Campaigns by both ways, in the same order."""

    proposed: tuple[Walk, ...]
    fixed: tuple[Walk, ...]

    @property
    def share(self) -> float:
        """Minutes of the proposals ÷ minutes of the fixed matrix, over all campaigns."""
        return sum(w.minutes for w in self.proposed) / sum(w.minutes for w in self.fixed)


def study(campaigns: int = 50, *, seed: int = 7, motors: int = 4, propellers: int = 5) -> Study:
    """Walk so many campaigns by both ways."""
    rng = np.random.default_rng(seed)
    proposed, fixed = [], []
    for _ in range(campaigns):
        cells = _bench(rng, motors, propellers)
        known = sensitivities(cells)
        spread = np.concatenate(
            [
                np.tile([PRIOR["kv"], PRIOR["ohm"], PRIOR["idle_a"]], motors),
                np.tile([PRIOR["ct"], PRIOR["cp"]], propellers),
            ]
        )
        truth = rng.normal(0.0, spread)
        draws = rng.normal(size=(MOST_RUNS, 3)) * np.sqrt(NOISE)
        proposed.append(_walk(known, spread, truth, draws, by_proposal=True))
        fixed.append(_walk(known, spread, truth, draws, by_proposal=False))
    return Study(tuple(proposed), tuple(fixed))


def _bench(rng: np.random.Generator, motors: int, propellers: int) -> Cells:
    kv = rng.uniform(1700, 2100, motors)[:, None]
    ohm = rng.uniform(0.07, 0.11, motors)[:, None]
    diameter = rng.uniform(4.9, 5.3, propellers)[None, :]
    ones, across = np.ones((motors, 1)), np.ones((1, propellers))
    return Cells(
        kv,
        ohm,
        1.0 * ones,
        0.0 * ones,
        2e-5 * ones,
        diameter,
        rng.uniform(0.14, 0.21, propellers)[None, :],
        rng.uniform(0.07, 0.14, propellers)[None, :],
        0.0 * across,
        0.0 * across,
        20_000.0 * across,
        np.array(16.0),
        np.array(0.004),
        np.array(1.19),
    )


def _walk(
    known: Sensitivities, spread: Floats, truth: Floats, draws: Floats, *, by_proposal: bool
) -> Walk:
    belief = Belief(np.zeros(known.size), np.diag(spread**2))
    every = np.ones((known.motors, known.propellers), dtype=bool)
    answer = np.concatenate([known.design(i, j, ASKED) for i, j in np.argwhere(every)])
    mounted: tuple[int, int] | None = None
    minutes = 0.0
    for run in range(MOST_RUNS):
        left = np.sqrt(np.einsum("ij,jk,ik->i", answer, belief.covariance, answer))
        if left.max() <= GOAL:
            worst = float(np.abs(answer @ (belief.mean - truth)).max())
            return Walk(minutes, run, worst)
        if by_proposal:
            best = proposal(
                belief, known, goal=GOAL, may_run=every, wanted=every, noise=NOISE, mounted=mounted
            )
            assert best is not None
            cell = (best.motor, best.propeller)
        else:
            order = run % (known.motors * known.propellers)
            cell = divmod(order, known.propellers)
        minutes += minutes_of(*cell, mounted)
        design = known.design(*cell, MEASURED)
        belief.learn(design, design @ truth + draws[run], NOISE)
        mounted = cell
    return Walk(minutes, MOST_RUNS, None)
