"""The database refuses to change or delete what was left on purpose."""

from django.db import migrations

from shop.schema.audit.triggers import append_only


class Migration(migrations.Migration):
    dependencies = [("measurements", "0003_left_on_purpose")]
    operations = [*append_only("measurements_leftonpurpose")]
