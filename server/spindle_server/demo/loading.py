"""Loading the demo into an empty database."""

from __future__ import annotations

import datetime
import multiprocessing
import os
import secrets
import uuid
from collections.abc import Callable, Iterable
from concurrent.futures import ProcessPoolExecutor

from django.db import transaction

from spindle_bench.plan import RunPlan
from spindle_bench.profiles import course_to_the_top, highest_throttle_pct
from spindle_server.accounts.models import User
from spindle_server.accounts.services import create_user
from spindle_server.bench.services import plan_run
from spindle_server.demo import catalogue
from spindle_server.demo.afterwards import load_afterwards
from spindle_server.demo.campaign import begin_demo_campaign
from spindle_server.demo.catalogue import DemoMotor
from spindle_server.demo.drawn_photos import DrawnPhoto, photos_of
from spindle_server.demo.judgements import load_judgements
from spindle_server.demo.no_load_runs import bare_shaft, import_no_load
from spindle_server.demo.other_bench import quote_other_bench, runs_there
from spindle_server.demo.parcels import burn_one, fill_parcel
from spindle_server.demo.rig import fill_rig
from spindle_server.demo.simulated_runs import RUNS, Played, air_of, play, started_at
from spindle_server.demo.stand_logs import recorded, recorded_file
from spindle_server.demo.strangers import stranger_files
from spindle_server.demo.teardowns import beside_reference, infer_from_sibling, take_apart
from spindle_server.demo.typed_reviews import type_reviews
from spindle_server.demo.verdicts import load_verdicts, publish_verdicts
from spindle_server.garbage import seldom
from spindle_server.identification.knowing import as_rows, density_of, expected
from spindle_server.identification.rebuilding import rebuild_stale
from spindle_server.imports.inbox import inbox_folder
from spindle_server.motors.claimed_loads import add_claimed_load
from spindle_server.motors.models import MotorModel, Sample
from spindle_server.motors.services import put_claim, take_in_motor
from spindle_server.photos.services import add_photo
from spindle_server.publish.services import ask_for_packs
from spindle_server.rig.models import Propeller, Stand, Supply
from spindle_server.runs.models import Run
from spindle_server.runs.services import review_run
from spindle_server.runs.signals import many_reductions
from spindle_server.runs.store import DatabaseRunStore

Say = Callable[[str], None]

PAGE_OF = datetime.date(2026, 8, 14)
"""When the maker's page said what it says."""

WORKERS = max(1, min(3, len(os.sched_getaffinity(0)) - 1))
"""Processes in which the stand plays; this one and the database need the rest, and more of them
have nothing to do."""


def load_demo(say: Say) -> list[dict[str, str]]:
    """Load everything; returns the logins with their fresh random passwords."""
    with transaction.atomic():
        logins = _people()
        ilse = User.objects.get(username="ilse")
        fill_rig(ilse)
        motors = [_motor(ilse, motor) for motor in catalogue.MOTORS]
        # Spawned workers share no database connection with this process; the stand plays its runs
        # there while the files of the motors are filled here.
        context = multiprocessing.get_context("spawn")
        with ProcessPoolExecutor(WORKERS, mp_context=context, initializer=seldom) as pool:
            samples = _to_be_run_bare()
            supply, stand = Supply.objects.get(name="Supply 16 V"), Stand.objects.get(live=True)
            bare = pool.map(recorded_file, [bare_shaft(sample, supply) for sample in samples])
            jobs = _planned(ilse)
            played = pool.map(play, jobs)
            photos = pool.map(photos_of, catalogue.MOTORS)
            theirs = pool.map(recorded, runs_there())
            for index, (motor, demo) in enumerate(zip(motors, catalogue.MOTORS, strict=True)):
                _fill(ilse, motor, demo, index)
            _beside_each_other(ilse)
            say(f"{len(catalogue.MOTORS)} motors, {len(catalogue.PROPELLERS)} propellers")
            # What rests on many runs is made again where the story needs it, not after each.
            with many_reductions():
                for index, (sample, log) in enumerate(zip(samples, bare, strict=True)):
                    import_no_load(ilse, sample, log, index, supply=supply, stand=stand)
                _season(ilse, played, say)
            for motor, shown in zip(motors, photos, strict=True):
                _take(ilse, motor, shown)
        say("rankings, matches, verdicts and their pages")
        type_reviews(ilse)
        begin_demo_campaign(ilse)
        tomas = User.objects.get(username="tomas")
        load_judgements(ilse, tomas)
        load_afterwards(ilse)
        load_verdicts(ilse)
        publish_verdicts(ilse, tomas)
        quote_other_bench(ilse, theirs)
        # Their data packs are made beside what is being looked at, as after any publication.
        ask_for_packs(actor=tomas)
        for name, data in stranger_files().items():
            (inbox_folder() / name).write_bytes(data)
    return logins


def _season(actor: User, played: Iterable[Played], say: Say) -> None:
    """The runs as they were made, each expected from those before it."""
    for index, one in enumerate(played):
        _expect(one.plan)
        _store(actor, one, RUNS[index].review)
        if one.plan.profile.kind == "steps":
            rebuild_stale()
        if index % 10 == 9 or index == len(RUNS) - 1:
            say(f"{index + 1} of {len(RUNS)} runs on the simulated stand")
    rebuild_stale()


