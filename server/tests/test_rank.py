"""Rank over the API: like with like, bounds before weights, what stands beside a score."""

import datetime
import re

import pytest

from spindle_server.motors.parcels import add_parcel
from spindle_server.motors.services import put_claim
from spindle_server.motors.weighing import add_incident, add_weighing
from spindle_server.rank.models import KeptRanking, OwnWeights
from spindle_server.rig.services import add_propeller
from spindle_server.runs.models import Run
from spindle_server.runs.services import review_run

from .house import second_motor

TODAY = datetime.date(2026, 11, 2)
AT = "/api/v1/rank/"


@pytest.fixture
def second(rig, people):
    """Another motor, whose samples follow in the rig."""
    motor = second_motor(people)
    rig["samples"] += list(motor.samples.all())
    return motor


@pytest.fixture
def cohort(rig, second, record):
    """Two motors on one propeller: the second draws less for the same thrust."""
    record(1.0)
    record(1.0)
    record(0.9, sample=2)
    return rig["motor"], second


def ranked(api, **query):
    answer = api.get(AT, query)
    assert answer.status_code == 200, answer.json()
    return answer.json()


def row_of(found, motor):
    return next(row for row in found["rows"] if row["motor"] == motor.pk)


def weigh(people, sample, grams):
    add_weighing(
        actor=people["reviewer"],
        sample=sample,
        mass_g=grams,
        resolution_g=0.1,
        lead_length_mm=60,
        weighed_on=TODAY,
    )


def priced(people, motor, amount, currency="EUR", **more):
    add_parcel(
        actor=people["reviewer"],
        motor=motor,
        price_amount=amount,
        price_currency=currency,
        shipping="included",
        **more,
    )


def test_an_empty_bench_ranks_nobody(api, db):
    found = ranked(api)
    assert found["rows"] == []
    assert found["leader"] is None
    assert found["load"] == ""


def test_the_thriftier_motor_leads_and_its_places_are_probabilities(api, cohort):
    motor, second = cohort
    found = ranked(api, weights="efficiency_g_per_w:1")
    assert [row["motor"] for row in found["rows"]] == [second.pk, motor.pk]
    first = found["rows"][0]
    assert first["place"] == 1
    assert sum(first["places"]) == pytest.approx(1.0, abs=1e-3)
    assert found["leader"]["probability"] == first["places"][0] > 0.9
    # A ninth more gf/W: 100 × value ÷ mean.
    assert first["total"] == pytest.approx(100 * (1 / 0.9) / ((1 + 1 / 0.9) / 2), rel=0.01)
    assert first["total_u"] > 0
    # Nobody weighed it: no score per gram, and no u of one.
    assert (first["per_mass"], first["per_mass_u"]) == (None, None)
    figure = next(f for f in first["figures"] if f["name"] == "efficiency_g_per_w")
    assert (figure["samples"], figure["runs"]) == (1, 1)
    # One sample: what samples differ by is in u, and assumed.
    assert figure["figure"]["u"] > 0.015 * figure["figure"]["value"]
    assert figure["figure"]["assumed"] is True
    assert any("assumed" in remark for remark in found["remarks"])
    assert "one sample only" in first["warnings"]


def test_alike_motors_are_not_ordered_in_words(api, rig, second, record):
    record(1.0)
    record(1.0, sample=2)
    found = ranked(api, weights="max_thrust_gf:1,efficiency_g_per_w:1")
    assert found["ties"] == ["Places 1 and 2 cannot be told apart."]
    assert 0.3 < found["leader"]["probability"] < 0.7
    assert found["settle"]["after"] > found["settle"]["now"]
    assert found["price_of_lead"] == ""


def test_what_would_settle_names_what_to_mount(api, rig, second, record):
    record(1.0)
    record(0.99, sample=2)
    settle = ranked(api, weights="max_thrust_gf:1,efficiency_g_per_w:1")["settle"]
    assert settle["kind"] == "curve"
    assert settle["propeller"] == rig["propeller"].pk
    assert settle["supply"] == rig["supply"].pk
    if settle["another_sample"]:
        # Only the first motor has a second sample that was never run.
        unrun = {rig["motor"].pk: rig["samples"][1].pk}
        assert settle["sample"] == unrun.get(settle["motor"])


