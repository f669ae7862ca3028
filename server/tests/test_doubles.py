"""What is on the bench twice becomes one: everything moves, nothing is lost, nothing is guessed."""

import pytest

from spindle_server.doubles.merging import _relations
from spindle_server.identification.models import Identified
from spindle_server.imports.names import belongs_to
from spindle_server.match.models import Craft
from spindle_server.motors.models import Claim, Maker, Merged, MotorModel, Sample
from spindle_server.motors.services import take_in_motor
from spindle_server.plan.models import Campaign
from spindle_server.records.revision import whole_record
from spindle_server.rig.models import Propeller
from spindle_server.rig.services import add_propeller
from spindle_server.runs.models import Run
from spindle_server.verdict.models import Verdict
from spindle_server.work.models import LongWork

URL = "/api/v1/doubles/"


@pytest.fixture
def editor(api, people):
    api.force_authenticate(people["editor"])
    return api


@pytest.fixture
def twice(rig, people):
    """The motor of the rig, typed a second time by somebody in a hurry."""
    return take_in_motor(
        actor=people["reviewer"],
        maker="Quill moor",
        name="sable",
        size_code="",
        kv_label_rpm_per_v=None,
        note="Bought at the autumn fair.",
        sample_marks=["A", "D"],
    )


@pytest.fixture
def makers(rig, twice):
    return rig["motor"].maker, twice.maker


def body(thing, stays, gone, **more):
    versions = {
        f"{name}_version": getattr(row, "version", None)
        for name, row in (("stays", stays), ("gone", gone))
    }
    return {"thing": thing, "stays": stays.pk, "gone": gone.pk, **versions, **more}


def fresh(*rows):
    for row in rows:
        row.refresh_from_db()


def merged(editor, thing, stays, gone, status=200, **more):
    fresh(stays, gone)
    answer = editor.post(URL, body(thing, stays, gone, **more), format="json")
    assert answer.status_code == status, answer.json()
    return answer.json()


class TestFinding:
    def test_what_differs_in_case_and_signs_is_offered_the_older_first(self, editor, rig, twice):
        found = editor.get(URL).json()
        named = [(one["thing"], one["stays_name"], one["gone_name"]) for one in found["pairs"]]
        assert named == [
            ("maker", "Quillmoor", "Quill moor"),
            ("motor", rig["motor"].full_name, "Quill moor sable"),
        ]
        assert found["more"] == 0

    def test_of_three_each_is_held_against_the_oldest(self, editor, rig, twice):
        for name in ("Quill-moor", "quill.moor"):
            take_in_motor(actor=None, maker=name, name="SABLE", size_code="")
        found = editor.get(URL).json()["pairs"]
        for thing, first in (("maker", rig["motor"].maker_id), ("motor", rig["motor"].pk)):
            rows = [one for one in found if one["thing"] == thing]
            assert [one["stays"] for one in rows] == [first] * 3

    def test_another_kv_or_size_is_another_motor(self, editor, rig, people):
        motor = rig["motor"]
        for size, kv in ((motor.size_code, 2400.0), ("2207", motor.kv_label_rpm_per_v)):
            take_in_motor(
                actor=None, maker="Quillmoor", name="SABLE", size_code=size, kv_label_rpm_per_v=kv
            )
        assert [one["thing"] for one in editor.get(URL).json()["pairs"]] == []

    def test_propellers_of_which_little_is_known_are_offered_and_others_not(self, editor, rig):
        own = rig["propeller"]
        maker = own.maker.name
        less = add_propeller(actor=None, maker=maker, diameter_in=own.diameter_in)
        add_propeller(
            actor=None, maker=maker, diameter_in=own.diameter_in, pitch_in=own.pitch_in + 1
        )
        add_propeller(actor=None, maker=maker, diameter_in=own.diameter_in, name="Another")
        pairs = [one for one in editor.get(URL).json()["pairs"] if one["thing"] == "propeller"]
        assert (own.pk, less.pk) in [(one["stays"], one["gone"]) for one in pairs]
        steeper = Propeller.objects.get(pitch_in=own.pitch_in + 1)
        for one in pairs:
            assert {one["stays"], one["gone"]} != {own.pk, steeper.pk}


