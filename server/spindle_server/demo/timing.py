"""How long the lists and files take at the size that is in the database."""

from __future__ import annotations

import random
import statistics
import time
from collections.abc import Callable

from django.core.cache import cache
from django.db import connection
from django.test.utils import CaptureQueriesContext
from rest_framework.test import APIClient

from spindle_server.accounts.models import User
from spindle_server.compare.asking import MOST_RUNS
from spindle_server.match.models import Craft
from spindle_server.match.services import add_craft
from spindle_server.motors.models import MotorModel, Sample
from spindle_server.runs.models import Run

Say = Callable[[str], None]

BUDGET_MS = 150.0
COLD_MS = 1000.0


def _craft() -> int:
    """A craft to match with."""
    found = Craft.objects.first() or add_craft(
        actor=None,
        name="Timed craft",
        cells=4,
        capacity_mah=1500.0,
        rated_c=95.0,
        least_thrust_to_weight=2.0,
        items=[{"name": "all but the motors", "mass_g": 480.0}],
    )
    return found.pk


def _comparison() -> str:
    """As many runs as a comparison takes, as models: those of one load."""
    first = Run.objects.filter(kind="steps", reduction__result__isnull=False).order_by("pk").first()
    if first is None:
        return "compare/bench/"
    alike = Run.objects.filter(
        kind="steps", propeller=first.propeller_id, nominal_voltage_v=first.nominal_voltage_v
    ).filter(reduction__result__isnull=False)
    numbers = alike.order_by("pk").values_list("pk", flat=True)[:MOST_RUNS]
    return f"compare/?by=model&runs={','.join(str(pk) for pk in numbers)}"


def cold(client: APIClient, say: Say, craft: int) -> None:
    """The first answer of each judgement, when nothing is kept yet; budget 1 s."""
    asked = (
        ("ranking", "rank/"),
        ("match", f"craft/{craft}/match/"),
        ("comparison of many", _comparison()),
        ("the whole bench", "compare/bench/"),
        ("mass and money", "compare/mass/"),
    )
    for name, path in asked:
        cache.clear()
        began = time.perf_counter()
        client.get(f"/api/v1/{path}")
        took = 1000.0 * (time.perf_counter() - began)
        say(f"  {name}, cold {took:.0f} ms{'' if took <= COLD_MS else '   over the budget'}")


def time_endpoints(say: Say, *, rounds: int = 30, number: int = 3) -> None:
    """Median and 95th percentile of each endpoint in ms, and the queries it makes.

    Every round asks for another motor or page; the first round is not counted.
    """
    draw = random.Random(number)  # noqa: S311 - which rows are asked for
    client = APIClient(SERVER_NAME="127.0.0.1")
    client.force_authenticate(User(username="timing", role="reader"))
    motors = list(MotorModel.objects.values_list("pk", flat=True))
    samples = list(Sample.objects.values_list("pk", flat=True))
    if len(samples) < 4:
        say("Nothing to time: the record is empty.")
        return
    craft = _craft()
    cold(client, say, craft)
    pages = max(1, len(motors) // 50)
    asked: dict[str, Callable[[], str]] = {
        "list of motors": lambda: f"motors/?page={draw.randint(1, pages)}",
        "search": lambda: f"motors/?search=22%20Model%20{draw.randint(0, 40):03d}",
        "motor file": lambda: f"motors/{draw.choice(motors)}/",
        "fit": lambda: f"motors/{draw.choice(motors)}/fit/?screw_length_mm=8",
        "peers while typing": lambda: (
            f"peers/?size_code=2207&kv_rpm_per_v={draw.randint(1500, 2500)}"
        ),
        "teardown": lambda: f"samples/{draw.choice(samples)}/teardown/",
        "teardown compare": lambda: (
            "teardown/compare/?samples=" + ",".join(str(pk) for pk in draw.sample(samples, 4))
        ),
        "board": lambda: "board/",
        "ranking, weights changed": lambda: (
            f"rank/?weights=max_thrust_gf:1,efficiency_g_per_w:{draw.randint(1, 16) / 4},mass_g:1"
        ),
        "match": lambda: f"craft/{craft}/match/",
        "comparison of many": _comparison,
        "the whole bench": lambda: (
            f"compare/bench/?figure={draw.choice(('thrust_gf', 'power_w', 'current_a'))}"
        ),
    }
    say(
        f"{len(motors)} motors, {len(samples)} samples, {rounds} requests each; budget p95 "
        f"{BUDGET_MS:g} ms"
    )
    for name, path in asked.items():
        took = []
        for _ in range(rounds + 1):
            began = time.perf_counter()
            answer = client.get(f"/api/v1/{path()}")
            took.append(1000.0 * (time.perf_counter() - began))
            if answer.status_code != 200:
                say(f"{name}: status {answer.status_code}")
        with CaptureQueriesContext(connection) as queries:
            client.get(f"/api/v1/{path()}")
        took = sorted(took[1:])
        p95 = took[min(len(took) - 1, round(0.95 * len(took)))]
        held = "" if p95 <= BUDGET_MS else "   over the budget"
        say(
            f"  {name:<20} median {statistics.median(took):6.1f} ms   p95 {p95:6.1f} ms   "
            f"{len(queries)} queries{held}"
        )
