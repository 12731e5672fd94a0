"""Whose manager looks after a login, who was asked to work in a shop, whose password Fennock has made."""

import django.db.models.deletion
from django.db import migrations, models


def where_they_began(apps, _schema):
    held = apps.get_model("accounts", "Membership").objects
    for member in apps.get_model("accounts", "Member").objects.filter(home=None):
        first = held.filter(member=member).order_by("-active", "pk").first()
        if first is not None:
            member.home_id = first.shop_id
            member.save(update_fields=["home"])


class Migration(migrations.Migration):
    dependencies = [("accounts", "0011_shooting_in")]

    operations = [
        migrations.AddField(
            model_name="member",
            name="home",
            field=models.ForeignKey(
                help_text="the shop whose manager gives a new password and stops the code at login",
                null=True, on_delete=django.db.models.deletion.PROTECT, related_name="+", to="accounts.shop",
            ),
        ),
        migrations.AddField(
            model_name="member",
            name="password_made",
            field=models.BooleanField(
                default=False, help_text="Fennock made the password; it is changed at the next login"
            ),
        ),
        migrations.AddField(
            model_name="membership",
            name="asked",
            field=models.BooleanField(
                default=False, help_text="asked to work there too, and has not answered"
            ),
        ),
        migrations.RunPython(where_they_began, migrations.RunPython.noop),
    ]
