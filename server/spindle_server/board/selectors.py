"""What to do next: the gaps per motor, in the order of the work."""

from __future__ import annotations

from typing import Any

from django.db.models import Count

from spindle_core.teardown import ATTRIBUTES
from spindle_server.intake.models import MotorModel
from spindle_server.intake.open_points import OpenPoints
from spindle_server.intake.selectors import motors
from spindle_server.runs.models import Run
from spindle_server.runs.selectors import runs

RUNS_WANTED = 3
FEW_OBSERVATIONS = 6
MOST_ROWS = 100


def board(*, search: str = "", most: int = MOST_ROWS) -> dict[str, Any]:
    """The most urgent motors with their gaps and next act, and the runs that wait for a review.

    :param search: words that the motor's name holds; ``most`` rows are given, all are counted.
    """
    found = [
        motor
        for motor in motors()
        if all(word in motor.full_name.lower() for word in search.lower().split())
    ]
    points, repeats = OpenPoints(found), _repeats()
    rows = [_row(motor, points, repeats.get(motor.pk, 0)) for motor in found]
    rows.sort(key=lambda row: (row["urgency"], row["full_name"]))
    waiting = runs().filter(review="", end__isnull=False)
    return {
        "motors": rows[:most],
        "motor_count": len(rows),
        "unreviewed": list(waiting[:8]),
        "unreviewed_count": waiting.count(),
        "attribute_count": len(ATTRIBUTES),
    }


def _repeats() -> dict[int, int]:
    counted = (
        Run.objects.exclude(review="rejected")
        .values("sample__motor", "sample", "propeller", "supply")
        .annotate(count=Count("pk"))
    )
    most: dict[int, int] = {}
    for row in counted:
        motor = row["sample__motor"]
        most[motor] = max(most.get(motor, 0), row["count"])
    return most


def _row(motor: MotorModel, points: OpenPoints, repeats: int) -> dict[str, Any]:
    counts: Any = motor
    faulty = bool(points.faults.get(motor.pk))
    station, act, urgency = _next_act(counts, faulty, points.rated(motor), repeats)
    return {
        "id": motor.pk, "full_name": motor.full_name, "samples": len(motor.samples.all()),
        "claims": counts.claim_count, "observations": counts.observation_count,
        "runs": counts.run_count, "most_repeats": repeats, "gaps": points.gaps(motor),
        "next_station": station, "next_act": act, "urgency": urgency,
    }  # fmt: skip


def _next_act(counts: Any, faulty: bool, rated: bool, repeats: int) -> tuple[str, str, int]:
    if faulty and counts.run_count == 0:
        return "teardown", "Settle the fault before it spins", 0
    if counts.claim_count == 0 or not rated:
        return "intake", "Write down what the maker claims", 1
    if counts.observation_count < FEW_OBSERVATIONS:
        return "teardown", "Take a sample apart", 2
    if counts.run_count == 0:
        return "bench", "Make its first run", 2
    if repeats < RUNS_WANTED:
        return "bench", f"Repeat a run: {repeats} of {RUNS_WANTED} with one prop", 3
    return "compare", "Compare it", 4
