"""The database itself refuses to change or delete these facts."""

from django.db import migrations

from shop.records.triggers import append_only


class Migration(migrations.Migration):
    dependencies = [("tuning", "0001_initial")]

    operations = [
        *append_only("tuning_advice"),
    ]
