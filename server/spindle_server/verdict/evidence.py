"""What a verdict may rest on: runs, constants, claims and entries of the file."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from datetime import date

from django.db.models import F, Q
from django.utils import timezone

from spindle_core.compare.bench_table import FULL, BenchRow, RanRun, bench_table
from spindle_core.compare.measured_run import CURVE_KINDS
from spindle_core.intake.claim_evidence import MEASURED_AS
from spindle_core.publish.against import MadeOf
from spindle_core.publish.disclosure import Came
from spindle_core.publish.grade import GradedRun
from spindle_core.publish.quotes import Found
from spindle_core.publish.statements import SubjectMotor
from spindle_core.teardown.vocabulary import ATTRIBUTES
from spindle_server.motor_file.evidence import measured_figures
from spindle_server.motor_file.open_points import OpenPoints
from spindle_server.motors.models import MotorModel, Sample
from spindle_server.rank.facts import Facts, facts_of
from spindle_server.rig.models import Calibration
from spindle_server.runs.as_core import figure_of
from spindle_server.runs.models import Run, SummaryFigure
from spindle_server.runs.ran import counted_runs, evidence_of, ratings_of
from spindle_server.runs.taken import load_of, ran_runs
from spindle_server.teardown.models import ANSWERED, Observation

HEAT = ("continuous_power_w", "sustained_motor_temp_c")
MADE_OF = 6
"""Answers of a teardown that a verdict is offered: those that suggest something."""


@dataclass(slots=True)
class MotorEvidence:
    """The evidence of one motor, read once and asked often.

    ``runs``: its curves within its ratings. ``overruns``: points of them that were left out.
    ``whole``: all of them, where there are such points.
    """

    motor: MotorModel
    facts: Facts
    runs: list[RanRun] = field(default_factory=list)
    overruns: int = 0
    whole: list[RanRun] = field(default_factory=list)
    _tables: dict[tuple[str, float], list[BenchRow]] = field(default_factory=dict)
    _beyond: dict[tuple[str, float], list[BenchRow]] = field(default_factory=dict)
    _constants: dict[str, Found] | None = None
    _records: dict[str, list[str]] | None = None
    _made: dict[str, MadeOf] | None = None
    _claims: dict[str, tuple[float, str]] | None = None
    known: SubjectMotor | None = None
    """What the core words statements from, once it was put together."""

    @property
    def key(self) -> str:
        """As quotes name it."""
        return str(self.motor.pk)

    @property
    def samples(self) -> int:
        """How many of it were run."""
        return len({run.sample for run in self.runs})

    def table(self, condition: str, level: float = 0.0) -> list[BenchRow]:
        """Its rows of the bench's table; what its samples differ by is pooled over them alone, so
        that its figures rest on nothing but its own runs."""
        key = (condition, level)
        if key not in self._tables:
            self._tables[key] = _table(self.runs, condition, level)
        return self._tables[key]

    def beyond(self, condition: str, level: float = 0.0) -> list[BenchRow]:
        """The same with the points beyond its ratings; nothing where there are none."""
        if not self.overruns:
            return []
        key = (condition, level)
        if key not in self._beyond:
            self._beyond[key] = _table(self.whole, condition, level)
        return self._beyond[key]

    def constants(self) -> dict[str, Found]:
        """Figures of the motor itself: kV, largest current, heat, mass; two queries."""
        if self._constants is None:
            self._constants = _constants(self)
        return self._constants

    def records(self) -> dict[str, list[str]]:
        """Entries of the file in words, by the section they belong to."""
        if self._records is None:
            self._records = _records(self)
        return self._records

    @property
    def claims(self) -> dict[str, tuple[float, str]]:
        """Quantity → what is claimed of it and by what; one query."""
        if self._claims is None:
            self._claims = claims_of(self.motor)
        return self._claims

    @property
    def made(self) -> dict[str, MadeOf]:
        """What its teardown saw, by attribute, of the first sample that was looked at."""
        if self._made is None:
            self._made = _made_of(self.motor)
        return self._made

    def on_file(self, section: str, text: str) -> bool:
        """Whether an entry is there, those too that are not offered."""
        if section == "made_of":
            return any(text == one.record for one in self.made.values())
        return text in self.records().get(section, [])


def _table(runs: Sequence[RanRun], condition: str, level: float) -> list[BenchRow]:
    if not runs:
        return []
    return bench_table(runs, condition, None if condition == FULL else level)


def motor_evidence(motors: Iterable[int]) -> dict[int, MotorEvidence]:
    """The evidence of motors by their numbers, read together."""
    listed = list(motors)
    rows = {row.pk: row for row in MotorModel.objects.select_related("maker").filter(pk__in=listed)}
    facts = facts_of(sorted(rows))
    ratings = ratings_of(rows)
    curves = counted_runs(sorted(rows)).filter(kind__in=CURVE_KINDS, propeller__isnull=False)
    kept = evidence_of(curves, ratings)
    found = {
        pk: MotorEvidence(motor, facts[pk], overruns=kept.overruns.get(str(pk), 0))
        for pk, motor in rows.items()
    }
    for run in kept.runs:
        found[int(run.motor)].runs.append(run)
    beyond = [pk for pk, one in found.items() if one.overruns]
    if beyond:
        for row, ran in ran_runs(curves.filter(sample__motor__in=beyond)):
            found[row.sample.motor_id].whole.append(ran)
    return found


def _constants(one: MotorEvidence) -> dict[str, Found]:
    found: dict[str, Found] = {}
    counted = _samples_by_figure(one.motor.pk)
    for quantity, evidence in measured_figures(one.motor, []).items():
        if quantity in MEASURED_AS:
            samples = set().union(*(counted.get(n, set()) for n in MEASURED_AS[quantity]))
            found[quantity] = Found(evidence.figure, len(samples))
    found["mass_g"] = Found(one.facts.mass_g, _weighed(one.motor))
    rows = (
        SummaryFigure.objects.filter(run__sample__motor=one.motor, name__in=HEAT)
        .filter(value__isnull=False)
        .exclude(run__review="rejected")
        .order_by("run__started_at", "run")
    )
    for row in rows:
        # The newest run that has it counts.
        found[row.name] = Found(figure_of(row), 1, (row.run_id,))
    found["price"] = Found(one.facts.price)
    return found


def _weighed(motor: MotorModel) -> int:
    return (
        Sample.objects.filter(motor=motor, weighings__struck_reason="")
        .filter(weighings__isnull=False)
        .distinct()
        .count()
    )


def _samples_by_figure(motor: int) -> dict[str, set[int]]:
    names = {name for names in MEASURED_AS.values() for name in names}
    rows = (
        SummaryFigure.objects.filter(run__sample__motor=motor, name__in=names)
        .filter(value__isnull=False)
        .exclude(run__review="rejected")
        .order_by()
        .values_list("name", "run__sample")
        .distinct()
    )
    found: dict[str, set[int]] = {}
    for name, sample in rows:
        found.setdefault(name, set()).add(sample)
    return found


def _records(one: MotorEvidence) -> dict[str, list[str]]:
    points = OpenPoints(one.motor.pk)
    points.look_closer([one.motor.pk])
    faults = points.faults.get(one.motor.pk, [])
    samples = one.motor.samples.count()
    lost, there = one.facts.losses
    losses = [f"{lost} of {there} samples destroyed on test"] if lost else []
    gaps = [text for text in points.gaps(one.motor.pk, samples) if text not in faults]
    if not one.runs:
        gaps.append("It was never run with a propeller")
    telling = [made.record for made in one.made.values() if made.telling]
    return {"faults": [*losses, *faults], "made_of": telling[:MADE_OF], "open": gaps}


def _made_of(motor: MotorModel) -> dict[str, MadeOf]:
    """Answers by a choice, each attribute once: that of the first sample."""
    rows = (
        Observation.objects.filter(sample__motor=motor, status__in=ANSWERED)
        .exclude(choice="")
        .select_related("sample")
        .order_by("sample__mark", "pk")
    )
    found: dict[str, MadeOf] = {}
    for row in rows:
        attribute = ATTRIBUTES.get(row.attribute)
        if attribute is None:
            continue
        choice = next((one for one in attribute.choices if one.key == row.choice), None)
        if choice is None:
            continue
        before = found.get(row.attribute)
        if before is not None:
            agreed = before.agreed and before.said == choice.label
            found[row.attribute] = replace(before, agreed=agreed)
            continue
        text = f"{attribute.label}: {choice.label} (sample {row.sample.mark})"
        if choice.suggests:
            text = f"{text}; {choice.suggests}".rstrip(".")
        found[row.attribute] = MadeOf(
            row.attribute, attribute.label, choice.label, text, bool(choice.suggests)
        )
    return found


def claims_of(motor: MotorModel) -> dict[str, tuple[float, str]]:
    """Quantity → what is claimed of it and by what; the label's kV among them."""
    found = {}
    if motor.kv_label_rpm_per_v is not None:
        found["kv_rpm_per_v"] = (motor.kv_label_rpm_per_v, "label")
    for claim in motor.claims.exclude(value__isnull=True).order_by("pk"):
        found.setdefault(claim.quantity, (claim.value or 0.0, claim.source))
    return found


