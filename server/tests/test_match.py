"""Match over the API: a craft, everything on it, what to choose, and as files."""

import csv
import datetime
import io
import json
import math
import re

import pytest
from openpyxl import load_workbook

from spindle_server.match.models import Craft
from spindle_server.motors.parcels import add_parcel
from spindle_server.motors.services import put_claim
from spindle_server.motors.weighing import add_incident, add_weighing, strike
from spindle_server.rig.adapters import add_adapter
from spindle_server.rig.services import add_propeller, change_propeller
from spindle_server.runs.services import review_run

from .house import second_motor
from .intake_steps import measure

TODAY = datetime.date(2026, 11, 2)
AT = "/api/v1/craft/"
BODY = {
    "name": "Five-inch",
    "cells": 4,
    "capacity_mah": 1500,
    "rated_c": 75,
    "least_thrust_to_weight": 2,
    "items": [
        {"name": "frame", "mass_g": 900, "basis": "claimed"},
        {"name": "pack", "mass_g": 580},
    ],
}
"""1,600 g with four motors of 30 g: the plateaus of the runs begin at 360 gf, and 400 hover."""

LIGHT = [{"name": "all but the motors", "mass_g": 470}]


@pytest.fixture
def weighed(rig, people):
    """Both samples weighed at the bench's lead length: 30 g each."""
    for sample in rig["samples"]:
        add_weighing(
            actor=people["reviewer"],
            sample=sample,
            mass_g=30.0,
            resolution_g=0.1,
            lead_length_mm=60,
            weighed_on=TODAY,
        )
    return rig


def second_weighed(weighed, people, *, mass_g):
    """Another motor on the bench, whose one sample comes after those of the first."""
    motor = second_motor(people)
    sample = motor.samples.get()
    weighed["samples"].append(sample)
    add_weighing(
        actor=people["reviewer"],
        sample=sample,
        mass_g=mass_g,
        resolution_g=0.1,
        lead_length_mm=60,
        weighed_on=TODAY,
    )
    return motor


def keep(api, **changes):
    answer = api.post(AT, {**BODY, **changes}, format="json")
    assert answer.status_code == 201, answer.json()
    return answer.json()


def matched(api, craft):
    answer = api.get(f"{AT}{craft['id']}/match/")
    assert answer.status_code == 200, answer.json()
    return answer.json()


def measured_row(found):
    return next(row for row in found["rows"] if not row["predicted"])


def test_thrust_to_weight_is_of_all_motors_and_the_whole_craft(api, weighed, record):
    record(1.0)
    light = measured_row(matched(api, keep(api, name="light", items=LIGHT)))
    # 4 × 1,200 gf on 590 g is 8.14; one motor's 1,200 ÷ 590 never has this name.
    assert light["thrust_to_weight"]["value"] == pytest.approx(4 * 1200 / 590, rel=0.005)
    # Its hover lies below what was run: no figure is made up.
    assert light["minutes"]["value"] is None
    assert "measured from" in light["barred"]
    row = measured_row(matched(api, keep(api)))
    # 4.2 in of pitch at what it turned on the stand.
    speed = row["pitch_speed_m_per_s"]
    tip = row["tip_mach"]["value"] * 343.2 / math.pi / 5.1
    assert speed["value"] == pytest.approx(4.2 * tip, rel=0.01)
    assert speed["u"] > 0
    assert row["mass_g"]["value"] == pytest.approx(1600.0, abs=0.2)
    # The claimed frame is not known better than ±5 %.
    assert row["mass_g"]["u"] == pytest.approx(0.05 * 900 / 3**0.5, rel=0.02)
    assert row["mass_g"]["origin"] == "claimed"
    # 400 gf each, at 12 gf and 4.8 W per per cent.
    assert row["hover_thrust_gf"]["value"] == pytest.approx(400.0, abs=0.1)
    assert row["throttle_pct"]["value"] == pytest.approx(33.3, abs=0.3)
    assert row["power_w"]["value"] == pytest.approx(160.0, rel=0.01)
    # 80 % of 4 × 3.7 V × 1.5 Ah, by 640 W.
    assert row["minutes"]["value"] == pytest.approx(60 * 22.2 * 0.8 / 640, rel=0.01)


