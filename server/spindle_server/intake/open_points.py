"""What is wrong with a motor or missing from its file, in words; for the motor file and the
Board, with the same queries for one motor as for all."""

from __future__ import annotations

from collections.abc import Sequence

from spindle_core.claim_quantities import CLAIMS, EXPECTED
from spindle_core.teardown import OPEN_POINTS
from spindle_server.intake.models import Claim, Incident, MotorModel, Weighing
from spindle_server.teardown.models import ANSWERED, TAKEN_OVER, Observation


class OpenPoints:
    """Open points of some motors, gathered in four queries."""

    def __init__(self, motors: Sequence[MotorModel]) -> None:
        wanted = [motor.pk for motor in motors]
        self.faults: dict[int, list[str]] = {}
        # Inferred faults were not seen on this motor; they are not its faults.
        seen = Observation.objects.filter(
            sample__motor__in=wanted, status__in=[*ANSWERED, TAKEN_OVER[0]],
            attribute__in={key for key, _ in OPEN_POINTS},
        ).values_list("sample__motor", "sample__mark", "attribute", "choice")  # fmt: skip
        for motor, mark, attribute, choice in seen:
            fault = OPEN_POINTS.get((attribute, choice))
            if fault:
                self.faults.setdefault(motor, []).append(f"Sample {mark}: {fault}")
        incidents = Incident.objects.filter(sample__motor__in=wanted, struck_reason="")
        for incident in incidents.select_related("sample"):
            gone = ", sample destroyed" if incident.destroyed else ""
            self.faults.setdefault(incident.sample.motor_id, []).append(
                f"Sample {incident.sample.mark}: {incident.get_kind_display().lower()} on "
                f"{incident.happened_on}{gone}"
            )
        self.claimed: dict[int, set[str]] = {}
        for motor, quantity in Claim.objects.filter(motor__in=wanted).values_list(
            "motor", "quantity"
        ):
            self.claimed.setdefault(motor, set()).add(quantity)
        self.weighed: dict[int, set[int]] = {}
        for motor, sample in Weighing.objects.filter(
            sample__motor__in=wanted, struck_reason=""
        ).values_list("sample__motor", "sample"):
            self.weighed.setdefault(motor, set()).add(sample)

    def rated(self, motor: MotorModel) -> bool:
        """Whether a rated current was written down."""
        return "max_current_a" in self.claimed.get(motor.pk, set())

    def gaps(self, motor: MotorModel) -> list[str]:
        """Everything, the faults first; ``motor`` comes with its samples."""
        found = list(self.faults.get(motor.pk, []))
        claimed = self.claimed.get(motor.pk, set())
        if not self.rated(motor):
            found.append("Rated current never written down")
        others = [CLAIMS[key].label.lower() for key in EXPECTED[1:] if key not in claimed]
        if others:
            found.append(f"Not written down: {', '.join(others)}")
        samples, weighed = len(motor.samples.all()), len(self.weighed.get(motor.pk, set()))
        if samples == 1:
            found.append("Only one sample: nothing can be said of the spread")
        if not weighed:
            found.append("No sample was weighed")
        elif weighed == 1 and samples > 1:
            found.append("Only one sample weighed")
        return found
