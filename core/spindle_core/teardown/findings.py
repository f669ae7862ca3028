"""What follows from the numbers of a teardown."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace

from spindle_core.errors import QuantityError, VocabularyError
from spindle_core.figures.measured import Absent, Figure, Measured, Origin, propagate
from spindle_core.motor.size_code import stator_cylinder_mm3
from spindle_core.motor.temperature_ceiling import temperature_ceiling
from spindle_core.motor.winding import slots_and_poles

SIZE_CODE_TOLERANCE_MM = 0.5
"""A stator further from its size code than this was rounded by a salesman."""

FLAT_ASPECT, TALL_ASPECT = 0.2, 0.4
"""Stators flatter than the first lose much of their torque to edge effects; those taller than the
second are tall for a multirotor."""

LEAST_BEARING_WALL_MM = 1.0
"""Balls and races need at least this much between bore and outside, to either side."""


@dataclass(frozen=True, slots=True)
class Finding:
    """One derived figure with its unit and what is said of it."""

    name: str
    label: str
    unit: str
    figure: Figure
    note: str = ""


def air_gap_mm(magnet_inner_diameter_mm: float, stator_diameter_mm: float) -> float:
    """Air gap = (magnet inner − stator outer diameter) ÷ 2 [mm].

    :raises VocabularyError: the stator would not fit inside the magnets.
    """
    gap = (magnet_inner_diameter_mm - stator_diameter_mm) / 2.0
    if gap <= 0:
        raise VocabularyError(
            f"A stator of {stator_diameter_mm:g} mm does not fit inside magnets "
            f"{magnet_inner_diameter_mm:g} mm across.",
            code="no_air_gap",
        )
    return gap


def findings(
    numbers: Mapping[str, Measured],
    *,
    size_code_mm: tuple[float, float] | None = None,
    enamel_class: str | None = None,
    magnet_grade: str | None = None,
) -> list[Finding]:
    """What follows from the numbers: gap, stator against its code, volume, winding, copper,
    bearing pairing, temperature ceiling and how deep a mounting screw may go.

    :param numbers: attribute → measured number.
    :param size_code_mm: stator diameter and height by the size code, on the stator basis.
    :param enamel_class: read off the winding or claimed; ``magnet_grade`` as claimed.
    """
    found = [Finding("air_gap_mm", "Air gap", "mm", _gap(numbers))]
    if size_code_mm is not None:
        found += _against_size_code(numbers, size_code_mm)
    found += _stator(numbers)
    found += _winding(numbers)
    found.append(_bearing(numbers))
    copper = _copper(numbers)
    if copper is not None:
        found.append(copper)
    room = _room_for_copper(numbers)
    if room is not None:
        found.append(room)
    found.append(_ceiling(enamel_class, magnet_grade))
    found.append(_screw_depth(numbers))
    return found


def _stator(numbers: Mapping[str, Measured]) -> list[Finding]:
    """Volume of the stator's cylinder and its aspect, from measured dimensions."""
    across, height = numbers.get("stator_diameter"), numbers.get("stator_height")
    if across is None or height is None:
        missing = Absent("not_measured", "needs the stator's diameter and height to be measured")
        return [Finding("stator_volume_mm3", "Stator volume", "mm³", missing)]
    volume = propagate(stator_cylinder_mm3, (across, height))
    aspect = propagate(lambda d, h: h / d, (across, height))
    if aspect.value < FLAT_ASPECT:
        said = "flat: loses torque to the ends of the stator; quick for its mass"
    elif aspect.value > TALL_ASPECT:
        said = "tall: torque without width; its middle cools worst, long magnets load the bearings"
    else:
        said = "of the usual proportions"
    return [
        Finding("stator_volume_mm3", "Stator volume", "mm³", _derived(volume)),
        Finding("stator_aspect", "Stator height ÷ diameter", "", _derived(aspect), said),
    ]


def _derived(figure: Measured) -> Measured:
    return replace(figure, origin=Origin.DERIVED)


def _ceiling(enamel_class: str | None, magnet_grade: str | None) -> Finding:
    """The lowest of what enamel and magnets allow; both are claims, so is this."""
    name, label = "temperature_ceiling_c", "Hottest the winding may get"
    try:
        ceiling = temperature_ceiling(enamel=enamel_class or None, magnet_grade=magnet_grade)
    except QuantityError as error:
        return Finding(name, label, "°C", Absent(error.code, error.message))
    if isinstance(ceiling, Absent):
        return Finding(name, label, "°C", ceiling)
    figure = Measured(ceiling.winding_c, origin=Origin.CLAIMED)
    return Finding(
        name, label, "°C", figure, f"set by {ceiling.set_by}; {ceiling.case_c:g} °C at the case"
    )


def _screw_depth(numbers: Mapping[str, Measured]) -> Finding:
    """Thread and room behind it: beyond this a mounting screw reaches the copper."""
    name, label = "screw_depth_mm", "Deepest a mounting screw may go"
    thread, room = numbers.get("thread_depth"), numbers.get("screw_clearance")
    if thread is None or room is None:
        missing = Absent("not_measured", "needs thread depth and clearance to the winding")
        return Finding(name, label, "mm", missing)
    depth = propagate(lambda t, c: t + c, (thread, room))
    return Finding(name, label, "mm", _derived(depth), "add the arm's thickness for the screw")


