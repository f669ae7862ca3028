"""A motor and a propeller as well as they are known today, whatever that rests on.

From the best to the weakest: *identified* from the sample's own runs; *partly*, where its runs do
not yet tell kV and R apart and the guess fills in; *siblings*, other samples of the model, with
what samples differ by; *guessed* from label and size.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np

from spindle_core.figures.constants import COPPER_TEMPERATURE_COEFFICIENT_PER_K
from spindle_core.figures.measured import Absent, Figure, Measured, Origin, component
from spindle_core.identification.blocks import Block, stands_of
from spindle_core.identification.motor import COPPER_SHARE, HEAT_MODEL_SHARE, MotorFit
from spindle_core.identification.propeller import PropellerFit
from spindle_core.model.operating_point import Motor, Propeller
from spindle_core.planning.prior import WINDING_TIME_S, MotorPrior
from spindle_core.run.stand import mean_gains

SAMPLE_SPREAD = {"kv": 0.015, "resistance": 0.05, "no_load": 0.25}
"""What two samples of one model usually differ by (relative s), where three were not measured."""

SPREAD_WEIGHT = 2.0
SIBLING_WINDING_U = 0.15


class Foundation(StrEnum):
    """What a known motor or propeller rests on, from the best to the weakest."""

    IDENTIFIED = "identified"
    PARTLY = "partly"
    SIBLINGS = "siblings"
    GUESSED = "guessed"


@dataclass(frozen=True, slots=True)
class KnownMotor:
    """Constants with u, jointly: components of one name are shared between them.

    ``no_load_a`` is a of I0 = a + b·rpm, ``no_load_slope_a_per_rpm`` its b. A winding that has
    carried a current for long stands ``warming_ohm_per_a2``·I² above ``resistance_ohm``; it gets
    there with the time constant ``winding_time_s``. ``words`` say in a phrase what
    it rests on.
    """

    kv_rpm_per_v: Measured
    resistance_ohm: Measured
    no_load_a: Measured
    no_load_slope_a_per_rpm: float
    warming_ohm_per_a2: Measured
    winding_time_s: float
    basis: Foundation
    words: str

    @property
    def model(self) -> Motor:
        """The motor for the operating point."""
        return Motor(
            self.kv_rpm_per_v.value,
            self.resistance_ohm.value,
            max(0.0, self.no_load_a.value),
            max(0.0, self.no_load_slope_a_per_rpm),
        )


@dataclass(frozen=True, slots=True)
class KnownPropeller:
    """CT and CP with u at ``rpm_reference``, and how they change with speed."""

    diameter_in: float
    ct: Measured
    cp: Measured
    basis: Foundation
    words: str
    ct_exponent: float = 0.0
    cp_exponent: float = 0.0
    rpm_reference: float = 20_000.0

    def model(self, speed_rpm: float | None = None) -> Propeller:
        """The propeller for the operating point, at a speed where that matters."""
        share = 1.0 if speed_rpm is None else speed_rpm / self.rpm_reference
        return Propeller(
            self.diameter_in,
            self.ct.value * share**self.ct_exponent,
            self.cp.value * share**self.cp_exponent,
        )


def known_motor(
    *,
    name: str,
    fit: MotorFit | None,
    blocks: Sequence[Block],
    siblings: Mapping[str, MotorFit],
    prior: MotorPrior,
) -> KnownMotor | Absent:
    """The motor as well as it is known.

    :param name: of the sample, for components that its figures share.
    :param fit: of the sample's own accepted runs, None without any; ``blocks`` are theirs.
    :param siblings: fits of other samples of the model, by name.
    """
    if fit is not None and fit.usable:
        return _identified(name, fit, prior)
    usable = {key: other for key, other in siblings.items() if other.usable and key != name}
    begin = _from_siblings(usable, prior) if usable else _guessed(prior)
    contradicts = fit is not None and absent_reason(fit.kv_rpm_per_v) == "not_a_motor"
    if isinstance(begin, Absent) or not blocks or contradicts:
        return begin
    return _moved(name, begin, blocks, fit)


def absent_reason(figure: Figure) -> str:
    """Why a figure is not there; empty where it is."""
    return figure.reason if isinstance(figure, Absent) else ""


def _warming(resistance: Measured, winding_k_per_w: Measured) -> Measured:
    """What the winding's warming adds to R on an ampere squared, in the long run [Ω/A²]."""
    per_k = COPPER_SHARE * COPPER_TEMPERATURE_COEFFICIENT_PER_K
    value = per_k * COPPER_SHARE * resistance.value**2 * winding_k_per_w.value
    return Measured(value, {"winding": winding_k_per_w.relative_u * value}, origin=Origin.ESTIMATED)


