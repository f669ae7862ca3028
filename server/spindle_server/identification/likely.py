"""The resistance of a motor whose own runs do not tell it: what its siblings or its label suggest.

It rests on nothing that another motor's runs could change: figures that were made with it must not
go stale with every run of the bench.
"""

from __future__ import annotations

from spindle_core.figures.measured import Measured
from spindle_core.formats.identification_json import motor_fit_from_json
from spindle_core.planning.known import model_figures
from spindle_core.planning.prior import Experience, motor_prior
from spindle_server.identification.models import Identified
from spindle_server.motors.models import Claim, Sample


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