class TestLooking:
    def test_changes_nothing_and_tells_what_would(self, editor, rig, twice, record):
        record()
        before, version = whole_record(), twice.version
        answer = editor.post(
            URL + "look/",
            {"thing": "motor", "stays": rig["motor"].pk, "gone": twice.pk},
            format="json",
        ).json()
        assert answer["renamed"] == [{"before": "A", "after": "C"}]
        assert {"what": "samples", "count": 2} in answer["moved"]
        assert answer["filled"] == ["note"]
        assert answer["differs"] == []
        assert (answer["stays_version"], answer["gone_version"]) == (rig["motor"].version, version)
        assert whole_record() == before
        assert MotorModel.objects.filter(pk=twice.pk, version=version).exists()
        assert not LongWork.objects.exists()

    def test_reviewers_and_readers_do_not_merge(self, api, people, rig, twice):
        for role in ("reader", "reviewer"):
            api.force_authenticate(people[role])
            answer = api.post(URL, body("motor", rig["motor"], twice), format="json")
            assert answer.status_code == 403
        assert MotorModel.objects.filter(pk=twice.pk).exists()


class TestMotors:
    def test_everything_moves_with_its_history(self, editor, rig, twice, people):
        motor, sample = rig["motor"], twice.samples.get(mark="A")
        Craft.objects.create(name="Quad", cells=4, capacity_mah=1300, carries_motor=twice)
        Verdict.objects.create(motor=twice)
        done = merged(editor, "motor", motor, twice)
        assert not MotorModel.objects.filter(pk=twice.pk).exists()
        fresh(motor, sample)
        assert (sample.motor_id, sample.mark) == (motor.pk, "C")
        assert sorted(motor.samples.values_list("mark", flat=True)) == ["A", "B", "C", "D"]
        assert Craft.objects.get().carries_motor_id == motor.pk
        assert Verdict.objects.get().motor_id == motor.pk
        assert motor.note.endswith("Bought at the autumn fair.")
        assert motor.size_code == "2105.5"
        assert {one["what"] for one in done["moved"]} >= {"samples", "parcel", "craft", "verdict"}
        # Whatever points to a motor points to one that is there.
        for relation in _relations(motor):
            rows = relation.related_model.objects.filter(**{relation.field.name: twice.pk})
            assert not rows.exists(), relation
        changes = editor.get(f"/api/v1/motors/{motor.pk}/").json()["changes"]
        told = [(one["what"], one["kind"]) for one in changes]
        assert ("name: Quill moor sable, which is this motor", "added") in told
        assert ("sample A", "added") in told
        assert ("motor", "removed") in told
        who = {one["who"] for one in changes if one["what"].startswith("name: ")}
        assert who == {people["editor"].shown_name}

    def test_its_address_says_what_it_is_now(self, editor, rig, twice):
        merged(editor, "motor", rig["motor"], twice)
        answer = editor.get(f"/api/v1/motors/{twice.pk}/")
        assert (answer.status_code, answer.json()["code"]) == (404, "merged")
        assert answer.json()["current"] == {"stays": rig["motor"].pk}
        assert rig["motor"].full_name in answer.json()["message"]
        assert editor.get("/api/v1/motors/99999/").json()["code"] == "not_found"

    def test_claims_of_one_source_are_kept_where_they_differ(self, editor, rig, twice):
        for motor, mass in ((rig["motor"], 30.0), (twice, 31.0)):
            Claim.objects.create(motor=motor, quantity="mass_g", value=mass, source="page")
            Claim.objects.create(motor=motor, quantity="max_current_a", value=38, source="page")
        Claim.objects.create(motor=twice, quantity="max_power_w", value=600, source="label")
        done = merged(editor, "motor", rig["motor"], twice)
        rows = Claim.objects.filter(motor=rig["motor"]).order_by("quantity", "source")
        assert [(row.quantity, row.value, row.source) for row in rows] == [
            ("mass_g", 30.0, "page"),
            ("mass_g", 31.0, "page, of Quill moor sable"),
            ("max_current_a", 38.0, "page"),
            ("max_power_w", 600.0, "label"),
        ]
        assert len(done["dropped"]) == len(done["set_apart"]) == 1

    def test_a_long_source_still_leaves_two_claims(self, editor, rig, twice):
        for motor, mass in ((rig["motor"], 30.0), (twice, 31.0)):
            Claim.objects.create(motor=motor, quantity="mass_g", value=mass, source="x" * 120)
        merged(editor, "motor", rig["motor"], twice)
        assert Claim.objects.filter(motor=rig["motor"], quantity="mass_g").count() == 2

    def test_what_stands_stands_and_what_differs_is_told(self, editor, rig, twice):
        MotorModel.objects.filter(pk=twice.pk).update(kv_label_rpm_per_v=2000)
        done = merged(editor, "motor", rig["motor"], twice)
        [differs] = done["differs"]
        assert (differs["stays"], differs["gone"]) == ("1950.0", "2000.0")
        fresh(rig["motor"])
        assert rig["motor"].kv_label_rpm_per_v == 1950

    def test_the_other_way_round_it_takes_over_what_it_lacks(self, editor, rig, twice):
        """The name that stays may be the one without size and kV, and becomes unique only then."""
        Maker.objects.filter(pk=twice.maker_id).update(name="Quillmoor Works")
        done = merged(editor, "motor", twice, rig["motor"])
        fresh(twice)
        assert (twice.size_code, twice.size_basis) == ("2105.5", "stator")
        assert twice.kv_label_rpm_per_v == 1950
        assert len(done["filled"]) >= 2
        assert {s.mark for s in twice.samples.all()} == {"A", "D", "B", "C"}

    def test_two_verdicts_do_not_become_one(self, editor, rig, twice):
        for motor in (rig["motor"], twice):
            Verdict.objects.create(motor=motor)
        told = merged(editor, "motor", rig["motor"], twice, 409)
        assert told["code"] == "two_verdicts"
        assert twice.samples.count() == 2

    def test_a_brushed_can_is_no_outrunner(self, editor, rig, twice):
        MotorModel.objects.filter(pk=twice.pk).update(kind="brushed")
        assert merged(editor, "motor", rig["motor"], twice, 400)["code"] == "two_motors"

    def test_what_was_changed_since_it_was_looked_at_is_looked_at_again(self, editor, rig, twice):
        told = merged(editor, "motor", rig["motor"], twice, 409, gone_version=twice.version + 1)
        assert "while you were writing" in told["message"]
        assert merged(editor, "motor", rig["motor"], twice, 409, stays_version=None)
        assert MotorModel.objects.filter(pk=twice.pk).exists()

    @pytest.mark.parametrize(
        ("stays", "gone", "code"), [(0, 0, "same"), (0, 99_999, "unknown_motor")]
    )
    def test_one_is_not_two_and_nothing_is_nothing(self, editor, rig, stays, gone, code):
        sent = {
            "thing": "motor",
            "stays": rig["motor"].pk,
            "gone": gone or rig["motor"].pk,
            "stays_version": 1,
            "gone_version": 1,
        }
        answer = editor.post(URL, sent, format="json")
        assert (answer.status_code, answer.json()["code"]) == (400, code)

    def test_figures_that_rest_on_its_name_are_made_again(self, editor, rig, twice, record):
        run = record()
        Run.objects.filter(pk=run.pk).update(sample=twice.samples.get(mark="A"))
        merged(editor, "motor", rig["motor"], twice)
        assert LongWork.objects.get().title == "Make old figures again"
        fresh(run)
        assert run.sample.motor_id == rig["motor"].pk


