"""What a log does not say of a motor: its mass, its price, its size, and what became of it."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, field

from django.db.models import Prefetch

from spindle_core.errors import CoreError
from spindle_core.figures.measured import Absent, Figure
from spindle_core.intake.parcel import price_each
from spindle_server.motor_file.masses import masses_of
from spindle_server.motors.models import Claim, Incident, MotorModel, Parcel, Sample
from spindle_server.motors.parcels import parcel_price
from spindle_server.records.kept import kept_whole
from spindle_server.rig.selectors import declaration
from spindle_server.runs.ran import evidence_revision


@dataclass(slots=True)
class Facts:
    """Of one motor. ``price`` in ``currency``, with its basis and date in ``price_words``.

    ``losses``: samples destroyed of samples there are. ``faults``: what else went wrong, counted.
    ``cells_min`` and ``cells_max`` as claimed; None where nobody says.
    """

    motor: MotorModel
    mass_g: Figure
    price: Figure
    currency: str
    price_words: str
    losses: tuple[int, int]
    faults: dict[str, int] = field(default_factory=dict)
    cells_min: float | None = None
    cells_max: float | None = None

    @property
    def size_code(self) -> str:
        """As it is written; empty where the motor has none."""
        return self.motor.size_code


def facts_of(motors: Sequence[int]) -> dict[int, Facts]:
    """Facts of motors, kept until any of the record they rest on is written."""
    return kept_whole("facts", (evidence_revision(), list(motors)), lambda: _look(motors))


def _look(motors: Sequence[int]) -> dict[int, Facts]:
    """Nine queries whatever their number."""
    incidents = Incident.objects.filter(struck_reason="")
    samples = Sample.objects.prefetch_related(
        "weighings", "preparations", Prefetch("incidents", incidents)
    )
    rows = MotorModel.objects.select_related("maker").prefetch_related(
        Prefetch("samples", samples), Prefetch("parcels", Parcel.objects.order_by("pk"))
    )
    listed = list(rows.filter(pk__in=motors))
    masses = masses_of(listed, lead_length_mm=declaration().lead_length_mm)
    cells: dict[int, dict[str, float]] = {}
    claims = Claim.objects.filter(
        motor__in=listed, quantity__in=("cells_min", "cells_max"), value__isnull=False
    )
    for claim in claims:
        cells.setdefault(claim.motor_id, {})[claim.quantity] = claim.value or 0.0
    return {motor.pk: _facts(motor, masses[motor.pk], cells.get(motor.pk, {})) for motor in listed}


def _facts(motor: MotorModel, mass: Figure, cells: dict[str, float]) -> Facts:
    price, currency, words = _price(motor)
    happened = [row for sample in motor.samples.all() for row in sample.incidents.all()]
    destroyed = {row.sample_id for row in happened if row.destroyed}
    return Facts(
        motor,
        mass,
        price,
        currency,
        words,
        (len(destroyed), len(motor.samples.all())),
        dict(Counter(row.get_kind_display() for row in happened)),
        cells.get("cells_min"),
        cells.get("cells_max"),
    )


def _price(motor: MotorModel) -> tuple[Figure, str, str]:
    """Of the newest parcel that has one."""
    figure: Figure = Absent("no_price", "no price on record")
    for parcel in reversed(motor.parcels.all()):
        if parcel.price_amount is None:
            continue
        try:
            figure = price_each(
                parcel.price_amount,
                motors_for_it=parcel.set_size or 1,
                shipping=parcel.shipping_amount,
                guessed=parcel.price_status == "guessed",
            )
        except CoreError as error:
            return Absent("no_price", error.message), "", ""
        if not isinstance(figure, Absent) and figure.value <= 0:
            return Absent("given", "it cost nothing"), "", ""
        said = parcel_price(parcel)
        words = str(said["basis"]) + (", guessed" if said["guessed"] else "")
        if parcel.priced_on:
            words += f", {parcel.priced_on:%d %b %Y}"
        return figure, parcel.price_currency, words
    return figure, "", ""
