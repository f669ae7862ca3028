"""Motors lived in the app of the intake; their tables take the name of the app they are in now.

A database that was made by the squashed migration has them already, and nothing is done.
"""

from django.db import migrations

MODELS = (
    "maker",
    "motormodel",
    "parcel",
    "partinbox",
    "sample",
    "weighing",
    "preparation",
    "incident",
    "expectation",
    "claim",
)


def rename(schema_editor, before, after):
    """Each table is renamed by itself, so that a cut in the middle may be gone over again."""
    with schema_editor.connection.cursor() as cursor:
        there = set(schema_editor.connection.introspection.table_names(cursor))
        for model in MODELS:
            for name in (model, f"historical{model}"):
                if f"{before}_{name}" in there:
                    cursor.execute(f"RENAME TABLE `{before}_{name}` TO `{after}_{name}`")


def forwards(apps, schema_editor):
    rename(schema_editor, "intake", "motors")


class Migration(migrations.Migration):
    dependencies = [("motors", "0001_squashed")]

    operations = [migrations.RunPython(forwards, migrations.RunPython.noop)]
