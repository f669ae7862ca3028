"""Motors and propellers nobody has run yet: guessed aloud, with wide u.

A guess begins with what is written on the motor (kV, a claimed resistance) or follows from its
size, and moves with what the bench has learnt: where a maker's labels are off, the next label of
that maker is taken to be off alike; where the bench knows how Km grows with the stator, that
trend is used in place of the usual one.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field

from spindle_core.figures.measured import Absent, Figure, Measured, Origin
from spindle_core.model.operating_point import Motor
from spindle_core.model.propeller import estimate_coefficients
from spindle_core.motor.size_code import Basis, SizeCode
from spindle_core.motor.stator_trend import (
    Trend,
    TrendMotor,
    motor_constant_nm_per_sqrt_w,
    stator_trend,
)

LABEL_U = 0.058
"""A label's kV against the motor behind it: ±10 % (rectangular), until the bench knows better."""

LABEL_WEIGHT = 2.0
"""How many motors' worth :data:`LABEL_U` counts beside those that the bench has measured."""

MAKER_WEIGHT = 1.0
"""How many motors' worth all labels of the bench count beside those of the one maker."""

USUAL_KM2_PER_MM3 = 1.05e-7
"""Km² ÷ (D²·h) of small outrunners with their ESC [N²·m²/W per mm³]."""

USUAL_TREND_U = 0.35
CLAIMED_RESISTANCE_U = 0.20
BESIDE_WINDING_OHM = 0.018
BESIDE_WINDING_U_OHM = 0.010
"""Leads, connectors and ESC, which a claimed winding resistance leaves out [Ω]."""

USUAL_IDLE_A = 1.05
USUAL_IDLE_AT = (2306, 1900.0)
USUAL_WINDING_K_PER_W = 1.2
"""Winding above case per watt of copper loss, of a stator of :data:`USUAL_IDLE_AT`; a larger
stator passes more heat, in proportion to its volume."""

WINDING_U = 0.5
WINDING_U_LEARNT = 0.2
WINDING_TIME_S = 4.0
IDLE_U = 0.45
IDLE_U_LEARNT = 0.25
FEWEST_TO_LEARN = 3


@dataclass(frozen=True, slots=True)
class BenchMotor:
    """A motor the bench has identified, for what it teaches about the next one."""

    name: str
    maker: str
    motor: Motor
    kv_label_rpm_per_v: float | None = None
    size: SizeCode | None = None
    winding_k_per_w: float | None = None


@dataclass(frozen=True, slots=True)
class Experience:
    """What a bench has learnt from its identified motors.

    ``labels``: maker and ln(measured kV ÷ label) of each motor with a label. ``trend``: Km over
    the stator. ``idle_scale``: I0 of the bench's motors relative to the usual one;
    ``winding_scale``: how far their windings stand above the case per watt, likewise.
    """

    labels: tuple[tuple[str, float], ...] = ()
    trend: Trend | Absent = field(default_factory=lambda: Absent("too_few_motors", ""))
    idle_scale: float | None = None
    winding_scale: float | None = None


def learn(motors: Sequence[BenchMotor]) -> Experience:
    """What the identified motors of a bench teach about one that was never run."""
    labels = tuple(
        (m.maker, math.log(m.motor.kv_rpm_per_v / m.kv_label_rpm_per_v))
        for m in motors
        if m.kv_label_rpm_per_v
    )
    sized = [(m, m.size) for m in motors if m.size is not None and m.size.basis is Basis.STATOR]
    trend = stator_trend(
        [
            TrendMotor(
                m.name, size.diameter_mm, size.height_mm, motor_constant_nm_per_sqrt_w(m.motor)
            )
            for m, size in sized
        ]
    )
    scales = [
        math.log(m.motor.no_load_current_a / usual)
        for m, size in sized
        if m.motor.no_load_current_a > 0 and (usual := usual_idle_a(size, m.motor.kv_rpm_per_v)) > 0
    ]
    rises = [
        math.log(m.winding_k_per_w / usual_winding_k_per_w(size))
        for m, size in sized
        if m.winding_k_per_w
    ]
    return Experience(labels, trend, _typical(scales), _typical(rises))


def _typical(logs: Sequence[float]) -> float | None:
    return math.exp(math.fsum(logs) / len(logs)) if len(logs) >= FEWEST_TO_LEARN else None


@dataclass(frozen=True, slots=True)
class MotorPrior:
    """A guess: each figure *estimated* with its u, or absent; ``words`` say what it rests on."""

    kv_rpm_per_v: Figure
    resistance_ohm: Figure
    no_load_current_a: Figure
    winding_k_per_w: Measured
    words: str


def motor_prior(
    *,
    maker: str,
    kv_label_rpm_per_v: float | None,
    size: SizeCode | None,
    claimed_resistance_ohm: float | None = None,
    experience: Experience,
) -> MotorPrior:
    """What to expect of a motor before its first run.

    :param kv_label_rpm_per_v: kV as labelled; without it nothing can be expected.
    :param claimed_resistance_ohm: of the winding, as its maker states it [Ω].
    """
    rise = _winding(size, experience.winding_scale)
    if kv_label_rpm_per_v is None:
        missing = Absent("no_kv", "the motor has no kV on its label and was never run")
        return MotorPrior(missing, missing, missing, rise, "nothing is known of this motor")
    offset, spread = label_offset(maker, experience.labels)
    kv = kv_label_rpm_per_v * math.exp(offset)
    kv_figure = _estimate(kv, "label", spread)
    resistance, basis = _resistance(kv, size, claimed_resistance_ohm, experience.trend)
    idle = _idle(size, kv, experience.idle_scale)
    moved = f" moved by {100.0 * math.expm1(offset):+.1f} %" if abs(offset) >= 0.001 else ""
    return MotorPrior(
        kv_figure, resistance, idle, rise, f"label {kv_label_rpm_per_v:,.0f} rpm/V{moved}, {basis}"
    )


