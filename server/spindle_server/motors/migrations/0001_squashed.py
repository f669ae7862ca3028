import django.db.models.deletion
import simple_history.models
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    replaces = [
        ("intake", "0001_initial"),
        ("intake", "0002_parcels_and_weighings"),
        ("intake", "0003_obtained_moves_to_parcels"),
        ("intake", "0004_remove_obtained"),
    ]

    initial = True

    dependencies = [migrations.swappable_dependency(settings.AUTH_USER_MODEL)]

    operations = [
        migrations.CreateModel(
            name="Maker",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("name", models.CharField(max_length=60, unique=True)),
            ],
        ),
        migrations.CreateModel(
            name="HistoricalMaker",
            fields=[
                (
                    "id",
                    models.BigIntegerField(
                        auto_created=True, blank=True, db_index=True, verbose_name="ID"
                    ),
                ),
                ("name", models.CharField(db_index=True, max_length=60)),
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
            ],
            options={
                "verbose_name": "historical maker",
                "verbose_name_plural": "historical makers",
                "ordering": ("-history_date", "-history_id"),
                "get_latest_by": ("history_date", "history_id"),
            },
            bases=(simple_history.models.HistoricalChanges, models.Model),
        ),
        migrations.CreateModel(
            name="HistoricalMotorModel",
            fields=[
                (
                    "id",
                    models.BigIntegerField(
                        auto_created=True, blank=True, db_index=True, verbose_name="ID"
                    ),
                ),
                ("version", models.PositiveIntegerField(default=1)),
                ("name", models.CharField(max_length=60)),
                ("kind", models.CharField(default="outrunner", max_length=10)),
                ("size_code", models.CharField(max_length=12)),
                ("size_basis", models.CharField(max_length=10)),
                ("kv_label_rpm_per_v", models.FloatField(blank=True, null=True)),
                ("note", models.TextField(blank=True)),
                ("created_at", models.DateTimeField(blank=True, editable=False)),
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
                    "maker",
                    models.ForeignKey(
                        blank=True,
                        db_constraint=False,
                        null=True,
                        on_delete=django.db.models.deletion.DO_NOTHING,
                        related_name="+",
                        to="motors.maker",
                    ),
                ),
            ],
            options={
                "verbose_name": "historical motor model",
                "verbose_name_plural": "historical motor models",
                "ordering": ("-history_date", "-history_id"),
                "get_latest_by": ("history_date", "history_id"),
            },
            bases=(simple_history.models.HistoricalChanges, models.Model),
        ),
        migrations.CreateModel(
            name="MotorModel",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("version", models.PositiveIntegerField(default=1)),
                ("name", models.CharField(max_length=60)),
                ("kind", models.CharField(default="outrunner", max_length=10)),
                ("size_code", models.CharField(max_length=12)),
                ("size_basis", models.CharField(max_length=10)),
                ("kv_label_rpm_per_v", models.FloatField(blank=True, null=True)),
                ("note", models.TextField(blank=True)),
                ("created_at", models.DateTimeField(auto_now_add=True)),
                (
                    "maker",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="motors",
                        to="motors.maker",
                    ),
                ),
            ],
            options={"ordering": ["maker__name", "name", "size_code", "kv_label_rpm_per_v"]},
        ),
        migrations.CreateModel(
            name="HistoricalParcel",
            fields=[
                (
                    "id",
                    models.BigIntegerField(
                        auto_created=True, blank=True, db_index=True, verbose_name="ID"
                    ),
                ),
                ("version", models.PositiveIntegerField(default=1)),
                ("obtained", models.CharField(default="unknown", max_length=12)),
                ("obtained_from", models.CharField(blank=True, max_length=120)),
                ("arrived_on", models.DateField(blank=True, null=True)),
                ("price_amount", models.FloatField(blank=True, null=True)),
                ("price_currency", models.CharField(blank=True, max_length=3)),
                ("price_per", models.CharField(default="each", max_length=4)),
                ("set_size", models.PositiveSmallIntegerField(blank=True, null=True)),
                ("shipping", models.CharField(default="unknown", max_length=8)),
                ("shipping_amount", models.FloatField(blank=True, null=True)),
                ("price_status", models.CharField(default="known", max_length=8)),
                ("priced_on", models.DateField(blank=True, null=True)),
                ("availability", models.CharField(default="unknown", max_length=8)),
                ("note", models.TextField(blank=True)),
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
                    "motor",
                    models.ForeignKey(
                        blank=True,
                        db_constraint=False,
                        null=True,
                        on_delete=django.db.models.deletion.DO_NOTHING,
                        related_name="+",
                        to="motors.motormodel",
                    ),
                ),
            ],
            options={
                "verbose_name": "historical parcel",
                "verbose_name_plural": "historical parcels",
                "ordering": ("-history_date", "-history_id"),
                "get_latest_by": ("history_date", "history_id"),
            },
            bases=(simple_history.models.HistoricalChanges, models.Model),
        ),
        migrations.CreateModel(
            name="HistoricalClaim",
            fields=[
                (
                    "id",
                    models.BigIntegerField(
                        auto_created=True, blank=True, db_index=True, verbose_name="ID"
                    ),
                ),
                ("version", models.PositiveIntegerField(default=1)),
                ("quantity", models.CharField(max_length=24)),
                ("value", models.FloatField(blank=True, null=True)),
                ("words", models.CharField(blank=True, max_length=80)),
                ("source", models.CharField(max_length=120)),
                ("noted_at", models.DateTimeField(blank=True, editable=False)),
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
                    "motor",
                    models.ForeignKey(
                        blank=True,
                        db_constraint=False,
                        null=True,
                        on_delete=django.db.models.deletion.DO_NOTHING,
                        related_name="+",
                        to="motors.motormodel",
                    ),
                ),
            ],
            options={
                "verbose_name": "historical claim",
                "verbose_name_plural": "historical claims",
                "ordering": ("-history_date", "-history_id"),
                "get_latest_by": ("history_date", "history_id"),
            },
            bases=(simple_history.models.HistoricalChanges, models.Model),
        ),
        migrations.CreateModel(
            name="Expectation",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("quantity", models.CharField(blank=True, max_length=16)),
                ("value", models.FloatField(blank=True, null=True)),
                ("text", models.TextField(blank=True)),
                ("noted_at", models.DateTimeField(auto_now_add=True)),
                (
                    "noted_by",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                (
                    "motor",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="expectations",
                        to="motors.motormodel",
                    ),
                ),
            ],
            options={"ordering": ["noted_at", "pk"]},
        ),
        migrations.CreateModel(
            name="Claim",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("version", models.PositiveIntegerField(default=1)),
                ("quantity", models.CharField(max_length=24)),
                ("value", models.FloatField(blank=True, null=True)),
                ("words", models.CharField(blank=True, max_length=80)),
                ("source", models.CharField(max_length=120)),
                ("noted_at", models.DateTimeField(auto_now=True)),
                (
                    "motor",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="claims",
                        to="motors.motormodel",
                    ),
                ),
            ],
            options={"ordering": ["quantity", "source"]},
        ),
        migrations.CreateModel(
            name="Parcel",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("version", models.PositiveIntegerField(default=1)),
                ("obtained", models.CharField(default="unknown", max_length=12)),
                ("obtained_from", models.CharField(blank=True, max_length=120)),
                ("arrived_on", models.DateField(blank=True, null=True)),
                ("price_amount", models.FloatField(blank=True, null=True)),
                ("price_currency", models.CharField(blank=True, max_length=3)),
                ("price_per", models.CharField(default="each", max_length=4)),
                ("set_size", models.PositiveSmallIntegerField(blank=True, null=True)),
                ("shipping", models.CharField(default="unknown", max_length=8)),
                ("shipping_amount", models.FloatField(blank=True, null=True)),
                ("price_status", models.CharField(default="known", max_length=8)),
                ("priced_on", models.DateField(blank=True, null=True)),
                ("availability", models.CharField(default="unknown", max_length=8)),
                ("note", models.TextField(blank=True)),
                (
                    "motor",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="parcels",
                        to="motors.motormodel",
                    ),
                ),
            ],
            options={"ordering": ["pk"]},
        ),
        migrations.CreateModel(
            name="HistoricalSample",
            fields=[
                (
                    "id",
                    models.BigIntegerField(
                        auto_created=True, blank=True, db_index=True, verbose_name="ID"
                    ),
                ),
                ("version", models.PositiveIntegerField(default=1)),
                ("mark", models.CharField(max_length=12)),
                ("turning", models.CharField(default="unknown", max_length=8)),
                ("note", models.TextField(blank=True)),
                ("created_at", models.DateTimeField(blank=True, editable=False)),
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
                    "motor",
                    models.ForeignKey(
                        blank=True,
                        db_constraint=False,
                        null=True,
                        on_delete=django.db.models.deletion.DO_NOTHING,
                        related_name="+",
                        to="motors.motormodel",
                    ),
                ),
                (
                    "parcel",
                    models.ForeignKey(
                        blank=True,
                        db_constraint=False,
                        null=True,
                        on_delete=django.db.models.deletion.DO_NOTHING,
                        related_name="+",
                        to="motors.parcel",
                    ),
                ),
            ],
            options={
                "verbose_name": "historical sample",
                "verbose_name_plural": "historical samples",
                "ordering": ("-history_date", "-history_id"),
                "get_latest_by": ("history_date", "history_id"),
            },
            bases=(simple_history.models.HistoricalChanges, models.Model),
        ),
        migrations.CreateModel(
            name="HistoricalPartInBox",
            fields=[
                (
                    "id",
                    models.BigIntegerField(
                        auto_created=True, blank=True, db_index=True, verbose_name="ID"
                    ),
                ),
                ("kind", models.CharField(max_length=16)),
                ("count", models.PositiveSmallIntegerField()),
                ("thread_mm", models.FloatField(blank=True, null=True)),
                ("length_mm", models.FloatField(blank=True, null=True)),
                ("inner_mm", models.FloatField(blank=True, null=True)),
                ("outer_mm", models.FloatField(blank=True, null=True)),
                ("height_mm", models.FloatField(blank=True, null=True)),
                ("note", models.CharField(blank=True, max_length=120)),
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
                    "parcel",
                    models.ForeignKey(
                        blank=True,
                        db_constraint=False,
                        null=True,
                        on_delete=django.db.models.deletion.DO_NOTHING,
                        related_name="+",
                        to="motors.parcel",
                    ),
                ),
            ],
            options={
                "verbose_name": "historical part in box",
                "verbose_name_plural": "historical part in boxs",
                "ordering": ("-history_date", "-history_id"),
                "get_latest_by": ("history_date", "history_id"),
            },
            bases=(simple_history.models.HistoricalChanges, models.Model),
        ),
        migrations.CreateModel(
            name="PartInBox",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("kind", models.CharField(max_length=16)),
                ("count", models.PositiveSmallIntegerField()),
                ("thread_mm", models.FloatField(blank=True, null=True)),
                ("length_mm", models.FloatField(blank=True, null=True)),
                ("inner_mm", models.FloatField(blank=True, null=True)),
                ("outer_mm", models.FloatField(blank=True, null=True)),
                ("height_mm", models.FloatField(blank=True, null=True)),
                ("note", models.CharField(blank=True, max_length=120)),
                (
                    "parcel",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="parts",
                        to="motors.parcel",
                    ),
                ),
            ],
            options={"ordering": ["pk"]},
        ),
        migrations.CreateModel(
            name="Sample",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("version", models.PositiveIntegerField(default=1)),
                ("mark", models.CharField(max_length=12)),
                ("turning", models.CharField(default="unknown", max_length=8)),
                ("note", models.TextField(blank=True)),
                ("created_at", models.DateTimeField(auto_now_add=True)),
                (
                    "motor",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="samples",
                        to="motors.motormodel",
                    ),
                ),
                (
                    "parcel",
                    models.ForeignKey(
                        blank=True,
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="samples",
                        to="motors.parcel",
                    ),
                ),
            ],
            options={"ordering": ["mark"]},
        ),
        migrations.CreateModel(
            name="Preparation",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("struck_reason", models.CharField(blank=True, max_length=200)),
                ("note", models.TextField(blank=True)),
                ("kind", models.CharField(max_length=16)),
                ("done_on", models.DateField()),
                ("lead_length_mm", models.FloatField(blank=True, null=True)),
                (
                    "noted_by",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                (
                    "sample",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="preparations",
                        to="motors.sample",
                    ),
                ),
            ],
            options={"ordering": ["done_on", "pk"]},
        ),
        migrations.CreateModel(
            name="Incident",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("struck_reason", models.CharField(blank=True, max_length=200)),
                ("note", models.TextField(blank=True)),
                ("kind", models.CharField(max_length=16)),
                ("happened_on", models.DateField()),
                ("destroyed", models.BooleanField(default=False)),
                (
                    "noted_by",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                (
                    "sample",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="incidents",
                        to="motors.sample",
                    ),
                ),
            ],
            options={"ordering": ["happened_on", "pk"]},
        ),
        migrations.CreateModel(
            name="HistoricalWeighing",
            fields=[
                (
                    "id",
                    models.BigIntegerField(
                        auto_created=True, blank=True, db_index=True, verbose_name="ID"
                    ),
                ),
                ("struck_reason", models.CharField(blank=True, max_length=200)),
                ("note", models.TextField(blank=True)),
                ("mass_g", models.FloatField()),
                ("resolution_g", models.FloatField()),
                ("lead_length_mm", models.FloatField(blank=True, null=True)),
                ("nut_on", models.BooleanField(default=False)),
                ("connectors_on", models.BooleanField(default=False)),
                ("instrument", models.CharField(blank=True, max_length=60)),
                ("weighed_on", models.DateField()),
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
                    "noted_by",
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
                "verbose_name": "historical weighing",
                "verbose_name_plural": "historical weighings",
                "ordering": ("-history_date", "-history_id"),
                "get_latest_by": ("history_date", "history_id"),
            },
            bases=(simple_history.models.HistoricalChanges, models.Model),
        ),
        migrations.CreateModel(
            name="HistoricalPreparation",
            fields=[
                (
                    "id",
                    models.BigIntegerField(
                        auto_created=True, blank=True, db_index=True, verbose_name="ID"
                    ),
                ),
                ("struck_reason", models.CharField(blank=True, max_length=200)),
                ("note", models.TextField(blank=True)),
                ("kind", models.CharField(max_length=16)),
                ("done_on", models.DateField()),
                ("lead_length_mm", models.FloatField(blank=True, null=True)),
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
                    "noted_by",
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
                "verbose_name": "historical preparation",
                "verbose_name_plural": "historical preparations",
                "ordering": ("-history_date", "-history_id"),
                "get_latest_by": ("history_date", "history_id"),
            },
            bases=(simple_history.models.HistoricalChanges, models.Model),
        ),
        migrations.CreateModel(
            name="HistoricalIncident",
            fields=[
                (
                    "id",
                    models.BigIntegerField(
                        auto_created=True, blank=True, db_index=True, verbose_name="ID"
                    ),
                ),
                ("struck_reason", models.CharField(blank=True, max_length=200)),
                ("note", models.TextField(blank=True)),
                ("kind", models.CharField(max_length=16)),
                ("happened_on", models.DateField()),
                ("destroyed", models.BooleanField(default=False)),
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
                    "noted_by",
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
                "verbose_name": "historical incident",
                "verbose_name_plural": "historical incidents",
                "ordering": ("-history_date", "-history_id"),
                "get_latest_by": ("history_date", "history_id"),
            },
            bases=(simple_history.models.HistoricalChanges, models.Model),
        ),
        migrations.CreateModel(
            name="Weighing",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("struck_reason", models.CharField(blank=True, max_length=200)),
                ("note", models.TextField(blank=True)),
                ("mass_g", models.FloatField()),
                ("resolution_g", models.FloatField()),
                ("lead_length_mm", models.FloatField(blank=True, null=True)),
                ("nut_on", models.BooleanField(default=False)),
                ("connectors_on", models.BooleanField(default=False)),
                ("instrument", models.CharField(blank=True, max_length=60)),
                ("weighed_on", models.DateField()),
                (
                    "noted_by",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                (
                    "sample",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="weighings",
                        to="motors.sample",
                    ),
                ),
            ],
            options={"ordering": ["weighed_on", "pk"]},
        ),
        migrations.AddConstraint(
            model_name="motormodel",
            constraint=models.UniqueConstraint(
                fields=("maker", "name", "size_code", "kv_label_rpm_per_v"),
                name="motor_model_is_unique",
            ),
        ),
        migrations.AddConstraint(
            model_name="motormodel",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("kv_label_rpm_per_v__isnull", True),
                    models.Q(("kv_label_rpm_per_v__gt", 0), ("kv_label_rpm_per_v__lt", 100000)),
                    _connector="OR",
                ),
                name="motor_kv_label_is_possible",
            ),
        ),
        migrations.AddConstraint(
            model_name="motormodel",
            constraint=models.CheckConstraint(
                condition=models.Q(("size_basis__in", ["stator", "outer_can", "case"])),
                name="motor_size_basis_is_known",
            ),
        ),
        migrations.AddConstraint(
            model_name="motormodel",
            constraint=models.CheckConstraint(
                condition=models.Q(("kind__in", ["outrunner", "brushed"])),
                name="motor_kind_is_known",
            ),
        ),
        migrations.AddConstraint(
            model_name="expectation",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    models.Q(
                        ("quantity", ""),
                        ("value__isnull", True),
                        models.Q(("text", ""), _negated=True),
                    ),
                    models.Q(
                        models.Q(("quantity", ""), _negated=True),
                        ("value__gt", 0),
                        ("value__isnull", False),
                    ),
                    _connector="OR",
                ),
                name="expectation_says_something",
            ),
        ),
        migrations.AddConstraint(
            model_name="claim",
            constraint=models.UniqueConstraint(
                fields=("motor", "quantity", "source"), name="claim_is_unique_per_source"
            ),
        ),
        migrations.AddConstraint(
            model_name="claim",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    models.Q(("value__gt", 0), ("value__isnull", False), ("words", "")),
                    models.Q(("value__isnull", True), models.Q(("words", ""), _negated=True)),
                    _connector="OR",
                ),
                name="claim_is_a_number_or_words",
            ),
        ),
        migrations.AddConstraint(
            model_name="claim",
            constraint=models.CheckConstraint(
                condition=models.Q(("source", ""), _negated=True), name="claim_has_a_source"
            ),
        ),
        migrations.AddConstraint(
            model_name="parcel",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("price_amount__isnull", True),
                    models.Q(
                        ("price_amount__gte", 0), models.Q(("price_currency", ""), _negated=True)
                    ),
                    _connector="OR",
                ),
                name="price_has_a_currency",
            ),
        ),
        migrations.AddConstraint(
            model_name="parcel",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    models.Q(("price_per", "each"), ("set_size__isnull", True)),
                    models.Q(
                        ("price_per", "set"), ("set_size__gte", 2), ("set_size__isnull", False)
                    ),
                    _connector="OR",
                ),
                name="set_has_a_size",
            ),
        ),
        migrations.AddConstraint(
            model_name="parcel",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("shipping", "extra"), ("shipping_amount__isnull", True), _connector="OR"
                ),
                name="only_extra_shipping_has_an_amount",
            ),
        ),
        migrations.AddConstraint(
            model_name="partinbox",
            constraint=models.CheckConstraint(
                condition=models.Q(("count__gte", 1), ("count__lte", 200)), name="part_is_counted"
            ),
        ),
        migrations.AddConstraint(
            model_name="partinbox",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("inner_mm__isnull", True),
                    ("outer_mm__isnull", True),
                    ("inner_mm__lt", models.F("outer_mm")),
                    _connector="OR",
                ),
                name="part_is_not_inside_out",
            ),
        ),
        migrations.AddConstraint(
            model_name="sample",
            constraint=models.UniqueConstraint(
                fields=("motor", "mark"), name="sample_mark_is_unique"
            ),
        ),
        migrations.AddConstraint(
            model_name="preparation",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("lead_length_mm__isnull", True),
                    models.Q(("lead_length_mm__gte", 0), ("lead_length_mm__lte", 600)),
                    _connector="OR",
                ),
                name="prepared_leads_are_possible",
            ),
        ),
        migrations.AddConstraint(
            model_name="preparation",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    models.Q(("kind", "leads_cut"), _negated=True),
                    ("lead_length_mm__isnull", False),
                    _connector="OR",
                ),
                name="cut_leads_have_a_length",
            ),
        ),
        migrations.AddConstraint(
            model_name="weighing",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("mass_g__gte", 0.5),
                    ("mass_g__lte", 2000),
                    ("resolution_g__gt", 0),
                    ("resolution_g__lte", 10),
                ),
                name="weighing_is_possible",
            ),
        ),
        migrations.AddConstraint(
            model_name="weighing",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("lead_length_mm__isnull", True),
                    models.Q(("lead_length_mm__gte", 0), ("lead_length_mm__lte", 600)),
                    _connector="OR",
                ),
                name="weighed_leads_are_possible",
            ),
        ),
    ]
