"""CT and CP of a propeller from any motor's runs with speed.

CT = T/(ρ·n²·D⁴) and CP = P/(ρ·n³·D⁵) belong to the propeller, whatever turns it. Where the points
show it, both are given as C = C_ref·(rpm/rpm_ref)^m (blades work at low Reynolds numbers, which
grow with speed); else m is 0.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from spindle_core.figures.arrays import Floats
from spindle_core.figures.constants import (
    METRE_PER_INCH,
    NEWTON_PER_GF,
    REFERENCE_AIR_DENSITY_KG_PER_M3,
)
from spindle_core.figures.measured import Absent, Figure, Measured, Origin
from spindle_core.figures.remark import Remark
from spindle_core.identification.evidence import RunEvidence
from spindle_core.identification.motor import MotorFit
from spindle_core.model.operating_point import Motor, Propeller
from spindle_core.reduction.result import Point
from spindle_core.run.duty import known_duty
from spindle_core.run.stand import weighted_gains

KNOWN_AIR_RELATIVE_U = 0.004
"""±1 K, ±1 hPa and unknown humidity together move the density by about 0.4 %."""

ASSUMED_AIR_RELATIVE_U = 0.04
"""Without air data the density may be anything from a hot hill to a cold shore."""

WEAKEST_SHARE = 0.05
SHOWN_SIGMA = 4.0
"""An exponent is reported when it is this many u from 0."""

MEANS_OF_ONE_POINT = 0.002
"""Points of one run scatter at least this much about a smooth law (swirl, recirculation)."""


@dataclass(frozen=True, slots=True)
class PropellerFit:
    """Coefficients at ``rpm_reference``; exponents are absent where the data show none."""

    propeller: str
    diameter_in: float
    ct: Figure
    cp: Figure
    ct_exponent: Figure
    cp_exponent: Figure
    rpm_reference: float
    points: int
    runs: int

    def model(self) -> Propeller | Absent:
        """The propeller for :func:`spindle_core.model.operating_point.solve`."""
        if isinstance(self.ct, Absent):
            return self.ct
        if isinstance(self.cp, Absent):
            return self.cp
        return Propeller(self.diameter_in, self.ct.value, self.cp.value)


@dataclass
class _Rows:
    run: list[int]
    rpm: list[float]
    c: list[float]
    u: list[float]

    def add(self, run: int, rpm: float, c: float, relative_u: float) -> None:
        self.run.append(run)
        self.rpm.append(rpm)
        self.c.append(c)
        self.u.append(relative_u)


@dataclass(frozen=True, slots=True)
class _Idle:
    """A no-load current known at one speed only: at others it may be anything from the same to
    in proportion to speed (rectangular)."""

    current_a: float
    speed_rpm: float | None

    def u(self, speed_rpm: float) -> float:
        if self.speed_rpm is None:
            return 0.0
        return self.current_a * abs(1.0 - speed_rpm / self.speed_rpm) / math.sqrt(3.0)


def _idle_doubt(fit: MotorFit) -> _Idle:
    known = fit.no_load
    if isinstance(known.slope_a_per_rpm, Measured) or isinstance(known.current_a, Absent):
        return _Idle(0.0, None)
    return _Idle(known.current_a.value, known.speed_rpm)


def identify_propeller(
    name: str, runs: Sequence[RunEvidence], motors: Mapping[str, MotorFit], warnings: list[Remark]
) -> PropellerFit | None:
    """Coefficients from all runs of one propeller; None when no run has speed and its size.

    Shaft power is torque × speed where torque was logged, else Kt·(I − I0)·ω of the identified
    motor at known duty.
    """
    diameter = next((r.facts.prop_diameter_in for r in runs if r.facts.prop_diameter_in), None)
    if diameter is None:
        if any(run.measures_thrust for run in runs):
            warnings.append(
                Remark(
                    "no_diameter",
                    f"{name or 'A propeller'}: no run says prop_diameter_in, so that CT and CP "
                    "cannot be found.",
                )
            )
        return None
    thrust, power = _Rows([], [], [], []), _Rows([], [], [], [])
    by_torque = all(run.measures_torque for run in runs)
    air_u = KNOWN_AIR_RELATIVE_U
    for number, run in enumerate(runs):
        density = run.facts.air_density()
        if isinstance(density, Absent):
            density, air_u = REFERENCE_AIR_DENSITY_KG_PER_M3, ASSUMED_AIR_RELATIVE_U
            warnings.append(
                Remark(
                    "air_assumed",
                    f"{name or 'The propeller'}: a run has no air temperature and pressure; "
                    "1.225 kg/m³ was assumed.",
                )
            )
        fit = motors.get(run.facts.motor_key)
        model = fit.model() if fit is not None else Absent("no_motor", "no motor")
        idle = _Idle(0.0, None) if fit is None else _idle_doubt(fit)
        _gather(number, run, density, diameter, model, idle, thrust, power)
    if not thrust.c and not power.c:
        return None
    stands = {run.run: run.stand for run in runs}
    shaft = {"torque_nm" if by_torque else "current_a": 1.0, "speed_rpm": -2.0}
    reference = float(np.exp(np.mean(np.log(thrust.rpm or power.rpm))))
    ct, ct_m = _fit(
        thrust,
        reference,
        {"air": -air_u, **weighted_gains(stands, {"thrust_gf": 1.0, "speed_rpm": -2.0}, 1.0)},
    )
    cp, cp_m = _fit(power, reference, {"air": -air_u, **weighted_gains(stands, shaft, 1.0)})
    return PropellerFit(
        name, diameter, ct, cp, ct_m, cp_m, reference, max(len(thrust.c), len(power.c)), len(runs)
    )


def _gather(
    number: int,
    run: RunEvidence,
    density: float,
    diameter_in: float,
    model: Motor | Absent,
    idle: _Idle,
    thrust: _Rows,
    power: _Rows,
) -> None:
    diameter = diameter_in * METRE_PER_INCH
    points = run.points
    largest = max((_of(p, "thrust_gf") or 0.0 for p in points), default=0.0)
    fastest = max((_of(p, "speed_rpm") or 0.0 for p in points), default=0.0)
    for point in points:
        speed = _measured(point, "speed_rpm")
        if speed is None or speed.value < 0.2 * fastest or speed.value <= 0:
            continue
        n = speed.value / 60.0
        relative_n = speed.scatter / speed.value
        t = _measured(point, "thrust_gf")
        if t is not None and t.value > WEAKEST_SHARE * largest:
            c = t.value * NEWTON_PER_GF / (density * n**2 * diameter**4)
            thrust.add(number, speed.value, c, math.hypot(t.scatter / t.value, 2.0 * relative_n))
        shaft = _shaft(run, point, speed, model, idle)
        if shaft is not None and shaft[0] > 0:
            c = shaft[0] / (density * n**3 * diameter**5)
            power.add(number, speed.value, c, math.hypot(shaft[1] / shaft[0], 3.0 * relative_n))


def _shaft(
    run: RunEvidence, point: Point, speed: Measured, model: Motor | Absent, doubt: _Idle
) -> tuple[float, float] | None:
    """Shaft power and its own scatter [W]."""
    omega = speed.value * math.pi / 30.0
    torque = _measured(point, "torque_nm")
    if torque is not None:
        return torque.value * omega, torque.scatter * omega
    current = _measured(point, "current_a")
    duty = known_duty(
        duty=_of(point, "duty"),
        throttle_pct=_of(point, "throttle_pct"),
        esc_linear=run.facts.esc_linear,
    )
    if isinstance(model, Absent) or current is None or duty is None:
        return None
    idle = model.no_load_current_a + model.no_load_slope_a_per_rpm * speed.value
    kt = model.torque_constant_nm_per_a
    u = math.hypot(current.scatter / duty, doubt.u(speed.value))
    return kt * (current.value / duty - idle) * omega, kt * u * omega


def _measured(point: Point, name: str) -> Measured | None:
    """A figure of a point; a burst's sustained figure stands for itself."""
    for key in (name, f"sustained_{name}"):
        figure = point.figures.get(key)
        if isinstance(figure, Measured):
            return figure
    return None


