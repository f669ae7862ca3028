"""Evidence and fits come back from JSON as they went, and fit the same."""

import json
from dataclasses import replace

import pytest
from motor_runs import WARM_PER_A2S, loaded_run, no_load_run

from spindle_core.formats.identification_json import (
    blocks_from_json,
    blocks_to_json,
    motor_fit_from_json,
    motor_fit_to_json,
    propeller_fit_from_json,
    propeller_fit_to_json,
)
from spindle_core.identification import identify
from spindle_core.identification.evidence import evidence_of, numbered
from spindle_core.identification.motor import identify_motor


def through(data):
    return json.loads(json.dumps(data, allow_nan=False))


@pytest.mark.parametrize("warming", [0.0, WARM_PER_A2S])
def test_fits_come_back_as_they_went(warming):
    found = identify(
        [no_load_run(), *(loaded_run(p, warming=warming, torque=True) for p in ("light", "heavy"))]
    )
    fit = found.motors[0]
    assert motor_fit_from_json(through(motor_fit_to_json(fit))) == fit
    for prop in found.propellers:
        assert propeller_fit_from_json(through(propeller_fit_to_json(prop))) == prop


def test_an_unusable_fit_keeps_its_reason():
    alone = identify_motor("A", evidence_of(no_load_run()).blocks, [])
    back = motor_fit_from_json(through(motor_fit_to_json(alone)))
    assert back == alone
    assert back.kv_rpm_per_v.reason == "one_load"


def test_blocks_that_were_kept_fit_the_same():
    runs = [evidence_of(t) for t in (no_load_run(), loaded_run("light"), loaded_run("heavy"))]
    kept = [
        replace(
            run,
            blocks=blocks_from_json(
                through(blocks_to_json(run.blocks)), stand=run.stand, source=run.run
            ),
        )
        for run in runs
    ]
    assert [run.blocks for run in kept] == [run.blocks for run in runs]
    assert identify_motor("A", numbered(kept), []) == identify_motor("A", numbered(runs), [])
