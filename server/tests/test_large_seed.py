"""The made-up record for measuring: whole, repeatable, and never poured over a real one."""

import json
import re
from pathlib import Path

import pytest
import yaml
from django.core.cache import cache
from django.core.management import CommandError, call_command
from django.db import transaction

import spindle_server
from spindle_core.reduction.kinds import KINDS
from spindle_server.demo import timing
from spindle_server.demo.asked import ASKED, NOT_TIMED
from spindle_server.demo.large import SAMPLES, SIZES, seed
from spindle_server.demo.timing import BUDGET_MS, Timed, time_all
from spindle_server.identification.models import Identified
from spindle_server.motor_file.selectors import motor_file, motor_for_file
from spindle_server.motors.models import Claim, Maker, MotorModel, Sample, Weighing
from spindle_server.publish.models import Edition
from spindle_server.runs.models import Reduction, Run, RunEnd, TraceSegment
from spindle_server.runs.reducing import is_stale, reduce_run
from spindle_server.teardown.models import Observation

NUMBERS = (
    "{campaign}",
    "{craft}",
    "{motor}",
    "{propeller}",
    "{ranking}",
    "{run}",
    "{sample}",
    "{stand}",
    "{user}",
    "{verdict}",
)


def silent(text):
    """Nobody reads along."""


# First what needs an empty record: the seeded one stays until the end of this file.


def test_an_empty_record_is_not_timed(db):
    said = []
    assert time_all(said.append) == {}
    assert said == ["Nothing to time: the record is empty."]


def test_a_record_that_somebody_keeps_is_not_touched(rig):
    with pytest.raises(CommandError, match="folder of its own"):
        call_command("seed_bench", "--size", "small")
    assert MotorModel.objects.count() == 1


def test_one_that_broke_off_is_not_taken_for_whole(db):
    maker = Maker.objects.create(name="Seed maker 00")
    MotorModel.objects.create(maker=maker, name="Model 000", size_code="2207", size_basis="stator")
    with pytest.raises(CommandError, match="broke off"):
        call_command("seed_bench", "--size", "small")
    assert not Claim.objects.exists()


@pytest.fixture(scope="module")
def small(django_db_setup, django_db_blocker):
    """Seeded once: what the tests look at none of them changes for another."""
    with django_db_blocker.unblock():
        whole = transaction.atomic()
        whole.__enter__()
        cache.clear()
        yield seed("small", silent)
        transaction.set_rollback(True)
        whole.__exit__(None, None, None)
        cache.clear()


def test_it_has_the_size_it_says(small, db):
    size = SIZES["small"]
    assert (small.motors, small.samples) == (size.motors, size.motors * SAMPLES)
    assert MotorModel.objects.count() == size.motors
    assert Sample.objects.count() == size.motors * SAMPLES
    assert Weighing.objects.count() == 2 * small.samples
    assert Observation.objects.count() == small.observations == 14 * small.samples
    assert Run.objects.count() == small.runs == size.motors * size.runs
    assert (SIZES["large"].motors, SIZES["large"].motors * SIZES["large"].runs) == (2000, 50_000)
    assert SIZES["medium"].motors * SIZES["medium"].runs == 5000


def test_the_pool_of_the_large_one_is_large_enough():
    size = SIZES["large"]
    others = len(KINDS) - 1
    assert size.played * (size.propellers + others) >= 200


def test_there_are_runs_of_every_kind_and_each_has_its_trace(small, db):
    assert {kind for (kind,) in Run.objects.values_list("kind").distinct()} == set(KINDS)
    assert RunEnd.objects.count() == small.runs == Reduction.objects.count()
    assert TraceSegment.objects.values("run").distinct().count() == small.runs


def test_the_figures_of_a_run_are_those_of_its_trace(small, db):
    for kind in ("steps", "hold", "readings"):
        last = Run.objects.filter(kind=kind, reduction__result__isnull=False).latest("pk")
        kept = Reduction.objects.select_related("run").get(run=last)
        assert not is_stale(kept)
        assert reduce_run(last, announce=False).result == kept.result


