"""The study of small changes: what is tried, and that a change really is one."""

import ast
from dataclasses import replace

import pytest

from spindle_ops.mutation.mutants import changed, chosen, mutants_of
from spindle_ops.mutation.study import (
    PACKAGES,
    files_of,
    files_of_tests,
    main,
    module_name,
    ordered_tests,
    plan,
)

SOURCE = '''
"""A docstring with 7 in it."""

LIMIT = 3.5


def worst(values: list[float], least: float = 0.5) -> float:
    """The largest."""
    if not values or max(values) < least:
        raise ValueError(f"nothing above {least + 1}")
    total = -values[0] + 2 * values[-1]
    return total ** 0.5
'''


def said():
    return {mutant.what: mutant for mutant in mutants_of("m", SOURCE)}


def test_every_kind_of_change_is_tried():
    tried = said()
    for what in (
        "3.5 → 7.0",
        "max(values) < least → max(values) <= least",
        "max(values) < least → max(values) > least",
        "max(values) → min(values)",
        "not values or max(values) < least → not values and max(values) < least",
        "not values → values",
        "-values[0] → values[0]",
        "2 * values[-1] → 2 / values[-1]",
        "0.5 → 1.0",
        "if not values or max(values) < least → True",
    ):
        assert what in tried


def test_what_no_test_can_notice_is_left_alone():
    tried = said()
    assert not any("docstring" in what or "nothing above" in what for what in tried)
    # The 1 of the message is not tried, nor is an annotation.
    assert not any(what.startswith("1 →") and tried[what].line == 10 for what in tried)
    assert not any("list[float]" in what for what in tried)


@pytest.mark.parametrize("what", ["2 * values[-1] → 2 / values[-1]", "3.5 → 7.0"])
def test_a_change_changes_one_thing(what):
    before, after = SOURCE, ast.unparse(changed(SOURCE, said()[what]))
    old, new = what.split(" → ")
    assert ast.unparse(ast.parse(before)).replace(old, new, 1) == after


def test_the_choice_is_the_seeds_and_in_order():
    every = mutants_of("m", SOURCE)
    assert chosen(every, 5, seed=3) == chosen(every, 5, seed=3)
    assert chosen(every, 5, seed=3) != chosen(every, 5, seed=4)
    assert [m.line for m in chosen(every, 9, seed=1)] == sorted(
        m.line for m in chosen(every, 9, seed=1)
    )
    assert len(chosen(every, 10_000, seed=1)) == len(every)


@pytest.mark.parametrize("name", PACKAGES)
def test_every_package_has_files_tests_and_enough_to_change(name):
    package = PACKAGES[name]
    assert files_of(package)
    assert len(plan(name, 200, seed=1)) == 200
    assert len(files_of_tests(package)) >= len(package.tests)


def test_a_pattern_that_matches_nothing_is_an_error():
    package = replace(PACKAGES["limits"], tests=("bench/tests/test_limit.py",))
    with pytest.raises(ValueError, match="test_limit"):
        files_of_tests(package)


def test_a_modules_own_tests_come_first():
    package = PACKAGES["reduction"]
    first = ordered_tests(package, "spindle_core.reduction.soak")[0]
    assert first.endswith("test_soak_and_thermal.py")
    path = next(p for p in files_of(package) if p.name == "__init__.py")
    assert module_name(package, path) == "spindle_core.reduction"


def test_an_unknown_package_is_refused(capsys):
    with pytest.raises(SystemExit):
        main(["luck"])
    assert "luck" in capsys.readouterr().err
