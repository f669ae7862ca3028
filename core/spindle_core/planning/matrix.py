"""The matrix of a campaign: every motor on every propeller, and how near each limit it comes."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from spindle_core.compare.bounds import Standing, at_most
from spindle_core.figures.arrays import Floats
from spindle_core.figures.constants import METRE_PER_INCH
from spindle_core.figures.measured import Absent, Measured
from spindle_core.identification.motor import COPPER_SHARE
from spindle_core.model.air import speed_of_sound_m_per_s
from spindle_core.model.propeller import TIP_MACH_CAUTION
from spindle_core.planning.arrays import Cells, at_thrust, most_duty, operate
from spindle_core.planning.known import KnownMotor, KnownPropeller
from spindle_core.planning.predict import MODEL_U, KnownSupply

WARMED = 0.8
CASE_RISE_K, CASE_RISE_U_K = 20.0, 8.0
"""What a case usually rises in a run of plateaus, under what the winding stands above it, and how
far a case of this run may be from that: assumed."""

MUCH_TAUGHT = 0.015
"""A cell whose thrust and current are known within this needs no run to tell them."""

COPPER_PER_K = 0.00393

OF_MODEL: Mapping[str, float] = {
    **MODEL_U,
    # Heat goes with the square of the current.
    "winding_rise_k": 2.0 * MODEL_U["current_a"],
    "common_g_per_w": MODEL_U["efficiency_g_per_w"],
}
"""What the model leaves out of each figure of a cell, relative, k = 1."""


@dataclass(frozen=True, slots=True)
class PlannedMotor:
    """A motor of the campaign; its limits [A, W, °C of the winding] None where nobody knows."""

    key: int
    name: str
    known: KnownMotor | Absent
    most_current_a: float | None = None
    most_power_w: float | None = None
    most_winding_c: float | None = None


@dataclass(frozen=True, slots=True)
class PropellerColumn:
    """A propeller of the campaign."""

    key: int
    name: str
    known: KnownPropeller | Absent


@dataclass(frozen=True, slots=True)
class Feed:
    """What drives the matrix: the supply and what it, ESC and meters bear [A], with their names."""

    supply: KnownSupply
    limits_a: Sequence[tuple[str, float]] = ()


@dataclass(frozen=True, slots=True)
class Matrix:
    """Arrays of shape (motors, propellers); NaN where a cell cannot be predicted.

    ``figures`` at full throttle with ``u`` (relative, k = 1); ``at_common``: at the common thrust,
    its gf/W with ``common_u_g_per_w``. ``nearness``: limit → how much of it is used, 1 at the
    limit, with ``nearness_u`` (in the same terms, k = 1). ``tightest`` indexes ``limit_names``;
    ``most_throttle`` is the duty up to which every limit holds, as foreseen.
    """

    figures: dict[str, Floats]
    u: dict[str, Floats]
    at_common: dict[str, Floats]
    common_u_g_per_w: Floats
    nearness: dict[str, Floats]
    nearness_u: dict[str, Floats]
    limit_names: tuple[str, ...]
    tightest: np.ndarray
    most_throttle: Floats
    winding_rise_k: Floats
    winding_rise_u_k: Floats
    tip_mach: Floats
    why_not: dict[tuple[int, int], str] = field(default_factory=dict)

    @property
    def taught(self) -> Floats:
        """What is not yet known of a cell: the larger relative u of thrust and current, without
        the share that no run takes away."""
        parts = []
        for name in ("thrust_gf", "current_a"):
            parts.append(np.sqrt(np.maximum(0.0, self.u[name] ** 2 - MODEL_U[name] ** 2)))
        return np.asarray(np.fmax(*parts))

    def held(self, i: int, j: int) -> dict[str, Standing]:
        """Whether full throttle keeps each limit that somebody set; empty where nothing is
        predicted."""
        found: dict[str, Standing] = {}
        for name in self.limit_names:
            used, u = float(self.nearness[name][i, j]), float(self.nearness_u[name][i, j])
            if math.isfinite(used) and used > 0:
                found[name] = at_most(Measured(used, {"predicted": u}), 1.0)
        return found


def matrix(
    rows: Sequence[PlannedMotor],
    columns: Sequence[PropellerColumn],
    feed: Feed,
    density_kg_per_m3: Measured,
    *,
    air_c: float = 20.0,
    common_thrust_gf: float,
) -> Matrix:
    """Predict every cell."""
    cells = cells_of(rows, columns, feed.supply, density_kg_per_m3.value)
    figures = operate(cells, warmed=WARMED)
    moved = moved_cells(cells, rows, columns, feed.supply, density_kg_per_m3)
    spread = _spread(cells, moved, common_thrust_gf)
    common = at_thrust(cells, common_thrust_gf)
    u = {name: spread[name] / figures[name] for name in MODEL_U}
    copper = _copper(cells)
    rise = np.asarray(figures["warmed_ohm"] / copper)
    sound = speed_of_sound_m_per_s(air_c)
    tip = math.pi * cells.diameter_in * METRE_PER_INCH * figures["speed_rpm"] / 60.0 / sound
    rise_at = air_c + CASE_RISE_K
    nearness = _nearness(figures, rows, feed, rise + rise_at, tip)
    # Of the winding only what it rises is foreseen; its ceiling stands from 0 °C.
    winding_u = np.hypot(spread["winding_rise_k"], CASE_RISE_U_K) / (rise + rise_at)
    names = tuple(nearness)
    stacked = np.stack([np.nan_to_num(nearness[name], nan=-1.0) for name in names])
    return Matrix(
        figures,
        u,
        common,
        spread["common_g_per_w"],
        nearness,
        {name: used * _relative_u(name, u, winding_u) for name, used in nearness.items()},
        names,
        np.argmax(stacked, axis=0),
        most_duty(cells, _most(cells, rows, feed, sound, rise_at, copper), warmed=WARMED),
        rise,
        spread["winding_rise_k"],
        tip,
        _why_not(rows, columns),
    )


def cells_of(
    rows: Sequence[PlannedMotor],
    columns: Sequence[PropellerColumn],
    supply: KnownSupply,
    density: float,
) -> Cells:
    """The cells as arrays; NaN in the rows and columns that are not known."""

    def motor(pick: str) -> Floats:
        values = [math.nan if isinstance(r.known, Absent) else _value(r.known, pick) for r in rows]
        return np.array(values)[:, None]

    def propeller(pick: str) -> Floats:
        values = [
            math.nan if isinstance(c.known, Absent) else _value(c.known, pick) for c in columns
        ]
        return np.array(values)[None, :]

    return Cells(
        motor("kv_rpm_per_v"),
        motor("resistance_ohm"),
        np.maximum(0.0, motor("no_load_a")),
        np.maximum(0.0, motor("no_load_slope_a_per_rpm")),
        motor("warming_ohm_per_a2"),
        propeller("diameter_in"),
        propeller("ct"),
        propeller("cp"),
        propeller("ct_exponent"),
        propeller("cp_exponent"),
        propeller("rpm_reference"),
        np.array(supply.open_circuit_v.value),
        np.array(supply.resistance_ohm.value),
        np.array(density),
    )


def _value(known: KnownMotor | KnownPropeller, name: str) -> float:
    found = getattr(known, name)
    return float(found.value if isinstance(found, Measured) else found)


def _us(things: Sequence[KnownMotor | KnownPropeller | Absent], name: str) -> Floats:
    return np.array(
        [math.nan if isinstance(one, Absent) else getattr(one, name).u for one in things]
    )


def _copper(cells: Cells) -> Floats:
    """By how much a winding's resistance rises [Ω/K]."""
    return np.asarray(COPPER_SHARE * COPPER_PER_K * cells.ohm)


