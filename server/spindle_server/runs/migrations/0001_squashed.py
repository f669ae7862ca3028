import uuid

import django.db.models.deletion
import simple_history.models
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    replaces = [("runs", "0001_initial"), ("runs", "0002_without_propeller")]

    initial = True

    dependencies = [
        ("motors", "0001_squashed"),
        ("rig", "0001_squashed"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name="HistoricalRun",
            fields=[
                (
                    "id",
                    models.BigIntegerField(
                        auto_created=True, blank=True, db_index=True, verbose_name="ID"
                    ),
                ),
                ("uid", models.UUIDField(db_index=True, default=uuid.uuid4, editable=False)),
                ("kind", models.CharField(default="steps", max_length=12)),
                ("origin", models.CharField(max_length=8)),
                ("nominal_voltage_v", models.FloatField(blank=True, null=True)),
                ("air_temp_c", models.FloatField(blank=True, null=True)),
                ("air_pressure_hpa", models.FloatField(blank=True, null=True)),
                ("air_humidity_pct", models.FloatField(blank=True, null=True)),
                ("rate_hz", models.FloatField(blank=True, null=True)),
                ("purpose", models.CharField(blank=True, max_length=120)),
                ("note", models.TextField(blank=True)),
                ("started_at", models.DateTimeField()),
                ("review", models.CharField(blank=True, max_length=8)),
                ("review_reason", models.CharField(blank=True, max_length=200)),
                ("history_id", models.AutoField(primary_key=True, serialize=False)),
                ("history_date", models.DateTimeField(db_index=True)),
                ("history_change_reason", models.CharField(max_length=100, null=True)),
                (
                    "history_type",
                    models.CharField(
                        choices=[("+", "Created"), ("~", "Changed"), ("-", "Deleted")], max_length=1
                    ),
                ),
                (
                    "history_user",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.SET_NULL,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                (
                    "operator",
                    models.ForeignKey(
                        blank=True,
                        db_constraint=False,
                        null=True,
                        on_delete=django.db.models.deletion.DO_NOTHING,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                (
                    "propeller",
                    models.ForeignKey(
                        blank=True,
                        db_constraint=False,
                        null=True,
                        on_delete=django.db.models.deletion.DO_NOTHING,
                        related_name="+",
                        to="rig.propeller",
                    ),
                ),
                (
                    "sample",
                    models.ForeignKey(
                        blank=True,
                        db_constraint=False,
                        null=True,
                        on_delete=django.db.models.deletion.DO_NOTHING,
                        related_name="+",
                        to="motors.sample",
                    ),
                ),
                (
                    "stand",
                    models.ForeignKey(
                        blank=True,
                        db_constraint=False,
                        null=True,
                        on_delete=django.db.models.deletion.DO_NOTHING,
                        related_name="+",
                        to="rig.stand",
                    ),
                ),
                (
                    "supply",
                    models.ForeignKey(
                        blank=True,
                        db_constraint=False,
                        null=True,
                        on_delete=django.db.models.deletion.DO_NOTHING,
                        related_name="+",
                        to="rig.supply",
                    ),
                ),
            ],
            options={
                "verbose_name": "historical run",
                "verbose_name_plural": "historical runs",
                "ordering": ("-history_date", "-history_id"),
                "get_latest_by": ("history_date", "history_id"),
            },
            bases=(simple_history.models.HistoricalChanges, models.Model),
        ),
        migrations.CreateModel(
            name="Run",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("uid", models.UUIDField(default=uuid.uuid4, editable=False, unique=True)),
                ("kind", models.CharField(default="steps", max_length=12)),
                ("origin", models.CharField(max_length=8)),
                ("nominal_voltage_v", models.FloatField(blank=True, null=True)),
                ("air_temp_c", models.FloatField(blank=True, null=True)),
                ("air_pressure_hpa", models.FloatField(blank=True, null=True)),
                ("air_humidity_pct", models.FloatField(blank=True, null=True)),
                ("rate_hz", models.FloatField(blank=True, null=True)),
                ("channels", models.JSONField(default=list)),
                ("profile", models.JSONField(blank=True, null=True)),
                ("limits", models.JSONField(blank=True, null=True)),
                ("header", models.JSONField(default=dict)),
                ("purpose", models.CharField(blank=True, max_length=120)),
                ("note", models.TextField(blank=True)),
                ("started_at", models.DateTimeField()),
                ("review", models.CharField(blank=True, max_length=8)),
                ("review_reason", models.CharField(blank=True, max_length=200)),
                (
                    "operator",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                (
                    "propeller",
                    models.ForeignKey(
                        blank=True,
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="runs",
                        to="rig.propeller",
                    ),
                ),
                (
                    "sample",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="runs",
                        to="motors.sample",
                    ),
                ),
                (
                    "stand",
                    models.ForeignKey(
                        blank=True,
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="runs",
                        to="rig.stand",
                    ),
                ),
                (
                    "supply",
                    models.ForeignKey(
                        blank=True,
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="runs",
                        to="rig.supply",
                    ),
                ),
            ],
            options={"ordering": ["-started_at", "-pk"]},
        ),
        migrations.CreateModel(
            name="Reduction",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("core_version", models.CharField(max_length=20)),
                ("inputs_hash", models.CharField(max_length=64)),
                ("result", models.JSONField(null=True)),
                ("error", models.CharField(blank=True, max_length=300)),
                ("made_at", models.DateTimeField(auto_now=True)),
                (
                    "run",
                    models.OneToOneField(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="reduction",
                        to="runs.run",
                    ),
                ),
            ],
        ),
        migrations.CreateModel(
            name="RunEnd",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("outcome", models.CharField(max_length=12)),
                ("code", models.CharField(max_length=40)),
                ("reason", models.CharField(max_length=300)),
                ("at", models.DateTimeField(auto_now_add=True)),
                (
                    "run",
                    models.OneToOneField(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="end",
                        to="runs.run",
                    ),
                ),
            ],
        ),
        migrations.CreateModel(
            name="SourceFile",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("name", models.CharField(max_length=200)),
                ("digest", models.CharField(max_length=64, unique=True)),
                ("gzip", models.BinaryField()),
                (
                    "run",
                    models.OneToOneField(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="source_file",
                        to="runs.run",
                    ),
                ),
            ],
        ),
        migrations.CreateModel(
            name="TraceSegment",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("index", models.PositiveIntegerField()),
                ("first_row", models.PositiveIntegerField()),
                ("row_count", models.PositiveIntegerField()),
                ("begin_s", models.FloatField()),
                ("end_s", models.FloatField()),
                ("digest", models.CharField(max_length=64)),
                ("parquet", models.BinaryField()),
                (
                    "run",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="segments",
                        to="runs.run",
                    ),
                ),
            ],
            options={"ordering": ["index"]},
        ),
        migrations.AddIndex(
            model_name="run", index=models.Index(fields=["-started_at"], name="run_started")
        ),
        migrations.AddConstraint(
            model_name="run",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("propeller__isnull", False),
                    ("kind__in", ["no_load", "flywheel"]),
                    _connector="OR",
                ),
                name="run_has_the_propeller_its_kind_needs",
            ),
        ),
        migrations.AddConstraint(
            model_name="run",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    models.Q(("review", "rejected"), _negated=True),
                    models.Q(("review_reason", ""), _negated=True),
                    _connector="OR",
                ),
                name="rejected_run_has_a_reason",
            ),
        ),
        migrations.AddConstraint(
            model_name="run",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("air_pressure_hpa__isnull", True),
                    models.Q(("air_pressure_hpa__gte", 500), ("air_pressure_hpa__lte", 1100)),
                    _connector="OR",
                ),
                name="run_air_pressure_is_possible",
            ),
        ),
        migrations.AddConstraint(
            model_name="reduction",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("result__isnull", False),
                    models.Q(("error", ""), _negated=True),
                    _connector="OR",
                ),
                name="reduction_has_result_or_error",
            ),
        ),
        migrations.AddConstraint(
            model_name="tracesegment",
            constraint=models.UniqueConstraint(fields=("run", "index"), name="segment_is_unique"),
        ),
        migrations.AddConstraint(
            model_name="tracesegment",
            constraint=models.CheckConstraint(
                condition=models.Q(("row_count__gte", 1), ("row_count__lte", 65536)),
                name="segment_has_rows",
            ),
        ),
        migrations.AddConstraint(
            model_name="tracesegment",
            constraint=models.CheckConstraint(
                condition=models.Q(("end_s__gte", models.F("begin_s"))),
                name="segment_time_runs_forward",
            ),
        ),
    ]
