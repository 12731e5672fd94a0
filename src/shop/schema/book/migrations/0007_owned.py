"""A model of the book belongs to a shop; what was there is the book of the shop that keeps it for the chain."""

import django.db.models.deletion
from django.db import migrations, models

import shop.schema.accounts.models


def to_the_keeper(apps, _schema):
    entries = apps.get_model("book", "BookEntry").objects.filter(shop=None)
    if entries.exists():
        keeper = apps.get_model("accounts", "Shop").objects.get(keeps_book=True)
        entries.update(shop=keeper)


class Migration(migrations.Migration):
    dependencies = [("accounts", "0012_home_and_consent"), ("book", "0006_centre_shot")]

    operations = [
        migrations.AddField(
            model_name="bookentry",
            name="shop",
            field=models.ForeignKey(
                null=True, on_delete=django.db.models.deletion.PROTECT, related_name="+", to="accounts.shop"
            ),
        ),
        migrations.AddField(
            model_name="bookentry",
            name="listed",
            field=models.BooleanField(
                default=True, null=True, help_text="empty: of the bows alone that it was written for"
            ),
        ),
        migrations.RunPython(to_the_keeper, migrations.RunPython.noop),
        migrations.AlterField(
            model_name="bookentry",
            name="shop",
            field=models.ForeignKey(
                on_delete=django.db.models.deletion.PROTECT, related_name="+", to="accounts.shop"
            ),
        ),
        migrations.AlterField(
            model_name="bookentry",
            name="shop",
            field=models.ForeignKey(
                default=shop.schema.accounts.models.shop_here, on_delete=django.db.models.deletion.PROTECT,
                related_name="+", to="accounts.shop",
            ),
        ),
        migrations.RemoveConstraint(model_name="bookentry", name="one_entry_a_model"),
        migrations.AddConstraint(
            model_name="bookentry",
            constraint=models.UniqueConstraint(
                fields=("maker", "model", "shop", "listed"), name="one_listed_entry_a_model"
            ),
        ),
    ]
