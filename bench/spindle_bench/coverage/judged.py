"""What is judged of a drawn bench day beyond its runs: the next soak, two models at one kV, and a
motor on a propeller that it was never run with."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import replace

from spindle_bench.coverage.case import Case
from spindle_bench.coverage.day import Day
from spindle_bench.stand import script
from spindle_bench.stand.physics import TrueMotor
from spindle_core.compare.bench_table import Load, RanRun, bench_table, foreseen
from spindle_core.compare.table import ComparedRun
from spindle_core.figures.constants import COPPER_TEMPERATURE_COEFFICIENT_PER_K
from spindle_core.figures.measured import Absent, Measured
from spindle_core.identification import Identification, identify
from spindle_core.identification.motor import MotorFit
from spindle_core.planning.at_one_kv import at_one_kv
from spindle_core.planning.known import KnownMotor, KnownPropeller, known_motor, known_propeller
from spindle_core.planning.model_motor import model_motor
from spindle_core.planning.predict import KnownSupply
from spindle_core.planning.prior import Experience, motor_prior, propeller_prior
from spindle_core.planning.soak import predict_soak, soaks_before
from spindle_core.reduction import reduce_trace
from spindle_core.run.trace import Trace

LEVELS = (30.0, 50.0, 75.0, 100.0)
SAMPLES_APART = (0.015, 0.05, 0.1)
"""Relative s of kV, R and I0 from sample to sample of the drawn models."""


def judged(day: Day, traces: Sequence[Trace]) -> Iterable[Case]:
    """All three; the first two from what the day's runs identify. The last is played on the day
    drawn anew, so that it hangs on nothing that is drawn before it.

    :param traces: a no-load run and runs of plateaus on two propellers.
    """
    found = identify(list(traces))
    motor, propeller = _motor(day, found), _propeller(day, found)
    if motor is None or propeller is None:
        return
    yield from _next_soak(day, motor, propeller)
    yield from _two_models(day, motor, propeller, found.motors[0])
    yield from _never_run(Day(day.seed))


def _motor(day: Day, found: Identification) -> KnownMotor | None:
    prior = motor_prior(
        maker="",
        kv_label_rpm_per_v=day.motor.electrical.kv_rpm_per_v,
        size=None,
        experience=Experience(),
    )
    known = known_motor(name="drawn", fit=found.motors[0], blocks=(), siblings={}, prior=prior)
    return None if isinstance(known, Absent) else known


def _propeller(day: Day, found: Identification) -> KnownPropeller | None:
    fit = next((one for one in found.propellers if one.propeller == "heavy"), None)
    inches = day.propellers["heavy"].diameter_in
    known = known_propeller(fit, diameter_in=inches, prior=propeller_prior(inches, None, None))
    return None if isinstance(known, Absent) else known


def _supply(day: Day) -> KnownSupply:
    volts, ohm = day.supply.open_circuit_v, day.supply.resistance_ohm
    return KnownSupply(Measured(volts, {"supply": 0.004 * volts}), Measured(ohm))


def _next_soak(day: Day, motor: KnownMotor, propeller: KnownPropeller) -> Iterable[Case]:
    """The rise of a soak of another length, and now and then another load, before it is made."""
    level = float(day.rng.choice((55.0, 70.0)))
    next_level = level if day.seed % 3 else 60.0
    lengths = day.rng.uniform(40.0, 90.0, 2)
    played = [
        day.run(
            number,
            "soak",
            script.plateaus((pct,), dwell_s=float(seconds), rest_s=4.0),
            float(seconds) + 30.0,
            propeller="heavy",
            rate_hz=10.0,
        )
        for number, seconds, pct in zip((30, 31), lengths, (level, next_level), strict=True)
    ]
    course = [(next_level, next_level, float(lengths[1]))]
    made = predict_soak(
        motor,
        propeller,
        _supply(day),
        Measured(day.density, {"air": 0.003 * day.density}),
        soaks_before([reduce_trace(played[0][1]).summary]),
        course=course,
        esc_linear=True,
    )["rise_k"]
    if isinstance(made, Measured):
        stop = round((4.0 + float(lengths[1])) * 10.0) - 2
        truth = float(played[1][0].truth["case_c"][stop]) - day.ambient_c
        yield Case("rise of the next soak", made.value, made.u, truth)


def _two_models(
    day: Day, motor: KnownMotor, propeller: KnownPropeller, fit: MotorFit
) -> Iterable[Case]:
    """What design makes of the difference in thrust of two models, each known by one sample."""
    model = replace(
        day.model,
        electrical=replace(
            day.model.electrical,
            kv_rpm_per_v=day.model.electrical.kv_rpm_per_v * 1.12,
            resistance_ohm=day.model.electrical.resistance_ohm * float(day.rng.uniform(0.6, 1.0)),
        ),
    )
    sample = _a_sample(day, model)
    traces = [
        day.run(40, "no_load", script.plateaus((100.0,), dwell_s=4.0), 10.0, motor=sample)[1],
        *(
            day.run(at, "steps", script.plateaus(LEVELS), 16.5, propeller=name, motor=sample)[1]
            for at, name in ((41, "light"), (42, "heavy"))
        ),
    ]
    found = identify(traces)
    other = _motor(day, found)
    if other is None:
        return
    told = _design(day, model_motor("a", [motor]), model_motor("b", [other]), propeller)
    true = _design(
        day, _as_it_is(motor, day.model, fit), _as_it_is(other, model, found.motors[0]), propeller
    )
    if isinstance(told, Measured) and isinstance(true, Measured):
        # Of a hundred, so that the row's percentages are the difference's.
        yield Case("two models at one kV", 100.0 + told.value, told.u, 100.0 + true.value)


def _never_run(day: Day) -> Iterable[Case]:
    """Thrust and power of a model at full throttle with a propeller that only others were run
    with, each model known by one sample."""
    heavy = day.propellers["heavy"]
    day.propellers["middle"] = replace(
        heavy,
        diameter_in=0.93 * heavy.diameter_in,
        ct=heavy.ct * float(day.rng.normal(1.0, 0.04)),
        cp=heavy.cp * float(day.rng.normal(1.0, 0.04)),
    )
    models = [day.model, *(_unlike(day, kv) for kv in (0.9, 1.12))]
    full = script.plateaus((100.0,), dwell_s=4.0)
    runs: list[RanRun] = []
    for at, model in enumerate(models):
        sample = _a_sample(day, model)
        for number, name in enumerate(("light", "middle", "heavy")):
            if (at, name) == (2, "heavy"):
                continue
            _, trace = day.run(
                50 + 3 * at + number, "steps", full, 9.0, propeller=name, motor=sample
            )
            made = reduce_trace(trace)
            key = f"{at}/{name}"
            core = ComparedRun(key, made.points, day.declared.repeatability)
            runs.append(RanRun(f"m{at}", "A", "steps", Load(name, "", 0.0), core, made.summary))
    played, _ = day.run(60, "steps", full, 9.0, propeller="heavy", motor=models[2])
    turning = played.channels["throttle_pct"] >= 99.0
    true = {name: float(values[turning][-400:].mean()) for name, values in played.truth.items()}
    rows = bench_table(runs)
    for name, truth in (
        ("thrust_gf", day.gravity * true["thrust_gf"]),
        ("power_w", true["voltage_v"] * true["current_a"]),
    ):
        table = foreseen(rows, name)
        told = None if isinstance(table, Absent) else table.predicted.get(("m2", "heavy"))
        if told is not None:
            label = f"{name.partition('_')[0]}, never run"
            yield Case(label, told.value, told.u, truth)


def _unlike(day: Day, kv: float) -> TrueMotor:
    """A model of the day's size, wound otherwise."""
    own = day.model.electrical
    ohm = own.resistance_ohm / kv**2 * float(day.rng.uniform(0.8, 1.2))
    wound = replace(own, kv_rpm_per_v=own.kv_rpm_per_v * kv, resistance_ohm=ohm)
    return replace(day.model, electrical=wound)


