"""The database refuses to change or delete what is on record."""

from django.db import migrations

from shop.schema.audit.triggers import append_only


class Migration(migrations.Migration):
    dependencies = [("audit", "0001_initial")]
    operations = [
        *append_only("audit_event"),
    ]
