"""What is said of a motor held against what was measured: claims and expectations."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any

from spindle_core.claim_quantities import CLAIMS
from spindle_core.claims import deviation_pct
from spindle_core.measured import Absent, Measured, mean_of_repeats
from spindle_server.intake.models import Expectation, MotorModel
from spindle_server.intake.weighing import figure_json
from spindle_server.runs.models import Reduction

Figure = Measured | Absent

CALIBRATED = ("max_thrust_gf",)
"""Summary figures whose u holds the stand's calibration already."""

ASSUMED_CALIBRATION_REL = 0.02
"""Of a run whose stand nobody named."""

FROM_RUNS = {
    "max_current_a": ("max_current_a", "highest of", "no run measured current"),
    "max_power_w": ("max_power_w", "highest of", "no run measured power"),
    "max_thrust_gf": ("max_thrust_gf", "highest of", "no run measured thrust"),
    "no_load_current_a": ("no_load_current_a", "mean of", "no run without a propeller"),
    "kv_rpm_per_v": ("kv_rpm_per_v", "mean of", "no run without a propeller"),
}
"""Quantity → summary figure of a run, how several are brought to one, and why there is none."""


def measured_figures(motor: MotorModel, masses: Sequence[Figure]) -> dict[str, dict[str, Any]]:
    """What was measured of a motor by quantity, with what it rests on in words.

    One query. A rejected run does not count; several samples make a mean of samples.
    """
    runs = (
        Reduction.objects.filter(run__sample__motor=motor, result__isnull=False)
        .exclude(run__review="rejected")
        .values_list("run__sample", "result__summary", "run__stand__calibration_rel")
    )
    summaries = [
        Summary(sample, summary or {}, calibration) for sample, summary, calibration in runs
    ]
    found = {
        quantity: _from_runs(summaries, name, way, missing)
        for quantity, (name, way, missing) in FROM_RUNS.items()
    }
    if isinstance(found["kv_rpm_per_v"]["figure"], Absent):
        raw = _from_runs(summaries, "kv_raw_rpm_per_v", "mean of", "no run without a propeller")
        found["kv_rpm_per_v"] = {**raw, "from": f"{raw['from']}, not corrected for I·R"
                                 if raw["from"] else ""}  # fmt: skip
    found["mass_g"] = _of_samples(masses)
    return found


@dataclass(frozen=True)
class Summary:
    """Summary figures of one run, its sample and its stand's calibration; None without a stand."""

    sample: int
    figures: dict[str, Any]
    calibration_rel: float | None


def _from_runs(summaries: Sequence[Summary], name: str, way: str, missing: str) -> dict[str, Any]:
    """One figure from all runs. What a stand declares of its calibration does not average out,
    and a claim was not measured on that stand: it is added at the end."""
    by_sample: dict[int, list[Measured]] = {}
    calibration = 0.0
    for run in summaries:
        stored = run.figures.get(name)
        if stored and stored.get("value") is not None:
            figure = Measured(stored["value"], {name: stored["u"]} if stored.get("u") else {})
            by_sample.setdefault(run.sample, []).append(figure)
            if name not in CALIBRATED:
                calibration = max(calibration, run.calibration_rel or ASSUMED_CALIBRATION_REL)
    count = sum(len(figures) for figures in by_sample.values())
    if not count:
        return {"figure": Absent("not_measured", missing), "from": ""}
    runs = f"{count} run{'' if count == 1 else 's'}"
    if way == "highest of":
        every = [figure for figures in by_sample.values() for figure in figures]
        top = max(every, key=lambda figure: figure.value)
        return {"figure": _calibrated(top, calibration), "from": f"{way} {runs}"}
    per_sample = [_mean(figures, "repeat") for figures in by_sample.values()]
    samples = f"{len(per_sample)} sample{'' if len(per_sample) == 1 else 's'}"
    mean = _calibrated(_mean(per_sample, "samples"), calibration)
    return {"figure": mean, "from": f"{samples}, {runs}"}


def _calibrated(figure: Measured, relative: float) -> Measured:
    parts = {**figure.components, "calibration": relative * figure.value}
    return Measured(figure.value, parts, n=figure.n)


def _mean(figures: Sequence[Measured], component: str) -> Measured:
    """Their mean; the spread, or one figure's own u where it is larger."""
    if len(figures) == 1:
        return figures[0]
    mean = mean_of_repeats([figure.value for figure in figures], component=component)
    own = max(figure.u for figure in figures) / len(figures) ** 0.5
    parts = dict(mean.components) if mean.u > own else {component: own}
    return Measured(mean.value, parts, n=len(figures))


def _of_samples(masses: Sequence[Figure]) -> dict[str, Any]:
    known = [figure for figure in masses if isinstance(figure, Measured)]
    if not known:
        return {"figure": Absent("not_weighed", "no sample was weighed"), "from": ""}
    samples = f"{len(known)} sample{'' if len(known) == 1 else 's'}"
    return {"figure": _mean(known, "samples"), "from": f"{samples}, at the bench's lead length"}


def against_claims(motor: MotorModel, measured: dict[str, dict[str, Any]]) -> list[dict[str, Any]]:
    """One row per claim with a number: claimed, measured, deviation with its u."""
    rows = []
    if motor.kv_label_rpm_per_v is not None:
        rows.append(
            _row("kv_rpm_per_v", "kV", "rpm/V", motor.kv_label_rpm_per_v, "label", measured)
        )
    for claim in motor.claims.all():
        known = CLAIMS[claim.quantity]
        if claim.value is not None and claim.quantity in measured:
            rows.append(
                _row(claim.quantity, known.label, known.unit, claim.value, claim.source, measured)
            )
    return rows


def _row(
    quantity: str, label: str, unit: str, said: float, source: str,
    measured: dict[str, dict[str, Any]],
) -> dict[str, Any]:  # fmt: skip
    found = measured[quantity]
    figure: Figure = found["figure"]
    off = figure if isinstance(figure, Absent) else deviation_pct(said, figure)
    resolved = isinstance(off, Measured) and off.u > 0 and abs(off.value) > 1.96 * off.u
    return {
        "quantity": quantity, "label": label, "unit": unit, "said": said, "source": source,
        "measured": figure_json(figure), "measured_from": found["from"],
        "deviation_pct": figure_json(off), "resolved": resolved,
    }  # fmt: skip


def against_expectations(
    expectations: Iterable[Expectation], measured: dict[str, dict[str, Any]]
) -> list[dict[str, Any]]:
    """Each expectation with what came of it; in words where no number was expected."""
    units = {"max_thrust_gf": "gf", "max_current_a": "A", "kv_rpm_per_v": "rpm/V", "mass_g": "g"}
    rows = []
    for item in expectations:
        row: dict[str, Any] = {
            "id": item.pk, "text": item.text, "noted_at": item.noted_at,
            "who": item.noted_by.shown_name if item.noted_by else "", "held_against": None,
        }  # fmt: skip
        if item.quantity and item.value is not None:
            row["held_against"] = _row(
                item.quantity, item.get_quantity_display(), units[item.quantity], item.value,
                "expected", measured,
            )  # fmt: skip
        rows.append(row)
    return rows
