"""Quoted figures as they are now."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any

from spindle_core.compare.bench_table import FULL, BenchRow, Load
from spindle_core.compare.subjects import (
    ComparedRow,
    Grouping,
    Reading,
    Subject,
    comparison_rows,
    subjects,
)
from spindle_core.errors import CoreError
from spindle_core.figures.measured import Absent, Measured, Origin
from spindle_core.publish.halves import difference_of, held_against
from spindle_core.publish.quotes import Found, Quote, QuoteKind
from spindle_core.publish.readiness import Standing
from spindle_core.publish.statements import ON_FILE, found_in, overrun_words
from spindle_server.api.inputs import whole
from spindle_server.compare.asking import AskedComparison, read_asked
from spindle_server.compare.models import SavedComparison
from spindle_server.compare.serializers import AskedComparisonSerializer
from spindle_server.errors import ServiceError
from spindle_server.rank.judging import Asked, load_from
from spindle_server.rank.models import KeptRanking
from spindle_server.rank.selectors import ranking
from spindle_server.rank.serializers import AskedRankingSerializer, asked_from
from spindle_server.verdict.evidence import MotorEvidence, motor_evidence
from spindle_server.verdict.models import Verdict

GONE = Found(Absent("gone", "it is no longer there"))


@dataclass(frozen=True, slots=True)
class CohortNow:
    """A cohort as it is ranked now. ``asked``: the question; ``result``: the whole ranking."""

    asked: Asked
    result: dict[str, Any]

    @property
    def load(self) -> Load | None:
        """The load that its curves are read under."""
        return load_from(self.result["load"])

    @property
    def members(self) -> list[int]:
        """Everybody in it, by place; who was not run last."""
        return [row["motor"] for row in self.result["rows"]]

    @property
    def ranked(self) -> list[int]:
        """Who has a place, in their order."""
        return [row["motor"] for row in self.result["rows"] if row["place"]]

    @property
    def order(self) -> list[Standing]:
        """Who stands where."""
        return [
            (row["motor"], row["full_name"], row["place"])
            for row in self.result["rows"]
            if row["place"]
        ]


class Looking:
    """Looks figures up, reading each motor, each comparison and each cohort once.

    :param verdict: whose comparison or cohort is looked at.
    """

    def __init__(self, verdict: Verdict | None = None) -> None:
        self.comparison = None if verdict is None else verdict.comparison
        self.kept = None if verdict is None else verdict.ranking
        self._cohort: CohortNow | None = None
        self._motors: dict[int, MotorEvidence] = {}
        self._subjects: list[Subject] | None = None
        self._pairs: dict[tuple[str, str, Load], list[Subject]] = {}
        self._rows: dict[tuple[int, str, float], list[ComparedRow]] = {}

    def motor(self, key: str) -> MotorEvidence | None:
        """The evidence of a motor, None where there is no such motor."""
        if whole(key) is None:
            return None
        self.read([int(key)])
        return self._motors.get(int(key))

    def read(self, motors: Iterable[int]) -> None:
        """Read the evidence of motors that were not read yet."""
        missing = sorted(set(motors) - set(self._motors))
        if missing:
            self._motors.update(motor_evidence(missing))

    def cohort(self) -> CohortNow | None:
        """The cohort as it is ranked now; None where there is none, or it cannot be ranked."""
        if self._cohort is None and self.kept is not None:
            try:
                asked = asked_cohort(self.kept)
                self._cohort = CohortNow(asked, ranking(asked))
            except ServiceError:
                return None
        return self._cohort

    def cohort_subjects(self) -> list[Subject]:
        """The ranked motors of the cohort under its load, in the order of their places."""
        cohort = self.cohort()
        if cohort is None or cohort.load is None:
            return []
        self.read(cohort.ranked)
        motors = [found for pk in cohort.ranked if (found := self.motor(str(pk))) is not None]
        runs = [run for one in motors for run in one.runs if run.load == cohort.load]
        place = {str(pk): at for at, pk in enumerate(cohort.ranked)}
        return sorted(subjects(runs, Grouping.MODEL), key=lambda one: place[one.motor])

    def subjects(self) -> list[Subject]:
        """The subjects of the comparison; none where it cannot be made any more."""
        if self._subjects is None:
            self._subjects = []
            if self.comparison is not None:
                try:
                    self._subjects = read_asked(asked_of(self.comparison)).subjects
                except ServiceError:
                    # Its runs lost their figures; what was quoted of them is gone.
                    self._subjects = []
        return self._subjects

    def all(self, quotes: Iterable[Quote]) -> dict[Quote, Found]:
        """Each quote with its figure as it is now."""
        wanted = list(dict.fromkeys(quotes))
        keys = {
            key
            for quote in wanted
            if quote.kind not in OF_SUBJECTS
            for key in (quote.of, quote.against)
        }
        self.read(int(key) for key in keys if whole(key) is not None)
        return {quote: self.one(quote) for quote in wanted}

    def one(self, quote: Quote) -> Found:
        """A quoted figure as it is now; what is gone is absent with its reason."""
        try:
            return self._one(quote)
        except CoreError as error:
            return Found(Absent(error.code, error.message))

    def _one(self, quote: Quote) -> Found:
        if quote.kind in OF_SUBJECTS:
            return self._of_subject(quote)
        motor = self.motor(quote.of)
        if motor is None:
            return GONE
        if quote.kind is QuoteKind.READ:
            return self._read(motor, quote)
        if quote.kind is QuoteKind.CONSTANT:
            return motor.constants().get(quote.name, GONE)
        if quote.kind is QuoteKind.CLAIM:
            return _claim(motor, quote)
        if quote.kind is QuoteKind.RECORD:
            there = motor.on_file(quote.name, quote.text) or self._overrun(motor, quote)
            return ON_FILE if there else GONE
        return self._delta(motor, quote)

    @staticmethod
    def _overrun(motor: MotorEvidence, quote: Quote) -> bool:
        return quote.name == "limits" and quote.text == overrun_words(motor.overruns)

    def _read(self, motor: MotorEvidence, quote: Quote) -> Found:
        found = _in(motor.table(quote.condition, quote.level), quote)
        if not isinstance(found.figure, Absent):
            return found
        beyond = _in(motor.beyond(quote.condition, quote.level), quote)
        if isinstance(beyond.figure, Absent):
            return found
        return Found(beyond.figure, beyond.samples, beyond.runs, beyond=True)

    def pair(self, motor: MotorEvidence, other: MotorEvidence, load: Load) -> list[Subject]:
        """Two motors under one load as subjects, the first first; fewer where one was not run."""
        key = (motor.key, other.key, load)
        if key not in self._pairs:
            runs = [run for run in (*motor.runs, *other.runs) if run.load == load]
            self._pairs[key] = subjects(runs, Grouping.MODEL)
        return self._pairs[key]

    def rows(self, held: Sequence[Subject], condition: str, level: float) -> list[ComparedRow]:
        """Figures of subjects under one condition, what samples differ by pooled over them."""
        key = (id(held), condition, level)
        if key not in self._rows:
            levels = [] if condition == FULL else [level]
            base = held[0].key if held else None
            self._rows[key] = comparison_rows(held, base, levels, condition=condition)
        return self._rows[key]

    def _delta(self, motor: MotorEvidence, quote: Quote) -> Found:
        other = self.motor(quote.against)
        if other is None:
            return GONE
        held = self.pair(motor, other, quote.load)
        if len(held) != 2:
            return Found(Absent("not_run", "both were not run under this load"))
        rows = self.rows(held, quote.condition, quote.level)
        return _between(rows, held, 0, 1, quote.name)

    def _of_subject(self, quote: Quote) -> Found:
        held = self.subjects()
        index = _index(held, quote.of)
        if index is None:
            return GONE
        rows = self.rows(held, quote.condition, quote.level)
        if quote.kind is QuoteKind.SUBJECT:
            reading = difference_of(rows, index, quote.name)
            return _of_reading(reading, held[index])
        against = _index(held, quote.against)
        if against is None:
            return GONE
        return _between(rows, held, index, against, quote.name)


OF_SUBJECTS = (QuoteKind.SUBJECT, QuoteKind.SUBJECT_DELTA)


def asked_of(comparison: SavedComparison) -> AskedComparison:
    """What a kept comparison asks.

    :raises ServiceError: it asks what nobody can ask any more.
    """
    data = AskedComparisonSerializer(data=comparison.asked)
    if not data.is_valid():
        raise ServiceError("What this comparison asks cannot be asked any more.", code="asked")
    return AskedComparison(**data.validated_data)


def asked_cohort(kept: KeptRanking) -> Asked:
    """What a kept ranking asked.

    :raises ServiceError: it asks what nobody can ask any more.
    """
    data = AskedRankingSerializer(data=kept.asked)
    if not data.is_valid():
        raise ServiceError("What this ranking asks cannot be asked any more.", code="asked")
    return asked_from(data.validated_data)


def runs_of(subject: Subject) -> tuple[int, ...]:
    """The numbers of its runs."""
    return tuple(int(run.core.key.removeprefix("run ")) for run in subject.runs)


def _index(held: Sequence[Subject], key: str) -> int | None:
    return next((i for i, one in enumerate(held) if one.holds(f"run {key}")), None)


def _in(rows: Sequence[BenchRow], quote: Quote) -> Found:
    row = next((row for row in rows if row.load == quote.load), None)
    if row is None:
        return Found(Absent("not_run", "it was not run under this load"))
    return found_in(row, quote.name)


def _claim(motor: MotorEvidence, quote: Quote) -> Found:
    claim = motor.claims.get(quote.name)
    if claim is None or claim[1] != quote.text:
        return GONE
    return Found(Measured(claim[0], {}, origin=Origin.CLAIMED))


def _of_reading(reading: Reading | Absent, subject: Subject) -> Found:
    if isinstance(reading, Absent):
        return Found(reading)
    return Found(reading.figure, reading.samples, runs_of(subject), held_back=_held_back(subject))


def _held_back(*listed: Subject) -> bool:
    return any(run.core.held_back for subject in listed for run in subject.runs)


def _between(
    rows: Sequence[ComparedRow], held: Sequence[Subject], index: int, against: int, name: str
) -> Found:
    return held_against(
        difference_of(rows, index, name),
        difference_of(rows, against, name),
        runs=(*runs_of(held[index]), *runs_of(held[against])),
        held_back=_held_back(held[index], held[against]),
    )
