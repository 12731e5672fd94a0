"""Each job belongs to a shop; what is on file belongs to the first one."""

import django.db.models.deletion
from django.db import connection, migrations, models

import shop.schema.accounts.models


def first_shop():
    with connection.cursor() as cursor:
        cursor.execute("SELECT MIN(id) FROM accounts_shop")
        return cursor.fetchone()[0] or 1


class Migration(migrations.Migration):
    dependencies = [("jobs", "0006_supply"), ("accounts", "0008_memberships")]

    operations = [
        migrations.AddField(
            model_name="job",
            name="shop",
            field=models.ForeignKey(
                default=first_shop, on_delete=django.db.models.deletion.PROTECT, related_name="+",
                to="accounts.shop",
            ),
            preserve_default=False,
        ),
        migrations.AlterField(
            model_name="job",
            name="shop",
            field=models.ForeignKey(
                default=shop.schema.accounts.models.shop_here, on_delete=django.db.models.deletion.PROTECT,
                related_name="+", to="accounts.shop",
            ),
        ),
        migrations.AddIndex(
            model_name="job",
            index=models.Index(fields=["shop", "handed_over_at", "cancelled_at"], name="jobs_of_a_shop"),
        ),
    ]
