"""kV, resistance and heat of a motor from blocks at known duty.

    d·V = rpm/kV + I·(R + ρ·h + κ·(T_case − 20 °C))

by weighted least squares with effective variance (errors of V, rpm and I all count; Orear 1982,
Am. J. Phys. 50, 912). h is the fading integral of I²: heavier loads run hotter, and without ρ
their warmer copper would be taken for a lower kV. ρ and κ enter only where the data show them.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from spindle_core.figures.arrays import Floats
from spindle_core.figures.constants import COPPER_TEMPERATURE_COEFFICIENT_PER_K
from spindle_core.figures.measured import Absent, Figure, Measured, Origin
from spindle_core.figures.remark import Remark
from spindle_core.identification.blocks import WINDING_TIMES_S, Block, stands_of
from spindle_core.identification.no_load import NoLoad, identify_no_load
from spindle_core.model.operating_point import Motor
from spindle_core.run.stand import weighted_gains

WINDING_HALF_WIDTH_K = 2.0
"""What a winding without copper losses may differ from the case in a run (rectangular)."""

SHOWN_BY_CHI2 = 12.0
"""A heat term is kept when it takes at least this much off χ² (per term)."""

SMALLEST_SPREAD = 0.15
"""Currents must differ by this share of the largest before kV and R can be told apart."""

KV_GOES_WITH = {"voltage_v": -1.0, "speed_rpm": 1.0}
R_GOES_WITH = {"voltage_v": 1.0, "current_a": -1.0}
"""Gains of the meters: volts scale R up and kV down, amps scale R down, rpm scales kV up."""

HEAT_MODEL_SHARE = 0.10
"""Share of the warming that a straight line over the heat may miss (k = 1)."""

COPPER_SHARE = 0.8
"""Usual share of the effective resistance that is copper and warms; the rest is the ESC's."""


@dataclass(frozen=True, slots=True)
class MotorFit:
    """Constants of one motor, each present or absent with its reason.

    ``kv_resistance_covariance`` [rpm/V·Ω] is the within-run part. ``resistance_at_c``: the case
    temperature the resistance belongs to; None where no temperature was logged.
    ``chi2_per_freedom`` of the fit before u was widened by its square root.
    """

    motor: str
    kv_rpm_per_v: Figure
    resistance_ohm: Figure
    no_load: NoLoad
    kt_nm_per_a: Figure
    kv_resistance_covariance: float
    resistance_at_c: float | None
    heat_ohm_per_a2s: Figure
    winding_time_s: float | None
    chi2_per_freedom: float | None
    blocks: int
    runs: int
    start_case_c: tuple[float, float] | None

    @property
    def usable(self) -> bool:
        """Whether kV and R are both there."""
        return isinstance(self.kv_rpm_per_v, Measured) and isinstance(self.resistance_ohm, Measured)

    def model(self) -> Motor | Absent:
        """The constants as a motor for :func:`spindle_core.model.operating_point.solve`."""
        if isinstance(self.kv_rpm_per_v, Absent):
            return self.kv_rpm_per_v
        if isinstance(self.resistance_ohm, Absent):
            return self.resistance_ohm
        if isinstance(self.no_load.offset_a, Absent):
            return self.no_load.offset_a
        slope = self.no_load.slope_a_per_rpm
        return Motor(
            self.kv_rpm_per_v.value,
            self.resistance_ohm.value,
            max(0.0, self.no_load.offset_a.value),
            slope.value if isinstance(slope, Measured) else 0.0,
        )


@dataclass(frozen=True, slots=True)
class _Solved:
    values: Floats
    covariance: Floats
    chi2: float
    freedom: int
    terms: tuple[str, ...]
    time: int


