"""The database refuses to change a set that was weighed, and takes none without its event."""

from django.db import migrations

from shop.schema.audit.triggers import append_only, stands_with_event

SETS = "arrows_arrowset"


class Migration(migrations.Migration):
    dependencies = [("arrows", "0001_sets"), ("audit", "0006_said_once")]
    operations = [*append_only(SETS), stands_with_event(SETS)]
