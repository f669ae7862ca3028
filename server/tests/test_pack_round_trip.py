"""A pack that goes round: from one bench to another that has nothing."""

import pytest
from django.core.management import call_command

from spindle_server.accounts.models import User
from spindle_server.motors.models import MotorModel
from spindle_server.other_benches.evidence import check_against
from spindle_server.other_benches.services import NEW, Ours, quote_pack
from spindle_server.runs.models import SummaryFigure

from .pack_steps import as_theirs, keys_of, packed


@pytest.mark.django_db(transaction=True)
def test_a_pack_goes_round_into_an_empty_bench(house, password_hash):
    """What one bench published is, on one that has nothing, the same figures and u."""
    data = packed(house)
    before = {
        (row.run_id, row.name): (row.value, row.u)
        for row in SummaryFigure.objects.filter(value__isnull=False)
    }
    sent = as_theirs(data)
    motor, _ = keys_of(sent)
    call_command("flush", verbosity=0, interactive=False)
    assert not MotorModel.objects.exists()
    actor = User.objects.create(username="somebody", password=password_hash, role="reviewer")
    pack = quote_pack(actor=actor, name="x.zip", data=sent, ours=Ours(motors={motor: NEW}))
    made = MotorModel.objects.get()
    assert made.full_name == "Quillmoor Sable 2105.5 1950"
    assert not made.samples.exists()
    after = {
        (run.number, name): (figure["value"], figure["u"])
        for run in pack.runs.all()
        for name, figure in run.result["summary"].items()
        if figure is not None
    }
    assert after.keys() == before.keys()
    for key, (value, u) in after.items():
        assert value == pytest.approx(before[key][0], rel=1e-9), key
        assert u == pytest.approx(before[key][1], rel=1e-9), key
    check = check_against(pack.bench)
    assert check.held == ()
    assert [motor for motor, _ in check.theirs_only] == [str(made.pk)]
