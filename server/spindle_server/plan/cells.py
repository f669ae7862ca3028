"""A campaign on one supply as it is predicted: who may run, and each cell as JSON."""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from spindle_core.compare.bounds import Standing
from spindle_core.figures.arrays import Bools as BoolArray
from spindle_core.figures.arrays import Floats
from spindle_core.figures.measured import Absent
from spindle_core.planning.matrix import MUCH_TAUGHT, Matrix, PlannedMotor, PropellerColumn
from spindle_core.planning.predict import KnownSupply
from spindle_server.motor_file.mountings import Mounted
from spindle_server.motors.models import Sample
from spindle_server.plan.models import Campaign
from spindle_server.rig.models import Propeller


@dataclass(slots=True)
class Known:
    """What a campaign names. A motor that is not at hand stands for a sample without a number
    above 0; ``away`` and ``far`` say what is not at hand: row and column to the nearest that is."""

    samples: list[Sample]
    rows: list[PlannedMotor]
    propellers: list[Propeller]
    columns: list[PropellerColumn]
    away: dict[int, str] = field(default_factory=dict)
    far: dict[int, str] = field(default_factory=dict)

    def not_at_hand(self, i: int, j: int) -> str:
        """Why a cell cannot be run here, whatever its limits; empty where it can."""
        parts = [words for words in (self.away.get(i), self.far.get(j)) if words is not None]
        return " ".join(parts)


@dataclass(slots=True)
class Predicted:
    """A campaign on one supply: what is known, its matrix, its runs. ``found`` None: ``why``."""

    known: Known
    fed: KnownSupply | None = None
    found: Matrix | None = None
    density: float = 0.0
    runs: dict[tuple[int, int], int] = field(default_factory=dict)
    why: str = ""
    mounted: dict[tuple[int, int], Mounted] = field(default_factory=dict)

    @property
    def may_run(self) -> BoolArray:
        """(motors, propellers): cells that may be run at full throttle within every limit."""
        assert self.found is not None
        used = np.stack([np.nan_to_num(part, nan=np.inf) for part in self.found.nearness.values()])
        possible = np.isfinite(self.found.figures["thrust_gf"])
        for i, j in np.ndindex(possible.shape):
            if self.cannot_sit(i, j) or self.known.not_at_hand(i, j):
                possible[i, j] = False
        return np.asarray(possible & (used.max(axis=0) <= 1.0))

    def mounting(self, i: int, j: int) -> Mounted:
        """Whether the propeller of a cell sits on its motor."""
        pair = (self.known.samples[i].pk, self.known.propellers[j].pk)
        return self.mounted.get(pair, Mounted("unknown", ""))

    def cannot_sit(self, i: int, j: int) -> bool:
        """Whether a cell cannot be mounted; what ran already can, whatever was measured."""
        return self.mounting(i, j).outcome == "impossible" and not self.runs_of(i, j)

    def runs_of(self, i: int, j: int) -> int:
        """Runs of a cell that nobody rejected."""
        return self.runs.get((self.known.samples[i].pk, self.known.propellers[j].pk), 0)


def row_json(sample: Sample, row: PlannedMotor, away: str | None) -> dict[str, Any]:
    return {
        "sample": None if away is not None else sample.pk,
        "away": away or "",
        "motor": sample.motor_id,
        "name": sample.motor.full_name,
        "mark": sample.mark,
        "basis": "" if isinstance(row.known, Absent) else str(row.known.basis),
        "words": row.known.note if isinstance(row.known, Absent) else row.known.words,
    }


def column_json(propeller: Propeller, column: PropellerColumn, far: str | None) -> dict[str, Any]:
    return {
        "away": far or "",
        "propeller": propeller.pk,
        "name": propeller.full_name,
        "basis": "" if isinstance(column.known, Absent) else str(column.known.basis),
        "words": column.known.note if isinstance(column.known, Absent) else column.known.words,
    }


def _number(value: Any) -> float | None:
    """Four digits of a finite number: what is predicted has no more."""
    return float(f"{float(value):.4g}") if math.isfinite(float(value)) else None


def cell_json(
    predicted: Predicted, found: Matrix, i: int, j: int, campaign: Campaign
) -> dict[str, Any]:
    thrust = found.figures["thrust_gf"][i, j]
    made, sits = predicted.runs_of(i, j), predicted.mounting(i, j)
    barred = predicted.cannot_sit(i, j)
    away = predicted.known.not_at_hand(i, j)
    taught = found.taught[i, j]
    there = math.isfinite(float(thrust))
    held = found.held(i, j) if there else {}
    tightest = found.limit_names[found.tightest[i, j]]

    def at_full(name: str, unit: str) -> dict[str, float | None]:
        values = found.figures[f"{name}_{unit}"]
        return with_u(name, unit, values, values * found.u[f"{name}_{unit}"])

    def with_u(name: str, unit: str, values: Floats, u: Floats) -> dict[str, float | None]:
        return {f"{name}_{unit}": _number(values[i, j]), f"{name}_u_{unit}": _number(u[i, j])}

    common, tip = found.at_common["efficiency_g_per_w"], found.tip_mach
    return {
        **at_full("thrust", "gf"),
        **at_full("current", "a"),
        **at_full("power", "w"),
        **at_full("speed", "rpm"),
        **at_full("efficiency", "g_per_w"),
        **with_u("common", "g_per_w", common, found.common_u_g_per_w),
        "common_duty_pct": _number(100.0 * found.at_common["duty"][i, j]),
        **with_u("winding_rise", "k", found.winding_rise_k, found.winding_rise_u_k),
        **with_u("tip", "mach", tip, tip * found.u["speed_rpm"]),
        "limits": [
            {
                "name": name,
                "used": _number(found.nearness[name][i, j]),
                "u": _number(found.nearness_u[name][i, j]),
                "may_pass": stands is Standing.NOT_TOLD,
            }
            for name, stands in held.items()
        ],
        "tightest": tightest if there else "",
        "used": _number(found.nearness[tightest][i, j]) if there else None,
        "most_duty_pct": _number(100.0 * found.most_throttle[i, j]) if there else None,
        "unknown_pct": _number(100.0 * taught),
        "worth": bool(
            there
            and not barred
            and not away
            and (taught > MUCH_TAUGHT or made < campaign.runs_wanted)
        ),
        "runs": made,
        "why_not": found.why_not.get((i, j), "" if there else "it would not turn"),
        "sits": sits.outcome,
        "sits_words": sits.words,
        "barred": barred,
        "away": away,
    }