def test_sizes_of_both_schools_and_the_pack(api, weighed, record):
    record(1.0)
    found = matched(api, keep(api))
    row = measured_row(found)
    # 30 A: the next size, and a fifth to spare.
    assert [size["size_a"] for size in row["esc"]] == [30, 40]
    assert row["pack_current_a"]["value"] == pytest.approx(120.0, rel=0.01)
    assert row["pack"]["c_rate"]["value"] == pytest.approx(80.0, rel=0.01)
    least = row["pack"]["least_capacity_mah"]
    assert least["value"] == pytest.approx(1600.0, rel=0.01)
    peak = row["pack_current_a"]
    assert least["u"] / least["value"] == pytest.approx(peak["u"] / peak["value"])
    assert any("the pack is rated for 112.5 A" in words for words in row["cautions"])


def test_what_is_not_run_is_predicted_and_says_so(api, weighed, record, people):
    record(1.0)
    add_propeller(
        actor=people["reviewer"], maker="Wickett", diameter_in=5.0, pitch_in=3.6, blades=3
    )
    found = matched(api, keep(api))
    other = next(row for row in found["rows"] if row["predicted"])
    assert other["propeller_name"] == "Wickett 5x3.6x3"
    assert other["max_thrust_gf"]["origin"] == "estimated"
    assert other["thrust_to_weight"]["u"] > 0
    assert (other["runs"], other["samples"]) == (0, 0)
    # A propeller that nobody ran is a guess, and no guess is chosen.
    assert "run it first" in other["barred"]
    assert found["picks"]["chosen"] == measured_row(found)["name"]


def test_who_fell_out_is_told_why(api, weighed, record, people):
    record(1.0)
    reasons = {
        "propeller_room_in": (3.0, "5.1 in, room for 3 in"),
        "least_thrust_to_weight": (9.0, "thrust-to-weight 3."),
        "esc_rated_a": (20.0, "the craft's ESC bears 20 A"),
    }
    for number, (field, (value, words)) in enumerate(reasons.items()):
        found = matched(api, keep(api, name=f"craft {number}", **{field: value}))
        assert words in measured_row(found)["barred"], field
        assert found["picks"] is None
        assert found["no_pick"]
        assert found["fell_out"][0]["count"] >= 1
    put_claim(
        actor=people["reviewer"],
        motor=weighed["motor"],
        quantity="max_current_a",
        value=35,
        source="box",
    )
    assert measured_row(matched(api, keep(api, name="rated")))["barred"] == ""


def test_what_is_not_told_from_the_wanted_ratio_does_not_fall_out(api, weighed, record):
    record(1.0)
    ratio = measured_row(matched(api, keep(api)))["thrust_to_weight"]
    value, u = ratio["value"], ratio["u"]
    clear, above, within, beyond = (
        measured_row(
            matched(api, keep(api, name=f"{n} u off", least_thrust_to_weight=value + n * u))
        )
        for n in (-3, -1, 1, 3)
    )
    assert (clear["barred"], above["barred"], within["barred"]) == ("", "", "")
    for one in (above, within):
        assert "which is not told from the wanted" in " ".join(one["cautions"])
    assert "not told" not in " ".join(clear["cautions"] + beyond["cautions"])
    assert f"below {value + 3 * u:g}" in beyond["barred"]


def test_a_rating_that_may_be_passed_is_a_caution_and_one_that_likely_is_bars(api, weighed, record):
    record(1.0)
    peak = measured_row(matched(api, keep(api)))["peak_current_a"]
    value, u = peak["value"], peak["u"]
    well, close, passed = (
        measured_row(matched(api, keep(api, name=f"{n} u off", esc_rated_a=value + n * u)))
        for n in (3, 1, -0.1)
    )
    assert (well["barred"], close["barred"]) == ("", "")
    assert "may pass what the craft's ESC bears" in " ".join(close["cautions"])
    assert "ESC" not in " ".join(well["cautions"])
    assert f"the craft's ESC bears {value - 0.1 * u:g} A" in passed["barred"]
    assert " ± " in passed["barred"]


