"""What a verdict rests on, in a line that a reader understands.

The grade says how much was tested, not how good the motor is. It is the weakest of what it is
made of: many repeats of one sample are still one sample.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

CALIBRATION_GOOD_DAYS = 90
REPEATS_GOOD = 3
SAMPLES_GOOD = 3


class Grade(StrEnum):
    """How far the evidence carries."""

    FIRST_LOOK = "first_look"
    THIN = "thin"
    FAIR = "fair"
    SOLID = "solid"

    @property
    def label(self) -> str:
        """In words."""
        return {
            "first_look": "First look",
            "thin": "Thin evidence",
            "fair": "Fair evidence",
            "solid": "Solid evidence",
        }[self.value]


@dataclass(frozen=True, slots=True)
class GradedRun:
    """A run that a verdict rests on.

    ``setup``: what repeats share, propeller and supply. ``calibration_days``: age of the stand's
    calibration at the run, None where there was none. ``assumed``: a part of u was assumed.
    ``motor``: whose sample it is, where several motors are spoken of.
    """

    sample: str
    setup: str
    voltage_v: float
    calibration_days: int | None
    assumed: bool
    accepted: bool
    motor: str = ""


@dataclass(frozen=True, slots=True)
class GradeLine:
    """The grade, the line that says it, and what would raise it."""

    grade: Grade
    line: str
    missing: tuple[str, ...]


def bench_grade(runs: Sequence[GradedRun], motors: int = 1) -> GradeLine:
    """The grade of the evidence.

    Of several motors it is that of the one that was tested least: nine motors with a sample each
    are not nine samples.

    :param motors: how many are spoken of; more than the runs tell were not run.
    """
    if not runs:
        return GradeLine(
            Grade.FIRST_LOOK,
            "First look: nothing was run; what is said rests on looking and weighing.",
            ("a run",),
        )
    marks: dict[str, set[str]] = {}
    setups: dict[tuple[str, str, str], int] = {}
    for run in runs:
        marks.setdefault(run.motor, set()).add(run.sample)
        key = (run.motor, run.sample, run.setup)
        setups[key] = setups.get(key, 0) + 1
    samples = min(len(found) for found in marks.values())
    repeats = min(
        max(count for (motor, _, _), count in setups.items() if motor == one) for one in marks
    )
    volts = len({run.voltage_v for run in runs if run.voltage_v > 0})
    ages = [run.calibration_days for run in runs]
    known = [age for age in ages if age is not None]
    never = len(known) < len(ages)
    oldest = max(known, default=0)
    assumed = sum(run.assumed for run in runs)
    unseen = sum(not run.accepted for run in runs)
    missing = _missing(samples, repeats, never, oldest, assumed, unseen, len(marks))
    unrun = max(0, motors - len(marks))
    if unrun:
        missing.append(f"a run of the {_count(unrun, 'motor')} not run under this load")
    if not missing:
        grade = Grade.SOLID
    elif (
        not unrun
        and (samples >= 2 or repeats >= REPEATS_GOOD)
        and not never
        and oldest <= _OLD_DAYS
    ):
        grade = Grade.FAIR
    else:
        grade = Grade.THIN
    parts = [
        *_of_each(marks, repeats, len(runs)),
        *([f"{unrun} of the motors not run under this load"] if unrun else []),
        _count(volts, "voltage") if volts else "voltage not noted",
        "stand never calibrated"
        if never and not known
        else "stand not calibrated for all of them"
        if never
        else f"stand calibrated {_count(oldest, 'day')} before at most",
    ]
    if assumed:
        parts.append(
            "uncertainty partly assumed in all"
            if assumed == len(runs)
            else f"uncertainty partly assumed in {assumed}"
        )
    if unseen:
        parts.append(f"{unseen} not reviewed")
    return GradeLine(grade, f"{grade.label}: {', '.join(parts)}.", tuple(missing))


def _of_each(marks: Mapping[str, set[str]], repeats: int, runs: int) -> list[str]:
    """Samples, runs and repeats; of several motors those of each."""
    fewest, most = (pick(len(found) for found in marks.values()) for pick in (min, max))
    if len(marks) == 1:
        alike = f"up to {repeats} alike" if repeats > 1 else "none repeated"
        return [_count(fewest, "sample"), _count(runs, "run"), alike]
    each = _count(fewest, "sample") if fewest == most else f"{fewest} to {most} samples"
    return [
        f"{each} of each of {len(marks)} motors",
        _count(runs, "run"),
        f"at least {repeats} alike of each" if repeats > 1 else "not every motor repeated",
    ]


_OLD_DAYS = 365


def _missing(
    samples: int, repeats: int, never: bool, oldest: int, assumed: int, unseen: int, motors: int
) -> list[str]:
    """What would raise the grade."""
    found = []
    if samples < SAMPLES_GOOD:
        more = _count(SAMPLES_GOOD - samples, "more sample")
        found.append(more if motors == 1 else f"{more} of the motors with fewest")
    if repeats < REPEATS_GOOD:
        of = "on one sample" if motors == 1 else "of every motor on one sample"
        found.append(f"{REPEATS_GOOD} runs alike {of}")
    if never:
        found.append("a calibration of the stand before the runs")
    elif oldest > CALIBRATION_GOOD_DAYS:
        found.append(f"a calibration less than {CALIBRATION_GOOD_DAYS} days old")
    if assumed:
        found.append("the stand's repeatability, measured instead of assumed")
    if unseen:
        found.append("a review of every run")
    return found


def _count(number: int, what: str) -> str:
    return f"{number} {what}{'' if number == 1 else 's'}"
