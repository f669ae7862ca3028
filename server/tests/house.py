"""A small bench for the tests of the API: its people, its rig and what it records."""

from __future__ import annotations

import copy
from collections.abc import Iterator
from contextlib import contextmanager
from functools import cached_property
from typing import Any

import numpy as np
import pytest
from django.db import transaction
from rest_framework.test import APIClient

from spindle_bench.delivery import Segment
from spindle_bench.plan import RunPlan
from spindle_bench.states import Outcome, RunEnd
from spindle_core.formats.trace_parquet import encode_segment
from spindle_server.accounts.models import User
from spindle_server.bench import services as bench
from spindle_server.motors.models import MotorModel
from spindle_server.motors.services import take_in_motor
from spindle_server.rig.models import Stand, Supply
from spindle_server.rig.services import add_propeller
from spindle_server.runs.models import Run
from spindle_server.runs.store import DatabaseRunStore

ROLES = ("reader", "reviewer", "editor", "administrator")


class People(dict[str, User]):
    """One person of each role, who is there from when a test first speaks of them."""

    def __init__(self, password: str) -> None:
        super().__init__()
        self._password = password

    def __missing__(self, role: str) -> User:
        assert role in ROLES, role
        self[role] = User.objects.create(username=role, password=self._password, role=role)
        return self[role]

    def all_there(self) -> People:
        """For tests that log in by name, or count who there is."""
        for role in ROLES:
            self[role]
        return self


def plateau_columns(scale: float = 1.0, *, seed: int = 1) -> tuple[Any, dict[str, Any]]:
    """Three plateaus of 2 s at 100 Hz: thrust 12·throttle gf, current 0.3·throttle·scale A."""
    levels = [(0, 3), (30, 2), (60, 2), (100, 2), (0, 3)]
    throttle = np.concatenate([np.full(seconds * 100, float(level)) for level, seconds in levels])
    rng = np.random.default_rng(seed)
    noise = lambda size: rng.normal(scale=size, size=throttle.size)  # noqa: E731
    return np.arange(throttle.size) * 0.01, {
        "throttle_pct": throttle,
        "thrust_gf": 12.0 * throttle + noise(1.0),
        "voltage_v": 16.0 + noise(0.005),
        "current_a": 0.3 * scale * throttle + noise(0.01),
        "speed_rpm": 250.0 * throttle * (1 + noise(0.0005)),
    }


def planned_run(**plan: Any) -> RunPlan:
    """A plan without what only a guard goes by, which is not kept and takes a while."""
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(bench, "expected_curve", lambda **_: ())
        return bench.plan_run(**plan)


def second_motor(people: People) -> MotorModel:
    """Another motor beside that of the rig, with one sample."""
    return take_in_motor(
        actor=people["reviewer"],
        maker="Ostrel",
        name="Drift",
        size_code="2206",
        kv_label_rpm_per_v=1900,
        sample_marks=["A"],
    )


class House:
    """One bench, whose people and rig are there from when a test first speaks of them."""

    def __init__(self, password: str) -> None:
        self.people = People(password)

    def client(self, role: str | None) -> APIClient:
        """Logged in as a role, or as nobody."""
        api = APIClient()
        if role is not None:
            api.force_authenticate(self.people[role])
        return api

    @cached_property
    def rig(self) -> dict[str, Any]:
        """A motor with two samples, a propeller, a supply and a live stand."""
        actor = self.people["reviewer"]
        motor = take_in_motor(
            actor=actor,
            maker="Quillmoor",
            name="Sable",
            size_code="2105.5",
            kv_label_rpm_per_v=1950,
            sample_marks=["A", "B"],
        )
        return {
            "motor": motor,
            "samples": list(motor.samples.all()),
            "propeller": add_propeller(
                actor=actor, maker="Wickett", diameter_in=5.1, pitch_in=4.2, blades=3
            ),
            "supply": Supply.objects.create(
                name="Supply 16 V",
                kind="psu",
                nominal_voltage_v=16.0,
                open_circuit_v=16.0,
                resistance_ohm=0.004,
                trip_a=55.0,
            ),
            "stand": Stand.objects.create(
                name="Yard stand",
                kind="direct",
                repeatability_rel=0.005,
                calibration_rel=0.008,
                live=True,
            ),
        }

    def record(
        self, scale: float = 1.0, *, sample: int = 0, end: RunEnd | None = None, **plan: Any
    ) -> Run:
        """Put a run into the record the way the agent does."""
        rig = self.rig
        planned = planned_run(
            actor=self.people["reviewer"],
            sample=rig["samples"][sample],
            propeller=rig["propeller"],
            supply=rig["supply"],
            stand=rig["stand"],
            profile={"levels_pct": [30, 60, 100]},
            limits={"current_a": 40, "motor_temp_c": 90, "lost_rpm_s": 0.4},
            rate_hz=100.0,
            air_temp_c=21.0,
            air_pressure_hpa=1002.0,
            air_humidity_pct=50.0,
            limits_off=["power_w", "thrust_gf", "speed_rpm", "vibration_g", "voltage_floor_v"],
            **plan,
        )
        store = DatabaseRunStore()
        time_s, columns = plateau_columns(scale)
        store.begin_run(planned, list(columns))
        store.add_segment(
            planned.run_id, Segment(0, 0, time_s.size, 0.0, 11.99, encode_segment(time_s, columns))
        )
        ending = end or RunEnd(Outcome.COMPLETED, "completed", "The profile ran to its end.")
        store.end_run(planned.run_id, ending.as_json())
        return Run.objects.get(uid=planned.run_id)


_common: list[House] = []
"""That of the module whose tests are played, where it has one."""


def house_of_a_test(password: str) -> House:
    """One of its own, or a copy of the one that all tests of the module have."""
    return copy.deepcopy(_common[-1]) if _common else House(password)


@contextmanager
def common(password: str) -> Iterator[House]:
    """One whose rows stay until the end; what a test does is undone to where they are."""
    with transaction.atomic():
        _common.append(House(password))
        try:
            yield _common[-1]
        finally:
            _common.pop()
            transaction.set_rollback(True)
