"""The database itself refuses to change or delete these facts."""

from django.db import migrations

from shop.records.triggers import append_only


class Migration(migrations.Migration):
    dependencies = [("ledger", "0003_presscycle_bolts_out_partcheck")]

    operations = [
        *append_only("ledger_partcheck"),
    ]
