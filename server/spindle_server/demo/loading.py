"""Loading the demo into an empty database."""

from __future__ import annotations

import multiprocessing
import random
import secrets
import uuid
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from typing import Any

import numpy as np
from django.db import transaction

from spindle_bench.delivery import Segment
from spindle_core.formats.trace_parquet import encode_segment
from spindle_server.accounts.models import User
from spindle_server.accounts.services import create_user
from spindle_server.bench.services import plan_run
from spindle_server.demo import catalogue
from spindle_server.demo.catalogue import DemoMotor
from spindle_server.demo.simulated_runs import LEVELS, RUNS, Played, air_of, play, started_at
from spindle_server.history import save_as
from spindle_server.intake.models import MotorModel, Sample
from spindle_server.intake.services import put_claim, take_in_motor
from spindle_server.rig.models import Propeller, Stand, Supply
from spindle_server.rig.services import add_propeller
from spindle_server.runs.models import Run
from spindle_server.runs.services import review_run
from spindle_server.runs.store import DatabaseRunStore
from spindle_server.teardown.services import record_observation

Say = Callable[[str], None]


def load_demo(say: Say) -> list[dict[str, str]]:
    """Load everything; returns the logins with their fresh random passwords."""
    with transaction.atomic():
        logins = _people()
        ilse = User.objects.get(username="ilse")
        _rig(ilse)
        for motor in catalogue.MOTORS:
            _motor(ilse, motor)
        say(f"{len(catalogue.MOTORS)} motors, {len(catalogue.PROPELLERS)} propellers")
        _runs(ilse, say)
    return logins


def _people() -> list[dict[str, str]]:
    logins = []
    for username, full_name, role in catalogue.PEOPLE:
        password = "-".join(secrets.token_hex(2) for _ in range(3))
        create_user(
            actor=None, username=username, password=password, role=role, full_name=full_name
        )
        logins.append({"username": username, "password": password, "name": full_name, "role": role})
    return logins


def _rig(actor: User) -> None:
    for maker, diameter, pitch, blades in catalogue.PROPELLERS:
        add_propeller(actor=actor, maker=maker, diameter_in=diameter, pitch_in=pitch, blades=blades)
    for supply in catalogue.SUPPLIES:
        save_as(Supply(**supply), actor)
    for stand in catalogue.STANDS:
        save_as(Stand(**stand), actor)


def _motor(actor: User, demo: DemoMotor) -> None:
    motor = take_in_motor(
        actor=actor, maker=demo.maker, name=demo.name, size_code=demo.size_code,
        kv_label_rpm_per_v=demo.kv, sample_marks=list(demo.samples), obtained=demo.obtained,
        turning="cw",
    )  # fmt: skip
    for quantity, value in demo.claims.items():
        put_claim(actor=actor, motor=motor, quantity=quantity, value=value, source="box label")
    for index, sample in enumerate(motor.samples.all()):
        if index < 2:
            _observe(actor, motor, sample, demo, complete=index == 0)


