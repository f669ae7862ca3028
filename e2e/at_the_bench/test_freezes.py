"""Each process frozen for a second in mid-run, for real: signals, sockets, and the 300 ms of the
stand as it ships. Nothing is tried again."""

from __future__ import annotations

import pytest

from e2e.real_bench import RealBench
from e2e.real_cells import play


@pytest.fixture(scope="module")
def bench(demo):
    real = RealBench(demo)
    real.open_page()
    yield real
    real.at_rest()
    real.close_page()


@pytest.mark.parametrize("process", ["web", "database", "door", "agent", "stand"])
def test_a_second_of_standstill_at_full_throttle(bench, process):
    outcome = play(bench, f"{process} frozen 1 s", "running")
    if not outcome.judged:
        pytest.skip(f"not judged: the machine stood still for {outcome.stall_s:.2f} s")
    assert outcome.wrong == []


def test_the_last_page_gone_at_full_throttle(bench):
    outcome = play(bench, "last page closed", "running")
    if not outcome.judged:
        pytest.skip(f"not judged: the machine stood still for {outcome.stall_s:.2f} s")
    assert outcome.wrong == []
    assert outcome.zero_s > 1.0
