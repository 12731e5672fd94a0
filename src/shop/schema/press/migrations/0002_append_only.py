"""The database refuses to change or delete what is on record."""

from django.db import migrations

from shop.schema.audit.triggers import append_only


class Migration(migrations.Migration):
    dependencies = [("press", "0001_initial")]
    operations = [
        *append_only("press_presscycle"),
        *append_only("press_letdown"),
        *append_only("press_adjustment"),
        *append_only("press_partcheck"),
    ]