def _a_sample(day: Day, model: TrueMotor) -> TrueMotor:
    """One of a model's motors, as much unlike it as samples are."""
    kv, ohm, idle = (float(day.rng.normal(1.0, s)) for s in SAMPLES_APART)
    own = model.electrical
    return replace(
        model,
        electrical=replace(
            own,
            kv_rpm_per_v=own.kv_rpm_per_v * kv,
            resistance_ohm=own.resistance_ohm * ohm,
            no_load_current_a=own.no_load_current_a * idle,
        ),
    )


def _design(
    day: Day, one: KnownMotor, other: KnownMotor, propeller: KnownPropeller
) -> Measured | Absent:
    split = at_one_kv(
        {"a": one, "b": other},
        "a",
        day.model.electrical.kv_rpm_per_v,
        propeller,
        _supply(day),
        Measured(day.density),
    )
    return split["b"].design_pct


def _as_it_is(known: KnownMotor, true: TrueMotor, fit: MotorFit) -> KnownMotor:
    """The model as it is, its winding as warm as where R was identified."""
    own = true.electrical
    warmer = COPPER_TEMPERATURE_COEFFICIENT_PER_K * ((fit.resistance_at_c or 20.0) - 20.0)
    return replace(
        known,
        kv_rpm_per_v=Measured(own.kv_rpm_per_v),
        resistance_ohm=Measured(own.resistance_ohm * (1.0 + true.copper_share * warmer)),
        no_load_a=Measured(own.no_load_current_a),
        no_load_slope_a_per_rpm=own.no_load_slope_a_per_rpm,
    )