def winding_k_per_w(fit: MotorFit) -> float | None:
    """How far the winding stands above the case per watt of copper loss, where runs show it."""
    heat, ohm = fit.heat_ohm_per_a2s, fit.resistance_ohm
    if isinstance(heat, Absent) or isinstance(ohm, Absent) or fit.winding_time_s is None:
        return None
    per_k = COPPER_SHARE * COPPER_TEMPERATURE_COEFFICIENT_PER_K
    return heat.value * fit.winding_time_s / (per_k * COPPER_SHARE * ohm.value**2)


def _identified(name: str, fit: MotorFit, prior: MotorPrior) -> KnownMotor:
    kv, resistance = fit.kv_rpm_per_v, fit.resistance_ohm
    assert isinstance(kv, Measured)
    assert isinstance(resistance, Measured)
    shared = component("fit", name)
    scatter = kv.component("within_run")
    if scatter > 0:
        along = fit.kv_resistance_covariance / scatter
        own = resistance.component("within_run")
        rest = math.sqrt(max(0.0, own**2 - along**2))
        kv = _renamed(kv, {shared: scatter})
        resistance = _renamed(resistance, {shared: along, component("fit_r", name): rest})
    idle = fit.no_load.offset_a
    slope = fit.no_load.slope_a_per_rpm
    runs = f"{fit.runs} run{'s' * (fit.runs != 1)}"
    if isinstance(idle, Absent):
        idle = Measured(0.8, {"assumed_no_load": 0.4}, origin=Origin.ESTIMATED)
    return KnownMotor(
        kv,
        resistance,
        idle,
        slope.value if isinstance(slope, Measured) else 0.0,
        _identified_warming(fit, resistance, prior),
        fit.winding_time_s or WINDING_TIME_S,
        Foundation.IDENTIFIED,
        f"identified from {runs}",
    )


def _identified_warming(fit: MotorFit, resistance: Measured, prior: MotorPrior) -> Measured:
    heat = fit.heat_ohm_per_a2s
    if isinstance(heat, Absent) or fit.winding_time_s is None:
        # Runs that did not show it have part of it in their R: anything from none to the usual.
        usual = _warming(resistance, prior.winding_k_per_w)
        half = 0.5 * usual.value
        return Measured(half, {"winding": math.hypot(half, 0.5 * usual.u)}, origin=usual.origin)
    value = heat.value * fit.winding_time_s
    # Hot copper heats itself the more: the warming is no straight line over the heat.
    parts = {"within_run": heat.u * fit.winding_time_s, "heat_model": HEAT_MODEL_SHARE * value}
    return Measured(value, parts, origin=Origin.DERIVED)


def _renamed(figure: Measured, parts: Mapping[str, float]) -> Measured:
    kept = {key: part for key, part in figure.components.items() if key != "within_run"}
    return replace(figure, components={**kept, **parts})


def _guessed(prior: MotorPrior) -> KnownMotor | Absent:
    kv, resistance, idle = prior.kv_rpm_per_v, prior.resistance_ohm, prior.no_load_current_a
    for figure in (kv, resistance):
        if isinstance(figure, Absent):
            return figure
    assert isinstance(kv, Measured)
    assert isinstance(resistance, Measured)
    if isinstance(idle, Absent):
        idle = Measured(1.0, {"assumed_no_load": 0.6}, origin=Origin.ESTIMATED)
    warming = _warming(resistance, prior.winding_k_per_w)
    return KnownMotor(
        kv, resistance, idle, 0.0, warming, WINDING_TIME_S, Foundation.GUESSED, prior.words
    )