def test_what_the_runs_tell_is_identified(small, db):
    assert not Identified.objects.filter(stale=True).exists()
    firsts = Identified.objects.filter(sample__mark="A")
    assert firsts.count() == small.motors
    assert firsts.filter(kv_rpm_per_v__isnull=False).count() == small.motors


def test_every_motor_of_it_opens(small, api):
    for motor in MotorModel.objects.all()[:10]:
        file = motor_file(motor_for_file(motor.pk).get())
        assert file["size"]["stator_volume_mm3"] > 0
        weights = [row["mass_g"]["value"] for row in file["masses"]["samples"]]
        assert all(weights)
        assert file["masses"]["spread"].n == 3
        assert api.get(f"/api/v1/motors/{motor.pk}/").status_code == 200
    sheet = api.get(f"/api/v1/samples/{Sample.objects.first().pk}/teardown/").json()
    assert sheet["findings"][0]["value"] > 0


def test_every_address_of_the_schema_is_timed_or_says_why_not():
    schema = yaml.safe_load((Path(spindle_server.__file__).parents[1] / "openapi.yaml").read_text())
    there = {
        path.removeprefix("/api/v1/") for path, ways in schema["paths"].items() if "get" in ways
    }
    asked = set()
    for address in ASKED:
        if not address.startswith("/"):
            for name in NUMBERS:
                address = address.replace(name, "{id}")
            asked.add(address)
    assert asked | set(NOT_TIMED) == there
    assert not asked & set(NOT_TIMED)


def test_all_of_them_answer_and_are_kept(small, db, settings, tmp_path):
    settings.ALLOWED_HOSTS = ["127.0.0.1"]
    said, path = [], tmp_path / "times.json"
    found = time_all(said.append, rounds=2, keep=path)
    assert sum("after a write: " in line for line in said) == 5
    # Of the runs that judgements rest on.
    assert re.match(r"  [1-9]\d* runs read ahead in \d+ ms$", said[0])
    assert f"12 motors, 36 samples, {small.runs} runs, 2 requests each" in said[11]
    assert not [line for line in said if "status" in line]
    assert len(found) == sum(map(len, ASKED.values()))
    assert {words: Timed(**row) for words, row in json.loads(path.read_text()).items()} == found
    assert all(0 < one.median_ms <= one.p95_ms for one in found.values())
    assert found["rank/?use=equal"].most > 0
    assert Edition.objects.count() == 4


def told(now, before):
    return timing._line("a", now, before)


def test_what_is_slow_grows_or_asks_more_often_is_said():
    quick = Timed(40.0, BUDGET_MS, 5, 5, 1.0)
    assert "over" not in told(quick, None)
    assert "×" not in told(quick, None)
    assert told(Timed(40.0, BUDGET_MS + 1, 5, 5, 1.0), None).endswith("over the budget")
    assert "5 to 7 queries" in told(Timed(40.0, 50.0, 5, 7, 1.0), None)
    assert told(quick, Timed(20.0, 30.0, 5, 5, 1.0)).endswith("2.00 ×   grows")
    assert told(quick, Timed(30.0, 30.0, 5, 5, 1.0)).endswith("1.33 ×")
    assert told(Timed(9.0, 9.0, 5, 5, 1.0), Timed(3.0, 3.0, 5, 5, 1.0)).endswith("3.00 ×")
    assert told(quick, Timed(40.0, 40.0, 4, 4, 1.0)).endswith("more queries than 4")


def test_seeding_twice_seeds_once(small, db):
    call_command("seed_bench", "--size", "small")
    assert MotorModel.objects.count() == SIZES["small"].motors


def test_growth_is_told_against_a_machine_that_is_slower_now():
    before = Timed(20.0, 30.0, 5, 5, 1.0)
    assert told(Timed(40.0, 60.0, 5, 5, 2.0), before).endswith("1.00 ×")
    assert told(Timed(40.0, 60.0, 5, 5, 1.0), before).endswith("2.00 ×   grows")
