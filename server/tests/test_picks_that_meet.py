"""Picks of what turns out to be one, and of two people at once."""

import pytest

from spindle_server.compare.models import Pick
from spindle_server.compare.services import pick
from spindle_server.doubles.merging import merge
from spindle_server.motors.services import take_in_motor
from spindle_server.rig.services import add_propeller


@pytest.fixture
def chosen(rig, people):
    def take(why, volts=16.0, who="reviewer", **other):
        place = {"motor": rig["motor"], "propeller": rig["propeller"], **other}
        return pick(actor=people[who], supply="bench supply", voltage_v=volts, why=why, **place)

    return take


@pytest.fixture
def again(people):
    return take_in_motor(
        actor=people["reviewer"],
        maker="Quillmoor",
        name="sable",
        size_code="",
        kv_label_rpm_per_v=None,
        sample_marks=["D"],
    )


def test_two_motors_that_are_one_are_picked_once_for_both_reasons(rig, people, chosen, again):
    chosen("calm")
    chosen("cheap", motor=again)
    chosen("strong", volts=12.0, motor=again)
    merge(
        actor=people["editor"],
        thing="motor",
        stays=rig["motor"].pk,
        gone=again.pk,
        stays_version=rig["motor"].version,
        gone_version=again.version,
    )
    found = {row.voltage_v: (row.motor_id, row.why) for row in Pick.objects.all()}
    assert found == {16.0: (rig["motor"].pk, "calm; cheap"), 12.0: (rig["motor"].pk, "strong")}
    assert Pick.history.filter(history_type="-", why="cheap").exists()


def test_two_propellers_that_are_one_likewise(rig, people, chosen):
    prop = rig["propeller"]
    other = add_propeller(
        actor=people["reviewer"],
        maker="Wickett B",
        diameter_in=prop.diameter_in,
        pitch_in=prop.pitch_in,
        blades=prop.blades,
    )
    chosen("calm")
    chosen("calm", propeller=other)
    merge(
        actor=people["editor"],
        thing="propeller",
        stays=prop.pk,
        gone=other.pk,
        stays_version=prop.version,
        gone_version=other.version,
    )
    assert [(row.propeller_id, row.why) for row in Pick.objects.all()] == [(prop.pk, "calm")]


def test_who_picks_it_after_somebody_else_says_why_anew(chosen, people):
    first, second = chosen("calm"), chosen("cheap", who="editor")
    assert first.pk == second.pk
    assert (second.why, second.picked_by) == ("cheap", people["editor"])
    assert Pick.objects.count() == 1
