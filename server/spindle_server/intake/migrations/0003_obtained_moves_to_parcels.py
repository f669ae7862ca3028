"""How a motor was obtained belongs to the parcel: one parcel per motor and way of obtaining."""

from django.db import migrations


def make_parcels(apps, schema_editor):
    parcel_model = apps.get_model("intake", "Parcel")
    sample_model = apps.get_model("intake", "Sample")
    parcels = {}
    for sample in sample_model.objects.order_by("pk"):
        key = (sample.motor_id, sample.obtained)
        if key not in parcels:
            parcels[key] = parcel_model.objects.create(
                motor_id=sample.motor_id, obtained=sample.obtained
            )
        sample.parcel = parcels[key]
        sample.save(update_fields=["parcel"])


def take_back(apps, schema_editor):
    sample_model = apps.get_model("intake", "Sample")
    for sample in sample_model.objects.exclude(parcel=None).select_related("parcel"):
        sample.obtained = sample.parcel.obtained
        sample.save(update_fields=["obtained"])


class Migration(migrations.Migration):
    dependencies = [("intake", "0002_parcels_and_weighings")]

    operations = [migrations.RunPython(make_parcels, take_back)]
