"""The database refuses to change a hold that was written down, and takes none without its event."""

from django.db import migrations

from shop.schema.audit.triggers import append_only, stands_with_event

HELD = "stabiliser_floatheld"


class Migration(migrations.Migration):
    dependencies = [("stabiliser", "0001_holds"), ("audit", "0006_said_once")]
    operations = [*append_only(HELD), stands_with_event(HELD)]
