"""The data behind an edition, frozen with it: all that a pack says but the samples of its runs."""

from __future__ import annotations

import gzip
import json
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import replace
from typing import Any

from django.utils import timezone

from spindle_core.figures.measured import Figure
from spindle_core.formats.bench_log import is_understood
from spindle_core.formats.identification_json import motor_fit_from_json, propeller_fit_from_json
from spindle_core.formats.pack.parts import log_path, result_path
from spindle_core.formats.plain import plain
from spindle_core.run.stand import stand_to_header
from spindle_core.teardown.vocabulary import ATTRIBUTES
from spindle_server.identification.models import Identified
from spindle_server.identification.selectors import motor_figures
from spindle_server.motors.models import MotorModel, Sample
from spindle_server.publish.models import Edition, PublishingRules
from spindle_server.rig.models import Propeller, Stand
from spindle_server.runs.as_core import SAID_OF_IT, StandsByDay, as_text, run_facts, run_header
from spindle_server.runs.models import Reduction, Run
from spindle_server.teardown.models import ANSWERED, Observation
from spindle_server.verdict.looking import Looking

IN_MONEY = frozenset({"price"})
"""Figures whose unit is a currency; they stand in the prose with it."""


def frozen_pack(edition: Edition, rules: PublishingRules, licence: str, looking: Looking) -> bytes:
    """What :mod:`spindle_server.publish.packs` makes the pack of, compressed."""
    numbers = [one["number"] for one in edition.content["runs"]]
    runs = list(
        Run.objects.filter(pk__in=numbers)
        .select_related(*SAID_OF_IT, "reduction")
        .prefetch_related("later_cells")
        .order_by("started_at", "pk")
    )
    reduced = [run for run in runs if _why_not(run) is None]
    whose = dict.fromkeys(run.sample.motor_id for run in runs)
    if edition.publication.verdict.motor_id is not None:
        whose.setdefault(edition.publication.verdict.motor_id)
    motors = list(
        MotorModel.objects.filter(pk__in=whose)
        .select_related("maker")
        .prefetch_related("claims", "samples")
        .order_by("pk")
    )
    stands: StandsByDay = {}
    frozen = {
        "index": {
            "bench": {"name": rules.bench_name, "address": rules.address},
            "publication": _issued(edition),
            "licence": licence,
            "grade": edition.content["grade"],
            "disclosure": edition.content["disclosure"]["lines"],
            "motors": [_motor(motor, looking) for motor in motors],
            "propellers": _propellers(runs),
            "stands": _stands(runs),
            "runs": [_run(run) for run in reduced],
            "left_out": [
                {"number": run.pk, "why": why} for run in runs if (why := _why_not(run)) is not None
            ],
            "teardown": _teardown(motors),
            "photos": [
                {"path": f"photos/{one['name']}", "caption": one["caption"]}
                for one in edition.content["photos"]
            ],
        },
        "results": {run.pk: run.reduction.result for run in reduced},
        "headers": {run.pk: _public(log_header(run, stands)) for run in reduced},
        "later": {
            run.pk: [
                [cell.row, cell.channel, cell.value]
                for cell in run.later_cells.all()
                if cell.value is not None
            ]
            for run in reduced
        },
    }
    text = json.dumps(frozen, ensure_ascii=False, allow_nan=False)
    return gzip.compress(text.encode(), mtime=0)


def thawed(data: bytes) -> dict[str, Any]:
    """What was frozen; runs are keyed by their numbers again."""
    frozen: dict[str, Any] = json.loads(gzip.decompress(data))
    for name in ("results", "headers", "later"):
        frozen[name] = {int(number): one for number, one in frozen[name].items()}
    return frozen


def _why_not(run: Run) -> str | None:
    """Why a run has no figures; None where it has some."""
    reduction: Reduction | None = getattr(run, "reduction", None)
    if reduction is None:
        return "It was not reduced."
    return None if reduction.result is not None else reduction.error


def _issued(edition: Edition) -> dict[str, Any]:
    earlier = edition.publication.editions.filter(number__lte=edition.number, correction=True)
    return {
        "kind": edition.kind,
        "subject": edition.subject,
        "slug": edition.publication.slug,
        "edition": edition.number,
        "issued_on": timezone.localtime(edition.published_at).date().isoformat(),
        "sentence": edition.sentence,
        "corrections": [
            {
                "edition": row.number,
                "on": timezone.localtime(row.published_at).date().isoformat(),
                "changed": row.changed,
                "why": row.why,
            }
            for row in earlier.defer("content", "drawings")
        ],
    }


def _figures(figures: Mapping[str, Figure]) -> dict[str, Any]:
    return {name: plain(figure) for name, figure in figures.items()}


