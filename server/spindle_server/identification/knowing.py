"""Motors, propellers and supplies as well as the bench knows them today; and what a run will do."""

from __future__ import annotations

import logging
from collections.abc import Iterable, Sequence
from typing import Any

from spindle_core.errors import CoreError
from spindle_core.figures.constants import REFERENCE_AIR_DENSITY_KG_PER_M3
from spindle_core.figures.measured import Absent, Figure, Measured, Origin
from spindle_core.formats.identification_json import motor_fit_from_json, propeller_fit_from_json
from spindle_core.identification.motor import MotorFit
from spindle_core.identification.propeller import KNOWN_AIR_RELATIVE_U, PropellerFit
from spindle_core.model.operating_point import Motor
from spindle_core.motor.temperature_ceiling import enamel_limit
from spindle_core.planning.guard import ExpectedStep
from spindle_core.planning.known import KnownMotor, KnownPropeller, known_motor, known_propeller
from spindle_core.planning.predict import KnownSupply, predict_curve, predict_run
from spindle_core.planning.prior import (
    BenchMotor,
    Experience,
    MotorPrior,
    learn,
    motor_prior,
    propeller_prior,
)
from spindle_core.planning.soak import predict_soak
from spindle_core.reduction.kinds import KINDS
from spindle_core.run.facts import RunFacts
from spindle_server.identification.models import Identified
from spindle_server.identification.rebuilding import blocks_on
from spindle_server.identification.soaks import soaks_before_next
from spindle_server.motors.models import Claim, MotorModel, Sample
from spindle_server.rig.models import Esc, Propeller, Supply

logger = logging.getLogger(__name__)

MOST_TAUGHT = 200
"""Motors from which a guess learns: the newest."""

SUPPLY_U = {"psu": 0.004, "pack": 0.012}
"""Open-circuit voltage against what is written down: a supply's dial, a pack's charge."""

MEASURED_RESISTANCE_U = 0.10
ASSUMED_RESISTANCE_U = 0.50
UNKNOWN_AIR_U = 0.04


USUAL_CEILING_C = 155.0
"""A winding whose enamel nobody knows is taken for class F."""


def ceilings_of(motors: Iterable[int]) -> dict[int, float]:
    """What the enamel of each model bears [°C], as claimed; the usual where nobody says."""
    found = dict.fromkeys(motors, USUAL_CEILING_C)
    for claim in Claim.objects.filter(motor__in=list(found), quantity="enamel_class"):
        try:
            found[claim.motor_id] = enamel_limit(claim.words)[1]
        except CoreError:
            continue
    return found


def experience() -> Experience:
    """What the identified motors of the bench teach."""
    rows = (
        Identified.objects.filter(kv_rpm_per_v__isnull=False, resistance_ohm__isnull=False)
        .select_related("sample__motor__maker")
        .defer("fit", "remarks", "runs")
        .order_by("-made_at")[:MOST_TAUGHT]
    )
    by_motor: dict[int, BenchMotor] = {}
    for row in rows:
        if row.sample is None or row.sample.motor_id in by_motor:
            continue
        motor = row.sample.motor
        by_motor[motor.pk] = BenchMotor(
            motor.full_name,
            motor.maker.name,
            Motor(
                row.kv_rpm_per_v or 0.0,
                row.resistance_ohm or 0.0,
                max(0.0, row.no_load_current_a or 0.0),
            ),
            motor.kv_label_rpm_per_v,
            motor.size,
            row.winding_k_per_w,
        )
    return learn(list(by_motor.values()))


def fits_of(motor: MotorModel) -> dict[str, MotorFit]:
    """The fits of a model's samples, by their marks."""
    return fits_of_all([motor.pk]).get(motor.pk, {})


def fits_of_all(motors: Iterable[int]) -> dict[int, dict[str, MotorFit]]:
    """The same of several models, by their numbers; one query."""
    rows = Identified.objects.filter(
        sample__motor__in=list(motors), fit__isnull=False
    ).select_related("sample")
    found: dict[int, dict[str, MotorFit]] = {}
    for row in rows:
        if row.sample and row.fit:
            found.setdefault(row.sample.motor_id, {})[row.sample.mark] = motor_fit_from_json(
                row.fit
            )
    return found


