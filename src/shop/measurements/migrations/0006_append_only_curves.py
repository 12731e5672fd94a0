"""The database itself refuses to change or delete a measured curve."""

from django.db import migrations

from shop.records.triggers import append_only


class Migration(migrations.Migration):
    dependencies = [("measurements", "0005_drawcurve")]

    operations = [
        *append_only("measurements_drawcurve"),
    ]
