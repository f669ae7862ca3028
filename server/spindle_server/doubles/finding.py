"""What may be on the bench twice."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Iterable, Sequence
from dataclasses import dataclass
from itertools import combinations
from typing import Any, TypeVar

from spindle_core.intake.same_thing import geometry_conflict, plain_name
from spindle_server.doubles.merging import name_of
from spindle_server.motors.models import Maker, MotorModel
from spindle_server.rig.models import Propeller

MOST = 50
Row = TypeVar("Row")


@dataclass(frozen=True, slots=True)
class Pair:
    """Two that may be one; the older first, which is the one to stay unless somebody says else."""

    thing: str
    one: Any
    other: Any
    why: str

    @property
    def names(self) -> tuple[str, str]:
        """What they are called."""
        return name_of(self.one), name_of(self.other)


def pairs() -> tuple[list[Pair], int]:
    """Pairs that may be doubles, makers first, since motors and propellers go with them; and how
    many more there are."""
    found: list[Pair] = []
    goes: set[tuple[str, int]] = set()
    for pair in (*_makers(), *_motors(), *_propellers()):
        # Of three that are one each is held against the oldest: the others follow from that.
        if (pair.thing, pair.one.pk) not in goes:
            found.append(pair)
            goes.add((pair.thing, pair.other.pk))
    return found[:MOST], max(0, len(found) - MOST)


def _alike(rows: Iterable[Row], key: Callable[[Row], Hashable]) -> list[Sequence[Row]]:
    groups: dict[Hashable, list[Row]] = {}
    for row in rows:
        groups.setdefault(key(row), []).append(row)
    return [group for group in groups.values() if len(group) > 1]


def _makers() -> list[Pair]:
    groups = _alike(Maker.objects.order_by("pk"), lambda maker: plain_name(maker.name))
    return [
        Pair("maker", one, other, "written alike but for case, blanks and signs")
        for group in groups
        for one, other in combinations(group, 2)
    ]


def _motors() -> list[Pair]:
    rows = MotorModel.objects.select_related("maker").order_by("pk")
    groups = _alike(rows, lambda m: (plain_name(m.maker.name), plain_name(m.name), m.kind))
    found = []
    for group in groups:
        for one, other in combinations(group, 2):
            kv = (one.kv_label_rpm_per_v, other.kv_label_rpm_per_v)
            sizes = (plain_name(one.size_code), plain_name(other.size_code))
            if _differ(kv) or _differ(sizes):
                continue
            same = kv[0] == kv[1] and sizes[0] == sizes[1]
            why = "the same name, size and kV" if same else "the same name; one lacks size or kV"
            found.append(Pair("motor", one, other, why))
    return found


def _differ(two: tuple[Any, Any]) -> bool:
    """Whether both say it, and not alike."""
    return all(one not in (None, "") for one in two) and two[0] != two[1]


def _propellers() -> list[Pair]:
    rows = Propeller.objects.select_related("maker").order_by("pk")
    groups = _alike(rows, lambda row: (plain_name(row.maker.name), round(row.diameter_in, 1)))
    found = []
    for group in groups:
        for one, other in combinations(group, 2):
            names = (plain_name(one.name), plain_name(other.name))
            if _differ(names) or geometry_conflict(_geometry(one), _geometry(other)):
                continue
            found.append(
                Pair("propeller", one, other, "the same maker and geometry, as far as known")
            )
    return found


def _geometry(row: Propeller) -> tuple[float, float | None, int | None]:
    return row.diameter_in, row.pitch_in, row.blades