def test_what_is_level_with_a_pick_is_named(api, weighed, record, people):
    record(1.0)
    second_weighed(weighed, people, mass_g=30.0)
    record(0.999, sample=2)
    craft = keep(api)
    found = matched(api, craft)
    picks = found["picks"]
    one, other = (row["name"] for row in found["rows"] if not row["predicted"])
    assert picks["strongest"] == one
    assert picks["alike"]["strongest"] == {"names": [other], "more": 0}
    # The frame is claimed, and the same for both: it does not hide what they differ by.
    row = measured_row(found)
    assert 0 < row["apart"]["thrust_to_weight"] < 0.9 * row["thrust_to_weight"]["u"]
    assert 0 < row["apart"]["minutes"] < row["minutes"]["u"]
    vague = next((one for one in found["rows"] if one["predicted"]), None)
    assert vague is None or vague["apart"] == {"thrust_to_weight": None, "minutes": None}
    page = api.get(f"{AT}{craft['id']}/match.pdf")
    assert page.content.startswith(b"%PDF")


def test_the_inertia_of_arms_needs_every_mass(api, weighed, record, people):
    record(1.0)
    propeller = weighed["propeller"]

    def inertia():
        return measured_row(matched(api, craft))["arm_inertia_kg_mm2"]

    craft = keep(api, arm_mm=110)
    assert (inertia()["value"], inertia()["reason"]) == (None, "the propeller was not weighed")
    change_propeller(
        actor=people["reviewer"], propeller=propeller, base=propeller.version, mass_g=4
    )
    found = inertia()
    assert found["value"] == pytest.approx(4 * (30.0 + 4.0) * 0.110**2 * 1000, rel=0.01)
    # A propeller that was weighed to the gram, an arm that was written to the millimetre.
    assert 0.007 < found["u"] / found["value"] < 0.02
    craft = keep(api, name="no arm")
    assert "length" in inertia()["reason"]


def test_no_mass_no_craft(api, rig, record):
    record(1.0)
    found = matched(api, keep(api))
    assert found["rows"] == []
    assert found["no_pick"]
    assert any(
        "no sample was weighed" in example
        for one in found["fell_out"]
        for example in one["examples"]
    )


def test_a_run_at_other_cells_does_not_count(api, weighed, record):
    record(1.0)
    found = matched(api, keep(api, cells=6))
    assert all(row["predicted"] for row in found["rows"])
    assert (
        any(
            "run at 16 V only, which is not 6 cells" in example
            for one in found["fell_out"]
            for example in one["examples"]
        )
        or found["rows"]
    )


def test_losses_stand_beside(api, weighed, record, people):
    record(1.0)
    add_incident(
        actor=people["reviewer"],
        sample=weighed["samples"][0],
        kind="burnt_winding",
        happened_on=TODAY,
        destroyed=True,
    )
    assert "1 of 2 lost on test" in measured_row(matched(api, keep(api)))["cautions"]


def test_the_kept_answer_follows_every_change(api, weighed, record, people):
    run = record(1.0)
    craft = keep(api)
    before = measured_row(matched(api, craft))["thrust_to_weight"]["value"]
    changed = api.patch(
        f"{AT}{craft['id']}/",
        {"items": [{"name": "all", "mass_g": 3080}], "version": craft["version"]},
        format="json",
    ).json()
    after = measured_row(matched(api, changed))["thrust_to_weight"]["value"]
    assert after == pytest.approx(before / 2, rel=0.01)
    review_run(
        actor=people["reviewer"], run=run, review="rejected", reason="slipped", base=run.version
    )
    assert all(row["predicted"] for row in matched(api, changed)["rows"])
    for sample in weighed["samples"]:
        row = sample.weighings.get()
        strike(actor=people["reviewer"], record=row, reason="wrong sample", base=row.version)
    assert matched(api, changed)["rows"] == []


