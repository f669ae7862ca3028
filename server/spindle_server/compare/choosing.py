"""What may be compared: sets of runs that differ in one thing."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Hashable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from spindle_core.compare.measured_run import CURVE_KINDS
from spindle_server.compare.asking import MOST_RUNS
from spindle_server.compare.changes import changes_of
from spindle_server.motors.models import MotorModel
from spindle_server.runs.models import Run

Done = Mapping[int, str]
"""Run → what was done to its sample before it."""


@dataclass(frozen=True, slots=True)
class What:
    """A question: which runs, what differs among them, what stays, and what counts as one."""

    words: str
    differs: Callable[[Run, Done], Hashable]
    stays: Callable[[Run], Hashable]
    by: str = "repeats"


def _supply(run: Run) -> tuple[str, float | None]:
    return (run.supply.kind if run.supply else "", run.nominal_voltage_v)


WHATS: dict[str, What] = {
    "propellers": What(
        "propellers on one motor",
        lambda r, _: r.propeller_id,
        lambda r: (r.sample.motor_id, _supply(r)),
    ),
    "models": What(
        "motors on one propeller",
        lambda r, _: r.sample.motor_id,
        lambda r: (r.propeller_id, _supply(r)),
        "model",
    ),
    "winds": What(
        "winds of one model",
        lambda r, _: r.sample.motor_id,
        lambda r: (r.propeller_id, _supply(r)),
        "model",
    ),
    "samples": What(
        "samples of one model",
        lambda r, _: r.sample_id,
        lambda r: (r.sample.motor_id, r.propeller_id, _supply(r)),
        "sample",
    ),
    "voltages": What(
        "one motor at several voltages",
        lambda r, _: _supply(r),
        lambda r: (r.sample.motor_id, r.propeller_id),
    ),
    "escs": What(
        "ESCs on one motor and propeller",
        lambda r, _: r.esc_id,
        lambda r: (r.sample_id, r.propeller_id, _supply(r)),
    ),
    "before_after": What(
        "before and after something was done to it",
        lambda r, done: done[r.pk],
        lambda r: (r.sample_id, r.propeller_id, _supply(r)),
    ),
}


ASKED_OF_A_RUN = (
    "sample__motor",
    "propeller",
    "supply__kind",
    "esc",
    "nominal_voltage_v",
    "started_at",
)


def candidates(what: str, motor: MotorModel) -> list[Run]:
    """Curves that a question about a motor may take, the newest first."""
    rows = (
        Run.objects.filter(kind__in=CURVE_KINDS, reduction__error="")
        .exclude(review="rejected")
        .select_related("sample", "supply")
        .only(*ASKED_OF_A_RUN)
        .order_by("-started_at", "-pk")
    )
    if what == "winds":
        rows = rows.filter(
            sample__motor__maker_id=motor.maker_id,
            sample__motor__name=motor.name,
            sample__motor__size_code=motor.size_code,
        )
        return list(rows[: 4 * MOST_RUNS])
    own = list(rows.filter(sample__motor=motor)[: 4 * MOST_RUNS])
    if what != "models" or not own:
        return own
    # On a bench of many motors the newest runs may all be of others, on other propellers.
    alike = rows.filter(propeller__in={run.propeller_id for run in own})
    return own + list(alike.exclude(sample__motor=motor)[: 2 * MOST_RUNS])


def chosen(what: str, motor: MotorModel, propeller: int | None) -> dict[str, Any]:
    """Runs that differ in one thing, with the motor among them.

    Of what stays the same (propeller, supply) that is taken under which most is to be compared.

    :param propeller: that shall stay, where one was asked for and stays at all.
    """
    question = WHATS[what]
    rows = candidates(what, motor)
    done = changes_of(rows)

    def differs(run: Run) -> Hashable:
        return question.differs(run, done)

    groups: dict[Hashable, list[Run]] = {}
    for run in rows:
        groups.setdefault(question.stays(run), []).append(run)
    fitting = [
        group
        for group in groups.values()
        if any(run.sample.motor_id == motor.pk for run in group)
        and (propeller is None or what == "propellers" or _on(group, propeller))
    ]
    best = max(
        fitting, key=lambda group: (len({differs(r) for r in group}), len(group)), default=[]
    )
    kinds = len({differs(run) for run in best})
    taken = sorted(_most_alike(best, differs), key=lambda r: (r.sample.motor_id != motor.pk, r.pk))
    return {
        "what": what,
        "words": question.words,
        "by": question.by,
        "runs": [run.pk for run in taken],
        "differ": kinds,
        "why_none": ""
        if kinds > 1
        else f"There is nothing to compare: no two {question.words} were run alike.",
    }


def _on(group: Sequence[Run], propeller: int) -> bool:
    return any(run.propeller_id == propeller for run in group)


def _most_alike(group: Sequence[Run], differs: Callable[[Run], Hashable]) -> list[Run]:
    """At most as many runs as a comparison takes, none of what is compared left out first."""
    if len(group) <= MOST_RUNS:
        return list(group)
    counts: Counter[Hashable] = Counter()
    kept = []
    for run in group:
        counts[differs(run)] += 1
        if counts[differs(run)] <= max(1, MOST_RUNS // max(1, len({differs(r) for r in group}))):
            kept.append(run)
    return kept[:MOST_RUNS]
