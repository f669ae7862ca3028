from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("runs", "0001_squashed")]

    operations = [
        migrations.AddField(
            model_name="historicalrun",
            name="arming",
            field=models.CharField(blank=True, editable=False, max_length=40),
        ),
        migrations.AddField(
            model_name="historicalrun",
            name="page_grace_s",
            field=models.FloatField(blank=True, null=True),
        ),
        migrations.AddField(
            model_name="run",
            name="arming",
            field=models.CharField(blank=True, editable=False, max_length=40),
        ),
        migrations.AddField(
            model_name="run", name="limits_off", field=models.JSONField(default=dict)
        ),
        migrations.AddField(
            model_name="run", name="page_grace_s", field=models.FloatField(blank=True, null=True)
        ),
        migrations.AddField(
            model_name="runend", name="by", field=models.CharField(blank=True, max_length=80)
        ),
    ]
