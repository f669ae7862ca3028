"""Every write has a role, one transaction, who did it, and a line in the log."""

import importlib
import inspect
import json
import logging
import pkgutil

import pytest
from django.db import IntegrityError

import spindle_server
from spindle_server.accounts import second_factor
from spindle_server.accounts.models import Role, User
from spindle_server.accounts.services import change_own_password, change_person, create_user
from spindle_server.errors import ConflictError, ForbiddenError
from spindle_server.logs import JsonLines
from spindle_server.motors.models import Maker, MotorModel
from spindle_server.motors.services import expect, put_claim, take_in_motor
from spindle_server.records.history import changes_in
from spindle_server.records.writes import who_acts, writes
from spindle_server.rig.models import Declaration, Propeller
from spindle_server.rig.services import change_propeller, declare
from spindle_server.runs.models import Reduction, Run
from spindle_server.runs.services import rereduce, review_run

pytestmark = pytest.mark.django_db

NOT_THE_RECORD = {
    # The bench's own acts: the agent refuses them itself, and a stop is anybody's.
    "spindle_server.bench.services": {"plan_run", "arm_run", "door_pass", "start", "stop"}
}


def services():
    """Every public function of the apps that takes an actor by name."""
    found_all = []
    for module in pkgutil.walk_packages(spindle_server.__path__, "spindle_server."):
        name = module.name
        if any(part in name for part in ("migrations", ".demo", "__main__", ".records")):
            continue
        found = importlib.import_module(name)
        for label, function in inspect.getmembers(found, inspect.isfunction):
            own = function.__module__ == name and not label.startswith("_")
            takes_actor = "actor" in inspect.signature(function).parameters
            if own and takes_actor and label not in NOT_THE_RECORD.get(name, ()):
                found_all.append(pytest.param(function, id=f"{name}.{label}"))
    return found_all


OWN = (
    change_own_password,
    second_factor.begin_second_factor,
    second_factor.confirm_second_factor,
    second_factor.new_codes,
    second_factor.end_second_factor,
)


@pytest.mark.parametrize("function", services())
def test_whatever_takes_an_actor_is_a_write_with_a_role(function):
    assert getattr(function, "needed_role", None) in {
        Role.REVIEWER,
        Role.EDITOR,
        Role.ADMINISTRATOR,
        # What everybody may do who is logged in, each of their own.
        *([Role.READER] if function in OWN else []),
    }


@pytest.mark.parametrize("function", services())
def test_a_role_below_is_forbidden_and_not_a_fault_of_the_input(function, people):
    if function in OWN:
        return
    below = {"reviewer": "reader", "editor": "reviewer", "administrator": "editor"}
    with pytest.raises(ForbiddenError) as refusal:
        function(actor=people[below[function.needed_role]])
    assert refusal.value.status == 403


def test_every_kind_of_write_says_in_the_history_who_did_it(rig, record, people):
    ilse, boss = people["reviewer"], people["administrator"]
    run = record()
    review_run(actor=ilse, run=run, review="accepted", base=run.version)
    rereduce(actor=ilse, run=run)
    change_propeller(actor=ilse, propeller=rig["propeller"], base=1, bore_mm=5.0)
    declare(actor=ilse, base=1, lead_length_mm=50.0)
    expect(actor=ilse, motor=rig["motor"], text="quieter than its name")
    change_person(actor=boss, user=people["reader"], role="reviewer", base=1)
    who = {
        Run: ilse,
        Reduction: ilse,
        Propeller: ilse,
        Declaration: ilse,
        rig["motor"].expectations.model: ilse,
        User: boss,
    }
    for model, person in who.items():
        assert model.history.latest().history_user == person, model
    assert "password" not in {f.name for f in User.history.model._meta.fields}


def test_what_the_house_does_itself_is_nobodys(db):
    motor = take_in_motor(actor=None, maker="Hollin", name="Pale", size_code="2807")
    assert motor.history.latest().history_user is None
    assert who_acts() is None


def test_a_write_that_fails_leaves_nothing(rig, people):
    def reader_of_minds():
        put_claim(
            actor=people["reviewer"], motor=rig["motor"], quantity="mass_g", value=1.0, source=""
        )

    before = rig["motor"].claims.count()
    with pytest.raises(IntegrityError):
        reader_of_minds()
    assert rig["motor"].claims.count() == before
    assert who_acts() is None


def test_of_two_who_add_the_same_at_once_the_second_is_told_so(people, monkeypatch):
    """The other's row appears between the look and the write."""
    looked = []
    real = MotorModel.objects.filter

    def blind_once(*args, **kwargs):
        looked.append(1)
        return MotorModel.objects.none() if len(looked) == 1 else real(*args, **kwargs)

    values = {"maker": "Hollin", "name": "Pale", "size_code": "2807", "kv_label_rpm_per_v": 1250.0}
    take_in_motor(actor=people["reviewer"], **values)
    monkeypatch.setattr(MotorModel.objects, "filter", blind_once)
    with pytest.raises(ConflictError, match="on the bench already"):
        take_in_motor(actor=people["reviewer"], **values)
    assert len(looked) == 2
    assert MotorModel.objects.count() == 1


def test_a_contradiction_that_nobody_foresaw_is_a_defect(people):
    tries = []

    @writes(Role.REVIEWER)
    def add_maker_twice(*, actor):
        tries.append(1)
        Maker(name="Hollin").save()
        Maker(name="Hollin").save()

    with pytest.raises(IntegrityError):
        add_maker_twice(actor=people["reviewer"])
    assert len(tries) == 2
    assert not Maker.objects.filter(name="Hollin").exists()


def test_the_log_names_the_write_and_not_what_was_typed(people, caplog):
    caplog.set_level(logging.INFO, "spindle_server")
    secret = "correct horse battery"
    create_user(actor=people["administrator"], username="mira", password=secret, role="reader")
    lines = [JsonLines().format(entry) for entry in caplog.records]
    said = [json.loads(line) for line in lines]
    assert [(s["write"], s["actor"]) for s in said] == [("create_user", people["administrator"].pk)]
    assert secret not in "".join(lines)
    assert "mira" not in "".join(lines)


def test_a_line_of_the_log_is_one_line_with_its_trace():
    try:
        raise ValueError("two\nlines")
    except ValueError:
        entry = logging.LogRecord("n", logging.ERROR, __file__, 1, "broke\n%s", ("é",), None)
        import sys

        entry.exc_info = sys.exc_info()
    line = JsonLines().format(entry)
    assert "\n" not in line
    said = json.loads(line)
    assert (said["level"], said["message"]) == ("error", "broke\né")
    assert "ValueError: two" in said["trace"]


def test_a_version_is_no_change_that_anybody_wants_to_read(rig, people):
    change_propeller(actor=people["reviewer"], propeller=rig["propeller"], base=1, bore_mm=5.0)
    last = max(changes_in(rig["propeller"].history.all()), key=lambda change: change["at"])
    assert [field["field"] for field in last["changed"]] == ["bore_mm"]
