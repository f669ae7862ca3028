"""What to do next: the gaps per motor, in the order of the work."""

from __future__ import annotations

from typing import Any

from django.db.models import Count

from spindle_core.teardown import ATTRIBUTES, OPEN_POINTS
from spindle_server.intake.models import Claim, MotorModel
from spindle_server.intake.selectors import motors
from spindle_server.runs.models import Run
from spindle_server.runs.selectors import runs
from spindle_server.teardown.models import Observation

RUNS_WANTED = 3
FEW_OBSERVATIONS = 6


def board() -> dict[str, Any]:
    """Every motor with its gaps and next act, and the runs that wait for a review."""
    faults = _faults()
    rated = set(Claim.objects.filter(quantity="max_current_a").values_list("motor", flat=True))
    repeats = _repeats()
    rows = [_row(motor, faults.get(motor.pk, []), motor.pk in rated, repeats) for motor in motors()]
    rows.sort(key=lambda row: (row["urgency"], row["full_name"]))
    waiting = runs().filter(review="", end__isnull=False)
    return {
        "motors": rows,
        "unreviewed": list(waiting[:8]),
        "unreviewed_count": waiting.count(),
        "attribute_count": len(ATTRIBUTES),
    }


def _faults() -> dict[int, list[str]]:
    found: dict[int, list[str]] = {}
    rows = Observation.objects.exclude(choice="").values_list(
        "sample__motor", "sample__mark", "attribute", "choice"
    )
    for motor, mark, attribute, choice in rows:
        fault = OPEN_POINTS.get((attribute, choice))
        if fault:
            found.setdefault(motor, []).append(f"Sample {mark}: {fault}")
    return found


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


def _row(
    motor: MotorModel, faults: list[str], rated: bool, repeats: dict[int, int]
) -> dict[str, Any]:
    counts: Any = motor
    gaps: list[str] = list(faults)
    if not rated:
        gaps.append("Rated current not written down")
    if len(motor.samples.all()) < 2:
        gaps.append("Only one sample")
    station, act, urgency = _next_act(counts, bool(faults), rated, repeats.get(motor.pk, 0))
    return {
        "id": motor.pk, "full_name": motor.full_name, "samples": len(motor.samples.all()),
        "claims": counts.claim_count, "observations": counts.observation_count,
        "runs": counts.run_count, "most_repeats": repeats.get(motor.pk, 0), "gaps": gaps,
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