def _observe(
    actor: User, motor: MotorModel, sample: Sample, demo: DemoMotor, *, complete: bool
) -> None:
    spread = random.Random(f"{motor.full_name}/{sample.mark}")  # noqa: S311 - demo spread
    stator_d = float(demo.size_code[:2]) + 0.2
    stator_h = float(demo.size_code[2:])
    dry = demo.name == "Drift Lite" and sample.mark == "B"
    seen: list[dict[str, Any]] = [
        {"attribute": "radial_play", "choice": "slight" if dry else "none"},
        {"attribute": "axial_play", "choice": "slight"},
        {"attribute": "free_spin", "choice": "rough" if dry else "long"},
        {"attribute": "bell_retention", "choice": demo.retention},
        {"attribute": "pole_count", "value": float(demo.poles)},
        {"attribute": "slot_count", "value": float(demo.slots)},
    ]
    if complete:
        no_screw = "no" if demo.retention == "hex_screw" else "no_screw"
        seen += [
            {"attribute": "screw_drags_bell", "choice": no_screw},
            {"attribute": "shaft_type", "choice": "hollow" if stator_h > 5 else "solid"},
            {"attribute": "magnet_shape", "choice": demo.magnet},
            {"attribute": "winding", "choice": demo.winding},
            {"attribute": "winding_neatness", "choice": "even"},
            {"attribute": "base_type", "choice": demo.base},
            {"attribute": "notching", "choice": "weak" if demo.magnet == "flat" else "strong"},
            {"attribute": "thread_lock", "choice": "yes" if stator_d > 25 else "no"},
            {"attribute": "pull_force", "choice": "firm" if stator_d < 25 else "strong"},
            {"attribute": "shaft_magnetic", "choice": "no" if stator_h > 5 else "yes"},
            {"attribute": "washers", "choice": "one"},
            {"attribute": "bearing_cushion", "choice": "yes" if stator_d > 25 else "no"},
            {"attribute": "magnet_spacing", "choice": "even"},
            {"attribute": "magnet_bonding", "choice": "lip" if demo.base == "full" else "flush"},
            {"attribute": "balancing", "choice": spread.choice(["none", "putty"])},
            {"attribute": "stator_coating", "choice": "epoxy"},
            {"attribute": "strand_count", "value": 1.0 if demo.winding == "single" else 5.0},
            {"attribute": "copper_room", "choice": "full" if demo.winding == "single" else "some"},
            {"attribute": "winding_material", "choice": "copper"},
            {"attribute": "lead_relief", "choice": "glued"},
            {"attribute": "bell_build", "choice": "one_piece" if stator_h > 5 else "two_piece"},
            {"attribute": "bell_top", "choice": "spokes" if demo.base == "open" else "fins"},
            {"attribute": "bell_finish", "choice": "clean"},
            {"attribute": "prop_knurling", "choice": "yes" if stator_d > 20 else "no"},
            {"attribute": "cable_retention", "choice": "channel"},
            {"attribute": "bottom_of_shaft", "choice": "flush"},
        ]
    for answer in seen:
        record_observation(actor=actor, sample=sample, status="observed", **answer)
    gap = 0.19 + 0.06 * spread.random() + (0.08 if demo.magnet == "flat" else 0.0)
    measured = [
        ("stator_diameter", stator_d + 0.02 * spread.random(), 0.01, "calliper"),
        ("magnet_inner_diameter", stator_d + 2 * gap, 0.02, "calliper"),
        ("shaft_diameter", 5.0 if stator_d > 20 else 3.0, 0.01, "calliper"),
        ("stator_height", stator_h + 0.05 * spread.random(), 0.05, "calliper"),
        ("base_thickness", 2.4 + 0.4 * spread.random(), 0.05, "calliper"),
        ("shaft_inner_diameter", 4.0 if stator_d > 20 else 2.0, 0.01, "calliper"),
        ("bearing_outer_diameter", 9.0 if stator_d > 20 else 5.0, 0.02, "calliper"),
        ("bearing_height", 4.0 if stator_d > 20 else 2.5, 0.02, "calliper"),
        ("magnet_thickness", 0.066 * stator_d + 0.1 * spread.random(), 0.03, "calliper"),
        ("tooth_length", 0.24 * stator_d, 0.1, "calliper"),
        ("hub_diameter", 0.44 * stator_d + 0.6, 0.05, "calliper"),
        ("lamination_thickness", 0.2, 0.02, "micrometer"),
        ("wire_diameter", 0.62 if demo.winding == "single" else 0.25, 0.01, "micrometer"),
        ("bell_outer_diameter", 1.26 * stator_d + 0.5, 0.02, "calliper"),
        ("ring_thickness", 0.045 * stator_d, 0.03, "calliper"),
        ("thread_depth", 2.5, 0.1, "depth gauge"),
        ("screw_clearance", 1.2, 0.1, "depth gauge"),
    ]
    for attribute, value, u, instrument in measured if complete else measured[:2]:
        record_observation(
            actor=actor, sample=sample, attribute=attribute, status="measured",
            value=round(value, 2), u=u, instrument=instrument,
        )  # fmt: skip
    if complete:
        record_observation(
            actor=actor, sample=sample, attribute="bearing_fit", status="could_not_tell",
            note="Did not want to press them out before the runs.",
        )  # fmt: skip


def _runs(actor: User, say: Say) -> None:
    samples = {
        (s.motor.full_name, s.mark): s for s in Sample.objects.select_related("motor__maker")
    }
    propellers = {p.full_name: p for p in Propeller.objects.select_related("maker")}
    supplies = {s.name: s for s in Supply.objects.all()}
    stand = Stand.objects.get(live=True)
    jobs = []
    for index, run in enumerate(RUNS):
        air = air_of(index)
        plan = plan_run(
            actor=actor, sample=samples[run.motor, run.sample],
            propeller=propellers[run.propeller], supply=supplies[run.supply], stand=stand,
            profile={"levels_pct": list(LEVELS), "dwell_s": 2.0, "ramp_pct_per_s": 60.0},
            limits={"current_a": run.current_limit_a, "motor_temp_c": 110.0},
            rate_hz=100.0, air_temp_c=air.temp_c, air_pressure_hpa=air.pressure_hpa,
            air_humidity_pct=air.humidity_pct, purpose="Figures for comparison",
            run_id=str(uuid.uuid5(uuid.NAMESPACE_OID, f"demo run {index}")),
        )  # fmt: skip
        plan.record["started_at"] = started_at(index).isoformat()
        jobs.append((index, run.flaw, plan))
    # Spawned workers share no database connection with this process.
    context = multiprocessing.get_context("spawn")
    with ProcessPoolExecutor(mp_context=context) as pool:
        for (index, _, _), played in zip(jobs, pool.map(play, jobs), strict=True):
            _store(actor, played, RUNS[index].review)
            if index % 5 == 4 or index == len(jobs) - 1:
                say(f"{index + 1} of {len(jobs)} runs on the simulated stand")


def _store(actor: User, played: Played, review: str) -> None:
    store, run_id = DatabaseRunStore(origin="demo"), played.plan.run_id
    store.begin_run(played.plan, played.channels)
    columns = {
        name: np.ascontiguousarray(played.rows[:, i]) for i, name in enumerate(played.channels)
    }
    times = played.times_s
    store.add_segment(
        run_id,
        Segment(
            0, 0, times.size, float(times[0]), float(times[-1]), encode_segment(times, columns)
        ),
    )
    store.end_run(run_id, played.end.as_json())
    if review:
        review_run(actor=actor, run=Run.objects.get(uid=run_id), review=review)