def came(motors: Sequence[int]) -> list[Came]:
    """How every sample of motors came to the bench."""
    rows = (
        Sample.objects.filter(motor__in=motors)
        .select_related("motor__maker", "parcel")
        .order_by("motor", "mark")
    )
    groups: dict[tuple[str, str, str], list[str]] = {}
    for row in rows:
        obtained = row.parcel.obtained if row.parcel else "unknown"
        giver = row.parcel.obtained_from if row.parcel else ""
        groups.setdefault((row.motor.full_name, obtained, giver), []).append(row.mark)
    return [
        Came(motor, tuple(marks), obtained, giver)
        for (motor, obtained, giver), marks in groups.items()
    ]


def run_evidence(of: Q) -> list[GradedRun]:
    """Every counted run of what ``of`` selects, for the bench's grade; two queries."""
    runs = list(
        Run.objects.filter(of, reduction__error="")
        .exclude(review="rejected")
        .select_related("sample", "propeller__maker", "supply", "stand")
        .annotate(motor=F("sample__motor"))
        .order_by("pk")
    )
    stands = {run.stand_id for run in runs if run.stand_id}
    calibrated: dict[int, list[date]] = {}
    rows = Calibration.objects.filter(stand__in=stands, struck_reason="").order_by("valid_from")
    for stand, day in rows.values_list("stand", "valid_from"):
        calibrated.setdefault(stand, []).append(day)
    return [
        GradedRun(
            f"{run.sample.motor_id}/{run.sample.mark}",
            f"{run.kind}/{load_of(run).words}",
            run.nominal_voltage_v or 0.0,
            _age(run, calibrated.get(run.stand_id or 0, [])),
            run.stand is None or run.stand.repeatability_rel is None,
            run.review == "accepted",
            motor=str(run.sample.motor_id),
        )
        for run in runs
    ]


def _age(run: Run, days: Sequence[date]) -> int | None:
    ran_on = timezone.localtime(run.started_at).date()
    before = [day for day in days if day <= ran_on]
    return (ran_on - before[-1]).days if before else None


def gear_of(of: Q) -> list[dict[str, str]]:
    """What runs were made with, each thing once: motors, propellers, ESCs, supplies, stands."""
    runs = (
        Run.objects.filter(of)
        .exclude(review="rejected")
        .select_related("sample__motor__maker", "propeller__maker", "esc", "supply", "stand")
        .order_by("pk")
    )
    found: dict[tuple[str, str], None] = {}
    for run in runs:
        found[("motor", run.sample.motor.full_name)] = None
        for what, thing in (
            ("propeller", run.propeller.full_name if run.propeller else ""),
            ("esc", run.esc.name if run.esc else ""),
            ("supply", run.supply.name if run.supply else ""),
            ("stand", run.stand.name if run.stand else ""),
        ):
            if thing:
                found[(what, thing)] = None
    order = ("motor", "propeller", "esc", "supply", "stand")
    pairs = sorted(found, key=lambda pair: order.index(pair[0]))
    return [{"what": what, "name": name} for what, name in pairs]