def test_an_upgrade_names_price_and_change(api, weighed, record, people):
    record(1.0)
    second = second_weighed(weighed, people, mass_g=28.0)
    add_parcel(
        actor=people["reviewer"],
        motor=second,
        price_amount=21.9,
        price_currency="EUR",
        shipping="included",
    )
    record(0.9, sample=2)
    craft = keep(api, carries_motor=weighed["motor"].pk, carries_propeller=weighed["propeller"].pk)
    upgrade = matched(api, craft)["upgrade"]
    assert upgrade["now"].startswith("Quillmoor Sable")
    new = next(one for one in upgrade["changes"] if one["kind"] == "new motor")
    assert new["peak_current_pct"]["value"] == pytest.approx(-10.0, abs=0.5)
    assert new["mass_g"]["value"] == pytest.approx(-8.0, abs=0.2)
    # Two motors that were weighed; the frame, of which a claim is all that is known, is the same.
    assert 0 < new["mass_g"]["u"] < 1.0
    assert new["price"]["value"] == pytest.approx(4 * 21.9)
    assert new["minutes"]["value"] > 0
    assert "4 motors cost 87.60 EUR" in new["sentence"]
    # Nothing carried, nothing to upgrade.
    assert matched(api, keep(api, name="bare"))["upgrade"] is None


def test_a_new_propeller_changes_nothing_of_the_mass(api, rig, weighed, record, people):
    record(1.0)
    carried = rig["propeller"]
    rig["propeller"] = add_propeller(
        actor=people["reviewer"], maker="Wickett", diameter_in=5.1, pitch_in=3.1, blades=2
    )
    record(0.9)
    craft = keep(api, carries_motor=weighed["motor"].pk, carries_propeller=carried.pk)
    (one,) = matched(api, craft)["upgrade"]["changes"]
    assert one["kind"] == "new propeller"
    # The same motors on the same frame: what is not known of their leads is not known twice.
    assert (one["mass_g"]["value"], one["mass_g"]["u"]) == (0.0, None)
    assert "mass" not in one["sentence"]
    assert " g" not in one["sentence"]
    assert one["peak_current_pct"]["value"] == pytest.approx(-10.0, abs=0.5)


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"name": ""}, "name"),
        ({"items": []}, "items"),
        ({"items": [{"name": "x", "mass_g": -1}]}, "items"),
        ({"items": [{"name": "x", "mass_g": "heavy"}]}, "items"),
        ({"items": [{"name": "x", "mass_g": 1, "basis": "hoped"}]}, "items"),
        ({"layout": "coaxial", "motors": 3}, "motors"),
        ({"layout": "blimp"}, "layout"),
        ({"cells": 0}, "cells"),
        ({"capacity_mah": "1,5"}, "capacity_mah"),
        ({"capacity_mah": float("inf")}, "capacity_mah"),
        ({"usable_pct": 101}, "usable_pct"),
        ({"less_current_from_pct": 20}, "less_current_to_pct"),
        ({"less_current_from_pct": 30, "less_current_to_pct": 20}, "less_current_to_pct"),
        ({"carries_motor": "{motor}"}, "carries_propeller"),
        ({"lower_motor": "{motor}", "lower_propeller": "{propeller}"}, "lower_motor"),
    ],
)
def test_an_impossible_craft_is_refused_beside_its_field(api, rig, changes, field):
    places = {"{motor}": rig["motor"].pk, "{propeller}": rig["propeller"].pk}
    body = {
        **BODY,
        **{k: places.get(v, v) if isinstance(v, str) else v for k, v in changes.items()},
    }
    answer = api.generic("POST", AT, json.dumps(body), content_type="application/json")
    assert answer.status_code == 400, answer.json()
    if answer.json()["fields"]:
        assert any(name.startswith(field) for name in answer.json()["fields"]), answer.json()
    assert not Craft.objects.exists()


