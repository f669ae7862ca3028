"""What is wrong with a motor or missing from its file, in words; for the motor file and the
Board, with the same queries for one motor as for all."""

from __future__ import annotations

from collections.abc import Sequence

from django.db.models import Q

from spindle_core.intake.claim_quantities import CLAIMS, EXPECTED
from spindle_core.teardown import OPEN_POINTS
from spindle_server.motors.models import Claim, Incident, Weighing
from spindle_server.teardown.models import ANSWERED, TAKEN_OVER, Observation

FAULTY = Q()
for _attribute, _choice in OPEN_POINTS:
    FAULTY |= Q(attribute=_attribute, choice=_choice)


class OpenPoints:
    """Open points of one motor, or of all when none is named.

    Faults and ratings take three queries; :meth:`look_closer` two more for the motors one shows.
    """

    def __init__(self, motor: int | None = None) -> None:
        of_sample = {} if motor is None else {"sample__motor": motor}
        of_motor = {} if motor is None else {"motor": motor}
        self.faults: dict[int, list[str]] = {}
        # Inferred faults were not seen on this motor; they are not its faults.
        seen = Observation.objects.filter(
            FAULTY, status__in=[*ANSWERED, TAKEN_OVER[0]], **of_sample
        )
        rows = seen.values_list("sample__motor", "sample__mark", "attribute", "choice")
        for pk, mark, attribute, choice in rows:
            fault = OPEN_POINTS[(attribute, choice)]
            self.faults.setdefault(pk, []).append(f"Sample {mark}: {fault}")
        incidents = Incident.objects.filter(struck_reason="", **of_sample)
        for incident in incidents.select_related("sample"):
            gone = ", sample destroyed" if incident.destroyed else ""
            self.faults.setdefault(incident.sample.motor_id, []).append(
                f"Sample {incident.sample.mark}: {incident.get_kind_display().lower()} on "
                f"{incident.happened_on}{gone}"
            )
        rated = Claim.objects.filter(quantity=EXPECTED[0], **of_motor).order_by()
        self._rated = set(rated.values_list("motor", flat=True))
        self._claimed: dict[int, set[str]] = {}
        self._weighed: dict[int, int] = {}

    def rated(self, motor: int) -> bool:
        """Whether a rated current was written down."""
        return motor in self._rated

    def look_closer(self, motors: Sequence[int]) -> None:
        """What :meth:`gaps` says of claims and weighings of these motors."""
        claims = Claim.objects.filter(quantity__in=EXPECTED, motor__in=motors)
        for pk, quantity in claims.values_list("motor", "quantity").order_by():
            self._claimed.setdefault(pk, set()).add(quantity)
        weighings = Weighing.objects.filter(struck_reason="", sample__motor__in=motors)
        for pk, _ in weighings.values_list("sample__motor", "sample").order_by().distinct():
            self._weighed[pk] = self._weighed.get(pk, 0) + 1

    def gaps(self, motor: int, samples: int) -> list[str]:
        """Everything of a motor that was looked at closer, the faults first."""
        found = list(self.faults.get(motor, []))
        claimed = self._claimed.get(motor, set())
        if not self.rated(motor):
            found.append("Rated current never written down")
        others = [CLAIMS[key].label.lower() for key in EXPECTED[1:] if key not in claimed]
        if others:
            found.append(f"Not written down: {', '.join(others)}")
        weighed = self._weighed.get(motor, 0)
        if samples == 1:
            found.append("Only one sample: nothing can be said of the spread")
        if not weighed:
            found.append("No sample was weighed")
        elif weighed == 1 and samples > 1:
            found.append("Only one sample weighed")
        return found
