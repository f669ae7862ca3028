"""What is kept is what it rests on says, and is forgotten with everything else."""

import pytest
from django.core.cache import cache

from spindle_server.motors.models import Maker, MotorModel
from spindle_server.records import kept as room
from spindle_server.records.kept import kept, kept_whole
from spindle_server.records.revision import whole_record
from spindle_server.verdict.models import Verdict


@pytest.fixture(autouse=True)
def _empty():
    cache.clear()


def made(number):
    numbers = iter(range(number, number + 100))
    return lambda: {"made": next(numbers)}


def test_a_large_answer_is_the_very_one_until_what_it_rests_on_changes():
    make = made(1)
    first = kept_whole("a", (1, "x"), make)
    assert kept_whole("a", (1, "x"), make) is first
    assert kept_whole("b", (1, "x"), make) == {"made": 2}
    assert kept_whole("a", (2, "x"), make) == {"made": 3}
    # The smaller way packs it: equal, and another.
    small = kept("a", (1, "x"), made(7))
    assert kept("a", (1, "x"), made(9)) == small
    assert kept("a", (1, "x"), made(9)) is not small


def test_an_emptied_cache_forgets_large_answers_too():
    make = made(1)
    kept_whole("a", 1, make)
    cache.clear()
    assert kept_whole("a", 1, make) == {"made": 2}


def test_only_the_newest_are_kept():
    make = made(1)
    oldest = kept_whole("a", 0, make)
    for rests_on in range(1, room.MOST_WHOLE):
        kept_whole("a", rests_on, make)
    # Looked at again it is not the oldest any more.
    assert kept_whole("a", 0, make) is oldest
    kept_whole("a", "one more", make)
    assert kept_whole("a", 0, make) is oldest
    assert kept_whole("a", 1, make)["made"] == room.MOST_WHOLE + 2


def test_every_write_moves_the_whole_record_but_those_that_are_left_out(db, rig):
    before = whole_record()
    assert whole_record() == before
    maker = Maker.objects.create(name="Someone")
    after = whole_record()
    assert after != before
    maker.name = "Someone else"
    maker.save()
    assert whole_record() != after
    words = whole_record(but=("verdict",))
    Verdict.objects.create(motor=MotorModel.objects.first())
    assert whole_record(but=("verdict",)) == words
    assert whole_record() != words