def label_offset(maker: str, labels: Sequence[tuple[str, float]]) -> tuple[float, float]:
    """Expected ln(kV ÷ label) of a maker's next motor, and its relative u.

    Shrunk twice: the maker's own motors towards those of the bench, and the spread of all of them
    towards :data:`LABEL_U`, so that two lucky labels do not make a third one certain.
    """
    if not labels:
        return 0.0, LABEL_U
    every = [ratio for _, ratio in labels]
    own = [ratio for name, ratio in labels if name == maker]
    bench = math.fsum(every) / (len(every) + MAKER_WEIGHT)
    offset = (math.fsum(own) + MAKER_WEIGHT * bench) / (len(own) + MAKER_WEIGHT)
    about = math.fsum((ratio - bench) ** 2 for ratio in every)
    variance = (about + LABEL_WEIGHT * LABEL_U**2) / (len(every) + LABEL_WEIGHT)
    return offset, math.sqrt(variance * (1.0 + 1.0 / (len(own) + MAKER_WEIGHT)))


def usual_idle_a(size: SizeCode, kv_rpm_per_v: float) -> float:
    """No-load current usual for a stator and kV [A]: iron loss goes with its volume."""
    usual, kv = USUAL_IDLE_AT
    volume = (usual // 100) ** 2 * (usual % 100)
    own = size.diameter_mm**2 * size.height_mm
    return USUAL_IDLE_A * math.sqrt(own / volume) * kv_rpm_per_v / kv


def usual_winding_k_per_w(size: SizeCode | None) -> float:
    """How far a winding usually stands above its case, per watt of copper loss [K/W]."""
    if size is None or size.basis is not Basis.STATOR:
        return USUAL_WINDING_K_PER_W
    usual = USUAL_IDLE_AT[0]
    volume = (usual // 100) ** 2 * (usual % 100)
    return USUAL_WINDING_K_PER_W * volume / (size.diameter_mm**2 * size.height_mm)


def _winding(size: SizeCode | None, scale: float | None) -> Measured:
    usual = usual_winding_k_per_w(size)
    if scale is None:
        return _estimate(usual, "usual_winding", WINDING_U)
    return _estimate(scale * usual, "winding_trend", WINDING_U_LEARNT)


def _resistance(
    kv: float, size: SizeCode | None, claimed_ohm: float | None, trend: Trend | Absent
) -> tuple[Figure, str]:
    if claimed_ohm is not None and claimed_ohm > 0:
        u = math.hypot(CLAIMED_RESISTANCE_U * claimed_ohm, BESIDE_WINDING_U_OHM)
        value = claimed_ohm + BESIDE_WINDING_OHM
        return Measured(value, {"claimed_resistance": u}, origin=Origin.ESTIMATED), (
            "R as claimed, with leads and ESC"
        )
    if size is None or size.basis is not Basis.STATOR:
        return Absent("no_size", "neither a claimed R nor a stator size to guess it from"), "no R"
    kt = 60.0 / (2.0 * math.pi * kv)
    d, h = size.diameter_mm, size.height_mm
    if isinstance(trend, Trend):
        km2 = trend.c * d**2 * h**2 / (h + trend.k * d)
        # The scatter is of Km; R goes with its square, and a trend of few motors is no law.
        u = max(0.10, 2.0 * trend.scatter_pct / 100.0)
        return _estimate(kt**2 / km2, "stator_trend", u), "R from the bench's trend with size"
    km2 = USUAL_KM2_PER_MM3 * d**2 * h
    return _estimate(kt**2 / km2, "usual_for_size", USUAL_TREND_U), "R as usual for its size"


def _idle(size: SizeCode | None, kv: float, scale: float | None) -> Figure:
    if size is None or size.basis is not Basis.STATOR:
        return Absent("no_size", "no stator size to guess the no-load current from")
    usual = usual_idle_a(size, kv)
    if scale is None:
        return _estimate(usual, "usual_for_size", IDLE_U)
    return _estimate(scale * usual, "idle_trend", IDLE_U_LEARNT)


def _estimate(value: float, kind: str, relative_u: float) -> Measured:
    return Measured(value, {kind: relative_u * value}, origin=Origin.ESTIMATED)


def propeller_prior(
    diameter_in: float, pitch_in: float | None, blades: int | None, *, family: str | None = None
) -> tuple[Figure, Figure]:
    """CT and CP of a propeller that was never run.

    :returns: absent where pitch or blades are not known.
    """
    if pitch_in is None or blades is None:
        missing = Absent("no_geometry", "needs the propeller's pitch and blades")
        return missing, missing
    return estimate_coefficients(diameter_in, pitch_in, blades=blades, family=family).measured()