def _foreseen(cells: Cells, common_thrust_gf: float) -> dict[str, Floats]:
    """By the names of :data:`OF_MODEL`."""
    figures = operate(cells, warmed=WARMED)
    # An input that is moved may ask for more than full throttle: its gf/W moves on all the same.
    common = at_thrust(cells, common_thrust_gf, beyond=True)["efficiency_g_per_w"]
    rise = figures["warmed_ohm"] / _copper(cells)
    return {**figures, "winding_rise_k": rise, "common_g_per_w": common}


def _spread(cells: Cells, moved: Sequence[Cells], common_thrust_gf: float) -> dict[str, Floats]:
    """u of what is given at full throttle, and of gf/W at the common thrust, in their units."""
    middle = _foreseen(cells, common_thrust_gf)
    total = {name: (share * middle[name]) ** 2 for name, share in OF_MODEL.items()}
    for other in moved:
        found = _foreseen(other, common_thrust_gf)
        for name in OF_MODEL:
            # Where an input that is moved lets nothing turn, all of it is in doubt.
            change = np.where(np.isnan(found[name]), middle[name], found[name] - middle[name])
            total[name] = total[name] + change**2
    return {name: np.sqrt(value) for name, value in total.items()}


def _relative_u(limit: str, u: Mapping[str, Floats], winding_u: Floats) -> Floats:
    """Of what is held against a limit; what supply, ESC and meters bear is a current."""
    if limit == "winding":
        return winding_u
    return u[{"rated power": "power_w", "tip speed": "speed_rpm"}.get(limit, "current_a")]


