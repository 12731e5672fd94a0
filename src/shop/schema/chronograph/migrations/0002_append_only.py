"""The database refuses to change a speed that was shot, and takes none without its event."""

from django.db import migrations

from shop.schema.audit.triggers import append_only, stands_with_event

SPEEDS = "chronograph_arrowspeed"


class Migration(migrations.Migration):
    dependencies = [("chronograph", "0001_speeds"), ("audit", "0006_said_once")]
    operations = [*append_only(SPEEDS), stands_with_event(SPEEDS)]
