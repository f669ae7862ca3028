from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("intake", "0003_obtained_moves_to_parcels")]

    operations = [
        migrations.RemoveField(model_name="historicalsample", name="obtained"),
        migrations.RemoveField(model_name="sample", name="obtained"),
    ]
