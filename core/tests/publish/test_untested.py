"""What a first look says it did not test."""

from spindle_core.publish.untested import TELLS, untested
from spindle_core.reduction.kinds import RUN_KINDS
from spindle_core.teardown.vocabulary import STEPS


def test_every_kind_of_run_tells_something():
    """A kind that is added has to be told here too."""
    # Which way it pulls is a check before a test, and no test.
    assert {kind for kinds, _ in TELLS for kind in kinds} == set(RUN_KINDS) - {"direction"}


def test_nothing_tested_is_said_whole():
    told = untested((), ["mass", "rated current"], (), weighed=False, samples=1)
    assert told == [
        "Not run: thrust, current, power and gf/W.",
        "Not run: kV and no-load current.",
        "Not run: torque over speed.",
        "Not run: how fast it follows the throttle.",
        "Not run: how warm it gets and what it stands for long.",
        "Claimed and not measured here: mass, rated current.",
        "No sample was weighed.",
        "It was not taken apart.",
        "One sample only: nothing can be said of how much they differ.",
    ]


def test_what_was_done_is_not_told_as_missing():
    assert untested(set(RUN_KINDS), (), set(STEPS), weighed=True, samples=3) == []
    # One way of running a curve is enough; one step of the teardown is not.
    told = untested({"ramp"}, (), {STEPS[0]}, weighed=True, samples=2)
    assert not any("thrust" in one for one in told)
    assert told[-1].startswith("Not looked at: retention, ")
    assert STEPS[0].lower() not in told[-1]
