"""One motor that was reviewed with a scale and a watt meter, on paper, with the slips of a tired
evening: two digits that were swapped, and a meter that was not reset."""

from __future__ import annotations

import datetime

from spindle_core.run.typed_cells import LATER
from spindle_server.accounts.models import User
from spindle_server.demo.rig import season
from spindle_server.demo.simulated_runs import TOLD_WHOLE
from spindle_server.rig.models import Esc, Stand
from spindle_server.rig.stands import geometry_of
from spindle_server.runs.bench_days import put_day
from spindle_server.runs.models import Run
from spindle_server.runs.sheets import Block, SheetRow, keep_sheet

REVIEWED = "Pale"
"""The motor, by its name; its first two runs of steps are read off once more by hand."""

EVENINGS = 2


def type_reviews(actor: User) -> None:
    """Two bench days, and a sheet on each of them."""
    lever = Stand.objects.get(kind="lever")
    runs = Run.objects.filter(
        sample__motor__name=REVIEWED, kind="steps", end__outcome="completed"
    ).order_by("pk")[:EVENINGS]
    for evening, run in enumerate(runs):
        assert run.propeller is not None
        day = season().date() + datetime.timedelta(days=13 + evening)
        put_day(
            actor=actor,
            day=day,
            people="Ilse" if evening == 0 else "Ilse, Tomas",
            air_temp_c=17.5 - evening,
            height_m=520.0,
            stand=lever,
            esc=Esc.objects.get(name="Tarn 45"),
            command_source="servo_tester",
        )
        maxima = evening == 1
        rows = _read_off(run, lever, day, maxima)
        _slip(rows, maxima)
        block = Block(
            rows=[_as_row(row, later=maxima and at == 2) for at, row in enumerate(rows)],
            maxima=maxima,
            sample=run.sample,
            propeller=run.propeller,
            supply=run.supply,
            purpose="comparison",
            overrun_reason="full throttle for a glance only, as the label allows no more",
            noticed={"smoothness": "smooth", "smell": "none", "sound": "even"},
            note="by hand, in the yard",
        )
        keep_sheet(actor=actor, blocks=[block], stand=lever, day=day)
    _three_on_one_sheet(actor, lever)


def _three_on_one_sheet(actor: User, lever: Stand) -> None:
    """One propeller on three motors, one after the other, with scale and meter."""
    day = season().date() + datetime.timedelta(days=13 + EVENINGS)
    runs = [
        run
        for run in Run.objects.filter(kind="steps", end__outcome="completed", by_hand=False)
        .order_by("started_at", "pk")
        .select_related("sample__motor__maker", "propeller", "supply")
        if run.sample.motor.full_name in TOLD_WHOLE
    ]
    first = {run.sample.motor_id: run for run in reversed(runs)}
    blocks = [
        Block(
            rows=[_as_row(row, later=False) for row in _read_off(run, lever, day, maxima=False)],
            maxima=False,
            sample=run.sample,
            propeller=run.propeller,
            supply=run.supply,
            purpose="comparison",
            overrun_reason="full throttle for a glance, as in the log of the day",
        )
        for run in first.values()
    ]
    if blocks:
        put_day(
            actor=actor,
            day=day,
            people="Ilse",
            air_temp_c=18.0,
            height_m=520.0,
            stand=lever,
            esc=Esc.objects.get(name="Tarn 45"),
            command_source="servo_tester",
        )
        keep_sheet(actor=actor, blocks=blocks, stand=lever, day=day)


def _as_row(row: dict[str, float], *, later: bool) -> SheetRow:
    """The row as typed; of one the speed is still to be read from the film of the evening."""
    if not later:
        return SheetRow(row, row)
    seen = {"speed_rpm": "clip 3 at 04:12"}
    raw = {**row, "speed_rpm": {"later": seen["speed_rpm"]}}
    return SheetRow({**row, "speed_rpm": LATER}, raw, seen)


def _read_off(run: Run, stand: Stand, day: datetime.date, maxima: bool) -> list[dict[str, float]]:
    """What the instruments of the lever would have shown at the run's points."""
    geometry = geometry_of(stand, day)
    ratio = geometry.lever.ratio if geometry.lever else 1.0
    rest = {"throttle_pct": 0.0, "scale_g": round(-geometry.added_g)}
    rows = [rest]
    for point in (run.reduction.result or {})["points"]:
        volts, amps = point["voltage_v"]["value"], point["current_a"]["value"]
        row = {
            "throttle_pct": round(point["throttle_pct"]["value"]),
            "scale_g": round(point["thrust_gf"]["value"] / ratio - geometry.added_g),
            "voltage_v": round(volts, 2),
            "current_a": round(amps, 1),
        }
        if maxima:
            row["power_w"] = round(1.004 * volts * amps)
        rows.append({name: float(value) for name, value in row.items()})
    return [*rows, dict(rest)]


def _slip(rows: list[dict[str, float]], maxima: bool) -> None:
    """Row 4: two digits of the scale the wrong way round, or the meter of the row above."""
    if maxima:
        rows[3] |= {name: rows[2][name] for name in ("current_a", "power_w")}
        return
    text = f"{rows[3]['scale_g']:.0f}"
    rows[3]["scale_g"] = float(text[1] + text[0] + text[2:])
