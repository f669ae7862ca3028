import django.db.models.deletion
import simple_history.models
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    replaces = [("rig", "0001_initial"), ("rig", "0002_hubs_and_declaration")]

    initial = True

    dependencies = [
        ("motors", "0001_squashed"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name="Declaration",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("only", models.PositiveSmallIntegerField(default=1, editable=False, unique=True)),
                ("lead_length_mm", models.FloatField(default=60.0)),
                ("arm_thickness_mm", models.FloatField(default=4.0)),
                ("nearest_part_mm", models.FloatField(blank=True, null=True)),
            ],
            options={
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(
                            ("arm_thickness_mm__gt", 0),
                            ("arm_thickness_mm__lte", 30),
                            ("lead_length_mm__gte", 0),
                            ("lead_length_mm__lte", 600),
                        ),
                        name="declaration_is_possible",
                    ),
                    models.CheckConstraint(condition=models.Q(("only", 1)), name="one_declaration"),
                ]
            },
        ),
        migrations.CreateModel(
            name="HistoricalDeclaration",
            fields=[
                (
                    "id",
                    models.BigIntegerField(
                        auto_created=True, blank=True, db_index=True, verbose_name="ID"
                    ),
                ),
                (
                    "only",
                    models.PositiveSmallIntegerField(db_index=True, default=1, editable=False),
                ),
                ("lead_length_mm", models.FloatField(default=60.0)),
                ("arm_thickness_mm", models.FloatField(default=4.0)),
                ("nearest_part_mm", models.FloatField(blank=True, null=True)),
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
                "verbose_name": "historical declaration",
                "verbose_name_plural": "historical declarations",
                "ordering": ("-history_date", "-history_id"),
                "get_latest_by": ("history_date", "history_id"),
            },
            bases=(simple_history.models.HistoricalChanges, models.Model),
        ),
        migrations.CreateModel(
            name="HistoricalPropeller",
            fields=[
                (
                    "id",
                    models.BigIntegerField(
                        auto_created=True, blank=True, db_index=True, verbose_name="ID"
                    ),
                ),
                ("diameter_in", models.FloatField()),
                ("pitch_in", models.FloatField()),
                ("blades", models.PositiveSmallIntegerField()),
                ("bore_mm", models.FloatField(blank=True, null=True)),
                ("hub_thickness_mm", models.FloatField(blank=True, null=True)),
                ("hole_circle_mm", models.FloatField(blank=True, null=True)),
                ("hole_mm", models.FloatField(blank=True, null=True)),
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
                "verbose_name": "historical propeller",
                "verbose_name_plural": "historical propellers",
                "ordering": ("-history_date", "-history_id"),
                "get_latest_by": ("history_date", "history_id"),
            },
            bases=(simple_history.models.HistoricalChanges, models.Model),
        ),
        migrations.CreateModel(
            name="HistoricalStand",
            fields=[
                (
                    "id",
                    models.BigIntegerField(
                        auto_created=True, blank=True, db_index=True, verbose_name="ID"
                    ),
                ),
                ("name", models.CharField(db_index=True, max_length=60)),
                ("kind", models.CharField(max_length=8)),
                ("repeatability_rel", models.FloatField()),
                ("calibration_rel", models.FloatField()),
                ("live", models.BooleanField(default=False)),
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
            ],
            options={
                "verbose_name": "historical stand",
                "verbose_name_plural": "historical stands",
                "ordering": ("-history_date", "-history_id"),
                "get_latest_by": ("history_date", "history_id"),
            },
            bases=(simple_history.models.HistoricalChanges, models.Model),
        ),
        migrations.CreateModel(
            name="HistoricalSupply",
            fields=[
                (
                    "id",
                    models.BigIntegerField(
                        auto_created=True, blank=True, db_index=True, verbose_name="ID"
                    ),
                ),
                ("name", models.CharField(db_index=True, max_length=60)),
                ("kind", models.CharField(max_length=4)),
                ("nominal_voltage_v", models.FloatField()),
                ("open_circuit_v", models.FloatField()),
                ("resistance_ohm", models.FloatField()),
                ("trip_a", models.FloatField(blank=True, null=True)),
                ("cells", models.PositiveSmallIntegerField(blank=True, null=True)),
                ("capacity_mah", models.FloatField(blank=True, null=True)),
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
                "verbose_name": "historical supply",
                "verbose_name_plural": "historical supplys",
                "ordering": ("-history_date", "-history_id"),
                "get_latest_by": ("history_date", "history_id"),
            },
            bases=(simple_history.models.HistoricalChanges, models.Model),
        ),
        migrations.CreateModel(
            name="Stand",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("name", models.CharField(max_length=60, unique=True)),
                ("kind", models.CharField(max_length=8)),
                ("repeatability_rel", models.FloatField()),
                ("calibration_rel", models.FloatField()),
                ("live", models.BooleanField(default=False)),
                ("note", models.TextField(blank=True)),
            ],
            options={
                "ordering": ["name"],
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(
                            ("calibration_rel__gte", 0),
                            ("calibration_rel__lt", 0.5),
                            ("repeatability_rel__gt", 0),
                            ("repeatability_rel__lt", 0.5),
                        ),
                        name="stand_uncertainty_is_possible",
                    )
                ],
            },
        ),
        migrations.CreateModel(
            name="Supply",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("name", models.CharField(max_length=60, unique=True)),
                ("kind", models.CharField(max_length=4)),
                ("nominal_voltage_v", models.FloatField()),
                ("open_circuit_v", models.FloatField()),
                ("resistance_ohm", models.FloatField()),
                ("trip_a", models.FloatField(blank=True, null=True)),
                ("cells", models.PositiveSmallIntegerField(blank=True, null=True)),
                ("capacity_mah", models.FloatField(blank=True, null=True)),
            ],
            options={
                "ordering": ["kind", "name"],
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(
                            ("nominal_voltage_v__gt", 0),
                            ("nominal_voltage_v__lte", 120),
                            ("resistance_ohm__gt", 0),
                        ),
                        name="supply_is_possible",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            models.Q(
                                ("capacity_mah__isnull", True),
                                ("cells__isnull", True),
                                ("kind", "psu"),
                            ),
                            models.Q(
                                ("capacity_mah__isnull", False),
                                ("cells__isnull", False),
                                ("kind", "pack"),
                            ),
                            _connector="OR",
                        ),
                        name="supply_fits_its_kind",
                    ),
                ],
            },
        ),
        migrations.CreateModel(
            name="Propeller",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("diameter_in", models.FloatField()),
                ("pitch_in", models.FloatField()),
                ("blades", models.PositiveSmallIntegerField()),
                ("bore_mm", models.FloatField(blank=True, null=True)),
                ("hub_thickness_mm", models.FloatField(blank=True, null=True)),
                ("hole_circle_mm", models.FloatField(blank=True, null=True)),
                ("hole_mm", models.FloatField(blank=True, null=True)),
                (
                    "maker",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="propellers",
                        to="motors.maker",
                    ),
                ),
            ],
            options={
                "ordering": ["diameter_in", "pitch_in", "blades", "maker__name"],
                "constraints": [
                    models.UniqueConstraint(
                        fields=("maker", "diameter_in", "pitch_in", "blades"),
                        name="propeller_is_unique",
                    ),
                    models.CheckConstraint(
                        condition=models.Q(
                            ("blades__gte", 1),
                            ("blades__lte", 12),
                            ("diameter_in__gt", 0),
                            ("diameter_in__lt", 60),
                            ("pitch_in__gt", 0),
                        ),
                        name="propeller_is_possible",
                    ),
                ],
            },
        ),
    ]
