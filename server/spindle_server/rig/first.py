"""What a new bench starts with: the stand that ships with it, and common sizes of propellers."""

from __future__ import annotations

from dataclasses import dataclass

from spindle_server.accounts.models import Role, User
from spindle_server.errors import ServiceError
from spindle_server.records.writes import writes
from spindle_server.rig.driving import add_supply
from spindle_server.rig.models import Propeller, Stand, Supply
from spindle_server.rig.services import add_propeller
from spindle_server.rig.stands import add_stand

ANY_MAKER = "Any maker"
"""Stands for the maker of a propeller that is known by its size alone."""


@dataclass(frozen=True, slots=True)
class Geometry:
    """Diameter and pitch [in] and number of blades."""

    diameter_in: float
    pitch_in: float
    blades: int

    @property
    def text(self) -> str:
        """As it is written on a propeller."""
        return f"{self.diameter_in:g}x{self.pitch_in:g}x{self.blades}"


COMMON_SIZES = tuple(
    Geometry(*size)
    for size in (
        (2.5, 1.8, 3),
        (3.0, 2.0, 3),
        (3.5, 2.4, 3),
        (4.0, 3.0, 2),
        (5.0, 3.5, 3),
        (5.0, 4.0, 2),
        (6.0, 3.5, 3),
        (7.0, 4.0, 2),
        (8.0, 4.5, 2),
    )
)


def common_sizes() -> list[dict[str, object]]:
    """The common sizes, each with whether the library holds it."""
    there = _there()
    return [
        {
            "text": size.text,
            "diameter_in": size.diameter_in,
            "pitch_in": size.pitch_in,
            "blades": size.blades,
            "taken": size in there,
        }
        for size in COMMON_SIZES
    ]


def _there() -> set[Geometry]:
    rows = Propeller.objects.filter(maker__name=ANY_MAKER)
    return {
        Geometry(diameter, pitch, blades)
        for diameter, pitch, blades in rows.values_list("diameter_in", "pitch_in", "blades")
        if pitch is not None and blades is not None
    }


@writes(Role.REVIEWER)
def take_common_sizes(*, actor: User | None, sizes: list[str]) -> list[Propeller]:
    """Put common sizes into the library; those that are there already stay as they are.

    :raises ServiceError: a size that is none of the common ones.
    """
    known = {size.text: size for size in COMMON_SIZES}
    strange = [text for text in sizes if text not in known]
    if strange:
        message = f"{strange[0]} is none of the common sizes; add it by its numbers."
        raise ServiceError(message, code="unknown_size", fields={"sizes": [message]})
    there = _there()
    taken = []
    for size in (known[text] for text in dict.fromkeys(sizes)):
        if size not in there:
            taken.append(
                add_propeller(
                    actor=actor,
                    maker=ANY_MAKER,
                    diameter_in=size.diameter_in,
                    pitch_in=size.pitch_in,
                    blades=size.blades,
                )
            )
    return taken


def give_first_rig() -> bool:
    """The simulated stand that ships with the bench and its supply, where there is no stand yet.

    :returns: whether something was added.
    """
    if Stand.objects.exists():
        return False
    add_stand(
        actor=None,
        name="Simulated stand",
        kind="direct",
        repeatability_rel=0.005,
        calibration_rel=0.008,
        live=True,
        note="Ships with the bench; nothing turns. Its figures are those of a model.",
    )
    if not Supply.objects.exists():
        add_supply(
            actor=None,
            name="Simulated supply 16 V",
            kind="psu",
            resistance_ohm=0.004,
            nominal_voltage_v=16.0,
            trip_a=55.0,
        )
    return True
