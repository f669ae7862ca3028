from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("motors", "0003_versions_and_history"),
        ("rig", "0002_versions_and_history"),
        ("runs", "0005_summary_figures"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.AddIndex(
            model_name="run",
            index=models.Index(
                fields=["sample", "propeller", "supply", "review"], name="run_repeats"
            ),
        )
    ]
