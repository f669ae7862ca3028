"""Quoting another bench's pack, saying what in it is ours, and putting it aside."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from spindle_core.errors import CoreError
from spindle_core.formats.apart import runs_of_pack
from spindle_core.formats.pack.quoting import QuotedRun as ReadRun
from spindle_core.formats.result_json import reduction_to_json
from spindle_server.accounts.models import Role, User
from spindle_server.errors import ConflictError, ServiceError
from spindle_server.motors.models import MotorModel, Sample
from spindle_server.motors.services import name_motor
from spindle_server.other_benches.models import (
    OtherBench,
    QuotedMotor,
    QuotedPack,
    QuotedPropeller,
    QuotedRun,
    QuotedSample,
)
from spindle_server.other_benches.opening import Opened, open_pack, quoted_path
from spindle_server.reading import read_apart
from spindle_server.records.versions import locked, refuse_stale, write_fields
from spindle_server.records.writes import writes
from spindle_server.rig.models import Propeller

NEW = "new"
"""Instead of a motor of ours: begin a file for it, without samples."""


@dataclass(frozen=True, slots=True)
class Ours:
    """Which motors, samples and propellers of a pack are ours, by the keys in it; what is not named
    is none of ours. Samples are keyed ``motor/mark``: the very same motor was on both benches."""

    motors: Mapping[str, int | str | None] = field(default_factory=dict)
    samples: Mapping[str, int | None] = field(default_factory=dict)
    propellers: Mapping[str, int | None] = field(default_factory=dict)


@writes(Role.REVIEWER)
def quote_pack(*, actor: User | None, name: str, data: bytes, ours: Ours) -> QuotedPack:
    """Keep another bench's pack as quoted evidence; every run is reduced here from its log.

    :raises ServiceError: no pack that can be read, or what is said to be ours is not.
    :raises ConflictError: it, or its edition, was quoted already.
    """
    opened = open_pack(name, data)
    index = opened.pack.index
    bench = _bench(index["bench"])
    issued = index["publication"]
    if QuotedPack.objects.filter(
        bench=bench, slug=issued["slug"], edition=issued["edition"]
    ).exists():
        raise ConflictError(
            f"Another file already says to be edition {issued['edition']} of "
            f"{issued['subject']} by {bench.name}. Ask them which stands.",
            code="edition_exists",
        )
    try:
        # Before anything is stored: all of it can be read, or none is kept.
        read: list[ReadRun] = read_apart(runs_of_pack, opened.pack, bench.name)
        pack = _pack(actor, bench, name, opened)
    except CoreError as error:
        raise ServiceError(error.message, code=error.code, fields={"file": [error.message]}) from (
            error
        )
    pack.save()
    samples, propellers = _listed(actor, pack, opened, ours)
    QuotedRun.objects.bulk_create(_run(pack, one, samples, propellers) for one in read)
    path = quoted_path(opened.digest)
    path.parent.mkdir(parents=True, exist_ok=True)
    part = path.with_suffix(".part")
    part.write_bytes(data)
    part.replace(path)
    return pack


def _bench(said: Mapping[str, Any]) -> OtherBench:
    row = OtherBench.objects.filter(name__iexact=said["name"]).first()
    if row is None:
        row = OtherBench(name=said["name"].strip(), address=said["address"])
        row.save()
    return row


def _pack(actor: User | None, bench: OtherBench, name: str, opened: Opened) -> QuotedPack:
    index = opened.pack.index
    issued = index["publication"]
    return QuotedPack(
        bench=bench,
        kind=issued["kind"],
        subject=issued["subject"],
        slug=issued["slug"],
        edition=issued["edition"],
        issued_on=opened.issued_on,
        sentence=issued["sentence"],
        licence=index["licence"],
        grade_label=index["grade"]["label"],
        grade_line=index["grade"]["line"],
        disclosure=index["disclosure"],
        corrections=issued["corrections"],
        digest=opened.digest,
        size_bytes=opened.size_bytes,
        file_name=name[:200],
        imported_by=actor,
    )


def _listed(
    actor: User | None, pack: QuotedPack, opened: Opened, ours: Ours
) -> tuple[dict[tuple[str, str], QuotedSample], dict[str, QuotedPropeller]]:
    """The motors, samples and propellers of a pack, each with which of ours it is."""
    index = opened.pack.index
    samples: dict[tuple[str, str], QuotedSample] = {}
    for one in index["motors"]:
        said = ours.motors.get(one["key"])
        own = _begun(actor, one) if said == NEW else _ours(MotorModel, said, one["key"], "motors")
        motor = QuotedMotor(
            pack=pack, key=one["key"], full_name=one["full_name"], figures=one["figures"], ours=own
        )
        motor.save()
        for sample in one["samples"]:
            key = f"{one['key']}/{sample['mark']}"
            row = QuotedSample(motor=motor, mark=sample["mark"], figures=sample["figures"])
            row.ours = _same_sample(own, ours.samples.get(key), key)
            row.save()
            samples[one["key"], sample["mark"]] = row
    propellers: dict[str, QuotedPropeller] = {}
    for one in index["propellers"]:
        key = one["key"]
        propellers[key] = QuotedPropeller(
            pack=pack,
            key=key,
            full_name=one["full_name"],
            figures=one["figures"],
            ours=_ours(Propeller, ours.propellers.get(key), key, "propellers"),
        )
        propellers[key].save()
    return samples, propellers


def _begun(actor: User | None, said: Mapping[str, Any]) -> MotorModel:
    """A file for a motor of which nobody here has a sample."""
    return name_motor(
        actor=actor,
        maker=said["maker"],
        name=said["name"],
        size_code=said["size_code"],
        kv_label_rpm_per_v=said["kv_label_rpm_per_v"],
    )


def _ours(model: Any, said: int | str | None, key: str, where: str) -> Any:
    if said is None:
        return None
    row = model.objects.filter(pk=said).first() if isinstance(said, int) else None
    if row is None:
        message = "That is nothing that is on file here."
        raise ServiceError(message, code="not_ours", fields={f"{where}.{key}": [message]})
    return row


def _same_sample(motor: MotorModel | None, said: int | None, key: str) -> Sample | None:
    sample: Sample | None = _ours(Sample, said, key, "samples")
    if sample is not None and (motor is None or sample.motor_id != motor.pk):
        message = "That sample is of another motor."
        raise ServiceError(message, code="other_motor", fields={f"samples.{key}": [message]})
    return sample


def _run(
    pack: QuotedPack,
    read: ReadRun,
    samples: Mapping[tuple[str, str], QuotedSample],
    propellers: Mapping[str, QuotedPropeller],
) -> QuotedRun:
    said = read.listed
    stand = read.stand_name
    return QuotedRun(
        pack=pack,
        number=said["number"],
        sample=samples[said["motor"], said["sample"]],
        propeller=propellers.get(said["propeller"] or ""),
        supply=said["supply"] or "",
        nominal_voltage_v=said["nominal_voltage_v"],
        stand_name=stand,
        kind=said["kind"],
        on=read.on,
        review=said["review"],
        review_reason=said["review_reason"],
        density_kg_per_m3=read.density_kg_per_m3,
        repeatability_rel=read.repeatability or None,
        result=None if read.reduction is None else reduction_to_json(read.reduction),
        error=read.error[:300],
        remarks=list(read.remarks),
    )


@writes(Role.REVIEWER)
def say_ours(*, actor: User, pack: QuotedPack, ours: Ours, base: int | None) -> QuotedPack:
    """Say anew which motors, samples and propellers of a pack are ours; what is not named stays.

    :raises ServiceError: what is said to be ours is not. :raises ConflictError: changed meanwhile.
    """
    row = locked(QuotedPack, pack.pk)
    refuse_stale(row, base, ["put_aside"])
    for motor in row.motors.prefetch_related("samples"):
        if motor.key in ours.motors:
            motor.ours = _ours(MotorModel, ours.motors[motor.key], motor.key, "motors")
            motor.save()
        for sample in motor.samples.all():
            key = f"{motor.key}/{sample.mark}"
            said = ours.samples.get(key, sample.ours_id)
            # A sample of the motor that it was thought to be is none of the one that it is.
            if key not in ours.samples and sample.ours and sample.ours.motor_id != motor.ours_id:
                said = None
            sample.ours = _same_sample(motor.ours, said, key)
            sample.save()
    for propeller in row.propellers.all():
        if propeller.key in ours.propellers:
            propeller.ours = _ours(
                Propeller, ours.propellers[propeller.key], propeller.key, "propellers"
            )
            propeller.save()
    row.version += 1
    row.save()
    return row


@writes(Role.REVIEWER)
def put_aside(*, actor: User, pack: QuotedPack, reason: str, base: int | None) -> QuotedPack:
    """Let a pack count no more, with the reason; an empty one lets it count again."""
    row = locked(QuotedPack, pack.pk)
    write_fields(row, {"put_aside": reason.strip()}, base=base)
    return row


@writes(Role.REVIEWER)
def change_bench(*, actor: User, bench: OtherBench, note: str, base: int | None) -> OtherBench:
    """Note something on another bench."""
    row = locked(OtherBench, bench.pk)
    write_fields(row, {"note": note.strip()}, base=base)
    return row
