"""Flights and what they say, the file of a motor as it goes on, and what is due."""

from __future__ import annotations

import datetime
from collections.abc import Sequence
from typing import Any

from django.db.models import Count, Max, Q, QuerySet
from django.utils import timezone

from spindle_core.compare.measured_run import CURVE_KINDS
from spindle_core.compare.wear import Used as UsedRun
from spindle_core.compare.wear import Worn, wear
from spindle_core.match.flown import FlightPair, Judged, School, judge, pairs_of
from spindle_server.afterwards.hours import Used, used
from spindle_server.afterwards.models import Flight, FollowUp, Letter
from spindle_server.afterwards.services import core_flight, due
from spindle_server.match.models import Craft
from spindle_server.motors.models import Incident, MotorModel, Preparation, Sample
from spindle_server.plan.models import Campaign
from spindle_server.runs.models import Run
from spindle_server.runs.stated import figure_json
from spindle_server.runs.taken import ran_runs

WEAR_HOURS = 1.0
"""Of use after which a sample is held against its first runs, unless others are asked for."""
MOST_OPEN = 30
KEPT = ("craft", "motor__maker", "propeller__maker")


def flights() -> QuerySet[Flight]:
    """Flights with what a list shows."""
    return Flight.objects.select_related(*KEPT, "noted_by").prefetch_related("samples")


def flown_of(craft: Craft) -> dict[str, Any]:
    """What the flights of a craft say together; struck ones say nothing."""
    rows = list(
        Flight.objects.filter(craft=craft, struck_reason="").select_related(*KEPT).order_by("pk")
    )
    flown = [core_flight(row) for row in rows]
    low, high = craft.less_current_from_pct, craft.less_current_to_pct
    rule = None if low is None or high is None else (low, high)
    return {
        **_judged(judge(flown, less_current_pct=rule)),
        "pairs": [_pair(one) for one in pairs_of(flown)],
    }


def _judged(found: Judged) -> dict[str, Any]:
    return {
        "counted": found.counted,
        "error_pct": figure_json(found.error_pct),
        "schools": [_school(one, found.fits) for one in found.schools],
        "says": found.says,
    }


def _school(one: School, fits: str) -> dict[str, Any]:
    return {
        "key": one.key,
        "words": one.words,
        "factor": figure_json(one.factor),
        "error_pct": figure_json(one.error_pct),
        "rms_pct": one.rms_pct,
        "refuted": one.refuted,
        "fits": one.key == fits,
    }


def _pair(one: FlightPair) -> dict[str, Any]:
    return {
        "factor": one.factor,
        "values": list(one.values),
        "flights": [len(keys) for keys in one.flights],
        "minutes": [figure_json(figure) for figure in one.minutes],
        "power_w": [figure_json(figure) for figure in one.power_w],
        "minutes_delta_pct": one.minutes_delta.delta_pct,
        "minutes_u_pct": one.minutes_delta.u_pct,
        "minutes_outcome": str(one.minutes_delta.outcome),
        "power_delta_pct": one.power_delta.delta_pct,
        "power_u_pct": one.power_delta.u_pct,
        "power_outcome": str(one.power_delta.outcome),
        "unknown": list(one.unknown),
    }


def afterwards_of(motor: MotorModel, wear_hours: float = WEAR_HOURS) -> dict[str, Any]:
    """Everything after the bench of one motor: hours, what befell it, wear, letters, follow-ups.

    :param wear_hours: hours of use after which a sample is held against its first runs.
    """
    samples = list(motor.samples.all())
    hours = used([sample.pk for sample in samples])
    return {
        "samples": [_used(sample, hours[sample.pk]) for sample in samples],
        "timeline": _timeline(motor, samples, hours),
        "wear_hours": wear_hours,
        "worn": [_worn(one) for one in _wear(samples, hours, wear_hours)],
        "flights": list(flights().filter(motor=motor)[:MOST_OPEN]),
        "letters": list(letters().filter(motor=motor)),
        "reports": _reports(motor),
        "follow_ups": follow_ups(FollowUp.objects.filter(motor=motor), {motor.pk: hours}),
    }


