"""The database refuses to change or delete what was put in the tray."""

from django.db import migrations

from shop.schema.audit.triggers import append_only


class Migration(migrations.Migration):
    dependencies = [("press", "0005_small_parts")]
    operations = [*append_only("press_smallpart")]
