"""A bench of the design's size: 2,000 motors, 6,000 samples, 50,000 runs, nothing real in it.

For measuring how lists, files and judgements hold up. Its runs were played by the simulated stand
and reduced; there are no photos.
"""

from __future__ import annotations

import datetime
import random
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Any

from django.db import models, transaction

from spindle_core.teardown import VERSION
from spindle_server.demo.large_judgements import seed_judgements
from spindle_server.demo.large_runs import seed_runs
from spindle_server.demo.trace_pool import pool_propellers
from spindle_server.motors.models import Claim, Maker, MotorModel, Parcel, Sample, Weighing
from spindle_server.teardown.models import Observation

Say = Callable[[str], None]


@dataclass(frozen=True, slots=True)
class Size:
    """``played``: motors that the simulated stand turns, each on ``propellers`` and in every kind
    of run; the others have runs like theirs, ``runs`` each."""

    motors: int
    played: int
    propellers: int
    runs: int


SAMPLES = 3
SIZES = {
    "small": Size(motors=12, played=1, propellers=1, runs=10),
    "medium": Size(motors=200, played=20, propellers=4, runs=25),
    "large": Size(motors=2000, played=20, propellers=4, runs=25),
}

MAKERS = 40
BATCH = 2000
DAY = datetime.date(2026, 10, 1)


@dataclass(frozen=True, slots=True)
class Seeded:
    """How much was made."""

    motors: int
    samples: int
    observations: int
    runs: int


def seed(size: str, say: Say, *, number: int = 7) -> Seeded:
    """Fill an empty record; the same ``number`` makes the same bench.

    :raises KeyError: a size that is none of :data:`SIZES`.
    """
    wanted = SIZES[size]
    draw = random.Random(number)  # noqa: S311 - made-up data
    with transaction.atomic():
        motors, samples, made = _motors(wanted.motors, draw, say)
    runs = seed_runs(wanted.played, wanted.propellers, wanted.runs, draw, say)
    seed_judgements(list(MotorModel.objects.order_by("pk").select_related("maker")), draw)
    return Seeded(motors, samples, made, runs)


def _motors(count: int, draw: random.Random, say: Say) -> tuple[int, int, int]:
    """Motors with all but runs, and propellers; returns how many motors, samples, answers."""
    Maker.objects.bulk_create([Maker(name=f"Seed maker {k:02d}") for k in range(MAKERS)])
    makers = list(Maker.objects.filter(name__startswith="Seed maker"))
    _store(MotorModel, (_motor(draw, makers, k) for k in range(count)))
    motors = list(MotorModel.objects.filter(maker__in=makers).order_by("pk"))
    say(f"{len(motors)} motors")
    _store(Parcel, (_parcel(draw, motor) for motor in motors))
    _store(Claim, (claim for motor in motors for claim in _claims(draw, motor)))
    parcels = dict(Parcel.objects.filter(motor__in=motors).values_list("motor", "pk"))
    _store(
        Sample,
        (
            Sample(motor=motor, parcel_id=parcels[motor.pk], mark="ABCDEFGH"[k], turning="cw")
            for motor in motors
            for k in range(SAMPLES)
        ),
    )
    samples = list(Sample.objects.filter(motor__in=motors).select_related("motor"))
    say(f"{len(samples)} samples")
    _store(Weighing, (row for sample in samples for row in _weighings(draw, sample)))
    made = _store(Observation, (row for sample in samples for row in _observations(draw, sample)))
    say(f"{made} observations")
    pool_propellers(makers)
    return len(motors), len(samples), made


def _store(model: type[models.Model], rows: Iterable[Any]) -> int:
    """In batches, so that memory stays flat; history is not written for made-up rows."""
    batch, count = [], 0
    for row in rows:
        batch.append(row)
        if len(batch) == BATCH:
            model._default_manager.bulk_create(batch)
            count, batch = count + len(batch), []
    model._default_manager.bulk_create(batch)
    return count + len(batch)


