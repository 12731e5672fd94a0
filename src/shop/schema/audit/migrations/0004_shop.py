"""Each event belongs to a shop; what is on file belongs to the first one."""

import django.db.models.deletion
from django.db import connection, migrations, models


def first_shop():
    with connection.cursor() as cursor:
        cursor.execute("SELECT MIN(id) FROM accounts_shop")
        return cursor.fetchone()[0] or 1


class Migration(migrations.Migration):
    dependencies = [("audit", "0003_digest"), ("accounts", "0008_memberships")]

    operations = [
        migrations.AddField(
            model_name="event",
            name="shop",
            field=models.ForeignKey(
                default=first_shop, on_delete=django.db.models.deletion.PROTECT, related_name="+",
                to="accounts.shop", help_text="where it was done",
            ),
            preserve_default=False,
        ),
    ]
