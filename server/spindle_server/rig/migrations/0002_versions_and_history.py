from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("rig", "0001_squashed")]

    operations = [
        migrations.AddField(
            model_name="declaration", name="version", field=models.PositiveIntegerField(default=1)
        ),
        migrations.AddField(
            model_name="historicaldeclaration",
            name="version",
            field=models.PositiveIntegerField(default=1),
        ),
        migrations.AddField(
            model_name="historicalpropeller",
            name="version",
            field=models.PositiveIntegerField(default=1),
        ),
        migrations.AddField(
            model_name="historicalstand",
            name="version",
            field=models.PositiveIntegerField(default=1),
        ),
        migrations.AddField(
            model_name="historicalsupply",
            name="version",
            field=models.PositiveIntegerField(default=1),
        ),
        migrations.AddField(
            model_name="propeller", name="version", field=models.PositiveIntegerField(default=1)
        ),
        migrations.AddField(
            model_name="stand", name="version", field=models.PositiveIntegerField(default=1)
        ),
        migrations.AddField(
            model_name="supply", name="version", field=models.PositiveIntegerField(default=1)
        ),
    ]