def identify_motor(name: str, blocks: Sequence[Block], warnings: list[Remark]) -> MotorFit:
    """Constants of the motor that all ``blocks`` belong to."""
    reason = _not_enough(blocks)
    runs = len({block.run for block in blocks})
    starts = [block.start_case_c for block in blocks if block.start_case_c is not None]
    span = (min(starts), max(starts)) if starts else None
    if reason is not None:
        no_load = identify_no_load(blocks, None)
        return MotorFit(
            name,
            reason,
            reason,
            no_load,
            reason,
            0.0,
            None,
            reason,
            None,
            None,
            len(blocks),
            runs,
            span,
        )
    solved = _solve_with_heat(blocks)
    scale = solved.chi2 / solved.freedom if solved.freedom > 0 else None
    covariance = solved.covariance * max(1.0, scale or 1.0)
    kv, resistance = 1.0 / float(solved.values[0]), float(solved.values[1])
    if kv <= 0 or resistance <= 0:
        bad = Absent("not_a_motor", "the points contradict V = rpm/kV + R·I; check the channels")
        warnings.append(Remark("not_a_motor", f"{name or 'The motor'}: {bad.note}."))
        no_load = identify_no_load(blocks, None)
        return MotorFit(
            name, bad, bad, no_load, bad, 0.0, None, bad, None, scale, len(blocks), runs, span
        )
    stands = stands_of(blocks)
    kv_figure = Measured(
        kv,
        {
            "within_run": kv**2 * math.sqrt(covariance[0, 0]),
            **weighted_gains(stands, KV_GOES_WITH, kv),
        },
        n=runs,
        origin=Origin.DERIVED,
    )
    r_figure = Measured(
        resistance,
        {
            "within_run": math.sqrt(covariance[1, 1]),
            **weighted_gains(stands, R_GOES_WITH, resistance),
        },
        n=runs,
        origin=Origin.DERIVED,
    )
    at_c = _mean_case(blocks)
    if at_c is not None:
        # The case is not the winding: iron heats one, copper the other.
        doubt = WINDING_HALF_WIDTH_K * COPPER_SHARE * COPPER_TEMPERATURE_COEFFICIENT_PER_K
        r_figure = r_figure.with_component("winding_temperature", doubt * resistance / 3**0.5)
    warm = _warmed_ohm(solved, blocks)
    if warm:
        # Hot copper heats itself the more: the warming is no straight line over the heat.
        r_figure = r_figure.with_component("heat_model", HEAT_MODEL_SHARE * warm)
    no_load = identify_no_load(blocks, Motor(kv, resistance, 0.0))
    kt = _torque_constant(blocks, kv, no_load, warnings, name)
    if span is not None and span[1] - span[0] > 5.0:
        warnings.append(
            Remark(
                "start_temperatures_differ",
                f"{name or 'The motor'}: runs started between {span[0]:.0f} and {span[1]:.0f} °C; "
                "warm copper counts as resistance.",
            )
        )
    return MotorFit(
        name,
        kv_figure,
        r_figure,
        no_load,
        kt,
        -(kv**2) * float(covariance[0, 1]),
        at_c,
        _heat(solved, covariance),
        WINDING_TIMES_S[solved.time] if "heat" in solved.terms else None,
        scale,
        len(blocks),
        runs,
        span,
    )


def _not_enough(blocks: Sequence[Block]) -> Absent | None:
    if not blocks:
        return Absent("no_known_duty", "needs V, A and rpm at full throttle or a logged duty")
    currents = [block.motor_current_a for block in blocks]
    if max(currents) - min(currents) < SMALLEST_SPREAD * max(currents):
        return Absent("one_load", "needs full throttle at two different loads, or a no-load run")
    return None


def _solve_with_heat(blocks: Sequence[Block]) -> _Solved:
    """The plain fit, with heat terms added one at a time while they earn their place."""
    best = _solve(blocks, (), 0)
    tried: list[tuple[str, tuple[int, ...]]] = [
        ("heat", tuple(range(len(WINDING_TIMES_S)))),
        ("case", (0,)),
    ]
    for _ in range(2):
        candidates = []
        for term, times in tried:
            if term in best.terms or not _varies(blocks, term):
                continue
            for time in times:
                use = time if term == "heat" else best.time
                found = _solve(blocks, (*best.terms, term), use)
                if found.freedom > 0 and found.values[-1] > 0:
                    candidates.append(found)
        if not candidates:
            break
        better = min(candidates, key=lambda found: found.chi2)
        noise = max(1.0, better.chi2 / better.freedom)
        if best.chi2 - better.chi2 < SHOWN_BY_CHI2 * noise:
            break
        best = better
    return best


def _varies(blocks: Sequence[Block], term: str) -> bool:
    if term == "heat":
        heats = [block.heat_a2s[0] for block in blocks]
        return max(heats) > 1.2 * min(heats)
    cases = [block.case_c for block in blocks]
    if any(case is None for case in cases):
        return False
    known = [case for case in cases if case is not None]
    return max(known) - min(known) > 3.0


