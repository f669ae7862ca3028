"""What the accepted soaks of a motor tell of its heat."""

from __future__ import annotations

from spindle_core.figures.measured import Figure
from spindle_core.identification.heat import HEAT
from spindle_core.planning.soak import SoaksBefore, soaks_before
from spindle_server.motors.models import MotorModel, Sample
from spindle_server.runs.as_core import figure_of
from spindle_server.runs.models import SummaryFigure

Soaks = dict[int, dict[int, dict[str, Figure]]]


def soaks_of(motor: MotorModel) -> Soaks:
    """Figures by sample and run, oldest first."""
    rows = SummaryFigure.objects.filter(
        run__sample__motor=motor,
        run__kind="soak",
        run__review="accepted",
        run__reduction__error="",
        name__in=[*HEAT, "energy_kj"],
    ).select_related("run")
    found: Soaks = {}
    for row in rows.order_by("run__started_at", "run_id", "name"):
        soaks = found.setdefault(row.run.sample_id, {})
        soaks.setdefault(row.run_id, {})[row.name] = figure_of(row)
    return found


def soaks_before_next(sample: Sample) -> SoaksBefore:
    """What is known before the next soak of a sample: its own, else those of its model."""
    found = soaks_of(sample.motor)
    if sample.pk in found:
        return soaks_before(list(found[sample.pk].values()))
    others = [one for soaks in found.values() for one in soaks.values()]
    return soaks_before(others, own=False)
