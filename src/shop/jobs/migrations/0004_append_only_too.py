"""The database itself refuses to change or delete these facts."""

from django.db import migrations

from shop.records.triggers import append_only


class Migration(migrations.Migration):
    dependencies = [("jobs", "0003_walk_and_photos")]

    operations = [
        *append_only("jobs_photo"),
        *append_only("jobs_movedover"),
    ]
