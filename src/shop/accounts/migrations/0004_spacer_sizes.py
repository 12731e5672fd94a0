"""Every size of cable spacer instead of one; shims went to the book, with their model."""

from decimal import Decimal

import django.core.validators
from django.db import migrations, models

import shop.accounts.models


def one_size_to_a_list(apps, schema_editor):
    for row in apps.get_model("accounts", "Shop").objects.all():
        row.spacer_sizes = f"{row.spacer_in.normalize():f}" if row.spacer_in else ""
        row.save()


def first_of_the_list(apps, schema_editor):
    for row in apps.get_model("accounts", "Shop").objects.all():
        sizes = shop.accounts.models.read_sizes(row.spacer_sizes)
        row.spacer_in = Decimal(str(round(sizes[0], 4))) if sizes else Decimal(0)
        row.save()


class Migration(migrations.Migration):
    dependencies = [("accounts", "0003_kit_and_schools")]

    operations = [
        migrations.AddField(
            "shop", "spacer_sizes",
            models.CharField(
                blank=True, default="", max_length=100,
                validators=[shop.accounts.models.spacer_sizes],
                verbose_name="cable spacers in the drawer, in",
            ),
            preserve_default=False,
        ),
        migrations.RunPython(one_size_to_a_list, first_of_the_list),
        migrations.RemoveField("shop", "spacer_in"),
        migrations.RemoveField("shop", "shim_in"),
    ]
