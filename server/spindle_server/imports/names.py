"""Who the names in a file stand for: as it was said before, or as the bench calls them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from spindle_core.errors import CoreError
from spindle_core.intake.propeller_code import propeller_readings
from spindle_server.imports.models import KnownName
from spindle_server.motors.models import Merged, MotorModel, Sample
from spindle_server.rig.models import Propeller, Supply

MOST_LETTERS = 160


@dataclass(frozen=True, slots=True)
class Belongs:
    """Whose run it is, so far as that is known."""

    sample: Sample | None = None
    propeller: Propeller | None = None
    supply: Supply | None = None


def plain(words: str) -> str:
    """In small letters, single blanks."""
    return " ".join(words.lower().split())[:MOST_LETTERS]


def words_of(header: Mapping[str, str]) -> dict[str, str]:
    """What a log calls its sample, propeller and supply; '' where it does not."""
    motor, mark = header.get("motor", ""), header.get("sample", "")
    return {
        "sample": plain(f"{motor} {mark}"),
        "propeller": plain(header.get("propeller", "")),
        "supply": plain(header.get("supply_name", "")),
    }


def belongs_to(header: Mapping[str, str]) -> Belongs:
    """What a log's preamble names, as far as the bench knows it; never a guess among several."""
    words = words_of(header)
    said = {
        row.thing: row
        for row in KnownName.objects.filter(
            words__in=[w for w in words.values() if w]
        ).select_related("sample", "propeller", "supply")
        if words[row.thing] == row.words
    }
    return Belongs(
        said["sample"].sample if "sample" in said else _sample(header),
        said["propeller"].propeller if "propeller" in said else _propeller(words["propeller"]),
        said["supply"].supply if "supply" in said else _supply(words["supply"]),
    )


def remember(header: Mapping[str, str], belongs: Belongs) -> None:
    """That these names stand for these things, where the bench does not know it by itself."""
    known, words = belongs_to(header), words_of(header)
    for thing in ("sample", "propeller", "supply"):
        chosen = getattr(belongs, thing)
        if words[thing] and chosen is not None and getattr(known, thing) != chosen:
            row = KnownName.objects.filter(thing=thing, words=words[thing]).first()
            row = row or KnownName(thing=thing, words=words[thing])
            setattr(row, thing, chosen)
            row.save()


def _sample(header: Mapping[str, str]) -> Sample | None:
    name, mark = plain(header.get("motor", "")), header.get("sample", "")
    if not name:
        return None
    motors = [
        motor
        for motor in MotorModel.objects.select_related("maker")
        if name in (plain(motor.full_name), plain(motor.name))
    ]
    if not motors and (merged := _merged("motor", name)) is not None:
        motors = list(MotorModel.objects.filter(pk=merged.stays))
        # Its samples were marked otherwise then, and one without a mark may be either's.
        mark = merged.marks.get(mark, "") if mark else ""
        if not mark and len(merged.marks) == 1:
            mark = next(iter(merged.marks.values()))
        if not mark:
            return None
    if len(motors) != 1:
        return None
    samples = Sample.objects.filter(motor=motors[0], **({"mark": mark} if mark else {}))
    return samples.first() if samples.count() == 1 else None


def _merged(thing: str, words: str) -> Merged | None:
    """What was called so before it became part of another; None where that were several."""
    rows = [row for row in Merged.objects.filter(thing=thing) if plain(row.gone_name) == words]
    return rows[0] if len(rows) == 1 else None


def _propeller(words: str) -> Propeller | None:
    if not words:
        return None
    rows = list(Propeller.objects.select_related("maker"))
    named = [row for row in rows if plain(row.full_name) == words]
    if not named and (merged := _merged("propeller", words)) is not None:
        named = [row for row in rows if row.pk == merged.stays]
    if not named:
        try:
            readings = propeller_readings(words)
        except CoreError:
            readings = ()
        if len(readings) == 1:
            reading = readings[0]
            named = [
                row
                for row in rows
                if (row.diameter_in, row.pitch_in, row.blades)
                == (reading.diameter_in, reading.pitch_in, reading.blades)
            ]
    return named[0] if len(named) == 1 else None


def _supply(words: str) -> Supply | None:
    named = [row for row in Supply.objects.all() if plain(row.name) == words] if words else []
    return named[0] if len(named) == 1 else None