def model_figures(fits: Mapping[str, MotorFit]) -> dict[str, Figure]:
    """kV, R and I0 of a *model*: mean over its identified samples, n = samples.

    u is that of the next sample's expectation: what samples differ by, assumed until three of
    them have shown it, with what the mean itself is uncertain by.
    """
    usable = {name: fit for name, fit in fits.items() if fit.usable}
    if not usable:
        missing = Absent("no_sample_identified", "no sample of this model is identified yet")
        return dict.fromkeys(("kv_rpm_per_v", "resistance_ohm", "no_load_current_a"), missing)
    rows: dict[str, tuple[str, list[Figure]]] = {
        "kv_rpm_per_v": ("kv", [fit.kv_rpm_per_v for fit in usable.values()]),
        "resistance_ohm": ("resistance", [fit.resistance_ohm for fit in usable.values()]),
        "no_load_current_a": ("no_load", [fit.no_load.current_a for fit in usable.values()]),
    }
    return {name: _next_sample(kind, figures) for name, (kind, figures) in rows.items()}


def _next_sample(kind: str, figures: Sequence[Figure]) -> Figure:
    known = [figure for figure in figures if isinstance(figure, Measured) and figure.value > 0]
    if not known:
        return figures[0]
    logs = [math.log(figure.value) for figure in known]
    mean = math.fsum(logs) / len(logs)
    usual = SAMPLE_SPREAD[kind]
    about = math.fsum((value - mean) ** 2 for value in logs)
    spread = math.sqrt((about + SPREAD_WEIGHT * usual**2) / (len(logs) - 1 + SPREAD_WEIGHT))
    value = math.exp(mean)
    own = math.sqrt(math.fsum(figure.relative_u**2 for figure in known)) / len(known)
    part = "sample_spread" if len(known) >= 3 else "assumed_sample_spread"
    return Measured(
        value,
        {part: value * spread * math.sqrt(1.0 + 1.0 / len(known)), "samples": value * own},
        n=len(known),
        origin=Origin.DERIVED,
    )


def _from_siblings(fits: Mapping[str, MotorFit], prior: MotorPrior) -> KnownMotor:
    figures = model_figures(fits)
    kv, resistance = figures["kv_rpm_per_v"], figures["resistance_ohm"]
    idle = figures["no_load_current_a"]
    if isinstance(idle, Absent):
        idle = prior.no_load_current_a
    if isinstance(idle, Absent):
        idle = Measured(1.0, {"assumed_no_load": 0.6}, origin=Origin.ESTIMATED)
    assert isinstance(kv, Measured)
    assert isinstance(resistance, Measured)
    listed = ", ".join(sorted(fits))
    return KnownMotor(
        replace(kv, origin=Origin.ESTIMATED),
        replace(resistance, origin=Origin.ESTIMATED),
        replace(idle, origin=Origin.ESTIMATED),
        0.0,
        _sibling_warming(fits, resistance, prior),
        next((fit.winding_time_s for fit in fits.values() if fit.winding_time_s), WINDING_TIME_S),
        Foundation.SIBLINGS,
        f"as {listed} of the same model",
    )


def _sibling_warming(
    fits: Mapping[str, MotorFit], resistance: Measured, prior: MotorPrior
) -> Measured:
    rises = [rise for fit in fits.values() if (rise := winding_k_per_w(fit)) is not None]
    if not rises:
        return _warming(resistance, prior.winding_k_per_w)
    mean = _mean(rises)
    return _warming(resistance, Measured(mean, {"samples": SIBLING_WINDING_U * mean}))


