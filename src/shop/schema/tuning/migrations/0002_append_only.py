"""The database refuses to change what was shot and looked at, and takes none without its event."""

from django.db import migrations

from shop.schema.audit.triggers import append_only, stands_with_event

SHOTS, SUSPECTS = "tuning_shotfired", "tuning_suspectlookedat"


class Migration(migrations.Migration):
    dependencies = [("tuning", "0001_shots"), ("audit", "0006_said_once")]
    operations = [
        *append_only(SHOTS),
        stands_with_event(SHOTS),
        *append_only(SUSPECTS),
        stands_with_event(SUSPECTS),
    ]
