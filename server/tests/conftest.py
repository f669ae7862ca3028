"""People, a small bench and recorded runs for the API tests."""

import copy
import json
from collections.abc import Callable, Iterator, Sequence
from contextlib import nullcontext
from typing import Any

import pytest
from django.contrib.auth.hashers import Argon2PasswordHasher, make_password
from django.test import override_settings
from rest_framework.test import APIClient

from spindle_core.formats.bench_log import write_bench_log
from spindle_server.publish import services
from spindle_server.publish.drawing import DrawWorker, draw_worker
from spindle_server.runs.models import Run

from .house import House, People, common, house_of_a_test, plateau_columns
from .seasons import season

__all__ = ["season"]

PASSWORD = "gap-tight-0.21-mm"


@pytest.fixture(autouse=True, scope="session")
def _cheap_hashes() -> Iterator[None]:
    """Argon2 is slow on purpose, which is not what is tried here."""
    with pytest.MonkeyPatch.context() as patch:
        for name, least in (("time_cost", 1), ("memory_cost", 8), ("parallelism", 1)):
            patch.setattr(Argon2PasswordHasher, name, least)
        yield


@pytest.fixture(scope="session")
def password_hash(_cheap_hashes: None) -> str:
    return make_password(PASSWORD)


@pytest.fixture(autouse=True)
def _packs_of_its_own(settings, tmp_path_factory):
    """Data packs of a test lie where no other finds them."""
    settings.PACKS = tmp_path_factory.mktemp("packs")


@pytest.fixture(autouse=True, scope="session")
def _drawn_once() -> Iterator[None]:
    """The worker takes half a second, and the drawings of most tests are the same: what is asked
    again is given as it was drawn."""
    made: dict[str, list[dict[str, Any]]] = {}

    class Kept(DrawWorker):
        def draw(
            self, asked: Sequence[dict[str, Any]], words: dict[str, Any]
        ) -> list[dict[str, Any]]:
            key = json.dumps([asked, words])
            if key not in made:
                with draw_worker() as worker:
                    made[key] = worker.draw(asked, words)
            return copy.deepcopy(made[key])

    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(services, "draw_worker", lambda: nullcontext(Kept()))
        yield


@pytest.fixture(scope="module")
def common_house(
    django_db_setup: None,
    django_db_blocker: Any,
    password_hash: str,
    tmp_path_factory: pytest.TempPathFactory,
) -> Iterator[House]:
    """The house of all tests of a module, in which it does once what they begin with. Each has a
    copy, and none sees what another did. Tests that begin with nothing come before them."""
    packs = override_settings(PACKS=tmp_path_factory.mktemp("packs"))
    with django_db_blocker.unblock(), packs, common(password_hash) as house:
        yield house


@pytest.fixture
def house(db: None, password_hash: str) -> House:
    """A bench with nothing in it, or as its module began it."""
    return house_of_a_test(password_hash)


@pytest.fixture
def people(house: House) -> People:
    return house.people


@pytest.fixture
def as_role(house: House, people: People) -> Callable[[str | None], APIClient]:
    """A client logged in as a role, or as nobody."""
    return house.client


@pytest.fixture
def api(as_role: Callable[[str | None], APIClient]) -> APIClient:
    return as_role("reviewer")


@pytest.fixture
def rig(house: House, people: People) -> dict[str, Any]:
    """A motor with two samples, a propeller, a supply and a live stand."""
    return house.rig


@pytest.fixture
def record(house: House, rig: dict[str, Any]) -> Callable[..., Run]:
    """Puts a run into the record the way the agent does."""
    return house.record


@pytest.fixture
def log_bytes() -> bytes:
    time_s, columns = plateau_columns()
    header = {
        "kind": "steps",
        "motor": "Quillmoor Sable 2105.5 1950",
        "sample": "B",
        "propeller": "Wickett 5.1x4.2x3",
        "nominal_voltage_v": 16.0,
        "weather": "drizzle",
    }
    return write_bench_log(header, time_s, columns)