def test_names_are_taken_once_and_writes_name_their_version(api, db):
    craft = keep(api)
    again = api.post(AT, BODY, format="json")
    assert again.status_code == 400
    assert "already" in again.json()["fields"]["name"][0]
    other = keep(api, name="Other")
    taken = api.patch(f"{AT}{other['id']}/", {"name": "Five-inch", "version": 1}, format="json")
    assert taken.status_code == 400
    at = f"{AT}{craft['id']}/"
    assert api.patch(at, {"cells": 6, "version": 1}, format="json").status_code == 200
    late = api.patch(at, {"cells": 5, "version": 1}, format="json")
    assert late.status_code == 409
    assert Craft.objects.get(pk=craft["id"]).cells == 6
    assert [one["name"] for one in api.get(AT).json()] == ["Five-inch", "Other"]


def test_a_plane_without_a_ratio_is_told_statically(api, weighed, record):
    record(1.0)
    found = matched(api, keep(api, layout="plane", motors=1, least_thrust_to_weight=None))
    row = measured_row(found)
    assert row["minutes"]["value"] is None
    assert "lift-to-drag" in row["minutes"]["reason"]
    assert row["thrust_to_weight"]["value"] == pytest.approx(1200 / 1510, rel=0.01)
    assert any("static only" in remark for remark in found["remarks"])
    typed = matched(
        api,
        keep(
            api,
            name="typed",
            layout="plane",
            motors=1,
            least_thrust_to_weight=None,
            cruise_throttle_pct=45,
        ),
    )
    assert measured_row(typed)["minutes"]["value"] > 0


def test_pairs_whose_lower_motor_differs(api, weighed, record):
    record(1.0)
    found = matched(
        api,
        keep(
            api,
            layout="coaxial",
            motors=8,
            lower_motor=weighed["motor"].pk,
            lower_propeller=weighed["propeller"].pk,
        ),
    )
    row = measured_row(found)
    # 8 × 1,200 × 0.85 on 1,480 + 8 × 30 g.
    assert row["thrust_to_weight"]["value"] == pytest.approx(8 * 1200 * 0.85 / 1720, rel=0.01)
    assert row["thrust_to_weight"]["assumed"] is True
    assert any("0.80 to 0.90" in remark for remark in found["remarks"])


def test_files_hold_every_candidate_and_no_formula(api, weighed, record):
    record(1.0)
    craft = keep(api, name="=1+1")
    weighed["motor"].name = "=Sable"
    weighed["motor"].version = 7
    weighed["motor"].save()
    rows = list(csv.reader(io.StringIO(api.get(f"{AT}{craft['id']}/match.csv").content.decode())))
    assert rows[0][:2] == ["Motor", "Propeller"]
    assert len(rows) == 1 + len(matched(api, craft)["rows"])
    assert all(len(row) == len(rows[0]) for row in rows)
    book = load_workbook(io.BytesIO(api.get(f"{AT}{craft['id']}/match.xlsx").content))
    sheet = book.active
    assert sheet.max_row == len(rows)
    for line in sheet.iter_rows(values_only=True):
        assert not any(str(cell).startswith("=") for cell in line if cell is not None)
    page = api.get(f"{AT}{craft['id']}/match.pdf")
    assert page["Content-Type"] == "application/pdf"
    assert page.content.startswith(b"%PDF")
    assert page.content.count(b"/Type /Page\n") <= 1 or b"/Count 1" in page.content


