"""The database itself refuses to change or delete these facts."""

from django.db import migrations

from shop.records.triggers import append_only


class Migration(migrations.Migration):
    dependencies = [("measurements", "0003_reading_device_noted")]

    operations = [
        *append_only("measurements_noted"),
    ]