def test_where_no_run_settles_who_leads_that_is_said(api, rig, second, record, people):
    """By mass alone: a scale settles it, not the stand."""
    record(1.0)
    record(1.0, sample=2)
    weigh(people, second.samples.first(), 31.05)
    weigh(people, rig["samples"][0], 31.0)
    found = ranked(api, weights="mass_g:1")
    assert found["leader"]["probability"] < 0.95
    assert found["settle"] is None
    first = rig["motor"].full_name
    assert found["left_open"].startswith("No one run more would settle whether ")
    assert first in found["left_open"]
    assert second.full_name in found["left_open"]
    assert re.search(r"known with \d+ %: \d+ % of what is uncertain", found["left_open"])


def test_a_sure_lead_leaves_nothing_open(api, rig, second, record, people):
    record(1.0)
    record(1.0, sample=2)
    weigh(people, second.samples.first(), 20.0)
    weigh(people, rig["samples"][0], 31.0)
    found = ranked(api, weights="mass_g:1")
    assert found["leader"]["probability"] > 0.99
    assert found["left_open"] == ""


def test_motors_on_another_propeller_are_shown_without_figures_not_filled(
    api, rig, second, record, people
):
    record(1.0)
    record(1.0, sample=1)
    rig["propeller"] = add_propeller(
        actor=people["reviewer"], maker="Corran", diameter_in=4.0, pitch_in=3.0, blades=2
    )
    record(0.9, sample=2)
    found = ranked(api)
    assert found["load"].startswith("Wickett")
    row = row_of(found, second)
    assert row["place"] is None
    assert row["why_unranked"] == "no run that counts under this load"
    assert {"name": "max_thrust_gf", "why": "no run that counts under this load"} in row["missing"]
    # Asked for estimates, it is known what its runs lacked.
    filled = row_of(ranked(api, fill=1), second)
    why = {one["name"]: one["why"] for one in filled["missing"]}
    assert (
        why["max_thrust_gf"] == "no run that tells it with the Wickett 5.1x4.2x3, 16 V bench supply"
    )
    # Nor does its mass alone bring it a place.
    weigh(people, second.samples.first(), 1.0)
    light = ranked(api, weights="max_thrust_gf:1,mass_g:4")
    assert row_of(light, second)["place"] is None
    assert row_of(ranked(api, weights="mass_g:1"), second)["place"] == 1
    # The other load can be asked for.
    other = next(one for one in found["loads"] if one["key"].startswith("Corran"))
    again = ranked(api, load=other["key"], weights="max_thrust_gf:1")
    assert row_of(again, second)["place"] == 1
    assert row_of(again, rig["motor"])["place"] is None


def test_hard_bounds_come_before_weights_and_say_why(api, cohort, people):
    motor, second = cohort
    weigh(people, motor.samples.first(), 25.4)
    weigh(people, second.samples.first(), 31.0)
    priced(people, motor, 22.0)
    both = {row["motor"]: row for row in ranked(api)["rows"]}
    # As unsure as its score: it was weighed to a thousandth.
    own = both[motor.pk]
    assert own["per_mass_u"] / own["per_mass"] == pytest.approx(
        own["total_u"] / own["total"], rel=0.1
    )
    assert own["per_price_u"] > 0
    assert both[second.pk]["per_price_u"] is None
    scores = {f["name"]: f["score_u"] for f in own["figures"] if f["score"] is not None}
    assert scores
    assert min(scores.values()) > 0
    found = ranked(api, most_mass_g=30)
    assert [row["motor"] for row in found["rows"]] == [motor.pk]
    assert found["fallen_out"] == [
        {
            "motor": second.pk,
            "full_name": second.full_name,
            "why": "weighs 31.000 ± 0.029\N{THIN SPACE}g, above 30 g",
        }
    ]
    # 31.000 ± 0.029 g is neither told to be above 30.96 g nor below 31.04 g.
    for bound in (30.96, 31.04):
        close = ranked(api, most_mass_g=bound)
        assert close["fallen_out"] == []
        assert close["remarks"][0].endswith(f"not told from {bound:g} g: it stays.")
    assert not any("told from" in words for words in ranked(api, most_mass_g=32)["remarks"])
    why = ranked(api, most_price=20)["fallen_out"]
    assert {one["motor"]: one["why"] for one in why} == {
        motor.pk: "costs 22.00 EUR, above 20 EUR",
        # A price that nobody knows is not below a bound.
        second.pk: "its price in EUR is not known",
    }
    put_claim(actor=people["reviewer"], motor=motor, quantity="cells_max", value=4, source="box")
    assert "up to 4 cells" in ranked(api, cells=6)["fallen_out"][0]["why"]
    assert ranked(api, without=f"{motor.pk}")["fallen_out"][0]["why"] == "left out by hand"


