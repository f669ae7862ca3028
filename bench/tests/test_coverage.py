"""The study that counts how often stated intervals hold the truth."""

import json

import pytest

from spindle_bench import coverage
from spindle_bench.coverage import Case, cases_of_day, main, rows


def test_a_day_gives_every_figure_near_its_truth():
    cases = cases_of_day(3)
    assert [case.figure for case in cases] == [
        "thrust, plateau", "current, plateau", "thrust, sweep", "current, sweep", "kV", "R", "CT",
        "peak torque, flywheel",
    ]  # fmt: skip
    for case in cases:
        assert case.value == pytest.approx(case.truth, rel=0.05)
        assert 0 < case.u < 0.05 * case.truth


def test_the_same_seed_is_the_same_day():
    assert cases_of_day(7)[0] == cases_of_day(7)[0]
    assert cases_of_day(7)[0] != cases_of_day(8)[0]


def test_rows_count_what_lies_inside():
    cases = [Case("a", 100.0 + off, 1.0, 100.0) for off in (0.0, 1.9, -1.9, 2.1)]
    (row,) = rows(cases)
    assert (row.cases, row.inside_pct) == (4, 75.0)
    assert row.mean_u_pct == pytest.approx(1.0)
    assert row.bias_pct == pytest.approx(0.525)
    assert not row.holds
    assert rows([Case("a", 1.0, 1.0, 1.0)] * 19 + [Case("a", 9.0, 1.0, 1.0)])[0].holds


def test_status_says_whether_every_figure_holds(monkeypatch, capsys):
    good = rows([Case("kV", 1.0, 1.0, 1.0)] * 19 + [Case("kV", 9.0, 1.0, 1.0)])
    monkeypatch.setattr(coverage, "study", lambda *_, **__: good)
    assert main([]) == 0
    assert "95.0 %" in capsys.readouterr().out
    monkeypatch.setattr(coverage, "study", lambda *_, **__: rows([Case("kV", 1.0, 1.0, 1.0)]))
    assert main(["--json"]) == 1
    assert json.loads(capsys.readouterr().out)[0]["inside_pct"] == 100.0