def _used(sample: Sample, one: Used) -> dict[str, Any]:
    return {
        "sample": sample.pk,
        "mark": sample.mark,
        "bench_h": one.bench_h,
        "bench_starts": one.bench_starts,
        "flown_h": one.flown_h,
        "flown_starts": one.flown_starts,
        "untimed": one.untimed,
    }


def letters() -> QuerySet[Letter]:
    """Letters with what a list shows."""
    return Letter.objects.select_related(
        "motor__maker", "campaign", "noted_by", "propeller__maker", "supply"
    )


def _reports(motor: MotorModel) -> dict[str, Any]:
    """Reports counted apart from what was seen here."""
    rows = Letter.objects.filter(motor=motor, kind="report").order_by()
    failures = rows.exclude(failure="").values("failure").annotate(total=Count("pk"))
    words = dict(Letter._meta.get_field("failure").choices or [])
    return {
        "count": rows.count(),
        "failures": [
            {"words": str(words.get(one["failure"], one["failure"])), "count": one["total"]}
            for one in failures.order_by("-total", "failure")
        ],
    }


def _timeline(
    motor: MotorModel, samples: Sequence[Sample], hours: dict[int, Used]
) -> list[dict[str, Any]]:
    """What befell its samples, the newest first, each with the hours that the sample had then."""
    marks = {sample.pk: sample.mark for sample in samples}
    found: list[dict[str, Any]] = []

    def add(on: datetime.date, kind: str, words: str, sample: int | None, **more: Any) -> None:
        spent = hours[sample].until(on) if sample in hours else None
        mark = marks.get(sample, "") if sample is not None else ""
        found.append(
            {
                "on": on,
                "kind": kind,
                "words": words,
                "mark": mark,
                "sample": sample,
                "hours": spent,
                "note": "",
                "destroyed": False,
                "incident": None,
                **more,
            }
        )

    for incident in Incident.objects.filter(sample__in=marks, struck_reason=""):
        add(
            incident.happened_on,
            "incident",
            incident.get_kind_display(),
            incident.sample_id,
            note=incident.note,
            destroyed=incident.destroyed,
            incident=incident.pk,
        )
    for one in Preparation.objects.filter(sample__in=marks, struck_reason=""):
        add(one.done_on, "preparation", one.get_kind_display(), one.sample_id, note=one.note)
    for sample, pk, first, last, total in _run_spans(marks):
        add(
            first,
            "runs",
            f"First of {total} run{'' if total == 1 else 's'}",
            sample,
            note=f"run {pk}",
        )
        if last > first:
            add(last, "runs", "Last run so far", sample)
    for letter in Letter.objects.filter(motor=motor, kind="report"):
        said = letter.get_failure_display() if letter.failure else "Report"
        add(letter.received_on, "report", f"A reader reports: {said}", None, note=letter.text[:160])
    rows = Flight.objects.filter(motor=motor, struck_reason="").order_by("flown_on", "pk")
    first_flight = rows.select_related("craft").first()
    if first_flight is not None:
        total = rows.count()
        words = f"First of {total} flight{'' if total == 1 else 's'}, {first_flight.craft.name}"
        add(first_flight.flown_on, "flight", words, None)
    for point in FollowUp.objects.filter(motor=motor, done_on__isnull=False):
        add(
            point.done_on or timezone.localdate(),
            "follow_up",
            f"Done: {point.text}",
            None,
            note=point.done_note,
        )
    return sorted(found, key=lambda one: one["on"], reverse=True)


def _run_spans(marks: dict[int, str]) -> list[tuple[int, int, datetime.date, datetime.date, int]]:
    """Sample, its first run, the days of the first and the last, and how many."""
    rows: dict[int, list[tuple[int, datetime.date]]] = {}
    listed = Run.objects.filter(sample__in=marks).order_by("started_at", "pk")
    for pk, sample, at in listed.values_list("pk", "sample", "started_at"):
        rows.setdefault(sample, []).append((pk, timezone.localtime(at).date()))
    return [(one, r[0][0], r[0][1], r[-1][1], len(r)) for one, r in rows.items()]