def _claimed_ohm(motors: Iterable[int]) -> dict[int, float]:
    """What the makers claim of resistance [ohm]; the first claim of each model."""
    rows = Claim.objects.filter(
        motor__in=list(motors), quantity="resistance_mohm", value__isnull=False
    )
    found: dict[int, float] = {}
    for motor, value in rows.values_list("motor", "value"):
        if value:
            found.setdefault(motor, value / 1000.0)
    return found


def prior_of(motor: MotorModel, learnt: Experience | None = None) -> MotorPrior:
    """What to expect of a model before its first run."""
    return _prior(motor, _claimed_ohm([motor.pk]).get(motor.pk), learnt or experience())


def _prior(motor: MotorModel, claimed_ohm: float | None, learnt: Experience) -> MotorPrior:
    return motor_prior(
        maker=motor.maker.name,
        kv_label_rpm_per_v=motor.kv_label_rpm_per_v,
        size=motor.size,
        claimed_resistance_ohm=claimed_ohm,
        experience=learnt,
    )


def sample_known(sample: Sample, learnt: Experience | None = None) -> KnownMotor | Absent:
    """A sample as well as it is known: its runs, its siblings', its label."""
    return samples_known([sample], learnt or experience())[sample.pk]


def samples_known(samples: Sequence[Sample], learnt: Experience) -> dict[int, KnownMotor | Absent]:
    """The same of several, by their numbers; as many queries however many they are, but for
    samples that were run and whose runs tell too little for a fit."""
    motors = {sample.motor_id for sample in samples}
    fits, claimed = fits_of_all(motors), _claimed_ohm(motors)
    return {
        sample.pk: _known(
            sample,
            fits.get(sample.motor_id, {}),
            _prior(sample.motor, claimed.get(sample.motor_id), learnt),
        )
        for sample in samples
    }


def _known(sample: Sample, fits: dict[str, MotorFit], prior: MotorPrior) -> KnownMotor | Absent:
    own = fits.get(sample.mark)
    return known_motor(
        name=f"sample {sample.pk}",
        fit=own,
        blocks=blocks_on(sample) if own is not None and not own.usable else [],
        siblings={mark: fit for mark, fit in fits.items() if mark != sample.mark},
        prior=prior,
    )


def propeller_fit(propeller: Propeller) -> PropellerFit | None:
    """What the accepted runs of a propeller tell; None while they tell nothing."""
    return _propeller_fits([propeller]).get(propeller.pk)


def _propeller_fits(propellers: Sequence[Propeller]) -> dict[int, PropellerFit]:
    rows = Identified.objects.filter(propeller__in=propellers, fit__isnull=False)
    return {
        propeller: propeller_fit_from_json(fit)
        for propeller, fit in rows.values_list("propeller", "fit")
        if propeller is not None and fit
    }


def propeller_known(propeller: Propeller) -> KnownPropeller | Absent:
    """A propeller as well as it is known."""
    return propellers_known([propeller])[propeller.pk]


def propellers_known(propellers: Sequence[Propeller]) -> dict[int, KnownPropeller | Absent]:
    """The same of several, by their numbers; one query."""
    fits = _propeller_fits(propellers)
    return {
        one.pk: known_propeller(
            fits.get(one.pk),
            diameter_in=one.diameter_in,
            prior=propeller_prior(one.diameter_in, one.pitch_in, one.blades),
        )
        for one in propellers
    }


def supply_known(supply: Supply) -> KnownSupply | Absent:
    """A supply as it is written down; a resistance that nobody measured is assumed."""
    if supply.open_circuit_v is None:
        return Absent("no_cells", f"how many cells {supply.name} has is not known")
    ohm, share = supply.resistance_ohm, MEASURED_RESISTANCE_U
    if ohm is None:
        ohm = supply.assumed.ohm if supply.assumed else 0.0
        share = ASSUMED_RESISTANCE_U
    volts = supply.open_circuit_v
    return KnownSupply(
        Measured(
            volts, {f"supply@{supply.pk}": SUPPLY_U[supply.kind] * volts}, origin=Origin.ESTIMATED
        ),
        Measured(ohm, {"supply_resistance": share * ohm}, origin=Origin.ESTIMATED),
    )