def motor_key(pk: int) -> str:
    """As the index names a motor."""
    return f"motor-{pk}"


def _motor(motor: MotorModel, looking: Looking) -> dict[str, Any]:
    evidence = looking.motor(str(motor.pk))
    known = evidence.constants() if evidence is not None else {}
    fits = {
        row.sample_id: motor_fit_from_json(row.fit)
        for row in Identified.objects.filter(sample__motor=motor, fit__isnull=False)
        if row.fit is not None
    }
    return {
        "key": motor_key(motor.pk),
        "maker": motor.maker.name,
        "name": motor.name,
        "full_name": motor.full_name,
        "size_code": motor.size_code or "",
        "kv_label_rpm_per_v": motor.kv_label_rpm_per_v,
        "claims": [
            {
                "quantity": claim.quantity,
                "value": claim.value,
                "words": claim.words,
                "source": claim.source,
            }
            for claim in motor.claims.all()
        ],
        "figures": _figures(
            {name: found.figure for name, found in known.items() if name not in IN_MONEY}
        ),
        "samples": [_sample(sample, fits) for sample in motor.samples.all()],
    }


def _sample(sample: Sample, fits: Mapping[int | None, Any]) -> dict[str, Any]:
    fit = fits.get(sample.pk)
    return {"mark": sample.mark, "figures": {} if fit is None else _figures(motor_figures(fit))}


def _once(rows: Iterable[Any]) -> list[Any]:
    return sorted({row.pk: row for row in rows if row is not None}.values(), key=lambda r: r.pk)


def _propellers(runs: Sequence[Run]) -> list[dict[str, Any]]:
    rows: list[Propeller] = _once(run.propeller for run in runs)
    fits = {
        row.propeller_id: propeller_fit_from_json(row.fit)
        for row in Identified.objects.filter(propeller__in=rows, fit__isnull=False)
        if row.fit is not None
    }
    return [
        {
            "key": f"propeller-{row.pk}",
            "full_name": row.full_name,
            "diameter_in": row.diameter_in,
            "pitch_in": row.pitch_in,
            "blades": row.blades,
            "figures": _figures({"ct": fits[row.pk].ct, "cp": fits[row.pk].cp})
            if row.pk in fits
            else {},
        }
        for row in rows
    ]


def _stands(runs: Sequence[Run]) -> list[dict[str, Any]]:
    rows: list[Stand] = _once(run.stand for run in runs)
    return [{"key": f"stand-{row.pk}", "name": row.name} for row in rows]


def _run(run: Run) -> dict[str, Any]:
    return {
        "number": run.pk,
        "motor": motor_key(run.sample.motor_id),
        "sample": run.sample.mark,
        "propeller": f"propeller-{run.propeller_id}" if run.propeller_id else None,
        "supply": run.supply.kind if run.supply else None,
        "nominal_voltage_v": run.nominal_voltage_v,
        "stand": f"stand-{run.stand_id}" if run.stand_id else None,
        "kind": run.kind,
        "on": timezone.localtime(run.started_at).date().isoformat(),
        "origin": run.get_origin_display(),
        "review": run.review,
        "review_reason": run.review_reason,
        "log": log_path(run.pk),
        "result": result_path(run.pk),
    }


def _public(header: Mapping[str, str]) -> dict[str, str]:
    """Without what an import carried along, such as who stood beside it: nobody asked them."""
    return {key: value for key, value in header.items() if is_understood(key)}


def log_header(run: Run, seen: StandsByDay) -> dict[str, str]:
    """The preamble of its log, with all that its stand declares: who reduces it elsewhere gets the
    same figures with the same u."""
    header = as_text(run_header(run))
    _, declared = run_facts(run, seen)
    # The name that people know; the number is ours alone.
    name = run.stand.name if run.stand is not None else header.get("stand", "")
    return {**header, **stand_to_header(replace(declared, name=name))}


def _teardown(motors: Sequence[MotorModel]) -> list[dict[str, Any]]:
    rows = (
        Observation.objects.filter(sample__motor__in=motors, status__in=ANSWERED)
        .select_related("sample")
        .order_by("sample__motor", "sample__mark", "pk")
    )
    found = []
    for row in rows:
        attribute = ATTRIBUTES.get(row.attribute)
        if attribute is None:
            continue
        choice = next((one for one in attribute.choices if one.key == row.choice), None)
        found.append(
            {
                "motor": motor_key(row.sample.motor_id),
                "sample": row.sample.mark,
                "attribute": row.attribute,
                "label": attribute.label,
                "said": choice.label if choice else "",
                "value": row.value,
                "u": row.u or None,
                "unit": attribute.unit or "",
            }
        )
    return found
