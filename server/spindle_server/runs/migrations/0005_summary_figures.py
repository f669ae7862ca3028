import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("runs", "0004_versions_and_history")]

    operations = [
        migrations.AddField(
            model_name="reduction",
            name="warning_count",
            field=models.PositiveSmallIntegerField(default=0),
        ),
        migrations.CreateModel(
            name="SummaryFigure",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("name", models.CharField(max_length=48)),
                ("value", models.FloatField(null=True)),
                ("u", models.FloatField(null=True)),
                ("n", models.PositiveIntegerField(null=True)),
                ("origin", models.CharField(blank=True, max_length=10)),
                ("assumed", models.BooleanField(default=False)),
                ("samples", models.PositiveIntegerField(null=True)),
                ("components", models.JSONField(default=dict)),
                ("absent_reason", models.CharField(blank=True, max_length=40)),
                ("absent_note", models.CharField(blank=True, max_length=200)),
                (
                    "run",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="figures",
                        to="runs.run",
                    ),
                ),
            ],
            options={
                "ordering": ["pk"],
                "indexes": [
                    models.Index(fields=["name", "value"], name="figure_by_name_and_value")
                ],
                "constraints": [
                    models.UniqueConstraint(fields=("run", "name"), name="figure_once_per_run"),
                    models.CheckConstraint(
                        condition=models.Q(
                            models.Q(("absent_reason", ""), ("value__isnull", False)),
                            models.Q(
                                ("value__isnull", True),
                                models.Q(("absent_reason", ""), _negated=True),
                            ),
                            _connector="OR",
                        ),
                        name="figure_is_there_or_says_why_not",
                    ),
                ],
            },
        ),
    ]
