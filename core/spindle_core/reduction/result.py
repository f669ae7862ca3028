"""What a reduction yields, whatever the kind of run."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from spindle_core.figures.measured import Figure, Measured
from spindle_core.figures.outliers import Outlier
from spindle_core.figures.remark import Remark


@dataclass(frozen=True, slots=True)
class Point:
    """Figures of one stretch of a run; names carry their unit.

    ``start_s``, ``used_from_s`` and ``end_s`` [s] say where it lies and which part was averaged.
    ``marks`` are yes-or-no findings of the point, such as ``reached``.
    """

    figures: Mapping[str, Figure]
    start_s: float
    used_from_s: float
    end_s: float
    settled: bool
    marks: Mapping[str, bool] = field(default_factory=dict)

    def value(self, name: str) -> float | None:
        """The value of a figure [unit by name], None when it is absent."""
        quick = getattr(self.figures, "value", None)
        if quick is not None:
            found: float | None = quick(name)
            return found
        figure = self.figures.get(name)
        return figure.value if isinstance(figure, Measured) else None


@dataclass(frozen=True, slots=True)
class Reduction:
    """Points and summary of a run, with warnings and every sample that was left out.

    ``start_rise_k``: how far the motor stood above the air when the run began [K]; None where the
    log does not tell.
    """

    kind: str
    points: tuple[Point, ...]
    summary: Mapping[str, Figure]
    warnings: tuple[Remark, ...]
    outliers: tuple[Outlier, ...]
    start_rise_k: float | None = None
