"""What to do next: the gaps per motor, in the order of the work."""

from __future__ import annotations

from collections import Counter
from datetime import datetime, time
from typing import Any

from django.db.models import Count, Min, Q, QuerySet
from django.utils import timezone

from spindle_core.teardown import ATTRIBUTES
from spindle_server.motor_file.open_points import OpenPoints
from spindle_server.motors.models import Claim, MotorModel, Sample, full_name
from spindle_server.records.kept import kept
from spindle_server.runs.later import still_owed
from spindle_server.runs.models import Run
from spindle_server.runs.ran import evidence_revision
from spindle_server.runs.selectors import runs
from spindle_server.teardown.models import Observation

RUNS_WANTED = 3
FEW_OBSERVATIONS = 6
MOST_ROWS = 100
MOST_WAITING = 8
MOST_OWED = 3
LEAST_WAITING = 2


def board(*, search: str = "", in_hand: int | None = None, most: int = MOST_ROWS) -> dict[str, Any]:
    """The most urgent motors with their gaps and next act, and the runs that wait for a review.

    :param search: words that the motor's name holds; ``most`` rows are given, all are counted.
    :param in_hand: a motor whose row is wanted wherever it stands.
    """
    points, everything = kept("board", evidence_revision(), _everything)
    words = search.lower().split()
    rows = [row for row in everything if all(word in row["full_name"].lower() for word in words)]
    held = next((row for row in everything if row["id"] == in_hand), None)
    shown = rows[:most]
    points.look_closer([row["id"] for row in shown])
    for row in shown:
        row["gaps"] = points.gaps(row["id"], row["samples"])
    waiting = Run.objects.filter(review="", end__isnull=False)
    owed = list(still_owed()[:MOST_OWED])
    # One column of the Board holds both, and the Board fits one screen.
    room = max(LEAST_WAITING, MOST_WAITING - 4 * len(owed))
    first = list(waiting.values_list("pk", flat=True)[:room])
    return {
        "motors": shown,
        "motor_count": len(rows),
        "in_hand": None if held is None else {**held, "gaps": []},
        "unreviewed": list(runs().filter(pk__in=first)),
        "unreviewed_count": waiting.count(),
        "later": owed,
        "later_count": still_owed().count(),
        "attribute_count": len(ATTRIBUTES),
        "bench_day": bench_day(),
    }


def bench_day() -> dict[str, Any] | None:
    """The last day on which something ran: how many runs, how many did not come through, and from
    when to when. None where nothing ever ran. Days are those of the bench's time zone."""
    newest = Run.objects.order_by("-started_at").values_list("started_at", flat=True).first()
    if newest is None:
        return None
    day = timezone.localtime(newest).date()
    begin = timezone.make_aware(datetime.combine(day, time.min))
    runs = Run.objects.filter(started_at__gte=begin, started_at__lte=newest).order_by()
    counted = runs.aggregate(
        count=Count("pk"),
        first=Min("started_at"),
        cut=Count("pk", filter=Q(end__isnull=False) & ~Q(end__outcome="completed")),
        rejected=Count("pk", filter=Q(review="rejected")),
    )
    return {
        "day": day,
        "today": day == timezone.localdate(),
        "runs": counted["count"],
        "not_completed": counted["cut"],
        "rejected": counted["rejected"],
        "first_at": counted["first"],
        "last_at": newest,
    }


def _names() -> list[tuple[int, str]]:
    """Every motor's number and full name, without making objects of them."""
    rows = MotorModel.objects.order_by().values_list(
        "pk", "maker__name", "name", "size_code", "kv_label_rpm_per_v"
    )
    return [(pk, full_name(maker, name, size, kv)) for pk, maker, name, size, kv in rows]


def _everything() -> tuple[OpenPoints, list[dict[str, Any]]]:
    """Every motor's row, the most urgent first; kept until any of the record is written, since
    counting fifty thousand runs takes a while."""
    points, counts = OpenPoints(), _Counts()
    rows = [_row(pk, name, points, counts) for pk, name in _names()]
    return points, sorted(rows, key=lambda row: (row["urgency"], row["full_name"]))


class _Counts:
    """How much evidence each motor has, in four grouped queries."""

    def __init__(self) -> None:
        motor_of = dict(Sample.objects.order_by().values_list("pk", "motor"))
        self.samples = Counter(motor_of.values())
        self.claims = _grouped(Claim.objects.all(), "motor")
        # Grouped by sample, which an index answers alone, and not through a join by motor.
        self.observations: Counter[int] = Counter()
        for sample, total in _grouped(Observation.objects.all(), "sample").items():
            self.observations[motor_of[sample]] += total
        self.runs: Counter[int] = Counter()
        self.repeats: dict[int, int] = {}
        """Of each motor, how often its most repeated combination was run."""
        self._count_runs(motor_of)

    def _count_runs(self, motor_of: dict[int, int]) -> None:
        combinations: Counter[tuple[int, int | None, int | None]] = Counter()
        counted = (
            Run.objects.order_by()
            .values_list("sample", "propeller", "supply", "review")
            .annotate(count=Count("pk"))
        )
        # Which way it pulls is no figure: taken off again, since the index knows no kinds.
        checks = counted.filter(kind="direction")
        for rows, sign in ((counted, 1), (checks, -1)):
            for sample, propeller, supply, review, count in rows:
                self.runs[motor_of[sample]] += sign * count
                if review != "rejected":
                    combinations[sample, propeller, supply] += sign * count
        for (sample, _, _), count in combinations.items():
            motor = motor_of[sample]
            self.repeats[motor] = max(self.repeats.get(motor, 0), count)


def _grouped(rows: QuerySet[Any], path: str) -> dict[int, int]:
    return dict(rows.order_by().values(path).annotate(total=Count("pk")).values_list(path, "total"))


def _row(pk: int, name: str, points: OpenPoints, counts: _Counts) -> dict[str, Any]:
    row = {
        "id": pk,
        "full_name": name,
        "samples": counts.samples.get(pk, 0),
        "claims": counts.claims.get(pk, 0),
        "observations": counts.observations.get(pk, 0),
        "runs": counts.runs.get(pk, 0),
        "most_repeats": counts.repeats.get(pk, 0),
    }
    station, act, urgency = _next_act(row, bool(points.faults.get(pk)), points.rated(pk))
    return {**row, "next_station": station, "next_act": act, "urgency": urgency}


def _next_act(row: dict[str, Any], faulty: bool, rated: bool) -> tuple[str, str, int]:
    if faulty and row["runs"] == 0:
        return "teardown", "Settle the fault before it spins", 0
    if row["claims"] == 0 or not rated:
        return "intake", "Write down what the maker claims", 1
    if row["observations"] < FEW_OBSERVATIONS:
        return "teardown", "Take a sample apart", 2
    if row["runs"] == 0:
        return "bench", "Make its first run", 2
    if row["most_repeats"] < RUNS_WANTED:
        repeats = row["most_repeats"]
        return "bench", f"Repeat a run: {repeats} of {RUNS_WANTED} with one prop", 3
    return "compare", "Compare it", 4