def moved_cells(
    cells: Cells,
    rows: Sequence[PlannedMotor],
    columns: Sequence[PropellerColumn],
    supply: KnownSupply,
    density: Measured,
) -> list[Cells]:
    """The cells with every input moved by its u, one after the other; kV and R of one fit move
    together. What a figure changes by from one to the next is its u, part by part."""
    motors = [row.known for row in rows]
    propellers = [column.known for column in columns]
    shared_kv, shared_ohm, own_kv, own_ohm = _joint(motors)
    return [
        cells.changed(kv=cells.kv + shared_kv, ohm=np.maximum(1e-4, cells.ohm + shared_ohm)),
        cells.changed(kv=cells.kv + own_kv),
        cells.changed(ohm=cells.ohm + own_ohm),
        cells.changed(idle_a=cells.idle_a + _us(motors, "no_load_a")[:, None]),
        cells.changed(warming=cells.warming + _us(motors, "warming_ohm_per_a2")[:, None]),
        cells.changed(ct=cells.ct + _us(propellers, "ct")[None, :]),
        cells.changed(cp=cells.cp + _us(propellers, "cp")[None, :]),
        cells.changed(volts=cells.volts + supply.open_circuit_v.u),
        cells.changed(series_ohm=cells.series_ohm + supply.resistance_ohm.u),
        cells.changed(density=cells.density + density.u),
    ]


def _joint(motors: Sequence[KnownMotor | Absent]) -> tuple[Floats, Floats, Floats, Floats]:
    """What kV and R share, and what each has of its own."""
    table = []
    for motor in motors:
        if isinstance(motor, Absent):
            table.append([math.nan] * 4)
            continue
        kv, ohm = motor.kv_rpm_per_v, motor.resistance_ohm
        shared = next((key for key in kv.components if key in ohm.components and "@" in key), "")
        along, across = kv.components.get(shared, 0.0), ohm.components.get(shared, 0.0)
        table.append(
            [
                along,
                across,
                math.sqrt(max(0.0, kv.u**2 - along**2)),
                math.sqrt(max(0.0, ohm.u**2 - across**2)),
            ]
        )
    columns = np.array(table).reshape(-1, 4)
    return (
        columns[:, 0][:, None],
        columns[:, 1][:, None],
        columns[:, 2][:, None],
        columns[:, 3][:, None],
    )


def _column(values: Sequence[float | None]) -> Floats:
    return np.array([math.inf if value is None else value for value in values])[:, None]


def _nearness(
    figures: dict[str, Floats],
    rows: Sequence[PlannedMotor],
    feed: Feed,
    winding_c: Floats,
    tip: Floats,
) -> dict[str, Floats]:
    found = {
        "rated current": figures["current_a"] / _column([row.most_current_a for row in rows]),
        "rated power": figures["power_w"] / _column([row.most_power_w for row in rows]),
    }
    for name, limit in feed.limits_a:
        found[name] = figures["current_a"] / limit
    found["winding"] = winding_c / _column([row.most_winding_c for row in rows])
    found["tip speed"] = tip / TIP_MACH_CAUTION
    return {name: np.asarray(value) for name, value in found.items()}


def _most(
    cells: Cells,
    rows: Sequence[PlannedMotor],
    feed: Feed,
    sound: float,
    rise_at: float,
    copper: Floats,
) -> dict[str, Floats]:
    current = _column([row.most_current_a for row in rows])
    for _, limit in feed.limits_a:
        current = np.minimum(current, limit)
    winding = _column([row.most_winding_c for row in rows])
    rpm = TIP_MACH_CAUTION * sound * 60.0 / (math.pi * cells.diameter_in * METRE_PER_INCH)
    return {
        "current_a": current,
        "power_w": _column([row.most_power_w for row in rows]),
        "speed_rpm": rpm,
        "warmed_ohm": np.maximum(0.0, winding - rise_at) * copper,
    }


def _why_not(
    rows: Sequence[PlannedMotor], columns: Sequence[PropellerColumn]
) -> dict[tuple[int, int], str]:
    found = {}
    for i, row in enumerate(rows):
        for j, column in enumerate(columns):
            for known in (row.known, column.known):
                if isinstance(known, Absent):
                    found[i, j] = known.note
    return found
