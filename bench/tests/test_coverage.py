"""The study that counts how often stated intervals hold the truth."""

import json

import pytest

from spindle_bench import coverage
from spindle_bench.coverage import Case, cases_of_day, main, rows
from spindle_bench.coverage.day import Day
from spindle_bench.stand.script import plateaus


def test_a_day_gives_every_figure_near_its_truth():
    cases = cases_of_day(3)
    assert [case.figure for case in cases] == [
        "thrust, plateau",
        "current, plateau",
        "thrust, sweep",
        "current, sweep",
        "kV",
        "R",
        "CT",
        "peak torque, flywheel",
        "best g/W",
        "thrust, glitch in the rest",
        "thrust, sweep that rests",
        "thrust, burst",
        "current, burst",
        "winding °C, with torque",
        "case K/W",
        "same motor, unlike plateaus",
        "difference of two motors",
        "mean, φ 0.9, n 200",
        "rise of the next soak",
        "two models at one kV",
        "thrust, never run",
        "power, never run",
    ]
    for case in cases:
        # Heat is the least sure: what its losses are is partly assumed.
        heat = case.figure.startswith(("winding", "case", "rise"))
        never = case.figure.endswith("never run")
        assert case.value == pytest.approx(case.truth, rel=0.35 if heat else 0.1 if never else 0.05)
        assert 0 < case.u < (0.3 if heat else 0.1 if never else 0.05) * case.truth


def test_every_other_day_has_no_torque_sensor():
    assert "winding °C, without torque" in {case.figure for case in cases_of_day(4)}


def test_the_same_seed_is_the_same_day():
    played = [
        Day(seed)
        .run(1, "steps", plateaus((50.0,)), 6.0, propeller="heavy")[1]
        .channels["thrust_gf"]
        for seed in (7, 7, 8)
    ]
    assert (played[0] == played[1]).all()
    assert (played[0] != played[2]).any()


def test_rows_count_what_lies_inside():
    cases = [Case("a", 100.0 + off, 1.0, 100.0) for off in (0.0, 1.9, -1.9, 2.1)]
    (row,) = rows(cases)
    assert (row.cases, row.inside_pct) == (4, 75.0)
    assert row.mean_u_pct == pytest.approx(1.0)
    assert row.bias_pct == pytest.approx(0.525)
    assert not row.holds
    assert rows([Case("a", 1.0, 1.0, 1.0)] * 19 + [Case("a", 9.0, 1.0, 1.0)])[0].holds


def test_only_what_is_known_to_be_wide_may_always_hold():
    always = [Case("two models at one kV", 1.0, 1.0, 1.0)] * 20
    assert rows(always)[0].holds
    assert not rows([Case("kV", 1.0, 1.0, 1.0)] * 20)[0].holds
    off = [Case("two models at one kV", 9.0, 1.0, 1.0)] * 3
    assert not rows([*always, *off])[0].holds


def test_status_says_whether_every_figure_holds(monkeypatch, capsys):
    good = rows([Case("kV", 1.0, 1.0, 1.0)] * 19 + [Case("kV", 9.0, 1.0, 1.0)])
    monkeypatch.setattr(coverage, "study", lambda *_, **__: good)
    assert main([]) == 0
    assert "95.0 %" in capsys.readouterr().out
    monkeypatch.setattr(coverage, "study", lambda *_, **__: rows([Case("kV", 1.0, 1.0, 1.0)]))
    assert main(["--json"]) == 1
    assert json.loads(capsys.readouterr().out)[0]["inside_pct"] == 100.0
