"""What each step makes of the one before it, all steps at once."""

from __future__ import annotations

import numpy as np

from spindle_core.figures.arrays import Floats
from spindle_core.figures.numerics import forward_substituted


def carried_on(first: Floats, kept: Floats, added: Floats) -> Floats:
    """x₀ = ``first`` and x_(k+1) = ``kept``_k · x_k + ``added``_k.

    One step after another, as a loop would, but in LAPACK: the equations are a triangle with ones
    on its diagonal and few numbers below it.

    :param first: shape (m,). :param kept: shape (n, m, m). :param added: shape (n, m).
    :returns: shape (n + 1, m).
    """
    steps, size = added.shape
    band = np.zeros((2 * size, (steps + 1) * size), order="F")
    for row in range(size):
        for column in range(size):
            band[size + row - column, column : steps * size : size] = -kept[:, row, column]
    known = np.concatenate((first, added.ravel()))
    return forward_substituted(band, known).reshape(-1, size)
