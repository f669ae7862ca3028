import django.db.models.deletion
import simple_history.models
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    replaces = [
        ("teardown", "0001_initial"),
        ("teardown", "0002_vocabulary_2"),
        ("teardown", "0003_references"),
    ]

    initial = True

    dependencies = [
        ("motors", "0001_squashed"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name="HistoricalObservation",
            fields=[
                (
                    "id",
                    models.BigIntegerField(
                        auto_created=True, blank=True, db_index=True, verbose_name="ID"
                    ),
                ),
                ("version", models.PositiveIntegerField(default=1)),
                ("attribute", models.CharField(max_length=32)),
                ("vocabulary_version", models.PositiveSmallIntegerField()),
                ("status", models.CharField(max_length=16)),
                ("choice", models.CharField(blank=True, max_length=24)),
                ("value", models.FloatField(blank=True, null=True)),
                ("u", models.FloatField(blank=True, null=True)),
                ("ordinal", models.CharField(blank=True, max_length=4)),
                ("instrument", models.CharField(blank=True, max_length=60)),
                ("note", models.TextField(blank=True)),
                ("observed_at", models.DateTimeField(blank=True, editable=False)),
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
                    "observed_by",
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
                    "reference",
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
            ],
            options={
                "verbose_name": "historical observation",
                "verbose_name_plural": "historical observations",
                "ordering": ("-history_date", "-history_id"),
                "get_latest_by": ("history_date", "history_id"),
            },
            bases=(simple_history.models.HistoricalChanges, models.Model),
        ),
        migrations.CreateModel(
            name="Observation",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("version", models.PositiveIntegerField(default=1)),
                ("attribute", models.CharField(max_length=32)),
                ("vocabulary_version", models.PositiveSmallIntegerField()),
                ("status", models.CharField(max_length=16)),
                ("choice", models.CharField(blank=True, max_length=24)),
                ("value", models.FloatField(blank=True, null=True)),
                ("u", models.FloatField(blank=True, null=True)),
                ("ordinal", models.CharField(blank=True, max_length=4)),
                ("instrument", models.CharField(blank=True, max_length=60)),
                ("note", models.TextField(blank=True)),
                ("observed_at", models.DateTimeField(auto_now=True)),
                (
                    "observed_by",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                (
                    "reference",
                    models.ForeignKey(
                        blank=True,
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to="motors.sample",
                    ),
                ),
                (
                    "sample",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="observations",
                        to="motors.sample",
                    ),
                ),
            ],
            options={
                "ordering": ["pk"],
                "indexes": [
                    models.Index(fields=["attribute", "choice"], name="observation_answer")
                ],
                "constraints": [
                    models.UniqueConstraint(
                        fields=("sample", "attribute"), name="one_observation_per_attribute"
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            models.Q(
                                ("choice", ""),
                                ("status__in", ["measured", "observed"]),
                                ("value__isnull", False),
                            ),
                            models.Q(
                                ("status", "observed"),
                                ("value__isnull", True),
                                models.Q(("choice", ""), _negated=True),
                            ),
                            models.Q(
                                ("choice", ""),
                                ("status__in", ["same_as", "inferred"]),
                                ("value__isnull", False),
                            ),
                            models.Q(
                                ("status__in", ["same_as", "inferred"]),
                                ("value__isnull", True),
                                models.Q(("choice", ""), _negated=True),
                            ),
                            models.Q(
                                ("choice", ""),
                                ("status", "ordinal"),
                                ("value__isnull", True),
                                models.Q(("ordinal", ""), _negated=True),
                            ),
                            models.Q(
                                ("choice", ""),
                                ("status__in", ["could_not_tell", "not_looked"]),
                                ("value__isnull", True),
                            ),
                            _connector="OR",
                        ),
                        name="observation_answer_fits_its_status",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            models.Q(
                                ("reference__isnull", False),
                                ("status__in", ["same_as", "inferred", "ordinal"]),
                            ),
                            models.Q(
                                ("reference__isnull", True),
                                models.Q(
                                    ("status__in", ["same_as", "inferred", "ordinal"]),
                                    _negated=True,
                                ),
                            ),
                            _connector="OR",
                        ),
                        name="observation_names_its_reference",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(("ordinal", ""), ("status", "ordinal"), _connector="OR"),
                        name="only_ordinal_answers_are_ordinal",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(("u__isnull", True), ("u__gte", 0), _connector="OR"),
                        name="observation_u_is_not_negative",
                    ),
                ],
            },
        ),
    ]