def _wear(samples: Sequence[Sample], hours: dict[int, Used], after: float) -> list[Worn]:
    """Runs of its samples against their first; a sample that was hardly used is not looked at."""
    tired = [sample.pk for sample in samples if hours[sample.pk].hours >= after]
    rows = (
        Run.objects.filter(sample__in=tired, kind__in=(*CURVE_KINDS, "no_load"))
        .filter(reduction__error="")
        .exclude(review="rejected")
        .order_by("started_at", "pk")
    )
    runs = []
    for run, ran in ran_runs(rows):
        day = timezone.localtime(run.started_at).date() - datetime.timedelta(days=1)
        runs.append(UsedRun(ran, hours[run.sample_id].until(day)))
    return wear(runs, after)


def _worn(one: Worn) -> dict[str, Any]:
    return {
        "mark": one.sample,
        "load": one.load.words,
        "name": one.name,
        "first": figure_json(one.first),
        "now": figure_json(one.now),
        "hours": one.hours,
        "runs": list(one.runs),
        "delta_pct": one.delta.delta_pct,
        "u_pct": one.delta.u_pct,
        "outcome": str(one.delta.outcome),
    }


def follow_ups(
    rows: QuerySet[FollowUp], hours: dict[int, dict[int, Used]] | None = None
) -> list[dict[str, Any]]:
    """Follow-ups with whether their trigger has come; those that are due first.

    :param hours: motor → sample → what it was used, where that is known already.
    """
    listed = list(rows.select_related("motor__maker", "noted_by"))
    waits = {row.motor_id for row in listed if row.done_on is None and row.trigger == "hours"}
    known = dict(hours or {})
    for motor in waits - set(known):
        known[motor] = used(Sample.objects.filter(motor=motor).values_list("pk", flat=True))
    flown = dict(
        Flight.objects.filter(motor__in={row.motor_id for row in listed}, struck_reason="")
        .order_by()
        .values("motor")
        .annotate(last=Max("noted_at"))
        .values_list("motor", "last")
    )
    today = timezone.localdate()
    found = []
    for row in listed:
        most = max((one.hours for one in known.get(row.motor_id, {}).values()), default=0.0)
        since = flown.get(row.motor_id)
        is_due = due(row, today, most, since is not None and since >= row.noted_at)
        found.append({"row": row, "due": is_due, "hours": most})
    return sorted(found, key=lambda one: (one["row"].done_on is not None, not one["due"]))


def for_the_board() -> dict[str, Any]:
    """What came due, and what nobody answered yet, the oldest first."""
    points = [
        one for one in follow_ups(FollowUp.objects.filter(done_on__isnull=True)) if one["due"]
    ]
    open_letters = letters().filter(answer="").order_by("received_on", "pk")
    unanswered = open_letters.exclude(kind__in=["report", "request"])
    wanted = open_requests()
    return {
        "requests": wanted[:MOST_OPEN],
        "request_count": len(wanted),
        "due": points[:MOST_OPEN],
        "due_count": len(points),
        "unanswered": list(unanswered[:MOST_OPEN]),
        "unanswered_count": unanswered.count(),
    }


def open_requests(campaign: Campaign | None = None) -> list[Letter]:
    """Requests that nobody answered and that are not stale: what is wanted by a day first, then
    what most readers asked for.

    :param campaign: only those that led to it, and those about a motor it names that led nowhere.
    """
    rows = letters().filter(kind="request", answer="")
    if campaign is not None:
        motors = campaign.samples.values("motor")
        rows = rows.filter(Q(campaign=campaign) | Q(campaign=None, motor__in=motors)).distinct()
    today = timezone.localdate()
    wanted = [row for row in rows if row.state(today) == "open"]
    far = datetime.date.max
    return sorted(wanted, key=lambda row: (row.wanted_by or far, -row.readers, row.pk))