def test_prices_of_two_currencies_are_not_compared(api, cohort, people):
    motor, second = cohort
    priced(people, motor, 20.0)
    priced(people, second, 5000.0, "JPY")
    found = ranked(api, weights="max_thrust_gf:1,price:1")
    assert found["currency"] == "EUR"
    assert row_of(found, second)["per_price"] is None
    missing = row_of(found, second)["missing"]
    assert missing == [{"name": "price", "why": "its price is in JPY, the others' in EUR"}]


def test_a_gift_has_no_price_per_anything(api, cohort, people):
    motor, _ = cohort
    priced(people, motor, 0.0)
    row = row_of(ranked(api, weights="max_thrust_gf:1,price:1"), motor)
    assert [one["name"] for one in row["missing"]] == ["price"]
    assert row["missing"][0]["why"]
    assert row["price"]["value"] is None
    assert row["per_price"] is None


def test_losses_and_faults_stand_beside_the_score(api, cohort, people):
    motor, second = cohort
    add_incident(
        actor=people["reviewer"],
        sample=motor.samples.first(),
        kind="burnt_winding",
        happened_on=TODAY,
        destroyed=True,
    )
    before = row_of(ranked(api, weights="max_thrust_gf:1"), second)["total"]
    row = row_of(ranked(api, weights="max_thrust_gf:1"), motor)
    assert "1 of 2 lost on test" in row["warnings"]
    assert "burnt winding" in row["warnings"]
    # Beside, not in it.
    assert row["total"] == pytest.approx(200.0 - before)


def test_points_beyond_a_rating_are_left_out_unless_justified(api, cohort, people):
    motor, _ = cohort
    put_claim(
        actor=people["reviewer"], motor=motor, quantity="max_current_a", value=20, source="box"
    )
    row = row_of(ranked(api), motor)
    assert "2 points beyond the rating left out" in row["warnings"]
    thrust = next(f for f in row["figures"] if f["name"] == "max_thrust_gf")["figure"]["value"]
    # 100 % takes 30 A; what is left ends at 60 %.
    assert thrust == pytest.approx(720, rel=0.01)
    for run in Run.objects.filter(sample__motor=motor):
        run.overrun_reason = "one glance"
        run.save()
    row = row_of(ranked(api), motor)
    assert not any("beyond" in text for text in row["warnings"])
    assert next(f for f in row["figures"] if f["name"] == "max_thrust_gf")["figure"][
        "value"
    ] == pytest.approx(1200, rel=0.01)


def test_a_rejected_run_stops_counting_at_once(api, cohort, people):
    motor, second = cohort
    assert ranked(api)["rows"][0]["place"] == 1
    for run in Run.objects.filter(sample__motor=second):
        review_run(
            actor=people["reviewer"], run=run, review="rejected", reason="slipped", base=run.version
        )
    found = ranked(api)
    assert [row["motor"] for row in found["rows"]] == [motor.pk]


@pytest.mark.parametrize(
    ("query", "field"),
    [
        ({"weights": "max_thrust_gf"}, "weights"),
        ({"weights": "max_thrust_gf:nan"}, "weights"),
        ({"weights": "max_thrust_gf:-1"}, "weights"),
        ({"weights": "max_thrust_gf:11"}, "weights"),
        ({"weights": "charm:1"}, "weights"),
        ({"weights": "max_thrust_gf:0,mass_g:0"}, "weights"),
        ({"use": "ballast"}, "use"),
        ({"most_mass_g": "1,5"}, "most_mass_g"),
        ({"without": "3;4"}, "without"),
        ({"thrust_gf": "inf"}, "thrust_gf"),
    ],
)
def test_what_is_no_question_is_refused_beside_its_field(api, query, field):
    answer = api.get(AT, query)
    assert answer.status_code == 400, answer.json()
    assert field in answer.json()["fields"]


