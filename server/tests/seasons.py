"""Runs of the simulated world as a season brings them: bare, with a propeller, soaked."""

import pytest

from spindle_bench.stand.physics import Physics
from spindle_bench.stand.script import plateaus, record
from spindle_bench.stand.sensors import Sensors
from spindle_bench.stand.world import mounted_from
from spindle_core.formats.bench_log import write_bench_log
from spindle_server.runs.models import Reduction
from spindle_server.runs.services import import_log, review_run

SHOWN = ("throttle_pct", "voltage_v", "current_a", "speed_rpm", "thrust_gf", "torque_nm")


def made_log(rig, *, propeller: bool, seed: int, sample: str = "A", torque: bool = True) -> bytes:
    """A log of the simulated world: full throttle, with or without the propeller."""
    motor = rig["motor"]
    facts: dict[str, object] = {
        "motor": motor.full_name,
        "sample": sample,
        "size_code": motor.size_code,
        "kv_rpm_per_v": motor.kv_label_rpm_per_v,
        "open_circuit_v": 16.0,
        "supply_resistance_ohm": 0.004,
        "ambient_c": 21.0,
        "air_density_kg_per_m3": 1.19,
    }
    if propeller:
        prop = rig["propeller"]
        facts |= {"propeller": prop.full_name, "prop_diameter_in": prop.diameter_in}
        facts |= {"prop_pitch_in": prop.pitch_in, "prop_blades": prop.blades}
    else:
        facts["load"] = "none"
    physics = Physics(mounted_from(facts))
    recording = record(
        physics, Sensors(seed), plateaus([60.0, 100.0], dwell_s=2.5), 11.0, rate_hz=50
    )
    kept = [name for name in SHOWN if torque or name != "torque_nm"]
    header = {
        "kind": "steps" if propeller else "no_load",
        "motor": motor.full_name,
        "sample": sample,
        "nominal_voltage_v": 16.0,
        "air_temp_c": 21.0,
        "air_pressure_hpa": 1002.0,
    }
    return write_bench_log(header, recording.time_s, {n: recording.channels[n] for n in kept})


@pytest.fixture
def season(rig, people, django_capture_on_commit_callbacks):
    """Imports a run and accepts it, with what follows from that."""

    def make(*, propeller=True, sample=0, accept=True, seed=1, torque=True):
        who, mark = people["reviewer"], rig["samples"][sample].mark
        with django_capture_on_commit_callbacks(execute=True):
            run = import_log(
                actor=who,
                name=f"{propeller}-{sample}-{seed}.csv",
                data=made_log(rig, propeller=propeller, seed=seed, sample=mark, torque=torque),
                sample=rig["samples"][sample],
                propeller=rig["propeller"] if propeller else None,
                supply=rig["supply"],
                stand=rig["stand"],
            )
            if accept:
                run = review_run(actor=who, run=run, review="accepted", base=run.version)
        return run

    return make


def summary_of(run):
    return Reduction.objects.get(run=run).result


def soaked(rig, people, seed, *, torque=True, load_s=60.0, sample=0, level_pct=60.0):
    """An accepted soak."""
    motor, prop, mark = rig["motor"], rig["propeller"], rig["samples"][sample].mark
    facts = {
        "motor": motor.full_name,
        "sample": mark,
        "size_code": motor.size_code,
        "kv_rpm_per_v": motor.kv_label_rpm_per_v,
        "open_circuit_v": 16.0,
        "supply_resistance_ohm": 0.004,
        "ambient_c": 21.0,
        "propeller": prop.full_name,
        "prop_diameter_in": prop.diameter_in,
        "prop_pitch_in": prop.pitch_in,
        "prop_blades": prop.blades,
    }
    throttle = plateaus([level_pct], dwell_s=load_s)
    recording = record(
        Physics(mounted_from(facts)), Sensors(seed), throttle, load_s + 80.0, rate_hz=10
    )
    header = {"kind": "soak", "motor": motor.full_name, "sample": mark, "air_temp_c": 21.0}
    header["esc_linear"] = "yes"
    run = import_log(
        actor=people["reviewer"],
        name=f"soak-{seed}-{sample}.csv",
        data=write_bench_log(
            header,
            recording.time_s,
            {k: v for k, v in recording.channels.items() if torque or k != "torque_nm"},
        ),
        sample=rig["samples"][sample],
        propeller=prop,
        supply=rig["supply"],
        stand=rig["stand"],
    )
    return review_run(actor=people["reviewer"], run=run, review="accepted", base=run.version)