def _gap(numbers: Mapping[str, Measured]) -> Figure:
    magnets, stator = numbers.get("magnet_inner_diameter"), numbers.get("stator_diameter")
    if magnets is None:
        return Absent("not_measured", "needs the inner diameter across the magnets to be measured")
    if stator is None:
        return Absent("not_measured", "needs the stator to be measured")
    try:
        air_gap_mm(magnets.value, stator.value)
    except VocabularyError as error:
        return Absent(error.code, error.message)
    own = {name: Measured(f.value, {name: f.u}) for name, f in (("m", magnets), ("s", stator))}
    return propagate(lambda m, s: (m - s) / 2.0, (own["m"], own["s"]), partials=(0.5, -0.5))


def _against_size_code(
    numbers: Mapping[str, Measured], size_code_mm: tuple[float, float]
) -> list[Finding]:
    found = []
    for key, label, claimed in (
        ("stator_diameter", "Stator diameter against its size code", size_code_mm[0]),
        ("stator_height", "Stator height against its size code", size_code_mm[1]),
    ):
        measured = numbers.get(key)
        if measured is None:
            continue
        off = Measured(measured.value - claimed, {"measured": measured.u}, origin=Origin.DERIVED)
        said = "" if abs(off.value) <= SIZE_CODE_TOLERANCE_MM else "further off than rounding"
        found.append(Finding(f"{key}_off_mm", label, "mm", off, said))
    return found


def _winding(numbers: Mapping[str, Measured]) -> list[Finding]:
    slots, poles = numbers.get("slot_count"), numbers.get("pole_count")
    if slots is None or poles is None:
        return []
    try:
        made = slots_and_poles(int(slots.value), int(poles.value))
    except QuantityError as error:
        absent = Absent(error.code, error.message)
        return [Finding("winding_factor", "Winding factor", "", absent)]
    return [
        Finding(
            "winding_factor",
            "Winding factor",
            "",
            Measured(made.winding_factor, origin=Origin.DERIVED),
        ),
        Finding(
            "cogging_steps",
            "Notches a turn",
            "",
            Measured(float(made.cogging_steps), origin=Origin.DERIVED),
        ),
    ]


def _bearing(numbers: Mapping[str, Measured]) -> Finding:
    name, label = "bearing_wall_mm", "Bearing, bore to outside"
    outer = numbers.get("bearing_outer_diameter")
    shaft = numbers.get("shaft_inner_diameter") or numbers.get("shaft_diameter")
    if outer is None or shaft is None:
        missing = Absent("not_measured", "needs a bearing and the shaft inside it to be measured")
        return Finding(name, label, "mm", missing)
    wall = (outer.value - shaft.value) / 2.0
    if wall <= 0:
        impossible = Absent(
            "impossible",
            f"a shaft of {shaft.value:g} mm does not go through a bearing of {outer.value:g} mm",
        )
        return Finding(name, label, "mm", impossible)
    parts = {"bearing": 0.5 * outer.u, "shaft": -0.5 * shaft.u}
    thin = "thin: small balls, little to spare in a crash" if wall < LEAST_BEARING_WALL_MM else ""
    return Finding(name, label, "mm", Measured(wall, parts, origin=Origin.DERIVED), thin)


def _copper(numbers: Mapping[str, Measured]) -> Finding | None:
    """Copper area of one turn, which two winds of one motor are compared by."""
    strands, wire = numbers.get("strand_count"), numbers.get("wire_diameter")
    if strands is None or wire is None:
        return None
    area = strands.value * math.pi / 4.0 * wire.value**2
    parts = {"wire": 2.0 * area * wire.u / wire.value}
    return Finding(
        "copper_mm2", "Copper of one turn", "mm²", Measured(area, parts, origin=Origin.DERIVED)
    )


def slot_area_mm2(diameter_mm: float, tooth_mm: float, width_mm: float, slots: float) -> float:
    """Room between two teeth [mm²]: the ring that the teeth stand in, shared out, less a tooth.

    π·L·(D − L) ÷ N − w·L, with tooth length L and width w; what the tooth's tip takes is left out.

    :raises VocabularyError: teeth that leave no slot, or are longer than the stator's half.
    """
    if not 0 < tooth_mm < diameter_mm / 2.0:
        raise VocabularyError(
            f"Teeth of {tooth_mm:g} mm do not stand in a stator of {diameter_mm:g} mm.",
            code="no_slot",
        )
    area = math.pi * tooth_mm * (diameter_mm - tooth_mm) / slots - width_mm * tooth_mm
    if area <= 0:
        raise VocabularyError(
            f"{slots:g} teeth of {width_mm:g} mm leave no slot between them.", code="no_slot"
        )
    return area


def _room_for_copper(numbers: Mapping[str, Measured]) -> Finding | None:
    """One slot's area; None where neither tooth nor slots were measured at all."""
    names = ("stator_diameter", "tooth_length", "tooth_width", "slot_count")
    known = [numbers.get(name) for name in names]
    if known[1] is None and known[2] is None:
        return None
    label = "Room for copper in a slot"
    if any(figure is None for figure in known):
        missing = Absent("not_measured", "needs stator, tooth length and width, and the slots")
        return Finding("slot_area_mm2", label, "mm²", missing)
    own = [Measured(f.value, {name: f.u}) for name, f in zip(names, known, strict=True) if f]
    try:
        slot_area_mm2(*(figure.value for figure in own))
        area = propagate(slot_area_mm2, own)
    except VocabularyError as error:
        return Finding("slot_area_mm2", label, "mm²", Absent(error.code, error.message))
    note = "tips of the teeth left out; a winding fills a third to a half"
    return Finding("slot_area_mm2", label, "mm²", _derived(area), note)
