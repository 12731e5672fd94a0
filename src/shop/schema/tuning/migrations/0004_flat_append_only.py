"""The database refuses to change a photo that was laid flat, and takes none without its event."""

from django.db import migrations

from shop.schema.audit.triggers import append_only, stands_with_event

SHEETS = "tuning_flatsheet"


class Migration(migrations.Migration):
    dependencies = [("tuning", "0003_flat_sheet"), ("audit", "0006_said_once")]
    operations = [*append_only(SHEETS), stands_with_event(SHEETS)]
