"""Columns of bytes hold what was given them, whatever it is, and cost the migrations nothing."""

import os

import numpy as np
import pytest
from django.db import IntegrityError, connection, transaction
from django.db.models import F, Value

from spindle_core.figures.quantities import CHANNELS
from spindle_core.formats.bench_log import BenchLog
from spindle_server.publish.models import EditionPack
from spindle_server.records.blobs import Bytes
from spindle_server.runs import services
from spindle_server.runs.as_core import read_trace
from spindle_server.runs.models import SourceFile, StoredFile, StoredPart, TraceSegment

pytestmark = pytest.mark.django_db

EVERY_BYTE = bytes(range(256))
ODD = [
    b"",
    b"\x00",
    b"'; DROP TABLE runs_run; --",
    b"%s %(a)s %% \\' \\",
    "äü€".encode(),
    b"\xff\xfe\xed\xa0\x80",
    EVERY_BYTE * 300,
]


def part(data, index=0):
    file = StoredFile.objects.create(size=len(data) + 1)
    return StoredPart.objects.create(
        file=file, index=index, size=len(data) + 1, digest="0", zstd=data
    )


@pytest.mark.parametrize("data", ODD, ids=range(len(ODD)))
@pytest.mark.parametrize("given", [bytes, bytearray, memoryview])
def test_what_is_written_is_what_is_read(data, given):
    row = part(given(data))
    assert bytes(StoredPart.objects.get(pk=row.pk).zstd) == data
    assert StoredPart.objects.filter(pk=row.pk, zstd=data).exists()


def test_all_ways_of_writing_write_the_same():
    data = [os.urandom(70_000) for _ in range(4)]
    row = part(data[0])
    row.zstd = data[1]
    row.save()
    assert bytes(StoredPart.objects.get(pk=row.pk).zstd) == data[1]
    StoredPart.objects.filter(pk=row.pk).update(zstd=data[2])
    assert bytes(StoredPart.objects.get(pk=row.pk).zstd) == data[2]
    more = [
        StoredPart(file=row.file, index=at, size=1, digest="", zstd=one)
        for at, one in enumerate(data, 1)
    ]
    StoredPart.objects.bulk_create(more)
    found = StoredPart.objects.filter(file=row.file, index__gte=1).order_by("index")
    assert [bytes(one.zstd) for one in found] == data
    kept, new = StoredPart.objects.get_or_create(
        file=row.file, index=9, defaults={"size": 1, "digest": "", "zstd": data[3]}
    )
    assert new
    assert bytes(StoredPart.objects.get(pk=kept.pk).zstd) == data[3]


def test_an_expression_stays_one():
    row, other = part(b"\x00one"), part(b"\x01two")
    StoredPart.objects.filter(pk=row.pk).update(zstd=F("zstd"))
    assert bytes(StoredPart.objects.get(pk=row.pk).zstd) == b"\x00one"
    StoredPart.objects.filter(pk=other.pk).update(zstd=Value(b"\x02\xff", output_field=Bytes()))
    assert bytes(StoredPart.objects.get(pk=other.pk).zstd) == b"\x02\xff"


def test_nothing_is_no_empty_piece():
    part_of = StoredFile.objects.create(size=1)
    with pytest.raises(IntegrityError), transaction.atomic():
        StoredPart.objects.create(file=part_of, index=0, size=1, digest="", zstd=None)


def test_it_goes_as_hexadecimal_and_without_an_introducer(django_assert_num_queries):
    with django_assert_num_queries(2) as asked:
        part(b"\xde\xad\x00")
    said = asked.captured_queries[-1]["sql"]
    assert "x'dead00'" in said
    assert "_binary" not in said


def test_every_column_of_bytes_is_written_so():
    for model in (EditionPack, SourceFile, StoredPart, TraceSegment):
        assert any(isinstance(field, Bytes) for field in model._meta.concrete_fields), model
    plain = [
        (model.__name__, field.name)
        for model in connection.introspection.installed_models(
            connection.introspection.table_names()
        )
        if model.__module__.startswith("spindle_server.") and "istorical" not in model.__name__
        for field in model._meta.concrete_fields
        if field.get_internal_type() == "BinaryField" and not isinstance(field, Bytes)
    ]
    assert plain == []


def test_migrations_know_a_plain_column():
    _, path, args, kwargs = StoredPart._meta.get_field("zstd").deconstruct()
    assert (path, args, kwargs) == ("django.db.models.BinaryField", [], {})


def test_samples_that_nothing_packs_smaller_are_kept_all_the_same(record):
    # Numbers of any bits; together more than one statement may have.
    rows = 25 * services.ROWS_PER_SEGMENT + 5
    rng = np.random.default_rng(4)
    time = np.sort(rng.random(rows)) * 3600.0
    any_bits = {name: rng.integers(0, 0x7FE0 << 48, rows).view(np.float64) for name in CHANNELS}
    log = BenchLog({}, time, any_bits)
    run = record()
    run.segments.all().delete()
    services.store_segments(run, log)
    assert run.segments.count() == 26
    stored = sum(len(blob) for blob in run.segments.values_list("parquet", flat=True))
    assert 2 * stored > 64 * 1024 * 1024
    time_s, channels = read_trace(run)
    assert np.array_equal(time_s, time)
    for name, values in log.channels.items():
        assert np.array_equal(channels[name], values), name


def test_a_statement_never_holds_more_than_the_database_takes(record, monkeypatch):
    asked = []
    whole = TraceSegment.objects.bulk_create
    run = record()
    run.segments.all().delete()
    monkeypatch.setattr(services, "BYTES_AT_ONCE", 1_000)
    monkeypatch.setattr(services, "ROWS_PER_SEGMENT", 10)
    monkeypatch.setattr(
        TraceSegment.objects, "bulk_create", lambda rows: asked.append(len(rows)) or whole(rows)
    )
    services.store_segments(run, BenchLog({}, np.arange(95.0), {"thrust_gf": np.ones(95)}))
    assert sum(asked) == run.segments.count() == 10
    assert len(asked) > 3
