"""Verdicts as the tests write them."""

from spindle_server.motors.models import MotorModel
from spindle_server.motors.parcels import change_parcel
from spindle_server.motors.services import change_motor, take_in_motor
from spindle_server.verdict.models import Verdict

THRUST = {
    "kind": "read",
    "name": "thrust_gf",
    "propeller": "Wickett 5.1x4.2x3",
    "supply": "bench supply",
    "voltage_v": 16.0,
    "condition": "full",
}


def url(verdict, *rest):
    return "/".join([f"/api/v1/verdicts/{verdict['id']}", *map(str, rest), ""])


def quote(api, verdict, **changed):
    body = {**THRUST, "of": str(verdict["motor"]), **changed}
    return api.post(url(verdict, "figures"), body, format="json")


def prose(*parts, rests_on=()):
    content = [
        {"type": "text", "text": part}
        if isinstance(part, str)
        else {"type": "figure", "attrs": {"figure": part}}
        for part in parts
    ]
    paragraph = {"type": "paragraph", "attrs": {"rests_on": list(rests_on)}, "content": content}
    return {"type": "doc", "content": [paragraph]}


def write(api, verdict, **values):
    now = api.get(url(verdict)).json()
    return api.patch(url(verdict), {"version": now["version"], **values}, format="json")


def begun(house):
    """A verdict on a motor with two runs on sample A and one on B."""
    house.record()
    house.record(1.002)
    house.record(1.004, sample=1)
    body = {"motor": house.rig["motor"].pk}
    return house.client("reviewer").post("/api/v1/verdicts/", body, format="json").json()


def with_thrust(api, verdict):
    """The figure of thrust, quoted in one section."""
    figure = quote(api, verdict).json()
    write(api, verdict, sections={"propellers": prose("It pulls ", figure["id"], ".")})
    return figure


def publishable(api, people, verdict):
    """With a sentence, disclosure and one quoted figure: nothing blocks it."""
    motor = MotorModel.objects.get(pk=verdict["motor"])
    change_motor(
        actor=people["reviewer"], motor=motor, base=motor.version, verdict="A plain <b>motor</b>."
    )
    parcel = motor.parcels.get()
    change_parcel(actor=people["reviewer"], parcel=parcel, base=parcel.version, obtained="bought")
    write(api, verdict, links="none", gains="nobody")
    return verdict


def ready_verdict(house):
    """A verdict that nothing blocks, on three runs."""
    verdict = begun(house)
    with_thrust(house.client("reviewer"), verdict)
    return publishable(house.client("reviewer"), house.people, verdict)


def issue(client, verdict, **values):
    """Publish it as it is now."""
    version = Verdict.objects.get(pk=verdict["id"]).version
    return client.post(url(verdict, "publication"), {"version": version, **values}, format="json")


def a_rival(people, rig, record):
    """A motor that takes a tenth more current for the same thrust."""
    other = take_in_motor(
        actor=people["reviewer"],
        maker="Ostrel",
        name="Drift",
        size_code="2206",
        kv_label_rpm_per_v=1900,
        sample_marks=["A", "B"],
    )
    mine = rig["samples"]
    rig["samples"] = list(other.samples.all())
    record(1.1)
    record(1.1, sample=1)
    rig["samples"] = mine
    return other
