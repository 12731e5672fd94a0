from django.core.management import call_command
from django.db import migrations


def make_table(apps, schema_editor):
    call_command("createcachetable", database=schema_editor.connection.alias, verbosity=0)


def drop_table(apps, schema_editor):
    schema_editor.execute("DROP TABLE IF EXISTS kept_answers")


class Migration(migrations.Migration):
    dependencies = [
        ("engine", "0002_begun_by"),
    ]

    operations = [
        migrations.DeleteModel(name="BowState"),
        migrations.RunPython(make_table, drop_table),
    ]