def test_a_closer_look_says_flight_battery_and_other_craft(api, weighed, record):
    record(1.0)
    craft = keep(api, flight_speed_m_per_s=15, less_current_from_pct=15, less_current_to_pct=25)
    at = f"{AT}{craft['id']}/closer/"
    query = {"motor": weighed["motor"].pk, "propeller": weighed["propeller"].pk}
    found = api.get(at, query).json()
    said = " ".join(one["text"] for one in found["said"])
    # 30 A less a quarter and less fifteen per cent.
    said = said.replace("\N{THIN SPACE}", " ")
    rule = re.search(r"(\S+) ± (\S+) A to (\S+) ± (\S+) A, of (\S+) ± (\S+) A", said).groups()
    least, least_u, most, most_u, stands, stands_u = map(float, rule)
    assert (least, most, stands) == pytest.approx((22.5, 25.5, 30.0), abs=0.06)
    assert (least_u, most_u) == pytest.approx((0.75 * stands_u, 0.85 * stands_u), rel=0.1)
    # No figure of it stands there without how well.
    solved = re.search(
        r"At 15 m/s about (\S+) ± (\S+) A of (\S+) ± (\S+) A at a stand, "
        r"(\S+) ± (\S+) % faster; without a load it would turn (\S+) ± (\S+) % faster",
        said,
    )
    flown, flown_u, stands, stands_u, *_ = map(float, solved.groups())
    assert flown < stands
    # What the stand does not know of its current, flight does not know either.
    assert flown_u / flown > 0.9 * stands_u / stands
    assert re.search(r"Best at \S+ ± \S+ A \(\S+ ± \S+ %\) on 4 cells", said)
    assert found["other_cells"] == 6
    assert "On 6 cells instead of 4" in said
    suits = {one["use"]: one for one in found["suits"]}
    assert suits["racing"]["heaviest_g"]["value"] == pytest.approx(4 * 1200 / 8, rel=0.01)
    assert suits["racing"]["heaviest_g"]["u"] > 0
    assert suits["racing"]["least_capacity_mah"]["value"] == pytest.approx(1600, rel=0.01)
    assert "On 3 cells" in " ".join(
        one["text"] for one in api.get(at, {**query, "cells": 3}).json()["said"]
    )
    assert api.get(at, {"motor": 999_999, "propeller": 1}).status_code == 400
    assert api.get(at, {"motor": "x"}).status_code == 400
    # Without speed or rule nothing is made up.
    plain = api.get(f"{AT}{keep(api, name='plain')['id']}/closer/", query).json()
    assert "give the craft a flight speed" in plain["said"][0]["text"]


def test_a_propeller_that_does_not_sit_falls_out_until_it_is_run_or_adapted(
    api, weighed, record, people
):
    record(1.0)
    wide = add_propeller(
        actor=people["reviewer"], maker="Wickett", diameter_in=5.0, pitch_in=3.6, blades=3
    )
    craft = keep(api)

    def row():
        found = matched(api, craft)["rows"]
        return next(one for one in found if one["propeller_name"] == wide.full_name)

    assert "run it first" in row()["barred"]  # of its hub nothing is known
    measure(weighed["samples"][0], shaft_diameter=3.0, shaft_free_length=9.0)
    change_propeller(
        actor=people["reviewer"],
        propeller=wide,
        base=wide.version,
        bore_mm=5.0,
        hub_thickness_mm=6.0,
    )
    assert "the propeller is not centred" in row()["barred"]
    reasons = {one["reason"] for one in matched(api, craft)["fell_out"]}
    assert "does not sit on the motor" in reasons
    # A ring of the rig, and it sits: kept answers follow what a propeller is mounted with.
    add_adapter(
        actor=people["reviewer"],
        name="3 to 5",
        kind="ring",
        inner_mm=3.01,
        outer_mm=4.98,
        height_mm=5.0,
    )
    assert "not centred" not in row()["barred"]


def test_what_was_run_was_mounted(api, weighed, record, people):
    record(1.0)
    measure(weighed["samples"][0], shaft_diameter=3.0, shaft_free_length=9.0)
    prop = weighed["propeller"]
    change_propeller(
        actor=people["reviewer"],
        propeller=prop,
        base=prop.version,
        bore_mm=5.0,
        hub_thickness_mm=6.0,
    )
    assert measured_row(matched(api, keep(api)))["barred"] == ""