@pytest.mark.parametrize("load", ["what", "a|b", "a|pack|nan", "a|pack|inf", "a|pack|-4"])
def test_a_load_that_is_none_is_refused(api, cohort, load):
    answer = api.get(AT, {"load": load})
    assert answer.status_code == 400
    assert "no load" in answer.json()["message"]


def test_a_load_that_nobody_was_run_under_falls_back_to_the_usual(api, cohort):
    found = ranked(api, load="Never 9x9x9|hamster wheel|16")
    assert found["load"].startswith("Wickett")


def test_own_weights_are_kept_and_dropped(api):
    body = {"name": "Tomas, cruising", "weights": {"efficiency_g_per_w": 3, "mass_g": 1}}
    made = api.post(f"{AT}weights/", body, format="json")
    assert made.status_code == 201
    listed = api.get(f"{AT}weights/").json()
    assert [one["name"] for one in listed["own"]] == ["Tomas, cruising"]
    assert {one["use"] for one in listed["presets"]} >= {"racing", "long range", "indoor"}
    assert api.post(f"{AT}weights/", body, format="json").status_code == 400
    assert api.post(f"{AT}weights/", {**body, "name": "Racing"}, format="json").status_code == 400
    gone = api.delete(f"{AT}weights/{made.json()['id']}/?version=9")
    assert gone.status_code == 409
    assert api.delete(f"{AT}weights/{made.json()['id']}/?version=1").status_code == 204
    assert not OwnWeights.objects.exists()


@pytest.mark.parametrize(
    "weights", [{}, {"charm": 1}, {"mass_g": 0}, {"mass_g": -1}, {"mass_g": "much"}]
)
def test_weights_that_weigh_nothing_are_refused(api, weights):
    answer = api.post(f"{AT}weights/", {"name": "x", "weights": weights}, format="json")
    assert answer.status_code == 400
    assert any(name.startswith("weights") for name in answer.json()["fields"])


def test_a_kept_ranking_tells_who_moved_and_why(api, cohort, record):
    _, second = cohort
    asked = {"weights": "efficiency_g_per_w:1"}
    kept = api.post(f"{AT}kept/", {"title": "November", "asked": asked}, format="json")
    assert kept.status_code == 201, kept.json()
    assert kept.json()["asked"]["weights"] == "efficiency_g_per_w:1"
    same = api.get(f"{AT}kept/{kept.json()['id']}/moves/", asked).json()
    assert (same["moved"], same["stayed"]) == ([], 2)
    # The second motor is run again, and draws much more.
    record(1.4, sample=2)
    record(1.4, sample=2)
    record(1.4, sample=2)
    found = api.get(f"{AT}kept/{kept.json()['id']}/moves/", asked).json()
    moved = {one["name"]: one for one in found["moved"]}
    assert (moved[second.full_name]["before"], moved[second.full_name]["after"]) == (1, 2)
    assert any(
        reason.startswith("Thrust per power at one thrust") and "gf/W" in reason
        for reason in moved[second.full_name]["reasons"]
    )
    # What was kept stays as it was.
    assert KeptRanking.objects.get().content["motors"][0]["motor"] == second.pk
    assert [one["title"] for one in api.get(f"{AT}kept/").json()] == ["November"]


def test_nothing_ranked_is_nothing_to_keep(api, db):
    answer = api.post(f"{AT}kept/", {"title": "x", "asked": {}}, format="json")
    assert answer.status_code == 400
    assert "nothing to keep" in answer.json()["message"]


def test_the_verdict_sentence_is_edited_from_the_version_that_was_read(api, cohort):
    motor, _ = cohort
    row = row_of(ranked(api), motor)
    at = f"/api/v1/motors/{motor.pk}/"
    words = "For light five-inch craft that fly on four cells."
    said = api.patch(at, {"verdict": words, "version": row["version"]}, format="json")
    assert said.status_code == 200, said.json()
    assert row_of(ranked(api), motor)["verdict"] == words
    late = api.patch(at, {"verdict": "other", "version": row["version"]}, format="json")
    assert late.status_code == 409


def test_the_number_of_queries_does_not_grow_with_the_runs(
    api, cohort, record, django_assert_max_num_queries
):
    ranked(api)
    with django_assert_max_num_queries(20):
        ranked(api)
    for _ in range(3):
        record(1.0)
    with django_assert_max_num_queries(23):
        ranked(api)
