"""A whole sheet of first answers in one write: the same as one by one, all or none."""

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext

from spindle_server.errors import ConflictError, ServiceError
from spindle_server.motors.services import take_in_motor
from spindle_server.teardown import services
from spindle_server.teardown.models import Observation
from spindle_server.teardown.services import record_observation, record_sheet

ANSWERS = [
    {"attribute": "magnet_shape", "status": "observed", "choice": "arc"},
    {"attribute": "pole_count", "status": "observed", "value": 14.0},
    {"attribute": "slot_count", "status": "observed", "value": 12.0},
    {
        "attribute": "stator_diameter",
        "status": "measured",
        "value": 21.2,
        "u": 0.01,
        "instrument": "calliper",
        "typed": "21,2",
        "note": "across two teeth",
    },
    {"attribute": "bearing_fit", "status": "could_not_tell", "note": "Not pressed out."},
]


@pytest.fixture
def samples(people):
    motor = take_in_motor(
        actor=None,
        maker="Quillmoor",
        name="Sable",
        size_code="2105.5",
        kv_label_rpm_per_v=2650,
        sample_marks=["A", "B", "C"],
    )
    return list(motor.samples.order_by("mark"))


def plain(rows):
    """Rows of answers or of their history, without what differs by row and by moment."""
    apart = {"id", "sample_id", "observed_at", "history_id", "history_date", "_state"}
    return [
        {key: value for key, value in vars(row).items() if key not in apart and key[0] != "_"}
        for row in rows
    ]


def test_a_sheet_is_what_its_answers_are_one_by_one(samples, people):
    one, other, reference = samples
    record_sheet(actor=people["editor"], sample=reference, answers=ANSWERS)
    answers = [
        *ANSWERS,
        {"attribute": "winding", "status": "observed", "choice": "single"},
        {"attribute": "magnet_inner_diameter", "status": "inferred", "reference": reference},
    ]
    record_observation(
        actor=None,
        sample=reference,
        attribute="magnet_inner_diameter",
        status="measured",
        value=21.7,
        u=0.02,
    )
    answers[0] = {"attribute": "magnet_shape", "status": "same_as", "reference": reference}
    answers.append(
        {"attribute": "pull_force", "status": "ordinal", "ordinal": "less", "reference": reference}
    )
    for answer in answers:
        record_observation(actor=people["reviewer"], sample=one, **answer)
    made = record_sheet(actor=people["reviewer"], sample=other, answers=answers)
    first, second = (Observation.objects.filter(sample=s).order_by("pk") for s in (one, other))
    assert [row.pk for row in made] == [row.pk for row in second]
    assert plain(first) == plain(second)
    assert len(first) == len(answers)
    assert first[0].choice == "arc"
    history = [
        plain(entry for row in rows for entry in row.history.all()) for rows in (first, second)
    ]
    assert history[0] == history[1]
    assert [entry["history_user_id"] for entry in history[1]] == [people["reviewer"].pk] * len(made)


def test_a_sheet_takes_as_many_queries_for_five_answers_as_for_two(samples):
    taken = []
    for sample, answers in zip(samples, (ANSWERS[:2], ANSWERS), strict=False):
        with CaptureQueriesContext(connection) as asked:
            record_sheet(actor=None, sample=sample, answers=answers)
        taken.append(len(asked))
    assert taken[0] == taken[1] < 8


def test_an_empty_sheet_is_none(samples):
    assert record_sheet(actor=None, sample=samples[0], answers=[]) == []


@pytest.mark.parametrize(
    ("wrong", "words"),
    [
        ({"attribute": "magnet_shape", "status": "observed", "choice": "round"}, "Magnet shape"),
        ({"attribute": "nothing_like_it", "status": "observed", "choice": "arc"}, "nothing_like"),
        ({"attribute": "winding", "status": "same_as"}, "Name the sample"),
        # Narrower than the stator that stands before it on the sheet.
        ({"attribute": "magnet_inner_diameter", "status": "measured", "value": 20.0}, "tator"),
        ({"attribute": "pole_count", "status": "observed", "value": 12.0}, "twice"),
    ],
)
def test_one_answer_that_cannot_be_leaves_none(samples, wrong, words):
    sample = samples[0]
    answers = [one for one in ANSWERS if one["attribute"] != wrong["attribute"] or "twice" in words]
    with pytest.raises(ServiceError, match=words) as refused:
        record_sheet(actor=None, sample=sample, answers=[*answers, wrong])
    assert refused.value.status == 400
    assert not Observation.objects.exists()
    assert not Observation.history.exists()


def test_what_was_answered_already_is_not_written_over(samples, people):
    sample = samples[0]
    record_observation(
        actor=people["editor"], sample=sample, attribute="slot_count", status="observed", value=9.0
    )
    with pytest.raises(ConflictError) as refused:
        record_sheet(actor=people["reviewer"], sample=sample, answers=ANSWERS)
    assert refused.value.current["who"] == "editor"
    assert refused.value.current["values"]["value"] == 9.0
    assert [row.attribute for row in Observation.objects.all()] == ["slot_count"]


def test_what_somebody_answers_meanwhile_is_not_written_over(samples, monkeypatch):
    sample, looks, look = samples[0], [], services._first_of
    record_observation(
        actor=None, sample=sample, attribute="slot_count", status="observed", value=9.0
    )

    def too_early(*args):
        looks.append(args)
        return None if len(looks) == 1 else look(*args)

    monkeypatch.setattr(services, "_first_of", too_early)
    with pytest.raises(ConflictError):
        record_sheet(actor=None, sample=sample, answers=ANSWERS)
    assert [row.value for row in Observation.objects.all()] == [9.0]
    assert len(looks) == 2


def test_numbers_of_a_sheet_are_held_against_those_on_record(samples):
    sample = samples[0]
    record_observation(
        actor=None, sample=sample, attribute="magnet_inner_diameter", status="measured", value=21.0
    )
    with pytest.raises(ServiceError, match="tator"):
        record_sheet(actor=None, sample=sample, answers=ANSWERS)
