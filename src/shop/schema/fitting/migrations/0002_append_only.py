"""The database refuses to change what was written down of a bow, and takes none without its event."""

from django.db import migrations

from shop.schema.audit.triggers import append_only, stands_with_event

TABLE = "fitting_thingonbow"


class Migration(migrations.Migration):
    dependencies = [("fitting", "0001_things_on_the_bow"), ("audit", "0006_said_once")]
    operations = [*append_only(TABLE), stands_with_event(TABLE)]
