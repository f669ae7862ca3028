from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("photos", "0001_initial")]

    operations = [
        migrations.AddField(
            model_name="historicalphoto",
            name="version",
            field=models.PositiveIntegerField(default=1),
        ),
        migrations.AddField(
            model_name="photo", name="version", field=models.PositiveIntegerField(default=1)
        ),
    ]
