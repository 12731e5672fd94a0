"""Whose manager looks after a login, who was asked to work in a shop, whose password Fennock has made, who is
only a name in a record, which shop keeps the book."""

import django.db.models.deletion
from django.db import migrations, models


def where_they_began(apps, _schema):
    held = apps.get_model("accounts", "Membership").objects
    for member in apps.get_model("accounts", "Member").objects.filter(home=None):
        first = held.filter(member=member).order_by("-active", "pk").first()
        if first is not None:
            member.home_id = first.shop_id
            member.save(update_fields=["home"])


def the_first_keeps_the_book(apps, _schema):
    shops = apps.get_model("accounts", "Shop").objects
    shops.filter(pk=shops.order_by("pk").values_list("pk", flat=True).first()).update(keeps_book=True)


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
        migrations.AddField(
            model_name="member",
            name="from_file",
            field=models.CharField(
                blank=True, default="", max_length=150,
                help_text="the login name in the record that named this person",
            ),
            preserve_default=False,
        ),
        migrations.AddField(
            model_name="shop",
            name="keeps_book",
            field=models.BooleanField(
                default=False, help_text="its book is the chain's: every shop sees it, this one changes it"
            ),
        ),
        migrations.RunPython(where_they_began, migrations.RunPython.noop),
        migrations.RunPython(the_first_keeps_the_book, migrations.RunPython.noop),
    ]