class TestNamesInFiles:
    """A logger goes on calling it what it was called."""

    def named(self, motor, sample=""):
        found = belongs_to({"motor": motor, "sample": sample}).sample
        return found and (found.motor.full_name, found.mark)

    def test_a_sample_is_found_under_the_mark_it_had(self, editor, rig, twice):
        merged(editor, "motor", rig["motor"], twice)
        ours = rig["motor"].full_name
        assert self.named("Quill moor sable", "A") == (ours, "C")
        assert self.named("Quill moor sable", "D") == (ours, "D")
        assert self.named(ours, "A") == (ours, "A")
        # Of two nobody said which, and of one that never was nobody guesses.
        assert self.named("Quill moor sable") is None
        assert self.named("Quill moor sable", "B") is None

    def test_merged_again_and_again(self, editor, rig, twice, people):
        third = take_in_motor(
            actor=people["reviewer"],
            maker="Quill-moor",
            name="Sable II",
            size_code="",
            sample_marks=["A"],
        )
        merged(editor, "motor", twice, third)
        assert self.named("Quill-moor Sable II", "A") == ("Quill moor sable", "B")
        merged(editor, "motor", rig["motor"], twice)
        # B was free at the second and is taken at the first.
        assert self.named("Quill-moor Sable II")[0] == rig["motor"].full_name
        mark = self.named("Quill-moor Sable II", "A")[1]
        assert Sample.objects.get(motor=rig["motor"], mark=mark).pk == third_sample(third)
        assert set(Merged.objects.values_list("stays", flat=True)) == {rig["motor"].pk}

    def test_a_propeller_is_found_under_the_name_it_had(self, editor, rig):
        own = rig["propeller"]
        other = add_propeller(
            actor=None, maker="Somebody", name="Fast one", diameter_in=own.diameter_in
        )
        called = other.full_name
        merged(editor, "propeller", own, other)
        assert belongs_to({"propeller": called}).propeller == own


