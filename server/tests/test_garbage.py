"""A search for garbage holds up no answer, and no garbage is kept for ever."""

import gc
import weakref

import pytest

from spindle_server.garbage import settle


@pytest.fixture
def settled():
    before = gc.get_threshold()
    settle()
    yield
    gc.unfreeze()
    gc.set_threshold(*before)


class Cycle:
    def __init__(self):
        self.me = self


def test_what_lives_long_is_not_looked_through_again_and_again(settled):
    looked = []
    watch = lambda phase, about: looked.append(about["generation"])  # noqa: E731
    kept = [[n] for n in range(50_000)]
    gc.callbacks.append(watch)
    try:
        # An answer of a comparison makes about so many.
        for _ in range(10):
            kept.append([[n] for n in range(5_000)])
    finally:
        gc.callbacks.remove(watch)
    assert looked.count(0) >= 10
    assert 2 not in looked


def test_what_died_young_is_found_soon(settled):
    gone = weakref.ref(Cycle())
    assert gone() is not None
    kept = [[n] for n in range(30_000)]
    assert gone() is None
    assert len(kept) == 30_000


def test_what_died_old_is_found_too(settled):
    cycle = Cycle()
    gone = weakref.ref(cycle)
    gc.collect()
    del cycle
    assert gone() is not None
    kept = []
    for _ in range(30):
        kept.append([[n] for n in range(100_000)])
        if gone() is None:
            break
    assert gone() is None
