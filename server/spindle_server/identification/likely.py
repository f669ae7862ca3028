"""What a run's reduction is told of its motor: the likely resistance where its own runs do not show
it, and what a soak needs to tell heat from its causes.

It rests on nothing that another motor's runs could change: figures that were made with it must not
go stale with every run of the bench.
"""

from __future__ import annotations

from typing import Any

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Measured
from spindle_core.formats.identification_json import motor_fit_from_json
from spindle_core.motor.temperature_ceiling import enamel_limit
from spindle_core.planning.known import model_figures
from spindle_core.planning.prior import Experience, motor_prior
from spindle_server.identification.models import Identified
from spindle_server.motors.models import Claim, Sample
from spindle_server.runs.models import Run

SOAK_DIGITS = 4
"""A soak takes the resistance as ±10 %: finer changes of it do not make it anew."""


def likely_resistance(sample: Sample) -> tuple[Measured, str] | None:
    """Effective resistance [ohm] with its wide u, and in words what it rests on; None where
    nothing suggests one."""
    rows = Identified.objects.filter(
        sample__motor=sample.motor_id, resistance_ohm__isnull=False
    ).exclude(sample=sample)
    fits = {str(row.pk): motor_fit_from_json(row.fit) for row in rows if row.fit}
    found = model_figures(fits)["resistance_ohm"]
    if isinstance(found, Measured):
        samples = "another sample" if found.n == 1 else f"{found.n} other samples"
        return found, f"that of {samples} of the model"
    claims = Claim.objects.filter(
        motor=sample.motor_id, quantity="resistance_mohm", value__gt=0
    ).order_by("pk")
    claimed = claims.values_list("value", flat=True).first()
    motor = sample.motor
    prior = motor_prior(
        maker=motor.maker.name,
        kv_label_rpm_per_v=motor.kv_label_rpm_per_v,
        size=motor.size,
        claimed_resistance_ohm=claimed / 1000.0 if claimed else None,
        experience=Experience(),
    )
    if not isinstance(prior.resistance_ohm, Measured):
        return None
    words = "what its maker claims" if claimed else "what is usual for its size and kV"
    return prior.resistance_ohm, words


def heat_learnt(run: Run) -> dict[str, Any]:
    """What a soak is told: its winding's ceiling by the claimed enamel, and where no torque was
    logged the sample's own resistance and no-load current, which tell what is lost in it."""
    found: dict[str, Any] = {}
    claims = Claim.objects.filter(motor=run.sample.motor_id, quantity="enamel_class")
    for words in claims.order_by("pk").values_list("words", flat=True):
        try:
            found["winding_ceiling_c"] = enamel_limit(words)[1]
        except QuantityError:
            continue
        break
    if "torque_nm" in run.channels:
        return found
    row = Identified.objects.filter(sample=run.sample_id).first()
    if row is not None and row.resistance_ohm and row.no_load_current_a:
        found["resistance_ohm"] = round(row.resistance_ohm, SOAK_DIGITS)
        found["no_load_current_a"] = round(row.no_load_current_a, 3)
    return found