def _people() -> list[dict[str, str]]:
    logins = []
    for username, full_name, role in catalogue.PEOPLE:
        password = "-".join(secrets.token_hex(2) for _ in range(3))
        create_user(
            actor=None, username=username, password=password, role=role, full_name=full_name
        )
        logins.append({"username": username, "password": password, "name": full_name, "role": role})
    return logins


def _motor(actor: User, demo: DemoMotor) -> MotorModel:
    return take_in_motor(
        actor=actor,
        maker=demo.maker,
        name=demo.name,
        size_code=demo.size_code,
        kv_label_rpm_per_v=demo.kv,
        sample_marks=list(demo.samples),
        obtained=demo.obtained,
        turning="cw",
    )


def _fill(actor: User, motor: MotorModel, demo: DemoMotor, index: int) -> None:
    """Claims, parcel and teardown of a motor."""
    for quantity, value in demo.claims.items():
        put_claim(actor=actor, motor=motor, quantity=quantity, value=value, source="box label")
    for quantity, words in demo.words.items():
        put_claim(actor=actor, motor=motor, quantity=quantity, words=words, source="box label")
    for cells, propeller, thrust_gf, current_a, power_w in demo.loads:
        add_claimed_load(
            actor=actor,
            motor=motor,
            source="web page",
            stated_on=PAGE_OF,
            cells=cells,
            propeller=propeller,
            thrust_gf=thrust_gf,
            current_a=current_a,
            power_w=power_w,
        )
    fill_parcel(actor, motor, demo, index)
    take_apart(actor, motor, demo)
    if demo.words.get("enamel_class") == "F":
        burn_one(actor, motor)


def _take(actor: User, motor: MotorModel, photos: Iterable[DrawnPhoto]) -> None:
    """The photos of its first sample."""
    sample = motor.samples.all()[0]
    for one in photos:
        add_photo(
            actor=actor, sample=sample, data=one.png, attribute=one.attribute, caption=one.caption
        )


def _beside_each_other(actor: User) -> None:
    """Answers that refer to a sample of another motor."""
    first = {motor.full_name: motor.samples.get(mark="A") for motor in MotorModel.objects.all()}
    reference = first["Quillmoor Sable 2105.5 1950"]
    for name in ("Ostrel Drift 2206 1900", "Brackwater No. 4 2306 1800"):
        beside_reference(actor, first[name], reference)
    slow, fast = (MotorModel.objects.get(name="Pale", kv_label_rpm_per_v=kv) for kv in (1250, 1480))
    infer_from_sibling(actor, fast.samples.get(mark="B"), slow.samples.get(mark="A"))


def _to_be_run_bare() -> list[Sample]:
    """The samples that are run without a propeller before the first one."""
    rows = Sample.objects.filter(mark__in=("A", "B"))
    return list(rows.select_related("motor__maker"))


def _planned(actor: User) -> list[tuple[int, str, RunPlan]]:
    """The runs of the season, each with its flaw, ready for the stand to play."""
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
            actor=actor,
            sample=samples[run.motor, run.sample],
            propeller=propellers[run.propeller],
            supply=supplies[run.supply],
            stand=stand,
            profile=run.profile,
            limits={
                "current_a": run.current_limit_a,
                "motor_temp_c": 110.0,
                "thrust_gf": 4000.0,
                "lost_rpm_s": 0.4,
                "voltage_floor_v": supplies[run.supply].floor_v,
                "speed_rpm": run.profile.get("rated_speed_rpm"),
            },
            limits_off=[
                "power_w",
                "vibration_g",
                *([] if "rated_speed_rpm" in run.profile else ["speed_rpm"]),
            ],
            rate_hz=run.rate_hz,
            air_temp_c=air.temp_c,
            air_pressure_hpa=air.pressure_hpa,
            air_humidity_pct=air.humidity_pct,
            purpose="Figures for comparison",
            run_id=str(uuid.uuid5(uuid.NAMESPACE_OID, f"demo run {index}")),
            # What the season's runs passed, they passed: the story has a run that a limit cut. What
            # was expected of each is known on its day only.
            guarded=False,
            expect=False,
            by_hand=run.by_hand,
            hand="transmitter" if run.by_hand else "",
        )
        plan.record["started_at"] = started_at(index).isoformat()
        jobs.append((index, run.flaw, plan))
    return jobs


def _expect(plan: RunPlan) -> None:
    """What was expected of a run on its day, from the runs before it."""
    record = plan.record
    sample = Sample.objects.select_related("motor__maker").get(pk=record["sample_id"])
    propeller = Propeller.objects.select_related("maker").filter(pk=record["propeller_id"]).first()
    figures, words = expected(
        kind=plan.profile.kind,
        sample=sample,
        propeller=propeller,
        supply=Supply.objects.get(pk=record["supply_id"]),
        esc=None,
        density_kg_per_m3=density_of(record),
        highest_pct=highest_throttle_pct(plan.profile),
        course=course_to_the_top(plan.profile),
    )
    record["predicted"] = as_rows(figures, words)


def _store(actor: User, played: Played, review: str) -> None:
    store, run_id = DatabaseRunStore(origin="demo"), played.plan.run_id
    store.begin_run(played.plan, played.channels)
    store.add_segment(run_id, played.segment)
    store.end_run(run_id, played.end.as_json())
    if review:
        run = Run.objects.get(uid=run_id)
        review_run(actor=actor, run=run, review=review, base=run.version)