def _motor(draw: random.Random, makers: list[Maker], index: int) -> MotorModel:
    diameter = draw.choice([13, 14, 15, 18, 20, 21, 22, 23, 24, 25, 28])
    height = draw.choice([4, 5, 5.5, 6, 7, 8])
    return MotorModel(
        maker=makers[index % len(makers)],
        name=f"Model {index // len(makers):03d}",
        size_code=f"{diameter}{height:0{'4.1f' if height % 1 else '2g'}}",
        size_basis="stator",
        kv_label_rpm_per_v=50 * round(_kv_rpm_per_v(diameter, height, draw) / 50),
    )


def _kv_rpm_per_v(diameter_mm: float, height_mm: float, draw: random.Random) -> float:
    """As its size has it, and no bare shaft beyond what the stand allows."""
    return min(3400.0, 2.9e5 / diameter_mm / height_mm * draw.uniform(0.75, 1.3))


def _parcel(draw: random.Random, motor: MotorModel) -> Parcel:
    return Parcel(
        motor=motor,
        obtained=draw.choice(["bought", "loaned", "sponsored"]),
        arrived_on=DAY,
        price_amount=round(draw.uniform(9, 40), 2),
        price_currency="EUR",
        shipping="included",
    )


def _mass_g(motor: MotorModel) -> float:
    diameter, height = float(motor.size_code[:2]), float(motor.size_code[2:])
    return 4.0 + 0.0088 * diameter**2 * height


def _claims(draw: random.Random, motor: MotorModel) -> list[Claim]:
    mass = _mass_g(motor)
    values = {
        "mass_g": mass,
        "max_current_a": mass * draw.uniform(0.9, 1.3),
        "max_power_w": mass * draw.uniform(16, 22),
        "cells_min": 3,
        "cells_max": 6,
    }
    kept = [key for key in values if draw.random() > 0.1]
    return [
        Claim(motor=motor, quantity=key, value=round(values[key], 1), source="box label")
        for key in kept
    ]


def _weighings(draw: random.Random, sample: Sample) -> list[Weighing]:
    mass = _mass_g(sample.motor) * draw.gauss(1.0, 0.004)
    return [
        Weighing(
            sample=sample,
            mass_g=round(mass + 0.0225 * (length - 60), 2),
            resolution_g=0.01,
            lead_length_mm=length,
            weighed_on=DAY,
        )
        for length in (150.0, 60.0)
    ]


def _observations(draw: random.Random, sample: Sample) -> list[Observation]:
    diameter = float(sample.motor.size_code[:2])
    across = diameter + draw.uniform(0, 0.3)
    numbers = {
        "stator_diameter": across,
        "magnet_inner_diameter": across + draw.uniform(0.3, 0.6),
        "bell_outer_diameter": 1.27 * across,
        "shaft_diameter": 5.0 if diameter > 20 else 2.0,
        "shaft_free_length": 13.5,
        "thread_depth": 2.5,
        "screw_clearance": 1.2,
    }
    choices = {
        "magnet_shape": draw.choice(["arc", "arc", "flat"]),
        "winding": draw.choice(["single", "multi"]),
        "base_type": draw.choice(["open", "full"]),
        "free_spin": "rough" if draw.random() < 0.01 else "long",
        "bell_retention": draw.choice(["circlip", "c_clip", "hex_screw"]),
    }
    common = {"sample": sample, "vocabulary_version": VERSION}
    return [
        *(
            Observation(
                attribute=key,
                status="measured",
                value=round(value, 2),
                u=0.02,
                instrument="calliper",
                **common,
            )
            for key, value in numbers.items()
        ),
        *(
            Observation(attribute=key, status="observed", choice=choice, **common)
            for key, choice in choices.items()
        ),
        *(
            Observation(attribute=key, status="observed", value=float(count), **common)
            for key, count in (("pole_count", 14), ("slot_count", 12))
        ),
    ]
