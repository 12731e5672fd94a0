"""The database refuses to change or delete what is on record."""

from django.db import migrations

from shop.schema.audit.triggers import append_only


class Migration(migrations.Migration):
    dependencies = [("inspection", "0001_initial")]
    operations = [
        *append_only("inspection_finding"),
        *append_only("inspection_photo"),
    ]