def _solve(blocks: Sequence[Block], terms: tuple[str, ...], time: int) -> _Solved:
    speed = np.array([b.speed_rpm for b in blocks])
    current = np.array([b.motor_current_a for b in blocks])
    target = np.array([b.duty * b.voltage_v for b in blocks])
    # R belongs to the mean case temperature; between blocks it follows the case as copper does,
    # and the heat term is what the winding stands above the case.
    middle = _mean_case(blocks) or 0.0
    above = np.array([0.0 if b.case_c is None else b.case_c - middle for b in blocks])
    usual = COPPER_SHARE * COPPER_TEMPERATURE_COEFFICIENT_PER_K
    columns = [speed, current * (1.0 + usual * above)]
    for term in terms:
        if term == "heat":
            columns.append(current * np.array([b.heat_a2s[time] for b in blocks]))
        else:
            columns.append(current * above)
    design = np.stack(columns, axis=1)
    u_target = np.array([b.duty * b.u_voltage_v for b in blocks])
    u_speed = np.array([b.u_speed_rpm for b in blocks])
    u_current = np.array([b.u_current_a / b.duty for b in blocks])
    # A mean of a few quiet, quantised samples is never better than 1e-5 of its value.
    floor = 1e-5 * np.abs(target)
    values = np.linalg.lstsq(design, target, rcond=None)[0]
    for _ in range(4):
        variance = (
            u_target**2 + floor**2 + (values[0] * u_speed) ** 2 + (values[1] * u_current) ** 2
        )
        weights = 1.0 / np.sqrt(variance)
        scaled = design * weights[:, None]
        size = np.maximum(np.linalg.norm(scaled, axis=0), 1e-100)
        inverse = np.linalg.pinv((scaled / size).T @ (scaled / size)) / np.outer(size, size)
        values = inverse @ (scaled.T @ (target * weights))
    rest = (target - design @ values) * weights
    return _Solved(values, inverse, float(rest @ rest), len(blocks) - design.shape[1], terms, time)


def _warmed_ohm(solved: _Solved, blocks: Sequence[Block]) -> float:
    """What the winding's warming adds to R on the mean of the loaded blocks [Ω]."""
    if "heat" not in solved.terms:
        return 0.0
    heats = [block.heat_a2s[solved.time] for block in blocks if not block.no_load]
    if not heats:
        return 0.0
    return float(solved.values[2 + solved.terms.index("heat")]) * math.fsum(heats) / len(heats)


def _heat(solved: _Solved, covariance: Floats) -> Figure:
    if "heat" not in solved.terms:
        return Absent("not_shown", "the runs do not show the winding's warming apart from noise")
    i = 2 + solved.terms.index("heat")
    return Measured(
        float(solved.values[i]), {"within_run": math.sqrt(covariance[i, i])}, origin=Origin.DERIVED
    )


def _mean_case(blocks: Sequence[Block]) -> float | None:
    known = [block.case_c for block in blocks if block.case_c is not None]
    return math.fsum(known) / len(known) if known else None


def _torque_constant(
    blocks: Sequence[Block], kv: float, no_load: NoLoad, warnings: list[Remark], name: str
) -> Figure:
    """Kt of torque = Kt·(I − I0) where torque was logged, checked against 60/(2π·kV)."""
    with_torque = [b for b in blocks if b.torque_nm is not None and not b.no_load]
    if not with_torque:
        return Absent("not_logged", "torque was not logged at a known duty")
    if isinstance(no_load.offset_a, Absent):
        return no_load.offset_a
    slope = no_load.slope_a_per_rpm
    per_rpm = slope.value if isinstance(slope, Measured) else 0.0
    x = np.array(
        [b.motor_current_a - no_load.offset_a.value - per_rpm * b.speed_rpm for b in with_torque]
    )
    y = np.array([b.torque_nm or 0.0 for b in with_torque])
    kt = float(x @ y) / float(x @ x)
    rest = y - kt * x
    scatter = math.sqrt(float(rest @ rest) / max(1, x.size - 1) / float(x @ x))
    u_idle = kt * no_load.offset_a.u * float(x.sum()) / float(x @ x)
    parts = {"within_run": scatter, "no_load_current": u_idle}
    parts |= weighted_gains(stands_of(with_torque), {"torque_nm": 1.0, "current_a": -1.0}, kt)
    figure = Measured(kt, parts, origin=Origin.DERIVED)
    expected = 60.0 / (2.0 * math.pi * kv)
    if abs(kt / expected - 1.0) > max(0.05, 3.0 * figure.relative_u):
        warnings.append(
            Remark(
                "kt_kv_mismatch",
                f"{name or 'The motor'}: torque gives Kt {1000 * kt:.3f} mN·m/A, kV gives "
                f"{1000 * expected:.3f}; check torque arm, pole count or current.",
            )
        )
    return figure
