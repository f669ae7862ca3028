"""One of two becomes the other: everything that hangs on it moves, with its history."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from contextlib import suppress
from dataclasses import dataclass, field
from typing import Any

from django.db import IntegrityError, models, transaction

from spindle_core.errors import CoreError
from spindle_core.intake.claimed_loads import STATED
from spindle_core.intake.same_thing import geometry_conflict, merged_marks
from spindle_server.accounts.models import Role, User
from spindle_server.compare.models import LONGEST_WHY, Pick
from spindle_server.errors import ConflictError, ServiceError
from spindle_server.identification.models import Identified
from spindle_server.identification.rebuilding import fit_again
from spindle_server.motors.models import Claim, ClaimedLoad, Maker, Merged, MotorModel, Sample
from spindle_server.records.versions import Versioned, refuse_stale
from spindle_server.records.writes import writes
from spindle_server.rig.models import Propeller
from spindle_server.runs.tasks import REBUILD, rebuild_stale
from spindle_server.verdict.models import Verdict
from spindle_server.work.services import ask_for

LONGEST_SOURCE, MOST_OF_A_NAME = 120, 60

THINGS: dict[str, type[models.Model]] = {
    "maker": Maker,
    "motor": MotorModel,
    "propeller": Propeller,
}

FILLED = {
    "maker": (),
    "motor": (("size_code", "size_basis"), ("kv_label_rpm_per_v",), ("verdict",)),
    "propeller": (
        ("pitch_in",),
        ("blades",),
        ("bore_mm",),
        ("hub_thickness_mm",),
        ("hole_circle_mm",),
        ("hole_mm",),
        ("mass_g",),
        ("material",),
        ("condition",),
        ("turns",),
    ),
}
"""What the one that stays takes over where it has nothing, together where it belongs together."""


@dataclass(slots=True)
class Merger:
    """What became, or would become, of two that are one.

    ``moved``: what, and how many. ``marks``: of the other's samples, before → after;
    ``renamed``: those that became others.
    ``dropped``: what both said alike. ``set_apart``: claims of one source that differ, under
    another name of it now. ``differs``: what, of the one that stays, of the other; the first
    stands.
    """

    stays: Any
    stays_name: str
    stays_version: int | None
    gone_name: str
    gone_version: int | None
    moved: list[dict[str, Any]] = field(default_factory=list)
    marks: dict[str, str] = field(default_factory=dict)
    renamed: list[dict[str, str]] = field(default_factory=list)
    dropped: list[str] = field(default_factory=list)
    set_apart: list[str] = field(default_factory=list)
    filled: list[str] = field(default_factory=list)
    differs: list[dict[str, str]] = field(default_factory=list)


def name_of(row: Any) -> str:
    """What a maker, motor or propeller is called."""
    return str(row.name if isinstance(row, Maker) else row.full_name)


@writes(Role.EDITOR)
def merge(
    *,
    actor: User,
    thing: str,
    stays: int,
    gone: int,
    stays_version: int | None = None,
    gone_version: int | None = None,
) -> Merger:
    """Make ``gone`` part of ``stays``, from the versions of both that were looked at.

    :raises ServiceError: they are one already, or cannot be. :raises ConflictError: what they hold
        cannot stand side by side, or one was changed since.
    """
    keep, go = _both(thing, stays, gone)
    for row, base in ((keep, stays_version), (go, gone_version)):
        if isinstance(row, Versioned):
            refuse_stale(row, base, [])
    done = _made_one(thing, keep, go)
    for earlier in Merged.objects.filter(thing=thing, stays=gone):
        earlier.stays = stays
        earlier.marks = {old: done.marks.get(new, new) for old, new in earlier.marks.items()}
        earlier.save()
    Merged(
        thing=thing, gone=gone, gone_name=done.gone_name[:160], stays=stays, marks=done.marks
    ).save()
    if isinstance(keep, MotorModel | Propeller):
        # Names and geometry are part of what figures rest on.
        with suppress(ConflictError):
            ask_for(actor=None, title=REBUILD, task=rebuild_stale)
    if isinstance(keep, Propeller):
        fit_again(propellers=[keep.pk])
    return done


def look(*, thing: str, stays: int, gone: int) -> Merger:
    """What merging would do; nothing is changed.

    :raises ServiceError, ConflictError: as :func:`merge` does.
    """
    with transaction.atomic():
        try:
            return _made_one(thing, *_both(thing, stays, gone))
        finally:
            transaction.set_rollback(True)


def _version(row: Any) -> int | None:
    return row.version if isinstance(row, Versioned) else None


def _both(thing: str, stays: int, gone: int) -> tuple[Any, Any]:
    if stays == gone:
        raise ServiceError("Choose two that are not one already.", code="same")
    model = THINGS[thing]
    held = model._default_manager.select_for_update().order_by("pk").filter(pk__in=[stays, gone])
    rows = {row.pk: row for row in held}
    for pk in (stays, gone):
        if pk not in rows:
            raise ServiceError(f"There is no {thing} {pk}.", code=f"unknown_{thing}")
    return rows[stays], rows[gone]


def _made_one(thing: str, keep: Any, go: Any) -> Merger:
    done = Merger(keep, name_of(keep), _version(keep), name_of(go), _version(go))
    if isinstance(keep, MotorModel):
        _motors_may_be_one(keep, go)
        _make_room_for_samples(keep, go, done)
        _make_room_for_claims(keep, go, done)
        _make_room_for_loads(keep, go, done)
        _make_room_for_picks("motor", keep, go, done)
    if isinstance(keep, Propeller):
        _propellers_may_be_one(keep, go)
        _make_room_for_picks("propeller", keep, go, done)
    filled = _take_over(thing, keep, go, done)
    try:
        with transaction.atomic():
            _move(thing, keep, go, filled, done)
    except IntegrityError as error:
        raise ConflictError(
            f"{done.stays_name} and {done.gone_name} hold something that cannot be there twice: "
            "merge that first. Makers of the same motor: merge the motors before the makers.",
            code="cannot_be_twice",
        ) from error
    return done


def _move(thing: str, keep: Any, go: Any, filled: dict[str, Any], done: Merger) -> None:
    counts: Counter[str] = Counter()
    for what, count in _moved(go, keep):
        counts[what] += count
    done.moved = [{"what": what, "count": count} for what, count in counts.most_common()]
    go.delete()
    # Only now: what it takes over may have been the other's alone.
    for name, value in filled.items():
        setattr(keep, name, value)
    if isinstance(keep, Versioned):
        keep.version += 1
    keep.save()


def _motors_may_be_one(keep: MotorModel, go: MotorModel) -> None:
    if keep.kind != go.kind:
        raise ServiceError(
            f"One is a {keep.get_kind_display().lower()}, the other a "
            f"{go.get_kind_display().lower()}: they are two motors.",
            code="two_motors",
        )
    if Verdict.objects.filter(motor__in=[keep, go]).count() == 2:
        raise ConflictError(
            f"Both {keep.full_name} and {go.full_name} have a verdict, and readers may have them: "
            "two verdicts do not become one.",
            code="two_verdicts",
        )


def _propellers_may_be_one(keep: Propeller, go: Propeller) -> None:
    conflict = geometry_conflict(
        (keep.diameter_in, keep.pitch_in, keep.blades), (go.diameter_in, go.pitch_in, go.blades)
    )
    if conflict:
        raise ServiceError(
            f"{keep.full_name} and {go.full_name} differ in {conflict}: they are two propellers, "
            "and what ran keeps the geometry it ran with.",
            code="two_propellers",
        )


def _make_room_for_samples(keep: MotorModel, go: MotorModel, done: Merger) -> None:
    taken = list(keep.samples.values_list("mark", flat=True))
    try:
        marks = merged_marks(taken, list(go.samples.values_list("mark", flat=True)))
    except CoreError as error:
        raise ConflictError(error.message, code=error.code) from error
    for sample in Sample.objects.select_for_update().filter(motor=go).order_by("mark"):
        before, after = sample.mark, marks.get(sample.mark, sample.mark)
        done.marks[before] = after
        if after != before:
            done.renamed.append({"before": before, "after": after})
            sample.mark = after
            sample.version += 1
            sample.save()


def _make_room_for_claims(keep: MotorModel, go: MotorModel, done: Merger) -> None:
    stand = {(claim.quantity, claim.source): claim for claim in keep.claims.all()}
    for claim in Claim.objects.select_for_update().filter(motor=go):
        other = stand.get((claim.quantity, claim.source))
        if other is None:
            continue
        if (other.value, other.words) == (claim.value, claim.words):
            done.dropped.append(str(claim))
            claim.delete()
            continue
        claim.source = _under_its_old_name(claim.source, done)
        claim.version += 1
        claim.save()
        done.set_apart.append(str(claim))


def _make_room_for_loads(keep: MotorModel, go: MotorModel, done: Merger) -> None:
    # As the database tells them apart, which does not look at case.
    stand = {
        (row.source.casefold(), row.cells, row.propeller.casefold()): row
        for row in keep.claimed_loads.all()
    }
    for load in ClaimedLoad.objects.select_for_update().filter(motor=go):
        other = stand.get((load.source.casefold(), load.cells, load.propeller.casefold()))
        if other is None:
            continue
        if all(getattr(other, name) == getattr(load, name) for name in STATED):
            done.dropped.append(str(load))
            load.delete()
            continue
        load.source = _under_its_old_name(load.source, done)
        load.version += 1
        load.save()
        done.set_apart.append(str(load))


def _make_room_for_picks(
    side: str, keep: MotorModel | Propeller, go: MotorModel | Propeller, done: Merger
) -> None:
    """What was picked of both at one place is picked once, for both reasons."""
    other = "propeller_id" if side == "motor" else "motor_id"

    def place(pick: Pick) -> tuple[int, str, float]:
        return (getattr(pick, other), pick.supply.casefold(), pick.voltage_v)

    stand = {place(pick): pick for pick in Pick.objects.filter(**{side: keep})}
    for pick in Pick.objects.select_for_update().filter(**{side: go}):
        twin = stand.get(place(pick))
        if twin is None:
            continue
        if pick.why and pick.why != twin.why:
            twin.why = "; ".join(why for why in (twin.why, pick.why) if why)[:LONGEST_WHY]
            twin.version += 1
            twin.save()
        done.dropped.append(str(pick))
        pick.delete()


def _under_its_old_name(source: str, done: Merger) -> str:
    # However long both are, it stays told from the other's.
    whose = f", of {done.gone_name}"[:MOST_OF_A_NAME]
    return source[: LONGEST_SOURCE - len(whose)] + whose


def _take_over(thing: str, keep: Any, go: Any, done: Merger) -> dict[str, Any]:
    filled: dict[str, Any] = {}
    for names in FILLED[thing]:
        first = names[0]
        ours, theirs = getattr(keep, first), getattr(go, first)
        if theirs in (None, "") or ours == theirs:
            continue
        what = str(keep._meta.get_field(first).verbose_name)
        if ours in (None, ""):
            filled |= {name: getattr(go, name) for name in names}
            done.filled.append(f"{what}: {theirs}")
        else:
            done.differs.append({"what": what, "stays": str(ours), "gone": str(theirs)})
    if isinstance(keep, MotorModel) and go.note.strip() and go.note.strip() != keep.note.strip():
        filled["note"] = "\n".join(part for part in (keep.note.strip(), go.note.strip()) if part)
        done.filled.append("note")
    return filled


def _relations(row: models.Model) -> Iterator[Any]:
    """Everything of the record that points to a row: not its histories, which stay as they were,
    and not what was only reckoned from it."""
    for relation in row._meta.get_fields(include_hidden=True):
        if not relation.auto_created or relation.concrete or not relation.is_relation:
            continue
        other: Any = relation.related_model
        if relation.many_to_many or (
            other is not Identified
            and getattr(relation, "on_delete", None) is not models.DO_NOTHING
            and not other._meta.auto_created
        ):
            yield relation


def _moved(go: models.Model, keep: models.Model) -> Iterator[tuple[str, int]]:
    """Move what points to ``go``, each with a line in its history; what it is, and how many."""
    for relation in _relations(go):
        other, name = relation.related_model, relation.field.name
        rows = other._default_manager.select_for_update().filter(**{name: go.pk})
        count = 0
        for row in rows:
            if relation.many_to_many:
                listed = getattr(row, name)
                listed.remove(go)
                listed.add(keep)
            else:
                setattr(row, name, keep)
            if isinstance(row, Versioned):
                row.version += 1
            row.save()
            count += 1
        if count:
            words = other._meta.verbose_name if count == 1 else other._meta.verbose_name_plural
            yield str(words), count
