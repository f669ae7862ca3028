"""What every part of the gear allows in a run, from the motor's rating to the meter's range."""

from __future__ import annotations

from collections.abc import Iterator

from spindle_core.figures.quantities import CHANNELS
from spindle_core.run.tightest import Bound, Bounds, tightest
from spindle_server.motors.models import Claim, Sample
from spindle_server.rig.models import Esc, Stand, Supply

RATINGS = {"max_current_a": "current_a", "max_power_w": "power_w"}
"""Claimed quantity → the channel it limits."""


def gear_limits(
    *,
    sample: Sample | None = None,
    supply: Supply | None = None,
    stand: Stand | None = None,
    esc: Esc | None = None,
) -> tuple[Bounds, ...]:
    """The limits of what is named, by channel, the binding one first; what nobody knows by name."""
    found: list[Bound] = []
    if sample is not None:
        found += _of_motor(sample)
    if esc is not None:
        found.append(Bound("current_a", "most", esc.rated_a, f"ESC {esc.name}"))
    if supply is not None:
        found += _of_supply(supply)
    if stand is not None:
        found += _of_stand(stand)
    return tightest(found)


def _of_motor(sample: Sample) -> Iterator[Bound]:
    claims = dict(
        Claim.objects.filter(motor=sample.motor_id, quantity__in=RATINGS).values_list(
            "quantity", "value"
        )
    )
    for quantity, channel in RATINGS.items():
        yield Bound(channel, "most", claims.get(quantity) or None, "the motor's rating")


def _of_supply(supply: Supply) -> Iterator[Bound]:
    yield Bound("current_a", "most", supply.limit_a, supply.name)
    yield Bound("voltage_v", "least", supply.floor_v, supply.name)


def _of_stand(stand: Stand) -> Iterator[Bound]:
    for row in stand.instruments.all():
        if row.range_to is not None:
            label = CHANNELS[row.channel].label.lower()
            yield Bound(row.channel, "most", row.range_to, f"{label} of {stand.name}")
