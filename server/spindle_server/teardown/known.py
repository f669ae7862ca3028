"""What was looked at on any sample of a motor: a sample's own answer first, then a sibling's.

Only what somebody saw or measured counts; answers taken over from elsewhere do not.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from spindle_core.figures.measured import Measured
from spindle_server.motors.models import MotorModel, Sample
from spindle_server.teardown.models import ANSWERED, Observation


@dataclass(frozen=True)
class Known:
    """Answers by attribute, then by sample; samples in the order of their marks."""

    rows: dict[str, dict[int, Observation]]

    def of(self, attribute: str, sample: Sample | None = None) -> Observation | None:
        """The sample's own observation, else the first of another sample."""
        found = self.rows.get(attribute, {})
        if sample is not None and sample.pk in found:
            return found[sample.pk]
        return next(iter(found.values()), None)

    def number(self, attribute: str, sample: Sample | None = None) -> float | None:
        """The number, in the attribute's unit."""
        row = self.of(attribute, sample)
        return None if row is None else row.value

    def figure(self, attribute: str, sample: Sample | None = None) -> Measured | None:
        """The number with its u."""
        row = self.of(attribute, sample)
        if row is None or row.value is None:
            return None
        return Measured(row.value, {attribute: row.u} if row.u else {})

    def choice(self, attribute: str, sample: Sample | None = None) -> str | None:
        """The choice."""
        row = self.of(attribute, sample)
        return None if row is None else row.choice or None

    def plain(self, sample: Sample | None = None) -> dict[str, float | str]:
        """Attribute → number or choice."""
        found: dict[str, float | str] = {}
        for attribute in self.rows:
            row = self.of(attribute, sample)
            if row is not None:
                found[attribute] = row.choice if row.value is None else row.value
        return found


def gather(rows: Iterable[Observation]) -> Known:
    """Observations, in the order of their samples' marks, as :class:`Known`."""
    found: dict[str, dict[int, Observation]] = {}
    for row in rows:
        found.setdefault(row.attribute, {})[row.sample_id] = row
    return Known(found)


def known_of(motor: MotorModel) -> Known:
    """Everything that was looked at on the samples of a motor; one query."""
    return gather(
        Observation.objects.filter(sample__motor=motor, status__in=ANSWERED)
        .select_related("sample")
        .order_by("sample__mark", "pk")
    )