def air_known(density_kg_per_m3: float | None) -> Measured:
    """The air's density, or the reference air with a wide u where nobody noted it [kg/m³]."""
    if density_kg_per_m3 is None:
        value = REFERENCE_AIR_DENSITY_KG_PER_M3
        return Measured(value, {"assumed_air": UNKNOWN_AIR_U * value}, origin=Origin.ESTIMATED)
    return Measured(density_kg_per_m3, {"air": KNOWN_AIR_RELATIVE_U * density_kg_per_m3})


def expected(
    *,
    kind: str,
    sample: Sample,
    propeller: Propeller | None,
    supply: Supply,
    esc: Esc | None,
    density_kg_per_m3: float | None,
    highest_pct: float,
    course: Sequence[tuple[float, float, float]] = (),
) -> tuple[dict[str, Figure], str]:
    """The figures of a run before it is made, and what they rest on in words.

    Nothing that goes wrong here may keep a run from being made: then nothing is expected.
    """
    try:
        motor = sample_known(sample)
        known = propeller_known(propeller) if propeller is not None else None
        volts = supply_known(supply)
        for thing in (motor, known, volts):
            if isinstance(thing, Absent):
                return {}, thing.note
        assert isinstance(motor, KnownMotor)
        assert isinstance(volts, KnownSupply)
        assert not isinstance(known, Absent)
        air, linear = air_known(density_kg_per_m3), esc.linear if esc else None
        figures: dict[str, Figure] = {}
        if kind == "soak" and known is not None:
            before = soaks_before_next(sample)
            figures = predict_soak(
                motor, known, volts, air, before, course=course, esc_linear=linear
            )
        elif kind != "soak":
            figures = predict_run(
                kind,
                motor,
                known,
                volts,
                air,
                highest_pct=highest_pct,
                esc_linear=linear,
                course=course,
            )
        if not figures:
            return {}, f"of a run of this kind ({KINDS[kind].label.lower()}) no figure is predicted"
        words = f"motor: {motor.words}"
        return figures, f"{words}; propeller: {known.words}" if known else words
    except CoreError as error:
        return {}, error.message
    except Exception:
        logger.exception("nothing could be expected of %s", sample)
        return {}, "nothing could be expected; the server's log says why"


def expected_curve(
    *,
    sample: Sample,
    propeller: Propeller | None,
    supply: Supply,
    esc: Esc | None,
    density_kg_per_m3: float | None,
    throttles_pct: Sequence[float],
) -> tuple[ExpectedStep, ...]:
    """What is expected at each throttle of a run; empty where nothing is.

    Nothing that goes wrong here may keep a run from being made.
    """
    if propeller is None or not throttles_pct:
        return ()
    try:
        motor, known = sample_known(sample), propeller_known(propeller)
        volts = supply_known(supply)
        if isinstance(motor, Absent) or isinstance(known, Absent) or isinstance(volts, Absent):
            return ()
        found = predict_curve(
            motor,
            known,
            volts,
            air_known(density_kg_per_m3),
            throttles_pct,
            esc_linear=esc.linear if esc else None,
        )
    except CoreError:
        return ()
    except Exception:
        logger.exception("no curve could be expected of %s", sample)
        return ()
    return tuple(
        ExpectedStep(pct, {name: (one.value, one.u) for name, one in figures.items()})
        for pct, figures in found
    )


def as_rows(figures: dict[str, Figure], words: str) -> list[dict[str, Any]]:
    """Expected figures as they are kept with the run."""
    return [
        {
            "name": name,
            "value": figure.value,
            "u": figure.u,
            "components": dict(figure.components),
            "rests_on": words[:300],
        }
        for name, figure in figures.items()
        if isinstance(figure, Measured)
    ]


def reasons(figures: dict[str, Figure]) -> Sequence[str]:
    """Why figures cannot be said, each once."""
    found = [figure.note for figure in figures.values() if isinstance(figure, Absent)]
    return list(dict.fromkeys(found))


def density_of(air: dict[str, Any]) -> float | None:
    """Density of the air that a bench day or a run noted [kg/m³]; None without it."""
    facts = RunFacts(
        air_temp_c=air.get("air_temp_c"),
        air_pressure_hpa=air.get("air_pressure_hpa"),
        air_humidity_pct=air.get("air_humidity_pct"),
    )
    density = facts.air_density()
    return None if isinstance(density, Absent) else density