def _of(point: Point, name: str) -> float | None:
    figure = _measured(point, name)
    return None if figure is None else figure.value


def _fit(rows: _Rows, reference: float, shared: Mapping[str, float]) -> tuple[Figure, Figure]:
    """ln C = ln C_ref + m·ln(rpm/rpm_ref) by weighted least squares; m only where it shows."""
    if not rows.c:
        missing = Absent("not_measured", "no point with the figures it needs")
        return missing, missing
    y = np.log(np.array(rows.c))
    x = np.log(np.array(rows.rpm) / reference)
    u = np.hypot(np.array(rows.u), MEANS_OF_ONE_POINT)
    runs = len(set(rows.run))
    flat, u_flat = _line(y, u, None)
    exponent: Figure = Absent("not_shown", "the coefficient does not change with speed")
    level, u_level = float(flat[0]), float(u_flat[0])
    if y.size >= 4 and np.ptp(x) > 0.3:
        line, u_line = _line(y, u, x)
        if abs(line[1]) > SHOWN_SIGMA * u_line[1]:
            exponent = Measured(float(line[1]), {"within_run": float(u_line[1])}, n=runs)
            level, u_level = float(line[0]), float(u_line[0])
    value = math.exp(level)
    parts = {"within_run": value * u_level}
    parts |= {name: relative * value for name, relative in shared.items()}
    return Measured(value, parts, n=runs, origin=Origin.DERIVED), exponent


def _line(y: Floats, u: Floats, x: Floats | None) -> tuple[Floats, Floats]:
    """Weighted fit of a level, or of a level and a slope; u widened by √(χ²/ν) above 1."""
    columns = [np.ones_like(y)] if x is None else [np.ones_like(y), x]
    design = np.stack(columns, axis=1) / u[:, None]
    inverse = np.linalg.pinv(design.T @ design)
    values = inverse @ (design.T @ (y / u))
    rest = y / u - design @ values
    freedom = y.size - design.shape[1]
    chi2 = float(rest @ rest) / freedom if freedom > 0 else 1.0
    return values, np.sqrt(np.diag(inverse) * max(1.0, chi2))