def _moved(
    name: str, begin: KnownMotor, blocks: Sequence[Block], fit: MotorFit | None
) -> KnownMotor:
    """The guess after runs that give one equation for two unknowns: d·V = rpm/kV + R·I.

    Linear in 1/kV and R, so that it is a Gaussian update with the guess as its prior (Rasmussen
    and Williams 2006, section 2.1.1).
    """
    kv, resistance = begin.kv_rpm_per_v, begin.resistance_ohm
    runs = sorted({block.run for block in blocks})
    mean = np.array([1.0 / kv.value, resistance.value])
    covariance = np.diag([(kv.u / kv.value**2) ** 2, resistance.u**2])
    # One load is one equation: more runs at it share the meters' gains and teach nothing new.
    row = np.array([_mean(b.speed_rpm for b in blocks), _mean(b.motor_current_a for b in blocks)])
    target = _mean(b.duty * b.voltage_v for b in blocks)
    gain = math.hypot(*mean_gains(stands_of(blocks), "voltage_v").values())
    step = covariance @ row / (float(row @ covariance @ row) + (gain * target) ** 2)
    mean = mean + step * (target - float(row @ mean))
    covariance = covariance - np.outer(step, row @ covariance)
    if mean[0] <= 0 or mean[1] <= 0:
        return begin
    value = 1.0 / float(mean[0])
    spread = value**2 * math.sqrt(max(0.0, float(covariance[0, 0])))
    cross = -(value**2) * float(covariance[0, 1])
    along = cross / spread if spread > 0 else 0.0
    rest = math.sqrt(max(0.0, float(covariance[1, 1]) - along**2))
    shared = component("fit", name)
    idle, slope = begin.no_load_a, begin.no_load_slope_a_per_rpm
    if fit is not None and isinstance(fit.no_load.offset_a, Measured):
        idle = fit.no_load.offset_a
        known = fit.no_load.slope_a_per_rpm
        slope = known.value if isinstance(known, Measured) else 0.0
    plural = "s" if len(runs) != 1 else ""
    return KnownMotor(
        Measured(value, {shared: spread}, n=len(runs), origin=Origin.ESTIMATED),
        Measured(
            float(mean[1]),
            {shared: along, component("fit_r", name): rest},
            n=len(runs),
            origin=Origin.ESTIMATED,
        ),
        idle,
        slope,
        begin.warming_ohm_per_a2,
        begin.winding_time_s,
        Foundation.PARTLY,
        f"{len(runs)} run{plural} at one load; {begin.words}",
    )


def _mean(values: Iterable[float]) -> float:
    listed = list(values)
    return math.fsum(listed) / len(listed)


def known_propeller(
    fit: PropellerFit | None, *, diameter_in: float, prior: tuple[Figure, Figure]
) -> KnownPropeller | Absent:
    """The propeller as well as it is known: what its runs tell, and geometry for the rest."""
    ct = fit.ct if fit is not None else Absent("not_run", "never run")
    cp = fit.cp if fit is not None else Absent("not_run", "never run")
    basis = Foundation.IDENTIFIED
    if isinstance(ct, Absent) or isinstance(cp, Absent):
        neither = isinstance(ct, Absent) and isinstance(cp, Absent)
        basis = Foundation.GUESSED if neither else Foundation.PARTLY
    figures = [
        guess if isinstance(own, Absent) else own
        for own, guess in zip((ct, cp), prior, strict=True)
    ]
    for figure in figures:
        if isinstance(figure, Absent):
            return figure
    known = [figure for figure in figures if isinstance(figure, Measured)]
    if fit is None or basis is Foundation.GUESSED:
        return KnownPropeller(
            diameter_in, known[0], known[1], basis, "guessed from diameter, pitch and blades"
        )
    runs = f"{fit.runs} run{'s' * (fit.runs != 1)}"
    return KnownPropeller(
        diameter_in,
        known[0],
        known[1],
        basis,
        f"identified from {runs}",
        _exponent(fit.ct_exponent),
        _exponent(fit.cp_exponent),
        fit.rpm_reference,
    )


def _exponent(figure: Figure) -> float:
    return figure.value if isinstance(figure, Measured) else 0.0
