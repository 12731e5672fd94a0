"""The database refuses to change or delete what a caliper gave, and keeps it with its event."""

from django.db import migrations

from shop.schema.audit.triggers import append_only, stands_with_event


class Migration(migrations.Migration):
    dependencies = [("measurements", "0005_cam_by_caliper"), ("audit", "0001_initial")]
    operations = [
        *append_only("measurements_cambycaliper"),
        stands_with_event("measurements_cambycaliper"),
    ]