def third_sample(motor):
    return Sample.history.filter(motor_id=motor.pk, history_type="+").first().id


class TestPropellers:
    def test_runs_and_campaigns_go_with_it(self, editor, rig, record, people, season_of):
        own = rig["propeller"]
        less = add_propeller(actor=None, maker=own.maker.name, diameter_in=own.diameter_in)
        run = record()
        campaign = season_of([less])
        merged(editor, "propeller", less, own)
        fresh(run, less)
        assert run.propeller_id == less.pk
        assert (less.pitch_in, less.blades) == (own.pitch_in, own.blades)
        assert list(campaign.propellers.all()) == [less]
        assert not Propeller.objects.filter(pk=own.pk).exists()
        assert Identified.objects.filter(propeller=less).exists()
        assert Run.history.filter(id=run.pk).first().history_user == people["editor"]

    def test_what_ran_keeps_its_geometry(self, editor, rig, record):
        own = rig["propeller"]
        record()
        other = add_propeller(
            actor=None,
            maker=own.maker.name,
            diameter_in=own.diameter_in,
            pitch_in=own.pitch_in + 0.5,
            blades=own.blades,
        )
        told = merged(editor, "propeller", other, own, 400)
        assert told["code"] == "two_propellers"
        assert "pitch" in told["message"]


@pytest.fixture
def season_of(people):
    def begun(propellers):
        campaign = Campaign.objects.create(title="Ladder", question="ladder")
        campaign.propellers.set(propellers)
        return campaign

    return begun


class TestMakers:
    def test_motors_and_propellers_go_with_their_maker(self, editor, rig, twice, makers):
        ours, theirs = makers
        add_propeller(actor=None, maker=theirs.name, diameter_in=3)
        done = merged(editor, "maker", ours, theirs)
        assert not Maker.objects.filter(pk=theirs.pk).exists()
        fresh(twice)
        assert twice.maker_id == ours.pk
        assert {one["what"] for one in done["moved"]} == {"motor model", "propeller"}
        # Their motors are the next double, and are not lost.
        assert [one["thing"] for one in editor.get(URL).json()["pairs"]] == ["motor"]

    def test_makers_of_the_same_motor_wait_for_it(self, editor, rig, makers):
        ours, theirs = makers
        MotorModel.objects.filter(maker=theirs).update(
            name="Sable", size_code="2105.5", size_basis="stator", kv_label_rpm_per_v=1950
        )
        told = merged(editor, "maker", ours, theirs, 409)
        assert told["code"] == "cannot_be_twice"
        assert MotorModel.objects.filter(maker=theirs).count() == 1
        assert Maker.objects.filter(pk=theirs.pk).exists()


def test_nothing_that_points_to_a_motor_is_forgotten(db):
    """A new table that names a motor moves with it, or this list says why not."""
    names = {relation.related_model.__name__ for relation in _relations(MotorModel())}
    assert {"Sample", "Parcel", "Claim", "Craft", "Verdict", "Flight", "QuotedMotor"} <= names
    assert not [name for name in names if name.startswith("Historical")]
    assert "KnownName" in {r.related_model.__name__ for r in _relations(Propeller())}
    assert "Campaign" in {r.related_model.__name__ for r in _relations(Propeller())}
